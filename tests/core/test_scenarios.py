"""The same class in other circumstances: each side is the forecast of what it says, and the plan is never changed."""

from __future__ import annotations

from making import circuit, class_file, group, person, room, sets, together
from oaken.forecast import forecast
from oaken.forecast.scenarios import Scenario, scenarios_of
from oaken.physiology.heat import Air
from oaken.schedule.class_file import ClassFile, check_class

WARM = together(("bike-easy", 300), name="Warm-up", purpose="warm_up")


def a_class(**plan: object) -> ClassFile:
    legs = sets(
        group(
            3,
            60,
            {"exercise": "leg-press", "reps": 10, "load": {"share_of_best": 0.6}},
            {"exercise": "plank", "reps": 10},
        ),
        group(3, 60, {"exercise": "hip-thrust", "reps": 10, "load": {"share_of_best": 0.6}}),
    )
    people = [person(at, vo2max=40, level="standard") for at in range(1, 7)]
    hall = room({"leg-press": 2, "hip-thrust": 1, "mat": 8, "bike": 10})
    return class_file(WARM, legs, circuit(["plank", "leg-press"]), room=hall, people=people, slot_min=45, **plan)


def side(file: ClassFile, name: str) -> Scenario:
    return next(side for side in scenarios_of(file).sides if side.id == name)


def test_as_planned_is_the_forecast_and_the_plan_stays() -> None:
    file = a_class(starts="2026-12-01 18:30")
    before = file.model_dump_json()
    told, here = forecast(file), side(file, "planned")
    assert (here.length_s, here.energy, here.new_cautions) == (told.length.value, told.figures.energy.value, [])
    assert [side.id for side in scenarios_of(file).sides] == [
        "planned",
        "more",
        "fewer",
        "machine",
        "warmer",
        "beginners",
    ]
    assert file.model_dump_json() == before


def test_more_and_fewer_people() -> None:
    file = a_class()
    more, fewer, planned = (side(file, name) for name in ("more", "fewer", "planned"))
    assert (more.people, planned.people, fewer.people) == (8, 6, 4)
    assert fewer.length_s <= planned.length_s <= more.length_s
    by_hand = file.model_copy(update={"plan": file.plan.model_copy(update={"people": file.plan.people[:-2]})})
    assert fewer.length_s == forecast(check_class(by_hand)).length.value


def test_the_machine_most_used_is_gone() -> None:
    file = a_class()
    gone = side(file, "machine")
    units = [
        unit.model_copy(update={"out_of_order": True}) if unit.name == gone.name.removeprefix("Without ") else unit
        for unit in file.room.units
    ]
    assert sum(unit.out_of_order for unit in units) == 1
    by_hand = forecast(file.model_copy(update={"room": file.room.model_copy(update={"units": units})}))
    assert gone.length_s == by_hand.length.value
    assert any("out of order" in words for words in gone.new_cautions)


def test_later_and_warmer() -> None:
    air = Air(temperature_c=24, humidity_percent=60)
    file = a_class(air=air.model_dump())
    warmer = side(file, "warmer")
    assert "30 °C instead of 24 (as measured), 60 % humidity" in warmer.what
    plan = file.plan.model_copy(update={"air": air.model_copy(update={"temperature_c": 30})})
    by_hand = forecast(file.model_copy(update={"plan": plan})).figures
    assert by_hand.heart_mean is not None
    assert warmer.heart_mean == by_hand.heart_mean.value
    planned = side(file, "planned")
    assert warmer.heart_mean > (planned.heart_mean or 0)
    assert "taken, nobody has measured" in side(a_class(), "warmer").what


def test_all_beginners_are_shown_every_machine() -> None:
    file = a_class()
    beginners, planned = side(file, "beginners"), side(file, "planned")
    assert beginners.length_s > planned.length_s
    only = [person(at, level="beginner") for at in range(1, 3)]
    already = class_file(
        WARM, circuit(["plank", "leg-press"]), people=only, room=room({"leg-press": 2, "mat": 8, "bike": 3})
    )
    names = [side.id for side in scenarios_of(already).sides]
    assert "beginners" not in names
    assert "fewer" not in names
