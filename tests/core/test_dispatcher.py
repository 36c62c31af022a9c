"""The one dispatcher: places in the order that was chosen, releases, gates, and whoever stands before one."""

from __future__ import annotations

from itertools import pairwise
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st
from oaken.schedule.rotation.least import least_length
from oaken.schedule.rotation.self_paced import Order, Placed, Task, dispatch
from orders import work_of


def task(kind: str = "press", work: float = 30, rest: float = 0, **fields: Any) -> Task:
    plain = Task(kind, work, rest, 0, 0, None, None, False, 0)
    return plain._replace(**fields)


def run(tasks: list[list[Task]], order: Order | None = None, **stock: int) -> list[list[Placed]]:
    units, first = {}, 0
    for kind, count in (stock or {"press": 1}).items():
        units[kind] = list(range(first, first + count))
        first += count
    return dispatch(tasks, units, lambda here, there: 0.0, order or Order())


def starts(placed: list[list[Placed]]) -> list[list[float]]:
    return [[move.work_from_s for move in own] for own in placed]


def test_a_chosen_order_lets_the_later_person_go_first() -> None:
    tasks = [[task(work=20)], [task(work=50)]]
    assert starts(run(tasks)) == [[0], [20]]
    assert starts(run(tasks, Order(keys=[[50.0], [0.0]]))) == [[50], [0]]


def test_a_chosen_order_is_no_timetable() -> None:
    """Planned for minute ten, but nothing is in the way: it is done at once."""
    assert starts(run([[task()]], Order(keys=[[600.0]]))) == [[0]]


def test_a_release_holds_people_back_and_is_no_waiting() -> None:
    placed = run([[task()], [task()]], Order(release_s=[0.0, 100.0]))
    assert starts(placed) == [[0], [100]]
    late = placed[1][0]
    assert late.set_up_from_s - late.rested_s == 0


def test_a_gate_lets_in_as_many_visits_as_it_is_wide_until_they_end() -> None:
    """Three people with two sets each and a pause between; the gate keeps others out of the pauses."""
    tasks = [[task(rest=60), task()] for _ in range(3)]
    free = run(tasks, press=1)
    assert starts(free)[1][0] == 30  # works in while the first one rests
    order = Order(visits=[[0, 0], [1, 1], [2, 2]], gates={visit: ("hold",) for visit in range(3)}, width={"hold": 1})
    held = run(tasks, order, press=1)
    spans = [(own[0].set_up_from_s, own[-1].end_s) for own in held]
    assert spans == [(0, 120), (120, 240), (240, 360)]


def test_everybody_of_a_company_waits_for_the_gate() -> None:
    """A company of two at visit 0, then at visit 1: nobody of it begins there before both are done here."""
    tasks = [[task("press", 20), task("curl", 10)], [task("press", 90), task("curl", 10)]]
    order = Order(visits=[[0, 1], [0, 1]], gates={0: ("us",), 1: ("us",)}, width={"us": 1})
    placed = run(tasks, order, press=2, curl=2)
    assert starts(placed) == [[0, 90], [0, 90]]


def test_a_unit_of_its_own_speed_is_told_from_others_of_its_kind() -> None:
    slow = Order(own_times={0: (40.0, None)})
    placed = run([[task(set_up_s=5)], [task(set_up_s=5)]], slow, press=2)
    # the quicker one first: it has to be set up less
    assert [own[0].unit for own in placed] == [1, 0]
    assert starts(placed) == [[5], [40]]


tasks_of_all = st.lists(
    st.lists(
        st.builds(
            task,
            kind=st.sampled_from(["press", "curl", "floor"]),
            work=st.integers(1, 40).map(float),
            rest=st.integers(0, 30).map(float),
            set_up_s=st.integers(0, 5).map(float),
            load_change_s=st.sampled_from([0.0, 7.0]),
            load=st.sampled_from([40.0, 50.0]),
            leaves=st.sampled_from([40.0, 50.0]),
        ),
        min_size=1,
        max_size=5,
    ),
    min_size=1,
    max_size=5,
)


@given(tasks_of_all, st.integers(1, 2), st.randoms(use_true_random=False))
def test_any_order_is_free_of_clashes_and_keeps_everybodys_own(
    own: list[list[Task]], presses: int, chance: object
) -> None:
    import random

    assert isinstance(chance, random.Random)
    keys = [sorted(chance.uniform(0, 300) for _ in mine) for mine in own]
    release = [chance.choice([0.0, 25.0]) for _ in own]
    placed = run(own, Order(keys=keys, release_s=release), press=presses, curl=1)
    for person, (mine, moves) in enumerate(zip(own, placed, strict=True)):
        assert [move.task for move in moves] == mine
        assert moves[0].set_up_from_s >= release[person]
        for here, there in pairwise(moves):
            assert there.set_up_from_s >= here.end_s + here.task.rest_s - 1e-9
        for move in moves:
            assert move.leave_s <= move.arrive_s <= move.rested_s <= move.set_up_from_s <= move.work_from_s
            assert move.end_s == pytest.approx(move.work_from_s + move.task.work_s)
    by_place: dict[tuple[str, int], list[Placed]] = {}
    for moves in placed:
        for move in moves:
            if move.unit >= 0:
                by_place.setdefault((move.task.kind, move.lane), []).append(move)
    for moves in by_place.values():
        moves.sort(key=lambda move: move.set_up_from_s)
        assert all(there.set_up_from_s >= here.end_s - 1e-9 for here, there in pairwise(moves))
    length = max(moves[-1].end_s for moves in placed)
    work = work_of([[mine] for mine in own], {"press": list(range(presses)), "curl": [9]}, Order(release_s=release))
    assert length >= least_length(work).ds / 10 - 1e-9


@given(tasks_of_all)
def test_the_starts_of_a_schedule_bring_the_same_schedule_about(own: list[list[Task]]) -> None:
    """What was laid out first come, first served comes out again when its starts are the chosen order."""
    single = [[item._replace(kind="press", keeps=False) for item in mine] for mine in own]
    first = run(single, press=1)
    again = run(single, Order(keys=[[move.set_up_from_s for move in moves] for moves in first]), press=1)
    assert starts(again) == starts(first)
