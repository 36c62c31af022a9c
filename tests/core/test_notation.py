"""The written notation: reading and writing are inverse, and an error points at the word and proposes."""

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from making import class_document
from oaken.domain.catalogue import catalogue
from oaken.plan import ClassPlan, settled
from oaken.plan.notation import (
    FaultyText,
    line_of,
    read_class,
    read_class_noting,
    read_leg,
    read_slot,
    read_station,
    text_of,
)
from oaken.plan.notation.shipped import cheat_sheet, templates
from oaken.schedule.class_file import read_class as read_file
from writing import plans

KNOWN = catalogue()


def without_ids(plan: ClassPlan) -> object:
    def cleaned(value: object) -> object:
        if isinstance(value, dict):
            return {key: cleaned(inner) for key, inner in value.items() if key != "id"}
        return [cleaned(item) for item in value] if isinstance(value, list) else value

    return cleaned(plan.model_dump(mode="json"))


@settings(max_examples=250)
@given(plans)
def test_reading_what_was_written_gives_the_same_class(plan: ClassPlan) -> None:
    text = text_of(plan, KNOWN)
    again = read_class(text, KNOWN)
    assert without_ids(again) == without_ids(settled(plan, KNOWN)), text
    assert text_of(again, KNOWN) == text


@pytest.mark.parametrize("scheme", cheat_sheet().slots, ids=lambda item: item.scheme)
def test_every_line_of_the_cheat_sheet_comes_back_word_for_word(scheme: object) -> None:
    line = scheme.line  # type: ignore[attr-defined]
    assert line_of(read_slot(line, KNOWN), KNOWN) == line


THREE_GROUPS = "leg press 2 x 12\nlying leg curl 2 x 12\nplank 2 x 30 s"


def test_heads_and_groups_of_the_cheat_sheet_can_be_read() -> None:
    heading = "\n".join(item.line for item in cheat_sheet().heading)
    for head in cheat_sheet().heads:
        below = {"stations": "leg press @50%", "relay": "kettlebell swing 8 turns of 12"}
        line = next((text for word, text in below.items() if f": {word}" in head.line), THREE_GROUPS)
        (block,) = read_class(f"{heading}\n{head.line}\n{line}", KNOWN).blocks
        assert (
            f"{text_of(read_class(f'{heading}{chr(10)}{head.line}{chr(10)}{line}', KNOWN), KNOWN)}".count(head.line)
            == 1
        )
        assert block.name in head.line
    for group in cheat_sheet().groups:
        plan = read_class("\n".join([heading, "block Sets: sets", *group.lines]), KNOWN)
        text = text_of(plan, KNOWN)
        # what is said on one line comes back as the lines it means
        assert all(line in text for line in (group.lines if len(group.lines) > 1 else group.lines[0].split(" + ")))


def test_every_template_is_a_valid_block_and_reads_as_it_is_written() -> None:
    purposes = set()
    for template in templates():
        block = template.block(KNOWN)
        purposes.add(block.purpose)
        head = "class Templates\nslot 60 min\nroom room\npeople p1\n"
        text = text_of(read_class("\n".join([head, *template.lines]), KNOWN), KNOWN)
        assert text.strip().split("\n\n")[1].split("\n") == template.lines
        document = class_document(block.model_dump(mode="json"))
        assert read_file(document).plan.blocks[0].name == block.name
    assert purposes >= {"warm_up", "activation", "stretching", "rolling", "strength", "conditioning", "finisher",
                        "talk", "water", "tidy_up", "cool_down"}  # fmt: skip


@pytest.mark.parametrize(
    ("line", "word", "message", "proposal"),
    [
        ("leg pres 3 x 10", "leg pres", "no exercise", "leg press"),
        ("lunge leap 3 x 10", "lunge leap", "no exercise", "jump lunge"),
        ("squats 5 x 5, @85%", "squats", "say which", "back squat"),
        ("bodyweight squat 5 x 5, @85%", "@", "carries no load", "goblet squat"),
        ("step-up 3 x 8, @70%", "@", "carries no load", "dumbbell step-up"),
        ("plank 3 x 40 s, @70%", "@", "carries no load", "cable press-out"),
        ("bike 5 min, @70%", "@", "carries no load", "effort 13/20"),
        ("leg press 3 x 10, 12 km/h", "km/h", "no such setting", ""),
        ("bike 5 min, incline 8%", "incline", "no such setting", "180 W"),
        ("leg press 3 x 10, pause 10", "pause", "between the parts", "rest 10"),
        ("leg press 3 x 10, drop 20%", "drop", "on which set", "drop 20% on the last set"),
        ("leg press 3 sets, rest 60", ",", "sets of how many", "3 x 12"),
        ("leg press narow 3 x 10", "narow", "not understood", "narrow"),
        ("leg press 4 x", "x", "how many", "12"),
        ("leg press", "press", "how many", "40 s"),
        ("leg press 0 x 12", "0", "1 to 30", ""),
        ("leg press 3 x 10000", "10000", "from 1 to 200", ""),
        ("leg press 3 x 10, rest -30", "-30", "below zero", ""),
        ("leg press 3 x 10, rest", "rest", "is missing", ""),
        ("leg press 3 x 10, rets 60", "rets", "not understood", "rest"),
        ("leg press 3 x 10,", ",", "behind the comma", ""),
        ("leg press 3 x 10 @70", "70", "unit", "%"),
        ("leg press 3 x 10, @60/70%", "@", "3 sets need one load or 3", ""),
        ("leg press 3 x 10, rest 60/50/40/30", "rest", "at most 3 rests", ""),
        ("leg press 3 x 10, tempo slow", "tempo", "not understood", "3-1-1"),
        ("leg press 3 x 10, drop 20%", "drop", "which part", "ramp"),
        ("leg press ramp 6-7 x 6", "ramp", "what is added", ""),
        ("leg press 20-15, rest 30", "20-15", "lower number first", ""),
        ("leg press 3 x (7 + 7, rest 60", ",", "not closed", ")"),
        ("leg press max 8", "8", "max~8", "max~8"),
        ("leg press hold 12", "12", "seconds", "12 s"),
        ("leg press 3 x 100 m", "3", "not measured in metres", "40 s"),
        ("leg press 10 @70% drop 10% + 5", "drop", "not both", ""),
        ("leg press 31 x 10", "31", "1 to 30", ""),
        ("bike 10 min, 5000 W", "5000", "10 to 1200", ""),
    ],
)  # fmt: skip
def test_an_error_points_at_the_word_and_proposes(line: str, word: str, message: str, proposal: str) -> None:
    with pytest.raises(FaultyText) as caught:
        read_slot(line, KNOWN)
    (fault,) = caught.value.faults
    assert fault.word == word
    assert line[fault.column - 1 :].startswith(word)
    assert message in fault.message
    assert proposal in " ".join(fault.proposals)


