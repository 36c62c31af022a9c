"""Nobody reads what is not theirs: every endpoint of the schema is tried as nobody, from another studio, and as an
assistant."""

from __future__ import annotations

import copy
import json
import re
from collections.abc import Callable
from typing import Any

import pytest
from config.bodies import takes_files
from django.contrib.auth import get_user_model
from django.db import transaction
from django.test import Client
from logbook.models import Run
from people.models import Person
from places import published_api
from planning.models import PlannedClass
from studio.models import Member, Studio

Send = Callable[..., tuple[int, Any]]
pytestmark = pytest.mark.usefixtures("demo")

SCHEMA = published_api()
ENDPOINTS = [(method.upper(), path) for path, methods in SCHEMA["paths"].items() for method in methods]
OPEN = {("GET", "/api/me"), ("POST", "/api/sign-in"), ("GET", "/api/wall/{token}"),
        ("GET", "/api/wall/{token}/clock"), ("POST", "/api/belts/{token}"), ("GET", "/api/feeds/{token}/calendar.ics"),
        ("GET", "/api/phone/{token}"), ("POST", "/api/phone/{token}/presses"),
        ("GET", "/api/begin"), ("POST", "/api/begin")}  # fmt: skip
"""What is reached without an account: signing in, and the wall and own phones by a pass that has to be known."""
FOR_ASSISTANTS = {
    ("POST", "/api/sign-out"), ("POST", "/api/me/password"), ("POST", "/api/me/studio"), ("GET", "/api/house-rules"),
    ("GET", "/api/rooms"), ("GET", "/api/rooms/{key}"), ("GET", "/api/catalogue"), ("GET", "/api/methods"),
    ("GET", "/api/catalogue/exercises/{key}"), ("GET", "/api/cheat-sheet"), ("GET", "/api/templates"),
    ("GET", "/api/people/names"), ("GET", "/api/classes"), ("GET", "/api/classes/{class_id}"),
    ("GET", "/api/classes/{class_id}/history"), ("GET", "/api/classes/{class_id}/revisions/{number}"),
    ("POST", "/api/forecast"), ("POST", "/api/replay"), ("POST", "/api/queues"), ("POST", "/api/heat"),
    ("POST", "/api/runs"), ("GET", "/api/runs"), ("POST", "/api/runs/{run_id}/recordings"), ("GET", "/api/clock"), ("GET", "/api/serving"),
    ("POST", "/api/runs/past"), ("GET", "/api/runs/{run_id}/live"), ("GET", "/api/runs/{run_id}/sheets"),
    ("POST", "/api/runs/{run_id}/events"), ("GET", "/api/runs/{run_id}/walls"), ("POST", "/api/runs/{run_id}/walls"),
    ("DELETE", "/api/runs/{run_id}/walls/{wall_id}"), ("POST", "/api/runs/{run_id}/offers"),
    ("GET", "/api/runs/{run_id}/phones"), ("POST", "/api/runs/{run_id}/phones"), ("DELETE", "/api/runs/{run_id}/phones"),
    ("DELETE", "/api/runs/{run_id}/phones/{phone_id}"), ("GET", "/api/runs/{run_id}/phones/{phone_id}/code"),
    ("GET", "/api/runs/{run_id}/after"), ("GET", "/api/runs/{run_id}/cards"), ("GET", "/api/today"),
    ("GET", "/api/calendar"), ("GET", "/api/time-zone"), ("GET", "/api/runs/{run_id}/book"),
    ("POST", "/api/papers"), ("POST", "/api/papers/pdf"), ("POST", "/api/runs/{run_id}/papers"),
    ("POST", "/api/runs/{run_id}/papers/pdf"), ("GET", "/api/calendar.ics"), ("GET", "/api/classes/{class_id}/calendar.ics"), ("GET", "/api/courses/{course_id}/calendar.ics"),
    ("GET", "/api/runs/{run_id}/sets.csv"), ("POST", "/api/runs/{run_id}/sets-file"),
}  # fmt: skip


def signed_in(name: str) -> Client:
    client = Client(headers={"host": "127.0.0.1"})
    client.force_login(get_user_model().objects.get(username=name))
    return client


@pytest.fixture
def elsewhere(demo: Studio) -> Client:
    """The instructor of another studio, which has nothing."""
    user = get_user_model().objects.create_user("stranger", password="far-from-the-weir")
    Member.objects.create(user=user, studio=Studio.objects.create(name="Elsewhere"), role="instructor")
    return signed_in("stranger")


