"""Every endpoint: what it gives, what it refuses, and that a refusal keeps nothing."""

from __future__ import annotations

import json
from collections.abc import Callable
from pathlib import Path
from typing import Any

import pytest
from django.core.management import call_command
from django.test import Client
from oaken.domain.catalogue import catalogue
from oaken.forecast import forecast
from oaken.schedule.class_file import read_class
from oaken.schedule.class_file.reading import load_class
from people.models import Person
from places import EXAMPLES, ROOT
from planning.models import PlannedClass, Revision
from studio.models import MachineUnit, Room

Send = Callable[..., tuple[int, Any]]
pytestmark = pytest.mark.usefixtures("demo")


@pytest.fixture
def first(send: Send) -> dict[str, Any]:
    """The class that was saved last, as the API gives it."""
    _, listed = send("GET", "/api/classes")
    status, found = send("GET", f"/api/classes/{listed[0]['id']}")
    assert status == 200
    return found


def test_the_list_shows_each_class_as_forecast_when_it_was_saved(send: Send) -> None:
    status, listed = send("GET", "/api/classes")
    assert status == 200
    assert [item["name"] for item in listed] == [
        "Stretcher legs, week 3",
        "Machine pairs, heavy week",
        "Scree and stairs",
        "Long carry, week 5",
    ]
    for item in listed:
        assert (item["revision"], item["people"]) == (1, 8 if item["name"].startswith("Long") else 12)
        assert item["outline"][-1]["end_s"] == pytest.approx(item["length_s"], abs=0.5)
        assert item["kcal_each"] > 100


def test_rooms_people_catalogue_and_methods_are_the_cores_own(send: Send) -> None:
    example = load_class(ROOT / "examples" / "stretcher-legs.json")
    _, rooms = send("GET", "/api/rooms")
    assert rooms == [{**example.room.model_dump(mode="json"), "retired": False}]
    _, people = send("GET", "/api/people")
    written_down_since = ("careful", "screening", "heart_fit")
    here, there = (
        {item["id"]: {name: value for name, value in item.items() if name not in written_down_since} for item in group}
        for group in (people, [person.model_dump(mode="json") for person in example.people])
    )
    assert here == there
    _, known = send("GET", "/api/catalogue")
    assert {item["id"] for item in known["exercises"]} == set(catalogue().exercises)
    _, methods = send("GET", "/api/methods")
    assert all(method["formula"] and method["source"] and method["range"] for method in methods)


@pytest.mark.parametrize("name", EXAMPLES)
def test_a_draft_is_forecast_as_on_the_command_line(name: str, send: Send) -> None:
    planned = PlannedClass.objects.get(key=name)
    _, document = send("GET", f"/api/classes/{planned.pk}/file")
    status, result = send("POST", "/api/forecast", {"plan": document["plan"]})
    assert status == 200
    assert result == json.loads(forecast(read_class(document)).model_dump_json())


def test_forecasting_keeps_nothing(send: Send, first: dict[str, Any]) -> None:
    before = Revision.objects.count()
    first["plan"]["blocks"][1]["work_s"] = 55
    assert send("POST", "/api/forecast", {"plan": first["plan"]})[0] == 200
    assert Revision.objects.count() == before


def test_saving_makes_the_next_revision_and_leaves_the_old_one(send: Send, first: dict[str, Any]) -> None:
    first["plan"]["blocks"][1]["work_s"] = 45
    status, saved = send("PUT", f"/api/classes/{first['id']}", {"based_on": 1, "plan": first["plan"]})
    assert (status, saved["revision"]) == (200, 2)
    _, again = send("GET", f"/api/classes/{first['id']}")
    assert again["plan"]["blocks"][1]["work_s"] == 45
    kept = Revision.objects.get(planned_class_id=first["id"], number=1)
    assert kept.document["blocks"][1]["work_s"] == 40
    with pytest.raises(TypeError, match="immutable"):
        kept.save()


def test_a_stale_save_gets_409_with_the_newer_plan_and_loses_nothing(send: Send, first: dict[str, Any]) -> None:
    address = f"/api/classes/{first['id']}"
    theirs = json.loads(json.dumps(first["plan"]))
    theirs["name"] = "Theirs"
    assert send("PUT", address, {"based_on": 1, "plan": theirs})[0] == 200
    mine = {**first["plan"], "name": "Mine"}
    status, answer = send("PUT", address, {"based_on": 1, "plan": mine})
    assert status == 409
    assert answer["latest"]["revision"] == 2
    assert answer["latest"]["plan"]["name"] == "Theirs"
    assert Revision.objects.filter(planned_class_id=first["id"]).count() == 2
    status, saved = send("PUT", address, {"based_on": 2, "plan": mine})
    assert (status, saved["revision"], saved["plan"]["name"]) == (200, 3, "Mine")


