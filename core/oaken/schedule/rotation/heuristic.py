"""A good rotation at once: everybody goes where they can begin soonest, the scarcest station first."""

from __future__ import annotations

import heapq
from collections import defaultdict
from collections.abc import Iterator, Sequence
from random import Random

import numpy as np

from oaken.schedule.rotation.problem import RotationProblem, shop_bound

RULES = ((1.0, 1.0), (1.0, 0.0), (0.0, 1.0))
"""Weights of the work left on a visit's scarcest resource, and of the actor's own work left, in breaking ties."""

TRIES = 12
"""How many other orders of the visits are tried at once, where visits have several operations."""

NEVER = np.int64(1) << 60


def quick_rotation(problem: RotationProblem) -> list[int]:
    """Start of every operation (tenths of a second): feasible but for the limit, and not far from the bound.

    Deterministic. Where every visit is one operation, by a dense list schedule under several rules; else by letting
    everybody go their way, first come, first served, over several ways.
    """
    bound = shop_bound(problem).ds
    tried: list[list[int]] = []
    for starts in _candidates(problem):
        tried.append(starts)
        if problem.length_ds(starts) <= bound:
            break  # nothing is shorter
    return min(tried, key=lambda starts: (problem.length_ds(starts), problem.waiting_ds(starts)))


def _candidates(problem: RotationProblem) -> Iterator[list[int]]:
    if all(len(visit.strands) == 1 and len(visit.strands[0]) == 1 for visit in problem.visits):
        for rule in RULES:
            yield _dense(problem, *rule)
        return
    chance = Random(7)
    ways = _spread(problem)
    yield in_ways(problem, ways)
    for _ in range(TRIES):
        yield in_ways(problem, _shuffled(problem, ways, chance))


def _dense(problem: RotationProblem, scarce: float, own: float) -> list[int]:
    """List schedule: again and again the visit that can begin soonest; ties go to the most work left."""
    names = sorted(problem.capacity)
    column = {name: index for index, name in enumerate(names)}
    visits = problem.visits
    only = [visit.strands[0][0] for visit in visits]
    needed = [
        [column[name] for name in dict.fromkeys([*visit.holds, *([op.resource] if op.resource else [])])]
        for visit, op in zip(visits, only, strict=True)
    ]
    none = len(names)  # a column that is always free
    uses = np.full((len(visits), max(1, *map(len, needed))), none)
    for row, mine in enumerate(needed):
        uses[row, : len(mine)] = mine
    actor = np.array([visit.actor for visit in visits])
    length = np.array([op.length_ds for op in only], dtype=np.int64)
    rest = np.array([op.gap_ds for op in only], dtype=np.int64)
    places = [[0] * problem.capacity[name] for name in names]
    free = np.zeros(none + 1, dtype=np.int64)
    ready = np.array(problem.release_ds, dtype=np.int64)
    left_of = np.zeros(problem.actors)
    np.add.at(left_of, actor, length)
    left_on = np.zeros(none + 1)
    share = [1 / problem.capacity[name] for name in names]
    for row, mine in enumerate(needed):
        for index in mine:
            left_on[index] += length[row] * share[index]
    missing, opens = _precedences(problem)
    gone = np.array(missing) > 0
    starts = np.zeros(len(visits), dtype=np.int64)
    for _ in visits:
        soonest = np.maximum(ready[actor], free[uses[:, 0]] if uses.shape[1] == 1 else free[uses].max(axis=1))
        soonest[gone] = NEVER
        least = soonest.min()
        at = np.flatnonzero(soonest == least)
        rank = scarce * left_on[uses[at]].max(axis=1) + own * left_of[actor[at]]
        row = int(at[rank.argmax()])
        gone[row] = True
        starts[row] = least
        end = int(least + length[row])
        ready[actor[row]] = end + rest[row]
        left_of[actor[row]] -= length[row]
        for index in needed[row]:
            left_on[index] -= length[row] * share[index]
            own_places = places[index]
            own_places[own_places.index(min(own_places))] = end
            free[index] = min(own_places)
        for second in opens[row]:
            missing[second] -= 1
            gone[second] = missing[second] > 0
    return [int(start) for start in starts]


def _precedences(problem: RotationProblem) -> tuple[list[int], dict[int, list[int]]]:
    """How many visits must come before each, and which each one opens."""
    missing = [0] * len(problem.visits)
    opens: dict[int, list[int]] = defaultdict(list)
    for first, second in problem.precedences:
        missing[second] += 1
        opens[first].append(second)
    return missing, opens


