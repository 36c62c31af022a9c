"""Next time's load: the situations of the floor, one a line, each with what is expected and why."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import timedelta
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st
from logbooks import START, a_day
from oaken.domain.room import Implements, Plates, Stack, settable_kg
from oaken.domain.room.hardware import Implement, PlatePair
from oaken.programme.progress import (
    LoadProposal,
    LoadRules,
    SetRecord,
    Standing,
    propose,
    propose_after,
    schools,
    sessions_of,
)

STACK = Stack(steps_kg=tuple(float(kg) for kg in range(5, 105, 5)), add_ons_kg=(2.5,))
COARSE = Stack(steps_kg=(10.0, 20.0, 30.0, 40.0))
BAR = Plates(bar_kg=20, plates=tuple(PlatePair(kg=kg, pairs=2) for kg in (20, 10, 5, 2.5, 1.25)))
BELLS = Implements(in_hand=2, by_mass=tuple(Implement(kg=kg, count=2) for kg in (8, 10, 12, 16, 20)))


def after(*days: Sequence[SetRecord], away: int = 7, **told: Any) -> LoadProposal:
    """What is proposed behind these days, so many days after the last one."""
    sets = [item for day in days for item in day]
    last = max((each_set.on for each_set in sets), default=START)
    fields: dict[str, Any] = {"hardware": BAR, "big": True, **told}
    window = fields.pop("window", None)
    if window is not None:
        fields["windows"] = (window,) * 3
    return propose(Standing(sessions=sessions_of(sets), today=last + timedelta(days=away), **fields))


def week_later(*reps: int, kg: float = 80, **told: Any) -> list[SetRecord]:
    """A day a week behind the first."""
    return a_day(kg, reps, on=START + timedelta(days=7), run=2, **told)


LAST: dict[str, Any] = {"school": "last-set"}
FIRST: dict[str, Any] = {"school": "repetitions-first"}
TWICE: dict[str, Any] = {"school": "consolidate"}
SMALL: dict[str, Any] = {"big": False, "hardware": STACK}
SITUATIONS: list[tuple[str, LoadProposal, str, float | None, str]] = [
    ("every set at the top: a step", after(a_day(80, [10, 10, 10])), "add", 85, "every set reached the top"),
    ("every set over the top: still one step", after(a_day(80, [12, 11, 11])), "add", 85, "every set reached"),
    ("80 kg 10/8/6: a later set below", after(a_day(80, [10, 8, 6])), "repeat", 80, "set 3 ended at 6, below 8"),
    ("90 kg 10/8/8: in the window", after(a_day(90, [10, 8, 8])), "repeat", 90, "inside 8–10"),
    ("the first set below: lighter at once", after(a_day(80, [7, 6, 6])), "reduce", 75, "every set ended below 8 (7, 6, 6)"),
    ("a small lift steps by 2.5 kg", after(a_day(40, [10, 10, 10]), **SMALL), "add", 42.5, "every set"),
    ("a small lift below steps down by 2.5 kg", after(a_day(40, [7, 7, 7]), **SMALL), "reduce", 37.5, "below 8"),
    ("dumbbells step as the rack has them", after(a_day(24, [12, 12, 12]), hardware=BELLS, big=False), "add", 32,
     "every set"),
    ("a large step waits for two over the top", after(a_day(24, [10, 10, 10]), hardware=BELLS, big=False), "repeat", 24,
     "the next step is 33 % more"),
    ("and then is taken", after(a_day(20, [12, 12, 12]), hardware=COARSE, big=False), "add", 30, "every set"),
    ("the unit holds no more", after(a_day(40, [12, 12, 12]), hardware=COARSE, big=True), "repeat", 40, "holds no more"),
    ("the unit holds no less", after(a_day(10, [5, 5, 5]), hardware=COARSE, big=True), "repeat", 10, "holds no less"),
    ("without hardware the rule's own step", after(a_day(80, [10, 10, 10]), hardware=None), "add", 85, "every set"),
    ("poor form: consolidate", after(a_day(80, [10, 10, 10], poor=True)), "repeat", 80, "form was poor"),
    ("poor form twice at one load: lighter",
     after(a_day(80, [10, 10, 9], poor=True), week_later(10, 10, 10, poor=True)), "reduce", 75, "poor twice"),
    ("poor form at another load before: consolidate",
     after(a_day(75, [10, 10, 9], poor=True), week_later(10, 10, 10, poor=True)), "repeat", 80, "form was poor"),
    ("a helped set does not count", after(a_day(80, [10, 10, 10], helped=True)), "repeat", 80, "helped"),
    ("a set is missing", after(a_day(80, [10, 10], sets=3)), "repeat", 80, "not every planned set"),
    ("three weeks away: a tenth less", after(a_day(80, [10, 10, 10]), away=21), "reduce", 70, "3 weeks"),
    ("two weeks away: nothing is raised", after(a_day(80, [10, 10, 10]), away=15), "repeat", 80, "15 days ago"),
    ("two weeks away and below: lighter", after(a_day(80, [6, 6, 6]), away=15), "reduce", 75, "below 8"),
    ("back after illness", after(a_day(80, [10, 10, 10]), away=12, is_today="back after illness"), "reduce", 70,
     "back after illness"),
    ("still coming back", after(a_day(70, [10, 10, 10]), away=4, is_today="back after illness"), "repeat", 70,
     "still coming back"),
    ("a bad night: a step lighter today", after(a_day(80, [10, 10, 10]), is_today="bad night"), "reduce", 75, "bad night"),
    ("the last set at the top is enough", after(a_day(80, [9, 9, 10]), **LAST), "add", 85, "the last set reached 10"),
    ("the last set is not at the top", after(a_day(80, [10, 10, 9]), **LAST), "repeat", 80, "inside 8–10"),
    ("an open last set four over: two steps, within a tenth",
     after(a_day(100, [10, 10, 14], ended="failed"), **LAST), "add", 110, "the last set reached 14"),
    ("four over without being open: one step", after(a_day(100, [10, 10, 14]), **LAST), "add", 105, "reached 14"),
    ("two steps never go over a tenth", after(a_day(60, [10, 10, 14], ended="failed"), **LAST), "add", 65, "reached 14"),
    ("repetitions first: one more on each", after(a_day(80, [9, 8, 8]), **FIRST), "repeat", 80, "a repetition more"),
    ("repetitions first: then a step", after(a_day(80, [10, 10, 10]), **FIRST), "add", 85, "every set"),
    ("the top once: once more", after(a_day(80, [10, 10, 10]), **TWICE), "repeat", 80, "once more to consolidate"),
    ("the top twice: a step", after(a_day(80, [10, 10, 10]), week_later(10, 10, 10), **TWICE), "add", 85, "twice"),
    ("the top twice, but lighter before", after(a_day(75, [10, 10, 10]), week_later(10, 10, 10), **TWICE), "repeat", 80,
     "once more"),
    ("3 × 10 done 10/9/8: the same again", after(a_day(80, [10, 9, 8], low=10, high=10)), "repeat", 80, "inside 8–10"),
    ("3 × 10 as planned: a step", after(a_day(80, [10, 10, 10], low=10, high=10, as_planned=True)), "add", 85, "every"),
    ("by the clock: nothing to judge", after(a_day(80, [10], low=None, high=None)), "repeat", 80, "nothing to judge by"),
    ("the house's heaviest load", after(a_day(80, [10, 10, 10]), rules=LoadRules(heaviest_kg=82)), "repeat", 80,
     "allows 82 kg"),
    ("another unit holds something else", after(a_day(82, [9, 9, 9])), "repeat", 82.5, "comes nearest here"),
    ("a first time: light", after(best_kg=100, window=(8, 12)), "begin", 55, "a first time"),
    ("a first time with a working load", after(best_kg=100, working_kg=61), "begin", 60, "working load"),
    ("nothing known at all", after(), "nothing", None, "neither a best nor a set"),
    ("another window: the last class of the same one counts",
     after(a_day(80, [8, 8, 8], low=6, high=8), week_later(12, 12, 12, kg=60, low=10, high=12), window=(6, 8)),
     "add", 85, "every set reached the top (8)"),
    ("no window like it: the nearest one counts, not the last",
     after(a_day(80, [8, 8, 8], low=6, high=8), week_later(20, 20, kg=50, low=15, high=20), window=(4, 6)), "add", 85,
     "4–6 instead of 6–8"),
    ("but not when the last one went badly",
     after(a_day(80, [8, 8, 8], low=6, high=8), week_later(12, 11, kg=50, low=15, high=20), window=(6, 8)), "reduce",
     47.5, "every set ended below 15 (12, 11)"),
    ("nor when it is too long ago",
     after(a_day(80, [8, 8, 8], low=6, high=8), a_day(50, [20, 20], low=15, high=20, on=START + timedelta(days=45),
           run=2), window=(6, 8)), "add", 55, "6–8 instead of 15–20"),
    ("rounded to the nearest load, not always down",
     after(a_day(24, [6, 6], low=4, high=6), window=(6, 8), hardware=BELLS, big=False), "repeat", 24, "6–8 instead of"),
    ("another window and none like it: by the usual table, within a step",
     after(a_day(60, [12, 12, 12], low=10, high=12), window=(6, 8)), "add", 65, "6–8 instead of 10–12"),
    ("a longer window: lighter by the usual table",
     after(a_day(80, [8, 8, 8], low=6, high=8), window=(10, 12)), "reduce", 67.5, "10–12 instead of 6–8"),
    ("most sets decide which load it was", after([*a_day(60, [10], sets=3), *a_day(80, [10, 10, 10])[1:]]), "add", 85,
     "every set"),
]  # fmt: skip


@pytest.mark.parametrize(
    ("made", "do", "kg", "why"), [row[1:] for row in SITUATIONS], ids=[row[0] for row in SITUATIONS]
)
def test_a_situation_of_the_floor(made: LoadProposal, do: str, kg: float | None, why: str) -> None:
    assert (made.do, made.load_kg) == (do, kg)
    assert why in made.reason


def test_a_proposal_names_the_sets_it_rests_on() -> None:
    made = after(a_day(80, [10, 9, 8], ended="failed"))
    assert made.rests_on == ["80 kg × 10 (to failure), 9 (to failure), 8 (to failure) on 5 Jan 2026"]
    assert made.before_kg == 80


def test_repetitions_first_says_what_to_aim_at() -> None:
    assert after(a_day(80, [10, 9, 8]), **FIRST).reps == [10, 10, 9]


def test_every_school_is_described() -> None:
    assert set(schools()) == {"every-set", "last-set", "repetitions-first", "consolidate", "reserve", "percentage"}
    assert all(school.name and school.reason for school in schools().values())


def test_sets_of_today_say_what_comes_next() -> None:
    after_: dict[str, Any] = {"window": (6, 8), "today": START, "poor": False, "big": False, "rules": LoadRules()}
    assert propose_after(STACK, 40, [8, 8, 8], **after_).load_kg == 42.5
    assert propose_after(STACK, 40, [8, 7, 6], **after_).do == "repeat"
    assert propose_after(STACK, 40, [5, 5, 5], **after_).load_kg == 37.5
    assert propose_after(None, 40, [8], **{**after_, "poor": True}).do == "repeat"
    with pytest.raises(ValueError, match="no sets"):
        propose_after(STACK, 40, [], **after_)


def test_a_unit_whose_lightest_load_is_too_heavy_for_the_house_gets_none() -> None:
    made = after(a_day(20, [10, 10, 10]), rules=LoadRules(heaviest_kg=15))
    assert (made.do, made.load_kg) == ("nothing", None)


HARDWARE = st.sampled_from([None, STACK, COARSE, BAR, BELLS])
REPS = st.lists(st.integers(0, 30), min_size=1, max_size=5)
RULES = st.builds(LoadRules, school=st.sampled_from(sorted(schools())), heaviest_kg=st.none() | st.floats(25, 200))


@given(
    hardware=HARDWARE, kg=st.floats(2.5, 160), reps=REPS, rules=RULES, away=st.integers(0, 60), big=st.booleans(),
    is_today=st.sampled_from(["as usual", "bad night", "back after illness"]), poor=st.booleans(),
    ended=st.sampled_from(["failed", "stopped"]), window=st.sampled_from([None, (8, 10), (4, 6), (12, 15)]),
)  # fmt: skip
def test_a_proposal_can_be_set_and_keeps_to_the_house(
    hardware: Any,
    kg: float,
    reps: list[int],
    rules: LoadRules,
    away: int,
    big: bool,
    is_today: Any,
    poor: bool,
    ended: Any,
    window: Any,
) -> None:
    day = a_day(kg, reps, poor=poor, ended=ended)
    made = after(day, away=away, hardware=hardware, big=big, rules=rules, is_today=is_today, window=window)
    assert made.reason
    if made.load_kg is None:
        assert made.do == "nothing"
        return
    if hardware is not None:
        assert any(abs(made.load_kg - item) < 1e-3 for item in settable_kg(hardware))
    if rules.heaviest_kg is not None:
        assert made.load_kg <= rules.heaviest_kg + 1e-6
    if made.do == "add" and made.before_kg:
        heavier = [item for item in settable_kg(hardware) if item > made.before_kg + 1e-6] if hardware else []
        smallest = heavier[0] if heavier else made.before_kg + 5
        assert made.load_kg <= max(made.before_kg * (1 + rules.most_step_share), smallest) + 1e-3