def test_two_writers_at_the_same_moment_are_told_apart_by_the_database(
    send: Send, first: dict[str, Any], monkeypatch: pytest.MonkeyPatch
) -> None:
    """The second writer has read revision 1 as the newest before the first one's revision 2 was there."""
    planned = PlannedClass.objects.get(pk=first["id"])
    stale = planned.revisions.get(number=1)
    assert send("PUT", f"/api/classes/{first['id']}", {"based_on": 1, "plan": first["plan"]})[0] == 200
    looked: list[int] = []

    def latest(manager: Any, *fields: str) -> Revision:
        looked.append(1)
        return stale if len(looked) == 1 else manager.get_queryset().order_by("-number").first()

    monkeypatch.setattr(type(planned.revisions), "latest", latest, raising=False)
    status, answer = send("PUT", f"/api/classes/{first['id']}", {"based_on": 1, "plan": first["plan"]})
    assert (status, answer["latest"]["revision"]) == (409, 2)
    assert Revision.objects.filter(planned_class=planned).count() == 2


def test_a_new_class_can_be_made_read_and_listed(send: Send, first: dict[str, Any]) -> None:
    status, made = send("POST", "/api/classes", {"plan": {**first["plan"], "name": "Another"}})
    assert (status, made["revision"]) == (201, 1)
    assert send("GET", f"/api/classes/{made['id']}")[1]["plan"]["name"] == "Another"
    assert send("GET", "/api/classes")[1][0]["name"] == "Another"


@pytest.mark.parametrize(
    ("spoil", "place", "field"),
    [
        (lambda plan: plan["blocks"][1].update(rounds=0), "block 2 “Stations”", "rounds"),
        (lambda plan: plan["blocks"][1]["stations"][3].update(exercise="jumpjack"), "block 2 “Stations”, station 4", "exercise"),
        (lambda plan: plan.update(room="attic"), "the plan", "room"),
        (lambda plan: plan["people"].append("nobody"), "person 13", "people"),
        (lambda plan: plan.pop("slot_min"), "plan", "slot_min"),
    ],
)  # fmt: skip
def test_a_faulty_plan_gets_a_located_error_and_nothing_is_kept(
    spoil: Callable[[dict[str, Any]], Any], place: str, field: str, send: Send, first: dict[str, Any]
) -> None:
    before = (PlannedClass.objects.count(), Revision.objects.count())
    spoil(first["plan"])
    for method, path, body in (
        ("POST", "/api/forecast", {"plan": first["plan"]}),
        ("POST", "/api/classes", {"plan": first["plan"]}),
        ("PUT", f"/api/classes/{first['id']}", {"based_on": 1, "plan": first["plan"]}),
    ):
        status, answer = send(method, path, body)
        assert status == 422, (method, path)
        (fault,) = answer["faults"]
        assert (fault["place"], fault["field"]) == (place, field)
        assert fault["message"]
    assert (PlannedClass.objects.count(), Revision.objects.count()) == before


def test_what_is_not_there_is_404_and_what_is_no_json_is_refused(client: Client, send: Send) -> None:
    assert send("GET", "/api/classes/999")[0] == 404
    assert client.post("/api/forecast", b"{", content_type="application/json").status_code in (400, 422)
    assert client.post("/api/forecast", b"plan=1", content_type="application/x-www-form-urlencoded").status_code == 415
    assert client.get("/api/classes", headers={"host": "elsewhere.example"}).status_code == 400


def test_loading_the_demo_again_keeps_what_was_saved(send: Send, first: dict[str, Any]) -> None:
    first["plan"]["name"] = "Changed by hand"
    send("PUT", f"/api/classes/{first['id']}", {"based_on": 1, "plan": first["plan"]})
    counts = [model.objects.count() for model in (Room, MachineUnit, Person, PlannedClass, Revision)]
    call_command("load_demo", verbosity=0)
    assert [model.objects.count() for model in (Room, MachineUnit, Person, PlannedClass, Revision)] == counts
    assert send("GET", "/api/classes")[1][0]["name"] == "Changed by hand"


def test_the_demo_is_the_scenario_it_should_be() -> None:
    room = Room.objects.get()
    kinds = list(room.units.values_list("kind", flat=True))
    assert len(set(kinds)) >= 10
    assert any(kinds.count(kind) == 1 and room.units.get(kind=kind).count == 1 for kind in set(kinds))
    assert room.units.filter(out_of_order=True).count() == 1
    people = Person.objects.all()
    assert len(people) == 12
    assert {person.level for person in people} == {"beginner", "standard", "advanced"}
    assert max(person.age for person in people) - min(person.age for person in people) > 30


def test_unknown_addresses_get_the_page_and_an_unbuilt_page_says_what_to_do(
    client: Client, settings: Any, tmp_path: Path
) -> None:
    settings.WEB = tmp_path
    answer = client.get("/classes/3")
    assert answer.status_code == 503
    assert b"make demo" in answer.content
    (tmp_path / "index.html").write_text("<p>built</p>", encoding="utf-8")
    assert b"built" in client.get("/classes/3").content
