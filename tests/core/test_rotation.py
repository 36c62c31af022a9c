"""Who is where when: no clash, everyone everywhere, and an independent replay that agrees."""

from collections import defaultdict

import pytest
import simpy
from hypothesis import given
from hypothesis import strategies as st
from making import KINDS, classes, room
from oaken.domain.room import Room
from oaken.schedule.class_file import ClassFile
from oaken.schedule.rotation.clocked import clocked_rotation, share_out
from oaken.schedule.rotation.least import least_length
from oaken.schedule.rotation.self_paced import Task, dispatch
from orders import work_of
from test_timeline import timeline_of


@given(st.integers(1, 40), st.lists(st.integers(1, 4), min_size=1, max_size=15))
def test_everyone_is_at_every_station_once_a_round_and_none_is_overfull(people: int, capacities: list[int]) -> None:
    rotation = clocked_rotation(people, capacities)
    visits: dict[int, list[int]] = defaultdict(list)
    for turn in range(rotation.turns):
        crowd: dict[int, set[int]] = defaultdict(set)
        for person in range(people):
            station = rotation.station(person, turn)
            if station is not None:
                visits[person].append(station)
                assert rotation.lane(person) not in crowd[station]
                crowd[station].add(rotation.lane(person))
        assert all(len(lanes) <= capacities[station] for station, lanes in crowd.items())
    assert all(sorted(seen) == list(range(len(capacities))) for seen in visits.values())


@given(st.integers(1, 14))
def test_as_many_people_as_stations_make_a_cyclic_latin_square(size: int) -> None:
    """A Latin square: every symbol once in every row and column (common mathematical knowledge, e.g. Euler 1782)."""
    rotation = clocked_rotation(size, [1] * size)
    square = [[rotation.station(person, turn) for turn in range(size)] for person in range(size)]
    every = set(range(size))
    assert rotation.breathers == 0
    assert all(set(row) == every for row in square)
    assert all(set(column) == every for column in zip(*square, strict=True))


def test_too_many_people_get_breathers_rather_than_a_crowd() -> None:
    rotation = clocked_rotation(12, [1] * 10)
    assert (rotation.turns, rotation.breathers) == (12, 2)
    assert clocked_rotation(12, [2] * 10).breathers == 0


@given(
    st.lists(st.sampled_from(KINDS), min_size=1, max_size=10),
    st.dictionaries(st.sampled_from(KINDS), st.integers(1, 4)),
)
def test_stations_of_one_kind_share_its_units_fairly_and_completely(kinds: list[str], counts: dict[str, int]) -> None:
    where = Room.model_validate(room(counts))
    shares = share_out(kinds, where)
    for kind in set(kinds):
        mine = [share for wanted, share in zip(kinds, shares, strict=True) if wanted == kind]
        assert sorted(unit for share in mine for unit in share) == where.working(kind)
        assert max(map(len, mine)) - min(map(len, mine)) <= 1


@given(classes)
def test_nobody_is_in_two_places_and_no_unit_is_over_its_capacity(file: ClassFile) -> None:
    timeline = timeline_of(file)
    uses: dict[int, list[tuple[float, float]]] = defaultdict(list)
    for path in timeline.paths:
        for step in path:
            if step.unit >= 0 and step.bout is not None:
                uses[step.unit].append((step.start_s, step.end_s))
    for unit, spans in uses.items():
        places = file.room.units[unit].places
        for start, _ in spans:
            assert sum(begin <= start + 1e-6 < end - 1e-6 for begin, end in spans) <= places


tasks = st.lists(
    st.lists(
        st.builds(
            Task,
            kind=st.sampled_from(["press", "curl", "floor"]),
            work_s=st.integers(5, 60).map(float),
            rest_s=st.integers(0, 60).map(float),
            set_up_s=st.just(0.0),
            load_change_s=st.just(0.0),
            load=st.none(),
            leaves=st.none(),
            keeps=st.just(False),
            tag=st.just(0),
        ),
        max_size=6,
    ),
    min_size=1,
    max_size=6,
)


@given(tasks, st.integers(1, 2), st.integers(1, 2))
def test_an_independent_replay_finishes_at_the_same_second(own: list[list[Task]], presses: int, curls: int) -> None:
    """SimPy's resources queue first come, first served on their own terms; they must agree with our schedule."""
    stock = {"press": list(range(presses)), "curl": list(range(10, 10 + curls))}
    placed = dispatch(own, stock, lambda here, there: 0.0)

    world = simpy.Environment()
    machines = {kind: simpy.PriorityResource(world, capacity=len(units)) for kind, units in stock.items()}
    finished: dict[int, float] = {}

    def live(person: int) -> simpy.events.ProcessGenerator:
        for task in own[person]:
            if task.kind in machines:
                # our tie rule: of two who are ready in the same second, the lower person goes first
                with machines[task.kind].request(priority=int(world.now * 1000) + person) as place:
                    yield world.timeout(0)
                    yield place
                    yield world.timeout(task.work_s)
            else:
                yield world.timeout(task.work_s)
            finished[person] = world.now
            yield world.timeout(task.rest_s)

    for person in range(len(own)):
        world.process(live(person))
    world.run()
    ours = {person: mine[-1].end_s for person, mine in enumerate(placed) if mine}
    assert max(ours.values(), default=0.0) == pytest.approx(max(finished.values(), default=0.0))
    assert max(ours.values(), default=0.0) >= least_length(work_of([[mine] for mine in own], stock)).ds / 10 - 1e-9


def test_the_bound_is_the_larger_of_own_time_and_machine_demand() -> None:
    def task(kind: str, work: float, rest: float = 0.0) -> Task:
        return Task(kind, work, rest, 0, 0, None, None, False, 0)

    alone = [[[task("press", 30, 60), task("curl", 30)]]]
    assert least_length(work_of(alone, {"press": [0], "curl": [1]})).ds == 1200
    crowd = [[[task("press", 30)]]] * 8
    assert least_length(work_of(crowd, {"press": [0, 1]})).ds == 1200
