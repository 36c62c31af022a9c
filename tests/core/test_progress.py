"""Whether it got better: evidence, the line, the same scheme side by side, goals, and sets freed of their class."""

from __future__ import annotations

from collections import Counter
from dataclasses import replace
from datetime import UTC, date, datetime, timedelta
from pathlib import Path
from random import Random

import pytest
from hypothesis import given
from hypothesis import strategies as st
from logbooks import KINDS, START, a_day, done, later, simulated, without
from oaken.programme.progress import (
    Goal,
    beside,
    evidence_of,
    gain_since,
    left_and_right,
    prospect,
    series_of,
    set_records,
    why_no_evidence,
)
from oaken.schedule.class_file.reading import load_class
from oaken.session import log_of, replay_events, simulated_events
from oaken.session.events import AsPlanned, Began, Ended, Event, SetDone

EXAMPLES = Path(__file__).parents[2] / "examples"


@pytest.mark.parametrize(
    ("one", "why"),
    [
        (done(None, 10), "no load"),
        (done(80, None), "by the clock"),
        (done(80, 0), "no repetition"),
        (done(80, 10, helped=True), "helped"),
        (done(80, 10, poor=True), "form"),
        (done(20, 40), "more than 30"),
        (done(80, 10), ""),
    ],
)
def test_what_counts_as_evidence_is_said(one: object, why: str) -> None:
    assert why in why_no_evidence(one)  # type: ignore[arg-type]
    assert (evidence_of(one) is None) == bool(why)  # type: ignore[arg-type]


def test_how_a_set_ended_counts() -> None:
    failed, told, stopped = (evidence_of(done(80, 8, **how)) for how in (
        {"ended": "failed"}, {"ended": "left", "reps_left": 2}, {"ended": "stopped"}))  # fmt: skip
    assert failed
    assert told
    assert stopped
    assert told.reps == 10
    assert told.kg > failed.kg == stopped.kg
    assert stopped.at_least
    assert not failed.at_least
    assert stopped.scatter > told.scatter > failed.scatter
    weak = evidence_of(done(60, 15, ended="failed"))
    assert weak
    assert weak.weak
    assert weak.scatter > failed.scatter


def test_a_set_above_twelve_repetitions_is_marked_weak() -> None:
    best = series_of(a_day(50, [16, 15, 14], ended="failed")).best()
    assert best is not None
    assert "weak evidence" in best.note


def test_a_level_through_all_sessions_is_calmer_than_the_best_of_a_day() -> None:
    history = simulated("level", 4, ended="failed")
    series = series_of(history.sets)
    assert series.line is not None
    days = [session.evidence.meant_kg for session in series.sessions if session.evidence]
    line = [series.best(place).value for place in range(len(series.seen))]
    assert max(line) - min(line) < (max(days) - min(days)) / 2


def _weekly(*days: tuple[float, list[int], str]) -> list:  # type: ignore[type-arg]
    return [
        item
        for week, (kg, reps, ended) in enumerate(days)
        for item in a_day(kg, reps, on=START + timedelta(weeks=week), run=week + 1, ended=ended)
    ]


def test_an_easy_day_that_was_stopped_as_planned_is_no_step_back() -> None:
    hard = [(80.0, [8, 8, 7], "failed")] * 6
    before = series_of(_weekly(*hard)).best()
    easy = series_of(_weekly(*hard, *[(50.0, [8, 8, 8], "stopped")] * 3))
    after = easy.best()
    assert before is not None
    assert after is not None
    assert after.value > 0.97 * before.value
    assert after.high - after.low > before.high - before.low, "three weeks on, less is known"
    failed = series_of(_weekly(*hard, *[(50.0, [8, 8, 8], "failed")] * 3)).best()
    assert failed is not None
    assert failed.value < 0.8 * before.value, "the same sets to failure are a step back"


def test_worse_is_said_only_where_a_later_session_went_to_its_end() -> None:
    falling = [(80.0 - 2 * week, [8, 8, 8], "stopped") for week in range(8)]
    assert _verdict(_weekly(*falling)) == "not told apart"
    assert _verdict(_weekly(*[(kg, reps, "failed") for kg, reps, _ in falling])) == "worse"


@pytest.mark.parametrize("kind", sorted(KINDS))
def test_ranges_hold_the_true_best_in_most_cases(kind: str) -> None:
    held = []
    for seed in range(20):
        history = simulated(kind, seed)
        best = series_of(history.sets).best()
        assert best is not None
        held.append(best.low <= history.truth[-1] <= best.high)
    assert sum(held) >= 13  # 80 % of 20 are 16; below 13 in one of 30 when that is true


def test_a_history_without_gain_is_seldom_called_better() -> None:
    said = Counter(_verdict(simulated("level", seed).sets) for seed in range(40))
    assert said["better"] <= 5
    gains = Counter(_verdict(simulated("fast, then level", seed, a_week=3).sets) for seed in range(20))
    assert gains["better"] >= 15


def _verdict(sets: list) -> str:  # type: ignore[type-arg]
    found = gain_since(series_of(sets), START)
    assert found is not None
    return found.verdict


@given(st.integers(0, 30), st.integers(0, 71), st.randoms(use_true_random=False))
def test_order_of_entry_does_not_matter_and_a_withdrawn_set_restores(seed: int, place: int, mix: Random) -> None:
    sets = simulated("steady", seed).sets
    shuffled = sets[:]
    mix.shuffle(shuffled)
    assert series_of(shuffled) == series_of(sets)
    more = without(sets, place % len(sets))
    assert series_of([*more, sets[place % len(sets)]]) == series_of(sets)


