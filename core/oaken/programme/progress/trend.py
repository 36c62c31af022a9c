"""A line through all sessions, recent ones counting most: a level that drifts and a slope that changes slowly.

The local linear trend of the state-space literature (Harvey 1989, from memory) on the logarithm of the best, with fixed
settings, filtered forwards and smoothed backwards. An easy day is no step back: what only says “at least” hardly
pulls the line down. Time is in weeks and need not be regular.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from math import exp, sqrt
from typing import NamedTuple

LEVEL_A_WEEK = 0.01
"""How far the level drifts in a week, one standard deviation as a share (common practice, no source)."""

SLOPE_A_WEEK = 0.004
"""How far the weekly gain changes in a week, likewise (common practice, no source)."""

FIRST_LEVEL, FIRST_SLOPE = 1.0, 0.01
"""What is known before the first session: nothing of the level, and that nobody gains much more than 1 % a week."""

MIDDLE_80 = 1.2816
"""Standard deviations on each side within which eight of ten lie."""


EASY = 1.5
"""A session that only says “at least” and lies so many deviations below the line was an easy one: from there on it
pulls less and less (common practice of robust filters; the bound and the fourth power are ours)."""


@dataclass(frozen=True, slots=True)
class Observation:
    """What one session says: when (weeks), the logarithm of the best, its scatter (one standard deviation), and whether
    it only says “at least”."""

    week: float
    value: float
    scatter: float
    at_least: bool = False


@dataclass(frozen=True, slots=True)
class Level:
    """Where the line stands at a session, all sessions considered: mean and deviation of the level and of the weekly
    slope (as shares, since values are logarithms), and how much the last session's level lies above it."""

    week: float
    mean: float
    deviation: float
    slope: float
    slope_deviation: float
    gain_to_last: float
    gain_deviation: float


@dataclass(frozen=True, slots=True)
class Trend:
    """The line at every session, and where it goes on from the last one."""

    levels: tuple[Level, ...]
    covariance: float

    @property
    def last(self) -> Level:
        """Where the line stands now."""
        return self.levels[-1]

    def at(self, week: float) -> tuple[float, float]:
        """Mean and deviation of the level at a week that is not before the last session."""
        last = self.last
        ahead = max(0.0, week - last.week)
        level_noise, _, _ = noise(ahead)
        variance = last.deviation**2 + 2 * ahead * self.covariance + (ahead * last.slope_deviation) ** 2 + level_noise
        return last.mean + ahead * last.slope, sqrt(max(0.0, variance))


def noise(weeks: float) -> tuple[float, float, float]:
    """What so many weeks add to the variance of the level, to the covariance, and to the variance of the slope."""
    level, slope = LEVEL_A_WEEK**2, SLOPE_A_WEEK**2
    return level * weeks + slope * weeks**3 / 3, slope * weeks**2 / 2, slope * weeks


class _Step(NamedTuple):
    """One step of the filter: the weeks it took, what was foreseen (mean and slope; variance of the level, covariance,
    variance of the slope), and the same once the session was seen."""

    weeks: float
    m_ahead: float
    b_ahead: float
    p_ahead: float
    q_ahead: float
    r_ahead: float
    m: float
    b: float
    p: float
    q: float
    r: float


def trend(observations: Sequence[Observation]) -> Trend | None:
    """The line through observations in the order of their weeks; None through none. O(n)."""
    if not observations:
        return None
    ordered = sorted(observations, key=lambda observation: observation.week)
    m, b = ordered[0].value, 0.0
    p, q, r = FIRST_LEVEL**2, 0.0, FIRST_SLOPE**2  # variance of the level, covariance, variance of the slope
    before = ordered[0].week
    kept: list[_Step] = []
    for item in ordered:
        weeks = item.week - before
        before = item.week
        level_noise, both_noise, slope_noise = noise(weeks)
        m_ahead = m + weeks * b
        p_ahead = p + 2 * weeks * q + weeks * weeks * r + level_noise
        q_ahead = q + weeks * r + both_noise
        r_ahead = r + slope_noise
        error = item.value - m_ahead
        scatter = item.scatter**2
        below = -error / sqrt(p_ahead + scatter)
        if item.at_least and below > EASY:
            scatter *= (below / EASY) ** 4
        gain = p_ahead + scatter
        k_level, k_slope = p_ahead / gain, q_ahead / gain
        b_ahead = b
        m, b = m_ahead + k_level * error, b + k_slope * error
        p, q, r = p_ahead * (1 - k_level), q_ahead * (1 - k_level), r_ahead - k_slope * q_ahead
        kept.append(_Step(weeks, m_ahead, b_ahead, p_ahead, q_ahead, r_ahead, m, b, p, q, r))
    return Trend(tuple(_smoothed(kept, [item.week for item in ordered])), q)


def _smoothed(kept: Sequence[_Step], weeks: Sequence[float]) -> list[Level]:
    """The line looked back on: the smoother of Rauch, Tung and Striebel (1965, from memory). The covariance between a
    session's level and the last one's goes with it, so that a gain knows its own range."""
    m, b, p, q, r = kept[-1][6:]
    last_m, last_p = m, p
    levels = [Level(weeks[-1], m, sqrt(max(0.0, p)), b, sqrt(max(0.0, r)), 0.0, 0.0)]
    # the first column of the covariance of (level, slope) at this session with the level at the last one
    to_level, to_slope = p, q
    for at in range(len(kept) - 2, -1, -1):
        step, m_ahead, b_ahead, p_ahead, q_ahead, r_ahead = kept[at + 1][:6]
        m_own, b_own, p_own, q_own, r_own = kept[at][6:]
        determinant = p_ahead * r_ahead - q_ahead * q_ahead
        # J = P Fᵀ P_ahead⁻¹, with F = [[1, step], [0, 1]]
        a11, a12 = p_own + step * q_own, q_own
        a21, a22 = q_own + step * r_own, r_own
        j11 = (a11 * r_ahead - a12 * q_ahead) / determinant
        j12 = (a12 * p_ahead - a11 * q_ahead) / determinant
        j21 = (a21 * r_ahead - a22 * q_ahead) / determinant
        j22 = (a22 * p_ahead - a21 * q_ahead) / determinant
        d_level, d_slope = m - m_ahead, b - b_ahead
        d_p, d_q, d_r = p - p_ahead, q - q_ahead, r - r_ahead
        m = m_own + j11 * d_level + j12 * d_slope
        b = b_own + j21 * d_level + j22 * d_slope
        p = p_own + j11 * j11 * d_p + 2 * j11 * j12 * d_q + j12 * j12 * d_r
        q = q_own + j11 * j21 * d_p + (j11 * j22 + j12 * j21) * d_q + j12 * j22 * d_r
        r = r_own + j21 * j21 * d_p + 2 * j21 * j22 * d_q + j22 * j22 * d_r
        to_level, to_slope = j11 * to_level + j12 * to_slope, j21 * to_level + j22 * to_slope
        gained = max(0.0, p + last_p - 2 * to_level)
        levels.append(Level(weeks[at], m, sqrt(max(0.0, p)), b, sqrt(max(0.0, r)), last_m - m, sqrt(gained)))
    return levels[::-1]


def range_80(mean: float, deviation: float) -> tuple[float, float, float]:
    """The middle and the ends of the range that holds eight of ten, from logarithms to kilograms."""
    return exp(mean), exp(mean - MIDDLE_80 * deviation), exp(mean + MIDDLE_80 * deviation)
