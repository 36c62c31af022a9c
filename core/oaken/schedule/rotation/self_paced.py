"""Rotation at people's own pace on shared places: first come, first served, or in the order that was chosen."""

from __future__ import annotations

import heapq
from collections import defaultdict
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from typing import NamedTuple, Protocol


class Task(NamedTuple):
    """One set of one person: which kind of place it needs, how long, and the rest that follows.

    `load` is compared between users of a unit: a different one costs the load change; `leaves` is the load it leaves
    on the unit. `keeps` holds the place for this person's next task, which is on the same unit.
    """

    kind: str
    work_s: float
    rest_s: float
    set_up_s: float
    load_change_s: float
    load: float | None
    leaves: float | None
    keeps: bool
    tag: int


class Placed(NamedTuple):
    """A task with its times: leave the last place, arrive, wait, set up, work, end. `unit` is -1 on the floor.

    From `set_up_from_s` to `work_from_s` the unit is set up; `load_change_s` of it goes into changing the load.
    """

    task: Task
    leave_s: float
    arrive_s: float
    rested_s: float
    set_up_from_s: float
    load_change_s: float
    work_from_s: float
    end_s: float
    unit: int
    lane: int


@dataclass(slots=True)
class Order:
    """What is said about the order beyond first come, first served; all of it may be left out.

    `release_s[p]` is when person p may begin. `keys[p][i]` are the planned starts of their tasks: tasks are then given
    places in the order of these. `visits[p][i]` names the visit that a task belongs to; `gates[visit]` the gates it
    passes when its first task begins, each open to `width[gate]` visits at a time until their last task is done.
    `own_times[unit]` are seconds of set-up and load change that replace those of the tasks (None: they do not).
    Of work that has begun already, `since[p]` is when person p is free, the seconds of rest they still owe then, and
    the unit they stand at (-1: none), and `taken[unit]` until when its places are taken, by whom, and with what load.
    """

    release_s: Sequence[float] | None = None
    keys: Sequence[Sequence[float]] | None = None
    visits: Sequence[Sequence[int]] | None = None
    gates: dict[int, tuple[str, ...]] = field(default_factory=dict)
    width: dict[str, int] = field(default_factory=dict)
    own_times: dict[int, tuple[float | None, float | None]] = field(default_factory=dict)
    since: Sequence[tuple[float, float, int]] | None = None
    taken: dict[int, list[tuple[float, int, float | None]]] = field(default_factory=dict)


Walk = Callable[[int, int], float]


class _Prepared(Protocol):
    """What of a set says how long its place is prepared for it."""

    @property
    def set_up_s(self) -> float: ...
    @property
    def load_change_s(self) -> float: ...
    @property
    def load(self) -> float | None: ...


@dataclass(slots=True)
class Place:
    """One place of a unit while sets are given to it: when it is free, who was on it last and with what load, and the
    unit's own seconds of set-up and load change (None: those of the set)."""

    unit: int
    free_s: float = 0.0
    user: int = -1
    load: float | None = None
    set_up_s: float | None = None
    load_change_s: float | None = None

    def preparing(self, person: int, task: _Prepared) -> tuple[float, float]:
        """Seconds of set-up and of load change before this person's task."""
        set_up = 0.0
        if self.user != person:
            set_up = task.set_up_s if self.set_up_s is None else self.set_up_s
        if not task.load_change_s or (self.load == task.load and self.user != -1):
            return set_up, 0.0
        return set_up, task.load_change_s if self.load_change_s is None else self.load_change_s


NOTHING_SAID = Order()


def dispatch(
    tasks: Sequence[Sequence[Task]], stock: dict[str, list[int]], walk_s: Walk, order: Order = NOTHING_SAID
) -> list[list[Placed]]:
    """Run everybody's tasks in their own order; whoever's turn it is gets the place on which work can begin first.

    `stock` maps a kind to the units of its working places; a kind that is missing or empty is unlimited (the floor,
    or a machine the room has not got: the caller warns of it). Walking happens within the rest. Deterministic: ties
    go to the lower person. Returns the placed tasks of each person, in order.
    """
    places = {kind: [Place(unit) for unit in units] for kind, units in stock.items()}
    for unit, (set_up_s, load_change_s) in order.own_times.items():
        for each_item in (item for own in places.values() for item in own if item.unit == unit):
            each_item.set_up_s, each_item.load_change_s = set_up_s, load_change_s
    for unit, users in order.taken.items():
        lanes = [item for own in places.values() for item in own if item.unit == unit]
        for lane_taken, user in zip(lanes, users, strict=False):
            lane_taken.free_s, lane_taken.user, lane_taken.load = user
    placed: list[list[Placed]] = [[] for _ in tasks]
    keys, release, since = order.keys, order.release_s, order.since
    gates = Gates.of(order) if order.gates else None
    queue = [
        (
            keys[person][0]
            if keys
            else since[person][0] + since[person][1]
            if since
            else release[person]
            if release
            else 0.0,
            person,
        )
        for person, own in enumerate(tasks)
        if own
    ]
    heapq.heapify(queue)
    while queue or (gates is not None and gates.waiting):
        turn, person = heapq.heappop(queue) if queue or gates is None else gates.let_in()
        done = placed[person]
        held_s = 0.0
        if gates is not None and order.visits is not None:
            opened = gates.opened(order.visits[person][len(done)], person, turn)
            if opened is None:
                continue  # comes back when a visit that is in the way has ended
            held_s = opened
        kept: tuple[int, Place] | None = None
        while True:
            task = tasks[person][len(done)]
            last = done[-1] if done else None
            if last is not None:
                leave, rest, at = last.end_s, last.task.rest_s, last.unit
            elif since:
                leave, rest, at = since[person]
            else:
                leave, rest, at = release[person] if release else 0.0, 0.0, -1
            if kept is None:
                lane, arrive, start, place = _best_place(
                    places.get(task.kind, []), leave, rest, at, walk_s, person, task, held_s
                )
            else:
                (lane, place), arrive, start = kept, leave, leave + rest
            if place is None:
                # on the floor one settles down once, then stays
                settled = last is not None and last.task.kind == task.kind
                change, loading = 0.0 if settled else task.set_up_s, 0.0
            else:
                change, loading = place.preparing(person, task)
            work_from = start + change + loading
            end = work_from + task.work_s
            if place is not None:
                place.free_s, place.user, place.load = end, person, task.leaves
            rested = max(arrive, leave + rest)
            unit = -1 if place is None else place.unit
            done.append(Placed(task, leave, arrive, rested, start, loading, work_from, end, unit, lane))
            if gates is not None and order.visits is not None:
                for ready in gates.closed(order.visits[person][len(done) - 1], end):
                    heapq.heappush(queue, ready)
            if not task.keeps or place is None:
                break
            kept = (lane, place)
        if len(done) < len(tasks[person]):
            heapq.heappush(queue, (keys[person][len(done)] if keys else end + task.rest_s, person))
    return placed


