"""Everybody's heart at once is everybody's heart alone."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from making import circuit, class_file, group, person, sets, together
from oaken.forecast import forecast
from oaken.physiology.heart_rate import HeartProfile, Stretches, reserve_curves
from oaken.physiology.intensity import RESERVE_LIMITS, minutes_by_class
from one_heart import reserve_curve

paths = st.lists(
    st.lists(st.tuples(st.floats(5, 200), st.floats(0, 1.4)), min_size=1, max_size=12), min_size=1, max_size=5
)


def columns(path: list[tuple[float, float]], length: float) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Starts, ends and demands of a path, its last step lengthened to the class's end."""
    ends = np.cumsum([seconds for seconds, _ in path])
    ends[-1] = length
    return np.concatenate([[0.0], ends[:-1]]), ends, np.array([demand for _, demand in path])


@given(paths, st.floats(20, 70))
def test_many_paths_side_by_side_give_each_its_own_curve(many: list[list[tuple[float, float]]], vo2max: float) -> None:
    length = max(sum(seconds for seconds, _ in path) for path in many) + 10
    alone = [columns(path, length) for path in many]
    first = np.cumsum([0, *(len(path) for path in many[:-1])])
    starts, ends, demand = (np.concatenate(parts) for parts in zip(*alone, strict=True))
    together_ = Stretches.cut(starts, ends, first)
    hearts = [HeartProfile.of(50 + 3 * n, 185, vo2max + n) for n in range(len(many))]
    slower = [HeartProfile.of(60, 170, vo2max / 2 + 10) for _ in many]
    seconds = np.arange(0.5, length, 7.0)
    for profiles, curve in zip(
        (hearts, slower), reserve_curves(together_, [demand, demand * 0.5], [hearts, slower]), strict=True
    ):
        share = 1.0 if profiles is hearts else 0.5
        rows = curve.at(together_.moments(seconds)).reshape(len(many), -1)
        for row, (start, end, own), profile in zip(rows, alone, profiles, strict=True):
            single = Stretches.cut(start, end)
            expected = reserve_curve(single, own * share, profile).at(single.moments(seconds))
            assert row == pytest.approx(expected, abs=1e-9)


def test_a_person_s_figures_do_not_depend_on_who_else_is_there() -> None:
    """On the clock with room for all, nobody waits for anybody."""
    blocks = (
        together(("marching", 240)),
        circuit(["goblet-squat", "plank", "step-up"], work_s=40, change_s=20, rounds=2),
        sets(group(2, 60, {"exercise": "bodyweight-squat", "reps": 12})),
    )
    crowd = [person(n, age=25 + 8 * n, body_mass_kg=55 + 7 * n, sex=("male", "female")[n % 2]) for n in range(1, 4)]
    whole = forecast(class_file(*blocks, people=crowd))
    for index, who in enumerate(crowd):
        # the same place in the circle: the others are there, but as somebody else
        others = [who if n == index else person(9 + n) for n in range(3)]
        again = forecast(class_file(*blocks, people=others)).people[index]
        assert again.figures == whole.people[index].figures
        assert again.bpm == whole.people[index].bpm


def test_minutes_by_class_of_many_rows_add_up_to_the_whole() -> None:
    rows = np.array([np.linspace(0, 1, 600), np.full(600, RESERVE_LIMITS[0])])
    found = minutes_by_class(rows)
    assert found.shape == (2, 5)
    assert found.sum(axis=1) == pytest.approx([10, 10])
    assert found[1].tolist() == [0, 10, 0, 0, 0]


def test_medication_leaves_no_heart_figure_and_does_not_shift_the_others() -> None:
    crowd = [person(1), person(2, heart_medication=True), person(3)]
    result = forecast(class_file(circuit(["goblet-squat", "plank", "step-up"]), people=crowd))
    one, medicated, other = result.people
    assert medicated.bpm == []
    assert medicated.figures.heart_mean is None
    assert medicated.figures.energy_by_heart_rate is None
    assert medicated.figures.energy.value > 0
    assert one.figures.heart_mean is not None
    assert other.figures.heart_mean is not None
    assert result.band is not None
    everybody = forecast(
        class_file(circuit(["goblet-squat", "plank", "step-up"]), people=[person(1, heart_medication=True)])
    )
    assert everybody.band is None
    assert everybody.figures.heart_mean is None
