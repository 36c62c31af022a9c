"""The second look: each kind of remark where there is ground for it and not where there is none, and the press that
mends it does."""

from __future__ import annotations

from typing import Any

import pytest
from making import circuit, class_file, group, person, room, sets, together
from oaken.basis.faults import FaultyInput
from oaken.design.generator import Lately
from oaken.design.goal_seeking import FigureGoal
from oaken.design.review import History, Mend, PastClass, Remark, advise, mended, review
from oaken.forecast import forecast
from oaken.forecast.order_done import share_small_first, small_before_large
from oaken.schedule.class_file import ClassFile

WARM = together(("bike-easy", 240), ("leg-swings", 40), ("marching", 120), name="Warm-up", purpose="warm_up")
COOL = together(("easy-walk", 120), name="Cool-down", purpose="cool_down")
LEGS = ["bodyweight-squat", "glute-bridge", "calf-raise-floor", "ball-leg-curl", "plank", "reverse-lunge"]


def a_class(
    *blocks: dict[str, Any], many: int = 6, people: list[dict[str, Any]] | None = None, **plan: Any
) -> ClassFile:
    here = people or [person(at) for at in range(1, many + 1)]
    hall = plan.pop("hall", room({"bike": 12, "mat": 12, "ball": 6, "leg-press": 1, "kettlebell": 6}))
    return class_file(*blocks, room=hall, people=here, slot_min=60, **plan)


def about(file: ClassFile, kind: str, history: History | None = None) -> list[Remark]:
    return [remark for remark in review(file, history).remarks if remark.about == kind]


def mend_of(remark: Remark) -> Mend:
    assert remark.mend is not None
    return remark.mend


def after(file: ClassFile, remark: Remark) -> ClassFile:
    return file.model_copy(update={"plan": mended(file, mend_of(remark)).plan})


QUIET = [WARM, circuit(LEGS, rounds=3, work_s=40, change_s=20), COOL]


def test_an_ordinary_class_is_left_in_peace() -> None:
    assert review(a_class(*QUIET)).remarks == []


def test_a_warm_up_that_is_too_short_is_made_longer() -> None:
    short = together(("leg-swings", 60), ("easy-walk", 60), name="Warm-up", purpose="warm_up")
    file = a_class(short, *QUIET[1:])
    (told,) = about(file, "warm-up")
    assert "work begins after 2.0 min" in told.why
    longer = after(file, told)
    assert forecast(longer).blocks[1].start_s >= 300
    assert not [item for item in about(longer, "warm-up") if "5.0" not in item.why and "begins after 2" in item.why]


def test_more_people_on_the_floor_than_it_holds_are_counted_where_its_size_is_known() -> None:
    squats = circuit(["bodyweight-squat", "reverse-lunge", "glute-bridge"], rounds=2, work_s=40, change_s=20)
    small = room({"mat": 12, "bike": 12})
    wide = small | {"width_m": 20, "depth_m": 20}
    tight = small | {"width_m": 9, "depth_m": 9}
    crowd = [person(at) for at in range(1, 13)]
    assert not about(a_class(WARM, squats, COOL, people=crowd, hall=small), "floor")
    assert not about(a_class(WARM, squats, COOL, people=crowd, hall=wide), "floor")
    (told,) = about(a_class(WARM, squats, COOL, people=crowd, hall=tight), "floor")
    # two stations of three stand on the floor, four people at each
    assert "8 people work there at once" in told.line
    assert "4 m² each" in told.why


def test_breathless_work_before_the_heavy_sets_of_a_strength_class() -> None:
    heavy = sets(group(3, 90, {"exercise": "leg-press", "reps": 6, "load": {"share_of_best": 0.75}}), name="Heavy")
    light = circuit(["calf-raise-floor", "plank"], rounds=2, name="Light first")
    file = a_class(WARM, light, heavy, COOL, aim="strength")
    (told,) = about(file, "order")
    assert "“Light first” tires before “Heavy” begins" in told.line
    turned = after(file, told)
    assert [block.name for block in turned.plan.blocks] == ["Warm-up", "Heavy", "Light first", "Cool-down"]
    assert not about(turned, "order")
    assert not about(a_class(WARM, light, heavy, COOL, aim="conditioning"), "order")


