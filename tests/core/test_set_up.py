"""How somebody is set up for a set: one order, one way in words, and claims that are marked as such."""

from __future__ import annotations

from typing import get_args

import pytest
from oaken.domain.prescription import SetUp, Stance, read_set_up, stance_claims
from pydantic import ValidationError


@pytest.mark.parametrize(
    ("words", "again"),
    [
        ("belt", "belt"),
        ("straps, belt", "belt, straps"),
        ("Feet High, heels 2.5 cm, narrow, wedge", "feet high, narrow, heels 2.5 cm, wedge"),
        ("", ""),
    ],
)
def test_words_come_back_in_one_order(words: str, again: str) -> None:
    assert str(read_set_up(words)) == again
    assert read_set_up(again) == read_set_up(words)


@pytest.mark.parametrize("words", ["shoes", "heels 40 cm", "heels high cm", "belt, belt", "heels -1 cm"])
def test_what_is_no_set_up_is_refused(words: str) -> None:
    with pytest.raises(ValueError, match=r"."):
        read_set_up(words)


def test_a_position_is_said_once() -> None:
    with pytest.raises(ValidationError, match="said once"):
        SetUp(stance=("wide", "wide"))


def test_claims_are_about_positions_that_can_be_chosen() -> None:
    assert set(stance_claims()) <= set(get_args(Stance))
    assert stance_claims()["feet high"].startswith("the gluteals")
