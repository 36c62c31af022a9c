"""What a set says of somebody's best, and what it does not: how it ended matters more than the formula."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache, lru_cache
from math import exp, hypot, log, sqrt
from statistics import fmean, pvariance

from oaken.physiology.strength.one_rep_max import MOST_REPS, RELIABLE_REPS, BestFormula, best_kg
from oaken.programme.progress.record import Ended, SetRecord

SHORT_OF_BEST = {"failed": 0.013, "failed last": 0.03, "left": 0.02, "stopped": 0.075}
"""By which share the best of a set falls short of the truth, by how it ended: at failure, at failure behind sets that
were stopped (a tired one), with repetitions left that were told, stopped where it was planned to (from simulated
histories; common practice, no source)."""

SCATTER = {"failed": 0.034, "left": 0.038, "stopped": 0.051}
"""How far one day's best set scatters around the trend, as a share, by how it ended (common practice, no source)."""

WEAK_SCATTER = 1.6
"""How much more a set above twelve repetitions scatters, beside what the formulas then differ by (common practice, no
source)."""

FIVE: tuple[BestFormula, ...] = ("epley", "brzycki", "lombardi", "wathen", "oconner")
"""The formulas whose mean stands for a set: those with which the ways a set ends were tried."""

OWN_CURVE = 0.13
"""How far somebody's own repetitions at a load are from anybody's, as a share (common practice, no source)."""


@dataclass(frozen=True, slots=True)
class Evidence:
    """What one set says of the best. `kg` is the mean of the five formulas as it stands, `meant_kg` what it points to
    once it is told how the set ended, `scatter` its share of scatter, `curve` how far the way from repetitions to a
    best may be off for this person and formula (both one standard deviation, as shares). `at_least`: nobody knows how
    much more would have gone. `weak`: above twelve repetitions."""

    kg: float
    meant_kg: float
    reps: int
    scatter: float
    curve: float
    at_least: bool
    weak: bool


def evidence_of(one: SetRecord, *, tired: bool = False) -> Evidence | None:
    """What a set says of the best; None where it says nothing. `tired`: sets that were stopped came before it."""
    if why_no_evidence(one):
        return None
    assert one.load_kg is not None
    assert one.reps is not None
    return _evidence(one.load_kg, one.reps + (one.reps_left or 0), one.ended, one.pauses, tired)


@lru_cache(maxsize=20_000)
def _evidence(load_kg: float, whole: int, ended: Ended, pauses: bool, tired: bool) -> Evidence:
    """The same sets are done again and again: each is weighed once."""
    weak = whole > RELIABLE_REPS
    scatter = SCATTER[ended]
    if weak:
        # the formulas part ways: what is not known of the way to a best is no longer the same from day to day
        scatter = hypot(scatter * WEAK_SCATTER, curve_share(whole) - curve_share(RELIABLE_REPS))
    if pauses:
        # the first part of a cluster or of drops is a set of its own, of which nobody knows what was left
        scatter = max(scatter, SCATTER["stopped"])
    told = "stopped" if pauses and ended != "failed" else ended
    short = SHORT_OF_BEST["failed last" if told == "failed" and tired else told]
    kg = mean_best_kg(load_kg, whole)
    return Evidence(
        kg=kg,
        meant_kg=kg * (1 + short),
        reps=whole,
        scatter=scatter,
        curve=curve_share(whole),
        at_least=ended == "stopped",
        weak=weak,
    )


def why_no_evidence(one: SetRecord) -> str:
    """Why a set says nothing of the best, in words; empty where it does."""
    if one.load_kg is None or one.load_kg <= 0:
        return "no load is known"
    if one.reps is None:
        return "it went by the clock"
    if one.reps < 1:
        return "no repetition was done"
    if one.helped:
        return "it was helped"
    if one.poor:
        return "form was poor"
    if one.partial:
        return "it was not done all the way"
    if one.reps + (one.reps_left or 0) > MOST_REPS:
        return f"more than {MOST_REPS} repetitions"
    return ""


@cache
def _bests_of_one(reps: float) -> tuple[float, ...]:
    """The bests, by each formula, that so many repetitions with 1 kg stand for."""
    return tuple(best_kg(name, 1.0, reps) for name in FIVE)


def mean_best_kg(load_kg: float, reps: float) -> float:
    """The best that a set to failure stands for: the mean of the five formulas. 100 kg × 8 → 124.3.

    >>> round(mean_best_kg(100, 8), 1)
    124.3
    """
    return load_kg * fmean(_bests_of_one(reps))


@cache
def curve_share(reps: float) -> float:
    """How far the way from so many repetitions to a best may be off, one standard deviation as a share: the person's
    own curve, and how far the five formulas are apart. 1 repetition → 0.

    >>> round(curve_share(10), 3)
    0.046
    """
    if reps <= 1:
        return 0.0
    found = [log(best_kg(name, 100.0, reps)) for name in FIVE]
    own = OWN_CURVE * reps / (30 + reps)
    return sqrt(own**2 + pvariance(found))


def widened(kg: float, share: float) -> tuple[float, float]:
    """A range around a load by a share, the same factor down and up."""
    return kg * exp(-share), kg * exp(share)
