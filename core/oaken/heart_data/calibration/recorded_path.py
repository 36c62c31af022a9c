"""A recording laid over the path that the person took through a class."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np
from pydantic import BaseModel

from oaken.basis.faults import FaultyInput, faults_in
from oaken.domain.people import Person
from oaken.forecast.workload import carry_out
from oaken.heart_data.recordings import HeartSeries, cleaned
from oaken.physiology.body import body_of
from oaken.physiology.heart_rate import (
    Floats,
    HeartProfile,
    ReserveCurve,
    Stretches,
    Warmth,
    reserve_curves,
    target_bpm,
    uptake_reserve_share,
)
from oaken.schedule.class_file import ClassFile
from oaken.schedule.timeline import Timeline

EVERY_S = 5.0
"""Readings are averaged over stretches of this length: breathing and rounding are no matter of the class."""

MOST_SHIFT_S, SHIFT_STEP_S = 600, 5

LEAST_LIKENESS = 0.6
"""Below this likeness (correlation times the root of the share that overlaps) a recording fits nowhere."""


@dataclass(frozen=True, slots=True)
class RecordedPath:
    """What one person did in one class, and what their heart did meanwhile.

    `met` and `pressor` are the demand of each step of the path, `warmth` what that day's air does to a heart;
    `seconds` since the class began, and `bpm`, are the averaged readings. `notes` say what was taken out of them.
    `opening_bpm` is the rate at which the path begins, None at rest; `offset_s` is when the first reading was made, in
    seconds since the class began, as it was told or found.
    """

    stretches: Stretches
    met: Floats
    pressor: Floats
    warmth: Warmth
    seconds: Floats
    bpm: Floats
    notes: list[str]
    opening_bpm: float | None = None
    offset_s: float = 0.0

    def demand(self, vo2max: float) -> Floats:
        """Demand of each step as a share of the reserve, for a maximal uptake in mL/kg/min."""
        return np.asarray(uptake_reserve_share(self.met, vo2max) + self.pressor)

    def rates(self, profiles: list[HeartProfile], seconds: Floats | None = None) -> list[Floats]:
        """Heart rates in bpm that these hearts would show at the readings' (or other) seconds."""
        curves = self._curves(profiles)
        moments = self.stretches.moments(self.seconds if seconds is None else seconds)
        return [
            np.asarray(target_bpm(curve.at(moments), each_curve.rest_bpm, each_curve.max_bpm))
            for curve, each_curve in zip(curves, profiles, strict=True)
        ]

    def _curves(self, profiles: list[HeartProfile]) -> list[ReserveCurve]:
        air = self.warmth
        own = [replace(profile, drift_per_hour=air.drift_per_hour, offset_bpm=air.at_once_bpm) for profile in profiles]
        opening = self.opening_bpm
        first = [
            [0.0 if opening is None else (opening - item.rest_bpm) / (item.max_bpm - item.rest_bpm)] for item in own
        ]
        demands = [self.demand(item.vo2max) for item in own]
        return reserve_curves(self.stretches, demands, [[item] for item in own], np.clip(first, 0.0, 1.0))


def recorded_path(
    file: ClassFile, person: str, series: HeartSeries, offset_s: float | None, timeline: Timeline | None = None
) -> RecordedPath:
    """The recording of a person over their path through a class.

    `offset_s` is when the first reading was made, in seconds since the class began (negative: before). None looks for
    the shift at which the recording fits the forecast best. `timeline` has the actual steps; without it they
    are the plan's. Raises FaultyInput where the person is not in the class, the recording does not overlap it, or it
    fits nowhere.
    """
    if person not in file.plan.people:
        raise _faulty(f"{person!r} is not among the people of this class", "somebody who was there")
    carried = carry_out(file, timeline)
    workload = carried.workload
    steps = workload.of(file.plan.people.index(person))
    stretches = Stretches.cut(workload.start_s[steps], workload.end_s[steps])
    clean = cleaned(series)
    length_s = float(workload.end_s.max())
    one = next(each for each in file.people if each.id == person)
    taken = RecordedPath(
        stretches,
        workload.met[steps],
        workload.pressor[steps],
        carried.warmth,
        clean.seconds,
        clean.bpm,
        clean.words,
    )
    if offset_s is None:
        offset_s = _likely_offset(taken, one, length_s)
        taken.notes.append(f"laid at {offset_s:.0f} s of the class, where it fits best")
    inside = (clean.seconds + offset_s >= 0) & (clean.seconds + offset_s < length_s)
    if not np.any(inside):
        raise _faulty("does not overlap the class", f"readings between 0 and {length_s / 60:.0f} min of it")
    seconds, bpm = averaged(clean.seconds[inside] + offset_s, clean.bpm[inside])
    if offset_s > 30:
        taken.notes.append(f"the belt was put on after {offset_s / 60:.1f} min")
    return replace(taken, seconds=seconds, bpm=bpm, offset_s=offset_s)


