"""Rooms, crowds and what is wanted, generated: invented for tests, the same every time."""

from __future__ import annotations

from random import Random
from typing import Any, NamedTuple

from oaken.design.first_class import Wanted, empty_class
from oaken.design.generator import ClassRequest
from oaken.domain.people import Person
from oaken.domain.room import Room
from oaken.schedule.class_file import ClassFile, check_class

LEAST_OF_EACH = {"mat": 8, "band": 6}
MORE: dict[str, tuple[int, int]] = {
    "leg-press": (1, 3), "hack-squat": (1, 2), "lying-leg-curl": (1, 2), "seated-leg-curl": (1, 2),
    "leg-extension": (1, 2), "hip-thrust": (1, 2), "abductor-adductor": (1, 1), "standing-calf": (1, 2),
    "seated-calf": (1, 1), "cable": (1, 3), "box": (2, 8), "bench": (1, 6), "kettlebell": (2, 10), "dumbbells": (3, 14),
    "ball": (2, 8), "bike": (1, 12), "rower": (1, 4), "squat-rack": (1, 3), "slider": (3, 10), "back-extension": (1, 2),
}  # fmt: skip
CONDITIONS = ["knee", "low_back", "disc", "shoulder", "balance", "pregnancy", "blood_pressure", "heart"]
MANNERS = [None, "stations", "partners", "pairs", "tri-sets", "giant sets", "straight sets", "mixed"]


class Case(NamedTuple):
    """A class of nothing yet, and what is asked of it."""

    file: ClassFile
    class_request: ClassRequest
    number: int


def a_room(chance: Random) -> Room:
    """A room with mats, bands and half of what there may be, three metres apart."""
    kinds = [*LEAST_OF_EACH, *chance.sample(list(MORE), len(MORE) // 2)]
    units: list[dict[str, Any]] = []
    for at, kind in enumerate(kinds):
        least, most = MORE.get(kind, (LEAST_OF_EACH.get(kind, 1), 2 * LEAST_OF_EACH.get(kind, 1)))
        unit = {"id": f"u{at}", "kind": kind, "name": kind, "count": chance.randint(least, most)}
        unit |= {"x_m": 1.0 + 3.0 * (at % 4), "y_m": 1.0 + 3.0 * (at // 4)}
        if kind in ("dumbbells", "kettlebell"):
            masses = [4, 6, 8, 10, 12, 16, 20, 24][: chance.randint(4, 8)]
            by_mass = [{"kg": kg, "count": chance.randint(1, 4)} for kg in masses]
            unit |= {"count": 1, "hardware": {"holds": "implements", "in_hand": 1, "by_mass": by_mass}}
        units.append(unit)
    return Room.model_validate({"id": "room", "name": "A room", "width_m": 14, "depth_m": 16, "units": units})


def a_crowd(chance: Random, many: int) -> list[Person]:
    """People of all levels; one in six has to be careful about something, some know what they lift."""
    found = []
    for at in range(many):
        mass = chance.randint(52, 95)
        knows = chance.random() < 0.6
        lifts = {
            "leg-press": 1.8 * mass,
            "hip-thrust": 1.2 * mass,
            "goblet-squat": 0.5 * mass,
            "romanian-deadlift": mass,
        }
        found.append(
            Person.model_validate(
                {
                    "id": f"p{at}", "name": f"Person {at}", "age": chance.randint(18, 70), "body_mass_kg": mass,
                    "level": chance.choice(["beginner", "standard", "standard", "advanced"]),
                    "careful": [chance.choice(CONDITIONS)] if chance.random() < 1 / 6 else [],
                    "bests_kg": {name: round(kg, 1) for name, kg in lifts.items()} if knows else {},
                }
            )
        )  # fmt: skip
    return found


def a_case(number: int, many: int | None = None) -> Case:
    """Case `number`: a manner after the other, from 4 to 24 people or as many as are wanted, 30 to 75 min."""
    chance = Random(f"sketch {number}")
    room, people = a_room(chance), a_crowd(chance, many or chance.choice([4, 6, 8, 10, 12, 14, 16, 18, 20, 24]))
    class_request = ClassRequest.model_validate(
        {
            "room": room.id, "people": [person.id for person in people], "slot_min": chance.choice([30, 45, 50, 60, 75]),
            "aim": chance.choice(["strength", "mixed", "mixed", "conditioning", "technique"]),
            "day": chance.choice(["whole", "whole", "front", "back"]),
            "level": chance.choice(["beginner", "standard", "standard", "advanced"]),
            "manner": MANNERS[number % len(MANNERS)],
            "leave_out": {"tags": chance.sample(["impact", "spinal_load", "overhead"], chance.randint(0, 2))},
        }
    )  # fmt: skip
    plan = empty_class(Wanted(room=room.id, people=list(class_request.people)))
    file = check_class(ClassFile(format="oaken-class/2", plan=plan, room=room, people=people))
    return Case(file, class_request, number % 6)
