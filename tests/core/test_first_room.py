"""A first room from a short list: everything stands inside, nothing on another, and people by number and level."""

from __future__ import annotations

from itertools import combinations

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from oaken.basis.faults import FaultyInput
from oaken.design.first_class import FirstPeople, FirstRoom, first_people, first_room, things
from oaken.domain.catalogue import catalogue
from oaken.domain.room import Room, Unit
from pydantic import ValidationError

COUNTS = st.dictionaries(st.sampled_from([thing.kind for thing in things()]), st.integers(0, 4), max_size=12)


def box(unit: Unit) -> tuple[float, float, float, float]:
    kind = catalogue().equipment[unit.kind]
    wide, deep = (kind.depth_m, kind.width_m) if unit.turned in (90, 270) else (kind.width_m, kind.depth_m)
    return unit.x_m - wide / 2, unit.y_m - deep / 2, unit.x_m + wide / 2, unit.y_m + deep / 2


@settings(max_examples=60, deadline=None)
@given(COUNTS, st.integers(4, 30), st.integers(4, 30))
def test_everything_stands_inside_and_nothing_on_another(counts: dict[str, int], width: int, depth: int) -> None:
    told = FirstRoom(name="R", width_m=width, depth_m=depth, counts=counts)
    refused = None
    try:
        room = first_room(told, "r", catalogue())
    except FaultyInput as faulty:
        refused = faulty.faults[0].message
    if refused is not None:
        # nothing is refused of which a fifth of the floor is free for each metre that it takes
        kept = {thing.kind for thing in things() if thing.kept}
        kinds = catalogue().equipment
        need = sum(kinds[kind].width_m * kinds[kind].depth_m * (1 if kind in kept else count)
                   for kind, count in counts.items() if count)  # fmt: skip
        assert "too small" in refused
        assert need > 0.2 * width * depth
        return
    assert Room.model_validate(room.model_dump()) == room
    for unit in room.units:
        left, top, right, bottom = box(unit)
        assert left >= -0.01
        assert top >= -0.01
        assert right <= width + 0.01
        assert bottom <= depth + 0.01
    for item, other in combinations(map(box, room.units), 2):
        assert item[0] >= other[2] or other[0] >= item[2] or item[1] >= other[3] or other[1] >= item[3]
    for kind, count in counts.items():
        places = [unit for unit in room.units if unit.kind == kind]
        assert sum(unit.places for unit in places) == count


def test_loads_are_the_usual_ones() -> None:
    counts = {"dumbbells": 12, "squat-rack": 1, "leg-extension": 1, "mat": 3}
    room = first_room(FirstRoom(name="R", width_m=12, depth_m=9, counts=counts), "r", catalogue())
    assert room.settable("leg-extension", 41) == 40
    assert room.settable("squat-rack", 61) == 60
    assert room.implement("dumbbells", 20) == 10
    assert room.units[-1].hardware is None or room.units[-1].kind == "dumbbells"


def test_what_is_not_on_the_list_or_too_much_is_refused_at_its_place() -> None:
    told = FirstRoom(name="R", width_m=12, depth_m=9, counts={"no-such": 1, "guided-bar": 9})
    with pytest.raises(FaultyInput) as refused:
        first_room(told, "r", catalogue())
    assert [fault.path for fault in refused.value.faults] == ["counts.no-such", "counts.guided-bar"]
    assert refused.value.faults[1].right == "at most 4"


def test_people_by_number_and_level() -> None:
    made = first_people(FirstPeople(beginner=2, advanced=1), {"beginner-1"})
    assert [(item.person.id, item.person.name, item.person.level) for item in made] == [
        ("beginner-2", "Beginner 2", "beginner"),
        ("beginner-3", "Beginner 3", "beginner"),
        ("advanced-1", "Advanced 1", "advanced"),
    ]
    assert {item.group for item in made} == {"names to come"}


@pytest.mark.parametrize("counts", [{}, {"beginner": 40, "standard": 30}])
def test_somebody_comes_and_not_too_many(counts: dict[str, int]) -> None:
    with pytest.raises(ValidationError, match="at most 60"):
        FirstPeople.model_validate(counts)
