"""One set as it was done, freed of its class: what the weeks are computed from."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from typing import Literal

from oaken.catalogue import Exercise
from oaken.class_file import ClassFile
from oaken.people import Person
from oaken.room import Hardware, nearest_kg
from oaken.run import Course, Event, LogRow, log_of
from oaken.run.events import SetDone
from oaken.timeline import Bout
from oaken.timeline.steps import loads_of

Side = Literal["", "left", "right"]
Ended = Literal["failed", "left", "stopped"]
"""How a set ended: at failure, with repetitions left that were told, or where it was planned to."""


@dataclass(frozen=True, slots=True)
class SetRecord:
    """One set of one person that was written down or ticked as planned, on a date, in a class (`run`, a number).

    `load_kg` and `reps` are those of its first stretch: of a cluster or of drops the first part. `volume_kg` (kg ×
    repetitions) and `tension_s` count all of it. `low` and `high` are the planned repetitions (a side, where sides are
    counted), `sets` how many sets of that part were planned for this person; None and 0 where nothing was. `side` is
    empty where both are meant.
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
    volume_kg: float
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


def set_records(file: ClassFile, events: Sequence[Event], course: Course, on: date, run: int) -> list[SetRecord]:
    """Every set of a class that was done: written down by itself, or ticked as planned. What was not written is not
    among them, nor what is no work. In the order of the log."""
    rows = [row for row in log_of(file, events, course) if row.written != "not written"]
    people = {person.id: person for person in file.participants}
    known = file.catalogue().exercises
    hardware = {unit.id: unit.hardware for unit in file.room.units}
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
        plan = _Planned.of(row, people[row.person], exercise, hardware.get(row.unit))
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
    def of(cls, row: LogRow, who: Person, exercise: Exercise, hardware: Hardware | None) -> _Planned:
        """The plan of a row; of a set that nobody planned there is nothing."""
        first = row.bouts[0].segment if row.bouts else None
        low, high = row.window or (None, None)
        return cls(
            kg=tuple(_as_set(bout, who, exercise, hardware) for bout in row.bouts),
            reps=tuple(bout.reps for bout in row.bouts),
            effort_s=sum(bout.effort_s for bout in row.bouts),
            low=low,
            high=high,
            to_failure=first is not None and first.to_failure,
        )


def _as_set(bout: Bout, who: Person, exercise: Exercise, hardware: Hardware | None) -> float | None:
    if not exercise.takes_load:
        return None
    kg = loads_of(bout, who, exercise).kg(who.bests_kg.get(exercise.id))
    return kg if kg is None or hardware is None else nearest_kg(hardware, kg)


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
        volume = sum((kg or 0.0) * count for kg, count in zip(plan.kg, plan.reps, strict=True))
        tension = plan.effort_s
    else:
        load = planned_kg if done.load_kg is None else done.load_kg
        parts = done.parts or (() if done.reps is None else (done.reps,))
        reps = parts[0] if parts else planned_reps if done.seconds is None else None
        seconds = done.seconds if done.seconds is not None else None if reps is not None else plan.effort_s
        volume = _volume(load, parts, plan, counted, both)
        tension = _tension(done, parts, plan, counted, both)
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
        volume_kg=round(volume, 2),
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


def _volume(load: float | None, parts: tuple[int, ...], plan: _Planned, counted: int, both: int) -> float:
    """Kilograms times repetitions of a set that was written down; later parts are as much lighter as planned."""
    if load is None:
        return 0.0
    if not parts:
        # nothing was said of the repetitions: they are as planned, half of them where one side is meant
        return load * sum(plan.reps) * counted / both
    first = plan.kg[0] if plan.kg else None
    shares = [(kg / first if kg is not None and first else 1.0) for kg in plan.kg] or [1.0]
    return sum(
        load * (shares[at] if at < len(shares) else shares[-1]) * reps * counted for at, reps in enumerate(parts)
    )


def _tension(done: SetDone, parts: tuple[int, ...], plan: _Planned, counted: int, both: int) -> float:
    """Seconds under tension: as the planned tempo makes them for the repetitions that were done."""
    if done.seconds is not None:
        return done.seconds
    planned = sum(plan.reps)
    if not parts or not planned:
        return plan.effort_s * counted / both
    return plan.effort_s / planned * sum(parts) * counted
