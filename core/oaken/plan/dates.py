"""When a class is held: a day and a time, once or every so many weeks until it ends, holidays left out."""

from __future__ import annotations

import re
from datetime import date, timedelta
from typing import Annotated, NamedTuple

from pydantic import Field, model_validator

from oaken.domain.people import Closed

MOST_DATES = 120
DATED = re.compile(r"^(\d{4}-\d{2}-\d{2})[ T]((?:[01]\d|2[0-3]):[0-5]\d)$")
Day = Annotated[date, Field(ge=date(2000, 1, 1), le=date(2100, 1, 1))]


class Repeats(Closed):
    """Again every so many weeks on the same weekday and time, until a day (which counts), without some days."""

    every_weeks: Annotated[int, Field(ge=1, le=4)] = 1
    until: Day
    without: Annotated[tuple[Day, ...], Field(max_length=MOST_DATES)] = ()

    @model_validator(mode="after")
    def each_day_once(self) -> Repeats:
        if len(set(self.without)) < len(self.without):
            raise ValueError("a day is left out once")
        return self


class Occasion(NamedTuple):
    """One time that a class is held: its day and its time of day ("18:30"), where the studio is."""

    on: date
    time: str


def first_occasion(starts: str) -> Occasion | None:
    """The day and time of a class; None where its beginning is said in other words."""
    found = DATED.match(starts)
    if found is None:
        return None
    try:
        return Occasion(date.fromisoformat(found[1]), found[2])
    except ValueError:
        return None


def occasions(starts: str, repeats: Repeats | None) -> list[Occasion]:
    """Every time a class is held, in order; none where it has no date."""
    first = first_occasion(starts)
    if first is None:
        return []
    if repeats is None:
        return [first]
    found: list[Occasion] = []
    on = first.on
    while on <= repeats.until and len(found) < MOST_DATES:
        if on not in repeats.without:
            found.append(Occasion(on, first.time))
        on += timedelta(weeks=repeats.every_weeks)
    return found


def minutes_of(time: str) -> int:
    """Minutes since midnight. 18:30 → 1110."""
    hours, minutes = time.split(":")
    return 60 * int(hours) + int(minutes)