def real(path: str) -> str:
    """The address of something that exists in the demo."""
    planned = PlannedClass.objects.get(key="long-carry")
    run = Run.objects.get(saved_as__planned_class=planned)
    values = {
        "class_id": planned.pk, "number": 1, "course_id": 1,  "run_id": run.pk, "recording_id": run.recordings.first().pk,
        "wall_id": 1, "phone_id": 1, "feed_id": 1, "token": "nobodys", "member_id": Member.objects.get(role="assistant").pk, "job_id": "nothing", "kind": "exercises",
    }  # fmt: skip
    for name, value in values.items():
        path = path.replace(f"{{{name}}}", str(value))
    keys = {
        "/api/people": "tobin",
        "/api/rooms": "saw-floor",
        "/api/own/rooms": "saw-floor",
        "/api/catalogue": "leg-press",
    }
    return path.replace("{key}", next((key for start, key in keys.items() if path.startswith(start)), "nothing"))


def body_for(path: str) -> dict[str, Any]:
    """A body that is right as far as it goes: most refusals have to come before it is read."""
    planned = PlannedClass.objects.get(key="long-carry")
    plan = planned.revisions.get(number=1).document
    return {
        "plan": plan, "class_id": planned.pk, "revision": 1, "based_on": 1, "began_at": "2026-11-25T19:00:00Z",
        "person": "tobin", "kind": "poster", "name": "a.csv", "content": "", "items": [],
        "events": [], "names": "numbers", "packets": [], "id": "press-1", "what": "tag",
    }  # fmt: skip


def try_it(client: Client, method: str, path: str, body: Any = None) -> tuple[int, str]:
    sent = json.dumps(body_for(path) if body is None else body)
    kind = "application/octet-stream" if takes_files(real(path)) else "application/json"
    answer = client.generic(method, real(path), sent if method != "GET" else "", content_type=kind)
    return answer.status_code, answer.getvalue().decode("utf-8", "replace")


@pytest.mark.parametrize(("method", "path"), ENDPOINTS)
def test_nobody_gets_in_without_signing_in(method: str, path: str) -> None:
    status, _ = try_it(Client(headers={"host": "127.0.0.1"}), method, path)
    if (method, path) not in OPEN:
        assert status == 401
    elif path == "/api/sign-in":
        assert status == 422
    elif path == "/api/begin":
        assert status == (200 if method == "GET" else 422)
    elif "{token}" in path:
        assert status == 404  # the token that is tried is nobody's
    else:
        assert status == 401


@pytest.mark.parametrize(("method", "path"), ENDPOINTS)
def test_an_assistant_gets_in_where_assistants_are_needed(method: str, path: str) -> None:
    status, text = try_it(signed_in("helper"), method, path)
    if (method, path) in OPEN | FOR_ASSISTANTS:
        assert status not in (401, 403), (status, text[:200])
    else:
        assert status == 403


CHANGING = re.compile(
    r'"(id|seq)":\d+|"(saved_at|now|made_at|opened_at|began_at)":"[^"]*"|"path":"/(wall|phone)/[^"]*"'
)
"""What differs from one answer to the next whoever asks."""

CANARY = "zq-canary-7719"
BODIES: dict[str, Any] = {
    "age": 61, "body_mass_kg": 143.7, "height_cm": 201.3, "sex": "male", "resting_bpm": 97, "max_bpm": 219,
    "max_formula": "fox", "vo2max": 19.7, "heart_medication": True, "careful": ["pregnancy", "disc", "balance"],
    "screening": {"on": "2019-03-03", "some_yes": True, "advised": False}, "health_note": CANARY,
    "heart_fit": {"level_bpm": 111.7, "gain": 1.73, "rise_s": 33, "fall_s": 177, "max_bpm": 219, "vo2max": 19.7,
                  "minutes": 77, "classes": 2, "error_bpm": 3, "bias_bpm": 0, "uncalibrated_error_bpm": 9},
}  # fmt: skip
"""A whole other body, heart and care record."""

FAULTY: list[Any] = [None, {}, [], {"plan": None}, {"plan": {"people": ["tobin"]}}, {"class_id": 10**6, "revision": 1}]


