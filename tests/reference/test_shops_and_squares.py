"""Who is where when, against what is published or can be counted out."""

from __future__ import annotations

from itertools import permutations, product
from math import ceil

import pytest
from oaken.schedule.rotation.clocked import clocked_rotation, clocked_seconds
from oaken.schedule.rotation.problem import shop_bound
from oaken.schedule.rotation.solver import RotationSearch
from shops import TAILLARD, open_shop, published_shop


@pytest.mark.parametrize("size", range(2, 9))
def test_a_clocked_rotation_is_the_cyclic_latin_square(size: int) -> None:
    """The cyclic Latin square of order n has the symbol i + j mod n in row i and column j (Euler 1782, from memory)."""
    rotation = clocked_rotation(size, [1] * size)
    square = [[rotation.station(person, turn) for turn in range(size)] for person in range(size)]
    assert square == [[(row + column) % size for column in range(size)] for row in range(size)]


@pytest.mark.parametrize(("people", "stations", "capacity"), [(3, 2, 1), (4, 3, 1), (3, 3, 2), (5, 2, 2)])
def test_no_rotation_on_the_bell_has_fewer_turns(people: int, stations: int, capacity: int) -> None:
    """Counted out: with one turn fewer, no choice of who is where at each turn sends everybody everywhere."""
    turns = clocked_rotation(people, [capacity] * stations).turns
    assert turns == max(stations, ceil(people / capacity))
    fewer = turns - 1
    ways = [
        way
        for way in product(range(-1, stations), repeat=fewer)
        if sorted(at for at in way if at >= 0) == list(range(stations))
    ]
    fits = any(
        all(sum(way[turn] == at for way in chosen) <= capacity for turn in range(fewer) for at in range(stations))
        for chosen in product(ways, repeat=people)
    )
    assert not fits


def test_the_clocked_circuit_of_the_handbook_example() -> None:
    """10 stations, 30 s of work, 15 s to change, 3 rounds, no rest between: 1335 s (computed from the formula)."""
    assert clocked_seconds(10, 3, 30, 15, None) == 1335


def test_two_machines_in_a_worked_example() -> None:
    """Open shop on two machines, T. Gonzalez and S. Sahni, J. ACM 23 (1976), from memory: the optimum is the larger of
    the two machine loads and the longest job. Five jobs with loads of 20 and 19 and a longest job of 9: 20."""
    jobs = [[4, 3], [5, 4], [2, 6], [6, 2], [3, 4]]
    assert (sum(job for job, _ in jobs), sum(two for _, two in jobs)) == (20, 19)
    answer = RotationSearch(open_shop(jobs)).run()
    assert (answer.length_ds, answer.bound_ds, answer.proven) == (20, 20, True)
    # one long job: 12 + 9 = 21 is more than either machine has to do
    longest = RotationSearch(open_shop([[12, 9], [3, 4], [2, 5]])).run()
    assert longest.length_ds == 21


def test_three_machines_may_need_more_than_the_bound() -> None:
    """On three machines the simple bound is not always reached (open shop on three machines is NP-hard, Gonzalez and
    Sahni 1976, from memory). Every job and every machine has 6 to do, but three jobs cannot all change machines at
    once… trying every order shows the optimum, and the solver proves the same."""
    jobs = [[3, 3, 0], [3, 0, 3], [0, 3, 3]]
    problem = open_shop([[10 * time for time in job] for job in jobs])
    bound = shop_bound(problem).ds
    answer = RotationSearch(problem).run()
    assert answer.proven
    best = min(_carried_out(jobs, order) for order in _orders(jobs))
    assert answer.length_ds == 10 * best
    assert answer.length_ds >= bound


@pytest.mark.parametrize(("size", "above"), [(5, 0.001), (10, 0.005)])
def test_published_open_shops_come_out_at_their_optima(size: int, above: float) -> None:
    over = []
    for times, machines, optimum in TAILLARD[size]:
        answer = RotationSearch(open_shop(published_shop(size, times, machines))).run()
        assert answer.bound_ds <= optimum <= answer.length_ds
        over.append(answer.length_ds / optimum - 1)
    assert sum(over) / len(over) <= above


def _orders(jobs: list[list[int]]) -> list[tuple[tuple[int, int], ...]]:
    operations = [(job, machine) for job, row in enumerate(jobs) for machine, time in enumerate(row) if time]
    return list(permutations(operations))


def _carried_out(jobs: list[list[int]], order: tuple[tuple[int, int], ...]) -> int:
    ready, free, end = [0] * len(jobs), [0] * len(jobs[0]), 0
    for job, machine in order:
        end_here = max(ready[job], free[machine]) + jobs[job][machine]
        ready[job] = free[machine] = end_here
        end = max(end, end_here)
    return end
