"""How many repetitions go with a share of the best, by the kind of movement: a leg press is not a leg curl."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache
from math import exp, log
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray
from pydantic import TypeAdapter

from oaken.basis.data_files import shipped_json
from oaken.domain.catalogue import Exercise

HALF_A_REP = 0.5
"""Whoever ends at a count could have done a part of the next one: in the middle, half."""

STRAIGHT_TO = 0.5
"""Down to this share of the best the curve is the published shape; below it falls by the same share for every
repetition (common practice, no source: nobody's best is told by so many)."""


TEN = 10 + HALF_A_REP - 1
"""Repetitions behind the first one where somebody ends at ten."""


class RepCurve(NamedTuple):
    """A curve of repetitions: the share of the best at r repetitions is 1 − lost at ten · ((r − 1) ÷ 9½)^power, where a
    count that ends a set stands for half a repetition more. Several curves at once are arrays."""

    lost_at_ten: float | NDArray[np.float64]
    power: float | NDArray[np.float64]


@dataclass(frozen=True, slots=True)
class MovementCurve:
    """A kind of movement: the share of the best that is lost at ten repetitions and the power with which it grows, how
    far people are from it (`spread`, one standard deviation of its logarithm), and where that comes from."""

    id: str
    lost_at_ten: float
    power: float
    spread: float
    source: str
    exercises: tuple[str, ...] = ()
    pattern: str = ""

    @property
    def usual(self) -> RepCurve:
        """The usual curve of this kind."""
        return RepCurve(self.lost_at_ten, self.power)


class _Table(NamedTuple):
    power_spread: float
    kinds: tuple[MovementCurve, ...]


@cache
def _shipped() -> _Table:
    return TypeAdapter(_Table).validate_python(shipped_json("oaken.physiology.strength", "movement_curves.json"))


def power_spread() -> float:
    """How far the powers of people's curves are from the usual one of the movement (one standard deviation)."""
    return _shipped().power_spread


def movement_curves() -> tuple[MovementCurve, ...]:
    """Every kind of movement that is told apart; the last one stands for all others."""
    return _shipped().kinds


def any_movement() -> MovementCurve:
    """The curve of a movement of which nothing is known."""
    return movement_curves()[-1]


def curve_of(exercise: Exercise | None) -> MovementCurve:
    """The curve of an exercise: its own kind's where it is a shipped one, or that of its pattern of movement."""
    if exercise is None:
        return any_movement()
    kinds = movement_curves()
    by_name = next((kind for kind in kinds if exercise.shipped_id in kind.exercises), None)
    return by_name or next((kind for kind in kinds if kind.pattern == exercise.pattern), any_movement())


def log_share(reps: float, curve: RepCurve) -> NDArray[np.float64]:
    """The logarithm of the share of the best at which so many completed repetitions end in failure.

    The leg press loses 0.127 at ten:

    >>> [round(float(np.exp(log_share(reps, RepCurve(0.127, 0.95)))), 2) for reps in (1, 15, 34)]
    [0.99, 0.81, 0.58]
    """
    lost, power = np.asarray(curve.lost_at_ten), np.asarray(curve.power)
    behind = max(0.0, reps + HALF_A_REP - 1) / TEN
    straight = 1 - lost * behind**power
    # where the share comes to a half, and how steeply it falls there
    corner = ((1 - STRAIGHT_TO) / lost) ** (1 / power)
    slope = lost * power * corner ** (power - 1) / STRAIGHT_TO
    fallen = log(STRAIGHT_TO) - slope * np.maximum(0.0, behind - corner)
    return np.where(straight >= STRAIGHT_TO, np.log(np.maximum(straight, STRAIGHT_TO)), fallen)


def best_from(load_kg: float, reps: float, curve: RepCurve) -> float:
    """The best (kg) that so many completed repetitions with a load stand for.

    >>> round(best_from(80, 12, RepCurve(0.158, 0.95)), 1)
    98.7
    """
    return load_kg * exp(-float(log_share(reps, curve)))
