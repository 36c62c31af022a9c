"""A better order for the rest of a block under way: visits that have not begun, moved until everybody is done sooner.

The dispatcher that plans lays out what is left from where everybody stands, once for each order that is tried. What is
under way, and whoever is walking, stays as it is. The search is a short climb with a fixed seed, so that it gives the
same answer wherever it is asked; an order counts only where it also ends sooner when sets and people take other times
than expected.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import groupby, pairwise
from random import Random

import numpy as np

from oaken.schedule.rotation.rolling import Placement, RollingWork
from oaken.schedule.rotation.self_paced import Order, Placed, Task, dispatch

TRIES = 90
"""How many orders are tried: some 0.2 s of CPU for 24 people."""

REPLAYS = 12
"""On how many days as they may go an order is compared with the plain one."""

PACE_SPREAD, SET_SPREAD = 0.08, 0.09
"""The standard deviations of a person's pace and of a single set, as the product's replays have them (a choice)."""

LEAST_GAIN = 0.01
"""An order has to end sooner by this share of what is left, on the mean of the replays."""

MEAN_WEIGHT = 0.02
"""How much the mean of everybody's ends counts beside the last one: it leads a climb over level ground."""


@dataclass(frozen=True, slots=True)
class VisitLeft:
    """A stretch of somebody's sets that belong together, in order."""

    number: int
    tasks: tuple[Task, ...]


@dataclass(frozen=True)
class _Rest:
    """What is left of a block: everybody's visits in order, of which the first `pinned` stay where they are."""

    work: RollingWork
    order: Order
    visits: list[list[VisitLeft]]
    pinned: list[int]
    now_s: float

    @staticmethod
    def tasks(visits: Sequence[Sequence[VisitLeft]]) -> list[list[Task]]:
        return [[task for visit in own for task in visit.tasks] for own in visits]

    def dispatched(self, tasks: Sequence[Sequence[Task]]) -> list[list[Placed]]:
        return dispatch(tasks, self.work.stock, self._walk_s, self.order)

    def _walk_s(self, here: int, there: int) -> float:
        return self.work.walks_s.get((here, there), 0.0)

    def cost(self, visits: Sequence[Sequence[VisitLeft]]) -> tuple[float, list[list[Placed]]]:
        """When the last is done, with a little of when everybody is."""
        placed = self.dispatched(self.tasks(visits))
        ends = [own[-1].end_s for own in placed if own]
        return max(ends) + MEAN_WEIGHT * sum(ends) / len(ends), placed


@dataclass(frozen=True, slots=True)
class Reordered:
    """A better order: what everybody still does, set by set with its expected start (`tag` is the index of the task),
    and by how many seconds the block is expected to end sooner than in the order it has."""

    placed: list[list[Placed]]
    sooner_s: float


def better_order(work: RollingWork, placed: Sequence[Sequence[Placement]], now_s: float) -> Reordered | None:
    """A better order of what is left at a moment, from how it stands (`placed`, of `roll`); None where none is found
    that ends sooner on replays too, and where visits have gates (machines that are held, people who go round together
    or apart): those are only dispatched."""
    if work.gates:
        return None
    rest = _rest_of(work, placed, now_s)
    if not any(len(own) > fixed + 1 for own, fixed in zip(rest.visits, rest.pinned, strict=True)):
        return None
    least, first = rest.cost(rest.visits)
    plain = best = first
    chosen = rest.visits
    chance = Random(1)
    for _ in range(TRIES):
        tried = _moved(rest, chosen, best, chance)
        if tried is None:
            continue
        cost, found = rest.cost(tried)
        if cost < least:
            least, best, chosen = cost, found, tried
    sooner = _ends(plain) - _ends(best)
    if sooner < LEAST_GAIN * (_ends(plain) - now_s) or not _wins(rest, chosen):
        return None
    return Reordered(best, sooner)


def begun_sets(own: Sequence[Placement], now_s: float) -> int:
    """How many of somebody's sets have begun: for these the unit is set up, at least. The others are given places."""
    return sum(placement.set_up_from_s <= now_s for placement in own)


def _ends(placed: Sequence[Sequence[Placed]]) -> float:
    return max((own[-1].end_s for own in placed if own), default=0.0)


