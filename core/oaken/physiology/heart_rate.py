"""Maximum, reserve, and the heart's answer to a stepwise demand in closed form."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import TypeVar

import numpy as np
import numpy.typing as npt

Floats = npt.NDArray[np.float64]
Value = TypeVar("Value", float, Floats)

MAXIMUM_SD_BPM = 10.0
"""Standard deviation of a single person around any age formula, about 10 bpm (Tanaka 2001, from memory)."""

RESTING_BPM_UNKNOWN = 65.0
"""Assumed resting rate when none was measured (common practice, no source)."""

DRIFT_PER_HOUR = 0.10
"""Slow rise of the heart rate in an hour at DRIFT_AT of the reserve, as a share of the demand (that it rises: Coyle &
González-Alonso 2001, from memory; its size: common practice, no source)."""

DRIFT_FROM, DRIFT_AT = 0.50, 0.75
"""Shares of the reserve below which nothing drifts, and at which DRIFT_PER_HOUR holds; linear between and beyond.
Chosen by error on unseen parts of recordings (docs/evidence.md)."""

CARRY_SHARE, CARRY_S = 0.13, 600.0
"""The share of the answer that follows a demand only slowly, and its time constant: what was done ten minutes ago is
still in the heart. Chosen likewise."""

KNEE, KNEE_SLOPE = 0.85, 0.5
"""The share of the reserve from which a demand adds less, and how much of it it adds: the heart flattens near its
maximum (the deflection of Conconi 1982, from memory; place and slope chosen likewise)."""

LONGEST_STRETCH_S = 60.0
"""Drift and carry-over are read once a stretch, so longer stretches of constant demand are cut."""


def max_bpm_tanaka(age: float) -> float:
    """Maximum heart rate, bpm: 208 − 0.7·age (Tanaka, Monahan & Seals 2001). The default. 40 y → 180."""
    return 208 - 0.7 * age


def max_bpm_gellish(age: float) -> float:
    """Maximum heart rate, bpm: 207 − 0.7·age (Gellish 2007). 40 y → 179."""
    return 207 - 0.7 * age


def max_bpm_fox(age: float) -> float:
    """Maximum heart rate, bpm: 220 − age (Fox 1971). 40 y → 180."""
    return 220 - age


def max_bpm_nes(age: float) -> float:
    """Maximum heart rate, bpm: 211 − 0.64·age (Nes 2013). 40 y → 185.4."""
    return 211 - 0.64 * age


def max_bpm_gulati(age: float) -> float:
    """Maximum heart rate of women, bpm: 206 − 0.88·age (Gulati 2010). 40 y → 170.8."""
    return 206 - 0.88 * age


def target_bpm(fraction: Value, rest_bpm: Value | float, max_bpm: Value | float) -> Value:
    """Heart rate at a fraction of the reserve: rest + f·(max − rest) (Karvonen 1957). 0.6, 60, 180 → 132."""
    return rest_bpm + fraction * (max_bpm - rest_bpm)


def vo2max_uth(max_bpm: float, rest_bpm: float) -> float:
    """Maximal oxygen uptake, mL/kg/min: 15.3 × HRmax ÷ HRrest (Uth 2004), made on well-trained men. 185, 60 → 47.2."""
    return 15.3 * max_bpm / rest_bpm


REFERENCE_ERROR = 7.2
"""Standard error of a single person around the reference equation, mL/kg/min (Myers 2017, from memory)."""

KG_IN_POUNDS = 2.20462


def vo2max_reference(age: float, body_mass_kg: float, female: float) -> float:
    """Maximal oxygen uptake, mL/kg/min, by age, sex and mass: 79.9 − 0.39·age − 13.7·female − 0.127·pounds (treadmill
    registry, Myers 2017, from memory), not below LEAST_UPTAKE. `female` is 1, 0, or 0.5 where the sex is not given.
    A woman of 65 with 70 kg → 21.3, a man of 40 with 75 kg → 43.3."""
    return max(LEAST_UPTAKE, 79.9 - 0.39 * age - 13.7 * female - 0.127 * KG_IN_POUNDS * body_mass_kg)


LEAST_UPTAKE = 12.0
"""mL/kg/min below which nobody who walks up stairs lies (common practice, no source)."""


@dataclass(frozen=True, slots=True)
class Warmth:
    """What the air of a day does to a heart: the hourly rise of hard work as a share of the demand, and what it adds at
    once, in bpm."""

    drift_per_hour: float = DRIFT_PER_HOUR
    at_once_bpm: float = 0.0


COOL = Warmth()


def uptake_reserve_share(met: Value, vo2max: Value | float) -> Value:
    """Share of the oxygen-uptake reserve that a demand in MET asks for; equals the share of heart-rate reserve in
    rhythmic work (Swain & Leutholtz 1997)."""
    return (met * 3.5 - 3.5) / (vo2max - 3.5)


@dataclass(frozen=True, slots=True)
class HeartProfile:
    """One heart: resting and maximum rate in bpm, maximal uptake in mL/kg/min, time constants in s.

    `gain` is its answer to a demand compared with the usual one, `drift_per_hour` the slow rise of a hard demand as a
    share of it. `offset_bpm` is added wherever the heart aims: warm air, or an end of a range. `level_bpm` is the level
    in class: where the rate would settle without any demand, between tasks and among people; None is the resting rate.
    Shares of the reserve are always counted from `rest_bpm`.
    """

    rest_bpm: float
    max_bpm: float
    vo2max: float
    rise_s: float
    fall_s: float
    gain: float = 1.0
    drift_per_hour: float = DRIFT_PER_HOUR
    level_bpm: float | None = None
    offset_bpm: float = 0.0

    @property
    def level_share(self) -> float:
        """The level in class as a share of the reserve above rest."""
        return 0.0 if self.level_bpm is None else (self.level_bpm - self.rest_bpm) / (self.max_bpm - self.rest_bpm)

    @property
    def offset_share(self) -> float:
        """What is added to every aim, as a share of the reserve."""
        return self.offset_bpm / (self.max_bpm - self.rest_bpm)

    @property
    def answer(self) -> float:
        """Share of the reserve that a demand of 1 adds to the level in class."""
        return self.gain * (1.0 - self.level_share)

    @classmethod
    def of(cls, rest_bpm: float, max_bpm: float, vo2max: float) -> HeartProfile:
        """Profile with time constants from fitness: rise 30–60 s, fall 60–120 s, both slower when less fit
        (common practice, no source; 40 s and 90 s at 45 mL/kg/min)."""
        slower = (45 / vo2max) ** 0.5
        return cls(rest_bpm, max_bpm, vo2max, min(60.0, max(30.0, 40 * slower)), min(120.0, max(60.0, 90 * slower)))


@dataclass(frozen=True, slots=True)
class Stretches:
    """Stretches of constant demand of one or more paths, none longer than LONGEST_STRETCH_S.

    `step` is the step each was cut from, `first` the index of every path's first stretch.
    """

    start_s: Floats
    duration_s: Floats
    step: npt.NDArray[np.int64]
    first: npt.NDArray[np.int64]

    @classmethod
    def cut(cls, start_s: Floats, end_s: Floats, first: npt.NDArray[np.int64] | None = None) -> Stretches:
        """Cut gap-free steps into stretches; `first` is the index of every path's first step (one path: 0)."""
        pieces = np.maximum(np.ceil((end_s - start_s) / LONGEST_STRETCH_S), 1).astype(np.int64)
        before = np.cumsum(pieces) - pieces
        step = np.repeat(np.arange(start_s.size), pieces)
        piece = np.arange(step.size) - before[step]
        length = ((end_s - start_s) / pieces)[step]
        start = start_s[step] + piece * length
        firsts = before[first] if first is not None else np.zeros(1, dtype=np.int64)
        return cls(start, length, step, firsts)

    @property
    def path(self) -> npt.NDArray[np.int64]:
        """The path of every stretch."""
        return np.repeat(np.arange(self.first.size), np.diff(np.append(self.first, self.start_s.size)))

    def moments(self, seconds: Floats) -> Moments:
        """These seconds since the start, in rising order, as they fall into the stretches of every path."""
        begin = np.searchsorted(seconds, self.start_s, "left")
        begin[self.first] = 0
        until = np.append(begin[1:], seconds.size)
        until[self.first[1:] - 1] = seconds.size
        counts = until - begin
        return Moments(counts, np.repeat(self.start_s, counts) - np.tile(seconds, self.first.size))


