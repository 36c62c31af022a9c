"""What is done to a plan as a whole: fitting, levels, the safer choices of cautions, and telling what changed."""

from __future__ import annotations

import json
from typing import Any

import pytest
from hypothesis import given, settings
from making import circuit, class_file, group, person, room, sets, together
from oaken.basis.faults import FaultyInput
from oaken.design.adjustments import cost_of, kinds
from oaken.design.adjustments.edits import ADDITIONS, CUTS
from oaken.design.adjustments.levels import at_level
from oaken.design.goal_seeking import fit_to_slot
from oaken.design.goal_seeking.to_slot import FULL_ENOUGH_S
from oaken.domain.catalogue import catalogue
from oaken.forecast import forecast
from oaken.plan import CircuitBlock, ClassPlan, SetsBlock, changes
from oaken.plan.keep_ids import with_ids_of
from oaken.plan.notation import read_class as read_text
from oaken.plan.notation import text_of
from oaken.plan.notation.compare import differences
from oaken.schedule.class_file import ClassFile, read_class
from oaken.schedule.class_file.reading import load_class
from places import EXAMPLES, ROOT
from writing import plans

KNOWN = catalogue()
HEAD = "class Test\nslot 45 min\nroom room\npeople p1, p2\n"


def of_text(text: str, **fields: Any) -> ClassFile:
    """A class file of a text, in a room that has two of everything."""
    plan = read_text(HEAD + text, KNOWN).model_dump(mode="json") | fields
    people = [person(n, bests_kg={"back-squat": 120, "leg-press": 150, "leg-extension": 60}) for n in (1, 2)]
    return read_class({"format": "oaken-class/2", "plan": plan, "room": room(), "people": people})


def example(name: str, **fields: Any) -> ClassFile:
    file = load_class(ROOT / "examples" / f"{name}.json")
    return file.model_copy(update={"plan": file.plan.model_copy(update=fields)})


# ---- fit to slot --------------------------------------------------------------------------------------------------


