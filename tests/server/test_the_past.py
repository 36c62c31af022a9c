"""What was held stays as it was: whatever changes, or is taken out, later."""

from __future__ import annotations

import copy
import json
from collections.abc import Callable
from typing import Any

import pytest
from logbook import runs
from logbook.models import Recording, Run
from oaken.basis.faults import FaultyInput
from oaken.forecast import forecast
from people.models import Person
from planning.models import PlannedClass, Revision
from studio.models import MachineUnit, OwnEntry, Room, Studio

Send = Callable[..., Any]

OWN = {
    "id": "mill-press", "name": "Mill press", "equipment": "leg-press", "pattern": "squat", "prime": ["quadriceps"],
    "helping": [], "sides": "two_sided", "nature": "resistance", "muscle_mass": "two_leg_compound",
    "activity": "02052", "tempo": [2, 0, 1, 0], "displacement_m": 0.4, "body_mass_share": 0, "takes_load": True,
}  # fmt: skip


def plan_of(key: str = "machine-pairs") -> dict[str, Any]:
    document: dict[str, Any] = copy.deepcopy(PlannedClass.objects.get(key=key).revisions.latest("number").document)
    return document


def with_own(send: Send) -> dict[str, Any]:
    """A class whose first revision names an own exercise and whose second does not."""
    assert send("PUT", "/api/catalogue/exercises", OWN)[0] == 200
    plan = plan_of()
    plan["blocks"][1]["groups"][0]["slots"][0]["exercise"] = "mill-press"
    _, saved = send("POST", "/api/classes", {"plan": plan})
    status, _ = send("PUT", f"/api/classes/{saved['id']}", {"based_on": 1, "plan": plan_of()})
    assert status == 200
    return saved


def test_a_class_that_was_held_is_not_computed_from_todays_room_and_people(send: Send) -> None:
    """Recordings, calibration and the kept file are the same to the last digit, whatever happens to the studio."""
    run = Run.objects.get(saved_as__planned_class__key="machine-pairs")
    file, told = runs.file_of(run), forecast(runs.file_of(run))
    _, recordings = send("GET", "/api/people/davin/recordings")
    _, fitted = send("POST", "/api/people/davin/calibration", {"use": False})
    Person.objects.exclude(key="davin").update(body_mass_kg=140, level="beginner")
    for person in Person.objects.all():
        person.lifts.update(best_kg=33)
    MachineUnit.objects.update(out_of_order=True, set_up_s=250, x_m=0)
    Studio.objects.update(house_rules=[])
    Room.objects.filter(key="saw-floor").update(name="Another room", width_m=3)
    again = Run.objects.get(pk=run.pk)
    assert runs.file_of(again) == file
    assert forecast(runs.file_of(again)) == told
    assert send("GET", "/api/people/davin/recordings")[1] == recordings
    assert send("POST", "/api/people/davin/calibration", {"use": False})[1] == fitted
    assert again.saved_as == Revision.objects.get(planned_class__key="machine-pairs", number=1)


def test_an_exercise_that_only_an_older_revision_names_is_retired_and_history_answers(send: Send) -> None:
    saved = with_own(send)
    status, answer = send("DELETE", "/api/own/exercises/mill-press")
    assert (status, answer["outcome"]) == (200, "retired")
    assert answer["named_by"] == [f"the class {plan_of()['name']}"]
    status, history = send("GET", f"/api/classes/{saved['id']}/history")
    assert status == 200
    assert any("mill press" in change for change in history[0]["changes"])
    _, old = send("GET", f"/api/classes/{saved['id']}/revisions/1")
    assert send("POST", "/api/forecast", {"plan": old["plan"]})[0] == 200
    # hidden from choosing: never proposed, and still read where it is written
    _, known = send("GET", "/api/catalogue")
    assert known["retired"] == ["mill-press"]
    _, detail = send("GET", "/api/catalogue/exercises/leg-press")
    assert "mill-press" not in detail["substitutes"]
    assert send("POST", "/api/text/line", {"line": "mill press 3 x 10", "kind": "slot"})[0] == 200
    # and back
    assert send("PUT", "/api/own/exercises/mill-press/retired", {"retired": False})[0] == 204
    assert send("GET", "/api/catalogue")[1]["retired"] == []
    assert "mill-press" in send("GET", "/api/catalogue/exercises/leg-press")[1]["substitutes"]
    assert send("PUT", "/api/own/exercises/nothing/retired", {"retired": False})[0] == 422


