"""Everybody's heart under the workload of a class: what each would count."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from oaken.domain.people import Person
from oaken.forecast.workload.columns import Workload
from oaken.physiology import energy, training_load
from oaken.physiology.heart_rate import (
    Floats,
    HeartProfile,
    ReserveCurve,
    reserve_curves,
    target_bpm,
    uptake_reserve_share,
)
from oaken.physiology.intensity import RESERVE_LIMITS

EDGES_EVERY_S = 10
"""Spacing at which the slowest and the fastest likely heart are read: they only bound a range."""


@dataclass(frozen=True, slots=True)
class Hearts:
    """One heart a person, one a row, read every `every_s` seconds along the columns.

    `step` is the step under way at each moment. Every figure gives one number a person.
    """

    every_s: int
    people: Sequence[Person]
    profiles: Sequence[HeartProfile]
    workload: Workload
    curve: ReserveCurve
    step: npt.NDArray[np.int64]
    top_bpm: Floats
    reserve: Floats
    bpm: Floats

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
        return np.asarray(np.count_nonzero(self.reserve >= RESERVE_LIMITS[2], axis=1) * self.every_s / 60)

    @property
    def moderate_min(self) -> Floats:
        """Minutes at 40 % of reserve or above."""
        return np.asarray(np.count_nonzero(self.reserve >= RESERVE_LIMITS[1], axis=1) * self.every_s / 60)

    def reached_min(self, bpm: float) -> Floats:
        """Minutes until a rate is first reached; NaN where it never is."""
        return self._first_min(self.bpm >= bpm)

    def reserve_reached_min(self, share: float) -> Floats:
        """Minutes until a share of the reserve is first reached; NaN where it never is."""
        return self._first_min(self.reserve >= share)

    def _first_min(self, there: npt.NDArray[np.bool_]) -> Floats:
        first = (there.argmax(axis=1) + 0.5) * self.every_s / 60
        return np.where(there.any(axis=1), first, np.nan)

    @property
    def zone_sum(self) -> Floats:
        """Zone sum of the class."""
        return training_load.zone_sum(self.bpm / self.top_bpm, self.every_s)

    def min_above(self, bpm: float) -> Floats:
        """Minutes above a rate."""
        return np.asarray(np.count_nonzero(self.bpm > bpm, axis=1) * self.every_s / 60)

    @property
    def impulse(self) -> Floats:
        """Exponential impulse of the class."""
        return np.array(
            [
                training_load.impulse_of_curve(row, person.sex, self.every_s)
                for row, person in zip(self.reserve, self.people, strict=True)
            ]
        )

    @property
    def working_reserve(self) -> Floats:
        """Mean fraction of reserve while working; 0 where nobody works."""
        working = self.workload.work[self.step]
        seconds = working.sum(axis=1)
        return np.asarray((self.reserve * working).sum(axis=1) / np.maximum(seconds, 1))

    @property
    def kcal_by_rate(self) -> Floats:
        """Energy by heart rate; seconds below the equation's range by the activity table."""
        per_met = np.array([[energy.kcal_per_min(1.0, person.body_mass_kg)] for person in self.people])
        table = self.workload.met[self.step] * per_met
        lines = np.array(
            [energy.keytel_line(person.body_mass_kg, person.age, person.sex, person.vo2max) for person in self.people]
        )
        rates = lines[:, :1] * self.bpm + lines[:, 1:]
        by_rate = np.where(self.bpm >= energy.KEYTEL_FROM_BPM, rates / energy.KJ_PER_KCAL, table)
        return np.asarray(by_rate.sum(axis=1) * self.every_s / 60)


def hearts_under(
    workload: Workload,
    people: Sequence[Person],
    variants: Sequence[tuple[Sequence[HeartProfile], int]],
    length_s: float,
) -> list[Hearts]:
    """For each variant (everybody's profile, seconds between readings) everybody's heart, read in the middle of every
    such stretch of a class of this length."""
    demands = []
    for profiles, _ in variants:
        vo2max = np.array([profile.vo2max for profile in profiles])[workload.person]
        demands.append(uptake_reserve_share(workload.met, vo2max) + workload.pressor)
    curves = reserve_curves(workload.stretches, demands, [profiles for profiles, _ in variants])
    found = []
    for curve, (profiles, every_s) in zip(curves, variants, strict=True):
        moments = workload.stretches.moments(np.arange(min(every_s, length_s) / 2, length_s, every_s))
        reserve = curve.at(moments).reshape(len(people), -1)
        rest, top = (np.array([[getattr(profile, name)] for profile in profiles]) for name in ("rest_bpm", "max_bpm"))
        step = np.repeat(workload.stretches.step, moments.counts).reshape(reserve.shape)
        bpm = target_bpm(reserve, rest, top)
        found.append(Hearts(every_s, people, profiles, workload, curve, step, top, reserve, bpm))
    return found
