"""One set as it was done, freed of its class: what the weeks are computed from."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from typing import Literal

from oaken.domain.catalogue import Exercise
from oaken.domain.prescription import Manner, SetUp
from oaken.schedule.class_file import ClassFile
from oaken.session import Event, LogRow, RunState, log_of, stretches_of
from oaken.session.events import SetDone
from oaken.session.log import set_words
from oaken.session.set_parts import Performed, parts_of

Side = Literal["", "left", "right"]
Ended = Literal["failed", "left", "stopped"]
"""How a set ended: at failure, with repetitions left that were told, or where it was planned to."""


@dataclass(frozen=True, slots=True)
class SetRecord:
    """One set of one person that was written down or ticked as planned, on a date, in a class (`run`, a number).

    `load_kg` and `reps` are those of its first stretch: of a cluster or of drops the first part. `reps` were alone,
    `helped_reps` more with somebody's hands. `volume_kg` (kg × repetitions; None where the load of any of it is not
    known) and `tension_s` count all of it. `low` and `high` are the planned repetitions (a side, where sides are
    counted), `sets` how many sets of that part were planned for this person; None and 0 where nothing was. `side` is
    empty where both are meant. `helped`: with hands, and nobody counted how often. `rest_s` is the rest that was really
    taken before it, `set_up` what sets it apart from the same exercise done otherwise, `in_parts` the parts of a set
    that had several, in words.
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
    helped_reps: int = 0
    rest_s: float | None = None
    set_up: str = ""
    in_parts: str = ""

    @property
    def partial(self) -> bool:
        """Whether the joints went only part of their way."""
        return self.set_up.endswith((PARTIAL, CUT_SHORT))

    @property
    def cut_short(self) -> bool:
        """Whether the joints went only part of the way that was planned."""
        return self.set_up.endswith(CUT_SHORT)


PARTIAL, CUT_SHORT = "partial range", "range cut short"
"""What stands behind the set-up where the joints went part of their way: as it was planned, and otherwise."""


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
    set_up: SetUp
    partial: bool

    @classmethod
    def of(cls, row: LogRow, exercise: Exercise) -> _Planned:
        """The plan of a row; of a set that nobody planned there is nothing."""
        first = row.bouts[0].segment if row.bouts else None
        low, high = row.window or (None, None)
        return cls(
            kg=row.loads_kg,
            reps=tuple(bout.reps for bout in row.bouts),
            effort_s=sum(bout.effort_s for bout in row.bouts),
            low=low,
            high=high,
            to_failure=first is not None and first.to_failure,
            set_up=SetUp() if first is None else first.set_up,
            partial=first is not None and first.partial,
        )


def _record(
    row: LogRow, done: SetDone | None, plan: _Planned, exercise: Exercise, on: date, run: int, sets: int
) -> SetRecord:
    planned_kg = plan.kg[0] if plan.kg else None
    planned_reps = None if plan.low is None or plan.high is None else (plan.low + plan.high) // 2
    both = 2 if exercise.sides == "one_sided" else 1
    side: Side = "" if done is None else done.side or ""
    counted = 1 if side else both
    parts = [] if done is None else parts_of(done, done.parts)
    helped_reps = 0
    if done is None:
        load, reps, seconds = planned_kg, planned_reps, None if planned_reps else plan.effort_s
        tension = plan.effort_s
    else:
        load = planned_kg if parts[0].load_kg is None else parts[0].load_kg
        timed = _seconds(done)
        helped_reps = parts[0].helped_reps or 0
        reps = parts[0].reps if parts[0].reps is not None else planned_reps if timed is None else None
        reps = None if reps is None else max(0, reps - helped_reps)
        seconds = timed if timed is not None else None if reps is not None else plan.effort_s
        tension = _tension(timed, [part.reps for part in parts if part.reps is not None], plan, counted, both)
    volume = _volume(row, done, plan, counted, both)
    if not exercise.takes_load and not load:
        load, volume = None, 0.0
    left = None if done is None else parts[0].reps_left
    # hands come in when nothing more goes alone
    failed = plan.to_failure if done is None else parts[0].to_failure or done.to_failure or helped_reps > 0
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
        pauses=len(plan.kg) > 1 if done is None else len(parts) > 1,
        helped=not helped_reps and done is not None and (done.helped or parts[0].helped),
        poor=any(part.form == "poor" for part in parts),
        as_planned=done is None,
        helped_reps=helped_reps,
        rest_s=None if done is None else parts[0].rest_s,
        set_up=_set_up(done, parts[:1], plan),
        in_parts=set_words(row, done)[:IN_PARTS_SIGNS] if len(parts) > 1 else "",
    )


IN_PARTS_SIGNS = 400
"""As many signs of a set in words are kept for tables: its events keep all of it."""


def planned_set_up(manner: Manner) -> str:
    """The `set_up` of a record of a set that is done as it is planned."""
    return ", ".join(filter(None, [str(manner.set_up), PARTIAL if manner.partial else ""]))


def _set_up(done: SetDone | None, first: Sequence[Performed], plan: _Planned) -> str:
    set_up = plan.set_up if done is None or done.set_up is None else done.set_up
    said = first[0].range_of_motion if first else None
    partial = plan.partial if said is None else said == "partial"
    way = "" if not partial else PARTIAL if plan.partial else CUT_SHORT
    return ", ".join(filter(None, [str(set_up), way]))


def _seconds(done: SetDone) -> float | None:
    """The seconds of a whole set, where somebody told them: those of the set, or of its parts together."""
    if done.seconds is not None:
        return done.seconds
    told = [part.seconds for part in done.parts if part.seconds is not None]
    return sum(told) if told and len(told) == len(done.parts) else None


def _volume(row: LogRow, done: SetDone | None, plan: _Planned, counted: int, both: int) -> float | None:
    """Kilograms times repetitions of both sides; what nobody counted is as planned, half where one side is meant. None
    where a load is not known, or nobody counted one of several parts."""
    stretches = stretches_of(row, done)
    if done is not None and not done.parts and done.reps is None:
        reps = [sum(plan.reps) * counted / both]
    elif done is None:
        reps = list(plan.reps)
    elif any(stretch.reps is None for stretch in stretches):
        return None
    else:
        reps = [stretch.reps or 0.0 for stretch in stretches]
    volume = 0.0
    for stretch, count in zip(stretches, reps, strict=True):
        if stretch.load_kg is None:
            return None
        volume += stretch.load_kg * count
    return volume


def _tension(timed: float | None, reps: Sequence[int], plan: _Planned, counted: int, both: int) -> float:
    """Seconds under tension: as they were told, or as the planned tempo makes them for the repetitions that were
    done."""
    if timed is not None:
        return timed
    planned = sum(plan.reps)
    if not reps or not planned:
        return plan.effort_s * counted / both
    return plan.effort_s / planned * sum(reps) * counted
