"""Puts chosen exercises in order: round the stations, into groups, one group behind the other."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from itertools import combinations, pairwise, permutations
from random import Random

from oaken.design.generator.pool import Choice
from oaken.domain.catalogue import Exercise
from oaken.domain.room import Room
from oaken.forecast.cautions.in_order import usual_rank
from oaken.forecast.order_done import is_large
from oaken.schedule.timeline.schedule import NO_EQUIPMENT

SWAPS = 400
"""Exchanges of two stations that are tried."""


def in_a_circle(choices: Sequence[Choice], room: Room, seed: int) -> list[Choice]:
    """The stations in an order in which neighbours do not tire the same muscles, backs get a rest and ways are short.

    Everybody begins elsewhere, so no place of a circle is early or late.
    """
    # what differs in the last digits comes in the same order every time
    order = sorted(choices, key=lambda choice: (usual_rank(choice.exercise), choice.exercise.id))
    chance = Random(seed)

    beside = {(a.exercise.id, b.exercise.id): _beside(a, b, room) for a, b in permutations(order, 2)}

    def cost(listed: Sequence[Choice]) -> float:
        circle = [*listed, listed[0]] if len(listed) > 1 else []
        return sum(beside[here.exercise.id, there.exercise.id] for here, there in pairwise(circle))

    best = cost(order)
    if len(order) < 3:
        return order
    for _ in range(SWAPS):
        a, b = sorted(chance.sample(range(len(order)), 2))
        tried = order[:a] + order[a : b + 1][::-1] + order[b + 1 :] if chance.random() < 0.5 else [*order]
        if tried == order:
            tried[a], tried[b] = tried[b], tried[a]
        found = cost(tried)
        if found < best:
            order, best = tried, found
    return order


def _beside(one: Choice, other: Choice, room: Room) -> float:
    """What speaks against two exercises one straight after the other."""
    here, there = one.exercise, other.exercise
    shared = len(set(here.prime) & set(there.prime)) / max(1, min(len(here.prime), len(there.prime)))
    cost = 10.0 * shared
    for tag, weight in (("back", 40), ("spinal_load", 30), ("impact", 20)):
        cost += weight * (tag in here.tags and tag in there.tags)
    cost += 8 * (here.pattern == there.pattern) + 6 * (here.nature == there.nature == "rhythmic")
    return cost + walk_between(here, there, room) / 4


def walk_between(here: Exercise, there: Exercise, room: Room) -> float:
    """Seconds from one to the other, nearest places; 0 from and to the floor."""
    if NO_EQUIPMENT in (here.equipment, there.equipment):
        return 0.0
    ways = [room.walk_s(a, b) for a in set(room.working(here.equipment)) for b in set(room.working(there.equipment))]
    return min(ways, default=0.0)


def in_groups(choices: Sequence[Choice], size: int, room: Room) -> list[list[Choice]]:
    """Groups in which one muscle rests while another works: the largest work heads each, the group of the largest
    first, calves and core last. The best of all ways to share the exercises out."""
    ordered = sorted(choices, key=lambda choice: (usual_rank(choice.exercise), choice.exercise.id))
    if size == 1:
        return [[item] for item in ordered]

    beside = {
        (a.exercise.id, b.exercise.id): _beside(a, b, room)
        + 30 * (a.exercise.equipment == b.exercise.equipment != NO_EQUIPMENT)
        + 12 * (usual_rank(a.exercise) <= 1 and usual_rank(b.exercise) <= 1)
        for a, b in combinations(ordered, 2)
    }

    def cost(group: Sequence[Choice]) -> float:
        return sum(beside[a.exercise.id, b.exercise.id] for a, b in combinations(group, 2))

    found = _shared_out(tuple(ordered), size, cost, {})[1]
    groups = [sorted(group, key=lambda item: (usual_rank(item.exercise), item.exercise.id)) for group in found]
    return _small_behind_large(sorted(groups, key=lambda group: [usual_rank(item.exercise) for item in group]))


MOST_GROUPS_ORDERED = 6
"""So many groups are tried in every order."""


def _small_behind_large(groups: list[list[Choice]]) -> list[list[Choice]]:
    """The groups in the order in which what is small comes soonest behind what is large for the same muscle.

    People begin at different groups and go round: of a large exercise and a small one in the group behind, only those
    who begin between them do the small one first.
    """
    many = len(groups)
    if not 2 < many <= MOST_GROUPS_ORDERED:
        return groups

    before = [[0] * many for _ in groups]
    for (at, group), (to, other) in permutations(enumerate(groups), 2):
        before[at][to] = sum(
            is_large(large.exercise)
            and not is_large(small.exercise)
            and bool(set(large.exercise.prime) & set(small.exercise.prime))
            for large in group
            for small in other
        )

    def first_in_small(order: tuple[int, ...]) -> int:
        return sum(
            before[order[large]][order[small]] * ((small - large) % many)
            for large, small in permutations(range(many), 2)
        )

    # the first group stays: it is a circle
    best = min(((0, *rest) for rest in permutations(range(1, many))), key=lambda order: (first_in_small(order), order))
    return [groups[at] for at in best]


def _shared_out(
    left: tuple[Choice, ...],
    size: int,
    cost: Callable[[Sequence[Choice]], float],
    known: dict[tuple[str, ...], tuple[float, list[list[Choice]]]],
) -> tuple[float, list[list[Choice]]]:
    """The cheapest way to make groups of what is left: the first of it with every company it could have."""
    if not left:
        return 0.0, []
    key = tuple(item.exercise.id for item in left)
    if key not in known:
        best: tuple[float, list[list[Choice]]] | None = None
        for company in combinations(left[1:], min(size, len(left)) - 1):
            group = [left[0], *company]
            rest = tuple(item for item in left[1:] if item not in company)
            behind, groups = _shared_out(rest, size, cost, known)
            total = cost(group) + behind
            if best is None or total < best[0] - 1e-9:
                best = total, [group, *groups]
        assert best is not None
        known[key] = best
    return known[key]
