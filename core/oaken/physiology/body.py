"""From what is known of a person to a heart profile with its likely range."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace

from oaken.basis.estimate import Estimate
from oaken.basis.words import in_kg
from oaken.domain.people import HeartFit, MaximumFormula, Person
from oaken.physiology.heart_rate import (
    COOL,
    LEAST_UPTAKE,
    MAXIMUM_SD_BPM,
    REFERENCE_ERROR,
    RESTING_BPM_UNKNOWN,
    HeartProfile,
    Warmth,
    max_bpm_fox,
    max_bpm_gellish,
    max_bpm_gulati,
    max_bpm_nes,
    max_bpm_tanaka,
    vo2max_reference,
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

NINE_IN_TEN = 2.06
"""Mean errors on each side within which nine of ten readings lie: 1.645 standard deviations, each 1.253 mean errors
(normal distribution)."""

LEAST_ERROR_BPM = 3.0
"""No fit is better from day to day than this mean error (common practice, no source)."""


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


def body_of(person: Person, air: Warmth = COOL) -> Body:
    """Measured values where there are any, estimates with their range elsewhere; what was fitted to the person's own
    recordings before both, as long as it belongs to the same body data. The slowest and the fastest heart hold nine of
    ten readings of a fitted heart between them."""
    maximum, uptake = _maximum(person), uptake_of(person)
    fit = person.heart_fit
    if fit is not None and not fit_applies(fit, maximum.value, uptake.value):
        fit = None
    rest = float(person.resting_bpm or RESTING_BPM_UNKNOWN)

    def heart(maximum: float, uptake: float) -> HeartProfile:
        own = HeartProfile.of(rest, maximum, uptake)
        return replace(own, drift_per_hour=air.drift_per_hour, offset_bpm=air.at_once_bpm)

    usual = heart(maximum.value, uptake.value)
    if fit is None:
        slow, fast = heart(maximum.low, uptake.high), heart(maximum.high, uptake.low)
        spread = KINETICS_SPREAD
    else:
        usual = replace(usual, level_bpm=fit.level_bpm, gain=fit.gain, rise_s=fit.rise_s, fall_s=fit.fall_s)
        spread = 1 + (KINETICS_SPREAD - 1) / 2
        # what the last forecast missed by is what this one may miss by
        apart = NINE_IN_TEN * max(LEAST_ERROR_BPM, fit.error_bpm)
        slow = replace(usual, offset_bpm=usual.offset_bpm - apart)
        fast = replace(usual, offset_bpm=usual.offset_bpm + apart)
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
    """Maximal uptake, mL/kg/min: measured; by the ratio of heart rates for the trained whose resting rate is known, on
    whom that ratio was made; by age, sex and mass for everybody else."""
    if person.vo2max is not None:
        return Estimate.within(person.vo2max, 0.05, "mL/kg/min", "heart.vo2max.measured")
    if person.resting_bpm is not None and person.level == "advanced":
        top, rest = _maximum(person).value, float(person.resting_bpm)
        inputs = [f"maximum {top:.0f} bpm", f"resting {rest:.0f} bpm"]
        return Estimate.within(vo2max_uth(top, rest), 0.15, "mL/kg/min", "heart.vo2max.uth", inputs)
    female = {"female": 1.0, "male": 0.0, None: 0.5}[person.sex]
    likely = vo2max_reference(person.age, person.body_mass_kg, female)
    return Estimate.between(
        likely,
        max(LEAST_UPTAKE, likely - REFERENCE_ERROR),
        likely + REFERENCE_ERROR,
        "mL/kg/min",
        "heart.vo2max.reference",
        [f"age {person.age} years", person.sex or "sex not given: the middle", in_kg(person.body_mass_kg)],
    )


def _other_maxima(person: Person) -> str:
    """What the other schools' formulas give at this age, in words."""
    others = [
        f"{FORMULA_NAMES[name]} {formula(person.age):.0f}"
        for name, formula in MAXIMUM_FORMULAS.items()
        if name != person.max_formula and not (name == "gulati" and person.sex == "male")
    ]
    return ", ".join(others) + " bpm"
