"""The first account: made in the browser where nobody has one, on the machine that serves, and never again."""

from __future__ import annotations

import json
from typing import Any

import pytest
from django.contrib.auth import get_user_model
from django.test import Client
from studio.models import Member, Studio

FIRST = {"studio": "  The loft ", "time_zone": "Europe/Berlin", "user": "keeper", "password": "above-the-old-saw"}


@pytest.fixture
def empty(db: None) -> None:
    """An installation in which nobody has an account."""
    Studio.objects.all().delete()
    get_user_model().objects.all().delete()


def begin(address: str = "127.0.0.1", **changes: Any) -> tuple[Client, int, Any]:
    client = Client(headers={"host": "127.0.0.1"}, REMOTE_ADDR=address)
    answer = client.post("/api/begin", json.dumps({**FIRST, **changes}), content_type="application/json")
    return client, answer.status_code, answer.json()


def is_open(address: str = "127.0.0.1") -> bool:
    client = Client(headers={"host": "127.0.0.1"}, REMOTE_ADDR=address)
    found: bool = client.get("/api/begin").json()["open"]
    return found


def test_the_first_account_is_made_once_and_is_signed_in(empty: None) -> None:
    assert is_open()
    client, status, me = begin()
    assert (status, me["user"], me["studio"]["name"], me["studio"]["role"]) == (201, "keeper", "The loft", "instructor")
    assert client.get("/api/me").json() == me
    assert Studio.objects.get().time_zone == "Europe/Berlin"
    assert client.get("/api/people").json() == []
    assert not is_open()
    assert begin(user="second")[1] == 403
    assert Member.objects.count() == 1


def test_nobody_else_makes_it(empty: None, settings: Any) -> None:
    assert not is_open("192.0.2.7")
    assert begin("192.0.2.7")[1] == 403
    settings.ORIGIN = "https://legs.gym.example"
    assert not is_open()
    assert begin()[1] == 403
    assert get_user_model().objects.count() == 0


def test_where_somebody_has_an_account_nobody_begins(demo: Studio) -> None:
    assert not is_open()
    assert begin()[1] == 403


@pytest.mark.parametrize(
    ("changes", "field"),
    [({"password": "short"}, "password"), ({"user": "a b"}, "user"), ({"studio": " "}, "studio"),
     ({"time_zone": "Moon/Crater"}, "time_zone"), ({"mood": "good"}, "mood")],
)  # fmt: skip
def test_what_cannot_be_is_told_and_makes_nothing(empty: None, changes: dict[str, str], field: str) -> None:
    _, status, told = begin(**changes)
    assert (status, told["faults"][0]["field"]) == (422, field)
    assert Studio.objects.count() == 0
    assert is_open()


def test_room_and_people_of_an_empty_studio_are_told_by_number(empty: None) -> None:
    client, _, _ = begin()

    def send(path: str, body: dict[str, Any]) -> tuple[int, Any]:
        answer = client.post(path, json.dumps(body), content_type="application/json")
        return answer.status_code, answer.json()

    assert "leg-press" in {item["kind"] for item in client.get("/api/rooms/things").json()}
    status, made = send("/api/rooms/first", {"name": "The loft", "width_m": 10, "depth_m": 8, "counts": {"mat": 12}})
    assert (status, made["room"]["id"], made["room"]["units"][0]["count"]) == (201, "the-loft", 12)
    status, told = send("/api/rooms/first", {"name": "B", "width_m": 3, "depth_m": 3, "counts": {"treadmill": 12}})
    assert status == 422
    assert "too small" in told["faults"][0]["message"]
    assert Studio.objects.get().rooms.count() == 1
    status, people = send("/api/people/crowd", {"beginner": 3, "standard": 2})
    assert (status, [person["name"] for person in people][:2]) == (201, ["Beginner 1", "Beginner 2"])
    assert send("/api/people/crowd", {})[0] == 422
    sought = {"room": "the-loft", "people": [person["id"] for person in people], "slot_min": 30}
    status, made = send("/api/generated-classes", {"class_request": sought})
    assert (status, made["unmet"]) == (200, [])
    assert made["generated"]["figures"]["clashes"] == 0
