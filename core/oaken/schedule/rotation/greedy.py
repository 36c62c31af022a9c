"""Orders of a block of sets made set by set: whoever can begin soon goes next, with an eye on loads and machines.

One way of weighing gives one order; many ways, drawn from a fixed seed, give many, of which the best is kept.
Gates (who goes round as one, who keeps apart, machines that are held) are kept as the dispatcher keeps them.
"""

from __future__ import annotations

from collections import defaultdict
from random import Random
from typing import NamedTuple

from oaken.schedule.rotation.serial import HELD, Laid, Serial


class Weights(NamedTuple):
    """What counts in choosing who goes next, beside how soon they can begin (in tenths of a second).

    `preparing` weighs set-up and load change, `scarce` the work left on the machine, `own` the person's own work left;
    `crowd_ds` is what everybody over their fair share at a station counts, `chance_ds` what is left to chance.
    """

    preparing: float
    scarce: float
    own: float
    crowd_ds: float
    chance_ds: float


CHOICES: dict[str, tuple[float, ...]] = {
    "preparing": (0.5, 1.0, 1.5, 2.0),
    "scarce": (0.1, 0.15, 0.2, 0.25),
    "own": (0.05, 0.1, 0.2),
    "crowd_ds": (0.0, 200.0, 500.0),
    "chance_ds": (50.0, 100.0, 200.0),
}
FIRST = Weights(1.0, 0.2, 0.1, 200.0, 0.0)


def any_weights(chance: Random) -> Weights:
    """Some weights."""
    return Weights(**{name: chance.choice(values) for name, values in CHOICES.items()})


def near(weights: Weights, chance: Random) -> Weights:
    """The same weights but for one of them, and with some chance."""
    name = chance.choice(list(CHOICES))
    chosen = chance.choice(CHOICES["chance_ds"])
    return weights._replace(**{"chance_ds": chosen, name: chance.choice(CHOICES[name])})


def greedy_order(serial: Serial, weights: Weights, chance: Random) -> Laid:
    """One order, made set by set. Deterministic for a seed."""
    return _Floor(serial, weights, chance).serve()


class _Next(NamedTuple):
    score: float
    stint: int
    start: int
    prepared: int
    lane: int


