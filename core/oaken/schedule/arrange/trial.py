"""One order of the visits of a block, carried out exactly: how long, how much waiting, how many load changes."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from functools import cached_property

from oaken.plan import PlannedVisit, Rotation
from oaken.schedule.rotation.least import surely_ds
from oaken.schedule.rotation.problem import TENTHS
from oaken.schedule.rotation.self_paced import Order, Placed, dispatch
from oaken.schedule.rotation.serial import Serial, wait_cost
from oaken.schedule.rotation.work import Carried, SharedWork, carried
from oaken.schedule.timeline.block_problem import BlockProblem, block_problem
from oaken.schedule.timeline.lineup import Lineup, flat
from oaken.schedule.timeline.sets import Walks, turns_of, work_of

Ways = tuple[tuple[int, ...], ...]


@dataclass(frozen=True, slots=True)
class Trial:
    """An order that was carried out. `rotation` brings the same about when it is kept in the plan.

    `waiting_s`, `walking_s` are sums over everybody, `longest_wait_s` is what one person waits in all at the most;
    `load_changes` are those between people and within sets.
    """

    ways: Ways
    rotation: Rotation
    length_s: float
    waiting_s: float
    longest_wait_s: float
    load_changes: int
    walking_s: float
    placed: list[list[Placed]]

    @property
    def rank(self) -> tuple[int, int, float]:
        """What is compared: length, then the cost of waiting (whole seconds), then load changes and walks."""
        waits = wait_cost(self.waiting_s, self.longest_wait_s, len(self.placed))
        return (round(self.length_s), round(waits), CHANGE_WEIGHS_S * self.load_changes + self.walking_s)


CHANGE_WEIGHS_S = 30.0
"""A load change weighs as much as walking for half a minute (common practice, no source)."""


@dataclass
class Floor:
    """A block of sets on which orders are tried."""

    lineup: Lineup
    walks: Walks = field(init=False)

    def __post_init__(self) -> None:
        self.walks = Walks(self.lineup.around.room)

    @cached_property
    def block_problem(self) -> BlockProblem:
        """The block as the solver sees it."""
        return block_problem(self.lineup)

    @cached_property
    def work(self) -> SharedWork:
        """The block's stints and places."""
        return work_of(self.lineup, self.walks)

    @cached_property
    def serial(self) -> Serial:
        """The same in rows of numbers, on which orders of stints are carried out."""
        return Serial(self.work)

    @cached_property
    def charged_exactly(self) -> bool:
        """Whether the charged problem charges nothing that an order might save."""
        surely = surely_ds(self.work)
        problem, tasks = self.block_problem.problem, self.block_problem.tasks
        ahead = {visit: iter(mine) for visit, mine in self.work.of_visit.items()}
        for index, (person, station, _) in enumerate(tasks):
            op, stint = problem.operation(index), next(ahead[person, station])
            if (op.length_ds, op.gap_ds) != (surely[stint], self.work.stints[stint].rest_ds):
                return False
        return True

    def as_it_stands(self) -> Trial:
        """The block's own rotation, or first come, first served."""
        ways, order = turns_of(self.lineup)
        return self._carried_out(ways, order)

    def in_ways(self, ways: Sequence[Sequence[int]]) -> Trial:
        """Everybody's way over the stations, first come, first served."""
        return self._carried_out(ways, self.lineup.order)

    def in_starts(self, starts: Sequence[int]) -> Trial:
        """The order of a solution of the charged problem (tenths of a second, one start an operation)."""
        rotation = self.rotation_of_starts(starts)
        return self.kept(rotation)

    def in_stints(self, starts: Sequence[int]) -> Trial:
        """The order of these starts of every stint (tenths of a second)."""
        begun: dict[tuple[int, int], list[float]] = defaultdict(list)
        for stint, start in zip(self.work.stints, starts, strict=True):
            begun[stint.person, stint.station] += [(start + offset) / TENTHS for offset in stint.offsets_ds]
        return self.kept(self._rotation(begun))

    def carried(self, trial: Trial) -> list[Carried]:
        """Every stint as it was carried out."""
        return carried(self.work, trial.ways, trial.placed)

    def kept(self, rotation: Rotation) -> Trial:
        """The order that a kept rotation brings about."""
        ways, order = turns_of(replace_rotation(self.lineup, rotation))
        return replace(self._carried_out(ways, order), rotation=rotation)

    def rotation_of_starts(self, starts: Sequence[int]) -> Rotation:
        """A solution of the charged problem as a plan keeps it."""
        begun: dict[tuple[int, int], list[float]] = defaultdict(list)
        for start, (person, station, tasks) in zip(starts, self.block_problem.tasks, strict=True):
            begun[person, station] += [start / TENTHS] * len(tasks)
        return self._rotation(begun)

    def _carried_out(self, ways: Sequence[Sequence[int]], order: Order) -> Trial:
        lineup, pace = self.lineup, self.lineup.outlook.pace
        tasks, visits = flat(ways, lineup)
        if order.gates:
            order = replace(order, visits=visits)
        walks = self.walks.seconds
        placed = dispatch(tasks, lineup.stock, lambda here, there: walks(here, there) * pace, order)
        begun: dict[tuple[int, int], list[float]] = defaultdict(list)
        length = waiting = longest = walking = 0.0
        changes = 0
        for person, (own, way) in enumerate(zip(placed, ways, strict=True)):
            at = 0
            for station in way:
                count = len(lineup.tasks[person][station])
                begun[person, station] = [round(move.set_up_from_s, 1) for move in own[at : at + count]]
                at += count
            waits = sum(move.set_up_from_s - move.rested_s for move in own)
            waiting += waits
            longest = max(longest, waits)
            for move in own:
                walking += move.arrive_s - move.leave_s
                changes += move.load_change_s > 0
            if own:
                length = max(length, own[-1].end_s)
        return Trial(
            tuple(tuple(way) for way in ways), self._rotation(begun), length, waiting, longest, changes, walking, placed
        )

    def _rotation(self, begun: dict[tuple[int, int], list[float]]) -> Rotation:
        lineup = self.lineup
        visits: dict[str, list[PlannedVisit]] = {}
        for (person, station), starts in sorted(begun.items(), key=lambda item: (item[0][0], item[1])):
            at = lineup.stations[station]
            if starts:
                visits.setdefault(lineup.around.people[person].id, []).append(
                    PlannedVisit(
                        group=lineup.block.groups[at.group].id,
                        round=None if at.round < 0 else at.round,
                        sets_s=starts,
                    )
                )
        return Rotation(visits=visits)


def replace_rotation(lineup: Lineup, rotation: Rotation | None) -> Lineup:
    """The same lineup with another rotation chosen; its tasks are shared, not made again."""
    return replace(lineup, block=lineup.block.model_copy(update={"rotation": rotation}))
