"""The best rotation: nothing it makes breaks a constraint, its bounds hold, and small cases agree with trying all."""

from __future__ import annotations

import threading
from itertools import pairwise, permutations

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from oaken.schedule.rotation.heuristic import quick_rotation
from oaken.schedule.rotation.problem import Operation, RotationProblem, Visit, shop_bound
from oaken.schedule.rotation.solver import RotationAnswer, RotationSearch
from rotation_checker import faults_of, replayed_length
from shops import open_shop, problems, unequal_stations

some = settings(max_examples=40, deadline=None, suppress_health_check=[HealthCheck.too_slow])


@settings(max_examples=150, deadline=None)
@given(problems())
def test_the_quick_rotation_breaks_nothing_and_can_be_lived_through(problem: RotationProblem) -> None:
    starts = quick_rotation(problem)
    assert faults_of(problem, starts) == []
    assert replayed_length(problem, starts) == problem.length_ds(starts)


@some
@given(problems())
def test_the_solved_rotation_breaks_nothing_and_is_no_worse_than_the_quick_one(problem: RotationProblem) -> None:
    found: list[RotationAnswer] = []
    search = RotationSearch(problem, 0.05, on_better=found.append)
    first = search.best
    answer = search.run()
    assert answer.possible
    for item in [*found, answer]:
        assert faults_of(problem, item.starts) == []
    assert replayed_length(problem, answer.starts) == answer.length_ds
    assert answer.length_ds <= first.length_ds
    # better and better, never back
    assert all(
        (there.length_ds, there.waiting_ds) < (here.length_ds, here.waiting_ds) for here, there in pairwise(found)
    )
    assert answer.bound_ds <= answer.length_ds


def by_trying_all(problem: RotationProblem) -> int:
    """The shortest length over every order in which operations could be given their places, each as soon as can be."""
    operations = [
        (visit.actor, number, place, op)
        for number, visit in enumerate(problem.visits)
        for place, op in enumerate(visit.strands[0])
    ]
    best = 1 << 60
    for order in permutations(range(len(operations))):
        free = {name: [0] * places for name, places in problem.capacity.items()}
        ready = list(problem.release_ds)
        open_visit: dict[int, tuple[int, int]] = {}
        end = 0
        for index in order:
            actor, number, place, op = operations[index]
            # an actor finishes a visit before going to the next, and its operations come in order
            now = open_visit.get(actor)
            if (place, now) != (0, None) and now != (number, place):
                break
            places = free[op.resource] if op.resource else [0]
            slot = places.index(min(places))
            start = max(ready[actor], places[slot])
            places[slot] = start + op.length_ds
            ready[actor] = start + op.length_ds + op.gap_ds
            end = max(end, start + op.length_ds)
            last = place == len(problem.visits[number].strands[0]) - 1
            if last:
                open_visit.pop(actor, None)
            else:
                open_visit[actor] = (number, place + 1)
        else:
            best = min(best, end)
    return best


lengths = st.integers(1, 20)


@settings(max_examples=25, deadline=None)
@given(st.sampled_from([(2, 3), (3, 2)]).flatmap(lambda size: st.lists(st.lists(lengths, min_size=size[1], max_size=size[1]), min_size=size[0], max_size=size[0])))  # fmt: skip
def test_small_shops_agree_with_trying_every_order(table: list[list[int]]) -> None:
    problem = open_shop(table)
    answer = RotationSearch(problem).run()
    assert answer.length_ds == by_trying_all(problem)
    assert answer.proven


@settings(max_examples=15, deadline=None)
@given(
    st.lists(
        st.tuples(st.sampled_from("ab"), st.sampled_from("ab"), lengths, lengths, st.integers(0, 8)),
        min_size=3,
        max_size=3,
    )
)
def test_small_supersets_agree_with_trying_every_order(pairs: list[tuple[str, str, int, int, int]]) -> None:
    """Three people with a superset each, and one of them with a second: operations that interleave on two machines."""
    visits = [
        Visit(actor, 0, ((Operation(first, pair, gap), Operation(second, two, gap)),))
        for actor, (first, second, pair, two, gap) in enumerate(pairs)
    ]
    problem = RotationProblem(tuple(visits), {"a": 1, "b": 1}, (0, 0, 0))
    answer = RotationSearch(problem).run()
    assert answer.length_ds == by_trying_all(problem)


