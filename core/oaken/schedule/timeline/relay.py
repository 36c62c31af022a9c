"""Lays out a relay: in each team one works while the others rest, turn about."""

from __future__ import annotations

from dataclasses import replace
from math import ceil

from oaken.domain.catalogue import Catalogue
from oaken.domain.prescription import SetRun
from oaken.plan import AnyPart, Leg, RelayBlock
from oaken.schedule.timeline.bouts import Bout, LoadPath, Outlook, SlotTime, bout_of, count_at_most, slot_time
from oaken.schedule.timeline.kind import BlockLength, TimeKind
from oaken.schedule.timeline.schedule import Circumstances, Schedule, own_use
from oaken.schedule.timeline.steps import BlockSpan, Doing, Step, StepBound


def relay_seconds(block: RelayBlock, catalogue: Catalogue, outlook: Outlook) -> float:
    """Seconds of the block: every leg's turns with the tags between them and the rest after it."""
    legs = [_leg_seconds(block, leg, _bout(leg, catalogue, outlook), outlook) for leg in block.legs]
    return sum(legs) + sum(leg.rest_s for leg in block.legs[:-1])


def lay_out_relay(schedule: Schedule, block: RelayBlock) -> BlockSpan:
    """Write everybody's turns; the block's span. Teams are formed in the order of the plan; a last team that is
    short goes round sooner, so that every team does the same in all."""
    now = 0.0
    tag_s = block.change_s * schedule.outlook.pace
    teams = _teams(len(schedule.paths), block.team_size)
    uses = schedule.enter(block)
    for number, leg in enumerate(block.legs):
        bout = _bout(leg, schedule.catalogue, schedule.outlook)
        for lane, team in enumerate(teams):
            for place, person in enumerate(team):
                use = own_use(uses, number, schedule.people[person], schedule.around)
                part = uses[use].part
                assert isinstance(part, Leg)
                bar_kg = schedule.room.bar_kg(uses[use].exercise.equipment)
                own = _bout(part, schedule.catalogue, schedule.outlook, bar_kg)
                stock = schedule.room.working(uses[use].exercise.equipment)
                at = (0, use, stock[lane] if lane < len(stock) else -1, lane)
                schedule.paths[person] += _own_turns(now, leg, bout.work_s, own, tag_s, place, len(team), at)
        now += _leg_seconds(block, leg, bout, schedule.outlook)
        if leg.rest_s and number < len(block.legs) - 1:
            for path in schedule.paths:
                path.append(Step(now, now + leg.rest_s, Doing.REST, 0, number))
            now += leg.rest_s
    return BlockSpan(0.0, now, StepBound(now))


def _bout(leg: Leg, catalogue: Catalogue, outlook: Outlook, bar_kg: float = 0.0) -> Bout:
    loads = LoadPath.of(leg.turn.load, count_at_most(leg.turn), bar_kg)
    return bout_of(leg.turn, catalogue.exercises[leg.exercise], loads, outlook)


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
    now: float, leg: Leg, turn_s: float, bout: Bout, tag_s: float, place: int, size: int, at: tuple[int, int, int, int]
) -> list[Step]:
    steps: list[Step] = []
    since = now
    end = now + leg.turns * turn_s + (leg.turns - 1) * tag_s
    for turn in range(place, leg.turns, size):
        begin = now + turn * (turn_s + tag_s)
        if begin > since:
            steps.append(Step(since, begin, Doing.REST, *at, round=turn // size))
        since = begin + turn_s
        steps.append(Step(begin, since, Doing.WORK, *at, turn // size, bout, True))
    if end - since > 1e-9:
        steps.append(Step(since, end, Doing.REST, *at))
    return steps


def _length(block: RelayBlock, around: Circumstances, outlook: Outlook) -> BlockLength:
    return BlockLength.without_waits(relay_seconds(block, around.catalogue, outlook), len(around.people))


def _part_time(part: AnyPart, block: RelayBlock, known: Catalogue, outlook: Outlook) -> SlotTime:
    assert isinstance(part, Leg)
    exercise = known.exercises[part.exercise]
    alone = SetRun(times=1, segments=[part.turn], rest_s=part.rest_s)
    once = slot_time([alone], exercise, known.equipment[exercise.equipment], outlook)
    # the turns of a leg are the team's: one person does their share of them
    own = ceil(part.turns / block.team_size)
    return replace(once, work_s=once.work_s * own, change_of_side_s=once.change_of_side_s * own, set_up_s=0.0,
                   load_change_s=0.0)  # fmt: skip


def _bouts(block: RelayBlock) -> int:
    return sum(ceil(leg.turns / block.team_size) for leg in block.legs)


def _own_s(block: RelayBlock, known: Catalogue) -> float:
    return relay_seconds(block, known, Outlook.EXPECTED)


KIND = TimeKind(lay_out_relay, _length, _part_time, _bouts, _own_s)