def test_what_takes_the_breath_before_large_lifts_where_the_aim_is_mixed() -> None:
    heavy = sets(group(3, 90, {"exercise": "leg-press", "reps": 8, "load": {"share_of_best": 0.7}}), name="Lifts")
    # it has a squat, and leaves everybody breathless all the same
    breath = circuit(["high-knees", "bodyweight-squat", "marching"], name="Breath")
    (told,) = about(a_class(WARM, breath, heavy, COOL, aim="mixed"), "order")
    assert "“Breath” tires before “Lifts” begins" in told.line
    small = circuit(["plank", "calf-raise-floor"], name="Small")
    assert about(a_class(WARM, small, heavy, COOL, aim="mixed"), "order")
    # large work before large work is an ordinary class
    squats = circuit(["bodyweight-squat", "glute-bridge"], name="Large")
    assert not about(a_class(WARM, squats, heavy, COOL, aim="mixed"), "order")


def test_a_class_without_a_warm_up_gets_one() -> None:
    file = a_class(*QUIET[1:])
    (told,) = about(file, "warm-up")
    assert "nothing warms up" in told.line
    assert after(file, told).plan.blocks[0].purpose == "warm_up"


def test_a_heart_rate_in_a_note_and_somebody_on_heart_medication() -> None:
    people = [person(at, heart_medication=at == 2) for at in range(1, 5)]
    stations = circuit(LEGS, rounds=3, work_s=40, change_s=20)
    stations["stations"][0]["note"] = "stay at 130-140 bpm"
    (told,) = about(a_class(WARM, stations, COOL, people=people), "note")
    assert "130-140 bpm" in told.line
    assert told.people == [2]
    assert "doctor" in told.why
    assert not about(a_class(WARM, stations, COOL), "note")
    assert not about(a_class(*QUIET, people=people, note="12 people, 40 s"), "note")


def test_drills_of_a_warm_up_train_nothing() -> None:
    bridge = together(("bike-easy", 300), ("leg-swings", 40), name="Warm-up", purpose="warm_up")
    fronts = circuit(["bodyweight-squat", "reverse-lunge"], rounds=3, work_s=40, change_s=20)
    drilled = [Lately(exercise=name, weeks=0) for name in ("hip-hinge-drill", "glute-bridge", "inchworm")]
    lately = (*drilled, Lately(exercise="bodyweight-squat", weeks=0))
    told = about(a_class(bridge, fronts, COOL), "muscle", History(lately=lately))
    assert any("hamstrings" in remark.line for remark in told)
    lifted = (*lately, Lately(exercise="lying-leg-curl", weeks=0))
    told = about(a_class(bridge, fronts, COOL), "muscle", History(lately=lifted))
    assert not any("hamstrings" in remark.line for remark in told)


def test_a_machine_that_queues() -> None:
    line = sets(
        group(3, 60, {"exercise": "leg-press", "reps": 10, "load": {"share_of_best": 0.6}}),
        group(3, 60, {"exercise": "glute-bridge", "reps": 10}),
        group(3, 60, {"exercise": "reverse-lunge", "reps": 10}),
        start="in_order",
    )
    file = a_class(WARM, line, COOL, many=8)
    (told,) = about(file, "queue")
    assert told.line.startswith("leg press will queue")
    assert "1 place for 8 people" in told.why
    assert told.people
    before = forecast(file).figures.waiting.value
    turned = after(file, told)
    assert forecast(turned).figures.waiting.value < before
    # where an order was found already, another exercise is proposed
    for again in about(turned, "queue"):
        assert mend_of(again).change is not None
        assert mend_of(again).label != "Find a better rotation"


def test_somebody_for_whom_it_is_much_harder() -> None:
    crowd = [person(at, age=25, vo2max=55, max_bpm=190) for at in range(1, 6)]
    crowd.append(person(6, age=68, vo2max=21, max_bpm=150, name="Wilma Oldest"))
    hard = circuit(["bike", "bike-hard", "bodyweight-squat"], rounds=4, work_s=50, change_s=10)
    told = about(a_class(WARM, hard, COOL, people=crowd), "apart")
    assert told[0].line == "Wilma Oldest will stand apart: the class is much harder for them"
    assert told[0].people == [6]


def past(effort: float, days: float, aim: str = "mixed", **figures: float) -> PastClass:
    return PastClass.model_validate({"days": days, "aim": aim, "figures": {"session_effort": effort, **figures}})


