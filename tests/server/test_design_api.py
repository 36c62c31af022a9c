"""The design screen's tools over HTTP: text, fitting, levels, changes, own entries, history, files of older versions."""

from __future__ import annotations

import copy
import json
from collections.abc import Callable
from typing import Any

import pytest
from jsonschema import Draft202012Validator
from oaken.domain.catalogue import catalogue
from oaken.forecast.report import Forecast
from oaken.plan.notation.shipped import cheat_sheet, templates
from oaken.plan.older_versions import upgraded
from places import ROOT
from planning.models import PlannedClass, Revision
from studio.models import OwnEntry, Studio

Send = Callable[..., tuple[int, Any]]
pytestmark = pytest.mark.usefixtures("demo")


def planned(send: Send, name: str) -> dict[str, Any]:
    """A class of the demo as the API gives it."""
    _, listed = send("GET", "/api/classes")
    found = next(item for item in listed if item["name"].startswith(name))
    return send("GET", f"/api/classes/{found['id']}")[1]


def own(**fields: Any) -> dict[str, Any]:
    """An exercise of one's own."""
    like = catalogue().exercises["leg-press"].model_dump(mode="json", exclude_none=True)
    return {**like, "id": "mill-press", "name": "Mill press", "aliases": [], **fields}


def test_a_class_goes_to_text_and_back_with_its_ids(send: Send) -> None:
    for name in ("Scree", "Machine", "Stretcher"):
        plan = planned(send, name)["plan"]
        status, written = send("POST", "/api/text/write", {"plan": plan})
        assert status == 200
        status, read = send("POST", "/api/text/read", {"text": written["text"], "plan": plan})
        assert status == 200
        assert read["plan"] == plan


def test_a_faulty_text_is_told_at_its_words_and_keeps_nothing(send: Send) -> None:
    plan = planned(send, "Machine")["plan"]
    revisions = Revision.objects.count()
    text = "block Legs: sets\nleg pres 3 x 10\nleg press 0 x 12, rest -5"
    status, answer = send("POST", "/api/text/read", {"text": text, "plan": plan})
    assert status == 422
    found = [(item["line"], item["word"]) for item in answer["text_faults"]]
    assert found == [(2, "leg pres"), (3, "0")]
    assert "leg press" in answer["text_faults"][0]["proposals"]
    assert Revision.objects.count() == revisions


@pytest.mark.parametrize(
    ("kind", "line", "part"),
    [
        ("slot", "leg press 4 x 12, 3-1-1, rest 60", {"exercise": "leg-press"}),
        ("station", "leg press @50%", {"exercise": "leg-press", "note": ""}),
        ("leg", "kettlebell swing 8 turns of 12", {"turns": 8}),
    ],
)
def test_one_line_is_read_as_what_it_is_for(send: Send, kind: str, line: str, part: dict[str, Any]) -> None:
    status, read = send("POST", "/api/text/line", {"line": line, "kind": kind})
    assert status == 200
    assert {name: read["part"][name] for name in part} == part
    assert read["notices"] == []
    status, answer = send("POST", "/api/text/line", {"line": f"{line} oops", "kind": kind})
    assert status == 422
    assert answer["text_faults"][0]["word"] == "oops"


def test_what_a_word_was_read_as_is_told(send: Send) -> None:
    status, read = send("POST", "/api/text/line", {"line": "hacksquat 3x10 @135 lb", "kind": "slot"})
    assert status == 200
    assert [(item["word"], item["message"]) for item in read["notices"]] == [("135", "135 lb are 61.2 kg")]
    plan = planned(send, "Machine")["plan"]
    text = "taken no-such-unit\nblock A: sets\nleg press 3 x 10"
    status, answer = send("POST", "/api/text/read", {"text": text, "plan": plan})
    assert status == 422
    assert [(item["line"], item["word"]) for item in answer["text_faults"]] == [(1, "no-such-unit")]


