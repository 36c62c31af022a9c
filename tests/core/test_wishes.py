"""Wishes in the plan and in the text: who goes with whom, who does something else, what comes first."""

from __future__ import annotations

from typing import Any

import pytest
from making import class_document, group, person, room, sets
from oaken.basis.faults import FaultyInput
from oaken.domain.catalogue import catalogue
from oaken.plan import ClassPlan, PlannedVisit, Rotation, SetsBlock
from oaken.plan.keep_ids import with_ids_of
from oaken.plan.notation import FaultyText, read_class, text_of
from oaken.plan.notation.compare import differences
from oaken.schedule.class_file import read_class as read_file

KNOWN = catalogue()
HEAD = "class Wishes\nslot 60 min\nroom saw-floor\npeople marit, tobin, ines"
BODY = "leg press 3 x 10\nhip thrust 3 x 10\nplank 2 x 30 s"


def read(head: str = "", way: str = "sets") -> ClassPlan:
    return read_class("\n".join(filter(None, [HEAD, head, f"block Legs: {way}, then 60", BODY])), KNOWN)


def legs(plan: ClassPlan) -> SetsBlock:
    (block,) = plan.blocks
    assert isinstance(block, SetsBlock)
    return block


def test_wishes_are_read_as_they_are_written() -> None:
    plan = read(
        "together marit, tobin\napart tobin, ines\n"
        "instead hack squat: leg press for marit, level beginner\ninstead leg press: wall sit for ines\ntaken press-1, curl"
    )
    assert plan.together == [["marit", "tobin"]]
    assert plan.apart == [["tobin", "ines"]]
    first, second = plan.instead
    assert (first.exercise, first.other, first.people, first.level) == (
        "hack-squat",
        "leg-press",
        ["marit"],
        "beginner",
    )
    assert (second.other, second.people, second.level) == ("wall-sit", ["ines"], None)
    assert plan.taken == ["press-1", "curl"]


def test_what_a_block_wishes_is_read_as_it_is_written() -> None:
    block = legs(read(way="sets, hold machines, 3 waves every 240, within 2400, B C before A"))
    assert (block.sharing, block.waves, block.wave_gap_s, block.within_s) == ("hold", 3, 240, 2400)
    assert [group.stage for group in block.groups] == [2, 1, 1]
    # three stages, and one that may come anywhere
    chain = legs(read(way="sets, C before A"))
    assert [group.stage for group in chain.groups] == [2, None, 1]


@pytest.mark.parametrize(
    ("head", "way", "word"),
    [
        ("together marit", "sets", "marit"),
        ("instead hack squat: leg press", "sets", "hack squat: leg press"),
        ("instead hack squad: leg press for marit", "sets", "hack squad"),
        ("instead hack squat: leg pres for marit", "sets", "leg pres"),
        ("instead hack squat: leg press for level olympian", "sets", "olympian"),
        ("", "sets, 30 waves every 60", "30"),
        ("", "sets, within 10", "10"),
        ("", "sets, A before A", "A before A"),
        ("", "sets, A before D", "Legs"),
        ("", "together, hold machines", "hold machines"),
    ],
)
def test_a_fault_in_a_wish_is_told_at_its_word(head: str, way: str, word: str) -> None:
    with pytest.raises(FaultyText) as fault:
        read(head, way)
    assert word in [fault.word for fault in fault.value.faults]


def test_a_wish_that_is_taken_out_of_the_text_is_dropped() -> None:
    plan = read("together marit, tobin")
    text = text_of(plan, KNOWN)
    assert "together marit, tobin" in text
    without = read_class(text.replace("together marit, tobin\n", ""), KNOWN, plan)
    assert without.together == []


