"""Lays out a relay: in each team one works while the others rest, turn about."""

from __future__ import annotations

from oaken.catalogue import Catalogue
from oaken.plan import Leg, RelayBlock
from oaken.timeline.bouts import Bout, LoadPath, Outlook, bout_of
from oaken.timeline.stage import Stage
from oaken.timeline.steps import BlockSpan, Doing, Step


def relay_seconds(block: RelayBlock, catalogue: Catalogue, outlook: Outlook) -> float:
    """Seconds of the block: every leg's turns with the tags between them and the rest after it."""
    legs = [_leg_seconds(block, leg, _bout(leg, catalogue, outlook), outlook) for leg in block.legs]
    return sum(legs) + sum(leg.rest_s for leg in block.legs[:-1])


def lay_out_relay(stage: Stage, index: int, block: RelayBlock, start: float) -> BlockSpan:
    """Write everybody's turns; the block's span. Teams are formed in the order of the plan; a last team that is
    short goes round sooner, so that every team does the same in all."""
    now = start
    tag_s = block.change_s * stage.outlook.pace
    teams = _teams(len(stage.paths), block.team_size)
    for number, leg in enumerate(block.legs):
        exercise = stage.catalogue.exercises[leg.exercise]
        stock = stage.room.working(exercise.equipment)
        use = stage.add_slot(index, -1, leg.id, exercise, len(stock))
        bout = _bout(leg, stage.catalogue, stage.outlook)
        for lane, team in enumerate(teams):
            unit = stock[lane] if lane < len(stock) else -1
            for place, person in enumerate(team):
                stage.paths[person] += _own_turns(now, leg, bout, tag_s, place, len(team), (index, use, unit, lane))
        now += _leg_seconds(block, leg, bout, stage.outlook)
        if leg.rest_s and number < len(block.legs) - 1:
            for path in stage.paths:
                path.append(Step(now, now + leg.rest_s, Doing.REST, index, use))
            now += leg.rest_s
    return BlockSpan(start, now, now - start)


def _bout(leg: Leg, catalogue: Catalogue, outlook: Outlook) -> Bout:
    return bout_of(leg.turn, catalogue.exercises[leg.exercise], LoadPath(leg.turn.load), outlook)


def _leg_seconds(block: RelayBlock, leg: Leg, bout: Bout, outlook: Outlook) -> float:
    return leg.turns * bout.work_s + (leg.turns - 1) * block.change_s * outlook.pace


def _teams(people: int, size: int) -> list[list[int]]:
    """Consecutive people; nobody is left alone: a single one left over joins the last team."""
    teams = [list(range(first, min(first + size, people))) for first in range(0, people, size)]
    if len(teams) > 1 and len(teams[-1]) == 1:
        left_over = teams.pop()
        teams[-1] += left_over
    return teams


def _own_turns(
    now: float, leg: Leg, bout: Bout, tag_s: float, place: int, size: int, at: tuple[int, int, int, int]
) -> list[Step]:
    steps: list[Step] = []
    since = now
    end = now + leg.turns * bout.work_s + (leg.turns - 1) * tag_s
    for turn in range(place, leg.turns, size):
        begin = now + turn * (bout.work_s + tag_s)
        if begin > since:
            steps.append(Step(since, begin, Doing.REST, *at, round=turn // size))
        since = begin + bout.work_s
        steps.append(Step(begin, since, Doing.WORK, *at, turn // size, bout, True))
    if end - since > 1e-9:
        steps.append(Step(since, end, Doing.REST, *at))
    return steps
