"""The load sheet: everybody's loads as the unit they come to can hold them, and what their changes take."""

from __future__ import annotations

from typing import Any

import pytest
from making import class_file, person, room, sets
from oaken.domain.room.hardware import settable_kg
from oaken.forecast.workload import carry_out
from oaken.schedule.arrange.load_sheet import LoadRow, load_sheet
from oaken.schedule.class_file import ClassFile
from oaken.schedule.class_file.reading import load_class
from places import EXAMPLES, ROOT

BAR = {
    "holds": "plates",
    "bar_kg": 20,
    "plates": [{"kg": 20, "pairs": 2}, {"kg": 10, "pairs": 1}, {"kg": 5, "pairs": 1}],
}


def rows_of(file: ClassFile) -> list[LoadRow]:
    carried = carry_out(file)
    by_kind = {kind.id: kind.load_change_s for kind in file.catalogue().equipment.values()}
    around = carried.circumstances
    return load_sheet(carried.timeline, around.people, around.room, by_kind, {})


@pytest.mark.parametrize("name", EXAMPLES)
def test_every_load_of_the_demo_can_be_set_on_its_unit(name: str) -> None:
    file = load_class(ROOT / "examples" / f"{name}.json")
    units = {unit.id: unit for unit in file.room.units}
    rows = rows_of(file)
    assert {row.person for row in rows} <= set(range(1, len(file.participants) + 1))
    set_loads = 0
    for row in rows:
        hardware = units[row.unit].hardware
        for sets_of in row.sets:
            assert sets_of.takes_s == sum(loading.change_s for loading in sets_of.loadings)
            for loading in sets_of.loadings:
                set_loads += 1
                if hardware is not None:
                    assert loading.load.set_kg in settable_kg(hardware)
                    nearest = min(abs(kg - loading.load.wanted_kg) for kg in settable_kg(hardware))
                    assert abs(loading.load.set_kg - loading.load.wanted_kg) == pytest.approx(nearest, abs=0.01)
    assert set_loads > 0
    for number in {row.person for row in rows}:
        assert sum(bool(row.warm_up) for row in rows if row.person == number) <= 1


def one_slot(segments: list[dict[str, Any]], *, times: int = 1, best: float | None = 120) -> list[LoadRow]:
    where = room({"leg-press": 1})
    where["units"][0] |= {"hardware": BAR, "load_change_s": 10}
    slot = {"exercise": "leg-press", "sets": [{"times": times, "segments": segments, "rest_s": 60}]}
    who = person(1, bests_kg={"leg-press": best} if best else {})
    return rows_of(class_file(sets({"slots": [slot]}), people=[who], room=where))


def test_equal_sets_are_counted_together() -> None:
    (row,) = one_slot([{"reps": 10, "load": {"share_of_best": 0.75}}], times=4)
    (alike,) = row.sets
    assert (alike.times, [loading.load.words for loading in alike.loadings]) == (4, ["bar 20 kg, a side: 20 + 10 + 5"])
    assert [(set_.reps, set_.load.set_kg) for set_ in row.warm_up] == [(15, 20), (12, 40)]
    assert not row.unknown


def test_a_drop_says_when_its_plates_take_longer_than_the_plan_counts() -> None:
    drop = {"reps": 8, "change": {"percent": -45}}
    (row,) = one_slot([{"reps": 10, "load": {"share_of_best": 0.75}}, drop])
    (only,) = row.sets
    assert [loading.load.set_kg for loading in only.loadings] == [90, 50]
    # 20 + 10 + 5 a side to 10 + 5: one plate; the plan counts one change, too
    assert (only.takes_s, only.counted_s) == (10, 10)
    (row,) = one_slot([{"reps": 10, "load": {"share_of_best": 0.75}}, {"reps": 8, "change": {"percent": -35}}])
    (only,) = row.sets
    assert [loading.load.set_kg for loading in only.loadings] == [90, 60]
    assert (only.takes_s, only.counted_s) == (20, 10)


def test_a_load_without_a_best_is_unknown_and_one_in_kilograms_is_not() -> None:
    (row,) = one_slot([{"reps": 10, "load": {"share_of_best": 0.75}}], best=None)
    assert row.unknown
    assert row.sets == row.warm_up == []
    (row,) = one_slot([{"reps": 10, "load": {"load_kg": 61}}], best=None)
    assert not row.unknown
    assert row.sets[0].loadings[0].load.set_kg == 60
    assert row.warm_up == []


def test_what_takes_no_load_is_not_on_the_sheet() -> None:
    file = class_file(sets({"slots": [{"exercise": "plank", "sets": [{"segments": [{"seconds": 30}]}]}]}))
    assert rows_of(file) == []
