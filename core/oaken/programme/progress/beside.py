"""The same exercise on two days side by side: better, not better, or not comparable, and why not."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from math import exp, log, sqrt
from statistics import fmean, stdev
from typing import Literal

from oaken.physiology.strength import RepCurve
from oaken.programme.progress.evidence import evidence_of
from oaken.programme.progress.record import SetRecord
from oaken.programme.progress.series import Series, Session, gain_since, series_of, sessions_of
from oaken.programme.progress.trend import MIDDLE_80

Beats = Literal["yes", "no", "the same", "not comparable"]


@dataclass(frozen=True, slots=True)
class Beside:
    """An exercise in an earlier and a later session. `beats` is told by load × repetitions, with `why` in words.

    `gain`, `gain_low` and `gain_high` are what the line says of the best between the two (shares; None where it says
    nothing).
    """

    exercise: str
    earlier: Session | None
    later: Session | None
    beats: Beats
    why: str
    gain: float | None
    gain_low: float | None
    gain_high: float | None
    series: Series


def beside(exercise: str, series: Series, earlier: Iterable[int], later: Iterable[int]) -> Beside:
    """Two sessions beside one another: the last of the earlier classes and the last of the later ones (`run` numbers)
    in which the exercise was done."""
    before, after = _last_of(series, set(earlier)), _last_of(series, set(later))
    if before is None or after is None:
        missing = "neither" if before is None and after is None else "the earlier" if before is None else "the later"
        when = "of the two weeks" if missing == "neither" else "week"
        return Beside(
            exercise, before, after, "not comparable", f"not done in {missing} {when}", None, None, None, series
        )
    why_not = why_not_comparable(before, after)
    gain, low, high = _gain(series, before, after)
    if why_not:
        return Beside(exercise, before, after, "not comparable", why_not, gain, low, high, series)
    first, second = before.volume_kg or 0.0, after.volume_kg or 0.0  # every set has a load, or they were not compared
    difference = round(second - first, 2)
    told = f"{second:,.0f} kg after {first:,.0f} kg (load × repetitions)"
    beats: Beats = "yes" if difference > 0 else "no" if difference < 0 else "the same"
    return Beside(exercise, before, after, beats, told, gain, low, high, series)


def why_not_comparable(before: Session, after: Session) -> str:
    """Why two sessions cannot be laid side by side; empty where they can."""
    if any(each_set.helped or each_set.helped_reps for each_set in (*before.sets, *after.sets)):
        return "some of it was helped"
    apart = [sorted({item.set_up for item in session.sets}) for session in (before, after)]
    if apart[0] != apart[1]:
        was, now = (" / ".join(item or "as usual" for item in own) for own in apart)
        return f"set up otherwise: {was}, then {now}"
    if before.scheme.windows != after.scheme.windows:
        return f"another scheme: {before.scheme.words}, then {after.scheme.words}"
    if before.scheme.units != after.scheme.units:
        return f"on another unit: {_units(before)}, then {_units(after)}"
    if _sides(before) != _sides(after):
        return "sides were logged on one day only"
    if not all(each_set.load_kg for each_set in (*before.sets, *after.sets)):
        return "not every set has a load"
    if any(each_set.reps is None for each_set in (*before.sets, *after.sets)):
        return "it goes by the clock: repetitions were not counted"
    return ""


def _units(session: Session) -> str:
    return " and ".join(session.scheme.units) or "none"


def _sides(session: Session) -> bool:
    return any(each_set.side for each_set in session.sets)


def _last_of(series: Series, runs: set[int]) -> Session | None:
    return next((session for session in reversed(series.sessions) if session.run in runs), None)


def _gain(series: Series, before: Session, after: Session) -> tuple[float | None, float | None, float | None]:
    """What a line through the sessions up to the later one says of the time between the two."""
    known = [each_set for session in series.sessions if session.on <= after.on for each_set in session.sets]
    found = gain_since(series_of(known, series.usual), before.on)
    return (None, None, None) if found is None else (found.share, found.low, found.high)


@dataclass(frozen=True, slots=True)
class Sides:
    """Left against right: how much more the right one does, as a share of the left one, with its range that holds eight
    of ten over the last sessions, and how many those are."""

    right_over_left: float
    low: float
    high: float
    sessions: int
    differs: bool


LAST_SESSIONS = 8
"""Sessions that are looked at for left and right."""


def left_and_right(sets: Iterable[SetRecord], curve: RepCurve | None = None) -> Sides | None:
    """Left against right by the best of each side, session by session (`curve`: the one they are told by); None
    where sides were not written down twice."""
    found: list[float] = []
    sets = [each_set for each_set in sets if each_set.side]
    for session in sessions_of(sets):
        best = {
            side: max(
                (
                    one.meant_kg
                    for own in session.sets
                    if own.side == side and (one := evidence_of(own, curve)) is not None
                ),
                default=None,
            )
            for side in ("left", "right")
        }
        left, right = best["left"], best["right"]
        if left is not None and right is not None:
            found.append(log(right / left))
    found = found[-LAST_SESSIONS:]
    if len(found) < 2:
        return None
    middle = fmean(found)
    spread = MIDDLE_80 * max(stdev(found), 0.02) / sqrt(len(found))
    low, high = exp(middle - spread) - 1, exp(middle + spread) - 1
    return Sides(exp(middle) - 1, low, high, len(found), low > 0 or high < 0)
