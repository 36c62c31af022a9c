"""What is asked before and between sets: written, read, carried to the floor, answered, and told to whom it concerns."""

from __future__ import annotations

from datetime import UTC, datetime
from typing import Any

import pytest
from making import class_file, group, person, sets
from oaken.domain.catalogue import catalogue
from oaken.plan import Branch, Slot
from oaken.plan.notation import FaultyText, line_of, read_class, read_slot, text_of
from oaken.session import replay_events, sheets_of
from oaken.session.events import BranchDecided, event_of
from pydantic import ValidationError

KNOWN = catalogue()
HEAD = "class One\nslot 60 min\nroom room\npeople p1\n\nblock A: sets\n"
AT = datetime(2026, 3, 2, 18, 0, tzinfo=UTC)


def slots(text: str) -> list[Slot]:
    (block,) = read_class(HEAD + text, KNOWN).blocks
    return [part for part in block.parts if isinstance(part, Slot)]


def test_a_decision_stands_below_its_exercise_and_comes_back() -> None:
    text = (
        'leg press 3 x 10, @60 kg, rest 60, "if knees hurt: stop"\n'
        "  or hack squat for level beginner\n"
        "  if twelve easy: add a plate\n"
        "  if legs shaky, or sore: leg extension instead\n"
        "leg extension 3 x 12 if able, rest 60 if too light: add 5 kg\n"
    )
    press, extension = slots(text)
    assert press.note == "if knees hurt: stop"
    assert [(item.when, item.then) for item in press.decisions] == [
        ("twelve easy", "add a plate"),
        ("legs shaky, or sore", "leg extension instead"),
    ]
    assert len(press.others) == 1
    assert extension.sets[0].if_able
    assert [(item.when, item.then) for item in extension.decisions] == [("too light", "add 5 kg")]
    plan = read_class(HEAD + text, KNOWN)
    written = text_of(plan, KNOWN)
    assert "\n  if twelve easy: add a plate\n  if legs shaky, or sore: leg extension instead\n" in written
    assert text_of(read_class(written, KNOWN), KNOWN) == written
    assert read_slot(line_of(press, KNOWN), KNOWN).decisions == press.decisions


@pytest.mark.parametrize(
    ("line", "message"),
    [
        ("  if twelve easy", "what is looked at and what is done then"),
        ("  if twelve easy:", "what is looked at and what is done then"),
        (f"  if {'x' * 81}: add a plate", "at most 80 signs"),
        ("\n".join(f"  if so {number}: add a plate" for number in range(5)), "at most 4 decisions"),
    ],
)
def test_what_is_no_decision_is_told_at_its_line(line: str, message: str) -> None:
    with pytest.raises(FaultyText) as caught:
        read_class(f"{HEAD}leg press 3 x 10\n{line}\n", KNOWN)
    assert message in caught.value.faults[0].message
    assert caught.value.faults[0].line >= 8


def test_a_decision_needs_an_exercise_with_sets() -> None:
    with pytest.raises(FaultyText, match="below an exercise with sets"):
        read_class(f"{HEAD}  if twelve easy: add a plate\nleg press 3 x 10\n", KNOWN)


@pytest.mark.parametrize("when", ["", 'so "easy"', "easy: very", "if so"])
def test_words_that_could_not_be_written_are_refused(when: str) -> None:
    with pytest.raises(ValidationError):
        Branch(when=when, then="add a plate")


def test_the_sheet_carries_it_and_an_answer_changes_no_clock() -> None:
    file = class_file(sets(group(3, 60, {"exercise": "leg-press", "reps": 10})), people=[person(1, id="ada")])
    block = file.plan.blocks[0]
    slot = block.groups[0].slots[0].model_copy(update={"decisions": [Branch(when="twelve easy", then="add a plate")]})
    asked = block.model_copy(update={"groups": [block.groups[0].model_copy(update={"slots": [slot]})]})
    file = file.model_copy(update={"plan": file.plan.model_copy(update={"blocks": [asked]})})
    (part,) = sheets_of(file, replay_events(file, [], AT))[0].parts
    assert [(item.when, item.then) for item in part.decisions] == [("twelve easy", "add a plate")]
    answer: dict[str, Any] = {
        "kind": "decided", "id": "a", "happened_at": AT.isoformat(), "person": "ada", "part": slot.id, "number": 2,
        "when": "twelve easy", "then": "add a plate", "so": True,
    }  # fmt: skip
    began = event_of({"kind": "began", "id": "b", "happened_at": AT.isoformat()})
    told = event_of(answer)
    assert isinstance(told, BranchDecided)
    assert replay_events(file, [began, told], AT).second == replay_events(file, [began], AT).second
    with pytest.raises(ValidationError):
        event_of({**answer, "when": ""})
