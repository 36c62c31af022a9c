"""Who works when: partners, relays, shared units and the two ways rounds run, against hand-made schedules."""

from __future__ import annotations

from itertools import pairwise
from typing import Any

import pytest
import simpy
from hypothesis import given
from hypothesis import strategies as st
from making import circuit, class_file, person, room, slot
from oaken.domain.catalogue import catalogue
from oaken.forecast import forecast
from oaken.schedule.class_file import ClassFile
from oaken.schedule.rotation.self_paced import Task, dispatch
from oaken.schedule.timeline import Doing, Timeline, build_timeline

ONE_PRESS = {"id": "room", "name": "Room", "units": [{"id": "a", "kind": "leg-press", "name": "A"}]}


def timeline_of(file: ClassFile) -> Timeline:
    by_id = {person.id: person for person in file.people}
    return build_timeline(file.plan, file.room, [by_id[name] for name in file.plan.people], catalogue())


def works(timeline: Timeline, who: int) -> list[tuple[str, float, float]]:
    """What a person does, with its seconds."""
    return [
        (timeline.slots[step.slot].exercise.id, round(step.start_s, 1), round(step.end_s, 1))
        for step in timeline.paths[who]
        if step.doing is Doing.WORK
    ]


def relay(legs: list[dict[str, Any]], **fields: Any) -> dict[str, Any]:
    return {"kind": "relay", "name": "Relay", "move_on_s": 0, "team_size": 2, "change_s": 2, "legs": legs, **fields}


def sets_of(*groups: list[dict[str, Any]], **fields: Any) -> dict[str, Any]:
    listed = [{"slots": slots} for slots in groups]
    return {"kind": "sets", "name": "Sets", "move_on_s": 0, "groups": listed, **fields}


# ---- relays -------------------------------------------------------------------------------------------------------


def test_in_a_relay_one_works_while_the_other_rests() -> None:
    # turns of 10 s, tags of 2 s, four in all
    block = relay([{"exercise": "marching", "turn": {"seconds": 10}, "turns": 4}])
    timeline = timeline_of(class_file(block, people=2))
    assert works(timeline, 0) == [("marching", 0, 10), ("marching", 24, 34)]
    assert works(timeline, 1) == [("marching", 12, 22), ("marching", 36, 46)]
    assert timeline.length_s == 46


def test_nobody_is_left_alone_and_every_team_does_the_same_in_all() -> None:
    block = relay([{"exercise": "marching", "turn": {"seconds": 10}, "turns": 6}])
    timeline = timeline_of(class_file(block, people=5))
    counts = [len(works(timeline, who)) for who in range(5)]
    # two teams: a pair with three turns each, and three with two each
    assert counts == [3, 3, 2, 2, 2]
    assert timeline.length_s == 6 * 10 + 5 * 2


def test_a_rest_stands_between_legs_and_one_sided_turns_say_so() -> None:
    legs = [
        {"exercise": "reverse-lunge", "turn": {"reps": 4, "sides": "each_side"}, "turns": 2, "rest_s": 30},
        {"exercise": "plank", "turn": {"seconds": 20}, "turns": 2, "rest_s": 30},
    ]
    timeline = timeline_of(class_file(relay(legs), people=2))
    # 4 × 3 s on each side and 5 s to change: 29 s a turn; the rest behind the last leg is not part of the block
    assert works(timeline, 0) == [("reverse-lunge", 0, 29), ("plank", 90, 110)]
    assert works(timeline, 1) == [("reverse-lunge", 31, 60), ("plank", 112, 132)]
    assert timeline.length_s == 132


def test_a_person_does_their_share_of_a_leg() -> None:
    """Eight turns of four lunges a side: of a team of two each does four, of 4 × 3 s on each side and 5 s to change."""
    legs = [{"exercise": "reverse-lunge", "turn": {"reps": 4, "sides": "each_side"}, "turns": 8}]
    result = forecast(class_file(relay(legs), people=2))
    (slot,) = result.slots
    assert (slot.seconds.work, slot.seconds.change_of_side) == (4 * 24, 4 * 5)
    assert [person.figures.time_under_tension.value for person in result.people] == [4 * 24, 4 * 24]
    assert result.figures.sets_per_minute.value * result.length.value / 60 == pytest.approx(4, rel=1e-3)