@pytest.mark.parametrize("manner", ["stations", "pairs", "straight sets", "partners"])
def test_a_first_class_uses_the_room_and_the_slot(send: Send, manner: str) -> None:
    plan = planned(send, "Machine")["plan"]
    wanted = {"room": plan["room"], "people": plan["people"], "slot_min": 45, "manner": manner, "name": "Mine"}
    status, made = send("POST", "/api/first-class", wanted)
    assert status == 200
    status, told = send("POST", "/api/forecast", {"plan": made["plan"]})
    assert status == 200
    assert 0.75 * 2700 <= told["length"]["value"] <= 2700
    assert [block["purpose"] for block in made["plan"]["blocks"]][::2] == ["warm_up", "cool_down"]
    assert all(block["breathers"] == 0 for block in told["blocks"])
    status, answer = send("POST", "/api/first-class", {**wanted, "people": ["nobody"]})
    assert status == 422
    assert "nobody" in answer["faults"][0]["message"]


def test_what_moves_a_figure_most_is_told_of_the_class_and_of_a_person(send: Send) -> None:
    plan = planned(send, "Machine")["plan"]
    status, found = send("POST", "/api/levers", {"plan": plan, "figure": "energy"})
    assert (status, found[0]["input"]) == (200, "what the work costs")
    assert found[0]["at_low"] < found[0]["at_high"]
    status, own = send("POST", "/api/levers", {"plan": plan, "figure": "heart_mean", "person": plan["people"][0]})
    assert status == 200
    assert 1 <= len(own) <= 3
    status, answer = send("POST", "/api/levers", {"plan": plan, "figure": "mood"})
    assert status == 422
    assert "no figure 'mood'" in answer["faults"][0]["message"]


def test_fit_levels_and_changes_give_plans_that_can_be_saved(send: Send) -> None:
    found = planned(send, "Machine")
    plan = {**found["plan"], "slot_min": 50}
    status, fitting = send("POST", "/api/fit", {"plan": plan})
    assert (status, fitting["state"]) == (200, "over")
    best = fitting["proposals"][0]
    assert best["reached"]
    status, level = send("POST", "/api/levels", {"plan": plan, "level": "beginner"})
    assert status == 200
    assert level["rules"]
    _, result = send("POST", "/api/forecast", {"plan": plan})
    clash = {**plan, "blocks": copy.deepcopy(plan["blocks"])}
    clash["blocks"][1]["groups"][0]["slots"][1]["exercise"] = "seated-leg-curl"
    _, result = send("POST", "/api/forecast", {"plan": clash})
    caution = next(item for item in result["cautions"] if item["severity"] == "clash")
    status, changed = send("POST", "/api/changes", {"plan": clash, "change": caution["fix"]["change"]})
    assert status == 200
    assert changed["plan"]["blocks"][1]["groups"][0]["slots"][1]["exercise"] == "lying-leg-curl"
    for item in (best["plan"], level["plan"], changed["plan"]):
        status, saved = send("POST", "/api/classes", {"plan": item})
        assert status == 201
        assert saved["plan"]["blocks"] == item["blocks"]


def test_the_forecast_that_is_written_out_at_once_has_the_published_shape(send: Send) -> None:
    """It is sent without being checked again, so it is checked here: for every class of the demo, field by field."""
    schema = json.loads((ROOT / "docs" / "openapi.json").read_text(encoding="utf-8"))
    validator = Draft202012Validator({"$ref": "#/components/schemas/Forecast", "components": schema["components"]})
    for name in ("Scree", "Machine", "Stretcher", "Long carry"):
        status, answer = send("POST", "/api/forecast", {"plan": planned(send, name)["plan"]})
        assert status == 200
        faults = [
            f"{name}: {'/'.join(map(str, fault.path))}: {fault.message}" for fault in validator.iter_errors(answer)
        ]
        assert faults == []
        assert Forecast.model_validate(answer).model_dump(mode="json") == answer


