"""More work is never less workload: figures go up with load, setting and mass, and down with rest."""

from __future__ import annotations

from itertools import pairwise
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from making import class_file, group, person, sets
from oaken.forecast import forecast
from oaken.forecast.report import Figures

some = settings(max_examples=25, deadline=None)
ages = st.integers(20, 70)
shares = st.lists(st.sampled_from([0.3, 0.4, 0.5, 0.6, 0.7, 0.8, 0.9]), min_size=2, max_size=3, unique=True).map(sorted)
lifts = st.sampled_from(["leg-press", "goblet-squat", "hip-thrust", "lying-leg-curl"])


def figures_of(dose: dict[str, Any], rest_s: int = 60, rounds: int = 4, **body: Any) -> Figures:
    """The figures of one person who does one exercise in sets."""
    known = {"bests_kg": {"leg-press": 150, "goblet-squat": 60, "hip-thrust": 120, "lying-leg-curl": 60}}
    return forecast(class_file(sets(group(rounds, rest_s, dose)), people=[person(1, **known | body)])).people[0].figures


def climbing(values: list[float]) -> bool:
    """Whether no value is below the one before, but for what rounding takes."""
    return all(there >= here * (1 - 1e-3) for here, there in pairwise(values))


@some
@given(lifts, shares, ages)
def test_a_heavier_load_is_never_less(lift: str, loads: list[float], age: int) -> None:
    found = [figures_of({"exercise": lift, "reps": 10, "load": {"share_of_best": load}}, age=age) for load in loads]
    for name in ("heart_mean", "heart_peak", "energy", "energy_by_lifting", "volume_load", "impulse"):
        assert climbing([getattr(item, name).value for item in found]), name


@some
@given(lifts, st.lists(st.integers(15, 180), min_size=2, max_size=3, unique=True).map(sorted), ages)
def test_more_rest_is_never_denser_or_harder(lift: str, rests: list[int], age: int) -> None:
    dose = {"exercise": lift, "reps": 10, "load": {"share_of_best": 0.7}}
    found = [figures_of(dose, rest, age=age) for rest in rests]
    # not the highest rate: a longer class drifts for longer
    for name in ("work_share", "sets_per_minute", "heart_mean"):
        assert climbing([getattr(item, name).value for item in reversed(found)]), name
    # whoever rests longer is there longer
    assert climbing([item.energy.value for item in found if item.energy is not None])


@some
@given(
    st.sampled_from(["leg-press", "bodyweight-squat", "marching", "treadmill-run"]),
    st.lists(st.integers(45, 120), min_size=2, max_size=3, unique=True).map(sorted),
    ages,
)
def test_a_heavier_body_takes_more_energy_for_the_same(exercise: str, masses: list[int], age: int) -> None:
    load = {"load": {"load_kg": 60}} if exercise == "leg-press" else {}
    found = [
        figures_of({"exercise": exercise, "seconds": 40, **load}, age=age, body_mass_kg=mass, vo2max=45)
        for mass in masses
    ]
    assert climbing([item.energy.value for item in found if item.energy is not None])


@some
@given(
    st.sampled_from(
        [("bike", "power_w", 40, 300), ("rower", "power_w", 40, 300), ("treadmill-run", "speed_kmh", 8, 16)]
    ),
    st.lists(st.floats(0, 1), min_size=2, max_size=3, unique=True).map(sorted),
    st.integers(40, 60),
)
def test_a_harder_setting_is_never_less(machine: tuple[str, str, int, int], steps: list[float], uptake: int) -> None:
    exercise, field, low, high = machine
    found = [
        figures_of(
            {"exercise": exercise, "seconds": 120, "setting": {field: round(low + step * (high - low))}},
            vo2max=uptake,
            max_bpm=185,
        )
        for step in steps
    ]
    for name in ("heart_mean", "heart_peak", "energy", "impulse"):
        assert climbing([getattr(item, name).value for item in found]), name


def test_the_checks_can_fail() -> None:
    assert climbing([1.0, 1.0, 2.0])
    assert not climbing([1.0, 2.0, 1.9])
    with pytest.raises(AssertionError):
        assert climbing(
            [figures_of({"exercise": "leg-press", "reps": 10}, rest).work_share.value for rest in (30, 120)]
        )
