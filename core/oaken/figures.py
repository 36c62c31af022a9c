"""The figures of one person and of the class, each with its method, inputs and likely range."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from oaken.estimate import Estimate
from oaken.people import Person, Sex
from oaken.physiology import energy, training_load
from oaken.physiology.body import Body
from oaken.physiology.heart_rate import Floats, HeartProfile, ReserveCurve, target_bpm
from oaken.physiology.intensity import minutes_by_class
from oaken.report import Figures
from oaken.strain import Strain
from oaken.work_done import WorkDone

REPS_RANGE = 0.15
RATING_RANGE = 1.5


@dataclass(frozen=True, slots=True)
class Heart:
    """One likely heart over the class: its fraction of reserve once a second (at the half second)."""

    profile: HeartProfile
    curve: ReserveCurve
    reserve: Floats
    bpm: Floats

    @classmethod
    def under(cls, strain: Strain, profile: HeartProfile, seconds: Floats, index: npt.NDArray[np.int64]) -> Heart:
        """This heart under a strain, at these seconds; `index` are the stretches they fall in."""
        curve = strain.reserve(profile)
        reserve = curve.at(seconds, index)
        return cls(profile, curve, reserve, target_bpm(reserve, profile.rest_bpm, profile.max_bpm))

    @property
    def vigorous_min(self) -> float:
        """Minutes at 60 % of reserve or above."""
        return sum(minutes_by_class(self.reserve)[3:])

    def zone_sum(self) -> float:
        """Zone sum of the class for this heart."""
        return training_load.zone_sum(self.bpm / self.profile.max_bpm)

    def impulse(self, sex: Sex | None) -> float:
        """Exponential impulse of the class for this heart."""
        return training_load.impulse_of_curve(self.reserve, sex)


@dataclass(frozen=True, slots=True)
class Hearts:
    """The likely heart of a person between the slowest and the fastest that are still likely.

    `step` is the step under way at each second.
    """

    step: npt.NDArray[np.int64]
    likely: Heart
    slow: Heart
    fast: Heart

    @classmethod
    def under(cls, strain: Strain, body: Body, seconds: Floats) -> Hearts:
        """The three hearts under one strain, at these seconds."""
        index = strain.stretches.at(seconds)
        three = (Heart.under(strain, one, seconds, index) for one in (body.likely, body.slow, body.fast))
        return cls(strain.stretches.step[index], *three)


def person_figures(
    person: Person,
    done: WorkDone,
    strain: Strain,
    length: Estimate,
    waiting_s: tuple[float, float],
    hearts: Hearts | None,
) -> Figures:
    """Every figure of one person. `hearts` is None when heart figures do not apply to this person."""
    minutes = length.value / 60
    work = f"work {done.work_s:.0f} s"
    total = f"class {length.value:.0f} s"
    mass = f"body mass {person.body_mass_kg:g} kg"
    per_met = energy.kcal_per_min(1.0, person.body_mass_kg)
    gross = float((strain.met * strain.minutes).sum() * per_met)
    rest = minutes * per_met
    net = gross - rest
    spread = energy.TABLE_RANGE

    def over_length(value: float, unit: str, method: str, inputs: list[str]) -> Estimate:
        slowest, quickest = length.value / length.high, length.value / length.low
        return Estimate.between(value, value * slowest, value * quickest, unit, method, inputs)

    equation = None
    if not np.array_equal(strain.equation_met, strain.met):
        by_equation = float((strain.equation_met * strain.minutes).sum() * per_met)
        equation = Estimate.within(by_equation, spread, "kcal", "energy.equation", [mass])
    low, typical, high = (energy.lifting_kcal(done.lifting_j, share) for share in energy.LIFTING_EFFICIENCY[::-1])
    after = [share * net for share in energy.AFTER_CLASS_SHARE]
    heart = _heart_figures(person, strain, hearts, minutes) if hearts else {}
    return Figures(
        work_share=over_length(100 * done.work_s / length.value, "%", "density.work_share", [work, total]),
        load_per_minute=over_length(
            done.volume_kg / minutes,
            "kg/min",
            "density.load_per_minute",
            [f"volume load {done.volume_kg:.0f} kg", total],
        ),
        sets_per_minute=over_length(
            done.sets / minutes, "sets/min", "density.sets_per_minute", [f"{done.sets} sets", total]
        ),
        time_under_tension=Estimate.within(done.tension_s, 0.12, "s", "tension", [f"{done.sets} sets"]),
        volume_load=Estimate.within(done.volume_kg, REPS_RANGE, "kg", "volume_load", [f"{done.reps} reps"]),
        waiting=Estimate.between(done.waiting_s, *waiting_s, "s", "waiting"),
        energy=Estimate.within(gross, spread, "kcal", "energy.table", [mass, total]),
        energy_net=Estimate.between(
            net, net - spread * gross, net + spread * gross, "kcal", "energy.net", [f"gross {gross:.0f} kcal", mass]
        ),
        energy_by_equation=equation,
        energy_by_lifting=Estimate.between(
            rest + typical,
            rest + low,
            rest + high,
            "kcal",
            "energy.lifting",
            [f"lifting {done.lifting_j / 1000:.1f} kJ"],
        ),
        after_class=Estimate.between(after[1], after[0], after[2], "kcal", "energy.after", [f"net {net:.0f} kcal"]),
        **{
            name: heart.get(name)
            for name in (
                "heart_mean",
                "heart_peak",
                "vigorous_or_more",
                "impulse",
                "zone_sum",
                "session_effort",
                "energy_by_heart_rate",
            )
        },
    )


def _heart_figures(person: Person, strain: Strain, hearts: Hearts, minutes: float) -> dict[str, Estimate]:
    likely, slow, fast = hearts.likely, hearts.slow, hearts.fast
    profile = likely.profile
    inputs = [
        f"resting {profile.rest_bpm:.0f} bpm",
        f"maximum {profile.max_bpm:.0f} bpm",
        f"maximal uptake {profile.vo2max:.0f} mL/kg/min",
    ]

    def of_three(figure: str, of: Callable[[Heart], float], unit: str) -> Estimate:
        return Estimate.between(of(likely), of(slow), of(fast), unit, figure, inputs)

    working = strain.work[hearts.step]
    table_kcal = (strain.met * energy.kcal_per_min(1.0, person.body_mass_kg))[hearts.step]
    rating = training_load.expected_rating(float(likely.reserve[working].mean()) if working.any() else 0.0)
    return {
        "heart_mean": of_three("heart.response", lambda heart: float(heart.bpm.mean()), "bpm"),
        "heart_peak": of_three("heart.response", lambda heart: float(heart.bpm.max()), "bpm"),
        "vigorous_or_more": of_three("intensity.reserve", lambda heart: heart.vigorous_min, "min"),
        "impulse": of_three("load.impulse", lambda heart: heart.impulse(person.sex), "units"),
        "zone_sum": of_three("load.zone_sum", lambda heart: heart.zone_sum(), "units"),
        "session_effort": Estimate.between(
            training_load.session_effort(rating, minutes),
            training_load.session_effort(max(0.0, rating - RATING_RANGE), minutes),
            training_load.session_effort(min(10.0, rating + RATING_RANGE), minutes),
            "units",
            "load.session_effort",
            [f"expected rating {rating:.1f} of 10", f"{minutes:.0f} min"],
        ),
        "energy_by_heart_rate": of_three(
            "energy.heart_rate", lambda heart: _keytel_kcal(person, heart, table_kcal), "kcal"
        ),
    }


def _keytel_kcal(person: Person, heart: Heart, table_kcal: Floats) -> float:
    """Energy by heart rate; seconds below the equation's range by the activity table (kcal/min at each second)."""
    by_heart = energy.keytel_kj_per_min(heart.bpm, person.body_mass_kg, person.age, person.sex) / energy.KJ_PER_KCAL
    return float(np.where(heart.bpm >= energy.KEYTEL_FROM_BPM, by_heart, table_kcal).sum() / 60)


def class_figures(people: list[Figures]) -> Figures:
    """The mean over the people for each figure; the range runs from the lowest person to the highest."""
    means: dict[str, Estimate | None] = {}
    for name in Figures.model_fields:
        all_of_them: list[Estimate] = [value for one in people if (value := getattr(one, name)) is not None]
        if not all_of_them:
            means[name] = None
            continue
        values = [one.value for one in all_of_them]
        means[name] = Estimate.between(
            float(np.mean(values)),
            min(values),
            max(values),
            all_of_them[0].unit,
            all_of_them[0].method,
            [f"{len(values)} {'person' if len(values) == 1 else 'people'}"],
            "mean of the class; the range runs from the lowest person to the highest",
        )
    return Figures.model_validate(means)