@pytest.mark.parametrize(
    ("fields", "words"),
    [
        ({"together": [["p1", "p2"], ["p2", "p3"]]}, "stands twice"),
        ({"together": [["p1", "p2"]], "apart": [["p1", "p2"]]}, "together and apart"),
        ({"together": [["p1"]]}, "at least 2"),
        ({"together": [["p1", "p9"]]}, "nobody in the class"),
        ({"apart": [["p1", "p9"]]}, "nobody in the class"),
        ({"instead": [{"exercise": "leg-press", "other": "wall-sit"}]}, "name people or a level"),
        ({"instead": [{"exercise": "leg-press", "other": "leg-press", "level": "beginner"}]}, "by another one"),
        ({"instead": [{"exercise": "leg-press", "other": "wall-sitt", "level": "beginner"}]}, "not in the catalogue"),
        ({"instead": [{"exercise": "leg-press", "other": "wall-sit", "people": ["p9"]}]}, "nobody in the class"),
    ],
)
def test_wishes_that_contradict_or_name_nobody_are_refused(fields: dict[str, Any], words: str) -> None:
    document = class_document(sets(group(1, 0, {"exercise": "leg-press", "reps": 10})), people=3, **fields)
    with pytest.raises(FaultyInput) as fault:
        read_file(document)
    told = "; ".join(f"{each_fault.message} {each_fault.right}" for each_fault in fault.value.faults)
    assert words in told


def test_stages_are_counted_from_one_and_a_single_one_says_nothing() -> None:
    dose = {"exercise": "leg-press", "reps": 10}
    block = sets(*(group(1, 0, dose) | {"stage": stage} for stage in (7, 3, None)))
    (made,) = read_file(class_document(block)).plan.blocks
    assert isinstance(made, SetsBlock)
    assert [group.stage for group in made.groups] == [2, 1, None]
    (alone,) = read_file(class_document(sets(group(1, 0, dose) | {"stage": 4}))).plan.blocks
    assert isinstance(alone, SetsBlock)
    assert alone.groups[0].stage is None


def rotated(plan: ClassPlan) -> ClassPlan:
    block = legs(plan)
    visits = [PlannedVisit(group=each_group.id, sets_s=[60.0 * at]) for at, each_group in enumerate(block.groups)]
    rotation = Rotation(visits={"marit": visits})
    return plan.model_copy(update={"blocks": [block.model_copy(update={"rotation": rotation})]})


def test_a_rotation_stays_with_its_block_when_the_class_is_written_anew() -> None:
    plan = rotated(read("apart marit, ines"))
    again = with_ids_of(read_class(text_of(plan, KNOWN), KNOWN, plan), plan)
    assert again == plan
    fewer = text_of(plan, KNOWN).replace("plank 2 x 30 s\n", "")
    shorter = with_ids_of(read_class(fewer, KNOWN, plan), plan)
    assert legs(shorter).rotation == legs(plan).rotation
    assert len(legs(shorter).groups) == 2


def test_the_history_tells_of_wishes_and_rotations() -> None:
    plan = read("together marit, tobin")
    other = rotated(read("apart marit, ines", "sets, within 1800"))
    other = other.model_copy(update={"blocks": [legs(other).model_copy(update={"id": legs(plan).id})]})
    told = differences(plan, other, KNOWN)
    assert "no longer: together marit, tobin" in told
    assert "new: apart marit, ines" in told
    assert any("within 1800" in item for item in told)
    assert "Legs: another rotation" in told
    assert "Legs: rotation taken out" in differences(other, plan, KNOWN)


def test_levels_decide_who_does_something_else() -> None:
    people = [person(1, level="beginner"), person(2), person(3, level="advanced")]
    document = class_document(
        sets(group(1, 0, {"exercise": "hack-squat", "reps": 10})),
        people=people,
        room=room(),
        instead=[
            {"exercise": "hack-squat", "other": "leg-press", "level": "beginner"},
            {"exercise": "hack-squat", "other": "wall-sit", "people": ["p3"]},
        ],
    )
    file = read_file(document)
    wishes = file.plan.wishes()
    assert [wishes.does("hack-squat", who) for who in file.participants] == ["leg-press", "hack-squat", "wall-sit"]
    assert wishes.does("plank", file.participants[0]) == "plank"
