"""What stands beside a set: last time at the same scheme and what is to beat, whichever weeks lie between."""

from __future__ import annotations

from dataclasses import replace
from datetime import date, timedelta
from typing import Any

import pytest
from logbooks import START, a_day, done
from oaken.programme.progress import SetRecord, set_targets

HEAVY, LIGHT = ((4, 6),) * 3, ((10, 12),) * 3


def week(number: int, kg: float, *reps: int, low: int = 4, high: int = 6, **told: Any) -> list[SetRecord]:
    """Sets of a week, counted from 1."""
    on = START + timedelta(days=7 * (number - 1))
    return a_day(kg, reps, on=on, run=number, low=low, high=high, **told)


def words(records: list[SetRecord], planned: Any) -> dict[int, str]:
    """Each target in words, by the number of its set."""
    return {target.number: target.words for target in set_targets(records, planned)}


def test_the_last_day_of_the_same_scheme_counts_and_not_the_last_week() -> None:
    records = [*week(1, 100, 6, 6, 5), *week(2, 60, 12, 12, 12, low=10, high=12), *week(3, 62.5, 11, low=10, high=12)]
    assert words(records, HEAVY) == {1: "100 kg × 6", 2: "100 kg × 6", 3: "100 kg × 5"}
    assert words(records, LIGHT) == {
        1: "62.5 kg × 11",
        2: "60 kg × 12",
        3: "60 kg × 12",
    }


def test_what_is_to_beat_is_the_best_at_this_scheme_where_it_was_more() -> None:
    records = [*week(1, 105, 6, 5, 5), *week(2, 100, 6, 6, 6)]
    assert words(records, HEAVY) == {
        1: "100 kg × 6, best 105 kg × 6",
        # 105 kg × 5 is more than 100 kg × 6 by load × (1 + repetitions ÷ 30): 122.5 against 120
        2: "100 kg × 6, best 105 kg × 5",
        3: "100 kg × 6, best 105 kg × 5",
    }
    (first, *_) = set_targets(records, HEAVY)
    assert (first.last.on, first.best and first.best.on) == (START + timedelta(days=7), START)


def test_sets_of_a_falling_scheme_are_laid_beside_their_own() -> None:
    sets = [done(kg, reps, number, low=reps, high=reps, sets=4) for number, (kg, reps) in
            enumerate([(60, 12), (65, 10), (70, 8), (75, 6)], 1)]  # fmt: skip
    planned = tuple((reps, reps) for reps in (12, 10, 8, 6))
    assert words(sets, planned) == {1: "60 kg × 12", 2: "65 kg × 10", 3: "70 kg × 8", 4: "75 kg × 6"}
    assert words(sets, tuple((reps, reps) for reps in (10, 8, 6, 4))) == {}


def test_a_class_that_was_cut_short_still_says_what_it_had() -> None:
    assert words(week(1, 100, 6, 6), HEAVY) == {1: "100 kg × 6", 2: "100 kg × 6"}


@pytest.mark.parametrize("told", [{"helped": True}, {"poor": True}])
def test_a_helped_or_poor_set_is_no_target(told: dict[str, Any]) -> None:
    records = [*week(1, 90, 6, 6, 6), *week(2, 100, 6, 6, 6, **told)]
    assert words(records, HEAVY) == {number: "90 kg × 6" for number in (1, 2, 3)}


def test_without_a_load_repetitions_and_seconds_are_to_beat() -> None:
    free = [done(None, 14, low=None, high=None), done(None, 12, low=None, high=None, on=date(2026, 2, 2), run=2)]
    assert words(free, (None,)) == {1: "12, best 14"}
    held = [done(None, None, low=None, high=None, seconds=45.0)]
    assert words(held, (None,)) == {1: "45 s"}
    # what only the clock says is no target: everybody has it
    assert words([done(None, None, low=None, high=None, seconds=40.0, as_planned=True)], (None,)) == {}


def test_of_left_and_right_the_weaker_side_is_the_target() -> None:
    sides = [done(20, 10, side="left"), done(20, 12, side="right")]
    assert words(sides, ((8, 10),)) == {1: "20 kg × 10"}


def test_two_parts_of_one_class_are_each_a_scheme() -> None:
    records = [*week(1, 100, 6, 6, 6), *week(1, 60, 12, 12, 12, low=10, high=12, part="q")]
    assert words(records, LIGHT) == {number: "60 kg × 12" for number in (1, 2, 3)}


def test_only_sets_with_the_same_set_up_are_laid_beside() -> None:
    plain = [done(80, 10, number, low=10, high=10) for number in (1, 2)]
    belted = [replace(item, load_kg=100.0, set_up="belt", on=START + timedelta(days=7), run=2) for item in plain]
    windows = [(10, 10), (10, 10)]
    assert [item.last.load_kg for item in set_targets([*plain, *belted], windows, ("", ""))] == [80, 80]
    assert [item.last.load_kg for item in set_targets([*plain, *belted], windows, ("belt", "belt"))] == [100, 100]
    assert [item.last.load_kg for item in set_targets([*plain, *belted], windows)] == [100, 100]
    short = [replace(item, set_up="range cut short") for item in plain]
    assert set_targets(short, windows, ("", "")) == []