@pytest.mark.parametrize(
    ("line", "notice"),
    [
        ("step-up 3 x 8, each side, @20 kg", "dumbbell step-up"),
        ("rear-foot split squat 3 x 8, each side, @20 kg", "dumbbell split squat"),
        ("wall sit 3 x 40 s, @20 kg", "loaded wall sit"),
        ("plank 3 x 40 s, @10 kg", "10 kg are held in plank"),
    ],
)
def test_work_of_the_body_s_own_weight_may_hold_a_load_and_hears_what_is_made_for_one(line: str, notice: str) -> None:
    text = f"class One\nslot 60 min\nroom room\npeople p1\n\nblock A: sets\n{line}\n"
    plan, notices = read_class_noting(text, KNOWN)
    assert notice in " ".join(item.message for item in notices)
    assert f"\n{line}" in text_of(plan, KNOWN)


@pytest.mark.parametrize(
    ("line", "heels_cm", "aids"),
    [
        ("back squat 3 x 8, heels 2.5 cm, belt", 2.5, ("belt",)),
        ("back squat 3 x 8, heels on 1 in with a belt", 2.5, ("belt",)),
        ("kettlebell deadlift 3 x 8 with straps, on a wedge", None, ("straps", "wedge")),
        ("hip thrust 3 x 8, heels 3, with a pad", 3, ("pad",)),
    ],
)
def test_what_is_worn_or_laid_under_is_written_and_read(
    line: str, heels_cm: float | None, aids: tuple[str, ...]
) -> None:
    slot = read_slot(line, KNOWN)
    (segment,) = slot.sets[0].segments
    assert (segment.heels_cm, segment.aids) == (heels_cm, aids)
    assert read_slot(line_of(slot, KNOWN), KNOWN) == slot
    with pytest.raises(FaultyText, match="said twice"):
        read_slot("back squat 3 x 8, belt, with a belt", KNOWN)


def test_stations_and_legs_have_lines_of_their_own() -> None:
    assert line_of(read_station("Leg press @50%, 3-1-1, narrow", KNOWN), KNOWN) == "leg press @50%, 3-1-1, narrow"
    with pytest.raises(FaultyText, match="the clock of the block"):
        read_station("leg press 3 x 10", KNOWN)
    leg = "kettlebell swing 8 turns of 12 @16 kg, rest 60"
    assert line_of(read_leg(leg, KNOWN), KNOWN) == leg
    with pytest.raises(FaultyText, match="8 turns of 12"):
        read_leg("kettlebell swing 48", KNOWN)


def test_every_fault_of_a_class_is_told_at_once_with_its_line() -> None:
    text = "\n".join(
        [
            "class Half typed",
            "slot 400 min",
            "room room",
            "people p1",
            "clas Twice",
            "block Sets: sest",
            "leg press 3 x 10",
            "block Stations: stations 40/20, 0 rounds",
            "leg pres",
            "block Empty: together, for lunch",
        ]
    )
    with pytest.raises(FaultyText) as caught:
        read_class(text, KNOWN)
    found = {fault.line: (fault.word, fault.proposals) for fault in caught.value.faults}
    assert found[2][0] == "400"
    assert found[5] == ("clas", ["class"])
    assert found[6][1] == ["sets"]
    assert found[8][0] == "0"
    assert found[10][0] == "lunch"


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("", "no block yet"),
        ("class A\nslot 40 min\nroom r\npeople p", "no block yet"),
        ("block Sets: sets", "no exercise yet"),
        ("block Sets: sets\n+ leg press 3 x 10", "none yet"),
        ("block Sets: sets\nleg press 3 x 10", "“class …” is missing"),
        ("x" * 70_000, "at most 60,000"),
        ("class A\nslot 40 min\nroom r\npeople p\nblock P: stations 50/20, turn 15\nleg press", "even number of turns"),
        ("choose calves: maybe\nblock Sets: sets\nleg press 3 x 10", "no answer to calves"),
    ],
)
def test_a_class_that_is_not_one_says_what_is_missing(text: str, words: str) -> None:
    with pytest.raises(FaultyText, match=words):
        read_class(text, KNOWN)


@given(st.text(max_size=80))
def test_no_text_breaks_the_reader(text: str) -> None:
    for read in (read_slot, read_station, read_leg, read_class):
        try:
            read(text, KNOWN)
        except FaultyText as error:
            lines = text.split("\n") if read is read_class else [text]
            for fault in error.faults:
                assert 1 <= fault.line <= len(lines)
                assert fault.message
