"""Moments as they come from outside: with their time zone, and of this age. Everything that is sent uses this type."""

from __future__ import annotations

from datetime import UTC, datetime
from typing import Annotated

from pydantic import AfterValidator, AwareDatetime

EARLIEST, LATEST = datetime(2000, 1, 1, tzinfo=UTC), datetime(2100, 1, 1, tzinfo=UTC)


def _of_this_age(moment: datetime) -> datetime:
    if not EARLIEST <= moment <= LATEST:
        raise ValueError("a class is held between the years 2000 and 2100")
    return moment.astimezone(UTC)


Moment = Annotated[AwareDatetime, AfterValidator(_of_this_age)]
"""A moment in UTC, between the years 2000 and 2100."""
