"""The room: what a unit can hold, how many can work on it, what stands where, and what that costs in time."""

from __future__ import annotations

from itertools import combinations, pairwise, product
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st
from making import class_file, group, person, room, sets
from oaken.domain.room import Room, Unit, Zone
from oaken.domain.room.hardware import Implement, Implements, PlatePair, Plates, Stack, nearest_kg, settable_kg
from oaken.forecast import forecast
from oaken.schedule.class_file import ClassFile
from oaken.schedule.timeline import Doing
from pydantic import ValidationError
from test_timeline import timeline_of

masses = st.sampled_from([1.25, 2.5, 5.0, 7.5, 10.0, 15.0, 20.0])
plates = st.builds(
    Plates,
    bar_kg=st.sampled_from([0.0, 12.5, 20.0]),
    plates=st.lists(st.builds(PlatePair, kg=masses, pairs=st.integers(1, 3)), max_size=3, unique_by=lambda build: build.kg).map(tuple),
)  # fmt: skip
stacks = st.builds(
    Stack,
    steps_kg=st.lists(st.integers(1, 30).map(lambda n: 2.5 * n), min_size=1, max_size=8, unique=True).map(tuple),
    add_ons_kg=st.lists(st.sampled_from([1.0, 1.25, 2.5]), max_size=2).map(tuple),
)


@given(plates)
def test_a_bar_holds_every_choice_of_equal_plates_and_nothing_else(hardware: Plates) -> None:
    """Counted out one choice after another: so many pairs of each mass."""
    choices = product(*(range(plate.pairs + 1) for plate in hardware.plates))
    wanted = {
        round(
            hardware.bar_kg + sum(2 * plate.kg * count for plate, count in zip(hardware.plates, chosen, strict=True)), 3
        )
        for chosen in choices
    }
    assert set(settable_kg(hardware)) == wanted


@given(stacks)
def test_a_stack_holds_every_hole_with_every_choice_of_add_ons(hardware: Stack) -> None:
    extras = [0.0, *(sum(some) for size in (1, 2) for some in combinations(hardware.add_ons_kg, size))]
    assert set(settable_kg(hardware)) == {round(hole + extra, 3) for hole in hardware.steps_kg for extra in extras}


@given(plates | stacks, st.floats(0, 200, allow_nan=False))
def test_the_nearest_load_is_one_that_can_be_set_and_none_is_nearer(hardware: Plates | Stack, wished: float) -> None:
    found = nearest_kg(hardware, wished)
    every = settable_kg(hardware)
    assert found in every
    assert list(every) == sorted(every)
    assert all(abs(found - wished) <= abs(other - wished) + 1e-9 for other in every)


def test_dumbbells_count_both_hands_and_the_lightest_serves_where_no_load_is_known() -> None:
    rack = Implements(in_hand=2, by_mass=(Implement(kg=16, count=1), Implement(kg=8, count=2)))
    assert settable_kg(rack) == (16.0, 32.0)
    assert rack.nearest(30).kg == 16
    assert rack.nearest(24).kg == 8  # as near to 16 as to 32: the lighter
    assert rack.nearest(None).kg == 8


@pytest.mark.parametrize(
    "faulty",
    [
        {"holds": "stack", "steps_kg": []},
        {"holds": "stack", "steps_kg": [5, -5]},
        {"holds": "plates", "bar_kg": 200, "plates": []},
        {"holds": "plates", "bar_kg": 20, "plates": [{"kg": 20, "pairs": 0}]},
        {"holds": "implements", "by_mass": [{"kg": 0, "count": 1}]},
        {"holds": "implements", "in_hand": 3, "by_mass": [{"kg": 8, "count": 1}]},
        {"holds": "hope"},
    ],
)
def test_hardware_that_cannot_be_is_refused(faulty: dict[str, Any]) -> None:
    with pytest.raises(ValidationError):
        Unit.model_validate({"id": "u", "kind": "leg-press", "name": "U", "hardware": faulty})


def test_places_are_counted_by_things_by_people_and_by_mass() -> None:
    plain = Unit(id="a", kind="box", name="A", count=3, people_at_once=2)
    rack = {"holds": "implements", "by_mass": [{"kg": 8, "count": 2}, {"kg": 12, "count": 1}]}
    bells = Unit.model_validate({"id": "b", "kind": "kettlebell", "name": "B", "count": 9, "hardware": rack})
    where = Room(id="r", name="R", units=[plain, bells, plain.model_copy(update={"id": "c", "out_of_order": True})])
    assert [unit.places for unit in where.units] == [6, 3, 0]
    assert where.working("kettlebell") == [1, 1, 1]
    assert where.working_at("kettlebell", 8) == [1, 1]
    assert where.implement("kettlebell", 11) == 12
    assert where.implement("box", 11) is None
    assert where.settable("box", 33.333) == 33.3


