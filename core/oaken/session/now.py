"""Who does what at this moment of a run, and what and where next: what is shown of each person."""

from __future__ import annotations

from bisect import bisect_right
from dataclasses import dataclass, replace

from oaken.schedule.class_file import ClassFile
from oaken.schedule.rotation.rolling import Placement
from oaken.schedule.timeline import Doing, Step
from oaken.session.clock import RunState
from oaken.session.floor import FloorVisit, floor_at


@dataclass(frozen=True, slots=True)
class Spot:
    """A place where somebody does something: the part of the plan, its exercise, and the unit (None: on the floor)."""

    part: str
    exercise: str
    name: str
    unit: str | None


@dataclass(frozen=True, slots=True)
class PersonNow:
    """One person at a moment: what they do and where (None: nowhere in particular), for how long still, and where they
    go next and in how many seconds (None: nowhere any more). Whoever is away does nothing. Where people are followed:
    whether it is `known` from what was pressed, or assumed; whether they are waited for (`held`), and by how many
    seconds they are behind the plan (before it: less than 0)."""

    person: str
    number: int
    away: bool
    doing: Doing
    here: Spot | None
    left_s: float
    next: Spot | None
    next_in_s: float | None
    set_number: int = 0
    known: bool = False
    held: bool = False
    behind_s: float = 0.0


def people_now(file: ClassFile, run_state: RunState) -> list[PersonNow]:
    """Everybody where the run_state stands, in the order of the plan."""
    away = {person for person, _, until in run_state.away if until is None}
    paths = run_state.era.timeline.paths
    if run_state.floor is not None and run_state.state != "ended":
        stands = floor_at(run_state.floor)
        return [
            _on_the_floor(run_state, file, run_state.floor, number, stands.placed[number - 1], paths[number - 1])
            if person not in away
            else PersonNow(person, number, True, Doing.FINISHED, None, 0.0, None, None)
            for number, person in enumerate(file.plan.people, 1)
        ]
    return [
        _now(run_state, file, number, person, paths[number - 1], away=person in away)
        for number, person in enumerate(file.plan.people, 1)
    ]


def _now(run_state: RunState, file: ClassFile, number: int, person: str, path: list[Step], *, away: bool) -> PersonNow:
    if away or run_state.state == "ended":
        return PersonNow(person, number, away, Doing.FINISHED, None, 0.0, None, None)
    ahead = run_state.ahead_of(person)
    second = run_state.second + ahead
    if ahead:
        span = run_state.era.timeline.blocks[run_state.era.place(run_state.second)[0]]
        second = max(span.start_s, second)
        if second >= span.end_s:
            # done with the block before the class is: what comes next comes when the class gets there
            left = max(0.0, span.end_s - run_state.second)
            behind = bisect_right(path, span.end_s, key=lambda step: step.end_s)
            return _person(run_state, file, number, person, Doing.FINISHED, None, left, path[behind:], run_state.second)
    at = bisect_right(path, second, key=lambda step: step.end_s)
    if at == len(path):
        return PersonNow(person, number, away, Doing.FINISHED, None, 0.0, None, None)
    step = path[at]
    return _person(
        run_state,
        file,
        number,
        person,
        step.doing,
        _spot(run_state, file, step),
        step.end_s - second,
        path[at + 1 :],
        second,
    )


def _person(
    run_state: RunState,
    file: ClassFile,
    number: int,
    person: str,
    doing: Doing,
    here: Spot | None,
    left_s: float,
    coming: list[Step],
    second: float,
) -> PersonNow:
    """`coming` are the steps that follow, `second` is where the person stands on their axis."""
    then = next((item for item in coming if item.doing is Doing.WORK and _spot(run_state, file, item) != here), None)
    return PersonNow(
        person=person,
        number=number,
        away=False,
        doing=doing,
        here=here,
        left_s=run_state.added_s + left_s,
        next=None if then is None else _spot(run_state, file, then),
        next_in_s=None if then is None else run_state.added_s + then.start_s - second,
    )


def _spot(run_state: RunState, file: ClassFile, step: Step) -> Spot | None:
    if step.slot < 0:
        return None
    slot = run_state.era.timeline.slots[step.slot]
    unit = file.room.units[step.unit].id if step.unit >= 0 else None
    return Spot(slot.id, slot.exercise.id, slot.exercise.name, unit)


def _on_the_floor(
    run_state: RunState, file: ClassFile, floor: FloorVisit, number: int, placed: list[Placement], path: list[Step]
) -> PersonNow:
    """One person where people are followed."""
    now, person = floor.now_s, file.plan.people[number - 1]
    block, _ = run_state.era.place(run_state.second)
    end = run_state.era.timeline.blocks[block].end_s
    at = next((at for at, item in enumerate(placed) if now < item.end_s or item.held), len(placed))
    if at == len(placed):
        # done with the block: what comes next comes when the class gets there
        behind = path[bisect_right(path, end, key=lambda step: step.end_s) :]
        left = max(0.0, end - run_state.second)
        found = _person(run_state, file, number, person, Doing.FINISHED, None, left, behind, run_state.second)
        return replace(found, known=bool(placed) and placed[-1].known)
    item = placed[at]
    phases = (
        (item.arrive_s, Doing.CHANGE),
        (item.rested_s, Doing.REST),
        (item.set_up_from_s, Doing.WAIT),
        (item.work_from_s, Doing.CHANGE),
        (item.end_s, Doing.WORK),
    )
    until, doing = next((phase for phase in phases if now < phase[0]), (now, Doing.WORK))
    here = _place_of(run_state, file, block, item)
    coming = [(_place_of(run_state, file, block, other), other) for other in placed[at + 1 :]]
    then = next(((spot, other) for spot, other in coming if spot != here), None)
    return PersonNow(
        person=person,
        number=number,
        away=False,
        doing=doing,
        here=here,
        left_s=until - now,
        next=None if then is None else then[0],
        next_in_s=None if then is None else then[1].work_from_s - now,
        set_number=item.task.id[1],
        known=item.known or (at > 0 and placed[at - 1].known),
        held=item.held,
        behind_s=_behind_s(floor, number - 1, placed),
    )


def _behind_s(floor: FloorVisit, person: int, placed: list[Placement]) -> float:
    """By how much somebody will be done with the block later than planned."""
    planned = max((task.start_s + task.work_s for task in floor.plans[-1].work.tasks[person]), default=0.0)
    return placed[-1].end_s - (planned - floor.from_s)


def _place_of(run_state: RunState, file: ClassFile, block: int, item: Placement) -> Spot | None:
    timeline = run_state.era.timeline
    first = timeline.passages[block].first_slot
    if not 0 <= item.task.use < len(timeline.passages[block].layout.slots):
        return None
    slot = timeline.slots[first + item.task.use]
    return Spot(
        slot.id, slot.exercise.id, slot.exercise.name, file.room.units[item.unit].id if item.unit >= 0 else None
    )
