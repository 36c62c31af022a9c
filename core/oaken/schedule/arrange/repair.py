"""A rotation repaired: as few people as possible are sent elsewhere than planned."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from itertools import permutations
from random import Random

from oaken.schedule.arrange.trial import Floor, Trial
from oaken.schedule.timeline.lineup import Lineup

SETS = 24_000
"""Sets that are placed while repairing: a block of 300 sets is carried out 80 times, within a second."""

WORTH_S = 10.0
"""Sending one more company elsewhere has to save at least this much of the block (common practice, no source)."""

FEW_STATIONS = 4
"""Up to this many stations every order of them is tried for somebody, above only exchanges and rotations."""


@dataclass(frozen=True, slots=True)
class Repaired:
    """A repaired rotation, and whom it sends elsewhere than planned: indices of people."""

    trial: Trial
    moved: tuple[int, ...]


def repair(lineup: Lineup, planned: Sequence[Sequence[int] | None], target_s: float) -> list[Repaired]:
    """Rotations after a change, from nobody sent elsewhere to as many as it is worth; each shorter than the one before.

    `planned[p]` is the order of stations that person p was told, None for somebody new, who may go anywhere. No more
    people are sent elsewhere once the block is within `target_s`. Deterministic.
    """
    return _Repair(lineup, planned, target_s).options()


@dataclass
class _Repair:
    lineup: Lineup
    planned: Sequence[Sequence[int] | None]
    target_s: float

    def __post_init__(self) -> None:
        self.floor = Floor(self.lineup)
        self.chance = Random(7)
        sets = max(1, sum(len(visit) for own in self.lineup.tasks for visit in own))
        self.left = max(30, SETS // sets)
        usual = self.lineup.ways()
        self.ways = [
            self.lineup.in_stages(list(usual[person] if way is None else way))
            for person, way in enumerate(self.planned)
        ]

    def options(self) -> list[Repaired]:
        stands = self.floor.as_it_stands()
        keeps_order = all(
            way is None or list(stands.ways[person]) == self.ways[person] for person, way in enumerate(self.planned)
        )
        best = self.floor.in_ways(self.ways)
        if keeps_order and stands.rank < best.rank:
            best = stands
        for number, company in enumerate(self.lineup.companies):
            if all(self.planned[person] is None for person in company):
                best = min([best, *self._other_ways(best, number)], key=lambda trial: trial.rank)
        found = [Repaired(best, ())]
        moved: set[int] = set()
        while self.left > 0 and best.length_s > self.target_s + 1 and len(moved) < len(self.lineup.companies):
            step = self._one_more(best, moved)
            if step is None or step[1].length_s > best.length_s - WORTH_S:
                break
            number, best = step
            moved.add(number)
            people = tuple(sorted(person for item in moved for person in self.lineup.companies[item]))
            found.append(Repaired(best, people))
        return found

    def _one_more(self, best: Trial, moved: set[int]) -> tuple[int, Trial] | None:
        """The company with which it is best to go on, and what comes of it; those moved already may move again."""
        tried = [
            (number, trial)
            for number in range(len(self.lineup.companies))
            if number not in moved
            for trial in self._other_ways(best, number, max(3, self.left // len(self.lineup.companies)))
        ]
        return min(tried, key=lambda item: (item[1].rank, item[0]), default=None)

    def _other_ways(self, best: Trial, number: int, most: int = 24) -> Iterator[Trial]:
        """What comes of sending a company another way than now."""
        company = self.lineup.companies[number]
        now = list(best.ways[company[0]])
        for way in self._orders(now)[:most]:
            if self.left <= 0:
                return
            allowed = self.lineup.in_stages(list(way))
            if allowed == now:
                continue
            self.left -= 1
            ways = [list(way) for way in best.ways]
            for person in company:
                ways[person] = allowed
            yield self.floor.in_ways(ways)

    def _orders(self, way: list[int]) -> list[tuple[int, ...]]:
        if len(way) <= FEW_STATIONS:
            return list(permutations(way))
        orders = [tuple(way[at:] + way[:at]) for at in range(1, len(way))]
        for here in range(len(way)):
            for there in range(here + 1, len(way)):
                other = list(way)
                other[here], other[there] = other[there], other[here]
                orders.append(tuple(other))
        self.chance.shuffle(orders)
        return orders
