"""Heat figures and one-repetition maxima against published formulas and a general-purpose reference library."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from making import circuit, class_file, person
from oaken.forecast import forecast
from oaken.physiology.heat import (
    Air,
    at_once_bpm,
    drift_per_hour,
    heat_index_c,
    heat_of,
    vapour_pressure_hpa,
    wbgt_simplified_c,
)
from oaken.physiology.strength.loading import share_by_reserve, share_by_window
from oaken.physiology.strength.one_rep_max import FORMULAS, best_from_set
from pythermalcomfort.models import heat_index_rothfusz
from pythermalcomfort.psychrometrics import p_sat


@pytest.mark.parametrize(("warm", "damp", "felt"), [(32, 60, 37.1), (35, 50, 40.7)])
def test_heat_index_of_the_regression(warm: float, damp: float, felt: float) -> None:
    """Rothfusz regression of the US weather service: check values computed with pythermalcomfort."""
    assert heat_index_c(warm, damp) == pytest.approx(felt, abs=0.05)


@given(st.floats(29, 44), st.floats(40, 84))
def test_heat_index_agrees_with_the_reference_library(warm: float, damp: float) -> None:
    """pythermalcomfort's regression has no adjustments, so only where none applies."""
    reference = float(heat_index_rothfusz(tdb=warm, rh=damp, limit_inputs=False, round_output=False).hi)
    assert heat_index_c(warm, damp) == pytest.approx(reference, abs=0.01)


def test_heat_index_has_both_adjustments_and_the_simple_formula() -> None:
    """Adjustments as the US weather service states them (from memory): 13 % dry and 85 % damp."""
    plain = float(heat_index_rothfusz(tdb=40, rh=10, limit_inputs=False, round_output=False).hi)
    # (13 − 10) ÷ 4 × √((17 − |104 − 95|) ÷ 17) = 0.51 °F less
    assert plain - heat_index_c(40, 10) == pytest.approx(0.5145 * 5 / 9, abs=1e-3)
    # (90 − 85) ÷ 10 × (87 − 84.2) ÷ 5 = 0.28 °F more
    plain = float(heat_index_rothfusz(tdb=29, rh=90, limit_inputs=False, round_output=False).hi)
    assert heat_index_c(29, 90) - plain == pytest.approx(0.28 * 5 / 9, abs=1e-3)
    # in cool air Steadman's simple formula: 0.5·(T + 61 + 1.2·(T − 68) + 0.094·RH) °F at 68 °F and 50 %
    assert heat_index_c(20, 50) == pytest.approx((0.5 * (68 + 61 + 4.7) - 32) * 5 / 9, abs=1e-6)


@given(st.floats(5, 45), st.floats(5, 100))
def test_vapour_pressure_agrees_with_the_reference_library(warm: float, damp: float) -> None:
    """Saturation pressure by another equation (pythermalcomfort's p_sat, Pa): within one percent."""
    assert vapour_pressure_hpa(warm, damp) == pytest.approx(float(p_sat(warm)) * damp / 100 / 100, rel=0.01)


def test_simplified_wbgt() -> None:
    """0.567·T + 0.393·e + 3.94 (approximation of the Australian weather bureau, from memory), by hand at 30 °C, 50 %:
    e = 21.14 hPa, 17.01 + 8.31 + 3.94 = 29.26."""
    assert wbgt_simplified_c(30, 50) == pytest.approx(29.26, abs=0.01)


def test_what_the_air_asks_for() -> None:
    """Bands of the heat index and limits of the WBGT from 2-rules (usual guidance, from memory)."""
    cool, warm, hot = (heat_of(Air(temperature_c=t, humidity_percent=h)) for t, h in ((20, 50), (26, 55), (32, 60)))
    assert (cool.advice, cool.band) == ("usual", "")
    assert warm.advice == "caution"
    assert (hot.advice, hot.band) == ("reconsider", "extreme caution")
    assert hot.heat_index.low < hot.heat_index.value < hot.heat_index.high
    assert drift_per_hour(20) == pytest.approx(0.10)
    assert drift_per_hour(28) == pytest.approx(0.20)
    assert drift_per_hour(60) == pytest.approx(0.30)


@pytest.mark.parametrize(
    ("formula", "ten", "five"),
    [
        ("epley", 133.3, 116.7),
        ("brzycki", 133.3, 112.5),
        ("lombardi", 125.9, 117.5),
        ("wathen", 134.7, 116.6),
        ("oconner", 125.0, 112.5),
        ("mayhew", 130.9, 119.0),
        ("lander", 134.1, 113.7),
    ],
)
def test_bests_of_a_hundred_kilograms(formula: str, ten: float, five: float) -> None:
    """Epley 1985, Brzycki 1993, Lombardi 1989, Wathen 1994, O'Conner 1989, Mayhew 1992,
    Lander 1985 (formulas from memory, values computed)."""
    of = FORMULAS[formula][1]  # type: ignore[index]
    assert of(100, 10) == pytest.approx(ten, abs=0.05)
    assert of(100, 5) == pytest.approx(five, abs=0.05)


def test_a_tested_single_is_its_own_best() -> None:
    for formula in FORMULAS:
        best = best_from_set(100, 1, formula)
        assert (best.value, best.low, best.high) == (100, 100, 100)


def test_a_best_shows_all_formulas_and_warns_beyond_twelve() -> None:
    best = best_from_set(100, 10)
    assert (best.value, best.low, best.high) == pytest.approx((133.33, 125.0, 134.74), abs=0.01)
    assert "Brzycki 133.3" in best.inputs[1]
    assert "Epley" not in best.inputs[1]
    assert best.note == ""
    assert "heavier set" in best_from_set(60, 13).note
    assert "heavier set" in best_from_set(60, 10, in_reserve=3).note
    # two in reserve point to the best of ten done to failure
    assert best_from_set(100, 8, in_reserve=2).value == best.value
    for load_kg, reps, reserve in ((0, 5, 0), (100, 0, 0), (100, 31, 0), (100, 30, 1), (100, 5, -1), (1000, 5, 0)):
        with pytest.raises(ValueError, match=r"repetitions|load"):
            best_from_set(load_kg, reps, in_reserve=reserve)


def test_shares_from_the_usual_table() -> None:
    """The usual training-load table (from memory): 10 repetitions at 75 %, 7 at 83 %."""
    assert share_by_reserve(8, 2) == pytest.approx(0.75)
    assert share_by_window(6, 8) == pytest.approx(0.83)


def test_warm_air_acts_at_once() -> None:
    """About 1 bpm for each °C above comfort (Kamon & Belding 1971, from memory), more where it is humid; 35 °C and 70 %
    add 10–20 bpm."""
    assert at_once_bpm(22, 60) == 0
    assert at_once_bpm(30, 30) == pytest.approx(6.0)
    assert 10 <= at_once_bpm(35, 70) <= 20
    assert at_once_bpm(35, 70) > at_once_bpm(35, 40)


def test_a_class_in_a_hot_room_has_hearts_that_are_up_from_the_start() -> None:
    cool, hot = (
        forecast(
            class_file(circuit(["goblet-squat", "plank", "step-up"], work_s=60, rounds=4), people=[person(1)], air=air)
        ).people[0]
        for air in (None, {"temperature_c": 35, "humidity_percent": 70})
    )
    apart = np.array(hot.bpm) - np.array(cool.bpm)
    minutes = np.arange(apart.size) * 5 / 60
    early = apart[(minutes > 4) & (minutes < 6)]
    assert 8 <= early.mean() <= 20
