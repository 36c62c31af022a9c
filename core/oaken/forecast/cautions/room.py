"""What can go wrong between a plan and its room: missing places, short changes, waits, breathers."""

from __future__ import annotations

from collections import Counter, defaultdict
from collections.abc import Collection, Mapping, Sequence
from itertools import pairwise

from oaken.basis.words import counted, plural
from oaken.domain.catalogue import Catalogue, Exercise
from oaken.domain.room import Room
from oaken.forecast.report import Caution, Fix
from oaken.plan import CircuitBlock, ClassPlan, SetsBlock, Station
from oaken.plan.changes import MakeRotation, SetChange, SwapExercise
from oaken.schedule.arrange.collisions import Conflict
from oaken.schedule.timeline import Circumstances, Doing, Timeline
from oaken.schedule.timeline.circuit import rotation_of

LONG_WAIT_S = 60.0


def room_cautions(
    plan: ClassPlan, around: Circumstances, timeline: Timeline, conflicts: Mapping[int, Sequence[Conflict]]
) -> list[Caution]:
    """Every caution that comes from the room; `conflicts` say of a block why it cannot be had in its time."""
    room, catalogue = around.room, around.catalogue
    return [
        *_missing_places(room, catalogue, timeline, plan),
        *_short_changes(plan, around, timeline),
        *_waits(plan, timeline),
        *_too_long(plan, timeline, conflicts),
        *_double_use(plan, room, timeline),
        *_parted(plan, around),
        *_breathers(plan, timeline),
        *_not_there(plan, room),
    ]


def _not_there(plan: ClassPlan, room: Room) -> list[Caution]:
    """Units that the class names and the room has not got (any more): what is said of them means nothing."""
    units = {unit.id for unit in room.units}
    gone = sorted({*plan.taken, *(own.unit for own in plan.settings)} - units)
    if not gone:
        return []
    return [
        Caution(
            severity="note",
            block=-1,
            slots=[],
            people=[],
            message=f"the room has no {plural(len(gone), 'unit')} {', '.join(gone)}: what the class says of "
            f"{'it' if len(gone) == 1 else 'them'} means nothing",
            safer="write the class without, or with a unit there is",
        )
    ]


def working_substitutes(exercise: Exercise, room: Room, catalogue: Catalogue) -> list[Exercise]:
    """Exercises of the same movement pattern on other equipment that works in this room, shared muscles first."""
    return [
        other
        for other in catalogue.substitutes(exercise)
        if other.equipment != exercise.equipment and (other.equipment == "none" or room.working(other.equipment))
    ]


def _missing_places(room: Room, catalogue: Catalogue, timeline: Timeline, plan: ClassPlan) -> list[Caution]:
    found = []
    crowd = timeline.crowd
    for slot in timeline.slots:
        kind = slot.exercise.equipment
        together = plan.blocks[slot.block].kind == "together"
        if kind == "none" or (slot.places >= crowd if together else slot.places > 0):
            continue
        name = catalogue.equipment[kind].name.lower()
        working = len(room.working(kind))
        others = working_substitutes(slot.exercise, room, catalogue)[:2]
        if together and working:
            many, few = counted(crowd, "person", "people"), counted(working, "place")
            message = f"{slot.exercise.name}: {many} together, but only {few} ({name})"
        elif working:
            message = f"{slot.exercise.name}: other stations already take every place ({name}: {working})"
        elif any(unit.kind == kind for unit in room.units):
            message = f"{slot.exercise.name}: the {name} is out of order"
        else:
            message = f"{slot.exercise.name}: there is no {name} in {room.name}"
        safer = f"use {' or '.join(other.name.lower() for other in others)}" if others else "choose another exercise"
        fix = None
        if others:
            swap = SwapExercise(slot=slot.id, exercise=others[0].id)
            fix = Fix(label=f"Use {others[0].name.lower()}", change=swap)
        found.append(
            Caution(
                severity="clash", block=slot.block, slots=[slot.id], people=[], message=message, safer=safer, fix=fix
            )
        )
    return found


