"""The figures of one person and of the class, each with its method, inputs and likely range."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Mapping, Sequence
from dataclasses import replace
from math import isnan
from typing import Any, cast

import numpy as np

from oaken.basis.estimate import Estimate
from oaken.basis.words import counted, in_kg
from oaken.domain.people import Person
from oaken.forecast.report import HEART_FIGURES, Figures
from oaken.forecast.workload import Hearts, WorkDone, Workload
from oaken.physiology import energy, training_load
from oaken.physiology.heart_rate import Floats
from oaken.physiology.heat import Heat
from oaken.physiology.intensity import RESERVE_LIMITS

REPS_RANGE = 0.15
RATING_RANGE = 1.5

WARM_UP_BPM = (100.0, 105.0, 110.0)
"""Heart rate at which people are warm (common practice, no source)."""

FLUID_L_PER_HOUR = (0.4, 0.6, 0.8)
"""What to drink in an hour of class in small sips: 150 to 250 mL every 15 to 20 minutes (common practice, no
source). More in a warm room, never more than thirst and body mass ask for."""

WARM_FLUID = 1.4


def everybodys_figures(
    workload: Workload,
    people: Sequence[Person],
    length: Estimate,
    waiting_s: Sequence[tuple[float, float]],
    hearts: tuple[Hearts, Hearts, Hearts],
    heat: Heat | None,
) -> list[Figures]:
    """Every figure of each person. `hearts` are the likely ones, the slowest and the fastest that are still likely;
    they are left out for people to whom heart figures do not apply."""
    per_met = np.array([energy.kcal_per_min(1.0, person.body_mass_kg) for person in people])
    gross = workload.per_person(workload.met * workload.minutes) * per_met
    apart = workload.per_person(workload.met * workload.minutes * workload.spread) * per_met
    by_table = workload.per_person(workload.table_met * workload.minutes) * per_met
    heart = _heart_figures(people, length.value / 60, *hearts)
    return [
        _person_figures(
            person,
            workload.done[index],
            length,
            waiting_s[index],
            float(gross[index]),
            float(apart[index]),
            float(by_table[index]),
            {} if person.heart_medication else {name: of[index] for name, of in heart.items()},
            heat,
        )
        for index, person in enumerate(people)
    ]


def _person_figures(
    person: Person,
    done: WorkDone,
    length: Estimate,
    waiting_s: tuple[float, float],
    gross: float,
    apart: float,
    by_table: float,
    heart: dict[str, Estimate | None],
    heat: Heat | None,
) -> Figures:
    minutes = length.value / 60
    beside = done.work_s - done.dense_s
    without = "" if beside < 0.5 else f", without {beside:.0f} s of warm-up and cool-down"
    work = f"work {done.dense_s:.0f} s{without}"
    aside = done.sets - done.dense_sets
    sets = f"{done.dense_sets} sets" + (f", without {aside} of warm-up and cool-down" if aside else "")
    total = f"class {length.value:.0f} s"
    mass = f"body mass {in_kg(person.body_mass_kg)}"
    rest = minutes * energy.kcal_per_min(1.0, person.body_mass_kg)
    net = gross - rest
    known = f"known to ± {100 * apart / max(gross, 1e-9):.0f} %"

    def over_length(value: float, unit: str, method: str, inputs: list[str]) -> Estimate:
        # a class only for the able may shrink to nothing; a second is left of it
        slowest, quickest = length.value / max(length.high, 1.0), length.value / max(length.low, 1.0)
        return Estimate.between(value, value * slowest, value * quickest, unit, method, inputs)

    table = None
    if abs(by_table - gross) > 1e-9:
        table = Estimate.within(by_table, energy.TABLE_SPREAD, "kcal", "energy.table_alone", [mass])
    low, typical, high = (energy.lifting_kcal(done.lifting_j, share) for share in energy.LIFTING_EFFICIENCY[::-1])
    after = [share * net for share in energy.AFTER_CLASS_SHARE]
    figures = Figures.model_construct(
        work_share=over_length(100 * done.dense_s / length.value, "%", "density.work_share", [work, total]),
        load_per_minute=_of_known_loads(
            done,
            over_length(
                done.volume_kg / minutes,
                "kg/min",
                "density.load_per_minute",
                [f"volume load {done.volume_kg:.0f} kg", total],
            ),
        ),
        sets_per_minute=over_length(done.dense_sets / minutes, "sets/min", "density.sets_per_minute", [sets, total]),
        time_under_tension=Estimate.within(done.tension_s, 0.12, "s", "tension", [f"{done.sets} sets"]),
        volume_load=_of_known_loads(
            done, Estimate.within(done.volume_kg, REPS_RANGE, "kg", "volume_load", [f"{done.reps:.0f} reps"])
        ),
        waiting=Estimate.between(done.waiting_s, *waiting_s, "s", "waiting"),
        energy=Estimate.between(gross, gross - apart, gross + apart, "kcal", "energy.table", [mass, total, known]),
        energy_net=Estimate.between(
            net, net - apart, net + apart, "kcal", "energy.net", [f"gross {gross:.0f} kcal", mass]
        ),
        energy_by_table=table,
        energy_by_lifting=Estimate.between(
            rest + typical,
            rest + low,
            rest + high,
            "kcal",
            "energy.lifting",
            [f"lifting {done.lifting_j / 1000:.1f} kJ"],
        ),
        after_class=Estimate.between(after[1], after[0], after[2], "kcal", "energy.after", [f"net {net:.0f} kcal"]),
        fluid=_fluid(minutes, heat),
        **cast(Any, {name: heart.get(name) for name in HEART_FIGURES}),
    )
    return _told_apart(figures)


def _of_known_loads(done: WorkDone, figure: Estimate) -> Estimate | None:
    """A sum of loads: None where there are loads and nobody knows any of them; where some are not known it says for how
    many repetitions it stands."""
    if done.known_reps >= done.loaded_reps - 0.5:
        return figure
    if done.known_reps <= 0:
        return None
    partly = f"known for {done.known_reps:.0f} of {done.loaded_reps:.0f} loaded reps"
    return replace(figure, partly=partly, note="more than this: some loads are not known")


SUMS_OF_LOADS = ("load_per_minute", "volume_load")
"""Figures that stand for those only whose loads are known."""


def _fluid(minutes: float, heat: Heat | None) -> Estimate:
    warm = heat is not None and heat.advice != "usual"
    low, usual, high = (share * minutes / 60 * (WARM_FLUID if warm else 1.0) for share in FLUID_L_PER_HOUR)
    inputs = [f"{minutes:.0f} min", "warm room" if warm else "no warm room"]
    return Estimate.between(usual, low, high, "L", "fluid", inputs, "a reminder, no prescription: thirst leads")


def _heart_figures(
    people: Sequence[Person], minutes: float, likely: Hearts, slow: Hearts, fast: Hearts
) -> Mapping[str, Sequence[Estimate | None]]:
    """Each heart figure of everybody."""
    profiles = likely.profiles
    inputs = [
        [
            f"resting {profile.rest_bpm:.0f} bpm",
            f"maximum {profile.max_bpm:.0f} bpm",
            f"VO₂max {profile.vo2max:.0f} mL/kg/min",
            f"up within {profile.rise_s:.0f} s, down within {profile.fall_s:.0f} s",
            *(
                [f"level in class {profile.level_bpm:.0f} bpm, own answer × {profile.gain:.2f}, from recordings"]
                if profile.level_bpm is not None
                else []
            ),
        ]
        for profile in profiles
    ]

    def ranged(method: str, of: Callable[[Hearts], Floats], unit: str) -> list[Estimate]:
        columns = (of(item).tolist() for item in (likely, slow, fast))
        return [
            Estimate.between(value, low, high, unit, method, given)
            for value, low, high, given in zip(*columns, inputs, strict=True)
        ]

    above = likely.min_above(energy.KEYTEL_TO_BPM)
    return {
        "heart_mean": ranged("heart.response", lambda hearts: hearts.mean_bpm, "bpm"),
        "heart_peak": ranged("heart.response", lambda hearts: hearts.peak_bpm, "bpm"),
        "warm_up_reached": _warm_up(minutes, likely, slow, fast, inputs),
        "moderate_or_more": ranged("intensity.moderate", lambda hearts: hearts.moderate_min, "min"),
        "vigorous_or_more": ranged("intensity.reserve", lambda hearts: hearts.vigorous_min, "min"),
        "impulse": ranged("load.impulse", lambda hearts: hearts.impulse, "AU"),
        "zone_sum": ranged("load.zone_sum", lambda hearts: hearts.zone_sum, "AU"),
        "session_effort": [_session_effort(share, minutes) for share in likely.working_reserve.tolist()],
        "energy_by_heart_rate": [
            replace(
                estimate,
                note=f"{minutes_above:.0f} min are above {energy.KEYTEL_TO_BPM} bpm, where the equation was not made",
            )
            for estimate, minutes_above in zip(
                ranged("energy.heart_rate", lambda hearts: hearts.kcal_by_rate, "kcal"), above.tolist(), strict=True
            )
        ],
    }


def _warm_up(
    minutes: float, likely: Hearts, slow: Hearts, fast: Hearts, inputs: list[list[str]]
) -> list[Estimate | None]:
    """When everybody is warm; None for whom that is not likely at all."""
    low, middle, high = WARM_UP_BPM
    columns = (fast.reached_min(low), likely.reached_min(middle), slow.reached_min(high))
    by_reserve = likely.reserve_reached_min(RESERVE_LIMITS[1]).tolist()
    found: list[Estimate | None] = []
    rows = zip(*(column.tolist() for column in columns), by_reserve, inputs, strict=True)
    for earliest, expected, latest, moderate, known in rows:
        share = f"{RESERVE_LIMITS[1]:.0%} of reserve".replace("%", " %")
        given = [*known, f"{share} never" if isnan(moderate) else f"{share} after {moderate:.1f} min"]
        if isnan(expected):
            found.append(None)
            continue
        note = "a slow heart may not get there in this class" if isnan(latest) else ""
        latest = minutes if isnan(latest) else latest
        found.append(Estimate.between(expected, earliest, latest, "min", "heart.warm_up", given, note))
    return found


def _session_effort(working_reserve: float, minutes: float) -> Estimate:
    rating = training_load.expected_rating(working_reserve)
    return Estimate.between(
        training_load.session_effort(rating, minutes),
        training_load.session_effort(max(0.0, rating - RATING_RANGE), minutes),
        training_load.session_effort(min(10.0, rating + RATING_RANGE), minutes),
        "AU",
        "load.session_effort",
        [f"expected rating {rating:.1f} of 10", f"{minutes:.0f} min"],
    )


ASIDE = {
    (
        "energy_by_heart_rate",
        True,
    ): "the equation takes every beat for oxygen, but straining, warmth and short rests raise the heart rate too",
    (
        "energy_by_heart_rate",
        False,
    ): "the equation knows no resting rate, and this heart beats slowly for what it takes up",
    ("energy_by_lifting", True): "the loads are heavy for what activity tables know of lifting",
    ("energy_by_lifting", False): "lowering, holding, walking and rhythmic work are not in it",
    ("energy_by_table", True): "the settings of machines and ways are easier than what the table means",
    ("energy_by_table", False): "the settings of machines and ways are harder than what the table means",
}
"""Why another method is above (True) or below the energy that is shown, where their ranges do not meet."""


def _told_apart(figures: Figures) -> Figures:
    """The same with a word on every method of energy whose range does not meet that of the energy shown."""
    shown = figures.energy
    assert shown is not None
    for name in ("energy_by_heart_rate", "energy_by_lifting", "energy_by_table"):
        other: Estimate | None = getattr(figures, name)
        if other is None or (other.low <= shown.high and other.high >= shown.low):
            continue
        above = other.value > shown.value
        why = f"{'above' if above else 'below'} the energy that is shown by more than both ranges: {ASIDE[name, above]}"
        setattr(
            figures,
            name,
            replace(other, note="; ".join(filter(None, [why, other.note])), aside="above" if above else "below"),
        )
    return figures


def class_figures(people: list[Figures]) -> Figures:
    """The mean over the people for each figure; the range runs from the lowest person to the highest."""
    means: dict[str, Estimate | None] = {}
    for name in Figures.model_fields:
        all_of_them: list[Estimate] = [value for person in people if (value := getattr(person, name)) is not None]
        if not all_of_them:
            means[name] = None
            continue
        values = [item.value for item in all_of_them]
        mean = means[name] = Estimate.between(
            float(np.mean(values)),
            min(values),
            max(values),
            all_of_them[0].unit,
            all_of_them[0].method,
            [f"{counted(len(values), 'person', 'people')}"],
            "mean of the class; the range runs from the lowest person to the highest",
        )
        whole = sum(not item.partly for item in all_of_them)
        if name in SUMS_OF_LOADS and whole < len(people):
            mean.partly = f"known for {whole} of {len(people)}" if whole else "known in part"
            mean.note += "; loads that nobody knows are not in it"
        aside = Counter(item.aside for item in all_of_them if item.aside)
        for side, count in aside.items():
            why = ASIDE[name, side == "above"]
            mean.note += (
                f"; {side} the energy that is shown by more than both ranges for {count} of {len(values)}: {why}"
            )
            mean.aside = side if 2 * count > len(values) else mean.aside
    return Figures.model_construct(**cast(Any, means))