@pytest.mark.parametrize(
    ("fields", "words"),
    [
        ({"units": [{"id": "a", "kind": "box", "name": "Far box", "x_m": 9}], "width_m": 8}, "Far box"),
        ({"units": [{"id": "a", "kind": "box", "name": "A"}] * 2}, "stands twice"),
        (
            {"zones": [{"id": "z", "name": "Wide", "x_m": 5, "y_m": 0, "width_m": 9, "depth_m": 2}], "width_m": 8},
            "Wide",
        ),
    ],
)
def test_a_room_whose_things_stand_outside_or_twice_is_refused(fields: dict[str, Any], words: str) -> None:
    with pytest.raises(ValidationError, match=words):
        Room.model_validate({"id": "r", "name": "R", "units": [], **fields})


def test_a_zone_knows_what_stands_in_it() -> None:
    zone = Zone(id="z", name="Z", x_m=1, y_m=1, width_m=2, depth_m=2)
    inside, outside = (Unit(id=str(x), kind="box", name="U", x_m=x, y_m=2) for x in (2.9, 3.1))
    assert zone.contains(inside)
    assert not zone.contains(outside)


def one_press(**unit: Any) -> ClassFile:
    where = room({}, units=[{"id": "press", "kind": "leg-press", "name": "Press", **unit}])
    people = [person(1, bests_kg={"leg-press": 100}), person(2, bests_kg={"leg-press": 140})]
    dose = {"exercise": "leg-press", "reps": 10, "load": {"share_of_best": 0.5}}
    return class_file(sets(group(2, 60, dose), id="block"), people=people, room=where)


def test_a_units_own_set_up_and_load_change_replace_those_of_its_kind() -> None:
    kind, own = forecast(one_press()), forecast(one_press(set_up_s=2, load_change_s=1))
    for result, set_up, change in ((kind, 10, 20), (own, 2, 1)):
        # alternating with somebody of another load: every set is set up and loaded anew
        assert result.overheads.set_up.value == pytest.approx(2 * set_up)
        assert result.overheads.load_change.value == pytest.approx(2 * change)
    assert own.length.value < kind.length.value


def test_loads_that_come_to_the_same_hole_need_no_change() -> None:
    """Half of 100 and of 140 kg are 50 and 70; on a carriage that only takes 40 or 60 kg both are… 40 and 60."""
    apart = one_press(hardware={"holds": "plates", "bar_kg": 40, "plates": [{"kg": 10, "pairs": 1}]})
    alike = one_press(hardware={"holds": "plates", "bar_kg": 60, "plates": []})
    changes = [forecast(file).overheads.load_change.value for file in (apart, alike)]
    assert changes[0] == pytest.approx(2 * 20)
    assert changes[1] == pytest.approx(20 / 2)  # the first one loads it, once


def test_free_floor_is_a_place_one_walks_to_and_it_is_limited() -> None:
    units = [
        {"id": "press", "kind": "leg-press", "name": "Press", "x_m": 0, "y_m": 0},
        {"id": "floor", "kind": "none", "name": "Floor", "count": 1, "x_m": 12, "y_m": 0},
    ]
    dose = [{"exercise": "leg-press", "reps": 10}, {"exercise": "bodyweight-squat", "reps": 10}]
    file = class_file(sets(group(1, 0, *dose)), people=3, room=room({}, units=units))
    timeline = timeline_of(file)
    on_floor = sorted(
        (step.start_s, step.end_s)
        for path in timeline.paths
        for step in path
        if step.unit == 1 and step.doing is Doing.WORK
    )
    assert len(on_floor) == 3
    assert all(there[0] >= here[1] for here, there in pairwise(on_floor))
    walks = [step for step in timeline.paths[0] if step.doing is Doing.CHANGE and step.unit == 1 and not step.set_up_s]
    assert walks[0].end_s - walks[0].start_s == pytest.approx(10)  # 12 m at 1.2 m/s


def test_what_is_taken_counts_as_out_of_order_for_this_class_alone() -> None:
    file = one_press()
    taken = file.plan.model_copy(update={"taken": ["press", "gone-long-ago"]})
    assert [unit.out_of_order for unit in taken.room_of(file.room).units] == [True]
    assert not file.room.units[0].out_of_order
    clash = forecast(file.model_copy(update={"plan": taken})).cautions[0]
    assert (clash.severity, "out of order" in clash.message) == ("clash", True)