@dataclass(frozen=True, slots=True)
class Moments:
    """Seconds at which curves over the same stretches are read: how many fall into each stretch, and the seconds
    since its start (negative), path after path."""

    counts: npt.NDArray[np.int64]
    minus_elapsed_s: Floats


@dataclass(frozen=True, slots=True)
class ReserveCurve:
    """Fraction of the heart-rate reserve over time: within each stretch an exponential towards `target`."""

    stretches: Stretches
    opening: Floats
    target: Floats
    tau_s: Floats

    def at(self, moments: Moments) -> Floats:
        """Fractions at these moments of the curve's stretches, path after path."""
        counts = moments.counts
        decay = np.exp(moments.minus_elapsed_s * np.repeat(1 / self.tau_s, counts))
        return np.asarray(
            np.repeat(self.target, counts) + np.repeat(self.opening - self.target, counts) * decay, dtype=np.float64
        )


def reserve_curves(
    stretches: Stretches,
    demands: Sequence[Floats],
    profiles: Sequence[Sequence[HeartProfile]],
    first: float | Floats = 0.0,
) -> list[ReserveCurve]:
    """First-order answers to stepwise demands (fraction of reserve of each step): faster up than down.

    `profiles[v][p]` is the heart of path p in variant v, which has `demands[v]`. Each stretch of constant demand has a
    closed form, so nothing is stepped second by second; the stretches of all paths are walked through side by side.
    A heart aims at its level in class plus its answer to the demand, of which a part follows slowly (CARRY_SHARE), a
    long time of hard work makes more (DRIFT_PER_HOUR), and near the maximum less counts (KNEE). It begins at `first`
    (0: at rest; a number for all, or one a variant and path). What would lie above the maximum, or below rest, is held
    at it: the curve stays within 0–1 for any plan.
    """
    path = stretches.path
    place = np.arange(path.size) - stretches.first[path]
    shape = (int(place.max()) + 1, len(profiles), stretches.first.size)
    duration = np.zeros((shape[0], 1, shape[2]))
    duration[place, 0, path] = stretches.duration_s
    wanted, rises, falls = np.zeros(shape), np.ones(shape), np.ones(shape)
    taus = []
    for variant, (demand, own) in enumerate(zip(demands, profiles, strict=True)):
        rise_s, fall_s = np.array([(item.rise_s, item.fall_s) for item in own])[path].T
        wanted[place, variant, path] = demand[stretches.step]
        rises[place, variant, path] = np.exp(-stretches.duration_s / rise_s)
        falls[place, variant, path] = np.exp(-stretches.duration_s / fall_s)
        taus.append((rise_s, fall_s))
    columns = [
        [(item.level_share + item.offset_share, item.answer, item.drift_per_hour) for item in own] for own in profiles
    ]
    level, answer, drift = np.moveaxis(np.array(columns), 2, 0)
    # for each hour times share of the reserve above DRIFT_FROM
    drift = drift / (DRIFT_AT - DRIFT_FROM)
    half, whole = np.exp(-duration / 2 / CARRY_S), np.exp(-duration / CARRY_S)
    aims, openings = np.empty(shape), np.empty(shape)
    now, carried, hard = (
        np.array(np.broadcast_to(first, shape[1:]), dtype=np.float64),
        np.zeros(shape[1:]),
        np.zeros(shape[1:]),
    )
    for turn in range(shape[0]):
        asked, hours = wanted[turn], duration[turn] / 3600
        behind = carried - asked
        felt = asked + CARRY_SHARE * behind * half[turn]
        aim = level + answer * felt * (1 + drift * hard)
        aim = np.clip(np.where(aim > KNEE, KNEE + KNEE_SLOPE * (aim - KNEE), aim), 0.0, 1.0)
        openings[turn], aims[turn] = now, aim
        gap = now - aim
        now = aim + gap * np.where(gap < 0, rises[turn], falls[turn])
        carried = asked + behind * whole[turn]
        hard = hard + np.maximum(aim - DRIFT_FROM, 0.0) * hours
    curves = []
    for variant, (rise_s, fall_s) in enumerate(taus):
        opening, target = openings[place, variant, path], aims[place, variant, path]
        curves.append(ReserveCurve(stretches, opening, target, np.where(target > opening, rise_s, fall_s)))
    return curves
