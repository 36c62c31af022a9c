"""What could stand in the place of an exercise, best first, with the reasons."""

from __future__ import annotations

from collections.abc import Collection, Mapping
from dataclasses import dataclass
from functools import cache

from pydantic import BaseModel

from oaken.basis.data_files import shipped_json
from oaken.basis.words import plural
from oaken.domain.catalogue import Catalogue, Exercise
from oaken.domain.people import Person
from oaken.domain.people.conditions import concerns
from oaken.domain.room import Room

MOST = 8


class Substitute(BaseModel):
    """An exercise that could stand in the place of another: its score, and what speaks for and against it.

    `free_places` is how many places nobody else has at that time; None on the floor, where there is room enough.
    """

    exercise: str
    name: str
    equipment: str
    score: float
    free_places: int | None
    for_it: list[str]
    against_it: list[str]


@dataclass(frozen=True, slots=True)
class Need:
    """What is looked for: the exercise to replace, for whom, and how many of them are on it at once.

    `busy` is how many places of each kind others have at that time at the most.
    """

    exercise: Exercise
    people: Collection[Person]
    at_once: int
    busy: Mapping[str, int]


@cache
def weights() -> dict[str, float]:
    """How much each reason counts."""
    raw = shipped_json("oaken.schedule.arrange", "substitutes.json")
    return {str(name): float(value) for name, value in raw["weights"].items()}


def substitutes_for(need: Need, room: Room, catalogue: Catalogue) -> list[Substitute]:
    """Exercises on equipment that works in this room, ranked; at most eight.

    Candidates have the movement pattern of the exercise or share a prime muscle with it.
    """
    wanted = need.exercise
    found = []
    for other in catalogue.choosable:
        shares = set(other.prime) & set(wanted.prime)
        if other.id == wanted.id or not other.loads_muscle or (other.pattern != wanted.pattern and not shares):
            continue
        places = None if other.equipment == "none" else len(room.working(other.equipment))
        if places == 0:
            continue
        found.append(_weighed(other, need, places, catalogue))
    return sorted(found, key=lambda item: (-item.score, item.exercise))[:MOST]


def _weighed(other: Exercise, need: Need, places: int | None, catalogue: Catalogue) -> Substitute:
    wanted, weight = need.exercise, weights()
    good: list[str] = []
    bad: list[str] = []
    score = 0.0
    if other.pattern == wanted.pattern:
        score += weight["same_pattern"]
        good.append(f"same movement ({catalogue.patterns[other.pattern].name.lower()})")
    shared = [muscle for muscle in wanted.prime if muscle in other.prime]
    score += weight["prime_muscles"] * len(shared) / max(len(set(wanted.prime) | set(other.prime)), 1)
    if shared:
        names = ", ".join(catalogue.muscles[muscle].name.lower() for muscle in shared)
        good.append(f"same prime {plural(len(shared), 'muscle')} ({names})")
    else:
        bad.append("other prime muscles")
    helping = set(wanted.helping) & (set(other.prime) | set(other.helping))
    score += weight["helping_muscles"] * len(helping) / max(len(wanted.helping), 1)
    free = None if places is None else max(0, places - need.busy.get(other.equipment, 0))
    name = catalogue.equipment[other.equipment].name.lower()
    if free is None:
        score += weight["free_now"]
        good.append("needs no machine")
    elif free >= need.at_once:
        score += weight["free_now"]
        good.append(f"{name} free at that time ({free})")
    elif free:
        score += weight["partly_free"]
        bad.append(f"only {free} free at that time ({name}), {need.at_once} needed at once")
    else:
        bad.append(f"the {name} is used by others at that time")
    if other.takes_load == wanted.takes_load:
        score += weight["loaded_alike"]
    elif wanted.takes_load:
        bad.append("takes no load")
    if other.id in (*wanted.easier, *wanted.harder):
        score += weight["named_variant"]
    harder = other.id in wanted.harder
    beginners = [person for person in need.people if person.level == "beginner"]
    if harder and beginners:
        score += weight["harder_for_beginner"]
        bad.append(f"harder, and {len(beginners)} of them {plural(len(beginners), 'is a beginner', 'are beginners')}")
    elif other.id in wanted.easier:
        good.append("an easier variant")
    if "supported" in other.tags:
        score += weight["supported"]
        good.append("the back is supported")
    met = [concerns(person, other) for person in need.people]
    worries = sum(1 for own in met if any(item.known and item.for_care for item in own))
    unsaid = sum(1 for own in met if any(not item.known for item in own))
    if worries or unsaid:
        score += weight["asks_for_care"]
    if worries:
        bad.append(f"asks for care with {worries} of them")
    if unsaid:
        bad.append(f"not known how it suits {unsaid} of them")
    for tag, words in CAUTIOUS.items():
        if tag in other.tags and tag not in wanted.tags:
            score += weight[tag]
            bad.append(words)
    return Substitute(
        exercise=other.id,
        name=other.name,
        equipment=other.equipment,
        score=round(score, 1),
        free_places=free,
        for_it=good,
        against_it=bad,
    )


CAUTIOUS = {
    "spinal_load": "loads the spine",
    "balance": "asks for balance",
    "impact": "lands hard",
}
