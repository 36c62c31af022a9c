"""Names and lines as they are spoken and written: read one way, asked for otherwise, and nothing of them lost."""

from __future__ import annotations

from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st
from making import person, room
from oaken.domain.catalogue import catalogue
from oaken.forecast import forecast
from oaken.forecast.report import Forecast
from oaken.plan.notation import FaultyText, Names, line_of, read_class, read_class_noting, read_part, read_slot, text_of
from oaken.schedule.class_file import read_class as read_file
from spoken import KNOWN, cases, score

HEAD = "class Test\nslot 45 min\nroom room\npeople p1\n"


def test_at_least_250_names_as_they_are_said_are_right_or_asked_for_and_none_is_guessed() -> None:
    found = score()
    assert found.names >= 250
    assert found.wrong == []
    assert (found.read + found.offered) / found.names >= 0.95


@pytest.mark.parametrize(("said", "meant"), [case for case in cases() if len(case[1]) > 1])
def test_what_could_be_several_is_asked_for(said: str, meant: list[str]) -> None:
    with pytest.raises(FaultyText) as told:
        read_slot(f"{said} 3 x 10", KNOWN)
    (fault,) = told.value.faults
    assert "say which" in fault.message
    assert KNOWN.exercises[meant[0]].name.lower() in fault.proposals or len(fault.proposals) == 3


@pytest.mark.parametrize("name", sorted(KNOWN.exercises))
def test_every_exercise_is_read_by_its_own_name_however_it_is_joined(name: str) -> None:
    exercise = KNOWN.exercises[name]
    assert KNOWN.spoken.meaning(exercise.name).exercise == name
    for said in (exercise.name.upper(), exercise.name.replace("-", " "), exercise.name.replace(" ", "-")):
        meaning = KNOWN.spoken.meaning(said)
        assert meaning.exercise in (name, None)
        assert name in meaning.choices


def test_the_catalogue_has_what_a_leg_room_has() -> None:
    assert len(catalogue().exercises) >= 220
    wanted = [
        "standing-leg-curl-machine",
        "band-kick-back",
        "machine-kick-back",
        "sissy-squat",
        "leaning-frame-squat",
        "glute-ham-raise",
        "donkey-raise-bent-over",
        "donkey-raise-rider",
        "reverse-lunge-guided-bar",
        "loaded-lean-back",
        "incline-crunch",
        "lying-leg-raise",
        "side-bend",
        "overhead-lunge",
        "front-rack-split-squat",
        "loaded-wall-sit",
        "chest-press",
        "lat-pulldown",
        "shoulder-press-machine",
        "hip-thrust-curl-bench",
        "banded-hip-thrust",
    ]
    assert set(wanted) <= set(catalogue().exercises)