@pytest.mark.parametrize("name", EXAMPLES)
@pytest.mark.parametrize("minutes", [3, 10])
def test_over_the_slot_several_ways_fit_each_with_its_true_effect(name: str, minutes: int) -> None:
    file = example(name)
    file = example(name, slot_min=int(forecast(file).length.value // 60) - minutes)
    before = forecast(file)
    fitting = fit_to_slot(file)
    assert fitting.state == "over"
    assert fitting.difference_s == pytest.approx(before.length.value - file.plan.slot_min * 60, abs=0.1)
    assert len(fitting.proposals) >= 2
    assert len({proposal.name for proposal in fitting.proposals}) == len(fitting.proposals)
    assert [proposal.cost for proposal in fitting.proposals] == sorted(proposal.cost for proposal in fitting.proposals)
    for proposal in fitting.proposals:
        after = forecast(file.model_copy(update={"plan": proposal.plan}))
        effect = proposal.effect
        assert effect.length_change_s == pytest.approx(after.length.value - before.length.value, abs=0.1)
        assert effect.length_change_s < 0
        assert proposal.reached
        assert after.length.value <= file.plan.slot_min * 60
        assert effect.kcal_change == pytest.approx(after.figures.energy.value - before.figures.energy.value, abs=0.02)
        assert effect.work_share_change == pytest.approx(
            after.figures.work_share.value - before.figures.work_share.value, abs=0.02
        )
        assert proposal.plan.people == file.plan.people


def test_under_the_slot_it_is_filled_and_never_overfilled() -> None:
    file = example("machine-pairs", slot_min=80)
    fitting = fit_to_slot(file)
    assert fitting.state == "under"
    assert len(fitting.proposals) >= 4
    for proposal in fitting.proposals:
        assert -fitting.difference_s - FULL_ENOUGH_S <= proposal.effect.length_change_s <= -fitting.difference_s


def test_a_slot_that_is_far_too_short_gets_the_nearest_there_is() -> None:
    fitting = fit_to_slot(example("stretcher-legs", slot_min=10))
    assert fitting.proposals
    assert not any(proposal.reached for proposal in fitting.proposals)
    changes = [proposal.effect.length_change_s for proposal in fitting.proposals]
    assert changes == sorted(changes)
    assert changes[0] < -600


def test_surely_asks_the_longest_outlook() -> None:
    file = example("machine-pairs")
    likely, surely = fit_to_slot(file), fit_to_slot(file, surely=True)
    assert likely.state == "fits"  # 57:33 of 60
    assert surely.state == "over"  # 63 min if everything goes slowly
    best = surely.proposals[0]
    assert best.reached
    assert forecast(file.model_copy(update={"plan": best.plan})).length.high <= 3600


def test_the_aim_and_the_school_of_rests_decide_what_harms_least() -> None:
    def cost(kind: str, **fields: Any) -> float:
        plan = example("scree-and-stairs", **fields).plan
        *_, largest = CUTS[kind](plan, KNOWN, example("scree-and-stairs").room_today)
        return cost_of(kinds()[kind], largest, plan, KNOWN)

    assert cost("shorter_rest", aim="conditioning") < cost("shorter_rest", aim="strength")
    assert cost("fewer_rounds", aim="technique") < cost("fewer_rounds", aim="conditioning")
    assert cost("shorter_rest", choices={"rest": "short"}) < cost("shorter_rest", choices={"rest": "quality"})


def test_a_class_that_fits_is_left_alone_and_every_kind_has_its_weights() -> None:
    file = class_file(circuit(["leg-press", "plank"], work_s=120, rounds=1), slot_min=5)
    assert fit_to_slot(file).state == "fits"
    assert fit_to_slot(file).proposals == []
    assert {*CUTS, *ADDITIONS} == {*kinds()}


@settings(max_examples=40)
@given(plans)
def test_no_change_that_is_tried_breaks_a_plan(plan: ClassPlan) -> None:
    where = class_file(circuit(["plank"])).room
    for tries in (*CUTS.values(), *ADDITIONS.values()):
        for trial in tries(plan, KNOWN, where):
            again = ClassPlan.model_validate(trial.plan.model_dump())
            assert again.blocks
            assert trial.share >= 0
    for level in ("beginner", "advanced"):
        made = at_level(plan, level, KNOWN, where).plan
        assert made.level == level
        assert len(made.name) <= 120


# ---- levels -------------------------------------------------------------------------------------------------------

PAIRS = """
block Pairs: sets, then 60
back squat 3 x 8, @70%
+ reverse lunge 3 x 10, each side, rest 60
leg press 2 x 10 then 10 + max~8 drop 20%, @70%, rest 90
block Stations: stations 40/20, 3 rounds, round rest 60, then 60
jump squat
leg extension @60%
"""


def test_a_beginner_gets_one_machine_at_a_time_and_easier_variants() -> None:
    file = of_text(PAIRS)
    made = at_level(file.plan, "beginner", KNOWN, file.room)
    text = text_of(made.plan, KNOWN)
    assert "class Test (beginner)" in text
    assert "+ " not in text.replace("max~8 +", "")
    assert "drop" not in text
    assert "max" not in text
    # a machine that holds the back in place of the free bar, lighter, a set fewer, and the rest of straight sets, once
    assert "belt squat 2 x 8, @60%, rest 60" in text
    assert "leg press 2 x 10, @60%, rest 135" in text
    assert "2 rounds, round rest 90" in text
    assert "bodyweight squat" in text
    assert "leg extension @50%" in text
    assert "jump squat → bodyweight squat" in made.changed
    assert forecast(file.model_copy(update={"plan": made.plan})).figures.volume_load.value < (
        forecast(file).figures.volume_load.value
    )


def test_free_weights_early_keeps_beginners_on_free_weights() -> None:
    file = of_text(PAIRS, choices={"machines-or-free": "free-early"})
    assert "goblet squat" in text_of(at_level(file.plan, "beginner", KNOWN, file.room).plan, KNOWN)


def test_the_advanced_get_a_round_more_and_one_drop() -> None:
    file = of_text(PAIRS)
    text = text_of(at_level(file.plan, "advanced", KNOWN, file.room).plan, KNOWN)
    assert "4 rounds" in text
    assert "back squat 4 x 8" in text
    assert "leg press 3 x 10 then 10 + max~8 drop 20%, @70%, rest 75" in text
    back = at_level(at_level(file.plan, "advanced", KNOWN, file.room).plan, "standard", KNOWN, file.room)
    assert back.plan.name == "Test"


# ---- cautions and their safer choices -----------------------------------------------------------------------------


@pytest.mark.parametrize(
    ("text", "words", "after"),
    [
        ("block A: sets\nleg extension 3 x 12, @50%\nback squat 3 x 8, @70%, rest 90", "has tired", "belt squat"),
        (
            "block A: sets\nRomanian x\nplank 3 x 30 s\n".replace(
                "Romanian x", "dumbbell Romanian deadlift 3 x 8\nkettlebell swing 3 x 15"
            ),
            "the back is tired",
            "plank 3 x 30 s\nkettlebell swing",
        ),
        (
            "block A: sets\nleg press 3 x 8\nhip thrust 3 x 8\nleg extension 3 x 8\ndumbbell split squat 3 x 8, each side",
            "balance when people are tired",
            "-dumbbell split squat",
        ),
        ("block A: sets\nleg extension 3 x 12\nleg press 3 x 8", "stands behind leg extension", "leg press 3 x 8\nleg ext"),
        ("block A: sets\nstanding calf raise 3 x 12\nleg press 3 x 8", "trains them last", "leg press 3 x 8\nstanding"),
        ("block A: together\nquadriceps stretch 30 s, each side\nblock B: sets\nleg press 3 x 8", "cost a little", "8 s, each"),
        ("block A: sets\nleg press 3 x 15, @85%, rest 90", "15 repetitions at 85 %", "@65%"),
        ("block A: sets, for warm-up\nleg press 2 x 10, @60%, rest 30", "tires", "@30%"),
        ("block A: sets\nback squat 3 x 5, @85%, rest 30", "30 s of rest between heavy", "rest 90"),
        (
            "block A: sets\nleg press 2 x (8 + 6 drop 20%), @60%\nleg extension 2 x (8 + 6 drop 20%), @60%",
            "drop sets on 2 of 2",
            "leg press 2 x 8, @60%\nleg extension 8 then 8 + 6 drop 20%",
        ),
        ("block A: sets\nleg press 3 x 8, @60%", "without a warm-up", "block Warm-up: together"),
        ("block A: sets\nleg press 3 x 8, @60%", "without a cool-down", "block Cool-down: together"),
        ("block A: stations 30/5, 2 rounds\nbike\nleg press @50%", "are short to walk", "stations 30/25"),
        ("block A: stations 30/25, 2 rounds\nbike\nleg press @2 left", "leave no time to change the load", "stations 30/45"),
    ],
)  # fmt: skip
def test_a_caution_stands_on_its_slot_and_its_safer_choice_can_be_applied(text: str, words: str, after: str) -> None:
    file = of_text(text)
    caution = next(caution for caution in forecast(file).cautions if words in caution.message)
    assert caution.safer
    assert caution.fix is not None
    changed = changes.apply(file.plan, caution.fix.change, KNOWN)
    plain = ClassPlan.model_validate(changed.model_dump())
    written = text_of(plain, KNOWN)
    assert after[1:] not in written if after.startswith("-") else after in written, written
    again = forecast(file.model_copy(update={"plan": plain})).cautions
    assert words not in [item.message for item in again]


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("block A: sets\nback squat 3 x 8, @60%, rest 90", "bars on the back"),
        ("block A: sets\ntreadmill walk 5 min, 5 km/h", "treadmills are used"),
        ("block A: sets\ntreadmill walk 5 min, 4 km/h incline 8%", "doubles the energy of walking at one grade only"),
        ("block A: sets\nstair climber 5 min, 60 steps/min", "energy equation was not made for this"),
        ("block A: sets\nleg press 3 x 8\n+ reverse lunge 3 x 8, each side", "both exercises of the pair work"),
    ],
)
def test_the_usual_habits_are_said(text: str, words: str) -> None:
    assert any(words in caution.message for caution in forecast(of_text(text)).cautions)


