"""The line through the sessions against statsmodels: its filter, its smoother, and its forecast."""

from __future__ import annotations

from math import sqrt
from typing import Any

import numpy as np
import pytest
from oaken.programme.progress import Observation, trend
from oaken.programme.progress.trend import FIRST_LEVEL, FIRST_SLOPE, LEVEL_A_WEEK, SLOPE_A_WEEK
from statsmodels.tsa.statespace.mlemodel import MLEModel


def noise(weeks: float) -> np.ndarray[Any, Any]:
    """The noise of so many weeks of a continuous local linear trend (Harvey 1989, from memory)."""
    level, slope = LEVEL_A_WEEK**2, SLOPE_A_WEEK**2
    return np.array(
        [[level * weeks + slope * weeks**3 / 3, slope * weeks**2 / 2], [slope * weeks**2 / 2, slope * weeks]]
    )


def reference(weeks: list[float], values: list[float], scatters: list[float]) -> Any:
    """The same model in statsmodels, with matrices that change from session to session."""
    count = len(values)
    model = MLEModel(np.array(values), k_states=2, k_posdef=2, initialization="known",
                     initial_state=np.array([values[0], 0.0]), initial_state_cov=np.diag([FIRST_LEVEL**2, FIRST_SLOPE**2]))  # fmt: skip
    steps = [*np.diff(weeks), 1.0]
    model["design"] = np.array([[1.0, 0.0]])
    model["selection"] = np.eye(2)
    model["transition"] = np.stack([np.array([[1.0, step], [0.0, 1.0]]) for step in steps], axis=2)
    model["state_cov"] = np.stack([noise(step) for step in steps], axis=2)
    model["obs_cov"] = np.array(scatters).reshape(1, 1, count) ** 2
    return model.smooth([])


@pytest.mark.parametrize("seed", range(6))
def test_filter_and_smoother_are_those_of_statsmodels(seed: int) -> None:
    chance = np.random.default_rng(seed)
    weeks = np.cumsum(chance.uniform(0.1, 3.0, 30)).tolist()
    values = (4.5 + 0.005 * np.array(weeks) + chance.normal(0, 0.04, 30)).tolist()
    scatters = chance.uniform(0.03, 0.08, 30).tolist()
    found = trend([Observation(*week) for week in zip(weeks, values, scatters, strict=True)])
    assert found is not None
    wanted = reference(weeks, values, scatters)
    levels, slopes = wanted.smoothed_state
    assert [level.mean for level in found.levels] == pytest.approx(levels.tolist(), abs=1e-8)
    assert [level.slope for level in found.levels] == pytest.approx(slopes.tolist(), abs=1e-8)
    covariance = wanted.smoothed_state_cov
    assert [level.deviation for level in found.levels] == pytest.approx(np.sqrt(covariance[0, 0]).tolist(), abs=1e-8)
    assert found.last.mean == pytest.approx(float(wanted.filtered_state[0, -1]), abs=1e-10)


def test_a_gain_knows_its_range_as_statsmodels_does() -> None:
    """The covariance of two levels: statsmodels carries the first one along as a third state."""
    chance = np.random.default_rng(11)
    weeks = np.arange(12.0).tolist()
    values = (4.4 + chance.normal(0, 0.04, 12)).tolist()
    found = trend([Observation(week, value, 0.04) for week, value in zip(weeks, values, strict=True)])
    assert found is not None
    model = MLEModel(np.array(values), k_states=3, k_posdef=2, initialization="known",
                     initial_state=np.array([values[0], 0.0, values[0]]),
                     initial_state_cov=np.array([[FIRST_LEVEL**2, 0, FIRST_LEVEL**2], [0, FIRST_SLOPE**2, 0],
                                                 [FIRST_LEVEL**2, 0, FIRST_LEVEL**2]]))  # fmt: skip
    model["design"] = np.array([[1.0, 0.0, 0.0]])
    model["transition"] = np.array([[1.0, 1.0, 0.0], [0.0, 1.0, 0.0], [0.0, 0.0, 1.0]])
    model["selection"] = np.array([[1.0, 0.0], [0.0, 1.0], [0.0, 0.0]])
    model["state_cov"] = noise(1.0)
    model["obs_cov"] = np.array([[0.04**2]])
    wanted = model.filter([])
    covariance = wanted.filtered_state_cov[:, :, -1]
    gain = float(wanted.filtered_state[0, -1] - wanted.filtered_state[2, -1])
    deviation = sqrt(covariance[0, 0] + covariance[2, 2] - 2 * covariance[0, 2])
    assert found.levels[0].gain_to_last == pytest.approx(gain, abs=1e-7)
    assert found.levels[0].gain_deviation == pytest.approx(deviation, abs=1e-6)


def test_a_forecast_is_that_of_statsmodels() -> None:
    weeks, values = np.arange(10.0).tolist(), [4.0 + 0.01 * week for week in range(10)]
    found = trend([Observation(week, value, 0.04) for week, value in zip(weeks, values, strict=True)])
    assert found is not None
    mean, deviation = found.at(10.0)
    wanted = reference(weeks, values, [0.04] * 10)
    covariance = wanted.predicted_state_cov[:, :, -1]
    assert mean == pytest.approx(float(wanted.predicted_state[0, -1]), abs=1e-9)
    assert deviation == pytest.approx(sqrt(float(covariance[0, 0])), abs=1e-9)