def _spread(problem: RotationProblem) -> list[list[int]]:
    """The visits of every actor in the order of the stations, each actor beginning at another one."""
    stations = sorted({visit.station for visit in problem.visits})
    place = {station: index for index, station in enumerate(stations)}
    return [
        _allowed(
            problem,
            sorted(mine, key=lambda index: (place[problem.visits[index].station] - actor) % len(stations)),
        )
        for actor, mine in enumerate(problem.of_actor)
    ]


def _shuffled(problem: RotationProblem, ways: list[list[int]], chance: Random) -> list[list[int]]:
    """The same ways given to other actors, some of them turned round."""
    stations = [[problem.visits[index].station for index in way] for way in ways]
    order = list(range(len(ways)))
    chance.shuffle(order)
    found = []
    for actor, mine in enumerate(problem.of_actor):
        wished = stations[order[actor]]
        if chance.random() < 0.3:
            wished = wished[::-1]
        rank = {station: index for index, station in enumerate(wished)}
        found.append(
            _allowed(problem, sorted(mine, key=lambda index: rank.get(problem.visits[index].station, len(rank))))
        )
    return found


def _allowed(problem: RotationProblem, way: list[int]) -> list[int]:
    """The way with what must come before drawn forward."""
    needs: dict[int, list[int]] = defaultdict(list)
    for first, second in problem.precedences:
        needs[second].append(first)
    done: list[int] = []

    def take(index: int) -> None:
        if index in done:
            return
        for first in needs[index]:
            take(first)
        done.append(index)

    for index in way:
        take(index)
    return done


def in_ways(problem: RotationProblem, ways: Sequence[Sequence[int]]) -> list[int]:
    """Starts of all operations when every actor makes their visits in this order, first come, first served.

    Whoever is ready first takes the place that is free first; what a visit holds stays taken until it ends.
    """
    starts = [0] * len(problem.operations)
    free = {name: [0] * places for name, places in problem.capacity.items()}
    held: dict[int, list[tuple[str, int]]] = {}
    opened: dict[int, int] = {}
    shared: dict[tuple[int, str], list[int]] = defaultdict(lambda: [0])
    left = [sum(map(len, visit.strands)) for visit in problem.visits]
    ends = [0] * len(problem.visits)
    parked: list[tuple[int, int, int]] = []
    queue: list[tuple[int, int, int]] = []  # ready, actor, then the strand of the visit under way
    at = [0] * problem.actors  # which visit of their way
    place: dict[tuple[int, int], int] = {}
    for actor, way in enumerate(ways):
        if way:
            queue += [
                (problem.release_ds[actor], actor, member) for member in range(len(problem.visits[way[0]].strands))
            ]
    heapq.heapify(queue)
    while queue:
        ready, actor, member = heapq.heappop(queue)
        number = ways[actor][at[actor]]
        visit = problem.visits[number]
        if visit.holds and number not in held:
            slots = [(name, min(range(len(free[name])), key=free[name].__getitem__)) for name in visit.holds]
            if any(free[name][slot] >= NEVER for name, slot in slots):
                parked.append((ready, actor, member))
                continue
            ready = max([ready, *(free[name][slot] for name, slot in slots)])
            for name, slot in slots:
                free[name][slot] = int(NEVER)
            held[number] = slots
            opened[number] = ready
        step_at = place.get((number, member), 0)
        op = visit.strands[member][step_at]
        start = max(ready, opened.get(number, 0))
        if op.resource is not None:
            # what the visit holds is one place for all of its members
            places = shared[number, op.resource] if op.resource in visit.holds else free[op.resource]
            slot = min(range(len(places)), key=places.__getitem__)
            if places[slot] >= NEVER:
                parked.append((ready, actor, member))
                continue
            start = max(start, places[slot])
            places[slot] = start + op.length_ds
        starts[problem.of_visit[number][member][step_at]] = start
        end = start + op.length_ds
        ends[number] = max(ends[number], end)
        place[number, member] = step_at + 1
        left[number] -= 1
        if step_at + 1 < len(visit.strands[member]):
            heapq.heappush(queue, (end + op.gap_ds, actor, member))
        if left[number] == 0:
            for name, slot in held.pop(number, []):
                free[name][slot] = ends[number]
            at[actor] += 1
            if at[actor] < len(ways[actor]):
                following = problem.visits[ways[actor][at[actor]]]
                ready = ends[number] + visit.rest_ds
                for other in range(len(following.strands)):
                    heapq.heappush(queue, (ready, actor, other))
            for waiting in parked:
                heapq.heappush(queue, waiting)
            parked = []
    return starts
