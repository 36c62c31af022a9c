"""`make bench`, relays as they are run: how often another runner is shown than the one who runs, with and without tags."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from typing import NamedTuple

import numpy as np
import pytest
from making import class_file
from oaken.schedule.class_file import ClassFile
from oaken.schedule.timeline import Doing
from oaken.session import Event, people_now, replay_events
from oaken.session.events import event_of
from showing import show

BEGAN = datetime(2026, 11, 24, 18, 30, tzinfo=UTC)
TURN_S, TAG_S, REST_S = 40.0, 3.0, 60.0
TURNS, LEGS, SEEDS, LOOKS_EVERY_S = 12, 2, 3, 5.0
PACE, EACH_TURN = 0.08, 0.09


class RealTurn(NamedTuple):
    """Who really ran, from when to when, in seconds since the class began."""

    person: int
    start_s: float
    end_s: float


@dataclass(frozen=True)
class Tags:
    """How tags are told: not at all, or within two seconds, of which a share is forgotten."""

    told: bool = True
    forgotten: float = 0.0


def teams_of(people: int, size: int) -> ClassFile:
    legs = [
        {"id": f"leg-{leg}", "exercise": "bodyweight-squat", "turn": {"seconds": int(TURN_S)}, "turns": TURNS,
         "rest_s": int(REST_S)}
        for leg in range(LEGS)
    ]  # fmt: skip
    relay = {"id": "relay", "kind": "relay", "name": "Relay", "team_size": size, "change_s": int(TAG_S), "legs": legs}
    return class_file(relay, people=people)


def real_turns(team: Sequence[int], chance: np.random.Generator) -> list[RealTurn]:
    """A team's turns as they are really run: each of its people has a pace, each turn its own length; a turn begins when
    the one before it ends and the hand is given, a leg after its rest. By hand, without the timeline."""
    paces = np.exp(chance.normal(0, PACE, len(team)))
    turns, now = [], 0.0
    for number in range(LEGS * TURNS):
        runner = number % TURNS % len(team)
        length = TURN_S * paces[runner] * float(np.exp(chance.normal(0, EACH_TURN)))
        turns.append(RealTurn(team[runner], now, now + length))
        now += length + TAG_S
        if (number + 1) % TURNS == 0:
            now += REST_S - TAG_S
    return turns


def wrong_share(file: ClassFile, size: int, tags: Tags, seed: int) -> float:
    """The share of the moments in which a team's runner is another one than the one shown, up to the planned end."""
    chance = np.random.default_rng(seed)
    people = file.plan.people
    teams = [list(range(first, first + size)) for first in range(0, len(people), size)]
    real = [real_turns(team, chance) for team in teams]
    events: list[Event] = [event_of({"id": "began", "kind": "began", "follows": "people", "happened_at": BEGAN})]
    for number, turns in enumerate(real):
        for turn in turns:
            if tags.told and chance.random() >= tags.forgotten:
                moment = BEGAN + timedelta(seconds=turn.end_s + float(chance.uniform(0, 2)))
                said = {"kind": "tagged", "person": people[turn.person], "block": "relay", "happened_at": moment}
                events.append(event_of({"id": f"t-{number}-{turn.start_s:.0f}", **said}))
    looked = wrong = 0
    length = replay_events(file, [], BEGAN).era.timeline.length_s
    for now in np.arange(1.0, min(length, max(turns[-1].end_s for turns in real)), LOOKS_EVERY_S).tolist():
        moment = BEGAN + timedelta(seconds=now)
        shown = people_now(file, replay_events(file, [item for item in events if item.happened_at <= moment], moment))
        for team, turns in zip(teams, real, strict=True):
            runs = next((turn.person for turn in turns if turn.start_s <= now < turn.end_s), None)
            if runs is None:
                continue  # between two turns nobody runs
            looked += 1
            wrong += shown[runs].doing is not Doing.WORK or sum(shown[one].doing is Doing.WORK for one in team) != 1
    return 100 * wrong / looked


@pytest.mark.parametrize(("people", "size"), [(24, 4), (12, 2)])
@pytest.mark.parametrize(
    ("what", "tags", "goal"),
    [
        ("every tag told", Tags(), (4, 7)),
        ("5 % of tags forgotten", Tags(forgotten=0.05), (11, 11)),
        ("nobody tags", Tags(told=False), (50, 50)),
    ],
)
def test_another_runner_is_shown(people: int, size: int, what: str, tags: Tags, goal: tuple[float, float]) -> None:
    """Goals of a trial with floors of its own: in teams of four and of two."""
    file = teams_of(people, size)
    found = [wrong_share(file, size, tags, seed) for seed in range(SEEDS)]
    bound = goal[0] if size == 4 else goal[1]
    show(f"{people // size} teams of {size}, {what}: another runner shown", float(np.mean(found)), "% of looks", bound)