AS_WRITTEN = [
    ("leg press 3x15", "leg press 3 x 15"),
    ("leg press 3 sets of 15", "leg press 3 x 15"),
    ("leg press 3 sets of 15 reps, rest 30s", "leg press 3 x 15, rest 30"),
    ("leg press 3 x 15 reps, 30 s rest", "leg press 3 x 15, rest 30"),
    ("leg press 3 × 15, 2 min rest", "leg press 3 x 15, rest 120"),
    ("hacksquat 3 x 10", "hack squat 3 x 10"),
    ("leg press 3 x 12, drop 20% on the last set", "leg press 2 x 12 then 12 + max~8 drop 20%"),
    ("leg press 3 x 12, @60%, drop 20% on the last two", "leg press 12 then 2 x (12 + max~8 drop 20%), @60%"),
    ("leg press 3 x 9, drop 2 steps on every set", "leg press 3 x (9 + max~6 drop 2 steps)"),
    ("standing calf raise 3 x 15, hold 2", "standing calf raise 3 x 15, held 2"),
    ("reverse lunge 3 x 8, each leg", "reverse lunge 3 x 8, each side"),
    ("reverse lunge 3 x 8 per leg", "reverse lunge 3 x 8, each side"),
    ("hip thrust 7/7/7, pause 10", "hip thrust 7 + 7 + 7, pause 10"),
    (
        "leg press 2 x 10-15, @30%, rest 60 then 4 x 6-8, @78%, rest 120",
        "leg press 2 x 10-15, @30%, rest 60 then 4 x 6-8, @78%, rest 120",
    ),
    ("back squat 5 x 5 60 kg", "back squat 5 x 5, @60 kg"),
    ("back squat 5 x 5 at 80% of best", "back squat 5 x 5, @80%"),
    ("back squat 5 x 5, @135 lb", "back squat 5 x 5, @61.23 kg"),
    ("hack squat 3 x 10, @2 plates", "hack squat 3 x 10, @40 kg a side"),
    ("hack squat 3 x 10, a plate a side", "hack squat 3 x 10, @20 kg a side"),
    ("hack squat 3 x 10, @25 kg per side", "hack squat 3 x 10, @25 kg a side"),
    ("leg press 3 x 8, RIR 2", "leg press 3 x 8, @2 left"),
    ("leg press 3 x 8, 2 in reserve", "leg press 3 x 8, @2 left"),
    ("leg press 3 x 8, last two hard", "leg press 3 x 8, @1 left"),
    ("leg press 3 x 8, 8RM", "leg press 3 x 8, @8RM"),
    ("leg press 3 x 8, RPE 8", "leg press 3 x 8, @effort 8/10"),
    ("bike 5 min, effort 13", "bike 5 min, @effort 13/20"),
    ("leg press 3 x 8-12 to failure", "leg press 3 x max~8-12"),
    ("leg press 3 x 12 to failure", "leg press 3 x max~12"),
    ("leg press 3–4 x 12, rest 60–120", "leg press 3-4 x 12, rest 60-120"),
    ("bike 4–6 min", "bike 4-6 min"),
    ("hamstring stretch 15-30 s", "hamstring stretch 15-30 s, each side"),
    ("bike until 105 bpm", "bike 5-10 min until 105 bpm"),
    ("leg press 3 x 10, rest until you can talk", "leg press 3 x 10, rest 60-180 until you can talk"),
    ("treadmill walk 10 min, 3.4 mph incline 8%", "treadmill walk 10 min, 5.5 km/h incline 8%"),
    ("treadmill walk 10 min, 8% incline", "treadmill walk 10 min, incline 8%"),
    ("stair climber 10 min, step 8 in", "stair climber 10 min, step 20 cm"),
    ("leg press 3 x 12, feet low and narrow", "leg press 3 x 12, feet low, narrow"),
    ("leg press 3 x 12, heels up toes back", "leg press 3 x 12, heels up, toes back"),
    ("leg press 3 x (8 + 3 assisted)", "leg press 3 x (8 + 3 helped)"),
    ("leg press 3 x 8, with a spotter, rest 90", "leg press 3 x 8, with helper, rest 90"),
    ("leg press 3 x 10, alternating partial and full", "leg press 3 x 10, partial and full"),
    ("leg press ramp 6 x 6, add a plate", "leg press ramp 6 x 6, add 1 step"),
    ("leg press 3 x 10, note knees out", 'leg press 3 x 10, "knees out"'),
    ("leg press 3 x 10, tempo 3-1-1", "leg press 3 x 10, 3-1-1"),
    ("leg press 3 x 10, no rest", "leg press 3 x 10"),
    ("hack squat 3 x 10 or leg press", "hack squat 3 x 10 or leg press"),
    (
        "leg press 4 x 8, @75%, rest 90 or 2 x 15, @50%, rest 90 for beginners",
        "leg press 4 x 8, @75%, rest 90 or 2 x 15, @50%, rest 90 for level beginner",
    ),
]


@pytest.mark.parametrize(("typed", "own"), AS_WRITTEN)
def test_what_people_write_is_read_and_shown_in_the_products_own_writing(typed: str, own: str) -> None:
    slot = read_slot(typed, KNOWN)
    assert line_of(slot, KNOWN) == own
    assert read_slot(own, KNOWN) == slot


@pytest.mark.parametrize(
    ("typed", "word", "told"),
    [
        ("back squat 5 x 5, @135 lb", "135", "61.2 kg"),
        ("hack squat 3 x 10, @2 plates", "2", "20 kg"),
        ("leg press 3 x 8, last two hard", "last", "1 left"),
        ("treadmill walk 10 min, 3.4 mph", "3.4", "5.5 km/h"),
        ("bike until 105 bpm", "105", "5 to 10 min"),
        ("leg press 3 x 12, drop 20% on the last set", "drop", "two thirds"),
        ("bike 5 min, effort 13", "effort", "13 of 20"),
    ],
)
def test_what_is_not_to_be_seen_at_once_is_told_at_its_word(typed: str, word: str, told: str) -> None:
    _, notices = read_part("slot", typed, KNOWN)
    assert [(notice.word, told in notice.message) for notice in notices] == [(word, True)]
    assert typed[notices[0].column - 1 :].startswith(word)


