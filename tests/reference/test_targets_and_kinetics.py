"""What people go by, and how a heart follows a demand, against published limits and a reference solver."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from making import class_file, person, together
from oaken.forecast import forecast
from oaken.physiology.heart_rate import HeartProfile, Stretches
from one_heart import reserve_curve
from scipy.integrate import solve_ivp

# ACSM position stand, Garber et al. 2011 (from memory): share of reserve, and effort on the 6–20 scale
CLASSES = {
    "very light": ((0.0, 0.30), (6, 9)),
    "light": ((0.30, 0.40), (9, 12)),
    "moderate": ((0.40, 0.60), (12, 14)),
    "vigorous": ((0.60, 0.90), (14, 18)),
    "near-maximal": ((0.90, 1.0), (18, 20)),
}


@pytest.mark.parametrize("exercise", ["easy-walk", "bike-easy", "jump-squat", "kettlebell-swing"])
def test_targets_are_the_limits_of_the_intensity_class(exercise: str) -> None:
    """Karvonen 1957: rest + f·(max − rest), here 60 and 180 bpm; effort for whom heart rates do not apply."""
    known = {"resting_bpm": 60, "max_bpm": 180, "vo2max": 45}
    file = class_file(together((exercise, 600)), people=[person(1, **known), person(2, **known, heart_medication=True)])
    by_rate, by_effort = (person.targets[0] for person in forecast(file).people)
    shares, effort = CLASSES[by_rate.class_name]
    assert (by_rate.low, by_rate.high) == tuple(round(60 + share * 120) for share in shares)
    assert by_effort.class_name == by_rate.class_name
    assert (by_effort.low, by_effort.high) == effort


@given(
    st.lists(st.tuples(st.floats(20, 180), st.floats(0, 0.9)), min_size=1, max_size=6),
    st.floats(0.6, 1.4),
    st.floats(0, 0.3),
)
def test_the_closed_form_agrees_with_a_reference_solver(
    steps: list[tuple[float, float]], gain: float, drift: float
) -> None:
    """Three states solved by SciPy (LSODA): what is carried over, dc/dt = (demand − c) ÷ 600 s; hard work behind,
    dh/dt = aim above half the reserve; and the rate, dx/dt = (aim − x) ÷ τ, τ by the sign of the difference, with
    aim = gain · (0.87 · demand + 0.13 · c) · (1 + drift · 4 h), flattened by half above 85 % of the reserve.

    Ours reads what is carried over and behind once a stretch of at most a minute, so a hundredth of the reserve may lie
    between.
    """
    profile = replace(HeartProfile.of(60, 180, 45), gain=gain, drift_per_hour=drift)
    ends = np.cumsum([seconds for seconds, _ in steps])
    starts = np.append(0.0, ends[:-1])
    demand = np.array([share for _, share in steps])
    seconds = np.arange(1.0, ends[-1], 7.0)
    stretches = Stretches.cut(starts, ends)
    ours = reserve_curve(stretches, demand, profile).at(stretches.moments(seconds))

    now, found = [0.0, 0.0, 0.0], []
    for start, end, share in zip(starts, ends, demand, strict=True):
        inside = seconds[(seconds >= start) & (seconds < end)]

        def slope(t: float, x: np.ndarray, share: float = float(share)) -> np.ndarray:
            rate, carried, hard = x
            aim = gain * (0.87 * share + 0.13 * carried) * (1 + drift * 4 * hard)
            aim = min(1.0, aim if aim < 0.85 else 0.85 + 0.5 * (aim - 0.85))
            gap = aim - rate
            answer = gap / (profile.rise_s if gap > 0 else profile.fall_s)
            return np.array([answer, (share - carried) / 600, max(0.0, aim - 0.5) / 3600])

        solved = solve_ivp(slope, (start, end), now, method="LSODA", t_eval=[*inside, end], rtol=1e-8, atol=1e-10)
        found += solved.y[0][:-1].tolist()
        now = solved.y[:, -1].tolist()
    assert np.abs(ours - np.array(found)).max() < 0.01


def test_a_gain_scales_what_is_below_the_maximum() -> None:
    """Linear where nothing is hard: twice the answer is twice the share of the reserve, below half of it."""
    starts, ends, demand = np.array([0.0, 90.0]), np.array([90.0, 200.0]), np.array([0.24, 0.1])
    stretches = Stretches.cut(starts, ends)
    moments = stretches.moments(np.arange(1.0, 200.0))
    usual = HeartProfile.of(60, 180, 45)
    once, twice = (reserve_curve(stretches, demand, replace(usual, gain=gain)).at(moments) for gain in (1.0, 2.0))
    # the turn from rising to falling comes at the same moment, so the whole curve scales
    assert np.allclose(twice, 2 * once, atol=1e-12)
    assert twice.max() < 0.5
