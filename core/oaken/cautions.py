"""What can go wrong in a planned class, with the reason and a safer choice.

Cautions inform; they never clear anybody to train. Stop signs, local rules and licensed practice come first.
"""

from __future__ import annotations

from collections import Counter
from itertools import pairwise

from oaken.catalogue import Catalogue, Exercise
from oaken.plan import CircuitBlock, ClassPlan
from oaken.report import Caution, PersonForecast
from oaken.room import Room
from oaken.timeline import Doing, Timeline

LONG_NEAR_MAXIMAL_MIN = 5.0
LONG_WAIT_S = 60.0

STOP_SIGNS = (
    "Stop at chest discomfort, dizziness, faintness, unusual breathlessness or sharp pain. "
    "These figures are estimates for planning and clear nobody to train: house rules and medical advice come first."
)


def cautions_of(
    plan: ClassPlan,
    room: Room,
    catalogue: Catalogue,
    timeline: Timeline,
    forecasts: list[PersonForecast],
    unknown_loads: list[set[str]],
) -> list[Caution]:
    """Every caution of the class, clashes first."""
    found = [
        *_missing_places(room, catalogue, timeline, plan),
        *_short_changes(plan, room, catalogue, timeline),
        *_waits(timeline),
        *_breathers(plan, timeline),
        *_long_near_maximal(forecasts),
        *_medication(forecasts),
        *_unknown_loads(unknown_loads, catalogue),
    ]
    order = {"clash": 0, "caution": 1, "note": 2}
    return sorted(found, key=lambda caution: order[caution.severity])


def substitutes(exercise: Exercise, room: Room, catalogue: Catalogue) -> list[Exercise]:
    """Exercises of the same movement pattern on other equipment that works in this room, shared muscles first."""
    options = [
        other
        for other in catalogue.exercises.values()
        if other.pattern == exercise.pattern
        and other.equipment != exercise.equipment
        and (other.equipment == "none" or room.working(other.equipment))
    ]
    return sorted(options, key=lambda other: -len(set(other.prime) & set(exercise.prime)))


def _missing_places(room: Room, catalogue: Catalogue, timeline: Timeline, plan: ClassPlan) -> list[Caution]:
    found = []
    crowd = len(timeline.paths)
    for slot in timeline.slots:
        kind = slot.exercise.equipment
        together = plan.blocks[slot.block].kind == "together"
        if kind == "none" or (slot.places >= crowd if together else slot.places > 0):
            continue
        name = catalogue.equipment[kind].name.lower()
        working = len(room.working(kind))
        others = substitutes(slot.exercise, room, catalogue)[:2]
        if together and working:
            message = f"{slot.exercise.name}: {crowd} people together, but only {working} places ({name})"
        elif working:
            message = f"{slot.exercise.name}: other stations already take every place ({name}: {working})"
        elif any(unit.kind == kind for unit in room.units):
            message = f"{slot.exercise.name}: the {name} is out of order"
        else:
            message = f"{slot.exercise.name}: there is no {name} in {room.name}"
        safer = f"use {' or '.join(other.name.lower() for other in others)}" if others else "choose another exercise"
        found.append(
            Caution(severity="clash", block=slot.block, slots=[slot.id], people=[], message=message, safer=safer)
        )
    return found


