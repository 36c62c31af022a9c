"""How a screening stands: open without a record, after a year, and after a yes without advice."""

from __future__ import annotations

from datetime import date

import pytest
from oaken.domain.people import Screening
from oaken.domain.people.screening import screening_state

TODAY = date(2026, 11, 25)


@pytest.mark.parametrize(
    ("record", "words", "is_open"),
    [
        (None, "none on record", True),
        (Screening(on=date(2025, 11, 24), some_yes=False), "over a year old", True),
        (Screening(on=date(2025, 11, 25), some_yes=False), "no yes, 25 Nov", False),
        (Screening(on=date(2026, 9, 1), some_yes=True), "a yes, not advised", True),
        (Screening(on=date(2026, 9, 1), some_yes=True, advised=True), "advised, 1 Sep", False),
    ],
)
def test_a_screening_is_settled_or_open(record: Screening | None, words: str, is_open: bool) -> None:
    state = screening_state(record, TODAY)
    assert (state.words, state.open) == (words, is_open)