def test_two_hard_days_in_a_row() -> None:
    file = a_class(*QUIET)
    own = forecast(file).figures.session_effort
    assert own is not None
    easy = [past(own.value / 2, 7.0 * at) for at in range(2, 7)]
    assert not about(file, "hard days", History(classes=(*easy, past(own.value / 2, 1))))
    (told,) = about(file, "hard days", History(classes=(*easy, past(own.value, 1))))
    assert told.line.startswith("a hard class 1 day before")
    assert told.basis == "own history"
    assert not about(file, "hard days", History(classes=(*easy, past(own.value, 3))))


def test_figures_are_held_against_ones_own_classes_first() -> None:
    file = a_class(*QUIET)
    told_of_it = forecast(file).figures
    assert told_of_it.session_effort is not None
    energy, own = told_of_it.energy.value, told_of_it.session_effort.value
    alike = History(classes=tuple(past(own, 7.0 * at, energy=energy + at) for at in range(1, 6)))
    assert not about(file, "figure", alike)
    other = History(classes=tuple(past(own, 7.0 * at, energy=energy / 2 + at) for at in range(1, 6)))
    (told,) = [item for item in about(file, "figure", other) if "energy" in item.line]
    assert "more than this group is used to" in told.line
    assert mend_of(told).aimed is not None
    assert told.basis == "own history"
    # of another aim there is nothing to hold it against
    strange = History(classes=tuple(past(100, 7.0 * at, aim="strength", energy=1) for at in range(1, 6)))
    assert not [item for item in about(file, "figure", strange) if item.basis == "own history"]


def test_a_published_range_where_there_is_no_history() -> None:
    calm = a_class(
        WARM, circuit(["plank", "dead-bug", "glute-bridge"], rounds=6, work_s=30, change_s=60), COOL, aim="conditioning"
    )
    (told,) = [item for item in about(calm, "figure") if "share of the reserve" in item.line]
    assert told.basis == "published range"
    assert "2011" in told.source


def test_a_muscle_that_had_nothing_for_two_weeks() -> None:
    file = a_class(WARM, circuit(["bodyweight-squat", "glute-bridge", "plank"], rounds=3), COOL)
    lately = (Lately(exercise="lying-leg-curl", weeks=3), Lately(exercise="calf-raise-floor", weeks=1))
    (told,) = about(file, "muscle", History(lately=lately))
    assert told.line == "nothing for the hamstrings here, nor for 3 weeks before"
    more = after(file, told)
    assert not about(more, "muscle", History(lately=lately))
    assert len(more.plan.blocks[1].parts) == 4
    assert not about(file, "muscle")


def test_a_class_that_will_hardly_be_over_is_brought_inside() -> None:
    file = a_class(WARM, circuit(LEGS, rounds=5, work_s=60, change_s=30), COOL)
    long = file.model_copy(update={"plan": file.plan.model_copy(update={"slot_min": 45})})
    (told,) = about(long, "slot")
    assert forecast(after(long, told)).chance_inside.value >= 82


def test_what_cannot_be_mended_says_why() -> None:
    file = a_class(*QUIET)
    with pytest.raises(FaultyInput) as refused:
        mended(file, Mend(label="x", aimed=FigureGoal(figure="energy", want="at_least", value=5000)))
    assert "no change that was tried brings" in refused.value.faults[0].message
    with pytest.raises(FaultyInput):
        mended(file, Mend(label="x"))


def cared_for(number: int) -> dict[str, Any]:
    return {**person(number), "careful": ["knee"]}


def test_what_is_said_alike_of_several_people_is_one_line_with_their_names() -> None:
    people = [cared_for(1), cared_for(2), cared_for(3), *(person(at) for at in range(4, 7))]
    file = a_class(
        WARM, sets(group(3, 60, {"exercise": "reverse-lunge", "reps": 10}), name="Sets"), COOL, people=people
    )
    told = forecast(file)
    of_care = [item for item in told.cautions if item.about == "careful"]
    assert of_care
    found = advise(file, predicted=told).advice
    lines = [line for line in found if line.people and set(line.people) <= {1, 2, 3}]
    assert lines
    assert {number for line in lines for number in line.people} == {
        number for item in of_care for number in item.people
    }
    assert len(lines) <= len(of_care)
    assert all(f"{number} " in line.who for line in lines for number in line.people)


