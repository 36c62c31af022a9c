"""The whole API with what one call leads to in the next: a class is opened to be run, its run is given events, a wall, a
course its week. Bodies and addresses are those of things that are there, so that most calls get past the door; what is
made up whole is tried in `test_schema.py`."""

from __future__ import annotations

import json
from collections.abc import Callable
from datetime import UTC, datetime, timedelta
from functools import cached_property
from pathlib import Path
from typing import Any

from django.contrib.auth import get_user_model
from django.core.cache import cache
from django.db import transaction
from django.test import Client
from oaken.domain.catalogue import catalogue
from oaken.heart_data.recordings.packets import Measurement, encode
from schemathesis.specs.openapi.checks import response_schema_conformance, status_code_conformance
from test_schema import answered, few, not_broken, schema

MAY_BE_REFUSED = frozenset((Path(__file__).parent / "may_be_refused.txt").read_text(encoding="utf-8").splitlines())
"""The calls whose body or address is not made right here; every other one has to be answered with 2xx."""

Body = Callable[["Linked"], Any]


class Linked:
    """What calls before this one have made: ids and documents by the names that paths and bodies have for them."""

    def __init__(self, client: Client) -> None:
        self.client = client
        self.now = datetime.now(UTC)
        self.moment = self.now.isoformat()

    @cached_property
    def loaded(self) -> Any:
        listed = self.get("/api/classes")
        number = next(item["id"] for item in listed if item["name"].startswith("Machine pairs"))
        return self.get(f"/api/classes/{number}")

    @property
    def plan(self) -> Any:
        return self.loaded["plan"]

    @property
    def person(self) -> str:
        return str(self.plan["people"][0])

    @cached_property
    def run(self) -> int:
        opened = self.post("/api/runs", {"class_id": self.loaded["id"], "revision": self.loaded["revision"]})
        began = {"id": "began", "kind": "began", "happened_at": (self.now - timedelta(seconds=90)).isoformat()}
        self.post(f"/api/runs/{opened['id']}/events", {"events": [began]})
        return int(opened["id"])

    @cached_property
    def wall(self) -> Any:
        return self.post(f"/api/runs/{self.run}/walls", {"names": "numbers"})

    @cached_property
    def phone(self) -> Any:
        return self.post(f"/api/runs/{self.run}/phones", {"people": [self.person]})[0]

    @cached_property
    def feed(self) -> Any:
        return self.post("/api/feeds", {"class_id": self.loaded["id"]})

    @cached_property
    def course(self) -> Any:
        listed = self.get("/api/courses")
        return self.get(f"/api/courses/{listed[0]['id']}") if listed else {"id": 1, "revision": 1, "course": None}

    @cached_property
    def room(self) -> Any:
        return next(self.get(f"/api/rooms/{item['id']}") for item in self.get("/api/rooms") if not item["retired"])

    @cached_property
    def exercise(self) -> Any:
        like = catalogue().exercises["leg-press"].model_dump(mode="json", exclude_none=True)
        return self.put("/api/catalogue/exercises", {**like, "id": "mill-press", "name": "Mill press", "aliases": []})

    @cached_property
    def kind(self) -> Any:
        like = catalogue().equipment["leg-press"].model_dump(mode="json")
        return self.put("/api/catalogue/equipment", {**like, "id": "mill-frame", "name": "Mill frame"})

    def get(self, path: str) -> Any:
        return self.client.get(path).json()

    def post(self, path: str, body: Any) -> Any:
        return self.client.post(path, json.dumps(body), content_type="application/json").json()

    def put(self, path: str, body: Any) -> Any:
        return self.client.put(path, json.dumps(body), content_type="application/json").json()

    def address(self, path: str, name: str) -> Any:
        """What stands in the place of a name of an address."""
        match name:
            case "class_id":
                return self.loaded["id"]
            case "run_id":
                return self.run
            case "course_id":
                return self.course["id"]
            case "member_id":
                return next(item["id"] for item in self.get("/api/members") if item["role"] == "assistant")
            case "wall_id":
                return self.wall["id"]
            case "phone_id":
                return self.phone["id"]
            case "feed_id":
                return self.feed["id"]
            case "number":
                return 1
            case "kind":
                return "exercises"
            case "name":
                return "sets"
            case "exercise":
                return "leg-press"
            case "token" if "/wall/" in path:
                return self.wall["path"].split("/")[-1]
            case "token" if "/phone/" in path:
                return self.phone["path"].split("/")[-1]
            case "token":
                return next((part for part in self.feed["path"].split("/") if len(part) > 15), "none")
            case "key" if "/rooms/" in path:
                return self.room["room"]["id"]
            case "key" if "equipment/" in path:
                return self.kind["id"]
            case "key" if "/people/" not in path:
                return self.exercise["id"]
            case "key":
                return self.person
            case _:
                return None


