"""The work of a block of sets: everybody's stints by station, the places there are, and what is said of their order."""

from __future__ import annotations

import itertools
from collections import defaultdict
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import NamedTuple

from oaken.schedule.rotation.problem import TENTHS
from oaken.schedule.rotation.self_paced import Order, Placed, Task, Walk


class Stint(NamedTuple):
    """Sets of one person on one place that nobody comes between; nearly always one set.

    `length_ds` runs from the first set's work to the end of the last, `offsets_ds` are the starts of the sets in it.
    """

    person: int
    station: int
    first: Task
    last: Task
    length_ds: int
    offsets_ds: tuple[int, ...]

    @property
    def kind(self) -> str:
        """Where it is."""
        return self.first.kind

    @property
    def rest_ds(self) -> int:
        """The least pause after it."""
        return tenths(self.last.rest_s)


@dataclass(frozen=True)
class SharedWork:
    """All tasks of a block by person and station, the places there are for them, and what is said of their order.

    `tasks[p][s]` are those of person p at station s; `company[p]` is the company somebody goes round with, which may be
    themselves alone. `order` has the gates and the releases, not the keys. `before` names pairs of stations of which
    everybody visits the first sooner.
    """

    tasks: Sequence[Sequence[Sequence[Task]]]
    company: Sequence[int]
    stock: dict[str, list[int]]
    walk_s: Walk
    order: Order
    before: Sequence[tuple[int, int]] = ()

    @cached_property
    def stints(self) -> list[Stint]:
        """Every stint, person after person and station after station."""
        return [
            stint
            for person, own in enumerate(self.tasks)
            for station, tasks in enumerate(own)
            for stint in _stints(person, station, tasks, lambda task: self.quickest_s(task)[1])
        ]

    def quickest_s(self, task: Task) -> tuple[float, float]:
        """What set-up and load change for a task take on the quickest units there are."""
        if not self.order.own_times:
            return task.set_up_s, task.load_change_s
        own = [self.order.own_times.get(unit, (None, None)) for unit in self.stock.get(task.kind) or [-1]]
        return (
            min(task.set_up_s if item is None else item for item, _ in own),
            min(task.load_change_s if item is None or not task.load_change_s else item for _, item in own),
        )

    @cached_property
    def of_visit(self) -> dict[tuple[int, int], list[int]]:
        """Indices in `stints` by person and station; stations at which somebody does nothing are left out."""
        found: dict[tuple[int, int], list[int]] = defaultdict(list)
        for index, stint in enumerate(self.stints):
            found[stint.person, stint.station].append(index)
        return dict(found)

    def visit(self, person: int, station: int) -> int:
        """The number of a visit, as `order.gates` knows it: the same for everybody of a company."""
        return self.company[person] * len(self.tasks[person]) + station

    @property
    def sets(self) -> int:
        """How many sets there are."""
        return sum(len(tasks) for own in self.tasks for tasks in own)

    def release_ds(self, person: int) -> int:
        """When somebody may begin."""
        return tenths(self.order.release_s[person]) if self.order.release_s else 0


class Carried(NamedTuple):
    """A stint as it was carried out: when its set-up began, and on which lane of its kind."""

    start_ds: int
    lane: int


def carried(work: SharedWork, ways: Sequence[Sequence[int]], placed: Sequence[Sequence[Placed]]) -> list[Carried]:
    """Every stint of `work.stints` as the dispatcher placed it."""
    at: dict[tuple[int, int], list[Placed]] = {}
    for person, way in enumerate(ways):
        moves = iter(placed[person])
        for station in way:
            at[person, station] = list(itertools.islice(moves, len(work.tasks[person][station])))
    found = []
    for (person, station), mine in work.of_visit.items():
        first = 0
        for index in mine:
            move = at[person, station][first]
            found.append(Carried(tenths(move.set_up_from_s), move.lane))
            first += len(work.stints[index].offsets_ds)
    return found


def _stints(person: int, station: int, tasks: Sequence[Task], change_s: Callable[[Task], float]) -> Iterator[Stint]:
    mine: list[Task] = []
    for task in tasks:
        mine.append(task)
        if task.keeps:
            continue
        length, offsets = 0.0, []
        for number, item in enumerate(mine):
            if number:
                before = mine[number - 1]
                length += before.rest_s
                offsets.append(tenths(length))
                length += change_s(item) if before.leaves != item.load else 0.0
            else:
                offsets.append(0)
            length += item.work_s
        yield Stint(person, station, mine[0], mine[-1], tenths(length), tuple(offsets))
        mine = []


def tenths(seconds: float) -> int:
    """Whole tenths of a second, rounded down but for noise: a bound in them is one of the block."""
    return int(seconds * TENTHS + 1e-6)
