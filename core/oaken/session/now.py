"""Who does what at this moment of a run, and what and where next: what is shown of each person."""

from __future__ import annotations

from bisect import bisect_right
from dataclasses import dataclass

from oaken.schedule.class_file import ClassFile
from oaken.schedule.timeline import Doing, Step
from oaken.session.clock import RunState


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
    go next and in how many seconds (None: nowhere any more). Whoever is away does nothing."""

    person: str
    number: int
    away: bool
    doing: Doing
    here: Spot | None
    left_s: float
    next: Spot | None
    next_in_s: float | None


def people_now(file: ClassFile, run_state: RunState) -> list[PersonNow]:
    """Everybody where the run_state stands, in the order of the plan."""
    away = {person for person, _, until in run_state.away if until is None}
    paths = run_state.era.timeline.paths
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