class Gates:
    """Which visits are under way, and who stands before a gate that is full.

    `gates[visit]` are the gates a visit passes, `width` how many visits each lets in at a time, `left` how many tasks
    every visit still has.
    """

    def __init__(self, gates: Mapping[int, Sequence[str]], width: Mapping[str, int], left: dict[int, int]) -> None:
        self.gates, self.left = gates, left
        self.slots = {name: [0.0] * wide for name, wide in width.items()}
        self.held: dict[int, list[tuple[str, int]]] = {}
        self.begin: dict[int, float] = {}
        self.end: dict[int, float] = defaultdict(float)
        self.waiting: list[tuple[float, int]] = []
        self.passing: set[int] = set()

    @classmethod
    def of(cls, order: Order) -> Gates:
        """The gates of an order, with all tasks still to come."""
        left: dict[int, int] = defaultdict(int)
        for own in order.visits or ():
            for visit in own:
                left[visit] += 1
        return cls(order.gates, order.width, left)

    def opened(self, visit: int, person: int, turn: float, *, passed: bool = False) -> float | None:
        """From when on a visit may begin; None where this person has to stand by. Where it has `passed` already,
        somebody saw it begin: it takes its place whoever else is in."""
        let_in = person in self.passing
        self.passing.discard(person)
        if visit not in self.gates:
            return 0.0
        if visit in self.held:
            return self.begin[visit]
        taken = []
        ready = 0.0
        for name in self.gates[visit]:
            slots = self.slots[name]
            slot = min(range(len(slots)), key=slots.__getitem__)
            if slots[slot] == UNTIL_DONE:
                if not passed and not let_in:
                    self.waiting.append((turn, person))
                    return None
                slots.append(0.0)
                slot = len(slots) - 1
            ready = max(ready, slots[slot])
            taken.append((name, slot))
        for name, slot in taken:
            self.slots[name][slot] = UNTIL_DONE
        self.held[visit] = taken
        self.begin[visit] = 0.0 if passed else ready
        return self.begin[visit]

    def let_in(self) -> tuple[float, int]:
        """Nobody can go on: somebody went ahead to a visit that waits for another one, of whom this gate waits in turn
        (they go round as one, and one of them had no set before it). Whoever waits longest goes in all the same."""
        first = min(self.waiting)
        self.waiting.remove(first)
        self.passing.add(first[1])
        return first

    def closed(self, visit: int, end: float) -> list[tuple[float, int]]:
        """Note that a task is done; whoever may try again if its visit is."""
        self.left[visit] -= 1
        self.end[visit] = max(self.end[visit], end)
        if self.left[visit] or visit not in self.held:
            return []
        for name, slot in self.held.pop(visit):
            self.slots[name][slot] = self.end[visit]
        again, self.waiting = self.waiting, []
        return again


UNTIL_DONE = float("inf")


def _best_place(
    places: list[Place], leave: float, rest: float, at: int, walk_s: Walk, person: int, task: Task, held_s: float
) -> tuple[int, float, float, Place | None]:
    """The lane, arrival and start at the place on which work can begin first; of several, the one free first."""
    ready = leave + rest
    if held_s > ready:
        ready = held_s
    if not places:
        return -1, leave, ready, None
    if len(places) == 1:
        place = places[0]
        arrive = leave + walk_s(at, place.unit)
        return 0, arrive, max(ready, arrive, place.free_s), place
    best_work, best_start, best_lane, best_arrive = float("inf"), float("inf"), -1, leave
    unit, arrive, earliest = -2, leave, ready
    for lane, place in enumerate(places):
        if place.unit != unit:
            unit = place.unit
            arrive = leave + walk_s(at, unit)
            earliest = max(ready, arrive)
        start = earliest if place.free_s <= earliest else place.free_s
        if start >= best_work:
            continue
        work = start + sum(place.preparing(person, task))
        if work < best_work or (work == best_work and start < best_start):
            best_work, best_start, best_lane, best_arrive = work, start, lane, arrive
    return best_lane, best_arrive, best_start, places[best_lane]
