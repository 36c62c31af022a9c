"""What is printed, over HTTP: of classes, runs and courses, as data and as PDF; who may read what; faults located."""

from __future__ import annotations

import io
import json
import zipfile
from collections.abc import Callable
from datetime import date, timedelta
from typing import Any

import pytest
from django.contrib.auth import get_user_model
from django.test import Client
from django.utils import timezone
from logbook import runs
from oaken.exports.paper.pdf import code_of
from planning import courses
from planning.models import PlannedClass
from pypdf import PdfReader
from studio.models import Studio

Send = Callable[..., tuple[int, Any]]
pytestmark = pytest.mark.usefixtures("demo")
KINDS = ["run-sheet", "before-start", "people", "stations", "set-up", "poster", "log-sheet"]


def planned(send: Send, name: str) -> dict[str, Any]:
    """A class of the demo as the API gives it."""
    _, listed = send("GET", "/api/classes")
    found = next(item for item in listed if item["name"].startswith(name))
    return send("GET", f"/api/classes/{found['id']}")[1]


@pytest.mark.parametrize("kind", KINDS)
def test_a_paper_as_data_and_as_pdf(kind: str, send: Send, client: Client) -> None:
    plan = planned(send, "Machine")["plan"]
    status, paper = send("POST", "/api/papers", {"plan": plan, "kind": kind})
    assert (status, paper["kind"]) == (200, kind)
    assert paper["cards"]
    answer = client.post(
        "/api/papers/pdf", json.dumps({"plan": plan, "kind": kind, "page": "letter"}), content_type="application/json"
    )
    assert (answer.status_code, answer["Content-Type"]) == (200, "application/pdf")
    reader = PdfReader(io.BytesIO(answer.content))
    assert {round(float(reader.pages[0].mediabox.width)), round(float(reader.pages[0].mediabox.height))} == {612, 792}
    assert paper["title"] in reader.pages[0].extract_text()


def test_what_does_not_exist_is_told(send: Send) -> None:
    plan = planned(send, "Machine")["plan"]
    assert send("POST", "/api/papers/pdf", {"plan": plan, "kind": "banner"})[0] == 422
    status, answer = send("POST", "/api/papers/pdf", {"plan": {**plan, "people": ["nobody"]}, "kind": "people"})
    assert status == 422
    assert "nobody" in answer["faults"][0]["message"]


def test_the_code_on_the_run_sheet_opens_the_run_here(send: Send) -> None:
    told = planned(send, "Machine")
    body = {"plan": told["plan"], "kind": "run-sheet", "class_id": told["id"]}
    paper = send("POST", "/api/papers", body)[1]
    assert paper["opens"] == f"http://127.0.0.1/classes/{told['id']}/run"
    assert paper["code"] == code_of(paper["opens"])
    assert send("POST", "/api/papers", {**body, "kind": "poster"})[1]["code"] == ""
    assert send("POST", "/api/papers", {"plan": told["plan"], "kind": "run-sheet"})[1]["opens"] == ""


def test_cards_of_people_know_settings_and_the_last_time(demo: Studio, send: Send) -> None:
    began = timezone.now() - timedelta(days=3)
    run = runs.simulate(demo, demo.classes.get(key="machine-pairs"), began, 4)
    plan = planned(send, "Machine")["plan"]
    paper = send("POST", "/api/papers", {"plan": plan, "kind": "people"})[1]
    tobin = next(card for card in paper["cards"] if card["title"] == "Tobin Askrigg")
    table = next(part for part in tobin["parts"] if part["part"] == "table")
    assert table["head"][4] == "last time"
    done = run.done_sets.filter(person__key="tobin", exercise="leg-press").order_by("number")
    row = next(row for row in table["rows"] if row[2].startswith("leg press"))
    day = began.astimezone(demo.zone).date()
    assert row[4].endswith(f"({day.day} {day:%b})")
    assert f"{done[0].load_kg:g} kg × {done[0].reps}" in row[4]
    setting = (
        demo.people.get(key="tobin").settings.filter(unit__in=[unit_id["unit"] for unit_id in unit_ids(demo)]).first()
    )
    assert setting is None or any(part["part"] == "facts" for part in tobin["parts"])


def unit_ids(studio: Studio) -> list[dict[str, str]]:
    return [{"unit": unit.key} for unit in studio.rooms.get().units.all()]


def test_a_run_is_printed_as_it_is_held(demo: Studio, send: Send, client: Client) -> None:
    run = runs.open_run(demo, demo.classes.get(key="machine-pairs"), 1)
    demo.people.filter(key="tobin").update(name="Somebody Else")
    paper = send("POST", f"/api/runs/{run.pk}/papers", {"kind": "people"})[1]
    assert "Tobin Askrigg" in [card["title"] for card in paper["cards"]]
    sheet = send("POST", f"/api/runs/{run.pk}/papers", {"kind": "run-sheet"})[1]
    assert sheet["opens"] == f"http://127.0.0.1/runs/{run.pk}"
    body = json.dumps({"kind": "poster", "page": "a4"})
    answer = client.post(f"/api/runs/{run.pk}/papers/pdf", body, content_type="application/json")
    assert len(PdfReader(io.BytesIO(answer.content)).pages) >= 1


def test_a_course_has_a_programme_and_its_weeks_come_in_one_zip(demo: Studio, send: Send, client: Client) -> None:
    made = courses.make_template(demo, "waves", "saw-floor", ["marit", "ines"], "Winter", date(2026, 12, 7), "18:30", 4)
    course = courses.course_of(made)
    courses.save(made.course, 1, course.model_copy(update={"dropped": [3]}))
    path = f"/api/courses/{made.course.pk}/papers"
    paper = send("POST", path, {})[1]
    rows = paper["cards"][0]["parts"][0]["rows"]
    assert [row[0] for row in rows] == ["1", "2", "3", "4"]
    assert "not held" in rows[2][3]
    assert rows[0][3].startswith("Tue 8 Dec, 18:30: ")
    answer = client.post(f"{path}/pdf", json.dumps({"page": "letter"}), content_type="application/json")
    assert "Winter" in PdfReader(io.BytesIO(answer.content)).pages[0].extract_text()
    week = {"week": 1, "kind": "run-sheet", "page": "a4"}
    status, told = send("POST", f"{path}/week", week)
    assert (status, told["faults"][0]["message"]) == (422, "week 1 is not written out")
    courses.materialise(made.course, 1)
    answer = client.post(f"{path}/week", json.dumps(week), content_type="application/json")
    with zipfile.ZipFile(io.BytesIO(answer.content)) as files:
        assert len(files.namelist()) == PlannedClass.objects.filter(course=made.course, course_week=1).count()
        assert all(files.read(name).startswith(b"%PDF-") for name in files.namelist())


def test_assistants_print_everything_but_what_tells_of_health(demo: Studio, send: Send) -> None:
    helper = Client(headers={"host": "127.0.0.1"})
    helper.force_login(get_user_model().objects.get(username="helper"))
    plan = planned(send, "Machine")["plan"]
    for kind in KINDS:
        answer = helper.post("/api/papers", json.dumps({"plan": plan, "kind": kind}), content_type="application/json")
        assert answer.status_code == (403 if kind == "before-start" else 200), kind