def test_another_school_turns_the_advice_round() -> None:
    calves = "block A: sets\nleg press 3 x 8\nstanding calf raise 3 x 12"
    assert not any("calves" in caution.message for caution in forecast(of_text(calves)).cautions)
    first = forecast(of_text(calves, choices={"calves": "first"})).cautions
    assert any("this class trains them first" in item.message for item in first)
    exhaust = of_text("block A: sets\nleg press 3 x 8\nleg extension 3 x 12", choices={"order": "pre-exhaust"})
    assert any("nothing is pre-exhausted" in caution.message for caution in forecast(exhaust).cautions)
    heavy = "block A: sets\nleg press 3 x 5, @80%, rest 90\nleg extension 3 x 20, @40%, rest 60"
    for school, words in (("light-many", "chose light and many"), ("heavy-few", "chose heavy and few")):
        found = forecast(of_text(heavy, choices={"reps-and-load": school})).cautions
        assert any(words in item.message for item in found)
    assert not any("in a class that chose" in caution.message for caution in forecast(of_text(heavy)).cautions)
    walk = "block A: sets\ntreadmill walk 5 min, 4 km/h incline 8%"
    assert not any(
        "doubles" in caution.message
        for caution in forecast(of_text(walk, choices={"calorie-claims": "no-claim"})).cautions
    )
    deep = of_text("block A: sets\ngoblet squat 3 x 8", choices={"squat-depth": "full"})
    flat = of_text("block A: sets\ngoblet squat 3 x 8")
    assert forecast(deep).figures.energy_by_lifting.value > forecast(flat).figures.energy_by_lifting.value