def test_history_tells_what_changed_and_gives_back_every_revision(send: Send) -> None:
    found = planned(send, "Machine")
    path = f"/api/classes/{found['id']}"
    plan = copy.deepcopy(found["plan"])
    plan["blocks"][1]["groups"][0]["slots"][0]["sets"][0]["times"] = 4
    assert send("PUT", path, {"based_on": 1, "plan": plan})[0] == 200
    status, history = send("GET", f"{path}/history")
    assert status == 200
    assert [step["revision"] for step in history] == [2, 1]
    assert history[0]["changes"] == ["Machine pairs: leg press 3 x 10, @70%, 3-0-1 → leg press 4 x 10, @70%, 3-0-1"]
    assert history[1]["changes"] == ["first saved"]
    assert send("GET", f"{path}/revisions/1")[1]["plan"] == found["plan"]
    assert send("GET", f"{path}/revisions/9")[0] == 404
    status, compared = send("POST", "/api/compare", {"before": found["plan"], "after": plan})
    assert compared["changes"] == history[0]["changes"]


def test_own_exercises_and_equipment_are_used_like_the_shipped_ones(send: Send) -> None:
    kind = {
        "id": "timber-sledge",
        "name": "Timber sledge",
        "set_up_s": 20,
        "load_change_s": 15,
        "holds": "plates",
        "step_kg": 5,
    }
    assert send("PUT", "/api/catalogue/equipment", kind)[0] == 200
    status, kept = send("PUT", "/api/catalogue/exercises", own(equipment="timber-sledge"))
    assert (status, kept["name"]) == (200, "Mill press")
    _, known = send("GET", "/api/catalogue")
    assert (known["own"], known["own_equipment"]) == (["mill-press"], ["timber-sledge"])
    status, detail = send("GET", "/api/catalogue/exercises/mill-press")
    assert status == 200
    assert detail["derivation"]["work_met"] > 5
    assert "belt-squat" in detail["substitutes"]
    status, read = send("POST", "/api/text/line", {"line": "mill press 3 x 10", "kind": "slot"})
    assert (status, read["part"]["exercise"]) == (200, "mill-press")
    # a class that uses it is saved, exported as a file of its own, and protects it
    plan = planned(send, "Machine")["plan"]
    plan["blocks"][1]["groups"][0]["slots"][0]["exercise"] = "mill-press"
    _, saved = send("POST", "/api/classes", {"plan": plan})
    _, file = send("GET", f"/api/classes/{saved['id']}/file")
    assert [item["id"] for item in file["own"]["exercises"]] == ["mill-press"]
    assert send("POST", "/api/classes/import", {"document": file})[0] == 201
    status, answer = send("DELETE", "/api/own/exercises/mill-press")
    assert (status, answer) == (200, {"outcome": "retired", "named_by": [f"the class {plan['name']}"]})
    status, answer = send("DELETE", "/api/own/equipment/timber-sledge")
    assert (status, answer) == (200, {"outcome": "retired", "named_by": ["Mill press"]})


@pytest.mark.parametrize(
    ("fields", "field", "words"),
    [
        ({"id": "leg-press"}, "id", "shipped catalogue"),
        ({"name": "Press 45"}, "name", "no digits"),
        ({"name": "Hack squat"}, "name", "does not fit"),
        ({"equipment": "moon"}, "equipment", "does not fit"),
        ({"displacement_m": 5}, "displacement_m", "too large"),
        ({"colour": "green"}, "colour", "not a field"),
    ],
)
def test_a_faulty_own_exercise_is_refused_at_its_field(
    send: Send, fields: dict[str, Any], field: str, words: str
) -> None:
    status, answer = send("PUT", "/api/catalogue/exercises", own(**fields))
    assert status == 422
    assert any(item["field"] == field and words in item["message"] for item in answer["faults"]), answer
    assert OwnEntry.objects.count() == 0


def test_own_entries_that_nothing_uses_can_be_taken_out(send: Send) -> None:
    send("PUT", "/api/catalogue/exercises", own())
    assert send("DELETE", "/api/own/exercises/mill-press")[1] == {"outcome": "deleted", "named_by": []}
    assert OwnEntry.objects.count() == 0
    assert send("DELETE", "/api/own/exercises/leg-press")[0] == 422


