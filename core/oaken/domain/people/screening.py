"""How a person's screening stands: a record of what was asked, never a clearance."""

from __future__ import annotations

from datetime import date

from pydantic import BaseModel

from oaken.domain.people.person import Screening

SCREENING_HOLDS_DAYS = 365
"""A screening older than a year is asked anew (common practice, no source)."""


class ScreeningState(BaseModel):
    """A screening in a word or two; `open` where it has to be settled before the person trains."""

    words: str
    open: bool


def screening_state(record: Screening | None, today: date) -> ScreeningState:
    """How a screening stands today."""
    if record is None:
        return ScreeningState(words="none on record", open=True)
    if (today - record.on).days > SCREENING_HOLDS_DAYS:
        return ScreeningState(words="over a year old", open=True)
    if record.some_yes and not record.advised:
        return ScreeningState(words="a yes, not advised", open=True)
    on = f"{record.on.day} {record.on:%b}"
    return ScreeningState(words=f"advised, {on}" if record.some_yes else f"no yes, {on}", open=False)