def test_a_class_held_with_an_own_exercise_keeps_it(send: Send) -> None:
    """Everybody's recordings and calibration go on when the exercise is taken out, or changed beyond recognition."""
    saved = with_own(send)
    body = {"class_id": saved["id"], "revision": 1, "began_at": "2026-11-20T19:00:00Z"}
    assert send("POST", "/api/runs/past", body)[0] == 201
    run = Run.objects.get(saved_as__planned_class=saved["id"])
    assert send("POST", f"/api/runs/{run.pk}/simulated", {"person": "tobin"})[0] == 201
    _, before = send("GET", "/api/people/tobin/recordings")
    assert send("DELETE", "/api/own/exercises/mill-press")[1]["outcome"] == "retired"
    assert send("PUT", "/api/catalogue/exercises", {**OWN, "muscle_mass": "calf", "displacement_m": 0})[0] == 200
    OwnEntry.objects.all().delete()
    assert send("GET", "/api/people/tobin/recordings")[1] == before
    assert send("POST", "/api/people/tobin/calibration", {"use": False})[0] == 200


def test_what_a_house_rule_names_is_retired_and_the_rules_can_still_be_changed(send: Send) -> None:
    assert send("PUT", "/api/catalogue/exercises", OWN)[0] == 200
    rule = {"id": "own", "say": "two people at the mill press", "exercise": "mill-press"}
    assert send("PUT", "/api/house-rules", {"based_on": 1, "rules": [rule]})[0] == 200
    assert send("DELETE", "/api/own/exercises/mill-press")[1] == {
        "outcome": "retired",
        "named_by": ["the studio rule own"],
    }
    other = {"id": "more", "say": "collars on every bar"}
    assert send("PUT", "/api/house-rules", {"based_on": 2, "rules": [rule, other]})[0] == 200
    # an earlier version deleted what a rule names: the rule that was kept does not block the others
    OwnEntry.objects.all().delete()
    Studio.objects.update(own_state="another")
    assert (
        send("PUT", "/api/house-rules", {"based_on": 3, "rules": [rule, {**other, "say": "collars on all bars"}]})[0]
        == 200
    )
    assert send("PUT", "/api/house-rules", {"based_on": 4, "rules": [{**rule, "id": "new"}]})[0] == 422


def test_history_is_told_of_plans_that_name_what_an_earlier_version_deleted(send: Send) -> None:
    saved = with_own(send)
    OwnEntry.objects.all().delete()
    Studio.objects.update(own_state="another")
    status, history = send("GET", f"/api/classes/{saved['id']}/history")
    assert status == 200
    assert any("mill-press (no longer in the catalogue)" in change for change in history[0]["changes"])
    status, answer = send(
        "POST", "/api/forecast", {"plan": send("GET", f"/api/classes/{saved['id']}/revisions/1")[1]["plan"]}
    )
    assert status == 422
    assert "'mill-press' is not in the catalogue" in answer["faults"][0]["message"]


def test_a_class_of_which_too_little_was_kept_stands_in_nobodys_way(send: Send) -> None:
    """An earlier version may have lost the room: that recording is listed without a comparison, the others go on."""
    run = Run.objects.get(saved_as__planned_class__key="long-carry")
    Run.objects.filter(pk=run.pk).update(file=None)
    status, listed = send("GET", "/api/people/davin/recordings")
    assert status == 200
    assert [item["over"] is None for item in listed] == [False, False, True]
    assert send("POST", "/api/people/davin/calibration", {"use": False})[1]["fit"]["classes"] == 2
    with pytest.raises(FaultyInput, match="was not kept"):
        runs.file_of(Run.objects.get(pk=run.pk))


def test_erasing_reaches_into_what_was_kept_of_classes_run(send: Send) -> None:
    run = Run.objects.get(saved_as__planned_class__key="machine-pairs")
    assert run.file is not None
    before = next(item for item in run.file["people"] if item["id"] == "oskar")
    assert before["careful"]
    assert send("DELETE", "/api/people/oskar/everything")[0] == 204
    for kept in Run.objects.all():
        text = json.dumps(kept.file)
        assert "oskar" not in text.lower()
        assert before["name"] not in text
        assert kept.file is not None
        (stand_in,) = [item for item in kept.file["people"] if item["id"] == "gone-1"]
        assert stand_in == {
            "id": "gone-1", "name": "Somebody who left", "age": 40, "body_mass_kg": before["body_mass_kg"],
            "level": before["level"], "bests_kg": before["bests_kg"], "working_kg": before["working_kg"],
            "working_sets_kg": before["working_sets_kg"],
        }  # fmt: skip
        runs.file_of(kept)
    assert not Recording.objects.filter(person__key="gone-1").exists()