def test_every_caution_is_in_the_review_and_what_can_hurt_stands_first_and_stays() -> None:
    people = [cared_for(1), {**person(2), "heart_medication": True}, *(person(at) for at in range(3, 7))]
    queueing = sets(
        group(4, 60, {"exercise": "leg-press", "reps": 10}),
        group(3, 60, {"exercise": "reverse-lunge", "reps": 10}),
        name="Sets",
    )
    file = a_class(queueing, COOL, people=people, note="keep it at 150 bpm")
    told = forecast(file)
    found = advise(file, predicted=told).advice
    said = {line.line for line in found}
    for caution in told.cautions:
        # said by a line of its own, by one of the same queue, by one with the same press, or with others of somebody
        queued = caution.about == "waiting" and any(set(line.slots) & set(caution.slots) for line in found)
        pressed = any(line.mend and caution.fix and line.mend.change == caution.fix.change for line in found)
        of_person = any(caution.people and set(caution.people) <= set(line.people) for line in found)
        assert caution.message in said or queued or pressed or of_person
    graves = [line.severity == "clash" or line.stays for line in found if line.severity != "note"]
    assert graves == sorted(graves, reverse=True)
    # care, medication and a missing warm-up are never put away
    for words in ("medication", "nothing warms up"):
        assert [line.stays for line in found if words in line.line] == [True] * sum(
            words in line.line for line in found
        )
        assert any(words in line.line for line in found)


def test_a_line_is_known_again_until_what_it_says_changes() -> None:
    file = a_class(WARM, sets(group(4, 60, {"exercise": "leg-press", "reps": 10}), name="Sets"), COOL)
    keys = {line.key for line in advise(file).advice}
    renamed = file.model_copy(update={"plan": file.plan.model_copy(update={"name": "Another name"})})
    assert {line.key for line in advise(renamed).advice} == keys
    fewer = a_class(WARM, sets(group(3, 60, {"exercise": "leg-press", "reps": 10}), name="Sets"), COOL)
    assert {line.key for line in advise(fewer).advice} != keys


def test_several_safer_choices_are_one_press() -> None:
    file = a_class(
        WARM,
        sets(
            group(3, 60, {"exercise": "leg-press", "reps": 10}),
            group(3, 60, {"exercise": "reverse-lunge", "reps": 10}),
            name="Sets",
        ),
        COOL,
    )
    parts = [part.id for _, part in file.plan.placed() if part.exercise in ("leg-press", "reverse-lunge")]
    press, lunge = ({"do": "set_rest", "slot": part, "rest_s": 90} for part in parts)
    mend = Mend.model_validate({"label": "Both", "change": press, "more": [lunge]})
    made = mended(file, mend)
    rests = [
        run.rest_s
        for part in made.plan.parts()
        for run in getattr(part, "sets", [])
        if getattr(part, "id", "") in parts
    ]
    assert min(rests) >= 90


def test_the_order_in_which_people_really_do_the_exercises() -> None:
    """Of two who begin at different groups one does the small exercise first; in order both do the large one first."""
    press = group(2, 60, {"exercise": "leg-press", "reps": 8, "load": {"reps_left": 2}})
    extension = group(2, 60, {"exercise": "leg-extension", "reps": 10, "load": {"reps_left": 2}})
    hall = room({"leg-press": 1, "leg-extension": 1, "bike": 2})
    for fields, first in (({}, 1), ({"start": "in_order"}, 0)):
        file = a_class(WARM, sets(press, extension, **fields), COOL, many=2, hall=hall)
        (pair,) = small_before_large(file.plan, forecast(file), file.catalogue())
        assert (pair.small, pair.large) == ("Leg extension", "Leg press")
        assert pair.both == (1, 2)
        assert len(pair.small_first) == first
        assert share_small_first([pair]) == first / 2


def test_small_before_large_is_said_where_it_is_more_than_a_circle_brings() -> None:
    """A circle of two groups brings half; the small one first for all is more."""
    press = group(2, 60, {"exercise": "leg-press", "reps": 8, "load": {"reps_left": 2}})
    extension = group(2, 60, {"exercise": "leg-extension", "reps": 10, "load": {"reps_left": 2}})
    hall = room({"leg-press": 2, "leg-extension": 2, "bike": 2})
    small_first = a_class(WARM, sets(extension, press, start="in_order"), COOL, many=2, hall=hall)
    (told,) = about(small_first, "order")
    assert told.line == "leg extension comes before leg press for 2 of 2 people"
    assert not about(a_class(WARM, sets(press, extension), COOL, many=2, hall=hall), "order")
