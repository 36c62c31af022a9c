"""A block of sets as the solver sees it: every visit with all that others may cost charged to it."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass
from math import ceil

from oaken.rotation.problem import TENTHS, Operation, RotationProblem, Visit
from oaken.rotation.self_paced import Task
from oaken.timeline.lineup import Lineup


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
        self._left: dict[str, dict[float | None, set[int]]] = defaultdict(lambda: defaultdict(set))
        self._people: dict[str, set[int]] = defaultdict(set)
        self._put_on: set[tuple[str, float | None]] = set()
        for person, own in enumerate(self.lineup.tasks):
            for visit in own:
                for task in visit:
                    self._loads[task.kind] |= {task.load, task.leaves}
                    self._people[task.kind].add(person)
                    self._left[task.kind][task.leaves].add(person)

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
        problem = RotationProblem(tuple(visits), capacity, release, tuple(lineup.before), self._station_walks(), limit)
        return BlockProblem(problem, origins)

    def _strand(self, person: int, tasks: Sequence[Task]) -> tuple[tuple[Operation, ...], list[list[int]]]:
        operations: list[Operation] = []
        stand_for: list[list[int]] = []
        onward = max((self._walk_s(tasks[-1].kind, kind) for kind in self.lineup.stock), default=0.0)
        for index, task in enumerate(tasks):
            charge, least, own = self._charge(person, tasks, index)
            last = index == len(tasks) - 1
            walk = onward if last else self._walk_s(task.kind, tasks[index + 1].kind)
            length, gap = charge + task.work_s, max(task.rest_s, walk)
            least_walk = 0.0 if last else self._least_walk_s(task.kind, tasks[index + 1].kind)
            least_gap = int(max(task.rest_s, least_walk) * TENTHS)
            if index and tasks[index - 1].keeps:
                before = operations.pop()
                stand_for[-1].append(index)
                between = tasks[index - 1].rest_s
                operations.append(
                    before._replace(
                        length_ds=before.length_ds + _tenths(between + length),
                        gap_ds=_tenths(gap),
                        least_gap_ds=least_gap,
                        least_ds=before.least_ds + int((between + task.work_s + least) * TENTHS),
                        own_least_ds=before.own_least_ds + int((between + task.work_s + own) * TENTHS),
                    )
                )
                continue
            stock = self.lineup.stock.get(task.kind)
            load = task.load if task.load_change_s else None
            operations.append(
                Operation(
                    task.kind if stock else None,
                    _tenths(length),
                    _tenths(gap),
                    int((task.work_s + least) * TENTHS),
                    load,
                    least_gap,
                    int((task.work_s + own) * TENTHS),
                )
            )
            stand_for.append([index])
        return tuple(operations), stand_for

    def _charge(self, person: int, tasks: Sequence[Task], index: int) -> tuple[float, float, float]:
        """Seconds of set-up and load change to charge to a task; how much of the unit's time before it no order of
        people can save; and how much of the person's own.

        What comes before a set on its unit is either somebody else, who costs a set-up and, where nobody else leaves
        the same load, a load change; or the same person, and then the unit stands idle for as long as they are away.
        """
        task = tasks[index]
        set_up_s, change_s = self._preparing(task)
        before = next((place for place in range(index - 1, -1, -1) if tasks[place].kind == task.kind), None)
        if not self.lineup.stock.get(task.kind):
            if index:
                settled = 0.0 if tasks[index - 1].kind == task.kind else task.set_up_s
                return settled, settled, settled
            # whoever comes from the floor to the floor is settled already
            least = task.set_up_s if self._stations_with(person, task.kind) == 1 else 0.0
            return task.set_up_s, least, least
        own_change = change_s if before is not None and tasks[before].leaves != task.load else 0.0
        if index and tasks[index - 1].keeps:
            return own_change, own_change, own_change
        others = self._left[task.kind].get(task.load, set()) - {person}
        if before is None:
            # every load has to be put on once, whoever shares it
            new_load = bool(change_s) and (task.kind, task.load) not in self._put_on
            self._put_on.add((task.kind, task.load))
            least = set_up_s + (0.0 if others and not new_load else change_s)
            own = set_up_s + (0.0 if others else change_s)
            alone = self._stations_with(person, task.kind) == 1
            return set_up_s + change_s, least if alone else 0.0, own if alone else 0.0
        if len(self._people[task.kind]) == 1 or self.lineup.block.sharing == "hold":
            return own_change, own_change, own_change
        away = tasks[before].rest_s + sum(
            tasks[place].work_s + tasks[place].rest_s for place in range(before + 1, index)
        )
        alike = len(self._loads[task.kind]) == 1
        dear = set_up_s + (0.0 if others else change_s)
        return set_up_s + (0.0 if alike else change_s), min(dear, away + own_change), 0.0 if others else own_change

    def _stations_with(self, person: int, kind: str) -> int:
        """At how many stations a person uses a kind."""
        return sum(any(one.kind == kind for one in visit) for visit in self.lineup.tasks[person])

    def _preparing(self, task: Task) -> tuple[float, float]:
        """Set-up and load change on the slowest unit that may be taken."""
        units = set(self.lineup.stock.get(task.kind, []))
        own = [self.lineup.order.own_times.get(unit, (None, None)) for unit in units] or [(None, None)]
        set_up = max(task.set_up_s if one is None else one for one, _ in own)
        change = max(task.load_change_s if one is None or not task.load_change_s else one for _, one in own)
        return set_up, change

    def _walk_s(self, here: str, there: str) -> float:
        """The longest walk between the units of two kinds."""
        if (here, there) not in self._walks:
            room, stock = self.lineup.around.room, self.lineup.stock
            ways = [room.walk_s(a, b) for a in set(stock.get(here, [])) for b in set(stock.get(there, []))]
            self._walks[here, there] = max(ways, default=0.0) * self.lineup.outlook.pace
        return self._walks[here, there]

    def _least_walk_s(self, here: str, there: str) -> float:
        """The shortest walk between the units of two kinds."""
        room, stock = self.lineup.around.room, self.lineup.stock
        ways = [room.walk_s(a, b) for a in set(stock.get(here, [])) for b in set(stock.get(there, []))]
        return min(ways, default=0.0) * self.lineup.outlook.pace

    def _station_walks(self) -> dict[tuple[int, int], int]:
        """From the last kind of each station to the first of each other, in tenths of a second."""
        ends = []
        for station in range(len(self.lineup.stations)):
            tasks = next((own[station] for own in self.lineup.tasks if own[station]), None)
            ends.append((tasks[0].kind, tasks[-1].kind) if tasks else ("", ""))
        return {
            (here, there): round(self._walk_s(ends[here][1], ends[there][0]) * TENTHS)
            for here in range(len(ends))
            for there in range(len(ends))
            if here != there
        }


def _tenths(seconds: float) -> int:
    """Whole tenths of a second, rounded up but for noise."""
    return ceil(seconds * TENTHS - 1e-6)
