"""From what is known of a person to a heart profile with its likely range."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace

from oaken.basis.estimate import Estimate
from oaken.people import HeartFit, MaximumFormula, Person
from oaken.physiology.heart_rate import (
    DRIFT_PER_HOUR,
    MAXIMUM_SD_BPM,
    RESTING_BPM_UNKNOWN,
    HeartProfile,
    max_bpm_fox,
    max_bpm_gellish,
    max_bpm_gulati,
    max_bpm_nes,
    max_bpm_tanaka,
    vo2max_uth,
)

MAXIMUM_FORMULAS: dict[MaximumFormula, Callable[[float], float]] = {
    "tanaka": max_bpm_tanaka,
    "gellish": max_bpm_gellish,
    "fox": max_bpm_fox,
    "nes": max_bpm_nes,
    "gulati": max_bpm_gulati,
}
FORMULA_NAMES: dict[MaximumFormula, str] = {
    "tanaka": "Tanaka",
    "gellish": "Gellish",
    "fox": "Fox",
    "nes": "Nes",
    "gulati": "Gulati (women)",
}

KINETICS_SPREAD = 1.25
"""Time constants of one person lie within this factor of the usual ones (common practice, no source)."""

FITTED_GAIN_SPREAD = 0.05
"""From day to day the answer of a heart that was calibrated varies by about this (common practice, no source)."""


@dataclass(frozen=True, slots=True)
class Body:
    """A person's likely heart, with the slowest and the fastest heart that are still likely.

    `fitted` tells whether the person's own recordings went in.
    """

    likely: HeartProfile
    slow: HeartProfile
    fast: HeartProfile
    rest_bpm: Estimate
    max_bpm: Estimate
    vo2max: Estimate
    fitted: bool


def body_of(person: Person, drift_per_hour: float = DRIFT_PER_HOUR) -> Body:
    """Measured values where there are any, estimates with their range elsewhere; what was fitted to the person's own
    recordings before both, as long as it belongs to the same body data."""
    maximum, uptake = _maximum(person), uptake_of(person)
    fit = person.heart_fit
    if fit is not None and not fit_applies(fit, maximum.value, uptake.value):
        fit = None
    rest = float(person.resting_bpm or RESTING_BPM_UNKNOWN)
    usual = replace(HeartProfile.of(rest, maximum.value, uptake.value), drift_per_hour=drift_per_hour)
    if fit is None:
        slow = replace(HeartProfile.of(rest, maximum.low, uptake.high), drift_per_hour=drift_per_hour)
        fast = replace(HeartProfile.of(rest, maximum.high, uptake.low), drift_per_hour=drift_per_hour)
        spread = KINETICS_SPREAD
    else:
        usual = replace(usual, level_bpm=fit.level_bpm, gain=fit.gain, rise_s=fit.rise_s, fall_s=fit.fall_s)
        spread = 1 + (KINETICS_SPREAD - 1) / 2
        # what the last forecast missed by is what this one may miss by
        apart = FITTED_GAIN_SPREAD + 2 * fit.error_bpm / (fit.max_bpm - fit.level_bpm)
        slow, fast = replace(usual, gain=fit.gain * (1 - apart)), replace(usual, gain=fit.gain * (1 + apart))
    return Body(
        likely=usual,
        slow=replace(slow, rise_s=slow.rise_s * spread, fall_s=slow.fall_s / spread),
        fast=replace(fast, rise_s=fast.rise_s / spread, fall_s=fast.fall_s * spread),
        rest_bpm=_resting(person),
        max_bpm=maximum,
        vo2max=uptake,
        fitted=fit is not None,
    )


def fit_applies(fit: HeartFit, max_bpm: float, vo2max: float) -> bool:
    """Whether a calibration was made with this body data."""
    return abs(fit.max_bpm - max_bpm) < 0.5 and abs(fit.vo2max - vo2max) < 0.5


def _resting(person: Person) -> Estimate:
    if person.resting_bpm is not None:
        rest = float(person.resting_bpm)
        return Estimate.between(rest, rest - 3, rest + 3, "bpm", "heart.rest.measured")
    return Estimate.between(RESTING_BPM_UNKNOWN, 50, 80, "bpm", "heart.rest.assumed")


def _maximum(person: Person) -> Estimate:
    if person.max_bpm is not None:
        top = float(person.max_bpm)
        return Estimate.between(top, top - 3, top + 3, "bpm", "heart.max.measured")
    top = MAXIMUM_FORMULAS[person.max_formula](person.age)
    return Estimate.between(
        top,
        top - MAXIMUM_SD_BPM,
        top + MAXIMUM_SD_BPM,
        "bpm",
        f"heart.max.{person.max_formula}",
        [f"age {person.age} years", f"by other formulas: {_other_maxima(person)}"],
    )


def uptake_of(person: Person) -> Estimate:
    """Maximal uptake, measured or from the ratio of heart rates, mL/kg/min."""
    if person.vo2max is not None:
        return Estimate.within(person.vo2max, 0.05, "mL/kg/min", "heart.vo2max.measured")
    top, rest = _maximum(person).value, float(person.resting_bpm or RESTING_BPM_UNKNOWN)
    inputs = [f"maximum {top:.0f} bpm", f"resting {rest:.0f} bpm" + ("" if person.resting_bpm else " (assumed)")]
    return Estimate.within(vo2max_uth(top, rest), 0.15, "mL/kg/min", "heart.vo2max.uth", inputs)


def _other_maxima(person: Person) -> str:
    """What the other schools' formulas give at this age, in words."""
    others = [
        f"{FORMULA_NAMES[name]} {formula(person.age):.0f}"
        for name, formula in MAXIMUM_FORMULAS.items()
        if name != person.max_formula and not (name == "gulati" and person.sex == "male")
    ]
    return ", ".join(others) + " bpm"