def _record(of: Linked) -> Any:
    return of.get(f"/api/people/{of.person}")["record"]


def _of_course(of: Linked, **more: Any) -> Any:
    return {"course": of.course["course"], **more}


def _block(of: Linked) -> Any:
    return next(item for item in of.plan["blocks"] if item["kind"] == "sets")


BODIES: dict[str, Body] = {
    "Draft": lambda of: {"plan": of.plan},
    "PlanIn": lambda of: {"plan": of.plan, "block": _block(of)["id"]},
    "FitIn": lambda of: {"plan": of.plan},
    "LevelIn": lambda of: {"plan": of.plan, "level": "beginner"},
    "TwoPlans": lambda of: {"one": of.plan, "other": of.plan, "before": of.plan, "after": of.plan},
    "SaveIn": lambda of: {"plan": of.plan, "based_on": of.loaded["revision"]},
    "AnyPlan": lambda of: {"plan": of.plan, "document": of.plan},
    "FileIn": lambda of: {"document": of.get(f"/api/classes/{of.loaded['id']}/file")},
    "Archive": lambda of: {"archived": True},
    "Record": lambda of: {**_record(of), "id": "somebody-new", "name": "Somebody New"},
    "PersonSave": lambda of: {"based_on": of.get(f"/api/people/{of.person}")["revision"], "record": _record(of)},
    "RoomIn": lambda of: {"room": {**of.room["room"], "id": "another", "name": "Another"}},
    "RoomSave": lambda of: {"based_on": of.room["revision"], "room": of.room["room"]},
    "RunIn": lambda of: {"class_id": of.loaded["id"], "revision": of.loaded["revision"]},
    "PastClassIn": lambda of: {
        "class_id": of.loaded["id"],
        "revision": of.loaded["revision"],
        "began_at": of.moment,
    },
    "EventsIn": lambda of: {"events": [{"id": "p", "kind": "paused", "happened_at": of.moment}]},
    "PacketsIn": lambda of: {
        "person": of.person,
        "packets": [{"at": of.moment, "hex": encode(Measurement(120, contact=True)).hex()}],
    },
    "WallIn": lambda of: {"names": "first_names"},
    "PhonesIn": lambda of: {"people": [of.person]},
    "OwnPressIn": lambda of: {"id": "own", "what": "tag"},
    "AskIn": lambda of: {"ask": {"what": "hot"}},
    "PaperOf": lambda of: {"kind": "run-sheet"},
    "PdfOf": lambda of: {"kind": "run-sheet", "page": "a4"},
    "PaperIn": lambda of: {"kind": "run-sheet", "plan": of.plan},
    "PdfIn": lambda of: {"kind": "run-sheet", "plan": of.plan, "page": "a4"},
    "Exercise": lambda of: of.exercise,
    "EquipmentKind": lambda of: of.kind,
    "TextIn": lambda of: {"text": of.post("/api/text/write", {"plan": of.plan})["text"], "plan": of.plan},
    "LineIn": lambda of: {"kind": "slot", "line": "leg press 3 x 10"},
    "CourseIn": _of_course,
    "CourseSave": lambda of: _of_course(of, based_on=of.course["revision"]),
    "RulesSave": lambda of: {"based_on": of.get("/api/house-rules").get("revision", 0), "rules": []},
    "LoadRules": lambda of: of.get("/api/load-rules"),
    "SignIn": lambda of: {"user": "ranger", "password": "mill-by-the-weir"},
    "NewMember": lambda of: {"user": "somebody", "password": "over-the-weir-again", "role": "assistant"},
    "ChosenStudio": lambda of: {"studio": of.get("/api/me")["studio"]["id"]},
    "StudioZone": lambda of: {"time_zone": "Europe/Berlin"},
    "Air": lambda of: {"temperature_c": 28, "humidity_percent": 60},
    "FeedIn": lambda of: {"class_id": of.loaded["id"]},
    "Goal": lambda of: {"exercise": "leg-press", "best_kg": 200, "by": "2027-06-01"},
    "SchoolSave": lambda of: {"school": None},
    "TakenLoads": lambda of: {"taken": [{"person": of.person, "exercise": "leg-press", "load_kg": 80}]},
    "NextLoadsAsked": lambda of: {"plan": of.plan, "told": {}},
    "PeopleIn": lambda of: {"plan": of.plan, "leaves": [of.person]},
    "UnitIn": lambda of: {"plan": of.plan, "unit": of.room["room"]["units"][0]["id"]},
    "PartIn": lambda of: {
        "plan": of.plan,
        "block": _block(of)["id"],
        "part": _block(of)["groups"][0]["slots"][0]["id"],
    },
    "ShareAsked": lambda of: {"reps": 8, "in_reserve": 2},
    "BeltsIn": lambda of: {"without": []},
}
"""A body that is right, by the name that the schema has for it."""