@settings(max_examples=30, deadline=None)
@given(st.lists(st.tuples(st.integers(1, 60), st.integers(1, 60)), min_size=2, max_size=9))
def test_two_machines_reach_the_optimum_of_gonzalez_and_sahni(times: list[tuple[int, int]]) -> None:
    """Open shop on two machines: the optimum is the larger of the longest job and the load of a machine.

    T. Gonzalez and S. Sahni, Open shop scheduling to minimize finish time, J. ACM 23 (1976); from memory.
    """
    optimum = max(sum(time for time, _ in times), sum(two for _, two in times), *(time + two for time, two in times))
    answer = RotationSearch(open_shop([list(pair) for pair in times])).run()
    assert (answer.length_ds, answer.bound_ds) == (optimum, optimum)


@pytest.mark.parametrize("size", [2, 3, 5, 8])
def test_equal_stations_come_out_as_a_latin_square(size: int) -> None:
    """As many people as equal stations: nobody ever waits, so at each turn everybody stands at another station."""
    answer = RotationSearch(open_shop([[10] * size for _ in range(size)])).run()
    assert answer.length_ds == 10 * size
    assert answer.waiting_ds == 0
    assert answer.proven


@settings(max_examples=60, deadline=None)
@given(problems())
def test_the_bound_is_what_a_plain_count_gives_or_more(problem: RotationProblem) -> None:
    """A second way to a lower bound: plain sums of own times and of each resource's seconds."""
    plain = [0.0]
    for actor in range(problem.actors):
        mine = [visit for visit in problem.visits if visit.actor == actor]
        work = [max(sum(op.length_ds for op in strand) for strand in visit.strands) for visit in mine]
        plain.append(problem.release_ds[actor] + sum(work))
    for name, places in problem.capacity.items():
        seconds = sum(
            op.length_ds
            for visit in problem.visits
            if name not in visit.holds
            for strand in visit.strands
            for op in strand
            if op.resource == name
        )
        plain.append(seconds / places)
    bound = shop_bound(problem)
    assert bound.ds >= max(plain) - 1e-9
    assert bound.ds <= problem.length_ds(quick_rotation(problem))


def test_the_same_problem_gets_the_same_answer() -> None:
    problem = unequal_stations(8, 5)
    assert RotationSearch(problem, 0.1).run() == RotationSearch(problem, 0.1).run()


def test_a_limit_below_the_bound_cannot_be_kept_and_one_at_the_optimum_can() -> None:
    table = [[30, 50], [40, 20], [10, 60]]
    optimum = 130
    over = RotationProblem(open_shop(table).visits, {"m0": 1, "m1": 1}, (0, 0, 0), limit_ds=optimum - 1)
    assert not RotationSearch(over).run().possible
    at = RotationProblem(open_shop(table).visits, {"m0": 1, "m1": 1}, (0, 0, 0), limit_ds=optimum)
    search = RotationSearch(at)
    assert search.run().length_ds == optimum
    assert search.in_time


def test_a_late_start_that_bars_the_limit_is_told_without_searching() -> None:
    visit = Visit(0, 0, ((Operation("m0", 50),),))
    problem = RotationProblem((visit,), {"m0": 1}, (60,), limit_ds=100)
    answer = RotationSearch(problem).run()
    assert not answer.possible
    assert answer.bound_ds == 110


def test_a_search_that_is_cancelled_keeps_its_best() -> None:
    search = RotationSearch(unequal_stations(24, 12), 5.0)
    before = search.best
    running = threading.Thread(target=search.run)
    running.start()
    search.cancel()
    running.join(timeout=60)
    assert not running.is_alive()
    assert search.best.length_ds <= before.length_ds
    assert faults_of(search.problem, search.best.starts) == []


def test_a_visit_needs_a_place_that_exists() -> None:
    with pytest.raises(ValueError, match="no place"):
        RotationProblem((Visit(0, 0, ((Operation("m0", 10),),)),), {}, (0,))


@pytest.mark.parametrize(("people", "stations"), [(24, 12), (40, 20)])
def test_large_classes_come_close_to_the_bound_at_once(people: int, stations: int) -> None:
    for seed in (1, 2):
        problem = unequal_stations(people, stations, seed)
        starts = quick_rotation(problem)
        assert problem.length_ds(starts) <= 1.25 * shop_bound(problem).ds
        if people < 40:
            assert faults_of(problem, starts) == []


def test_the_checker_finds_what_is_broken() -> None:
    problem = open_shop([[30, 50], [40, 20]])
    starts = quick_rotation(problem)
    assert any("two stations" in fault for fault in faults_of(problem, [0, 0, *starts[2:]]))
    assert any("over its capacity" in fault for fault in faults_of(problem, [0, 40, 10, 90]))
    superset = RotationProblem((Visit(0, 0, ((Operation("m0", 30, 10), Operation("m0", 30)),)),), {"m0": 1}, (5,))
    assert any("pause" in fault for fault in faults_of(superset, [5, 36]))
    assert any("before its actor may" in fault for fault in faults_of(superset, [0, 50]))
