"""A simulated floor: people of a block at their own pace as they really go, and what somebody presses of it.

It shares no code with the dispatcher, the replay or the run: people walk, queue first come first served, take another
machine now and then, and need longer or shorter than planned. How often things happen is invented, and stated in
docs/methods.md beside what comes of it.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from typing import NamedTuple

import numpy as np

OWN_PACE, SET_SPREAD, CHANGE_SPREAD = 0.08, 0.09, 0.15
REST_LONGER, REST_SKEW, TALKS, TALK_S = 1.10, 0.25, 0.08, 30.0
SKIPS, TAKES_ANOTHER = 0.02, 0.12
TICK_S = 0.1


class RealSet(NamedTuple):
    """A set of somebody as it really was, in seconds since the block began; skipped ones take no time."""

    part: str
    number: int
    leave_s: float
    work_from_s: float
    end_s: float
    unit: int
    skipped: bool
    swapped: bool


class PlannedSet(NamedTuple):
    """A set as the plan has it: where, how long, and what follows."""

    part: str
    number: int
    kind: str
    visit: int
    work_s: float
    rest_s: float
    set_up_s: float
    change_s: float
    load: float | None
    leaves: float | None


@dataclass
class _Place:
    kind: str
    unit: int
    user: int | None = None
    last: int | None = None
    load: float | None = None


@dataclass
class _Body:
    left: list[PlannedSet]
    pace: float
    does: str = "next"
    until_s: float = 0.0
    since_s: float = 0.0
    work_from_s: float = 0.0
    rest_s: float = 0.0
    at: int = -1
    kind: str = ""
    place: _Place | None = None
    looked: bool = False
    swapped: bool = False
    done: list[RealSet] = field(default_factory=list)


class LiveFloor:
    """People on machines, tenth by tenth of a second. `machines[kind]` are the units of its places; a kind that is
    not among them is done on the floor."""

    def __init__(
        self,
        plans: Sequence[Sequence[PlannedSet]],
        machines: Mapping[str, Sequence[int]],
        walks_s: Mapping[tuple[int, int], float],
        seed: int,
    ) -> None:
        self.chance = np.random.default_rng(seed)
        self.walks_s = walks_s
        self.places = [_Place(kind, unit) for kind, units in machines.items() for unit in units]
        paces = [float(self.chance.normal(1.0, OWN_PACE)) for _ in plans]
        self.bodies = [_Body(list(own), pace) for own, pace in zip(plans, paces, strict=True)]
        self.queue: list[int] = []

    def run(self, most_s: float = 14_400.0) -> list[list[RealSet]]:
        """Let everybody do everything; their sets in the order in which they did them."""
        now = 0.0
        while now < most_s and any(body.left for body in self.bodies):
            for person in [*self.queue, *(p for p in range(len(self.bodies)) if p not in self.queue)]:
                self._step(person, now)
            now = round(now + TICK_S, 1)
        return [body.done for body in self.bodies]

    def _step(self, person: int, now: float) -> None:
        body = self.bodies[person]
        if not body.left:
            return
        item = body.left[0]
        if body.does == "next":
            if self.chance.random() < SKIPS:
                body.done.append(RealSet(item.part, item.number, now, now, now, -1, True, False))
                body.left.pop(0)
                return
            body.does, body.until_s, body.since_s, body.looked = "rests", now + body.rest_s, now, False
        if body.does == "rests" and now >= body.until_s:
            self._go(person, now)
        elif body.does == "works" and now >= body.until_s:
            self._end(person, now)

    def _end(self, person: int, now: float) -> None:
        body = self.bodies[person]
        item, place = body.left.pop(0), body.place
        if place is not None:
            place.user, place.last, place.load, body.at = None, person, item.leaves, place.unit
        unit = -1 if place is None else place.unit
        body.done.append(
            RealSet(item.part, item.number, body.since_s, body.work_from_s, now, unit, False, body.swapped)
        )
        longer = float(np.exp(self.chance.normal(0, REST_SKEW) - REST_SKEW**2 / 2))
        body.rest_s = item.rest_s * REST_LONGER * longer + (TALK_S if self.chance.random() < TALKS else 0.0)
        body.does, body.kind, body.swapped = "next", item.kind, False

    def _go(self, person: int, now: float) -> None:
        """Take a machine, wait for it, or now and then take another exercise of one's own first."""
        body = self.bodies[person]
        item = body.left[0]
        if all(place.kind != item.kind for place in self.places):
            self._work(person, now, None, 0.0 if body.kind == item.kind else item.set_up_s)
            return
        free = self._free(item.kind)
        before = self.queue[: self.queue.index(person)] if person in self.queue else self.queue
        if len(free) > sum(self.bodies[other].left[0].kind == item.kind for other in before):
            if person in self.queue:
                self.queue.remove(person)
            place = min(free, key=lambda p: (p.last != person, self._walk(body.at, p.unit)))
            prepare = 0.0 if place.last == person else item.set_up_s
            if item.change_s and (place.load != item.load or place.last is None):
                prepare += item.change_s
            walk = max(0.0, self._walk(body.at, place.unit) - (now - body.since_s))
            self._work(person, now, place, walk + prepare * self._about(CHANGE_SPREAD))
            return
        if not body.looked and self.chance.random() < TAKES_ANOTHER and self._takes_another(body):
            if person in self.queue:
                self.queue.remove(person)
        elif person not in self.queue:
            self.queue.append(person)
        body.looked = True

    def _takes_another(self, body: _Body) -> bool:
        """Put another visit first whose machine is free now."""
        for visit in sorted({other.visit for other in body.left} - {body.left[0].visit}):
            others = [other for other in body.left if other.visit == visit]
            if self._free(others[0].kind):
                body.left = [*others, *(other for other in body.left if other.visit != visit)]
                body.swapped = True
                return True
        return False

    def _work(self, person: int, now: float, place: _Place | None, before_s: float) -> None:
        body = self.bodies[person]
        if place is not None:
            place.user = person
        body.work_from_s = now + before_s
        takes = body.left[0].work_s * max(0.5, body.pace * float(self.chance.normal(1.0, SET_SPREAD)))
        body.does, body.place, body.until_s = "works", place, body.work_from_s + takes

    def _free(self, kind: str) -> list[_Place]:
        return [place for place in self.places if place.kind == kind and place.user is None]

    def _walk(self, here: int, there: int) -> float:
        return self.walks_s.get((here, there), 0.0)

    def _about(self, spread: float) -> float:
        return max(0.5, float(self.chance.normal(1.0, spread)))