NEVER = {"/api/runs/{run_id}/simulated-belts", "/api/sign-out", "/api/me/password", "/api/begin"}
"""What would start a program, or end the session of the test."""

QUERIES = {
    "since": "2026-01-01",
    "until": "2026-12-31",
    "earlier": "2026-11-02",
    "later": "2026-11-09",
    "name": "ride.csv",
}
"""What may be asked for besides."""

FILES = {
    "/api/people/roster": b"name,age,mass_kg\nAda,40,70\n",
    "/api/people/roster/preview": b"name,age,mass_kg\nAda,40,70\n",
}


@schema.exclude(path=sorted(NEVER)).parametrize()
@few(1)
def test_what_one_call_makes_the_next_one_uses(case: Any, db: None) -> None:
    cache.clear()
    client = Client(headers={"host": "127.0.0.1"})
    user = get_user_model().objects.get(username="ranger")
    with transaction.atomic():
        client.force_login(user, backend="django.contrib.auth.backends.ModelBackend")
        of = Linked(client)
        path, name = case.operation.path, _body_of(case)
        for part, made_up in dict(case.path_parameters or {}).items():
            found = of.address(path, part)
            case.path_parameters[part] = made_up if found is None else found
        if name in BODIES:
            case.body = BODIES[name](of)
        case.query = {key: QUERIES[key] for key in case.query or {} if key in QUERIES}
        if case.operation.path in FILES:
            case.body = FILES[case.operation.path]
        response = answered(client, case)
        transaction.set_rollback(True)
    if case.operation.label not in MAY_BE_REFUSED:
        assert 200 <= response.status_code < 300, (response.status_code, response.content)
    case.validate_response(response, checks=[not_broken, status_code_conformance, response_schema_conformance])


def _body_of(case: Any) -> str:
    content = case.operation.definition.raw.get("requestBody", {}).get("content", {}).get("application/json", {})
    return str(content.get("schema", {}).get("$ref", "")).split("/")[-1]


def test_at_least_half_of_the_calls_have_to_get_past_the_door() -> None:
    operations = {result.ok().label for result in schema.get_all_operations()}
    assert operations >= MAY_BE_REFUSED
    assert len(MAY_BE_REFUSED) < len(operations) / 2
