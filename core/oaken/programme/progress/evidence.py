"""What a set says of somebody's best, and what it does not: how it ended matters more than the formula."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache
from math import exp

import numpy as np
from numpy.typing import NDArray

from oaken.physiology.strength import RepCurve, any_movement, log_share
from oaken.physiology.strength.one_rep_max import MOST_REPS, RELIABLE_REPS
from oaken.programme.progress.record import Ended, SetRecord

DAY_FORM = 0.025
"""How far one day lies from the line, as a share (common practice, no source)."""

TIRED = 0.03
"""By which share an open last set falls short, behind sets that were stopped (common practice, no source)."""

TOLD_SHORT = 0.02
"""By which share a best falls short where repetitions left were told: most people have more left than they say (common
practice, no source)."""

WEAK_SCATTER = 1.2
"""How much more a set above twelve repetitions scatters (common practice, no source)."""

TOLD_WITHIN, ALWAYS_TOLD_WITHIN = 0.75, 0.3
"""By how many repetitions what is told to be left is off, from set to set, and for a person always the same way
(common practice, no source: told within one)."""

RESERVES = np.arange(9.0)
USUAL_RESERVE, RESERVE_SPREAD, RESERVE_FROM_DAY_TO_DAY = 2.5, 1.7, 1.0
"""With how many repetitions in reserve people stop where it is planned: none to eight, the usual one, how far people
are from it, and how far one person is from their own from day to day (common practice, no source)."""


@dataclass(frozen=True, slots=True)
class Evidence:
    """What one set says of the best. `kg` is the best it stands for as it stands, `meant_kg` what it points to once it
    is told how the set ended. `scatter` is how far it may be off by itself, `common` how far all of this person's are
    off the same way (one standard deviation each, as shares). `at_least`: nobody knows how much more would have gone.
    `weak`: above twelve repetitions."""

    kg: float
    meant_kg: float
    reps: int
    scatter: float
    common: float
    at_least: bool
    weak: bool


@dataclass(frozen=True, slots=True)
class Reading:
    """The same for several curves at once: logarithms of the best as it stands and as it is meant, its scatter, the
    part of that which is not because repetitions are whole, and the logarithm of the step of one repetition."""

    stands: NDArray[np.float64]
    meant: NDArray[np.float64]
    scatter: NDArray[np.float64]
    in_itself: NDArray[np.float64]
    step: NDArray[np.float64]


def evidence_of(one: SetRecord, curve: RepCurve | None = None, *, tired: bool = False) -> Evidence | None:
    """What a set says of the best, by a curve (that of any movement where none is given); None where it says nothing.
    `tired`: sets that were stopped came before it."""
    if why_no_evidence(one):
        return None
    assert one.load_kg is not None
    assert one.reps is not None
    used = any_movement().usual if curve is None else curve
    return _evidence(one.load_kg, one.reps + (one.reps_left or 0), end_of(one), tired, used)


def end_of(one: SetRecord) -> Ended:
    """How a set ended. The first part of a cluster or of drops is a set of its own, of which nobody knows what was left
    unless it failed."""
    return "stopped" if one.pauses and one.ended != "failed" else one.ended


@lru_cache(maxsize=20_000)
def _evidence(load_kg: float, whole: int, ended: Ended, tired: bool, curve: RepCurve) -> Evidence:
    """The same sets are done again and again: each is weighed once."""
    read = reading(load_kg, whole, ended, curve, tired=tired)
    step = exp(float(read.step))
    always = {"failed": 0.0, "left": ALWAYS_TOLD_WITHIN, "stopped": RESERVE_SPREAD}[ended] * step
    return Evidence(
        kg=exp(float(read.stands)),
        meant_kg=exp(float(read.meant)),
        reps=whole,
        scatter=float(read.scatter),
        common=always,
        at_least=ended == "stopped",
        weak=whole > RELIABLE_REPS,
    )


def reading(load_kg: float, whole: int, ended: Ended, curve: RepCurve, *, tired: bool) -> Reading:
    """What a set with a load (kg) and so many repetitions, those told to be left counted, says of the best by a curve
    or by several."""
    here = log_share(whole, curve)
    step = here - log_share(whole + 1, curve)
    stands = np.log(load_kg) - here
    meant = stands + (TIRED if tired and ended == "failed" else 0.0)
    unsure = 0.0
    if ended == "left":
        meant, unsure = stands + TOLD_SHORT, TOLD_WITHIN
    elif ended == "stopped":
        shares = np.array([log_share(whole + float(left), curve) for left in RESERVES])
        meant, unsure = np.log(load_kg) - _reserve_weights() @ shares, RESERVE_FROM_DAY_TO_DAY
    # a count says the best within one repetition: a twelfth of its square, as of every rounding
    form = DAY_FORM * (WEAK_SCATTER if whole > RELIABLE_REPS else 1.0)
    in_itself = np.sqrt(form**2 + (step * unsure) ** 2)
    scatter = np.sqrt(in_itself**2 + step**2 / 12)
    return Reading(stands, meant, scatter, in_itself, np.log(step))


@lru_cache(maxsize=1)
def _reserve_weights() -> NDArray[np.float64]:
    weights = np.exp(-0.5 * ((RESERVES - USUAL_RESERVE) / RESERVE_SPREAD) ** 2)
    return np.asarray(weights / weights.sum())


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