def test_the_same_scheme_side_by_side() -> None:
    before, after = a_day(80, [10, 8, 6]), later(a_day(90, [10, 8, 8]), 28)
    series = series_of([*before, *after])
    found = beside("leg-press", series, [1], [1001])
    assert (found.beats, found.why) == ("yes", "2,340 kg after 1,920 kg (load × repetitions)")
    assert found.gain is not None
    assert beside("leg-press", series, [1001], [1]).beats == "no"
    assert beside("leg-press", series, [1], [1]).beats == "the same"


@pytest.mark.parametrize(
    ("after", "why"),
    [
        (a_day(90, [10, 8, 8], low=6, high=8), "another scheme: 3 × 8–10, then 3 × 6–8"),
        (a_day(90, [10, 8]), "another scheme"),
        (a_day(90, [10, 8, 8], unit="press-2"), "on another unit: press-1, then press-2"),
        (a_day(90, [10, 8, 8], helped=True), "helped"),
        ([replace(item, side="left") for item in a_day(90, [10, 8, 8])], "sides"),
        ([replace(item, load_kg=None) for item in a_day(90, [10, 8, 8])], "not every set has a load"),
        ([replace(item, reps=None) for item in a_day(90, [10, 8, 8])], "by the clock"),
    ],
)
def test_what_cannot_be_compared_says_why(after: list, why: str) -> None:  # type: ignore[type-arg]
    series = series_of([*a_day(80, [10, 8, 6]), *later(after, 28)])
    found = beside("leg-press", series, [1], [1001])
    assert found.beats == "not comparable"
    assert why in found.why


def test_an_exercise_of_one_week_only_is_not_comparable() -> None:
    series = series_of(a_day(80, [10, 8, 6]))
    assert beside("leg-press", series, [1], [7]).why == "not done in the later week"
    assert beside("leg-press", series, [5], [7]).beats == "not comparable"


def test_left_against_right() -> None:
    days = []
    for week in range(6):
        for side, reps in (("left", 8), ("right", 10)):
            days.append(done(20, reps, ended="failed", side=side, on=START + timedelta(days=7 * week), run=week))
    found = left_and_right(days)
    assert found is not None
    assert found.differs
    assert found.low < found.right_over_left < found.high
    assert found.right_over_left == pytest.approx(0.056, abs=0.02)
    assert left_and_right(a_day(80, [10, 10])) is None


def test_a_goal_with_a_date() -> None:
    history = simulated("steady", 2, a_week=3)
    series = series_of(history.sets)
    best = series.best()
    assert best is not None
    by = history.on[-1] + timedelta(days=28)
    easy, open_, far = (
        prospect(series, Goal(exercise="leg-press", best_kg=round(best.value * share, 1), by=by))
        for share in (0.9, 1.02, 1.5)
    )
    assert easy
    assert open_
    assert far
    assert (easy.verdict, open_.verdict, far.verdict) == ("within reach", "open", "out of reach as it goes")
    assert easy.chance > open_.chance > far.chance
    assert prospect(series, Goal(exercise="leg-press", best_kg=100, by=date(2029, 1, 1))) is None


# ---- from a run ---------------------------------------------------------------------------------------------------


def test_sets_of_a_run_are_freed_of_their_class() -> None:
    file = load_class(EXAMPLES / "machine-pairs.json")
    began = datetime(2026, 3, 2, 19, 0, tzinfo=UTC)
    events = simulated_events(file, began, seed=5)
    run_state = replay_events(file, events, began + timedelta(hours=3))
    records = set_records(file, events, run_state, date(2026, 3, 2), 7)
    rows = [row for row in log_of(file, events, run_state) if row.written != "not written"]
    known = file.catalogue().exercises
    assert {(record.person, record.part, record.number) for record in records} == {
        (row.person, row.part, row.number) for row in rows if known[row.exercise].is_work
    }
    told = {(row.person, row.part, row.number): row.done for row in rows}
    for record in records:
        assert record.as_planned == (not told[record.person, record.part, record.number])
        assert record.volume_kg is None or record.volume_kg >= 0
    loaded = [record for record in records if record.load_kg]
    assert len(loaded) > 100


def test_what_was_not_said_of_a_set_went_as_planned() -> None:
    file = load_class(EXAMPLES / "machine-pairs.json")
    began = datetime(2026, 3, 2, 19, 0, tzinfo=UTC)
    start: list[Event] = [Began(id="b", happened_at=began), Ended(id="e", happened_at=began + timedelta(hours=1))]
    run_state = replay_events(file, start, began + timedelta(hours=2))
    row = next(
        row for row in log_of(file, start, run_state) if row.planned_kg and row.planned_reps and len(row.bouts) == 1
    )
    moment = began + timedelta(minutes=20)
    at = {"person": row.person, "part": row.part}
    whole = AsPlanned(id="a", happened_at=moment, **at)
    heavier = SetDone(id="s", happened_at=moment, number=row.number, load_kg=999, **at)
    planned = _of(file, [*start, whole], row)
    changed = _of(file, [*start, whole, heavier], row)
    assert planned.as_planned
    assert not changed.as_planned
    assert changed.load_kg == 999
    assert changed.reps == planned.reps
    assert changed.tension_s == pytest.approx(planned.tension_s, abs=0.11)
    assert _of(file, start, row) is None


def _of(file, events, row):  # type: ignore[no-untyped-def]
    run_state = replay_events(file, events, events[0].happened_at + timedelta(hours=2))
    found = set_records(file, events, run_state, date(2026, 3, 2), 1)
    return next(
        (item for item in found if (item.person, item.part, item.number) == (row.person, row.part, row.number)), None
    )