@given(st.integers(1, 9), st.integers(2, 4), st.integers(1, 12))
def test_of_a_team_only_one_works_at_a_time(people: int, size: int, turns: int) -> None:
    block = relay([{"exercise": "marching", "turn": {"seconds": 5}, "turns": turns}], team_size=size)
    timeline = timeline_of(class_file(block, people=people))
    by_lane: dict[int, list[tuple[float, float]]] = {}
    for path in timeline.paths:
        for step in path:
            if step.doing is Doing.WORK:
                by_lane.setdefault(step.lane, []).append((step.start_s, step.end_s))
    for spans in by_lane.values():
        assert len(spans) == turns
        assert all(there[0] >= here[1] for here, there in pairwise(sorted(spans)))


# ---- partners on the clock ----------------------------------------------------------------------------------------


def test_partners_share_a_place_and_take_turns() -> None:
    block = circuit(["leg-press", "plank"], work_s=160, change_s=10, turn_s=40)
    timeline = timeline_of(class_file(block, people=4, room=room({"leg-press": 1, "mat": 1})))
    # two places, two people each: persons 1 and 3 begin at the press, 2 and 4 on the mat; first lanes begin. Every turn
    # but the first begins with the change of the two: half of 10 s of seat and 20 s of plates, half of 4 s on the mat
    assert works(timeline, 0)[:2] == [("leg-press", 0, 40), ("leg-press", 95, 120)]
    assert works(timeline, 2)[:2] == [("leg-press", 55, 80), ("leg-press", 135, 160)]
    assert works(timeline, 1)[:2] == [("plank", 0, 40), ("plank", 82, 120)]
    assert timeline.length_s == 160 + 10 + 160
    assert timeline.blocks[0].breathers == 0
    change = next(step for step in timeline.paths[2] if step.doing is Doing.CHANGE)
    assert (change.start_s, change.end_s, change.set_up_s, change.load_change_s) == (40, 55, 5, 10)
    # whoever begins has one change less than the other, at both stations
    assert [sum(end - start for _, start, end in works(timeline, who)) for who in range(4)] == [143, 143, 126, 126]


def test_a_turn_too_short_for_the_change_is_a_third_work() -> None:
    """Nobody would change the plates in turns of 9 s."""
    block = circuit(["leg-press", "plank"], work_s=36, change_s=10, turn_s=9)
    timeline = timeline_of(class_file(block, people=4, room=room({"leg-press": 1, "mat": 1})))
    assert works(timeline, 0)[:2] == [("leg-press", 0, 9), ("leg-press", 24, 27)]


def test_alone_four_people_on_two_places_have_breathers() -> None:
    block = circuit(["leg-press", "plank"], work_s=40, change_s=10)
    timeline = timeline_of(class_file(block, people=4, room=room({"leg-press": 1, "mat": 1})))
    assert (timeline.blocks[0].turns, timeline.blocks[0].breathers) == (4, 2)


# ---- self-paced: shared units, order, active rest -----------------------------------------------------------------


def test_a_superset_on_one_unit_keeps_it_until_both_are_done() -> None:
    # wide and narrow stance on the one press: the second person waits for both, every round
    pair = [slot("leg-press-wide", 2, reps=10), slot("leg-press-narrow", 2, 30, reps=10)]
    timeline = timeline_of(class_file(sets_of(pair), people=2, room=ONE_PRESS))
    own = [("leg-press-wide", 10, 40), ("leg-press-narrow", 40, 70)]
    assert works(timeline, 0)[:2] == own
    # set up anew after the other: 70 + 10 s
    assert works(timeline, 1)[:2] == [("leg-press-wide", 80, 110), ("leg-press-narrow", 110, 140)]
    for who in range(2):
        done = works(timeline, who)
        assert [name for name, _, _ in done] == ["leg-press-wide", "leg-press-narrow"] * 2
        for (_, _, end), (_, start, _) in pairwise(done[:2]):
            assert start == end


def test_without_the_kept_unit_somebody_could_come_between() -> None:
    def lift(keeps: bool) -> list[Task]:
        return [Task("press", 30, 0, 0, 0, None, None, keeps, 0), Task("press", 30, 0, 0, 0, None, None, False, 1)]

    kept = dispatch([lift(True), lift(True)], {"press": [0]}, lambda a, b: 0)
    assert [[item.work_from_s for item in own] for own in kept] == [[0, 30], [60, 90]]
    loose = dispatch([lift(False), lift(False)], {"press": [0]}, lambda a, b: 0)
    assert [[item.work_from_s for item in own] for own in loose] == [[0, 60], [30, 90]]


