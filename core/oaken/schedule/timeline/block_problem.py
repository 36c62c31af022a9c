"""A block of sets as the solver sees it: every visit with all that others may cost charged to it."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass
from math import ceil

from oaken.schedule.rotation.problem import TENTHS, Operation, RotationProblem, Visit
from oaken.schedule.rotation.self_paced import Task
from oaken.schedule.timeline.lineup import Lineup


@dataclass(frozen=True, slots=True)
class BlockProblem:
    """The problem of a block, and where its operations come from: `tasks[i]` are person, station and the indices of the
    tasks that operation i stands for (several where a unit is kept between them)."""

    problem: RotationProblem
    tasks: list[tuple[int, int, list[int]]]


def block_problem(lineup: Lineup) -> BlockProblem:
    """The whole block: actors are companies, stations those of the lineup.

    Set-up and load change are charged whenever somebody else may have been on the unit, and the longest walk between
    the units of two kinds. So what really happens is never later than what is solved.
    """
    return _Charging(lineup).block_problem()


@dataclass
class _Charging:
    lineup: Lineup

    def __post_init__(self) -> None:
        self._walks: dict[tuple[str, str], float] = {}
        self._loads: dict[str, set[float | None]] = defaultdict(set)
        self._people: dict[str, set[int]] = defaultdict(set)
        for person, own in enumerate(self.lineup.tasks):
            for visit in own:
                for task in visit:
                    self._loads[task.kind] |= {task.load, task.leaves}
                    self._people[task.kind].add(person)

    def block_problem(self) -> BlockProblem:
        lineup, block = self.lineup, self.lineup.block
        capacity = {kind: len(units) for kind, units in lineup.stock.items() if units}
        capacity.update(lineup.order.width)
        gates = lineup.order.gates
        visits: list[Visit] = []
        origins: list[tuple[int, int, list[int]]] = []
        for number, company in enumerate(lineup.companies):
            for station in range(len(lineup.stations)):
                here = [person for person in company if lineup.tasks[person][station]]
                if not here:
                    continue
                strands = []
                for person in here:
                    strand, stand_for = self._strand(person, lineup.tasks[person][station])
                    strands.append(strand)
                    origins += [(person, station, tasks) for tasks in stand_for]
                holds = gates.get(number * len(lineup.stations) + station, ())
                visits.append(Visit(number, station, tuple(strands), tuple(name for name in holds if name in capacity)))
        release = tuple(round(lineup.release_s[company[0]] * TENTHS) for company in lineup.companies)
        limit = None if block.within_s is None else block.within_s * TENTHS
        problem = RotationProblem(tuple(visits), capacity, release, tuple(lineup.before), limit)
        return BlockProblem(problem, origins)

    def _strand(self, person: int, tasks: Sequence[Task]) -> tuple[tuple[Operation, ...], list[list[int]]]:
        operations: list[Operation] = []
        stand_for: list[list[int]] = []
        onward = max((self._walk_s(tasks[-1].kind, kind) for kind in self.lineup.stock), default=0.0)
        for index, task in enumerate(tasks):
            last = index == len(tasks) - 1
            walk = onward if last else self._walk_s(task.kind, tasks[index + 1].kind)
            length, gap = self._charge(person, tasks, index) + task.work_s, max(task.rest_s, walk)
            if index and tasks[index - 1].keeps:
                before = operations.pop()
                stand_for[-1].append(index)
                length_ds = before.length_ds + _tenths(tasks[index - 1].rest_s + length)
                operations.append(before._replace(length_ds=length_ds, gap_ds=_tenths(gap)))
                continue
            stock = self.lineup.stock.get(task.kind)
            operations.append(Operation(task.kind if stock else None, _tenths(length), _tenths(gap)))
            stand_for.append([index])
        return tuple(operations), stand_for

    def _charge(self, person: int, tasks: Sequence[Task], index: int) -> float:
        """Seconds of set-up and load change to charge to a task, whoever was on its unit before."""
        task = tasks[index]
        set_up_s, change_s = self._preparing(task)
        before = next((place for place in range(index - 1, -1, -1) if tasks[place].kind == task.kind), None)
        if not self.lineup.stock.get(task.kind):
            return 0.0 if index and tasks[index - 1].kind == task.kind else task.set_up_s
        own_change = change_s if before is not None and tasks[before].leaves != task.load else 0.0
        if before is None:
            return set_up_s + change_s
        nobody_between = len(self._people[task.kind]) == 1 or self.lineup.block.sharing == "hold"
        if tasks[index - 1].keeps or nobody_between:
            return own_change
        alike = len(self._loads[task.kind]) == 1
        return set_up_s + (0.0 if alike else change_s)

    def _preparing(self, task: Task) -> tuple[float, float]:
        """Set-up and load change on the slowest unit that may be taken."""
        units = set(self.lineup.stock.get(task.kind, []))
        own = [self.lineup.order.own_times.get(unit, (None, None)) for unit in units] or [(None, None)]
        set_up = max(task.set_up_s if item is None else item for item, _ in own)
        change = max(task.load_change_s if item is None or not task.load_change_s else item for _, item in own)
        return set_up, change

    def _walk_s(self, here: str, there: str) -> float:
        """The longest walk between the units of two kinds."""
        if (here, there) not in self._walks:
            room, stock = self.lineup.around.room, self.lineup.stock
            ways = [room.walk_s(a, b) for a in set(stock.get(here, [])) for b in set(stock.get(there, []))]
            self._walks[here, there] = max(ways, default=0.0) * self.lineup.outlook.pace
        return self._walks[here, there]


def _tenths(seconds: float) -> int:
    """Whole tenths of a second, rounded up but for noise."""
    return ceil(seconds * TENTHS - 1e-6)
