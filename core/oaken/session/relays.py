"""Relays as they are run: a tag begins a team's next turn, and until it is tagged a turn goes on."""

from __future__ import annotations

from typing import NamedTuple

from oaken.plan import RelayBlock
from oaken.schedule.timeline import Doing
from oaken.schedule.timeline.build import Passage

TWO_TURNS = 1.6
"""Since the last tag has passed this many times a turn and more: one was forgotten, and another turn is over too."""


class RelayTurn(NamedTuple):
    """A turn of a team: who, and from when to when on the axis of the class."""

    person: int
    start_s: float
    end_s: float


def teams_of(passage: Passage) -> list[list[int]]:
    """Who goes together in a relay, team by team: those who share a lane."""
    found: dict[int, list[int]] = {}
    for person, path in enumerate(passage.layout.paths):
        lane = next((step.lane for step in path if step.lane >= 0), None)
        if lane is not None:
            found.setdefault(lane, []).append(person)
    return [found[lane] for lane in sorted(found)]


def turns_of_team(passage: Passage, team: list[int]) -> list[RelayTurn]:
    """The turns of a team in their order."""
    zero = passage.zero_s
    return sorted(
        (
            RelayTurn(person, zero + step.start_s, zero + step.end_s)
            for person in team
            for step in passage.layout.paths[person]
            if step.doing is Doing.WORK
        ),
        key=lambda turn: turn.start_s,
    )


class TeamPlace(NamedTuple):
    """Where a team stands after a tag: a second of the axis, and the second at which it stays until the next tag (None:
    its last turn is over)."""

    second: float
    until_s: float | None


def tagged(block: RelayBlock, turns: list[RelayTurn], second: float, since_s: float | None) -> TeamPlace | None:
    """Where a team that stood at `second` stands now that it has tagged, `since_s` after its last tag (None: it has not
    tagged yet). None where it has no turns left."""
    if not turns or second >= turns[-1].end_s:
        return None
    if since_s is None:
        # the first tag is that of the turn whose planned end is nearest
        over = min(range(len(turns)), key=lambda place: abs(turns[place].end_s - second))
    else:
        over = max((place for place, turn in enumerate(turns) if turn.start_s <= second + 1e-3), default=0)
        # a turn that comes after a rest begins when that is over
        since_s -= _rest_before(block, turns, over)
        if since_s > TWO_TURNS * (turns[over].end_s - turns[over].start_s) and over + 1 < len(turns):
            over += 1
    if over + 1 == len(turns):
        return TeamPlace(turns[over].end_s, None)
    coming = turns[over + 1]
    rests = _rest_before(block, turns, over + 1) > 0
    return TeamPlace(turns[over].end_s if rests else coming.start_s, coming.end_s)


def _rest_before(block: RelayBlock, turns: list[RelayTurn], place: int) -> float:
    """The seconds of rest before a turn: between two legs there is one; within a leg the next begins at once."""
    gap = turns[place].start_s - turns[place - 1].end_s if place else 0.0
    return gap if gap > block.change_s + 1.0 else 0.0