def test_a_file_of_the_first_version_is_taken_in_with_a_word_about_it(send: Send) -> None:
    old = json.loads((ROOT / "tests" / "core" / "older" / "machine-pairs-1.json").read_text(encoding="utf-8"))
    for part, name in (("room", "alder-mill"), ("people", "hill-team")):
        old[part] = json.loads((ROOT / "examples" / f"{name}.json").read_text(encoding="utf-8"))
    status, answer = send("POST", "/api/classes/import", {"document": old})
    assert status == 201
    assert "older version (oaken-class/1)" in answer["notes"][0]
    assert answer["made"]["plan"]["blocks"] == planned(send, "Machine")["plan"]["blocks"]
    old["plan"]["blocks"][1]["groups"][0]["rounds"] = 0
    classes = PlannedClass.objects.count()
    status, answer = send("POST", "/api/classes/import", {"document": old})
    assert status == 422
    assert answer["faults"][0]["place"].startswith("block 2 “Machine pairs”, group 1")
    status, answer = send("POST", "/api/classes/import", {"document": {"format": "oaken-class/9"}})
    assert (status, answer["faults"][0]["field"]) == (422, "format")
    assert PlannedClass.objects.count() == classes


def test_revisions_and_drafts_of_the_first_version_still_open(send: Send) -> None:
    old = json.loads((ROOT / "tests" / "core" / "older" / "machine-pairs-1.json").read_text(encoding="utf-8"))["plan"]
    kept = PlannedClass.objects.create(studio=Studio.objects.get())
    Revision.objects.create(
        planned_class=kept, number=1, document=old, length_s=1, kcal_each=1, outline=[]
    )  # as the first version wrote it: without a format
    status, found = send("GET", f"/api/classes/{kept.pk}")
    assert status == 200
    assert found["plan"]["blocks"][1]["groups"][0]["slots"][0]["sets"][0]["times"] == 3
    status, draft = send("POST", "/api/upgrade", {"plan": old})
    assert (status, draft["plan"]) == (200, found["plan"])
    assert upgraded({"blocks": "none"}) == {"blocks": "none"}
    status, answer = send("POST", "/api/upgrade", {"plan": {"blocks": []}})
    assert status == 422
    assert any(item["field"] == "name" for item in answer["faults"])


def test_the_cheat_sheet_and_the_templates_are_the_cores_own(send: Send) -> None:
    assert send("GET", "/api/cheat-sheet")[1] == cheat_sheet().model_dump(mode="json")
    _, listed = send("GET", "/api/templates")
    assert [item["id"] for item in listed] == [template.id for template in templates()]
    plan = planned(send, "Machine")["plan"]
    for item in listed:
        grown = {**plan, "blocks": [plan["blocks"][0], {**item["block"], "id": "", "name": item["name"]}]}
        assert send("POST", "/api/forecast", {"plan": _without_ids(grown)})[0] == 200, item["id"]


def _without_ids(value: Any) -> Any:
    if isinstance(value, dict):
        return {key: _without_ids(inner) for key, inner in value.items() if key != "id"}
    return [_without_ids(item) for item in value] if isinstance(value, list) else value


def test_a_figure_is_aimed_at(send: Send) -> None:
    plan = send("GET", f"/api/classes/{PlannedClass.objects.get(key='stretcher-legs').pk}")[1]["plan"]
    body = {"plan": plan, "aimed": {"figure": "work_share", "value": 50}, "limits": [{"figure": "length", "want": "at_most", "value": 3600}]}  # fmt: skip
    status, told = send("POST", "/api/aim", body)
    assert status == 200
    best = told["proposals"][0]
    assert best["reached"]
    after = send("POST", "/api/forecast", {"plan": best["plan"]})[1]
    assert after["figures"]["work_share"]["value"] == pytest.approx(best["value"], abs=0.1)
    wrong = {**body, "aimed": {"figure": "work_share", "value": 50, "person": "nobody"}}
    status, told = send("POST", "/api/aim", wrong)
    assert (status, told["faults"][0]["right"]) == (422, "somebody of the class")


def test_the_same_class_in_other_circumstances(send: Send) -> None:
    plan = planned(send, "Machine")["plan"]
    status, told = send("POST", "/api/scenarios", {"plan": plan})
    assert status == 200
    assert told["slot_s"] == plan["slot_min"] * 60
    assert len(told["sides"]) == 6
    _, forecast = send("POST", "/api/forecast", {"plan": plan})
    assert told["sides"][0]["length_s"] == forecast["length"]["value"]