def _rest_of(work: RollingWork, placed: Sequence[Sequence[Placement]], now_s: float) -> _Rest:
    since: list[tuple[float, float, int]] = []
    visits: list[list[VisitLeft]] = []
    pinned: list[int] = []
    begun: dict[int, list[tuple[float, int, float | None]]] = {}
    for person, own in enumerate(placed):
        count = begun_sets(own, now_s)
        coming = own[count:]
        for placement in own[:count]:
            if placement.unit >= 0:
                begun.setdefault(placement.unit, []).append((placement.end_s, person, placement.task.leaves))
        at = own[count - 1].unit if count else -1
        since.append((coming[0].leave_s, coming[0].rested_s - coming[0].leave_s, at) if coming else (now_s, 0.0, at))
        index_of = work.index_of[person]
        rests = [later.rested_s - placement.end_s for placement, later in pairwise(coming)]
        tasks = [
            (
                placement.task.visit,
                Task(
                    placement.task.kind,
                    placement.end_s - placement.work_from_s,
                    rest_s,
                    placement.task.set_up_s,
                    placement.task.load_change_s,
                    placement.task.load,
                    placement.task.leaves,
                    placement.task.keeps,
                    index_of[placement.task.id],
                ),
            )
            for placement, rest_s in zip(coming, [*rests, coming[-1].task.rest_s if coming else 0.0], strict=False)
        ]
        mine = [
            VisitLeft(number, tuple(task for _, task in sets))
            for number, sets in groupby(tasks, key=lambda item: item[0])
        ]
        visits.append(mine)
        under_way = own[count - 1].task.visit if count else -1
        walks = bool(coming) and coming[0].leave_s <= now_s
        pinned.append(1 if mine and (walks or mine[0].number == under_way) else 0)
    taken = {
        unit: sorted(users, key=lambda user: user[0])[-work.places[unit] :]
        for unit, users in begun.items()
        if work.places[unit]
    }
    order = Order(own_times=work.own_times, since=since, taken=taken)
    return _Rest(work, order, visits, pinned, now_s)


def _moved(
    rest: _Rest, visits: Sequence[Sequence[VisitLeft]], placed: Sequence[Sequence[Placed]], chance: Random
) -> list[list[VisitLeft]] | None:
    """The same with one visit of somebody drawn forward: of whoever is done last, or of somebody who waits."""
    waits = [sum(item.set_up_from_s - item.rested_s for item in own) for own in placed]
    last = max(range(len(placed)), key=lambda person: placed[person][-1].end_s if placed[person] else 0.0)
    person = last if chance.random() < 0.4 else chance.choices(range(len(placed)), [wait + 1.0 for wait in waits])[0]
    fixed, own = rest.pinned[person], list(visits[person])
    if len(own) - fixed < 2:
        return None
    there = chance.randrange(fixed, len(own) - 1)
    here = chance.randrange(there + 1, len(own))
    own.insert(there, own.pop(here))
    changed = [list(each) for each in visits]
    changed[person] = own
    return changed


def _wins(rest: _Rest, chosen: Sequence[Sequence[VisitLeft]]) -> bool:
    """Whether an order also ends sooner on days that go otherwise than expected, each compared with itself."""
    chance = np.random.default_rng(1)
    sooner = []
    for _ in range(REPLAYS):
        paces = np.exp(chance.normal(0, PACE_SPREAD, len(rest.visits))).tolist()
        real = [
            {
                task.tag: task._replace(work_s=task.work_s * pace * by)
                for task, by in zip(tasks, np.exp(chance.normal(0, SET_SPREAD, len(tasks))).tolist(), strict=True)
            }
            for pace, tasks in zip(paces, rest.tasks(rest.visits), strict=True)
        ]
        plain, other = (
            _ends(
                rest.dispatched(
                    [[own[task.tag] for task in tasks] for own, tasks in zip(real, rest.tasks(visits), strict=True)]
                )
            )
            for visits in (rest.visits, chosen)
        )
        sooner.append((plain - other) / (plain - rest.now_s))
    return float(np.mean(sooner)) >= LEAST_GAIN