@given(
    st.lists(
        st.lists(st.tuples(st.integers(5, 60), st.integers(0, 40)), min_size=1, max_size=3), min_size=1, max_size=5
    )
)
def test_a_replay_that_holds_the_unit_through_each_chain_ends_at_the_same_second(
    people: list[list[tuple[int, int]]],
) -> None:
    """SimPy holds one resource through a whole chain of kept tasks; our schedule must agree with it."""
    tasks = [
        [
            Task("press", work, rest, 0, 0, None, None, place < len(own) - 1, place)
            for place, (work, rest) in enumerate(own)
        ]
        for own in people
    ]
    placed = dispatch(tasks, {"press": [0]}, lambda a, b: 0.0)
    world = simpy.Environment()
    press = simpy.PriorityResource(world, capacity=1)
    ends: dict[int, float] = {}

    def live(who: int) -> simpy.events.ProcessGenerator:
        with press.request(priority=who) as place:
            yield place
            for at, (work, rest) in enumerate(people[who]):
                yield world.timeout(work)
                ends[who] = world.now
                if at < len(people[who]) - 1:
                    yield world.timeout(rest)

    for who in range(len(people)):
        world.process(live(who))
    world.run()
    assert {who: own[-1].end_s for who, own in enumerate(placed)} == pytest.approx(ends)


def test_the_whole_circuit_then_again_or_back_and_forth() -> None:
    groups = ([slot("leg-press", 2, 10, reps=10)], [slot("plank", 2, 10, seconds=20)])

    def order(**fields: Any) -> list[str]:
        return [name for name, _, _ in works(timeline_of(class_file(sets_of(*groups, **fields))), 0)]

    assert order() == ["leg-press", "leg-press", "plank", "plank"]
    assert order(rounds_run="whole_circuit") == ["leg-press", "plank", "leg-press", "plank"]


def test_each_begins_elsewhere_or_all_begin_with_the_first() -> None:
    groups = ([slot("leg-press", 1, 0, reps=10)], [slot("plank", 1, 0, seconds=20)])
    spread = timeline_of(class_file(sets_of(*groups), people=2))
    assert [works(spread, who)[0][0] for who in range(2)] == ["leg-press", "plank"]
    in_order = timeline_of(class_file(sets_of(*groups, start="in_order"), people=2))
    assert [works(in_order, who)[0][0] for who in range(2)] == ["leg-press", "leg-press"]


def test_slots_with_fewer_sets_drop_out_of_later_rounds() -> None:
    group = [slot("leg-press", 3, reps=5), slot("plank", 1, seconds=20), slot("wall-sit", 2, 10, seconds=20)]
    names = [name for name, _, _ in works(timeline_of(class_file(sets_of(group))), 0)]
    assert names == ["leg-press", "plank", "wall-sit", "leg-press", "wall-sit", "leg-press"]


def test_an_active_rest_is_done_where_one_rests() -> None:
    runs = [{"times": 2, "segments": [{"reps": 10}], "rest_s": 60, "rest_doing": "easy-walk"}]
    block = sets_of([{"exercise": "leg-press", "sets": runs}])
    (path,) = timeline_of(class_file(block)).paths
    rests = [step for step in path if step.doing is Doing.REST]
    assert [step.active.id if step.active else None for step in rests] == ["easy-walk"]


def test_a_load_change_is_charged_between_people_and_within_a_set() -> None:
    heavy = [{"reps": 5, "load": {"load_kg": 80}}, {"reps": 5, "change": {"percent": -20}}]
    block = sets_of([{"exercise": "leg-press", "sets": [{"segments": heavy}]}])
    timeline = timeline_of(class_file(block, people=[person(1), person(2)], room=ONE_PRESS))
    # 10 set-up, 20 load, 15 work, 20 to 64 kg, 15 work; the other sets up and loads 80 kg again
    assert works(timeline, 0) == [("leg-press", 30, 45), ("leg-press", 65, 80)]
    assert works(timeline, 1) == [("leg-press", 110, 125), ("leg-press", 145, 160)]
    changes = [step.load_change_s for step in timeline.paths[1] if step.load_change_s]
    assert changes == [20, 20]