def test_a_superset_is_written_on_one_line() -> None:
    text = f"{HEAD}block A: sets\nleg extension 3 x 12, @60% + lying leg curl 3 x 10, @50%, rest 60\n"
    (block,) = read_class(text, KNOWN).blocks
    assert [len(group.slots) for group in block.groups] == [2]
    short = f"{HEAD}block A: sets\nleg extension + reverse lunge + lying leg curl 3 x 12, 3-1-1, rest 60\n"
    written = text_of(read_class(short, KNOWN), KNOWN)
    # each with the whole dose, its own sides, and the rest behind the last
    assert (
        "leg extension 3 x 12, 3-1-1\n+ reverse lunge 3 x 12, each side, 3-1-1\n+ lying leg curl 3 x 12, 3-1-1, rest 60"
    ) in written
    # what one of them cannot take is told, not dropped
    with pytest.raises(FaultyText, match="carries no load"):
        read_class(f"{HEAD}block A: sets\nleg extension + plank + lying leg curl 3 x 12, @60%\n", KNOWN)
    with pytest.raises(FaultyText, match="not measured in metres"):
        read_class(f"{HEAD}block A: sets\nleg press + short run 100 m\n", KNOWN)


@pytest.mark.parametrize(
    ("text", "faults"),
    [
        # the line joined to a faulty one is not faulty for that
        ("block A: sets\nleg pres 3 x 10\n+ plank 3 x 30 s, rest 60", [(6, "leg pres")]),
        # below a head that cannot be read nothing can be said of the lines
        ("block A: statoins 40/20\nleg press @50%\nblock B: sets\nleg press 3 x 10", [(5, "statoins 40/20")]),
        ("block A: sets\nleg press 3 x 10\n  or 2 x 15", [(7, "2")]),
        ("block A: stations 40/20\nleg press\n  or hack squat", [(7, "or")]),
        ("taken no-such-unit\nblock A: sets\nleg press 3 x 10", [(5, "no-such-unit")]),
        ("new nobody\nblock A: sets\nleg press 3 x 10", [(5, "nobody")]),
        ("setting p1 on press: seat 4\nblock A: sets\nleg press 3 x 10", [(5, "press")]),
        ("setting p1 on leg-press-1: saet 4\nblock A: sets\nleg press 3 x 10", [(5, "saet 4")]),
    ],
)
def test_a_fault_is_told_once_where_it_is(text: str, faults: list[tuple[int, str]]) -> None:
    names = Names(frozenset({"leg-press-1"}), frozenset({"p1"}))
    with pytest.raises(FaultyText) as told:
        read_class(HEAD + text, KNOWN, None, names)
    assert [(fault.line, fault.word) for fault in told.value.faults] == faults
    assert all(fault.word.lower() not in [word.lower() for word in fault.proposals] for fault in told.value.faults)


CLAUSES = {
    "load": ["@60%", "@40 kg", "@2 left", "@8RM", "@effort 7/10", "@20 kg a side"],
    "rest": ["rest 60", "rest 60-90", "90 s rest", "rest until 110 bpm"],
    "tempo": ["3-1-1", "4-0-2-1"],
    "held": ["held 2", "hold 1"],
    "way": ["partial", "partial and full"],
    "stance": ["narrow", "feet low", "heels up toes in"],
    "helper": ["with helper"],
    "able": ["if able"],
    "note": ['"knees out"'],
    "last": ["after the last"],
    "drop": ["drop 20% on the last set"],
}


@given(
    st.sampled_from(["3 x 12", "3-4 x 8", "2 x 10 then 8", "12/10/8", "3 x (8 + 4)"]),
    st.lists(st.sampled_from(sorted(CLAUSES)), min_size=1, max_size=5, unique=True),
    st.data(),
)
def test_every_clause_of_an_accepted_line_is_in_what_comes_back(
    dose: str, kinds: list[str], data: st.DataObject
) -> None:
    clauses = [data.draw(st.sampled_from(CLAUSES[kind])) for kind in kinds]
    line = ", ".join([f"leg press {dose}", *clauses])
    try:
        slot, notices = read_part("slot", line, KNOWN)
    except FaultyText:
        return
    written = line_of(slot, KNOWN)
    assert read_slot(written, KNOWN) == slot
    for place in range(len(clauses)):
        less = ", ".join([f"leg press {dose}", *clauses[:place], *clauses[place + 1 :]])
        without, _ = read_part("slot", less, KNOWN)
        assert without != slot, clauses[place]
    assert all(notice.word in line for notice in notices)


