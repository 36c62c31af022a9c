"""Whole blocks by chance: bounds that hold, orders that are carried out, and a replay in SimPy that agrees."""

from __future__ import annotations

from itertools import permutations, product
from typing import Any

import pytest
import simpy
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from making import class_document, crowds, rooms, set_blocks
from oaken.design.adjustments.levels import at_level
from oaken.design.goal_seeking import fit_to_slot
from oaken.plan import SetsBlock
from oaken.schedule.arrange.repair import repair
from oaken.schedule.arrange.search import BlockSearch
from oaken.schedule.arrange.trial import Floor
from oaken.schedule.class_file import ClassFile, read_class
from oaken.schedule.rotation.heuristic import quick_rotation
from oaken.schedule.timeline import Circumstances, Doing, Outlook, Timeline, timeline_in
from oaken.schedule.timeline.lineup import Lineup, line_up
from test_arrange import around, pairs, search_of, visits_in, with_rotation

some = settings(max_examples=25, deadline=None, suppress_health_check=[HealthCheck.too_slow])
blocks_alone = st.builds(
    lambda block, people, where, sharing: read_class(
        class_document(block | {"sharing": sharing, "id": "block"}, people=people, room=where)
    ),
    block=set_blocks,
    people=crowds,
    where=rooms,
    sharing=st.sampled_from(["work_in", "work_in", "hold"]),
)


def lineup_of(file: ClassFile) -> Lineup:
    (block,) = file.plan.blocks
    assert isinstance(block, SetsBlock)
    people = file.participants
    return line_up(block, Circumstances.of(file.room, people, file.catalogue()), Outlook.EXPECTED)


@some
@given(blocks_alone, st.randoms(use_true_random=False))
def test_no_order_is_shorter_than_the_bound(file: ClassFile, chance: Any) -> None:
    lineup = lineup_of(file)
    search = BlockSearch(lineup, 0.01)
    stations = list(range(len(lineup.stations)))
    for _ in range(6):
        ways = [lineup.in_stages(chance.sample(stations, len(stations))) for _ in lineup.tasks]
        trial = search.floor.in_ways(ways)
        assert trial.length_s >= search.bound_s - 1e-6
        assert trial.waiting_s >= -1e-6
    assert search.at_once().rank <= search.before.rank


@some
@given(blocks_alone)
def test_what_is_solved_is_never_later_when_it_is_carried_out(file: ClassFile) -> None:
    floor = Floor(lineup_of(file))
    problem = floor.block_problem.problem
    starts = quick_rotation(problem)
    assert floor.in_starts(starts).length_s <= problem.length_ds(starts) / 10 + 1e-6


def lived_in_simpy(timeline: Timeline, room_places: list[int]) -> float:
    """Everybody's steps gone through with the units as resources: nobody may find their unit full."""
    world = simpy.Environment()
    units = [simpy.Resource(world, capacity=max(places, 1)) for places in room_places]
    ended: list[float] = []

    def live(path: list[Any]) -> Any:
        for step in path:
            if step.doing is not Doing.WORK or step.unit < 0:
                yield world.timeout(step.end_s - world.now)
                continue
            with units[step.unit].request() as place:
                yield place | world.timeout(1e-6)
                assert place.triggered, f"unit {step.unit} is full at {step.start_s}"
                yield world.timeout(max(0.0, step.end_s - world.now))
        ended.append(world.now)

    for path in timeline.paths:
        world.process(live([step for step in path if step.doing is not Doing.FINISHED]))
    world.run()
    return max(ended)


@pytest.mark.parametrize("crowd", [3, 6, 9])
def test_a_chosen_rotation_can_be_lived_through(crowd: int) -> None:
    file = pairs(crowd=crowd)
    search = search_of(file)
    search.at_once()
    chosen = with_rotation(file, search)
    timeline = timeline_in(chosen.plan, around(chosen))
    places = [unit.places for unit in file.room.units]
    assert lived_in_simpy(timeline, places) == pytest.approx(timeline.length_s, abs=0.01)


def test_a_repair_moves_no_more_than_trying_everything_would() -> None:
    """Three people, three groups: every choice of ways is tried; none with fewer people moved comes within the target."""
    file = pairs(crowd=3, rounds=2)
    lineup = lineup_of(file)
    floor = Floor(lineup)
    told = floor.in_ways(lineup.ways()).ways
    # everybody is told to begin at the same group, and the target is what the best order of all would take
    planned = [told[0]] * 3
    ways = list(permutations(range(3)))
    every = [(floor.in_ways([list(way) for way in chosen]), chosen) for chosen in product(ways, repeat=3)]
    target = min(trial.length_s for trial, _ in every)
    options = repair(lineup, planned, target)
    assert options[0].moved == ()
    for option in options[1:]:
        least = min(
            trial.length_s
            for trial, chosen in every
            if sum(way != tuple(here) for way, here in zip(chosen, planned, strict=True)) <= len(option.moved) - 1
        )
        # with one person fewer nothing is as good, or the step would not have been worth it
        assert option.trial.length_s < least
    assert options[-1].trial.length_s <= target + 30


def test_somebody_new_goes_where_the_best_of_all_ways_leads() -> None:
    file = pairs(crowd=3, rounds=2)
    lineup = lineup_of(file)
    floor = Floor(lineup)
    told = [*lineup.ways()[:2], None]
    (first, *_) = repair(lineup, told, 0.0)
    best = min(floor.in_ways([*lineup.ways()[:2], list(way)]).rank for way in permutations(range(len(lineup.stations))))
    assert first.trial.rank == best
    assert first.moved == ()


def test_fitting_and_levels_keep_a_chosen_rotation_working() -> None:
    file = pairs(crowd=6, rounds=3, slot_min=10)
    search = search_of(file)
    search.at_once()
    chosen = with_rotation(file, search)
    for proposal in fit_to_slot(chosen).proposals:
        changed = chosen.model_copy(update={"plan": proposal.plan})
        timeline = timeline_in(proposal.plan, around(changed))
        assert all(visits for visits in visits_in(timeline))
    easier = at_level(chosen.plan, "beginner", chosen.catalogue(), chosen.room).plan
    assert timeline_in(easier, around(chosen.model_copy(update={"plan": easier}))).length_s > 0
