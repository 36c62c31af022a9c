"""Judges a class by what people do in it, as an instructor who reads the plan would; shares no code with what composes
classes. Exercises are known by the catalogue's facts alone: what they stand on, whether they take load, their muscles."""

from __future__ import annotations

from collections import Counter
from itertools import combinations, pairwise
from statistics import median
from typing import Any, NamedTuple

from oaken.design.first_class import Wanted, empty_class
from oaken.domain.catalogue import Exercise, catalogue
from oaken.domain.people import Person
from oaken.domain.room import Room
from oaken.forecast import forecast
from oaken.plan import ClassPlan
from oaken.schedule.class_file import ClassFile, check_class
from oaken.schedule.timeline import Doing

MACHINES = ("leg-press", "hack-squat", "lying-leg-curl", "seated-leg-curl", "leg-extension", "hip-thrust",
            "standing-calf", "seated-calf", "abductor-adductor", "cable")  # fmt: skip
LARGE = {"squat", "hinge", "hip_extension", "lunge"}
HELD = {"plates", "stack", "bar", "dumbbells", "kettlebells"}


class Judged(NamedTuple):
    """Shares of the main part's exercises as people do them (each person counts): with load, on a machine (guided or
    plate-loaded); how many people have a loaded main lift; repetitions of unloaded sets (the least); shares of pairs of
    a person's exercises in which a small one comes before a large one of the same prime muscle; idle share of the main
    part, longest wait in all (s), chance to end inside (%)."""

    loaded: float
    on_machine: float
    with_main_lift: float
    unloaded_few: int
    heads_inverted: float
    small_first: float
    idle: float
    wait_s: float
    chance: float
    schemes: int
    ramped: bool