# ---- what it does to a class -------------------------------------------------------------------------------------


def told(text: str, people: int = 1, **fields: Any) -> Forecast:
    head = HEAD.replace("people p1", f"people {', '.join(f'p{n}' for n in range(1, people + 1))}")
    plan, _ = read_class_noting(head + text, KNOWN)
    who = [person(n, bests_kg={"leg-press": 100}, **fields) for n in range(1, people + 1)]
    return forecast(
        read_file({"format": "oaken-class/2", "plan": plan.model_dump(mode="json"), "room": room(), "people": who})
    )


def test_loads_follow_from_how_hard_it_shall_be() -> None:
    # 8 with 2 left is what ends at 10: 75 of 100 kg; 8RM 80; effort 8 of 10 leaves two
    for said, kg in (("2 left", 75), ("8RM", 80), ("effort 8/10", 75), ("effort 14/20", 70)):
        result = told(f"block A: sets\nleg press 1 x 8, @{said}")
        assert result.figures.volume_load.value == pytest.approx(8 * kg, rel=0.01), said


def test_a_plate_a_side_counts_both_sides_and_the_carriage() -> None:
    plan = read_class(f"{HEAD}block A: sets\nleg press 1 x 10, @20 kg a side", KNOWN)
    there = room()
    for unit in there["units"]:
        if unit["kind"] == "leg-press":
            unit["hardware"] = {"holds": "plates", "bar_kg": 30, "plates": [{"kg": 20, "pairs": 4}]}
    file = {"format": "oaken-class/2", "plan": plan.model_dump(mode="json"), "room": there, "people": [person(1)]}
    assert forecast(read_file(file)).figures.volume_load.value == pytest.approx(10 * 70)


def test_a_unit_that_the_room_has_not_got_any_more_is_told() -> None:
    result = told("taken no-such-unit\nblock A: sets\nleg press 3 x 10, @70%")
    assert "the room has no unit no-such-unit" in " ".join(caution.message for caution in result.cautions)


def test_newcomers_are_shown_a_machine_once() -> None:
    text = "block A: sets\nleg press 3 x 10, @70%, rest 60"
    usual, shown = told(text).length.value, told(f"new p1\n{text}").length.value
    assert shown - usual == pytest.approx(60 - 10)


def test_the_other_choice_is_taken_where_the_first_has_no_unit_and_its_dose_where_it_stands_in() -> None:
    text = "block A: sets\nhack squat 3 x 10, rest 60\n  or leg press 2 x 5, rest 60\n"
    there = room()
    usual = read_class(HEAD + text, KNOWN).model_dump(mode="json")
    for fields, sets in (({}, 3), ({"taken": ["hack-squat-1", "hack-squat-2"]}, 2),
                         ({"instead": [{"exercise": "hack-squat", "other": "leg-press", "people": ["p1"]}]}, 2)):  # fmt: skip
        file = {"format": "oaken-class/2", "plan": {**usual, **fields}, "room": there, "people": [person(1)]}
        result = forecast(read_file(file))
        assert result.figures.sets_per_minute.value * result.length.value / 60 == pytest.approx(sets, rel=1e-3), fields


def test_a_level_has_its_own_dose() -> None:
    text = "block A: sets\nleg press 4 x 8, @75%, rest 60\n  or 2 x 15, @50%, rest 60 for level beginner\n"
    plan = read_class(HEAD.replace("people p1", "people p1, p2") + text, KNOWN)
    who = [person(1, level="beginner"), person(2)]
    file = {"format": "oaken-class/2", "plan": plan.model_dump(mode="json"), "room": room(), "people": who}
    result = forecast(read_file(file))
    first, second = result.people
    # the plan's own line says all of it, and what stands in its place what that is
    assert [(slot.line, slot.stands_for) for slot in result.slots] == [
        ("leg press 4 x 8, @75%, rest 60 or 2 x 15, @50%, rest 60 for level beginner", -1),
        ("leg press 2 x 15, @50%, rest 60", 0),
    ]
    assert first.figures.time_under_tension.value == pytest.approx(2 * 15 * 3)
    assert second.figures.time_under_tension.value == pytest.approx(4 * 8 * 3)