def averaged(seconds: Floats, bpm: Floats) -> tuple[Floats, Floats]:
    """Means over stretches of EVERY_S that have readings, at the mean of their seconds."""
    _, into, counts = np.unique(np.floor(seconds / EVERY_S), return_inverse=True, return_counts=True)
    return np.bincount(into, seconds) / counts, np.bincount(into, bpm) / counts


def _likely_offset(taken: RecordedPath, person: Person, length_s: float) -> float:
    """The shift at which a straight line through the forecast explains the readings best."""
    every = np.arange(0.0, length_s, EVERY_S)
    (curve,) = taken.rates([body_of(person.model_copy(update={"heart_fit": None})).likely], every)
    seconds, bpm = averaged(taken.seconds, taken.bpm)
    earliest = max(-MOST_SHIFT_S, -float(seconds[-1]) + 60)
    best, found = -1.0, 0.0
    for shift in np.arange(earliest, min(MOST_SHIFT_S, length_s - 60) + 1, SHIFT_STEP_S):
        inside = (seconds + shift >= 0) & (seconds + shift < length_s)
        if np.count_nonzero(inside) < 0.5 * min(seconds.size, every.size):
            continue
        there = np.interp(seconds[inside] + shift, every, curve)
        if there.std() < 1e-6 or bpm[inside].std() < 1e-6:
            continue
        likeness = float(np.corrcoef(there, bpm[inside])[0, 1]) * np.sqrt(np.count_nonzero(inside) / seconds.size)
        if likeness > best:
            best, found = likeness, float(shift)
    if best < LEAST_LIKENESS:
        raise _faulty(
            f"fits this class nowhere: a likeness of {max(0.0, best):.2f} at best",
            f"a likeness of {LEAST_LIKENESS:g}, or the time at which the recording began",
        )
    return found


class Compared(BaseModel):
    """A forecast beside what was recorded: mean error and bias (forecast − recorded) in bpm, and both curves, every
    `every_s` seconds; None where nothing was recorded."""

    error_bpm: float
    bias_bpm: float
    minutes: float
    every_s: int
    forecast: list[float]
    recorded: list[float | None]
    notes: list[str]


COMPARED_EVERY_S = 15


def compared(taken: RecordedPath, profile: HeartProfile) -> Compared:
    """How well a heart's forecast meets a recording."""
    (here,) = taken.rates([profile])
    miss = here - taken.bpm
    end_s = float((taken.stretches.start_s + taken.stretches.duration_s).max())
    every = np.arange(0.0, end_s, COMPARED_EVERY_S)
    (curve,) = taken.rates([profile], every)
    near = np.abs(taken.seconds[None, :] - every[:, None]) <= COMPARED_EVERY_S / 2
    counts = near.sum(axis=1)
    means = (near * taken.bpm).sum(axis=1) / np.maximum(counts, 1)
    return Compared(
        error_bpm=round(float(np.abs(miss).mean()), 1),
        bias_bpm=round(float(miss.mean()), 1),
        minutes=round(taken.seconds.size * EVERY_S / 60, 1),
        every_s=COMPARED_EVERY_S,
        forecast=np.round(curve, 1).tolist(),
        recorded=[round(float(mean), 1) if count else None for mean, count in zip(means, counts, strict=True)],
        notes=taken.notes,
    )


def _faulty(message: str, right: str) -> FaultyInput:
    return FaultyInput([faults_in("the recording")("recording", message, right)])
