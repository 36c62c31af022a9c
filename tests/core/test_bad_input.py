"""Bad input gets an error that says where, what, and what would be right."""

import json
from pathlib import Path
from typing import Any

import pytest
from making import circuit, class_document, group, person, sets
from oaken.basis.faults import FaultyInput
from oaken.schedule.class_file import read_class

Break = tuple[list[str | int], Any]


def broken(path: list[str | int], value: Any) -> dict[str, Any]:
    document = class_document(
        circuit(["leg-press", "plank"]), sets(group(2, 30, {"exercise": "leg-extension", "reps": 10}))
    )
    here: Any = document
    for step in path[:-1]:
        here = here[step]
    here[path[-1]] = value
    return document


@pytest.mark.parametrize(
    ("path", "value", "place", "field", "words"),
    [
        (["plan", "blocks", 0, "rounds"], 0, "block 1 “Stations”", "rounds", "at least 1"),
        (["plan", "blocks", 0, "work_s"], -40, "block 1 “Stations”", "work_s", "at least 5"),
        (["plan", "blocks", 0, "round_rest_s"], -1, "block 1 “Stations”", "round_rest_s", "at least 0"),
        (["plan", "blocks", 0, "stations", 1, "exercise"], "plonk", "block 1 “Stations”, station 2", "exercise", "plank"),
        (["plan", "blocks", 0, "stations"], [], "block 1 “Stations”", "stations", "at least 1"),
        (["plan", "blocks", 0, "kind"], "carousel", "block 1 “Stations”", "kind", "circuit"),
        (["plan", "blocks", 1, "groups", 0, "slots", 0, "sets", 0, "segments", 0, "reps"], 10_000, "block 2 “Sets”, group 1, slot 1", "reps", "at most 200"),
        (["plan", "blocks", 1, "groups", 0, "slots", 0, "sets", 0, "segments", 0, "seconds"], 30, "block 2 “Sets”, group 1, slot 1", "segments", "exactly one"),
        (["plan", "people"], ["p1", "nobody"], "person 2", "people", "nobody"),
        (["plan", "people"], ["p1", "p1"], "person 2", "people", "twice"),
        (["plan", "room"], "attic", "the plan", "room", "attic"),
        (["plan", "colour"], "green", "plan", "colour", "not a field"),
        (["format"], "oaken-class/9", "the file", "format", "bring this installation up to date"),
        (["people", 0, "age"], 4, "person 1 “Person 1”", "age", "at least 12"),
        (["people", 0, "max_bpm"], 95, "person 1 “Person 1”", "max_bpm", "at least 110"),
    ],
)  # fmt: skip
def test_the_error_names_place_field_and_remedy(
    path: list[str | int], value: Any, place: str, field: str, words: str
) -> None:
    with pytest.raises(FaultyInput) as caught:
        read_class(broken(path, value))
    (fault,) = caught.value.faults
    assert fault.place == place
    assert fault.field == field
    assert words in f"{fault.message} {fault.right}"


def test_every_fault_is_told_at_once() -> None:
    document = broken(["plan", "blocks", 0, "rounds"], 0)
    document["plan"]["slot_min"] = 1
    with pytest.raises(FaultyInput) as caught:
        read_class(document)
    assert {fault.field for fault in caught.value.faults} == {"rounds", "slot_min"}


def test_two_parts_cannot_have_one_id() -> None:
    document = class_document(circuit(["leg-press"], id="a"), circuit(["plank"], id="a"))
    with pytest.raises(FaultyInput, match="'a' stands 2 times"):
        read_class(document)


def test_a_resting_rate_above_the_maximum_is_refused() -> None:
    document = class_document(circuit(["leg-press"]), people=[person(resting_bpm=100, max_bpm=130)])
    with pytest.raises(FaultyInput, match="40 bpm above"):
        read_class(document)


@pytest.mark.parametrize("document", [None, [], "class", 7, {}])
def test_what_is_no_class_at_all_is_refused(document: Any) -> None:
    with pytest.raises(FaultyInput):
        read_class(document)


def test_missing_ids_are_filled_in_and_kept_apart() -> None:
    plan = read_class(class_document(circuit(["leg-press", "plank"], id="part-1"), circuit(["plank"]))).plan
    ids = [part.id for block in plan.blocks for part in (block, *block.stations)]
    assert len(set(ids)) == len(ids) == 5
    assert all(ids)


def test_the_published_schema_agrees_with_the_code(example: Path) -> None:
    from jsonschema import Draft202012Validator
    from oaken.schedule.class_file import json_schema
    from oaken.schedule.class_file.reading import load_class

    validator = Draft202012Validator(json_schema())
    good = json.loads(load_class(example).model_dump_json())
    assert list(validator.iter_errors(good)) == []
    as_it_stands = json.loads(example.read_text(encoding="utf-8"))
    assert list(validator.iter_errors(as_it_stands)) == []
    assert list(validator.iter_errors(broken(["plan", "blocks", 0, "rounds"], 0)))
