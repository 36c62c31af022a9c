"""Own entries in a file, what a text may leave out, and which parts keep their ids when a class is written anew."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

import pytest
from making import class_document, group, person, room, sets
from oaken.__main__ import main
from oaken.basis.faults import FaultyInput
from oaken.domain.catalogue import catalogue
from oaken.forecast import forecast
from oaken.plan import ClassPlan, SetsBlock
from oaken.plan.keep_ids import with_ids_of
from oaken.plan.notation import FaultyText, read_class, text_of
from oaken.schedule.class_file import read_class as read_file
from places import ROOT

KNOWN = catalogue()
SLEDGE = {
    "id": "timber-sledge",
    "name": "Timber sledge",
    "set_up_s": 40,
    "load_change_s": 25,
    "holds": "plates",
    "step_kg": 5,
}


def dragging(**fields: Any) -> dict[str, Any]:
    like = KNOWN.exercises["sled-push"].model_dump(mode="json", exclude_none=True)
    return {**like, "id": "timber-drag", "name": "Timber drag", "equipment": "timber-sledge", "easier": [], **fields}


def own_class(**own: Any) -> dict[str, Any]:
    where = room({"leg-press": 1})
    where["units"].append({"id": "sledge", "kind": "timber-sledge", "name": "Sledge"})
    block = sets(group(2, 30, {"exercise": "timber-drag", "reps": 10, "load": {"load_kg": 60}}))
    return {**class_document(block, room=where), "own": {"exercises": [dragging()], "equipment": [SLEDGE], **own}}


# ---- own entries --------------------------------------------------------------------------------------------------


def test_own_entries_are_computed_with_like_the_shipped_ones() -> None:
    result = forecast(read_file(own_class()))
    # set-up 40, load 25, two sets of 10 × 2 s, 30 s of rest between
    assert result.length.value == pytest.approx(40 + 25 + 2 * 20 + 30)
    assert result.slots[0].line == "timber drag 2 x 10, @60 kg, rest 30"
    assert result.slots[0].equipment_name == "Timber sledge"
    assert result.slots[0].places == 1
    assert not [caution for caution in result.cautions if caution.severity == "clash"]


def test_a_file_whose_own_entries_are_shipped_now_is_read_and_means_its_own() -> None:
    plain = read_file(own_class())
    same = read_file(own_class(exercises=[dragging(), dragging(id="leg-press", name="Log press")]))
    assert same.catalogue().exercises["leg-press"].name == "Log press"
    assert same.catalogue().exercises["shipped--leg-press"].name == "Leg press"
    named = read_file(own_class(exercises=[dragging(name="Hip thrust")]))
    assert named.catalogue().spoken.meaning("hip thrust").exercise == "timber-drag"
    assert named.catalogue().exercises["hip-thrust"].name == "Catalogue hip thrust"
    assert plain.catalogue().exercises["hip-thrust"].name == "Hip thrust"


@pytest.mark.parametrize(
    ("own", "words"),
    [
        ({"equipment": []}, "does not fit the catalogue"),
        ({"exercises": [dragging(), dragging()]}, "stands twice"),
        ({"exercises": [dragging(), dragging(id="other-drag")]}, "has this one"),
        ({"exercises": []}, "'timber-drag' is not in the catalogue"),
    ],
)
def test_own_entries_that_contradict_the_catalogue_are_refused(own: dict[str, Any], words: str) -> None:
    with pytest.raises(FaultyInput) as caught:
        read_file(own_class(**own))
    assert words in str(caught.value)


def test_a_file_of_the_first_version_runs_at_the_command_line(
    tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    old = json.loads((ROOT / "tests" / "core" / "older" / "machine-pairs-1.json").read_text(encoding="utf-8"))
    for part, name in (("room", "alder-mill"), ("people", "hill-team")):
        old[part] = {"$ref": f"{name}.json"}
        (tmp_path / f"{name}.json").write_text((ROOT / "examples" / f"{name}.json").read_text(encoding="utf-8"))
    (tmp_path / "old.json").write_text(json.dumps(old), encoding="utf-8")
    assert main(["forecast", str(tmp_path / "old.json"), "--table"]) == 0
    assert "57:37" in capsys.readouterr().out


# ---- what a text may leave out ------------------------------------------------------------------------------------

TEXT = "class Legs\nslot 45 min\nroom room\npeople p1, p2\n\nblock Work: sets, then 30\nleg press 3 x 10, rest 60\n"


def plan_of(text: str, defaults: ClassPlan | None = None) -> ClassPlan:
    return read_class(text, KNOWN, defaults)


def test_what_the_head_leaves_out_comes_from_the_class_at_hand() -> None:
    before = plan_of(TEXT.replace("room room", "room room\naim strength\nchoose rest: short\nnote one\nnote two"))
    after = plan_of("slot 50 min\nblock Work: sets\nplank 3 x 30 s", before)
    assert (after.name, after.slot_min, after.people) == ("Legs", 50, ["p1", "p2"])
    assert (after.aim, after.choices, after.note) == ("strength", {"rest": "short"}, "one\ntwo")
    again = plan_of("choose calves: first\nnote three\nblock Work: sets\nplank 3 x 30 s", before)
    assert (again.choices, again.note) == ({"calves": "first"}, "three")


@pytest.mark.parametrize(
    "written",
    [
        TEXT.replace("\n", "\r\n"),
        TEXT.replace("\n\n", "\n\n\n   \n"),
        TEXT.replace("leg press", "   Leg   Press"),
        TEXT.replace("block Work: sets", "Block Work:  sets"),
        TEXT.replace("people p1, p2", "people p1,p2,"),
        TEXT.replace("slot 45 min", "slot 45"),
        TEXT.rstrip("\n"),
    ],
)
def test_spaces_cases_and_line_ends_do_not_matter(written: str) -> None:
    assert text_of(plan_of(written), KNOWN) == TEXT


@pytest.mark.parametrize(
    ("line", "again"),
    [("slot 45 min", "slot 50 min"), ("class Legs", "class Arms"), ("people p1, p2", "people p3")],
)
def test_a_head_that_contradicts_itself_is_told(line: str, again: str) -> None:
    with pytest.raises(FaultyText, match="stands twice"):
        plan_of(TEXT.replace(line, f"{line}\n{again}"))


def test_names_with_a_colon_or_a_comma_come_back() -> None:
    text = TEXT.replace("class Legs", "class Legs, part two: heavy").replace(
        "block Work:", "block Work, then rest: pairs:"
    )
    assert text_of(plan_of(text), KNOWN) == text


# ---- ids ----------------------------------------------------------------------------------------------------------


def ids(plan: ClassPlan) -> list[str]:
    return [slot.id for block in plan.blocks if isinstance(block, SetsBlock) for g in block.groups for slot in g.slots]


def test_parts_keep_their_ids_when_a_class_is_written_anew() -> None:
    before = plan_of(TEXT + "+ plank 3 x 30 s\nleg press 2 x 8\nblock More: sets, then 30\nhip thrust 3 x 10\n")
    text = text_of(before, KNOWN)

    def after(*changes: tuple[str, str]) -> ClassPlan:
        changed = text
        for was, now in changes:
            assert was in changed
            changed = changed.replace(was, now)
        return with_ids_of(plan_of(changed, before), before)

    assert ids(after()) == ids(before)
    # another dose, another name, another order of blocks: the ids follow
    assert ids(after(("3 x 10, rest 60", "4 x 6, rest 90"))) == ids(before)
    renamed = after(("block Work:", "block Heavy work:"))
    assert [block.id for block in renamed.blocks] == [block.id for block in before.blocks]
    first, second = text.split("block More")
    head, work = first.split("block Work")
    turned = with_ids_of(plan_of(f"{head}block More{second}\nblock Work{work}", before), before)
    assert [block.id for block in turned.blocks] == [block.id for block in before.blocks][::-1]
    # the second leg press keeps the second's id; what is new gets one that nothing had
    one, two, three, thrust = ids(before)
    grown = after(("hip thrust 3 x 10", "hip thrust 3 x 10\nlying leg curl 3 x 10"))
    assert ids(grown)[:4] == [one, two, three, thrust]
    assert ids(grown)[4] not in {part.id for part in before.parts()}
    gone = after(("+ plank 3 x 30 s\n", ""))
    assert ids(gone) == [one, three, thrust]


def test_people_of_other_tests_are_not_needed() -> None:
    """A text names people by id; whether they exist is told when the class is put together with its people."""
    plan = plan_of(TEXT.replace("p1, p2", "p1, nobody"))
    document = {"format": "oaken-class/2", "plan": plan.model_dump(mode="json"), "room": room(), "people": [person(1)]}
    with pytest.raises(FaultyInput, match="nobody has the id 'nobody'"):
        read_file(document)
