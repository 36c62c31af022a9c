"""A goal with a date: whether the trend reaches it, with its uncertainty."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from math import log
from statistics import NormalDist
from typing import Annotated, Literal

from pydantic import Field

from oaken.domain.people import Closed
from oaken.programme.progress.series import Series, best_at, week_of
from oaken.programme.progress.trend import range_80

LIKELY, UNLIKELY = 0.8, 0.2
"""From this chance on a goal counts as within reach, and below that as out of it."""

FURTHEST_WEEKS = 52
"""Further ahead than a year nothing is said of a trend."""


class Goal(Closed):
    """A best that somebody wants to lift once, by a day."""

    exercise: Annotated[str, Field(min_length=1, max_length=60)]
    best_kg: Annotated[float, Field(gt=0, le=900)]
    by: Annotated[date, Field(ge=date(2000, 1, 1), le=date(2100, 1, 1))]


@dataclass(frozen=True, slots=True)
class Prospect:
    """What the trend says of a goal: the best to expect on that day with the range that holds eight of ten (kg), the
    chance that the goal is reached by then (0 to 1), and that in words."""

    expected_kg: float
    low_kg: float
    high_kg: float
    chance: float
    verdict: Literal["within reach", "open", "out of reach as it goes"]


def prospect(series: Series, goal: Goal) -> Prospect | None:
    """Whether the line through all sessions reaches a goal; None where nothing is known of the best, or the day is more
    than a year behind the last session."""
    weeks = week_of(goal.by)
    if series.line is None or weeks > series.line.last.week + FURTHEST_WEEKS:
        return None
    found = best_at(series, max(weeks, series.line.last.week))
    assert found is not None
    mean, deviation = found
    middle, low, high = range_80(mean, deviation)
    chance = 1 - NormalDist(mean, max(deviation, 1e-6)).cdf(log(goal.best_kg))
    verdict: Literal["within reach", "open", "out of reach as it goes"] = (
        "within reach" if chance >= LIKELY else "out of reach as it goes" if chance < UNLIKELY else "open"
    )
    return Prospect(round(middle, 1), round(low, 1), round(high, 1), round(chance, 3), verdict)
