"""Hearts under the strain of a class: what each would count."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from oaken.people import Person
from oaken.physiology import energy, training_load
from oaken.physiology.heart_rate import Floats, HeartProfile, ReserveCurve, target_bpm
from oaken.physiology.intensity import RESERVE_LIMITS
from oaken.strain import Strain

EDGES_EVERY_S = 10
"""Spacing at which the slowest and the fastest likely heart are read: they only bound a range."""


@dataclass(frozen=True, slots=True)
class Hearts:
    """Hearts under one strain, one a row, read every `every_s` seconds along the columns.

    `step` is the step under way at each moment. Every figure gives one number a heart.
    """

    every_s: int
    profiles: list[HeartProfile]
    curves: list[ReserveCurve]
    step: npt.NDArray[np.int64]
    top_bpm: Floats
    reserve: Floats
    bpm: Floats

    @classmethod
    def under(cls, strain: Strain, profiles: list[HeartProfile], length_s: float, every_s: int = 1) -> Hearts:
        """These hearts under a strain, read in the middle of every `every_s` seconds of a class of this length."""
        moments = strain.stretches.moments(np.arange(min(every_s, length_s) / 2, length_s, every_s))
        curves = [strain.reserve(one) for one in profiles]
        reserve = np.array([curve.at(moments) for curve in curves])
        rest, top = (np.array([[value] for value in column]) for column in zip(*_limits(profiles), strict=True))
        step = np.repeat(strain.stretches.step, moments.counts)
        return cls(every_s, profiles, curves, step, top, reserve, target_bpm(reserve, rest, top))

    @property
    def mean_bpm(self) -> Floats:
        """Mean heart rate of the class."""
        return np.asarray(self.bpm.mean(axis=1))

    @property
    def peak_bpm(self) -> Floats:
        """Highest heart rate of the class."""
        return np.asarray(self.bpm.max(axis=1))

    @property
    def vigorous_min(self) -> Floats:
        """Minutes at 60 % of reserve or above."""
        return np.array([np.count_nonzero(one >= RESERVE_LIMITS[2]) for one in self.reserve]) * self.every_s / 60

    @property
    def zone_sum(self) -> Floats:
        """Zone sum of the class."""
        return training_load.zone_sum(self.bpm / self.top_bpm, self.every_s)

    def min_above(self, bpm: float) -> float:
        """Minutes of the first heart above a rate."""
        return float(np.count_nonzero(self.bpm[0] > bpm)) * self.every_s / 60

    def impulse(self, person: Person) -> Floats:
        """Exponential impulse of the class."""
        return training_load.impulse_of_curve(self.reserve, person.sex, self.every_s)

    def working_reserve(self, strain: Strain) -> float:
        """Mean fraction of reserve of the first heart while working; 0 in a class without work."""
        working = strain.work[self.step].astype(np.float64)
        seconds = working.sum()
        return float(self.reserve[0] @ working / seconds) if seconds else 0.0

    def kcal_by_rate(self, person: Person, strain: Strain) -> Floats:
        """Energy by heart rate; seconds below the equation's range by the activity table."""
        table = (strain.met * energy.kcal_per_min(1.0, person.body_mass_kg))[self.step]
        rates = energy.keytel_kj_per_min(self.bpm, person.body_mass_kg, person.age, person.sex) / energy.KJ_PER_KCAL
        return np.asarray(np.where(self.bpm >= energy.KEYTEL_FROM_BPM, rates, table).sum(axis=1) * self.every_s / 60)


def _limits(profiles: list[HeartProfile]) -> list[tuple[float, float]]:
    return [(one.rest_bpm, one.max_bpm) for one in profiles]
