"""The forecast that stands beside a heart is that of the set somebody is really at, and a rest begins when it began."""

from __future__ import annotations

from datetime import UTC, datetime, timedelta
from typing import Any

import pytest
from oaken.schedule.class_file.reading import load_class
from oaken.schedule.timeline import Doing
from oaken.session import RunState, on_axis, people_now, replay_events
from oaken.session.events import event_of
from places import ROOT

BEGAN = datetime(2026, 11, 24, 18, 30, tzinfo=UTC)
FILE = load_class(ROOT / "examples" / "machine-pairs.json")
BLOCK = next(block for block in FILE.plan.blocks if block.kind == "sets")


def stands(seconds: float, *more: tuple[str, float, dict[str, Any]], follows: str = "people") -> RunState:
    said: list[tuple[str, float, dict[str, Any]]] = [
        ("began", 0.0, {"follows": follows}), ("went_on", 1.0, {"block": BLOCK.id, "second": 0}), *more
    ]  # fmt: skip
    events = [
        event_of({"id": f"{kind}-{at:g}", "kind": kind, "happened_at": BEGAN + timedelta(seconds=at), **fields})
        for kind, at, fields in said
    ]
    return replay_events(FILE, events, BEGAN + timedelta(seconds=seconds))


@pytest.mark.parametrize("seconds", [5, 40, 65, 100, 333, 900, 1500])
def test_with_nothing_pressed_everybody_stands_where_the_plan_has_them(seconds: float) -> None:
    followed, planned = stands(seconds), stands(seconds, follows="plan")
    for person in FILE.plan.people:
        here, there = on_axis(followed, person), on_axis(planned, person)
        assert here.second == pytest.approx(there.second, abs=1.5)
        assert (here.resting_from_s is None) == (there.resting_from_s is None) or here.resting_from_s is None


def test_whoever_is_done_sooner_stands_further_on_and_rests_since_then() -> None:
    person = FILE.plan.people[0]
    now = people_now(FILE, stands(60))[0]
    assert now.doing is Doing.WORK
    assert now.here is not None
    done = ("set_done", 60.0, {"person": person, "part": now.here.part, "number": now.set_number})
    before, after = on_axis(stands(61), person), on_axis(stands(61, done), person)
    assert before.resting_from_s is None
    assert after.second > before.second
    assert after.resting_from_s == pytest.approx(60, abs=0.1)
    # a pause is rest as well
    paused = on_axis(stands(95, done, ("paused", 62.0, {}), ("resumed", 92.0, {})), person)
    assert paused.resting_from_s == pytest.approx(60, abs=0.1) or paused.resting_from_s is None


def test_whoever_is_waited_for_is_still_at_the_set() -> None:
    people = FILE.plan.people
    # most press at once, so that no press of the first one means that they are not done
    presses: list[tuple[str, float, dict[str, Any]]] = []
    for number, person in enumerate(people[1:], 1):
        for second in range(20, 400, 5):
            run_state = stands(second, *presses)
            now = people_now(FILE, run_state)[number]
            if now.here is not None and now.doing is Doing.WORK and now.left_s <= 6 and len(presses) < 3 * number:
                part = now.here.part
                done = {"person": person, "part": part, "number": now.set_number}
                presses.append(("set_done", second + 5.0 + number / 100, done))
        if number == 3:
            break
    begins = next(second for second in range(60, 300) if people_now(FILE, stands(second, *presses))[0].held)
    first, later = (on_axis(stands(second, *presses), people[0]) for second in (begins, begins + 15))
    assert people_now(FILE, stands(begins + 15, *presses))[0].held
    assert first.resting_from_s is None
    # the plan's set is over; the person has not left it
    assert later.second == pytest.approx(first.second, abs=0.1)