def _short_changes(plan: ClassPlan, around: Circumstances, timeline: Timeline) -> list[Caution]:
    room, catalogue = around.room, around.catalogue
    found = []
    for index, block in plan.of_kind(CircuitBlock):
        if len(block.stations) < 2:
            continue
        needs: dict[str, float] = {}
        layout = timeline.passages[index].layout
        for path in layout.paths[:1]:
            work = [step for step in path if step.doing is Doing.WORK]
            for here, there in pairwise(work):
                slot = layout.slots[there.slot]
                seconds = room.walk_s(here.unit, there.unit) + catalogue.equipment[slot.exercise.equipment].set_up_s
                needs[slot.id] = max(needs.get(slot.id, 0.0), seconds)
        short = {slot: seconds for slot, seconds in needs.items() if seconds > block.change_s + 0.5}
        if short:
            worst = max(short, key=lambda slot: short[slot])
            name = next(slot.exercise.name for slot in timeline.slots if slot.id == worst)
            enough = _in_fives(short[worst])
            found.append(
                Caution(
                    severity="caution",
                    block=index,
                    slots=list(short),
                    people=[],
                    message=f"{block.change_s} s are short to walk and set up: {name.lower()} takes about "
                    f"{short[worst]:.0f} s" + (f", {len(short) - 1} more are tight" if len(short) > 1 else ""),
                    safer=f"change of {enough} s, or seats set before the block",
                    fix=Fix(label=f"Change of {enough} s", change=SetChange(block=block.id, change_s=enough)),
                )
            )
        found += _no_time_for_loads(block, index, needs, short, around)
    return found