def everything_an_assistant_gets() -> list[tuple[str, str, int, str]]:
    """The answers of every endpoint to an assistant: to what is right, to a class of one person, and to faulty input."""
    found = []
    for method, path in ENDPOINTS:
        alone = copy.deepcopy(body_for(path))
        alone["plan"] |= {"people": ["oskar"], "together": [], "apart": [], "instead": []}
        alone |= {"people": ["oskar"], "class_id": alone["class_id"]}
        bodies = [body_for(path), alone, *FAULTY] if (method, path) in FOR_ASSISTANTS and method != "GET" else [None]
        for body in bodies:
            with transaction.atomic():
                status, text = try_it(signed_in("helper"), method, path, body)
                transaction.set_rollback(True)
            found.append((method, path, status, CHANGING.sub("", text)))
    return found


def test_no_answer_to_an_assistant_depends_on_anybodys_body_heart_or_care() -> None:
    """The strongest form of it: with everybody's body, heart and care record exchanged, every answer stays the same to
    the last sign: errors, classes of one person, and what is computed from bodies included."""
    before = everything_an_assistant_gets()
    assert any(status == 200 and path == "/api/forecast" for _, path, status, _ in before)
    instructor = try_it(signed_in("ranger"), "POST", "/api/forecast")
    Person.objects.update(**BODIES)
    assert try_it(signed_in("ranger"), "POST", "/api/forecast") != instructor
    after = everything_an_assistant_gets()
    for was, now in zip(before, after, strict=True):
        assert now == was
    assert CANARY not in str(after)


@pytest.mark.parametrize(
    ("method", "path"), [endpoint for endpoint in ENDPOINTS if "{" in endpoint[1] and "{key}" not in endpoint[1]]
)
def test_what_belongs_to_another_studio_does_not_exist(method: str, path: str, elsewhere: Client) -> None:
    status, text = try_it(elsewhere, method, path)
    assert status in (404, 422), (status, text[:200])
    assert "tobin" not in text.lower()


@pytest.mark.parametrize(
    ("method", "path"),
    [endpoint for endpoint in ENDPOINTS if "{key}" in endpoint[1] and "catalogue" not in endpoint[1]],
)
def test_people_and_rooms_of_another_studio_do_not_exist(method: str, path: str, elsewhere: Client) -> None:
    before = Studio.objects.get(name="Alder Mill")
    counts = before.people.count(), before.rooms.count()
    status, text = try_it(elsewhere, method, path)
    assert status in (404, 422), (status, text[:200])
    assert "Askrigg" not in text
    assert (before.people.count(), before.rooms.count()) == counts


@pytest.mark.parametrize(
    "path", ["/api/forecast", "/api/pre-class-check", "/api/loads", "/api/fit", "/api/queues", "/api/what-if/one-more"]
)
def test_a_plan_of_another_studio_is_computed_for_nobody(path: str, elsewhere: Client) -> None:
    status, text = try_it(elsewhere, "POST", path)
    assert status == 422
    assert "there is no room 'saw-floor'" in text


@pytest.mark.parametrize(
    "path", ["/api/people", "/api/people/names", "/api/classes", "/api/rooms", "/api/runs", "/api/attendance"]
)
def test_lists_of_another_studio_are_empty(path: str, elsewhere: Client) -> None:
    assert elsewhere.get(path).json() == []


def test_an_assistants_forecast_has_no_hearts_and_the_same_times() -> None:
    _, full = try_it(signed_in("ranger"), "POST", "/api/forecast")
    _, bare = try_it(signed_in("helper"), "POST", "/api/forecast")
    whole, told = json.loads(full), json.loads(bare)
    assert [item["path"] for item in told["people"]] == [item["path"] for item in whole["people"]]
    assert told["length"] == whole["length"]
    for person in told["people"]:
        assert person["bpm"] is person["bpm_low"] is person["targets"] is person["kcal"] is None
        assert person["max_bpm"] is person["fitted"] is person["figures"]["heart_mean"] is None
    assert told["band"] is told["figures"]["heart_mean"] is told["figures"]["energy"] is told["class_energy"] is None
    assert not any(item["health"] or item["about"] == "heart" for item in told["cautions"])
    assert any(item["about"] == "heart" or item["health"] for item in whole["cautions"])


# ---- signing in ---------------------------------------------------------------------------------------------------


