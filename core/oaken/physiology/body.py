"""From what is known of a person to a heart profile with its likely range."""

from __future__ import annotations

from dataclasses import dataclass

from oaken.estimate import Estimate
from oaken.people import Person
from oaken.physiology.heart_rate import (
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


@dataclass(frozen=True, slots=True)
class Body:
    """A person's likely heart, with the slowest and the fastest heart that are still likely."""

    likely: HeartProfile
    slow: HeartProfile
    fast: HeartProfile
    max_bpm: Estimate
    vo2max: Estimate


def body_of(person: Person) -> Body:
    """Measured values where there are any, estimates with their range elsewhere."""
    rest = float(person.resting_bpm or RESTING_BPM_UNKNOWN)
    rest_words = f"resting {rest:.0f} bpm" + ("" if person.resting_bpm else " (assumed)")
    if person.max_bpm is not None:
        top, spread = float(person.max_bpm), 3.0
        maximum = Estimate.between(top, top - spread, top + spread, "bpm", "heart.max.measured")
    else:
        top, spread = max_bpm_tanaka(person.age), MAXIMUM_SD_BPM
        maximum = Estimate.between(
            top,
            top - spread,
            top + spread,
            "bpm",
            "heart.max.tanaka",
            [f"age {person.age} years", f"by other formulas: {_other_maxima(person)}"],
        )
    if person.vo2max is not None:
        uptake = Estimate.within(person.vo2max, 0.05, "mL/kg/min", "heart.vo2max.measured")
    else:
        uptake = Estimate.within(
            vo2max_uth(top, rest), 0.15, "mL/kg/min", "heart.vo2max.uth", [f"maximum {top:.0f} bpm", rest_words]
        )
    return Body(
        likely=HeartProfile.of(rest, top, uptake.value),
        slow=HeartProfile.of(rest, maximum.low, uptake.high),
        fast=HeartProfile.of(rest, maximum.high, uptake.low),
        max_bpm=maximum,
        vo2max=uptake,
    )


def _other_maxima(person: Person) -> str:
    """What the other schools' formulas give at this age, in words."""
    schools = {"Gellish": max_bpm_gellish, "Fox": max_bpm_fox, "Nes": max_bpm_nes}
    if person.sex != "male":
        schools["Gulati (women)"] = max_bpm_gulati
    return ", ".join(f"{name} {formula(person.age):.0f}" for name, formula in schools.items()) + " bpm"
