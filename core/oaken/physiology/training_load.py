"""Three schools of counting the load of a session."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
import numpy.typing as npt

from oaken.domain.people import Sex

EDWARDS_LIMITS = np.array([0.5, 0.6, 0.7, 0.8, 0.9])
_MEN, _WOMEN = (0.64, 1.92), (0.86, 1.67)


def impulse(minutes: float, reserve: float, sex: Sex | None) -> float:
    """Exponential impulse of constant work: min × x × 0.64·e^(1.92x) for men, 0.86·e^(1.67x) for women, the mean of
    both when sex is not given (Banister 1991; Morton 1990). 30 min at 0.70: 51.5 and 58.1."""
    return float(minutes * impulse_rate(np.array([reserve]), sex)[0])


def impulse_rate(reserve: npt.NDArray[np.float64], sex: Sex | None) -> npt.NDArray[np.float64]:
    """Impulse collected per minute at these fractions of the reserve."""
    weights = {"male": [_MEN], "female": [_WOMEN]}.get(sex or "", [_MEN, _WOMEN])
    factors = [scale * np.exp(power * reserve) for scale, power in weights]
    return np.asarray(reserve * sum(factors) / len(factors), dtype=np.float64)


def impulse_of_curve(reserve: npt.NDArray[np.float64], sex: Sex | None, every_s: float = 1) -> npt.NDArray[np.float64]:
    """Exponential impulse of a curve with one value every `every_s` seconds along its last axis."""
    return np.asarray(impulse_rate(reserve, sex).sum(axis=-1) * every_s / 60)


def zone_sum(share_of_maximum: npt.NDArray[np.float64], every_s: float = 1) -> npt.NDArray[np.float64]:
    """Minutes in 50–60, 60–70 … 90–100 % of maximum heart rate times 1 … 5 (Edwards 1993), along the last axis."""
    points = np.searchsorted(EDWARDS_LIMITS, share_of_maximum.ravel(), "right")
    return np.asarray(points.reshape(share_of_maximum.shape).sum(axis=-1) * every_s / 60)


def session_effort(rating: float, minutes: float) -> float:
    """Session rating of effort, 0–10, times minutes (Foster 2001). 7 × 50 = 350."""
    return rating * minutes


def expected_rating(mean_working_reserve: float) -> float:
    """Rating 0–10 to expect from the mean fraction of reserve while working: a straight line through rest = 0 and
    the reserve's top = 10. A modelling choice (common practice, no source), good to about ± 1.5; the class's own
    rating replaces it once it was given."""
    return min(10.0, max(0.0, 10 * mean_working_reserve))


STEEP_RISE = 0.30
"""A week whose load is more than so much above the mean of the four before it rises steeply (common practice, no
source: injuries are said to follow such weeks; no threshold is agreed on)."""


def rise(loads: Sequence[float]) -> float | None:
    """How much the last week's load is above the mean of the four before it that had any, as a share; None where there
    are not two of those.

    >>> rise([100, 100, 100, 150])
    0.5
    """
    before = [load for load in loads[-5:-1] if load > 0]
    if len(before) < 2:
        return None
    return loads[-1] / (sum(before) / len(before)) - 1