SETTINGS = [
    ("stair climber 10 min, {} steps/min", [23, 24, 25, 26]),
    ("treadmill walk 10 min, {} km/h", [4, 5.4, 6, 8, 9]),
    ("incline treadmill walk 10 min, incline {}%", [0, 4, 8, 12]),
    ("bike 10 min, {} W", [60, 110, 111, 180]),
    ("rower 10 min, {} W", [60, 100, 150]),
    ("bike 10 min, level {}", [1, 10, 11, 40]),
    ("stair climber 10 min, level {}", [1, 10, 40]),
    ("rower 10 min, level {}", [1, 10, 40]),
    ("elliptical 10 min, level {}", [1, 10, 40]),
    ("bike 10 min, @effort {}/20", [9, 11, 13, 16, 19]),
]


@pytest.mark.parametrize(("line", "values"), SETTINGS)
def test_the_demand_climbs_with_the_setting_whether_it_is_the_usual_one_or_not(line: str, values: list[float]) -> None:
    energy = [told(f"block A: together\n{line.format(value)}").figures.energy.value for value in values]
    assert energy == sorted(energy)
    assert len(set(energy)) == len(energy)


def test_the_usual_setting_is_the_same_said_or_not() -> None:
    for line, said in (
        ("stair climber 10 min", "24 steps/min step 20 cm"),
        ("bike 10 min", "110 W"),
        ("rower 10 min", "100 W"),
        ("treadmill walk 10 min", "5.4 km/h"),
    ):
        plain = told(f"block A: together\n{line}").figures.energy.value
        assert told(f"block A: together\n{line}, {said}").figures.energy.value == pytest.approx(plain, rel=1e-6)
    # an incline costs more than the flat, and a run at 3 m/s burns as one
    walks = [
        told(f"block A: together\n{item} 10 min").figures.energy.value for item in ("treadmill walk", "incline walk")
    ]
    assert walks[0] < walks[1]


@given(st.integers(10, 440), st.integers(1, 60), st.integers(0, 30), st.integers(1, 10))
def test_faster_and_steeper_never_costs_less(tenths: int, faster: int, grade: int, steeper: int) -> None:
    from oaken.domain.prescription.machine import MachineSetting
    from oaken.domain.prescription.segments import Manner
    from oaken.physiology.metabolic import uptake
    from oaken.schedule.timeline.bouts import set_equation

    def cost(speed: float, incline: float) -> float:
        manner = Manner(setting=MachineSetting(speed_kmh=speed, incline_percent=incline))
        at = set_equation(manner, KNOWN.exercises["treadmill-walk"])
        assert at is not None
        return uptake(at, 70)

    speed = tenths / 10
    assert cost(speed, grade) <= cost(min(45, speed + faster / 10), grade) + 1e-9
    assert cost(speed, grade) <= cost(speed, min(40, grade + steeper)) + 1e-9


def test_a_light_load_in_kilograms_does_not_workload_more_than_a_heavy_press() -> None:
    """Where nobody has tested a best, a load in kilograms is measured against what is usual at that body mass."""
    head = "block A: stations 40/20, 6 rounds\n"
    light, heavy = (told(f"{head}{line}") for line in ("opposite-arm cable deadlift @15 kg", "leg press @70%"))
    assert light.figures.heart_peak.value < heavy.figures.heart_peak.value


def test_advice_adds_up_a_set_and_looks_at_the_heavy_sets_alone() -> None:
    def messages(line: str) -> str:
        return " ".join(caution.message for caution in told(f"block A: sets\n{line}").cautions)

    assert "20 repetitions at 75 %" in messages("leg press 3 x (10 narrow + 10 wide), @75%, rest 90")
    assert "repetitions at 75 %" not in messages("leg press 3 x (8 + 7), @75%, pause 10, rest 90")
    assert "between heavy sets" not in messages("back squat 2 x 10, @40%, rest 30 then 3 x 5, @85%, rest 150")
    assert "30 s of rest between heavy sets" in messages("back squat 2 x 10, @40%, rest 90 then 3 x 5, @85%, rest 30")
