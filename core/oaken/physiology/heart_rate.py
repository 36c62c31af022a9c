"""Maximum, reserve, and the heart's answer to a stepwise demand in closed form."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from math import exp
from typing import TypeVar

import numpy as np
import numpy.typing as npt

Value = TypeVar("Value", float, npt.NDArray[np.float64])

MAXIMUM_SD_BPM = 10.0
"""Standard deviation of a single person around any age formula, about 10 bpm (Tanaka 2001, from memory)."""

RESTING_BPM_UNKNOWN = 65.0
"""Assumed resting rate when none was measured (common practice, no source)."""

DRIFT_PER_HOUR = 0.10
"""Slow rise of the heart rate at the same demand, as a share of the demand (common practice, no source)."""

LONGEST_STRETCH_S = 60.0
"""Drift is read once a stretch, so longer stretches of constant demand are cut."""


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


def target_bpm(fraction: Value, rest_bpm: float, max_bpm: float) -> Value:
    """Heart rate at a fraction of the reserve: rest + f·(max − rest) (Karvonen 1957). 0.6, 60, 180 → 132."""
    return rest_bpm + fraction * (max_bpm - rest_bpm)


def vo2max_uth(max_bpm: float, rest_bpm: float) -> float:
    """Maximal oxygen uptake, mL/kg/min: 15.3 × HRmax ÷ HRrest (Uth 2004), a rough value. 185, 60 → 47.2."""
    return 15.3 * max_bpm / rest_bpm


def uptake_reserve_share(met: Value, vo2max: float) -> Value:
    """Share of the oxygen-uptake reserve that a demand in MET asks for; equals the share of heart-rate reserve in
    rhythmic work (Swain & Leutholtz 1997)."""
    return (met * 3.5 - 3.5) / (vo2max - 3.5)


@dataclass(frozen=True, slots=True)
class HeartProfile:
    """One heart: resting and maximum rate in bpm, maximal uptake in mL/kg/min, time constants in s."""

    rest_bpm: float
    max_bpm: float
    vo2max: float
    rise_s: float
    fall_s: float

    @classmethod
    def of(cls, rest_bpm: float, max_bpm: float, vo2max: float) -> HeartProfile:
        """Profile with time constants from fitness: rise 30–60 s, fall 60–120 s, both slower when less fit
        (common practice, no source; 40 s and 90 s at 45 mL/kg/min)."""
        slower = (45 / vo2max) ** 0.5
        return cls(rest_bpm, max_bpm, vo2max, min(60.0, max(30.0, 40 * slower)), min(120.0, max(60.0, 90 * slower)))


@dataclass(frozen=True, slots=True)
class ReserveCurve:
    """Fraction of the heart-rate reserve over time: within each stretch an exponential towards `target`."""

    start_s: npt.NDArray[np.float64]
    opening: npt.NDArray[np.float64]
    target: npt.NDArray[np.float64]
    tau_s: npt.NDArray[np.float64]

    def at(self, seconds: npt.NDArray[np.float64]) -> npt.NDArray[np.float64]:
        """Fractions at these seconds since the start."""
        index = np.maximum(np.searchsorted(self.start_s, seconds, "right") - 1, 0)
        decay = np.exp((self.start_s[index] - seconds) / self.tau_s[index])
        target = self.target[index]
        return np.asarray(target + (self.opening[index] - target) * decay, dtype=np.float64)


def reserve_curve(
    start_s: Sequence[float], end_s: Sequence[float], demand: Sequence[float], profile: HeartProfile, first: float = 0.0
) -> ReserveCurve:
    """First-order answer to a stepwise demand (fractions of reserve): faster up than down, plus slow drift.

    Each stretch of constant demand has a closed form, so nothing is stepped second by second. Demand above the
    maximum, or below rest, is held at it: the curve stays within 0–1 for any plan.
    """
    starts, openings, targets, taus = [], [], [], []
    now = first
    rise, fall = profile.rise_s, profile.fall_s
    for begin, end, share in zip(start_s, end_s, demand, strict=True):
        while True:
            stop = min(end, begin + LONGEST_STRETCH_S)
            target = min(1.0, max(0.0, share * (1 + DRIFT_PER_HOUR * begin / 3600)))
            tau = rise if target > now else fall
            starts.append(begin)
            openings.append(now)
            targets.append(target)
            taus.append(tau)
            now = target + (now - target) * exp((begin - stop) / tau)
            if stop >= end:
                break
            begin = stop
    return ReserveCurve(np.array(starts), np.array(openings), np.array(targets), np.array(taus))