def room_of(each: int, *, free: bool = True) -> Room:
    """A leg room with so many of each machine, dumbbells, bars, mats and boxes."""
    kinds: list[dict[str, Any]] = [{"kind": kind, "count": each} for kind in MACHINES]
    if free:
        kinds += [
            {"kind": "squat-rack", "count": each}, {"kind": "dumbbells", "count": 12}, {"kind": "kettlebell", "count": 8},
            {"kind": "mat", "count": 24}, {"kind": "box", "count": 6}, {"kind": "band", "count": 12},
            {"kind": "bench", "count": 4},
        ]  # fmt: skip
    units = [
        {"id": f"u{at}", "name": item["kind"], "x_m": 1.5 + 2.5 * (at % 6), "y_m": 1.5 + 3.0 * (at // 6), **item}
        for at, item in enumerate(kinds)
    ]
    return Room.model_validate({"id": "room", "name": "Room", "width_m": 18, "depth_m": 16, "units": units})


def dumbbells_only() -> Room:
    """Dumbbells and mats."""
    units = [
        {"id": "d", "kind": "dumbbells", "name": "dumbbells", "count": 24, "x_m": 2, "y_m": 2},
        {"id": "m", "kind": "mat", "name": "mats", "count": 24, "x_m": 6, "y_m": 2},
    ]
    return Room.model_validate({"id": "room", "name": "Room", "width_m": 14, "depth_m": 12, "units": units})


def crowd_of(many: int) -> list[Person]:
    """People of standard level, of whom half know some of what they lift."""
    return [
        Person.model_validate(
            {
                "id": f"p{at}", "name": f"Person {at}", "age": 24 + 2 * (at % 20), "body_mass_kg": 58 + 3 * (at % 12),
                "level": "standard",
                "bests_kg": {"leg-press": 140, "hip-thrust": 90, "romanian-deadlift": 70} if at % 2 else {},
            }
        )
        for at in range(many)
    ]  # fmt: skip


def empty_file(room: Room, people: list[Person]) -> ClassFile:
    """A class of nothing yet, in this room with these people."""
    plan = empty_class(Wanted(room=room.id, people=[person.id for person in people]))
    return check_class(ClassFile(format="oaken-class/2", plan=plan, room=room, people=people))


def done_by(plan: ClassPlan) -> dict[str, list[Any]]:
    """For each person the parts of the main part in the order of the plan, with the exercise that they do there."""
    instead = {(item.exercise, who): item.other for item in plan.instead for who in item.people}
    known = catalogue().exercises
    main = [block for block in plan.blocks if block.kind != "together"]
    found: dict[str, list[Any]] = {}
    for who in plan.people:
        found[who] = []
        for block in main:
            for _, part in block.placed():
                name = instead.get((part.exercise, who), part.exercise)
                found[who].append((known[name], part, block))
    return found


def who_does(plan: ClassPlan, part: Any, who: str) -> str:
    """The id of the exercise that somebody does where a part stands."""
    return next(
        (item.other for item in plan.instead if item.exercise == part.exercise and who in item.people), part.exercise
    )


def is_loaded(exercise: Exercise) -> bool:
    return exercise.takes_load and catalogue().equipment[exercise.equipment].holds in HELD


def is_machine(exercise: Exercise) -> bool:
    return catalogue().equipment[exercise.equipment].holds in ("plates", "stack")


def is_main_lift(exercise: Exercise) -> bool:
    """A compound that takes load: a large movement pattern on something that holds load."""
    return is_loaded(exercise) and exercise.pattern in LARGE


def judged(file: ClassFile, plan: ClassPlan) -> Judged:
    """What the class is."""
    people = done_by(plan)
    every = [exercise for own in people.values() for exercise, _, _ in own]
    told = forecast(file.model_copy(update={"plan": plan}))
    main = [block.kind != "together" for block in plan.blocks]
    main_s = sum(told.blocks[at].end_s - told.blocks[at].start_s for at, counts in enumerate(main) if counts)
    idle, waits = [], []
    heads: list[bool] = []
    small: list[bool] = []
    slots, known = told.slots, catalogue().exercises
    parts = {part.id: part for _, part in plan.placed()}
    first = {group.slots[0].id for block in plan.blocks for group in getattr(block, "groups", ())}
    for person in told.people:
        steps = list(person.path.stretches(told.length.value))
        waited = sum(step.seconds for step in steps if step.doing == Doing.WAIT)
        stood = sum(step.seconds for step in steps if step.doing in (Doing.WAIT, Doing.BREATHER))
        idle.append(stood / max(1.0, main_s))
        waits.append(waited)
        lived: list[str] = []
        for step in steps:
            if step.doing == Doing.WORK and main[slots[step.slot].block] and slots[step.slot].id not in lived:
                lived.append(slots[step.slot].id)
        own = [(known[who_does(plan, part, person.id)], part.id in first) for part in map(parts.__getitem__, lived)]
        for (here, heads_here), (there, heads_there) in combinations(own, 2):
            if heads_here and heads_there and (here.pattern in LARGE) != (there.pattern in LARGE):
                heads.append(there.pattern in LARGE)
            if (here.pattern in LARGE) != (there.pattern in LARGE) and set(here.prime) & set(there.prime):
                small.append(there.pattern in LARGE)
    few, schemes, ramped = 0, Counter[str](), False
    for block in plan.blocks:
        if block.kind == "together":
            continue
        for _, part in block.placed():
            exercise = catalogue().exercises[part.exercise]
            runs = getattr(part, "sets", [])
            counts = [segment.reps for run in runs for segment in run.segments if segment.reps]
            if counts and not is_loaded(exercise) and max(counts) <= 8:
                few += 1
            if runs:
                schemes[str([(run.times, [(s.reps, s.seconds) for s in run.segments]) for run in runs])] += 1
            loads = [segment.load for run in runs for segment in run.segments]
            shares = [load.share_of_best for load in loads if load is not None and load.share_of_best]
            ramped = ramped or any(first < then for first, then in pairwise(shares))
    return Judged(
        loaded=sum(map(is_loaded, every)) / max(1, len(every)),
        on_machine=sum(map(is_machine, every)) / max(1, len(every)),
        with_main_lift=sum(any(is_main_lift(item) for item, _, _ in own) for own in people.values()) / len(people),
        unloaded_few=few,
        heads_inverted=sum(heads) / max(1, len(heads)),
        small_first=sum(small) / max(1, len(small)),
        idle=sum(idle) / len(idle),
        wait_s=max(waits),
        chance=told.chance_inside.value,
        schemes=len(schemes),
        ramped=ramped,
    )


def middle(values: list[float]) -> float:
    """The median."""
    return float(median(values)) if values else 0.0
