"""The heart at the same work, and how far it comes down in the minute after: two numbers a recording."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from oaken.heart_data.calibration import RecordedPath
from oaken.physiology.heart_rate import Floats

SAME_WORK_MET = 5.0
"""The work at which hearts are laid side by side: brisk walking, light sets (common practice, no source)."""

SMOOTHING_S = 60.0
"""A heart follows the demand of about the last minute (common practice, no source)."""

MINUTE_S = 60.0
NEAR_S = 10.0
LEAST_READINGS = 60
"""Five minutes of readings."""

RESTING_MET = 2.6
"""Standing about and walking to the next machine (common practice, no source)."""

LEAST_SPREAD_MET = 1.0
"""A class in which the demand does not differ by this much says nothing of the heart at another."""

LEAST_SLOPE = 0.5
"""A rate that answers a MET with less than this, in bpm, is not an answer (common practice, no source)."""


@dataclass(frozen=True, slots=True)
class HeartAtWork:
    """Of one recording: the heart rate at 5 MET (bpm, with its range that holds eight of ten; None where the class does
    not tell), and by how much it fell in the minute after work, the middle of `rests` rests (bpm; None without any)."""

    at_work_bpm: float | None
    at_work_low: float | None
    at_work_high: float | None
    recovery_bpm: float | None
    rests: int


def heart_at_work(taken: RecordedPath) -> HeartAtWork:
    """What a recording over the path that was taken says, without any model of this heart."""
    at_work = _at_work(taken)
    falls = _falls(taken)
    middle, low, high = at_work or (None, None, None)
    return HeartAtWork(
        at_work_bpm=middle,
        at_work_low=low,
        at_work_high=high,
        recovery_bpm=round(float(np.median(falls)), 1) if falls else None,
        rests=len(falls),
    )


def _at_work(taken: RecordedPath) -> tuple[float, float, float] | None:
    """A straight line of heart rate over the demand of the last minute, read at 5 MET."""
    if taken.seconds.size < LEAST_READINGS:
        return None
    demand = _followed(taken)
    low, high = np.quantile(demand, (0.1, 0.9))
    if high - low < LEAST_SPREAD_MET:
        return None
    table = np.stack([np.ones_like(demand), demand - SAME_WORK_MET], axis=1)
    (middle, slope), *_ = np.linalg.lstsq(table, taken.bpm, rcond=None)
    if slope < LEAST_SLOPE:
        return None
    rest = taken.bpm - table @ np.array([middle, slope])
    # readings near one another tell the same: one in a minute counts
    own = max(3.0, taken.seconds.size / 12)
    normal = np.linalg.inv(table.T @ table) * (taken.seconds.size / own)
    error = float(np.sqrt(rest.var() * normal[0, 0]))
    return round(float(middle), 1), round(float(middle) - 1.2816 * error, 1), round(float(middle) + 1.2816 * error, 1)


def _followed(taken: RecordedPath) -> Floats:
    """The demand (MET) that the heart has followed at each reading: a mean over the past in which a minute ago counts
    a third of now."""
    ends = taken.stretches.start_s + taken.stretches.duration_s
    every = np.arange(0.0, float(ends.max()) + 1.0)
    place = np.minimum(np.searchsorted(ends, every, side="right"), ends.size - 1)
    demand = taken.met[taken.stretches.step[place]]
    followed = np.empty_like(demand)
    share = 1 - np.exp(-1.0 / SMOOTHING_S)
    level = float(demand[0])
    for at, now in enumerate(demand.tolist()):
        level += share * (now - level)
        followed[at] = level
    return np.asarray(np.interp(taken.seconds, every, followed))


def _falls(taken: RecordedPath) -> list[float]:
    """By how much the heart rate fell in each minute of rest that followed work."""
    start, end = taken.stretches.start_s, taken.stretches.start_s + taken.stretches.duration_s
    met = taken.met[taken.stretches.step]
    resting = met <= RESTING_MET
    found: list[float] = []
    begun: float | None = None
    for at in range(start.size):
        if resting[at] and (at == 0 or not resting[at - 1]):
            begun = float(start[at]) if at else None
        if begun is not None and (not resting[at] or at == start.size - 1):
            until = float(start[at]) if not resting[at] else float(end[at])
            if until - begun >= MINUTE_S:
                then, after = _near(taken, begun), _near(taken, begun + MINUTE_S)
                if then is not None and after is not None:
                    found.append(then - after)
            begun = None
    return found


def _near(taken: RecordedPath, second: float) -> float | None:
    near = np.abs(taken.seconds - second) <= NEAR_S
    return float(taken.bpm[near].mean()) if np.any(near) else None
