"""Two people hold the class, each with a device: what both mean counts once, and nothing is skipped by accident."""

from __future__ import annotations

from datetime import UTC, datetime, timedelta
from typing import Any

import pytest
from making import class_file, group, sets, together
from oaken.session import Event, replay_events
from oaken.session.events import Began, Paused, Resumed, Saw, TimeAdded, WentOn, Withdrawn

BEGAN = datetime(2026, 11, 24, 18, 30, tzinfo=UTC)
FILE = class_file(
    together(("marching", 60)), sets(group(10, 90, {"exercise": "leg-press", "reps": 10})), together(("marching", 120))
)
OPENING, STRENGTH, LAST = (block.id for block in FILE.plan.blocks)


def at(second: float) -> datetime:
    return BEGAN + timedelta(seconds=second)


def press(when: float, kind: type[Any], device: str, *, state: str = "runs", **fields: Any) -> Event:
    saw = Saw.model_validate({"state": state, "block": OPENING, "second": 0})
    name = f"{device}-{when}-{kind.__name__}"
    event: Event = kind(id=name, happened_at=at(when), device=device, saw=saw, **fields)
    return event


def stands(*events: Event, second: float = 60) -> tuple[str, float]:
    run_state = replay_events(FILE, [Began(id="b", happened_at=at(0)), *events], at(second))
    return run_state.state, round(run_state.second, 2)


def test_pause_and_pause_again_from_another_device_is_a_pause() -> None:
    mine = press(20, Paused, "one")
    # 150 ms later the other device's button says “Go on” under the finger that meant to pause
    assert stands(mine, press(20.15, Resumed, "other", state="paused")) == ("paused", 20)
    assert stands(mine, press(20.15, Paused, "other")) == ("paused", 20)
    # later it is meant, and so it is from the same device at once
    assert stands(mine, press(22.5, Resumed, "other", state="paused"))[0] == "runs"
    assert stands(mine, press(20.5, Resumed, "one", state="paused"))[0] == "runs"


@pytest.mark.parametrize("apart", [0.1, 0.9, 1.9])
def test_skip_twice_from_two_devices_is_one_place_and_no_block_is_lost(apart: float) -> None:
    first = press(30, WentOn, "one", block=STRENGTH, second=0, way="on")
    second = press(30 + apart, WentOn, "other", block=LAST, second=0, way="on")
    state, there = stands(first, second, second=32)
    run_state = replay_events(FILE, [Began(id="b", happened_at=at(0)), first, second], at(32))
    assert (state, run_state.era.plan.blocks[run_state.era.place(there)[0]].id) == ("runs", STRENGTH)
    # taking the skip back takes back what the second hand pressed with it
    back = Withdrawn(id="w", happened_at=at(34), event=first.id)
    assert stands(first, second, back, second=36) == ("runs", 36)
    # back after on is meant
    behind = press(30 + apart, WentOn, "other", block=OPENING, second=0, way="back")
    assert stands(first, behind, second=30 + apart) == ("runs", 0)


def test_time_added_by_two_hands_counts_once_and_by_one_hand_twice() -> None:
    one, other = (press(20 + late, TimeAdded, name, seconds=15) for late, name in ((0, "one"), (1.8, "other")))
    assert stands(one, other) == ("runs", 45)
    again = press(21.8, TimeAdded, "one", seconds=15)
    assert stands(one, again) == ("runs", 30)


def test_a_run_of_before_goes_as_it_went() -> None:
    """Devices of before did not say what they saw: what they pressed keeps its meaning."""
    old: list[Event] = [
        Paused(id="p", happened_at=at(20), device="one"),
        Resumed(id="r", happened_at=at(20.15), device="other"),
    ]
    assert stands(*old) == ("runs", 59.85)
