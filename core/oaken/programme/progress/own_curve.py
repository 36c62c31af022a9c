"""Somebody's own curve of repetitions: the usual one of the movement, narrowed by their own sets at different loads.

Every curve of a grid around the usual one is tried: with it the sessions say their bests, a line goes through these,
and how well the line foresees each next session says how likely that curve is. The line itself is that of `trend`,
filtered for all of the grid at once.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from math import log

import numpy as np
from numpy.typing import NDArray
from scipy.special import ndtr

from oaken.physiology.strength import MovementCurve, RepCurve, power_spread
from oaken.programme.progress.evidence import Reading, end_of, reading
from oaken.programme.progress.record import Ended, SetRecord
from oaken.programme.progress.trend import EASY, FIRST_LEVEL, FIRST_SLOPE, noise

REACH = np.linspace(-2.5, 2.5, 21)
SHAPES = np.linspace(-1.6, 1.6, 5)
"""Which curves are tried: what is lost at ten, and the power, in standard deviations from the usual ones. The power is
tried since a curve that fits the repetitions somebody does may still lead to another best."""

LEAST_POWER = 0.4
NEVER = 1e-12
"""Nothing that was done is quite impossible."""

NEAR, TELL_AT_MOST = 0.06, 3.0
"""Sessions whose loads lie so near one another (as logarithms) tell of the curve as much as so many of them, however
many there are: what is wrong with a curve is wrong with all of them (from trials in invented worlds; no source)."""

LEFT_TELLS, STOPPED_TELLS = 0.5, 0.25
"""What a set says of a curve of which it was told how much was left, and one that was stopped where nobody knows it,
beside one that went to its end (from trials in invented worlds; no source)."""


@dataclass(frozen=True, slots=True)
class CurveSeen:
    """The set by which a session tells of the curve: when (weeks), the set, whether it came behind sets that were
    stopped, and whether it counts as it stands."""

    week: float
    one: SetRecord
    tired: bool
    as_it_stands: bool


@dataclass(frozen=True, slots=True)
class OwnCurve:
    """Somebody's own curve, how far what is lost at ten may be off (one standard deviation of its logarithm), and what
    that makes of the line at every session: how far the best there may be off, and how far from the last session's."""

    curve: RepCurve
    spread: float
    unsure: tuple[float, ...]
    apart: tuple[float, ...]


def own_curve(seen: Sequence[CurveSeen], usual: MovementCurve) -> OwnCurve:
    """The curve that these sessions, in the order of their weeks, make likely. O(sessions)."""
    lost, shape = (values.ravel() for values in np.meshgrid(REACH, SHAPES))
    tried = RepCurve(
        usual.lost_at_ten * np.exp(usual.spread * lost), np.maximum(LEAST_POWER, usual.power + power_spread() * shape)
    )
    if not seen:
        return OwnCurve(usual.usual, usual.spread, (), ())
    levels, told = _filtered(seen, _readings(seen, tried))
    likely = told - 0.5 * (lost**2 + shape**2)
    weights = np.exp(likely - likely.max())
    weights /= weights.sum()
    logs = np.log(tried.lost_at_ten)
    return OwnCurve(
        curve=RepCurve(float(np.exp(weights @ logs)), float(weights @ tried.power)),
        spread=_deviation(logs, weights),
        unsure=tuple(_deviation(level, weights) for level in levels),
        apart=tuple(_deviation(levels[-1] - level, weights) for level in levels),
    )


def _readings(seen: Sequence[CurveSeen], tried: RepCurve) -> list[Reading]:
    """What every session says; the same repetitions say the same of a kilogram, and are read once."""
    of_a_kilogram: dict[tuple[int, Ended, bool], Reading] = {}
    found = []
    for item in seen:
        one = item.one
        assert one.load_kg is not None
        assert one.reps is not None
        key = (one.reps + (one.reps_left or 0), end_of(one), item.tired)
        if key not in of_a_kilogram:
            of_a_kilogram[key] = reading(1.0, key[0], key[1], tried, tired=item.tired)
        read, load = of_a_kilogram[key], log(one.load_kg)
        found.append(replace(read, stands=read.stands + load, meant=read.meant + load))
    return found


def _deviation(values: NDArray[np.float64], weights: NDArray[np.float64]) -> float:
    return float(np.sqrt(weights @ (values - weights @ values) ** 2))


def _filtered(
    seen: Sequence[CurveSeen], readings: Sequence[Reading]
) -> tuple[list[NDArray[np.float64]], NDArray[np.float64]]:
    """The level of the line at every session by each curve, and how likely each curve makes what was done."""
    loads = np.log([item.one.load_kg or 1.0 for item in seen])
    near = (np.abs(loads[:, None] - loads[None, :]) < NEAR).sum(axis=1)
    tells = np.minimum(1.0, TELL_AT_MOST / near)
    values = [read.stands if item.as_it_stands else read.meant for item, read in zip(seen, readings, strict=True)]
    m = values[0]
    zero = np.zeros_like(m)
    b, p, q, r, likely = zero, zero + FIRST_LEVEL**2, zero, zero + FIRST_SLOPE**2, zero
    levels: list[NDArray[np.float64]] = []
    before = seen[0].week
    for item, value, read, tell in zip(seen, values, readings, tells, strict=True):
        ahead, before = item.week - before, item.week
        level_noise, both_noise, slope_noise = noise(ahead)
        m = m + ahead * b
        p, q, r = p + 2 * ahead * q + ahead * ahead * r + level_noise, q + ahead * r + both_noise, r + slope_noise
        error, scatter = value - m, read.scatter**2
        if end_of(item.one) == "stopped":
            below = np.maximum(EASY, -error / np.sqrt(p + scatter))
            scatter = scatter * (below / EASY) ** 4
            likely = likely - tell * STOPPED_TELLS * 0.5 * error**2 / (p + scatter)
        else:
            # repetitions are seen at a load, not a best: what is likely is the stretch of bests that ends in this count
            half, spread = 0.5 * np.exp(read.step), np.sqrt(p + read.in_itself**2)
            known = LEFT_TELLS if end_of(item.one) == "left" else 1.0
            likely = likely + tell * known * np.log(
                ndtr((error + half) / spread) - ndtr((error - half) / spread) + NEVER
            )
        gain = p + scatter
        k_level, k_slope = p / gain, q / gain
        m, b = m + k_level * error, b + k_slope * error
        p, q, r = p * (1 - k_level), q * (1 - k_level), r - k_slope * q
        levels.append(m)
    return levels, likely
