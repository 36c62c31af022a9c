"""One person's class as it actually was: laps, sets, heart rate and energy on one clock."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from datetime import datetime, timedelta
from typing import Literal

import numpy as np

from oaken.basis.estimate import methods
from oaken.domain.catalogue import Exercise
from oaken.forecast import forecast
from oaken.forecast.report import PersonForecast
from oaken.heart_data.recordings import HeartSeries
from oaken.heart_data.recordings.series import LEAST_BPM, MOST_BPM
from oaken.schedule.class_file import ClassFile
from oaken.schedule.timeline import Doing, Step
from oaken.session import Actual, Event, LogRow, RunState, actual_class, log_of, stretches_of
from oaken.session.log import load_as_set
from oaken.session.set_parts import Performed, performed_words

LapsAt = Literal["blocks", "stations"]
"""Where a lap begins: with each block, or with each exercise somebody goes to."""


@dataclass(frozen=True, slots=True)
class Lap:
    """A part of the class: from and until which second of it, what it was, its energy in kcal, and the mean and highest
    heart rate (None where nothing was recorded)."""

    name: str
    from_s: float
    until_s: float
    kcal: float
    mean_bpm: float | None
    peak_bpm: float | None


@dataclass(frozen=True, slots=True)
class ActivitySet:
    """A set that was written down or ticked as planned, or one part of it: when it began (s), how long it took,
    repetitions and load (None where nobody wrote it), by the exercise's name. `number` counts the sets of the exercise
    and `part` its parts, both from 1; `said` is what else was written of it, `set_up` how somebody was set up."""

    exercise: str
    start_s: float
    seconds: float
    reps: int | None
    load_kg: float | None
    number: int = 1
    part: int = 1
    side: Literal["left", "right"] | None = None
    said: Performed | None = None
    set_up: str = ""

    @property
    def in_words(self) -> str:
        """Which set it is, and what was written besides repetitions and load: “set 3, part 2, 2 helped, to failure”."""
        words = [
            f"set {self.number}",
            f"part {self.part}" if self.part > 1 else "",
            f"{self.side} side" if self.side else "",
        ]
        if self.said is not None:
            timed = self.said.model_copy(update={"seconds": None}) if self.reps is None else self.said
            words += performed_words(timed)
        return ", ".join(filter(None, [*words, self.set_up]))


@dataclass(frozen=True, slots=True)
class Activity:
    """What one person did in one class.

    `seconds` count from `began_at`, each with a heart rate in `bpm`; both are empty where nothing was recorded.
    `energy` names the method by which `kcal` was computed.
    """

    person: str
    name: str
    began_at: datetime
    length_s: float
    laps: list[Lap]
    sets: list[ActivitySet]
    kcal: float
    energy: str
    seconds: list[float] = field(default_factory=list)
    bpm: list[int] = field(default_factory=list)

    def moment(self, second: float) -> datetime:
        """The time of day at a second of the class."""
        return self.began_at + timedelta(seconds=second)


Placed = tuple[HeartSeries, float]
"""A recording, and when its first reading was made, in seconds since the class began."""


def activities_of(
    file: ClassFile,
    events: Sequence[Event],
    run_state: RunState,
    began_at: datetime,
    hearts: Mapping[str, Placed],
    laps_at: LapsAt = "blocks",
) -> dict[str, Activity]:
    """Everybody's activity by id, from a class that is over; the forecast of what actually was gives the energy."""
    real = actual_class(file, run_state)
    predicted = forecast(real.file, real.timeline)
    log = log_of(file, events, run_state)
    length_s = real.timeline.length_s
    found = {}
    for index, person in enumerate(predicted.people):
        rows = [row for row in log if row.person == person.id and row.written != "not written"]
        rate = _rates(*hearts[person.id], length_s) if person.id in hearts else ([], [])
        kcal_at = _energy_at(person, predicted.kcal_sample_s, length_s)
        path = real.timeline.paths[index]
        pieces = _blocks(real) if laps_at == "blocks" else _stations(real, path)
        found[person.id] = Activity(
            person=person.name,
            name=file.plan.name,
            began_at=began_at,
            length_s=length_s,
            laps=[_lap(name, start, end, kcal_at, rate) for name, start, end in pieces],
            sets=[each_set for row in rows for each_set in _sets(file, row, path, real, began_at)],
            kcal=person.figures.energy.value,
            energy=methods()[person.figures.energy.method].name,
            seconds=rate[0],
            bpm=rate[1],
        )
    return found


def _blocks(real: Actual) -> Iterator[tuple[str, float, float]]:
    spans = real.timeline.blocks
    for at, (span, block) in enumerate(zip(spans, real.file.plan.blocks, strict=True)):
        # the way to the next block belongs to the one before it: laps leave no gap
        end = spans[at + 1].start_s if at + 1 < len(spans) else max(span.end_s, real.timeline.length_s)
        if end > span.start_s:
            yield block.name, span.start_s, end


