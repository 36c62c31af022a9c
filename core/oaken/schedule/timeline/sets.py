"""Lays out sets and supersets that people work through at their own pace."""

from __future__ import annotations

from dataclasses import dataclass, field, replace
from functools import cached_property

from oaken.domain.catalogue import Exercise
from oaken.domain.room import Room
from oaken.plan import SetsBlock
from oaken.schedule.rotation.least import least_length
from oaken.schedule.rotation.problem import TENTHS
from oaken.schedule.rotation.self_paced import Order, Placed, Task, dispatch
from oaken.schedule.rotation.work import SharedWork
from oaken.schedule.timeline.bouts import Outlook
from oaken.schedule.timeline.in_slots import bouts_in_slots, own_seconds, part_time
from oaken.schedule.timeline.kind import BlockLength, TimeKind
from oaken.schedule.timeline.lineup import Lineup, SetAt, flat, line_up
from oaken.schedule.timeline.schedule import Circumstances, Schedule
from oaken.schedule.timeline.steps import BlockSpan, Doing, Step, StepBound


@dataclass(frozen=True)
class SetsSchedule:
    """A block of sets laid out: everybody's placed tasks, from 0 s, and what a task's tag points at."""

    sets: list[SetAt]
    placed: list[list[Placed]]
    release_s: list[float]
    work: SharedWork

    @cached_property
    def bound_s(self) -> float:
        """A time below which no order can end."""
        return least_length(self.work).ds / TENTHS

    @property
    def length_s(self) -> float:
        """Seconds until the last person is done."""
        return max((own[-1].end_s for own in self.placed if own), default=0.0)


def schedule_sets(block: SetsBlock, around: Circumstances, outlook: Outlook) -> SetsSchedule:
    """Let everybody work through the groups: in the order that was chosen, else first come, first served."""
    return scheduled(line_up(block, around, outlook))


def scheduled(lineup: Lineup) -> SetsSchedule:
    """The same for a lineup at hand."""
    ways, order = turns_of(lineup)
    tasks, visits = flat(ways, lineup)
    walks, pace = Walks(lineup.around.room), lineup.outlook.pace
    placed = dispatch(
        tasks,
        lineup.stock,
        lambda here, there: walks.seconds(here, there) * pace,
        replace(order, visits=visits) if order.gates else order,
    )
    return SetsSchedule(lineup.sets, placed, lineup.release_s, work_of(lineup, walks))


def work_of(lineup: Lineup, walks: Walks) -> SharedWork:
    """The block's tasks, places and order for what looks for rotations."""
    pace = lineup.outlook.pace
    company_of = {person: number for number, company in enumerate(lineup.companies) for person in company}
    return SharedWork(
        lineup.tasks,
        [company_of[person] for person in range(len(lineup.tasks))],
        lineup.stock,
        lambda here, there: walks.seconds(here, there) * pace,
        lineup.order,
        lineup.before,
    )


def turns_of(lineup: Lineup) -> tuple[list[list[int]], Order]:
    """Everybody's way over the stations, and the order in which tasks get places."""
    rotation = lineup.block.rotation
    if rotation is None:
        return lineup.ways(), lineup.order
    ways, planned = lineup.chosen_ways(rotation)
    if rotation.first_come:
        return ways, lineup.order
    keys: list[list[float]] = []
    for person, way in enumerate(ways):
        own: list[float] = []
        for station in way:
            own += _starts(planned[person, station], lineup.tasks[person][station])
        keys.append(_climbing(own))
    return ways, replace(lineup.order, keys=keys)


def _starts(planned: list[float], tasks: list[Task]) -> list[float]:
    """The planned start of every set; sets that were added since follow at their own pace."""
    starts = planned[: len(tasks)]
    for task in tasks[len(starts) - 1 : -1]:
        starts.append(starts[-1] + task.work_s + task.rest_s)
    return starts


def _climbing(keys: list[float]) -> list[float]:
    """Planned starts that never go back: a person's own order comes first."""
    climbed: list[float] = []
    for key in keys:
        climbed.append(max(key, climbed[-1]) if climbed else key)
    return climbed


@dataclass(slots=True)
class Walks:
    """Walking seconds between units, each pair computed once."""

    room: Room
    known: dict[tuple[int, int], float] = field(default_factory=dict)

    def seconds(self, here: int, there: int) -> float:
        """Seconds from one unit to another."""
        pair = (here, there)
        if pair not in self.known:
            self.known[pair] = self.room.walk_s(here, there)
        return self.known[pair]


def lay_out_sets(schedule: Schedule, block: SetsBlock) -> BlockSpan:
    """Write everybody's sets, walks, rests and waits; the block's span."""
    served = schedule_sets(block, schedule.around, schedule.outlook)
    schedule.enter(block)
    resting = {
        id(at.done): schedule.catalogue.exercises[at.done.rest_doing] for at in served.sets if at.done.rest_doing
    }
    for person, (path, own) in enumerate(zip(schedule.paths, served.placed, strict=True)):
        begin = served.release_s[person]
        if begin and own:
            path.append(Step(0.0, begin, Doing.REST, 0))
        active: Exercise | None = None
        for move in own:
            at = served.sets[move.task.tag]
            append_move(path, move, at.use, at, active)
            active = resting.get(id(at.done))
    return BlockSpan(0.0, served.length_s, StepBound(lambda: served.bound_s))


def append_move(path: list[Step], move: Placed, slot: int, at: SetAt, active: Exercise | None) -> None:
    """Write one placed task as steps: walk, rest, wait, set up, then the bouts of the set with their pauses."""
    where = (0, slot, move.unit, move.lane, at.round)
    if move.arrive_s > move.leave_s:
        path.append(Step(move.leave_s, move.arrive_s, Doing.CHANGE, *where))
    if move.rested_s > move.arrive_s:
        path.append(Step(move.arrive_s, move.rested_s, Doing.REST, *where, active=active))
    if move.set_up_from_s > move.rested_s:
        path.append(Step(move.rested_s, move.set_up_from_s, Doing.WAIT, *where))
    if move.work_from_s > move.set_up_from_s:
        spent = move.work_from_s - move.set_up_from_s
        path.append(
            Step(
                move.set_up_from_s,
                move.work_from_s,
                Doing.CHANGE,
                *where,
                set_up_s=spent - move.load_change_s,
                load_change_s=move.load_change_s,
            )
        )
    now = move.work_from_s
    last = len(at.done.bouts) - 1
    for number, bout in enumerate(at.done.bouts):
        if bout.lead_s:
            path.append(Step(now, now + bout.lead_s, Doing.CHANGE, *where, load_change_s=bout.lead_s))
            now += bout.lead_s
        end = move.end_s - at.done.strip_s if number == last else now + bout.work_s
        path.append(Step(now, end, Doing.WORK, *where, bout, number == 0))
        now = end
        if bout.pause_after_s:
            path.append(Step(now, now + bout.pause_after_s, Doing.REST, *where))
            now += bout.pause_after_s
    if at.done.strip_s:
        path.append(Step(now, move.end_s, Doing.CHANGE, *where, load_change_s=at.done.strip_s))


def _length(block: SetsBlock, around: Circumstances, outlook: Outlook) -> BlockLength:
    schedule = schedule_sets(block, around, outlook)
    waits = [sum(move.set_up_from_s - move.rested_s for move in own) for own in schedule.placed]
    return BlockLength(schedule.length_s, tuple(waits))


KIND = TimeKind(lay_out_sets, _length, part_time, bouts_in_slots, own_seconds, shares_machines=True)
