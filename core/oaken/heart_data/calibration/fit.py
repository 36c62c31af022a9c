"""Fitting a heart: level in class, gain and both time constants, held to the usual ones where recordings say little."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import TYPE_CHECKING

import numpy as np

from oaken.basis.faults import FaultyInput, faults_in
from oaken.basis.lazily import when_used
from oaken.domain.people import HeartFit, Person
from oaken.heart_data.calibration.recorded_path import EVERY_S, RecordedPath
from oaken.physiology.body import body_of
from oaken.physiology.heart_rate import Floats, HeartProfile

if TYPE_CHECKING:
    from scipy import optimize
else:
    optimize = when_used("scipy.optimize")


LEAST_MIN = 10.0
LEAST_SPREAD_BPM = 4.0
SEEN_SHARE = 0.65
"""Of a single recording this share is fitted first, and the rest tells how well an unseen part is forecast."""

NOISE_BPM = 3.0
ALIKE_S = 15.0
"""Readings closer together than this tell the same thing, so they count for less (common practice, no source)."""

USUAL_SPREAD = np.array([10.0, 0.35, 0.5, 0.5])
"""How far people lie from the usual: level in class in bpm, then gain and time constants as logarithms (common
practice, no source). It is what holds a fit back where a recording says little."""

BOUNDS = (
    np.array([35.0, np.log(0.5), np.log(10.0), np.log(20.0)]),
    np.array([115.0, np.log(1.8), np.log(180.0), np.log(360.0)]),
)
_STEP = np.array([0.5, 0.01, 0.02, 0.02])
NAMES = ("level in class", "gain", "time constant up", "time constant down")
AT_A_BOUND = 0.01
"""This near to a bound, as a share of the way from one to the other, a constant lies at it."""

LARGE = 2.0
"""Misses beyond this many standard deviations count as outliers: their pull grows no further."""


@dataclass(frozen=True, slots=True)
class Calibrated:
    """A fit and whether it is to be used: where it forecasts the unseen part no better than the usual heart does, or a
    constant ends at its bound, it is not. `why` says so in words; `at_bounds` names those constants."""

    fit: HeartFit
    better: bool
    why: str
    at_bounds: tuple[str, ...] = ()


def calibrate(person: Person, taken: Sequence[RecordedPath]) -> Calibrated:
    """Fit a person's heart to their recordings, the oldest first.

    The last class (of one recording, its last third) is forecast without having been seen before everything is fitted.
    Raises FaultyInput where there is too little to fit, or where heart-rate figures do not apply to this person.
    """
    if person.heart_medication:
        raise _faulty("heart-rate figures do not apply with heart medication", "effort targets instead")
    minutes = sum(item.seconds.size for item in taken) * EVERY_S / 60
    if minutes < LEAST_MIN:
        raise _faulty(f"{minutes:.0f} min of usable readings are too few", f"at least {LEAST_MIN:.0f} min")
    if float(np.concatenate([item.bpm for item in taken]).std()) < LEAST_SPREAD_BPM:
        raise _faulty("the heart rate hardly changes: there is nothing to learn from", "a class with work and rest")
    body = body_of(person.model_copy(update={"heart_fit": None}))
    usual = body.likely
    seen, unseen = _parted(taken)
    before = _misses(unseen, usual)
    after = _misses(unseen, _fitted(seen, usual))
    error, usual_error = float(np.abs(after).mean()), float(np.abs(before).mean())
    whole = _fitted(taken, usual)
    fit = HeartFit(
        level_bpm=round(whole.rest_bpm if whole.level_bpm is None else whole.level_bpm, 1),
        gain=round(whole.gain, 3),
        rise_s=round(whole.rise_s, 1),
        fall_s=round(whole.fall_s, 1),
        max_bpm=round(body.max_bpm.value, 1),
        vo2max=round(body.vo2max.value, 1),
        minutes=round(minutes, 1),
        classes=len(taken),
        error_bpm=round(error, 1),
        bias_bpm=round(float(after.mean()), 1),
        uncalibrated_error_bpm=round(usual_error, 1),
    )
    what = "an unseen class" if len(taken) > 1 else "the unseen last third"
    words = f"{what} was forecast to within {error:.1f} bpm on average; without calibration {usual_error:.1f} bpm"
    stuck = _at_bounds(whole)
    if stuck:
        words += f"; {' and '.join(stuck)} went to the end of what is possible: is this recording this person's?"
    return Calibrated(fit, error < usual_error and not stuck, words, stuck)


def _at_bounds(heart: HeartProfile) -> tuple[str, ...]:
    """The constants that were fitted to where no heart goes."""
    level = heart.rest_bpm if heart.level_bpm is None else heart.level_bpm
    point = np.array([level, np.log(heart.gain), np.log(heart.rise_s), np.log(heart.fall_s)])
    low, high = BOUNDS
    near = np.minimum(point - low, high - point) < AT_A_BOUND * (high - low)
    return tuple(name for name, here in zip(NAMES, near, strict=True) if here)


def _parted(taken: Sequence[RecordedPath]) -> tuple[list[RecordedPath], list[RecordedPath]]:
    """What is fitted first, and what is then forecast without having been seen."""
    if len(taken) > 1:
        return list(taken[:-1]), [taken[-1]]
    (one,) = taken
    cut = int(one.seconds.size * SEEN_SHARE)
    first = replace(one, seconds=one.seconds[:cut], bpm=one.bpm[:cut])
    return [first], [replace(one, seconds=one.seconds[cut:], bpm=one.bpm[cut:])]


def _misses(taken: Sequence[RecordedPath], profile: HeartProfile) -> Floats:
    return np.concatenate([item.rates([profile])[0] - item.bpm for item in taken])


def _fitted(taken: Sequence[RecordedPath], usual: HeartProfile) -> HeartProfile:
    """The heart that meets the readings best, the usual one being the likeliest beforehand."""
    centre = np.array([usual.rest_bpm, 0.0, np.log(usual.rise_s), np.log(usual.fall_s)])
    weight = np.sqrt(EVERY_S / ALIKE_S) / NOISE_BPM

    def misses(points: Sequence[Floats]) -> list[Floats]:
        profiles = [_profile(usual, point) for point in points]
        columns: list[list[Floats]] = [[] for _ in points]
        for item in taken:
            for column, rates in zip(columns, item.rates(profiles), strict=True):
                column.append((rates - item.bpm) * weight)
        return [
            np.concatenate([*column, (point - centre) / USUAL_SPREAD])
            for column, point in zip(columns, points, strict=True)
        ]

    def slopes(point: Floats) -> Floats:
        here, *moved = misses([point, *(point + step for step in np.diag(_STEP))])
        return np.array([(there - here) / step for there, step in zip(moved, _STEP, strict=True)]).T

    found = optimize.least_squares(
        lambda point: misses([point])[0],
        np.clip(centre, BOUNDS[0] + 1e-3, BOUNDS[1] - 1e-3),
        jac=slopes,
        bounds=BOUNDS,
        loss="soft_l1",
        f_scale=LARGE,
        x_scale=USUAL_SPREAD,
        max_nfev=60,
    )
    return _profile(usual, found.x)


def _profile(usual: HeartProfile, point: Floats) -> HeartProfile:
    level, gain, rise, fall = point.tolist()
    return replace(
        usual, level_bpm=level, gain=float(np.exp(gain)), rise_s=float(np.exp(rise)), fall_s=float(np.exp(fall))
    )


def _faulty(message: str, right: str) -> FaultyInput:
    return FaultyInput([faults_in("the recordings")("recordings", message, right)])