def _stations(real: Actual, path: Sequence[Step]) -> Iterator[tuple[str, float, float]]:
    """Each exercise somebody goes to, until they go to the next."""
    turns: list[tuple[str, float]] = []
    last: tuple[int, int] | None = None
    for step in path:
        if step.doing is Doing.WORK and step.slot >= 0 and (step.slot, step.block) != last:
            turns.append((real.timeline.slots[step.slot].exercise.name, step.start_s if turns else 0.0))
            last = (step.slot, step.block)
    ends = [start for _, start in turns[1:]] + [real.timeline.length_s]
    for (name, start), end in zip(turns, ends, strict=True):
        if end > start:
            yield name, start, end


class _EnergyAt:
    """Energy until a second, in kcal."""

    def __init__(self, at: list[float], kcal: list[float]) -> None:
        self._at, self._kcal = at, kcal

    def between(self, start: float, end: float) -> float:
        first, last = np.interp([start, end], self._at, self._kcal)
        return float(last - first)


def _energy_at(person: PersonForecast, every_s: float, length_s: float) -> _EnergyAt:
    at = [min(index * every_s, length_s) for index in range(len(person.kcal))]
    return _EnergyAt(at, person.kcal)


def _rates(series: HeartSeries, offset_s: float, length_s: float) -> tuple[list[float], list[int]]:
    """The readings that fall into the class and are heart rates."""
    at = series.seconds + offset_s
    there = (at >= 0) & (at <= length_s) & (series.bpm >= LEAST_BPM) & (series.bpm <= MOST_BPM)
    return at[there].round(1).tolist(), [round(rate) for rate in series.bpm[there].tolist()]


def _lap(name: str, start: float, end: float, kcal: _EnergyAt, rate: tuple[list[float], list[int]]) -> Lap:
    inside = [bpm for second, bpm in zip(*rate, strict=True) if start <= second < end]
    mean = sum(inside) / len(inside) if inside else None
    return Lap(name, start, end, kcal.between(start, end), mean, max(inside, default=None))


def _sets(
    file: ClassFile, row: LogRow, path: Sequence[Step], real: Actual, began_at: datetime
) -> Iterator[ActivitySet]:
    """One set, or one a side, each part of it by itself; a set that nobody planned stands where it was written down."""
    known = file.catalogue().exercises
    units = {unit.id: unit for unit in file.room.units}
    if row.exercise not in known:
        return
    span = _when(row, path, real) or _when_written(row, known[row.exercise], real.timeline.length_s, began_at)
    if span is None:
        return
    for done in row.done or (None,):
        start_s, seconds = span
        if done is not None and done.seconds:
            seconds = done.seconds
        stretches = stretches_of(row, done)
        counted = all(stretch.reps for stretch in stretches)
        every = sum(stretch.reps or 0 for stretch in stretches)
        for part, stretch in enumerate(stretches, 1):
            share = (stretch.reps or 0) / every if counted and every else 1 / len(stretches)
            took = seconds * share
            if stretch.said is not None and stretch.said.seconds:
                took = stretch.said.seconds
            # what somebody wrote stands as it is; what was planned is what could be set
            written = stretch.said is not None and stretch.said.load_kg is not None
            set_kg = None if written else load_as_set(file, known[row.exercise], units.get(row.unit), stretch.load_kg)
            yield ActivitySet(
                exercise=known[row.exercise].name,
                start_s=start_s,
                seconds=took,
                reps=stretch.reps,
                load_kg=stretch.load_kg if written else set_kg,
                number=row.number,
                part=part,
                side=None if done is None else done.side,
                said=stretch.said,
                set_up="" if done is None or done.set_up is None else str(done.set_up),
            )
            start_s += took


def _when_written(row: LogRow, exercise: Exercise, length_s: float, began_at: datetime) -> tuple[float, float] | None:
    """When a set that nobody planned was over, as far as is known: when it was written down, at the latest at the end
    of the class. It took what was written of it, or what its repetitions take in the exercise's own tempo."""
    if not row.done:
        return None
    first = min(row.done, key=lambda done: done.happened_at)
    counts = [stretch.reps or 0 for stretch in stretches_of(row, first)]
    took = first.seconds or sum(counts) * exercise.tempo.rep_s
    ended = min(length_s, max(took, (first.happened_at - began_at).total_seconds()))
    return (max(0.0, ended - took), took) if took > 0 else None


def _when(row: LogRow, path: Sequence[Step], real: Actual) -> tuple[float, float] | None:
    """When a set really began and how long its work took; the row's number counts the sets of its part."""
    number, start, seconds = 0, 0.0, 0.0
    for step in path:
        if step.doing is not Doing.WORK or step.slot < 0 or real.timeline.slots[step.slot].id != row.part:
            continue
        if step.opens_set:
            number += 1
            if number > row.number:
                break
            start, seconds = step.start_s, 0.0
        if number == row.number:
            seconds += step.end_s - step.start_s
    return (start, seconds) if number >= row.number and seconds > 0 else None