class _Floor:
    """Places and people while stints are given out one by one."""

    def __init__(self, serial: Serial, weights: Weights, chance: Random) -> None:
        self.serial, self.weights, self.chance = serial, weights, chance
        work = self.work = serial.work
        self.free = [0] * len(serial.units)
        self.user = [-1] * len(serial.units)
        self.load: list[float | None] = [None] * len(serial.units)
        people = len(work.tasks)
        self.ready, self.ends = list(serial.release), list(serial.release)
        self.at = [-1] * people
        self.doing: list[str | None] = [None] * people
        self.left_of = [0] * people
        self.left_on: dict[str, float] = defaultdict(float)
        for stint, lanes in enumerate(serial.lanes_of_stint):
            if lanes:
                self.left_on[serial.kind[stint]] += serial.length[stint] / len(lanes)
            self.left_of[serial.person[stint]] += serial.length[stint] + serial.rest[stint]
        self.order: list[int] = []
        # of every visit, what each member has yet to do; of everybody, their visits by station
        self.to_do: dict[int, dict[int, list[int]]] = defaultdict(dict)
        self.visits_of: dict[int, dict[int, int]] = defaultdict(dict)
        for (person, station), mine in work.of_visit.items():
            number = work.visit(person, station)
            self.to_do[number][person] = list(mine)
            self.visits_of[person][station] = number
        stations = {station for _, station in work.of_visit}
        self.fair_share = -(-len(self.visits_of) // max(1, len(stations)))
        self.crowd: dict[int, int] = defaultdict(int)
        self.ahead: dict[int, set[int]] = defaultdict(set)
        for first, second in work.before:
            self.ahead[second].add(first)
        self.under_way: dict[int, int] = {}  # person → visit, for everybody of it
        self.slots = {name: [0] * width for name, width in work.order.width.items()}
        self.held: dict[int, list[tuple[str, int]]] = {}
        self.opened: dict[int, int] = {}
        self.visit_ends: dict[int, int] = defaultdict(int)

    def serve(self) -> Laid:
        """Give everybody all of their stints."""
        serial = self.serial
        people = list(self.visits_of)
        gated = bool(self.work.order.gates)
        offers = {person: self._offers(person) for person in people}
        for _ in serial.kind:
            chosen = min((offer for mine in offers.values() for offer in mine), key=_score)
            self._take(chosen)
            kind = serial.kind[chosen.stint]
            for person in people:
                if gated or person == serial.person[chosen.stint]:
                    offers[person] = self._offers(person)
                elif any(serial.kind[offer.stint] == kind for offer in offers[person]):
                    offers[person] = [
                        self._offer(offer.stint) if serial.kind[offer.stint] == kind else offer
                        for offer in offers[person]
                    ]
        return serial.lay(self.order)

    def _offers(self, person: int) -> list[_Next]:
        """What somebody could do next."""
        visit = self.under_way.get(person)
        if visit is not None:
            mine = self.to_do[visit][person]
            return [self._offer(mine[0], self.opened[visit])] if mine else []
        found = []
        for station, number in self.visits_of[person].items():
            if not self.ahead or self.ahead[station].isdisjoint(self.visits_of[person]):
                opens = self._opens(number)
                if opens < HELD:
                    found.append(self._offer(self.to_do[number][person][0], opens))
        return found

    def _opens(self, visit: int) -> int:
        """When all gates of a visit are open."""
        return max((min(self.slots[name]) for name in self.work.order.gates.get(visit, ())), default=0)

    def _offer(self, stint: int, opens: int = 0) -> _Next:
        serial, weights = self.serial, self.weights
        person = serial.person[stint]
        since = max(self.ready[person], opens)
        lane = -1
        start, needs = since, 0 if self.doing[person] == serial.kind[stint] else serial.settling[stint]
        for each_lane in serial.lanes_of_stint[stint]:
            begin = max(
                since, self.free[each_lane], self.ends[person] + serial.walk[self.at[person], serial.units[each_lane]]
            )
            takes = 0 if self.user[each_lane] == person else serial.set_up[stint][each_lane]
            if self.user[each_lane] < 0 or self.load[each_lane] != serial.load[stint]:
                takes += serial.change[stint][each_lane]
            if lane < 0 or begin + takes < start + needs:
                lane, start, needs = each_lane, begin, takes
        score = start + weights.preparing * needs
        score -= weights.scarce * self.left_on[serial.kind[stint]] + weights.own * self.left_of[person]
        if weights.crowd_ds and person not in self.under_way:
            over = self.crowd[self.work.stints[stint].station] + 1 - self.fair_share
            score += weights.crowd_ds * over if over > 0 else 0.0
        if weights.chance_ds:
            score += weights.chance_ds * self.chance.random()
        return _Next(score, stint, start, needs, lane)

    def _take(self, chosen: _Next) -> None:
        """Place a stint; open the gates of its visit before its first one and close them after its last."""
        serial, stint = self.serial, chosen.stint
        person, station = serial.person[stint], self.work.stints[stint].station
        visit = self.work.visit(person, station)
        if visit not in self.opened:
            self._open(visit, station)
        end = chosen.start + chosen.prepared + serial.length[stint]
        self.order.append(stint)
        if chosen.lane >= 0:
            lane = chosen.lane
            self.free[lane], self.user[lane], self.load[lane] = end, person, serial.leaves[stint]
            self.left_on[serial.kind[stint]] -= serial.length[stint] / len(serial.lanes_of_stint[stint])
            self.at[person] = serial.units[lane]
        else:
            self.at[person] = -1
        self.left_of[person] -= serial.length[stint] + serial.rest[stint]
        self.ready[person], self.ends[person], self.doing[person] = end + serial.rest[stint], end, serial.kind[stint]
        self.visit_ends[visit] = max(self.visit_ends[visit], end)
        self.to_do[visit][person].pop(0)
        if not any(self.to_do[visit].values()):
            self._close(visit, station)

    def _open(self, visit: int, station: int) -> None:
        self.opened[visit] = self._opens(visit)
        self.held[visit] = []
        for name in self.work.order.gates.get(visit, ()):
            slot = self.slots[name].index(min(self.slots[name]))
            self.slots[name][slot] = HELD
            self.held[visit].append((name, slot))
        for member in self.to_do[visit]:
            self.under_way[member] = visit
        self.crowd[station] += len(self.to_do[visit])

    def _close(self, visit: int, station: int) -> None:
        for name, slot in self.held.pop(visit):
            self.slots[name][slot] = self.visit_ends[visit]
        for member in self.to_do[visit]:
            del self.under_way[member]
            del self.visits_of[member][station]
        self.crowd[station] -= len(self.to_do[visit])


def _score(offer: _Next) -> tuple[float, int]:
    return offer.score, offer.stint