def test_signing_in_and_out(send: Send) -> None:
    client = Client(headers={"host": "127.0.0.1"})

    def post(path: str, body: Any) -> tuple[int, Any]:
        answer = client.post(path, json.dumps(body), content_type="application/json")
        return answer.status_code, answer.json() if answer.content else None

    wrong = post("/api/sign-in", {"user": "ranger", "password": "wrong"})
    assert wrong == post("/api/sign-in", {"user": "nobody", "password": "wrong"})
    assert wrong[0] == 401
    status, me = post("/api/sign-in", {"user": "ranger", "password": "mill-by-the-weir"})
    assert (status, me["user"], me["studio"]["role"]) == (200, "ranger", "instructor")
    assert client.get("/api/me").json() == me
    assert client.get("/api/people").status_code == 200
    assert post("/api/sign-out", {})[0] == 204
    assert client.get("/api/people").status_code == 401


def test_a_forged_request_of_another_site_is_refused() -> None:
    client = Client(headers={"host": "127.0.0.1"}, enforce_csrf_checks=True)
    client.force_login(get_user_model().objects.get(username="ranger"))
    refused = client.post("/api/heat", '{"temperature_c": 20, "humidity_percent": 50}', content_type="application/json")
    assert refused.status_code == 403
    client.get("/api/me")
    token = client.cookies["csrftoken"].value
    let_in = client.post(
        "/api/heat",
        '{"temperature_c": 20, "humidity_percent": 50}',
        content_type="application/json",
        headers={"X-CSRFToken": token, "host": "127.0.0.1"},
    )
    assert let_in.status_code == 200


def test_passwords_follow_djangos_rules(send: Send) -> None:
    for password in ("short", "password1234", "12345678901"):
        status, answer = send("POST", "/api/members", {"user": "newcomer", "password": password, "role": "assistant"})
        assert status == 422
        assert answer["faults"][0]["field"] == "password"
    status, added = send(
        "POST", "/api/members", {"user": "newcomer", "password": "ropes-and-rungs", "role": "assistant"}
    )
    assert (status, added["role"]) == (201, "assistant")
    assert (
        send("POST", "/api/members", {"user": "Newcomer", "password": "ropes-and-rungs", "role": "assistant"})[0] == 422
    )
    assert send("POST", "/api/me/password", {"old": "wrong", "new": "ropes-and-rungs"})[0] == 422
    assert send("POST", "/api/me/password", {"old": "mill-by-the-weir", "new": "ropes-and-rungs"})[0] == 204
    assert send("GET", "/api/me")[0] == 200  # still signed in


def test_the_last_instructor_stays(send: Send) -> None:
    _, members = send("GET", "/api/members")
    ids = {member["role"]: member["id"] for member in members}
    assert send("DELETE", f"/api/members/{ids['instructor']}")[0] == 422
    assert send("DELETE", f"/api/members/{ids['assistant']}")[0] == 204
    helper = Client(headers={"host": "127.0.0.1"})
    helper.force_login(get_user_model().objects.get(username="helper"))
    assert helper.get("/api/classes").status_code == 401


def test_somebody_of_two_studios_chooses(send: Send) -> None:
    other = Studio.objects.create(name="Elsewhere")
    Member.objects.create(user=get_user_model().objects.get(username="ranger"), studio=other, role="assistant")
    assert len(send("GET", "/api/people")[1]) == 12
    status, me = send("POST", "/api/me/studio", {"studio": other.pk})
    assert (status, me["studio"]["name"], me["studio"]["role"]) == (200, "Elsewhere", "assistant")
    assert send("GET", "/api/people")[0] == 403
    assert send("GET", "/api/classes")[1] == []
    third = Studio.objects.create(name="Third")
    assert send("POST", "/api/me/studio", {"studio": third.pk})[0] == 404


def test_house_rules_are_kept_and_checked(send: Send) -> None:
    rule = {"id": "a", "say": "look twice", "exercise": "jump-squat"}
    status, kept = send("PUT", "/api/house-rules", {"based_on": 1, "rules": [rule]})
    assert (status, kept["rules"][0]["say"]) == (200, "look twice")
    for wrong in ([rule, rule], [{**rule, "exercise": "nothing"}], [{**rule, "pattern": "squat"}]):
        assert send("PUT", "/api/house-rules", {"based_on": 2, "rules": wrong})[0] == 422
    assert send("GET", "/api/house-rules")[1] == kept


def test_what_is_too_large_is_refused_before_it_is_read(client: Client) -> None:
    answer = client.post(
        "/api/heat", "{}", content_type="application/json", headers={"content-length": "100000000", "host": "127.0.0.1"}
    )
    assert answer.status_code == 413
    assert "at most 6 MB" in answer.json()["message"]