def _short_changes(plan: ClassPlan, room: Room, catalogue: Catalogue, timeline: Timeline) -> list[Caution]:
    found = []
    for index, block in enumerate(plan.blocks):
        if not isinstance(block, CircuitBlock) or len(block.stations) < 2:
            continue
        needs: dict[str, float] = {}
        for path in timeline.paths[:1]:
            work = [step for step in path if step.block == index and step.doing is Doing.WORK]
            for here, there in pairwise(work):
                slot = timeline.slots[there.slot]
                seconds = room.walk_s(here.unit, there.unit) + catalogue.equipment[slot.exercise.equipment].set_up_s
                needs[slot.id] = max(needs.get(slot.id, 0.0), seconds)
        short = {slot: seconds for slot, seconds in needs.items() if seconds > block.change_s + 0.5}
        if short:
            worst = max(short, key=lambda slot: short[slot])
            name = next(slot.exercise.name for slot in timeline.slots if slot.id == worst)
            found.append(
                Caution(
                    severity="caution",
                    block=index,
                    slots=list(short),
                    people=[],
                    message=f"{block.change_s} s are short to walk and set up: {name.lower()} takes about "
                    f"{short[worst]:.0f} s" + (f", {len(short) - 1} more are tight" if len(short) > 1 else ""),
                    safer=f"change of {-(-int(short[worst] + 0.999) // 5) * 5} s, or seats set before the block",
                )
            )
    return found


def _waits(timeline: Timeline) -> list[Caution]:
    found = []
    for index in range(len(timeline.blocks)):
        waits: Counter[int] = Counter()
        by_slot: Counter[int] = Counter()
        for number, path in enumerate(timeline.paths, 1):
            for step in path:
                if step.block == index and step.doing is Doing.WAIT:
                    waits[number] += round(step.end_s - step.start_s)
                    by_slot[step.slot] += round(step.end_s - step.start_s)
        long = [number for number, seconds in waits.items() if seconds > LONG_WAIT_S]
        if long:
            slot = timeline.slots[by_slot.most_common(1)[0][0]]
            _, seconds = waits.most_common(1)[0]
            found.append(
                Caution(
                    severity="caution",
                    block=index,
                    slots=[slot.id],
                    people=sorted(long),
                    message=f"{len(long)} people wait more than a minute, up to {seconds // 60}:{seconds % 60:02d}, "
                    f"mostly for the {slot.exercise.name.lower()}",
                    safer="one group more, or another exercise in its place",
                )
            )
    return found


def _breathers(plan: ClassPlan, timeline: Timeline) -> list[Caution]:
    return [
        Caution(
            severity="note",
            block=index,
            slots=[],
            people=[],
            message=f"{len(timeline.paths)} people on {span.turns - span.breathers} stations: everyone has "
            f"{span.breathers} {'breather' if span.breathers == 1 else 'breathers'} a round, a round has "
            f"{span.turns} turns",
            safer=f"{span.breathers} more {'station' if span.breathers == 1 else 'stations'} would put them to work",
        )
        for index, span in enumerate(timeline.blocks)
        if span.breathers and isinstance(plan.blocks[index], CircuitBlock)
    ]


def _long_near_maximal(forecasts: list[PersonForecast]) -> list[Caution]:
    long = [
        person for person in forecasts if person.heart_applies and person.minutes_by_class[4] > LONG_NEAR_MAXIMAL_MIN
    ]
    if not long:
        return []
    longest = max(person.minutes_by_class[4] for person in long)
    return [
        Caution(
            severity="caution",
            block=-1,
            slots=[],
            people=[person.number for person in long],
            message=f"near-maximal heart rate for up to {longest:.0f} min",
            safer="longer rests or a lighter load for them",
        )
    ]


def _medication(forecasts: list[PersonForecast]) -> list[Caution]:
    numbers = [person.number for person in forecasts if not person.heart_applies]
    if not numbers:
        return []
    return [
        Caution(
            severity="caution",
            block=-1,
            slots=[],
            people=numbers,
            message="heart medication: heart-rate figures do not apply",
            safer="guide by perceived effort, and by what their doctor said",
        )
    ]


def _unknown_loads(unknown: list[set[str]], catalogue: Catalogue) -> list[Caution]:
    exercises = sorted(set().union(*unknown))
    if not exercises:
        return []
    names = ", ".join(catalogue.exercises[exercise].name.lower() for exercise in exercises)
    return [
        Caution(
            severity="note",
            block=-1,
            slots=[],
            people=[number for number, missing in enumerate(unknown, 1) if missing],
            message=f"no best known for {names}: their load is not in the volume load",
            safer="enter a best, or a load in kilograms",
        )
    ]
