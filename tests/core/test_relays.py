"""Relays as they are run: a tag begins the next turn of its team, and a turn goes on until it is tagged."""

from __future__ import annotations

from datetime import UTC, datetime, timedelta
from itertools import pairwise
from typing import Any

import pytest
from making import class_file
from oaken.schedule.class_file import ClassFile
from oaken.schedule.timeline import Doing
from oaken.session import Event, RunState, actual_class, people_now, replay_events
from oaken.session.events import event_of

BEGAN = datetime(2026, 11, 24, 18, 30, tzinfo=UTC)
TURN_S, TAG_S = 30.0, 2.0


def two_teams() -> ClassFile:
    """Two teams of two: four turns of half a minute with a tag of two seconds, and after a rest four more."""
    turn = {"seconds": int(TURN_S)}
    legs = [
        {"id": "one", "exercise": "bodyweight-squat", "turn": turn, "turns": 4, "rest_s": 60},
        {"id": "two", "exercise": "plank", "turn": turn, "turns": 4},
    ]
    relay = {"id": "relay", "kind": "relay", "name": "Relay", "team_size": 2, "change_s": int(TAG_S), "legs": legs}
    return class_file(relay, people=4)


def events(*tags: tuple[float, str], **more: Any) -> list[Event]:
    said: list[dict[str, Any]] = [{"kind": "began", "at": 0.0, **more}]
    said += [{"kind": "tagged", "at": at, "person": who, "block": "relay"} for at, who in tags]
    return [
        event_of({"id": f"{number:02}", "happened_at": BEGAN + timedelta(seconds=item.pop("at")), **item})
        for number, item in enumerate(said)
    ]


def at(second: float, *tags: tuple[float, str]) -> RunState:
    return replay_events(two_teams(), events(*tags), BEGAN + timedelta(seconds=second))


def doing(second: float, *tags: tuple[float, str]) -> list[Doing]:
    return [one.doing for one in people_now(two_teams(), at(second, *tags))]


def test_without_a_tag_it_is_the_plan() -> None:
    assert doing(10) == [Doing.WORK, Doing.REST, Doing.WORK, Doing.REST]
    assert doing(40) == [Doing.REST, Doing.WORK, Doing.REST, Doing.WORK]


def test_a_tag_begins_the_next_turn_of_its_team_and_of_no_other() -> None:
    late = (45.0, "p2")
    # by the plan the second of each team began at 32 s; the first team is late
    assert doing(46, late) == [Doing.REST, Doing.WORK, Doing.REST, Doing.WORK]
    own = people_now(two_teams(), at(46, late))[1]
    assert own.left_s == pytest.approx(TURN_S - 1, abs=0.01)
    # at 70 s the plan has the first ones work again; the first team's second has not been tagged yet
    assert doing(70, late)[2:] == [Doing.WORK, Doing.REST]
    assert doing(85, late)[:2] == [Doing.REST, Doing.WORK]
    assert people_now(two_teams(), at(85, late))[1].left_s == pytest.approx(0, abs=0.01)
    assert doing(89, late, (88.0, "p1"))[:2] == [Doing.WORK, Doing.REST]


def test_the_first_tag_of_the_next_leg_ends_one_turn_though_a_rest_went_before() -> None:
    # the last turn of the first leg is tagged at 126 s; after a minute of rest the next leg begins at 186 s
    first_leg = [(32.0, "p1"), (64.0, "p2"), (96.0, "p1"), (126.0, "p2")]
    assert doing(190, *first_leg)[:2] == [Doing.WORK, Doing.REST]
    assert doing(217, *first_leg, (216.0, "p1"))[:2] == [Doing.REST, Doing.WORK]
    # only what lasted more than a turn and a half since the rest was over is two turns
    assert doing(242, *first_leg, (241.0, "p1"))[:2] == [Doing.WORK, Doing.REST]


def test_a_forgotten_tag_is_made_up_for() -> None:
    # tagged at 32 s and then not at 64 s: the one at 96 s ends two turns
    assert doing(97, (32.0, "p1"), (96.0, "p1"))[:2] == [Doing.REST, Doing.WORK]


def test_between_two_legs_there_is_a_rest_and_the_last_tag_ends_the_relay() -> None:
    tags = [(32.0 * turn, "p1") for turn in range(1, 5)]
    assert doing(129, *tags)[:2] == [Doing.REST, Doing.REST]
    again = 128.0 + 60.0
    assert doing(again + 5, *tags)[:2] == [Doing.WORK, Doing.REST]
    tags += [(again + 32.0 * turn, "p1") for turn in range(1, 5)]
    over = at(again + 129, *tags)
    assert [one.doing for one in people_now(two_teams(), over)][:2] in (
        [Doing.REST, Doing.REST], [Doing.FINISHED, Doing.FINISHED],
    )  # fmt: skip
    assert at(again + 130, *tags, (again + 129.5, "p1")).notices == []


def test_a_tag_of_somebody_else_is_told() -> None:
    assert "cannot tag" in at(20, (10.0, "nobody")).notices[0]


def test_the_actual_relay_has_no_gap_and_a_turn_that_took_longer_is_longer() -> None:
    state = at(400, (45.0, "p1"), (90.0, "p1"))
    actual = actual_class(two_teams(), state)
    for path in actual.timeline.paths:
        assert all(here.end_s == pytest.approx(there.start_s) for here, there in pairwise(path))
    worked = [step.end_s - step.start_s for step in actual.timeline.paths[1] if step.doing is Doing.WORK]
    # the second one began at 45 s and was tagged at 90 s
    assert sum(seconds for seconds in worked[:3]) == pytest.approx(13 + 45, abs=0.1)