def _in_fives(seconds: float) -> int:
    """Whole seconds that are enough, in steps of five."""
    return -(-int(seconds + 0.999) // 5) * 5


def _no_time_for_loads(
    block: CircuitBlock, index: int, needs: dict[str, float], short: Collection[str], around: Circumstances
) -> list[Caution]:
    """A note where a change is long enough to walk and set up, but not for the next person's load as well."""
    kinds = around.catalogue.equipment
    loading: dict[str, tuple[float, str]] = {}
    for station in block.stations:
        exercise = around.catalogue.exercises[station.exercise]
        seconds = needs.get(station.id, 0.0) + kinds[exercise.equipment].load_change_s
        if station.id not in short and seconds > block.change_s + 0.5 and _differ_in_load(station, exercise, around):
            loading[station.id] = seconds, exercise.name.lower()
    if not loading:
        return []
    seconds, name = max(loading.values())
    enough = _in_fives(seconds)
    more = f", {len(loading) - 1} more are tight" if len(loading) > 1 else ""
    return [
        Caution(
            severity="note",
            block=index,
            slots=list(loading),
            people=[],
            message=f"{block.change_s} s leave no time to change the load from one person to the next: {name} takes "
            f"about {seconds:.0f} s{more}",
            safer=f"change of {enough} s, or one load for those who follow each other",
            fix=Fix(label=f"Change of {enough} s", change=SetChange(block=block.id, change_s=enough)),
        )
    ]


def _differ_in_load(station: Station, exercise: Exercise, around: Circumstances) -> bool:
    """Whether people use different loads at a station; where that is not known, they do."""
    if not exercise.takes_load or len(around.people) < 2:
        return False
    load = station.load
    if load is None or load.by_effort:
        return True
    return load.share_of_best is not None and len({person.bests_kg.get(exercise.id) for person in around.people}) > 1


def _waits(plan: ClassPlan, timeline: Timeline) -> list[Caution]:
    found = []
    for index, block in enumerate(plan.blocks):
        layout = timeline.passages[index].layout
        waits: Counter[int] = Counter()
        by_slot: Counter[int] = Counter()
        if not isinstance(block, SetsBlock):
            continue
        for number, path in enumerate(layout.paths, 1):
            for step in path:
                if step.doing is Doing.WAIT:
                    waits[number] += round(step.end_s - step.start_s)
                    by_slot[step.slot] += round(step.end_s - step.start_s)
        long = [number for number, seconds in waits.items() if seconds > LONG_WAIT_S]
        if long:
            slot = layout.slots[by_slot.most_common(1)[0][0]]
            _, seconds = waits.most_common(1)[0]
            found.append(
                Caution(
                    severity="caution",
                    block=index,
                    slots=[slot.id],
                    people=sorted(long),
                    message=f"{counted(len(long), 'person waits', 'people wait')} more than a minute, "
                    f"up to {seconds // 60}:{seconds % 60:02d}, mostly for the {slot.exercise.name.lower()}",
                    safer="another order of the visits, one group more, or another exercise in its place",
                    fix=Fix(label="Find a better rotation", change=MakeRotation(block=block.id)),
                    about="waiting",
                )
            )
    return found


def _too_long(plan: ClassPlan, timeline: Timeline, conflicts: Mapping[int, Sequence[Conflict]]) -> list[Caution]:
    """Blocks that take longer than they may."""
    found = []
    for index, block in enumerate(plan.blocks):
        limit_s = block.within_s if isinstance(block, SetsBlock) else None
        length_s = timeline.passages[index].layout.length_s
        if limit_s is None or length_s <= limit_s:
            continue
        why = conflicts.get(index, ())
        found.append(
            Caution(
                severity="clash",
                block=index,
                slots=[],
                people=[person + 1 for person in why[0].people] if why else [],
                message=why[0].message
                if why
                else f"takes {length_s / 60:.1f} min; the block may take {limit_s / 60:.1f}",
                safer=why[0].safer if why else "another order of the visits",
                fix=None if why else Fix(label="Find a better rotation", change=MakeRotation(block=block.id)),
            )
        )
    return found


def _double_use(plan: ClassPlan, room: Room, timeline: Timeline) -> list[Caution]:
    """Units that more people are on at once than they have places for: somebody's substitute is another's station."""
    found: list[Caution] = []
    if not plan.instead:
        return found
    for index, block in plan.of_kind(CircuitBlock):
        layout = timeline.passages[index].layout
        at: dict[tuple[float, int], list[tuple[int, int]]] = defaultdict(list)
        for person, path in enumerate(layout.paths):
            for step in path:
                if step.doing is Doing.WORK and step.unit >= 0:
                    at[step.start_s, step.unit].append((person, step.slot))
        for (_, unit), here in at.items():
            each = 2 if block.turn_s else 1
            if len(here) > room.units[unit].places * each:
                slots = list(dict.fromkeys(layout.slots[slot].id for _, slot in here))
                found.append(
                    Caution(
                        severity="clash",
                        block=index,
                        slots=slots,
                        people=sorted({person + 1 for person, _ in here}),
                        message=f"{len(here)} people want the {room.units[unit].name.lower()} at once: "
                        "what somebody does instead is another's station",
                        safer="another exercise instead, on equipment that no station uses",
                    )
                )
                break
    return found


def _parted(plan: ClassPlan, around: Circumstances) -> list[Caution]:
    """Companies that no station can hold."""
    found = []
    for index, block in plan.of_kind(CircuitBlock):
        rotation, _ = rotation_of(block, around)
        for company in around.wishes.companies:
            if len({rotation.begins[person] for person in company}) > 1:
                found.append(
                    Caution(
                        severity="caution",
                        block=index,
                        slots=[],
                        people=[person + 1 for person in company],
                        message=f"{len(company)} people cannot go round together: a station has fewer places",
                        safer="smaller companies, or more places at that station",
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
            message=f"{counted(timeline.crowd, 'person', 'people')} on "
            f"{counted(span.turns - span.breathers, 'station')}: everyone has "
            f"{counted(span.breathers, 'breather')} a round, a round has "
            f"{span.turns} turns",
            safer=f"{span.breathers} more {plural(span.breathers, 'station')} would put them to work",
        )
        for index, span in enumerate(timeline.blocks)
        if span.breathers and isinstance(plan.blocks[index], CircuitBlock)
    ]