def test_a_change_for_a_slot_that_is_gone_changes_nothing() -> None:
    plan = of_text("block A: sets\nleg press 3 x 8").plan
    for change in (
        changes.SwapExercise(slot="gone", exercise="plank"),
        changes.SwapExercise(slot=plan.blocks[0].groups[0].slots[0].id, exercise="gone"),
    ):
        with pytest.raises(FaultyInput, match="gone"):
            changes.apply(plan, change, KNOWN)


# ---- what changed, ids and older versions -------------------------------------------------------------------------


@settings(max_examples=40)
@given(plans)
def test_a_plan_differs_from_itself_in_nothing_and_text_keeps_its_ids(plan: ClassPlan) -> None:
    assert differences(plan, plan, KNOWN) == []
    again = with_ids_of(read_text(text_of(plan, KNOWN), KNOWN, plan), plan)
    assert [part.id for part in again.parts()] == [part.id for part in plan.parts()]


def test_every_difference_is_told_in_the_lines_of_the_notebook() -> None:
    before = of_text(PAIRS).plan
    text = text_of(before, KNOWN)
    text = (
        text.replace("back squat 3 x 8", "back squat 4 x 6").replace("slot 45", "slot 50").replace("p1, p2", "p2, p1")
    )
    text = text.replace("jump squat\n", "").replace("3 rounds", "2 rounds")
    after = with_ids_of(read_text(text, KNOWN), before)
    told = differences(before, after, KNOWN)
    assert "class length (min): 45 → 50" in told
    assert "people in another order" in told
    assert "Pairs: back squat 3 x 8, @70% → back squat 4 x 6, @70%" in told
    assert "Stations: jump squat taken out" in told
    assert any("3 rounds" in item and "2 rounds" in item for item in told)


def test_a_file_of_the_first_version_is_read_as_it_was_meant() -> None:
    old = json.loads((ROOT / "tests" / "core" / "older" / "machine-pairs-1.json").read_text(encoding="utf-8"))
    for part, name in (("room", "alder-mill"), ("people", "hill-team")):
        old[part] = json.loads((ROOT / "examples" / f"{name}.json").read_text(encoding="utf-8"))
    today = load_class(ROOT / "examples" / "machine-pairs.json")
    assert read_class(old).plan == today.plan
    block = today.plan.blocks[1]
    assert isinstance(block, SetsBlock)
    assert [run.times for run in block.groups[0].slots[0].sets] == [3]
    # a fault in it is told at its place all the same
    old["plan"]["blocks"][1]["groups"][0]["slots"][0]["reps"] = 0
    with pytest.raises(FaultyInput, match="group 1, slot 1, reps: is too small"):
        read_class(old)


def test_swapping_refits_what_the_new_exercise_cannot_take() -> None:
    file = class_file(
        sets(group(2, 30, {"exercise": "leg-press", "reps": 10, "load": {"share_of_best": 0.6}})),
        circuit(["leg-press"]),
        together(("marching", 60)),
    )
    ids = [part.id for part in file.plan.parts() if hasattr(part, "exercise")]
    changed = file.plan
    for slot in ids:
        changed = changes.swap(changed, slot, KNOWN.exercises["walking-lunge"])
    lines = text_of(ClassPlan.model_validate(changed.model_dump()), KNOWN)
    assert "walking lunge 2 x 10, each side, rest 30" in lines
    assert "walking lunge 60 s, each side" in lines
    circuit_block = changed.blocks[1]
    assert isinstance(circuit_block, CircuitBlock)
    assert circuit_block.stations[0].load is None
