"""Rotation at people's own pace: first come, first served on shared units."""

from __future__ import annotations

import heapq
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import NamedTuple


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
class _Place:
    unit: int
    free_s: float = 0.0
    user: int = -1
    load: float | None = None


def first_come_first_served(
    tasks: Sequence[Sequence[Task]], stock: dict[str, list[int]], walk_s: Callable[[int, int], float]
) -> list[list[Placed]]:
    """Run everybody's tasks in their own order; whoever is ready first gets the first place that comes free.

    `stock` maps a kind to the units of its working places; a kind that is missing or empty is unlimited (the floor,
    or a machine the room has not got: the caller warns of it). Walking happens within the rest. Deterministic: ties
    go to the lower person. Returns the placed tasks of each person, in order.
    """
    places = {kind: [_Place(unit) for unit in units] for kind, units in stock.items()}
    placed: list[list[Placed]] = [[] for _ in tasks]
    queue = [(0.0, person) for person, own in enumerate(tasks) if own]
    heapq.heapify(queue)
    while queue:
        _, person = heapq.heappop(queue)
        done = placed[person]
        kept: tuple[int, _Place] | None = None
        while True:
            task = tasks[person][len(done)]
            last = done[-1] if done else None
            leave = last.end_s if last else 0.0
            rest = last.task.rest_s if last else 0.0
            at = last.unit if last else -1
            if kept is None:
                lane, arrive, start, place = _best_place(places.get(task.kind, []), leave, rest, at, walk_s)
            else:
                (lane, place), arrive, start = kept, leave, leave + rest
            # on the floor one settles down once, then stays
            settled = last is not None and last.task.kind == task.kind if place is None else place.user == person
            change = 0.0 if settled else task.set_up_s
            loading = task.load_change_s if place is not None and (place.user == -1 or place.load != task.load) else 0.0
            work_from = start + change + loading
            end = work_from + task.work_s
            if place is not None:
                place.free_s, place.user, place.load = end, person, task.leaves
            rested = max(arrive, leave + rest)
            unit = -1 if place is None else place.unit
            done.append(Placed(task, leave, arrive, rested, start, loading, work_from, end, unit, lane))
            if not task.keeps or place is None:
                break
            kept = (lane, place)
        if len(done) < len(tasks[person]):
            heapq.heappush(queue, (end + task.rest_s, person))
    return placed


def _best_place(
    places: list[_Place], leave: float, rest: float, at: int, walk_s: Callable[[int, int], float]
) -> tuple[int, float, float, _Place | None]:
    """The lane, arrival and start at the place where work can begin first."""
    if not places:
        return -1, leave, leave + rest, None
    ready = leave + rest
    unit, arrive, earliest = -2, leave, ready
    best_start, best_lane, best_arrive = float("inf"), -1, leave
    for lane, place in enumerate(places):
        if place.unit != unit:
            unit = place.unit
            arrive = leave + walk_s(at, unit)
            earliest = max(ready, arrive)
        start = earliest if place.free_s <= earliest else place.free_s
        if start < best_start:
            best_start, best_lane, best_arrive = start, lane, arrive
            if start <= ready:
                break  # nobody can begin before being ready
    return best_lane, best_arrive, best_start, places[best_lane]


def makespan_bound(tasks: Sequence[Sequence[Task]], stock: dict[str, list[int]]) -> float:
    """A time below which no rotation can end: the larger of the longest person's own time and, for each kind, its
    total demand ÷ its places. Set-up, load changes and walks are left out, since an order might avoid them.
    """
    own = [sum(task.work_s + task.rest_s for task in mine) - mine[-1].rest_s for mine in tasks if mine]
    demand: dict[str, float] = {}
    for mine in tasks:
        for task in mine:
            demand[task.kind] = demand.get(task.kind, 0.0) + task.work_s
    shared = [seconds / len(stock[kind]) for kind, seconds in demand.items() if stock.get(kind)]
    return max([0.0, *own, *shared])
