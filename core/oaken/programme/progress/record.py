"""One set as it was done, freed of its class: what the weeks are computed from."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from typing import Literal

from oaken.domain.catalogue import Exercise
from oaken.schedule.class_file import ClassFile
from oaken.session import Event, LogRow, RunState, log_of, stretches_of
from oaken.session.events import SetDone

Side = Literal["", "left", "right"]
Ended = Literal["failed", "left", "stopped"]
"""How a set ended: at failure, with repetitions left that were told, or where it was planned to."""


@dataclass(frozen=True, slots=True)
class SetRecord:
    """One set of one person that was written down or ticked as planned, on a date, in a class (`run`, a number).

    `load_kg` and `reps` are those of its first stretch: of a cluster or of drops the first part. `volume_kg` (kg ×
    repetitions; None where the load of any of it is not known) and `tension_s` count all of it. `low` and `high` are
    the planned repetitions (a side, where sides are counted), `sets` how many sets of that part were planned for this
    person; None and 0 where nothing was. `side` is empty where both are meant.
    """

    on: date
    run: int
    person: str
    exercise: str
    block: str
    part: str
    number: int
    side: Side
    unit: str
    load_kg: float | None
    reps: int | None
    seconds: float | None
    volume_kg: float | None
    tension_s: float
    low: int | None
    high: int | None
    sets: int
    planned_kg: float | None
    ended: Ended
    reps_left: int | None
    pauses: bool
    helped: bool
    poor: bool
    as_planned: bool


def set_records(file: ClassFile, events: Sequence[Event], run_state: RunState, on: date, run: int) -> list[SetRecord]:
    """Every set of a class that was done: written down by itself, or ticked as planned. What was not written is not
    among them, nor what is no work. In the order of the log."""
    rows = [row for row in log_of(file, events, run_state) if row.written != "not written"]
    people = {person.id for person in file.participants}
    known = file.catalogue().exercises
    planned: dict[tuple[str, str], int] = {}
    for row in rows:
        if row.bouts:
            key = (row.person, row.part)
            planned[key] = max(planned.get(key, 0), row.number)
    found: list[SetRecord] = []
    for row in rows:
        exercise = known.get(row.exercise)
        if exercise is None or not exercise.is_work or row.person not in people:
            continue
        plan = _Planned.of(row, exercise)
        sets = planned.get((row.person, row.part), 0)
        for done in row.done or (None,):
            found.append(_record(row, done, plan, exercise, on, run, sets))
    return found


@dataclass(frozen=True, slots=True)
class _Planned:
    """What was planned of a set, as it can be set: kilograms and repetitions (both sides) of each of its stretches."""

    kg: tuple[float | None, ...]
    reps: tuple[float, ...]
    effort_s: float
    low: int | None
    high: int | None
    to_failure: bool

    @classmethod
    def of(cls, row: LogRow, exercise: Exercise) -> _Planned:
        """The plan of a row; of a set that nobody planned there is nothing."""
        first = row.bouts[0].segment if row.bouts else None
        low, high = row.window or (None, None)
        return cls(
            kg=row.loads_kg if exercise.takes_load else tuple(None for _ in row.bouts),
            reps=tuple(bout.reps for bout in row.bouts),
            effort_s=sum(bout.effort_s for bout in row.bouts),
            low=low,
            high=high,
            to_failure=first is not None and first.to_failure,
        )


def _record(
    row: LogRow, done: SetDone | None, plan: _Planned, exercise: Exercise, on: date, run: int, sets: int
) -> SetRecord:
    planned_kg = plan.kg[0] if plan.kg else None
    planned_reps = None if plan.low is None or plan.high is None else (plan.low + plan.high) // 2
    both = 2 if exercise.sides == "one_sided" else 1
    side: Side = "" if done is None else done.side or ""
    counted = 1 if side else both
    if done is None:
        load, reps, seconds = planned_kg, planned_reps, None if planned_reps else plan.effort_s
        tension = plan.effort_s
    else:
        load = planned_kg if done.load_kg is None else done.load_kg
        parts = done.parts or (() if done.reps is None else (done.reps,))
        reps = parts[0] if parts else planned_reps if done.seconds is None else None
        seconds = done.seconds if done.seconds is not None else None if reps is not None else plan.effort_s
        tension = _tension(done, parts, plan, counted, both)
    volume = _volume(row, done, plan, counted, both)
    if not exercise.takes_load:
        load, volume = None, 0.0
    left = None if done is None else done.reps_left
    failed = plan.to_failure if done is None else done.to_failure
    return SetRecord(
        on=on,
        run=run,
        person=row.person,
        exercise=row.exercise,
        block=row.block,
        part=row.part,
        number=row.number,
        side=side,
        unit=row.unit,
        load_kg=load,
        reps=reps,
        seconds=seconds,
        volume_kg=None if volume is None else round(volume, 2),
        tension_s=round(tension, 1),
        low=plan.low,
        high=plan.high,
        sets=sets,
        planned_kg=planned_kg,
        ended="failed" if failed else "left" if left is not None else "stopped",
        reps_left=left,
        pauses=len(plan.kg) > 1 if done is None else len(done.parts) > 1,
        helped=done is not None and done.helped,
        poor=done is not None and done.form == "poor",
        as_planned=done is None,
    )


def _volume(row: LogRow, done: SetDone | None, plan: _Planned, counted: int, both: int) -> float | None:
    """Kilograms times repetitions of both sides; what nobody counted is as planned, half where one side is meant. None
    where a load is not known."""
    stretches = stretches_of(row, done)
    if done is not None and not done.parts and done.reps is None:
        reps = [sum(plan.reps) * counted / both]
    elif done is None:
        reps = list(plan.reps)
    else:
        reps = [stretch.reps or 0.0 for stretch in stretches]
    volume = 0.0
    for stretch, count in zip(stretches, reps, strict=True):
        if stretch.load_kg is None:
            return None
        volume += stretch.load_kg * count
    return volume


def _tension(done: SetDone, parts: tuple[int, ...], plan: _Planned, counted: int, both: int) -> float:
    """Seconds under tension: as the planned tempo makes them for the repetitions that were done."""
    if done.seconds is not None:
        return done.seconds
    planned = sum(plan.reps)
    if not parts or not planned:
        return plan.effort_s * counted / both
    return plan.effort_s / planned * sum(parts) * counted
