"""A good order made better by many small changes: two on a machine, two stations of somebody, two people's ways.

Simulated annealing: a change for the worse is kept sometimes, the more seldom the longer the search has gone on.
Deterministic for a seed. S. Kirkpatrick, C. Gelatt and M. Vecchi, Science 220 (1983), from memory.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Sequence
from math import exp
from random import Random
from typing import Literal, NamedTuple

from oaken.schedule.rotation.serial import Laid, Serial

WAITING_WEIGHS = 0.12
"""A tenth of a second of everybody's mean waiting, beside one of length, while the length is looked for."""

OVER_WEIGHS = 20.0
"""A tenth of a second over the length that may not be passed, while less waiting is looked for."""

CHANGE_WEIGHS_DS = 20
"""A load change beside everybody's waiting in sum."""


class Temperature(NamedTuple):
    """How much worse (tenths of a second) is kept with a chance of 1 in e, at first and at last."""

    first_ds: float
    last_ds: float


HEAT: dict[Literal["length", "waiting"], Temperature] = {
    "length": Temperature(100.0, 5.0),
    "waiting": Temperature(20.0, 1.0),
}
LATER_DS = 600
"""So long after the other one a station comes that has changed places with it."""

SHIFT_DS = 1500
"""How far at the most a visit is moved to and fro."""


Keys = dict[int, float]
"""When every stint is to have its place: stints are given places in the order of these."""


class Annealing:
    """The search, begun with an order: `best` is the best one carried out so far, and `some` tries some more changes.

    For the shortest length first and less waiting beside it; with `limit_ds`, for the least waiting that does not pass
    it. `tries` is how many changes will be tried in all.
    """

    def __init__(self, serial: Serial, begun: Laid, tries: int, chance: Random, limit_ds: int | None = None) -> None:
        self.serial, self.tries, self.chance, self.limit_ds = serial, tries, chance, limit_ds
        self.heat = HEAT["length" if limit_ds is None else "waiting"]
        work = serial.work
        self._people = len({person for person, _ in work.of_visit})
        self._visits: dict[int, dict[int, list[list[int]]]] = defaultdict(dict)
        for (person, station), mine in work.of_visit.items():
            self._visits[work.company[person]].setdefault(station, []).append(mine)
        self._companies = sorted(self._visits)
        self._ahead: dict[int, set[int]] = defaultdict(set)
        for first, second in work.before:
            self._ahead[second].add(first)
        self.here = self.best = begun
        self.tried = 0

    def some(self, tries: int) -> Laid:
        """Try so many changes, but no more than there are left; the best so far."""
        cost = self._cost(self.here)
        for _ in range(min(tries, self.tries - self.tried)):
            heat = self.heat.first_ds * (self.heat.last_ds / self.heat.first_ds) ** (self.tried / self.tries)
            self.tried += 1
            keys: Keys = dict(enumerate(self.here.starts))
            touched = self._change(keys)
            if not touched:
                continue
            laid = self.serial.lay(self._order(keys, touched))
            other = self._cost(laid)
            if other <= cost or self.chance.random() < exp((cost - other) / heat):
                self.here, cost = laid, other
                if self._rank(laid) < self._rank(self.best):
                    self.best = laid
        return self.best

    def _cost(self, laid: Laid) -> float:
        if self.limit_ds is None:
            return laid.length_ds + WAITING_WEIGHS * laid.waiting_ds / self._people
        over = max(0, laid.length_ds - self.limit_ds)
        return OVER_WEIGHS * over + laid.wait_cost_ds / self._people + CHANGE_WEIGHS_DS * laid.changes / self._people

    def _rank(self, laid: Laid) -> tuple[int, float, int]:
        if self.limit_ds is None:
            return laid.rank
        return max(0, laid.length_ds - self.limit_ds), laid.wait_cost_ds, laid.changes

    # changes; each writes other keys and tells whose

    def _change(self, keys: Keys) -> list[int]:
        kind = self.chance.random()
        if kind < 0.5:
            return self._sooner_on_a_place(keys)
        company = self.chance.choice(self._companies)
        if kind < 0.75:
            return self._two_stations(company, keys)
        if kind < 0.9:
            return self._two_ways(company, self.chance.choice(self._companies), keys)
        shift = self.chance.uniform(-SHIFT_DS, SHIFT_DS)
        for mine in self._visits[company][self.chance.choice(list(self._visits[company]))]:
            for stint in mine:
                keys[stint] += shift
        return [company]

    def _sooner_on_a_place(self, keys: Keys) -> list[int]:
        """Somebody has a stint before the one who is there before them now."""
        starts, lanes = self.here.starts, self.here.lanes
        stint = self.chance.randrange(len(starts))
        lane, person = lanes[stint], self.serial.person
        if lane < 0:
            return []
        before, latest = -1, -1
        for other, start in enumerate(starts):
            if lanes[other] == lane and latest < start < starts[stint]:
                before, latest = other, start
        if before < 0 or person[before] == person[stint]:
            return []
        keys[stint] = latest - 0.5
        known = self.serial.work.stints[stint]
        for earlier in reversed(self.serial.work.of_visit[known.person, known.station]):
            if earlier < stint and keys[earlier] >= keys[earlier + 1]:
                keys[earlier] = keys[earlier + 1] - 0.001
        return [self.serial.work.company[known.person]]

    def _two_stations(self, company: int, keys: Keys) -> list[int]:
        """Two stations that follow each other change places."""
        starts = self.here.starts
        stations = sorted(self._visits[company], key=lambda station: self._begin(company, station, starts))
        if len(stations) < 2:
            return []
        at = self.chance.randrange(len(stations) - 1)
        first, second = stations[at], stations[at + 1]
        begin, later = self._begin(company, first, starts), self._begin(company, second, starts)
        lasts = [starts[mine[-1]] for mine in self._visits[company][second]]
        for mine in self._visits[company][second]:
            for stint in mine:
                keys[stint] += begin - later
        for mine in self._visits[company][first]:
            for stint in mine:
                keys[stint] += max(lasts) - later + LATER_DS
        return [company]

    def _two_ways(self, one: int, other: int, keys: Keys) -> list[int]:
        """Two companies do everything when the other did it."""
        starts = self.here.starts
        if one == other:
            return []
        for station, mine in self._visits[one].items():
            for here, there in zip(mine, self._visits[other].get(station, []), strict=False):
                for a, b in zip(here, there, strict=False):
                    keys[a], keys[b] = starts[b], starts[a]
        return [one, other]

    def _begin(self, company: int, station: int, keys: Sequence[float] | Keys) -> float:
        return min(keys[mine[0]] for mine in self._visits[company][station])

    def _order(self, keys: Keys, touched: Sequence[int]) -> list[int]:
        """All stints by their keys; those of the touched companies never go back within anybody's way."""
        for company in touched:
            visits = self._visits[company]
            last: dict[int, float] = {}
            for station in self._staged(sorted(visits, key=lambda station: self._begin(company, station, keys))):
                for mine in visits[station]:
                    person = self.serial.person[mine[0]]
                    for stint in mine:
                        if person in last and keys[stint] <= last[person]:
                            keys[stint] = last[person] + 0.0001
                        last[person] = keys[stint]
        return sorted(keys, key=lambda stint: (keys[stint], stint))

    def _staged(self, stations: list[int]) -> list[int]:
        """The stations with what must come before drawn forward."""
        if not self._ahead:
            return stations
        done: list[int] = []

        def take(station: int) -> None:
            if station in done:
                return
            for first in stations:
                if first in self._ahead[station]:
                    take(first)
            done.append(station)

        for station in stations:
            take(station)
        return done
