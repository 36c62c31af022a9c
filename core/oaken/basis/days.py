"""Days and weeks: a week begins on its Monday."""

from __future__ import annotations

from datetime import date, timedelta


def monday_of(on: date) -> date:
    """The Monday of the week in which a day lies.

    >>> monday_of(date(2026, 11, 26))
    datetime.date(2026, 11, 23)
    """
    return on - timedelta(days=on.weekday())
