"""Whatever is sent, the server answers with a word about it, never with an error of its own, and keeps nothing."""

from __future__ import annotations

import copy
from collections.abc import Callable
from typing import Any

import pytest
from django.test import Client
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from planning.models import PlannedClass, Revision
from studio.models import OwnEntry

Send = Callable[..., tuple[int, Any]]
pytestmark = pytest.mark.usefixtures("demo")
same_database = settings(max_examples=40, suppress_health_check=[HealthCheck.function_scoped_fixture])

anything = st.recursive(
    st.none() | st.booleans() | st.integers(-(10**9), 10**9) | st.floats(allow_nan=False) | st.text(max_size=20),
    lambda inner: st.lists(inner, max_size=3) | st.dictionaries(st.text(max_size=8), inner, max_size=3),
    max_leaves=6,
)
POSTS = ["/api/forecast", "/api/fit", "/api/text/write", "/api/upgrade", "/api/classes"]


def a_plan(send: Send) -> dict[str, Any]:
    _, listed = send("GET", "/api/classes")
    return send("GET", f"/api/classes/{listed[0]['id']}")[1]["plan"]


def ways_into(value: Any, path: tuple[Any, ...] = ()) -> list[tuple[Any, ...]]:
    """Every place in a document."""
    found = [path] if path else []
    entries = value.items() if isinstance(value, dict) else enumerate(value) if isinstance(value, list) else ()
    for key, inner in entries:
        found += ways_into(inner, (*path, key))
    return found


def located(path: str, place: tuple[Any, ...]) -> bool:
    """Whether a fault's path leads to the place that was broken, or to the part of the plan around it."""
    told = path.removeprefix("body.").removeprefix("plan.").split(".")
    meant = [str(step) for step in place]
    shared = next((at for at, (item, other) in enumerate(zip(told, meant, strict=False)) if item != other), None)
    reached = min(len(told), len(meant)) if shared is None else shared
    return reached >= max(1, len(meant) - 2) or reached >= 4


@same_database
@given(st.data())
def test_a_plan_broken_at_any_place_is_answered_with_its_place(send: Send, data: st.DataObject) -> None:
    plan = copy.deepcopy(a_plan(send))
    place = data.draw(st.sampled_from(ways_into(plan)))
    here = plan
    for step in place[:-1]:
        here = here[step]
    here[place[-1]] = data.draw(anything)
    classes, revisions = PlannedClass.objects.count(), Revision.objects.count()
    for path in ("/api/forecast", "/api/fit", "/api/text/write"):
        status, answer = send("POST", path, {"plan": plan})
        assert status in (200, 422), (path, place)
        if status == 422:
            assert answer["faults"]
            assert all(item["message"] and item["place"] and item["field"] for item in answer["faults"])
            assert any(located(item["path"], place) for item in answer["faults"]), (place, answer["faults"])
    status, answer = send("POST", "/api/classes/import", {"document": {"format": "oaken-class/2", "plan": plan}})
    assert status == 422  # neither room nor people
    assert (PlannedClass.objects.count(), Revision.objects.count()) == (classes, revisions)


@same_database
@given(st.sampled_from(POSTS), anything)
def test_no_body_is_too_strange(send: Send, path: str, body: Any) -> None:
    for sent in ([body], {"plan": body}):
        status, answer = send("POST", path, sent)
        assert status == 422, (path, sent)
        assert answer["faults"]
    assert OwnEntry.objects.count() == 0


@same_database
@given(st.text(max_size=200))
def test_no_text_is_too_strange(send: Send, text: str) -> None:
    plan = a_plan(send)
    status, answer = send("POST", "/api/text/read", {"text": text.replace("\ud800", ""), "plan": plan})
    assert status in (200, 422)
    if status == 422:
        faults = answer.get("text_faults") or answer["faults"]
        assert faults[0]["message"]


@pytest.mark.parametrize(
    ("body", "kind", "status"),
    [
        (b"{", "application/json", 422),
        (b"", "application/json", 415),
        (b"\xff\xfe", "application/json", 422),
        (b"plan=1", "application/x-www-form-urlencoded", 415),
        (b"<plan/>", "text/xml", 415),
    ],
)
def test_what_is_not_json_is_refused(client: Client, body: bytes, kind: str, status: int) -> None:
    answer = client.post("/api/forecast", body, content_type=kind)
    assert answer.status_code in (status, 400)
    assert answer.json()


def test_a_text_that_is_too_long_is_told_so(send: Send) -> None:
    status, answer = send("POST", "/api/text/read", {"text": "leg press 3 x 10\n" * 5000, "plan": a_plan(send)})
    assert status == 422
    assert "at most 60,000 characters" in answer["text_faults"][0]["message"]


FLOOR = [
    ("/api/rotations", {"block": "x"}),
    ("/api/circle", {"part": "x"}),
    ("/api/replay", {}),
    ("/api/queues", {}),
    ("/api/what-if/taken", {"unit": "x"}),
    ("/api/what-if/substitutes", {"part": "x"}),
    ("/api/what-if/people", {"leaves": [], "comes": []}),
    ("/api/what-if/one-more", {}),
]


@same_database
@given(st.sampled_from(FLOOR), anything)
def test_nothing_strange_is_too_strange_for_the_floor(
    send: Send, asked: tuple[str, dict[str, Any]], strange: Any
) -> None:
    path, fields = asked
    for sent in ([strange], {"plan": strange, **fields}, {"before": strange, "after": strange}):
        status, answer = send("POST", path, sent)
        assert status == 422, (path, sent)
        assert answer["faults"]
    plan = a_plan(send)
    for field in fields:
        status, _ = send("POST", path, {"plan": plan, **fields, field: strange})
        assert status in (200, 422), (path, field, strange)


@same_database
@given(st.data())
def test_a_room_broken_at_any_place_is_answered_and_kept_as_it_was(send: Send, data: st.DataObject) -> None:
    _, out = send("GET", "/api/rooms/saw-floor")
    room = copy.deepcopy(out["room"])
    place = data.draw(st.sampled_from(ways_into(room)))
    here = room
    for step in place[:-1]:
        here = here[step]
    here[place[-1]] = data.draw(anything)
    status, answer = send("PUT", "/api/rooms/saw-floor", {"based_on": 0, "room": room})
    # a room that is sound all the same is told to be stale: nothing is kept either way
    assert status in (409, 422)
    if status == 422:
        assert all(item["message"] for item in answer["faults"])
    assert send("GET", "/api/rooms/saw-floor")[1] == out


@same_database
@given(st.data())
def test_a_record_broken_at_any_place_is_answered_with_its_place_and_changes_nobody(
    send: Send, data: st.DataObject
) -> None:
    before = send("GET", "/api/people/oskar")[1]
    record = copy.deepcopy(before["record"])
    place = data.draw(st.sampled_from(ways_into(record)))
    here = record
    for step in place[:-1]:
        here = here[step]
    here[place[-1]] = data.draw(anything)
    body = {"based_on": before["revision"] + 7, "record": record}
    status, answer = send("PUT", "/api/people/oskar", body)
    assert status in (409, 422), place
    if status == 422:
        assert all(item["message"] and item["place"] for item in answer["faults"])
    assert send("GET", "/api/people/oskar")[1] == before


@same_database
@given(
    st.sampled_from(
        [
            "/api/pre-class-check", "/api/loads", "/api/heat", "/api/best", "/api/bodies", "/api/loads/unit", "/api/loads/share",
            "/api/loads/next", "/api/people", "/api/runs",
            "/api/members", "/api/me/password",
        ]
    ),
    anything,
)  # fmt: skip
def test_no_body_is_too_strange_for_the_people(send: Send, path: str, body: Any) -> None:
    people = send("GET", "/api/people")[1]
    for sent in ([body], {"record": body, "plan": body}):
        status, answer = send("POST", path, sent)
        assert status == 422, (path, sent)
        assert answer["faults"]
    assert send("PUT", "/api/house-rules", {"based_on": 1, "rules": [body]})[0] == 422
    assert send("GET", "/api/people")[1] == people


@same_database
@given(st.text(max_size=300))
def test_no_recording_is_too_strange(send: Send, upload: Send, text: str) -> None:
    run = send("GET", "/api/runs")[1][0]
    content, named = text.encode("utf-8", "ignore"), text[:50].encode("utf-8", "ignore").decode()
    for path, said in (("recordings", {"person": "tobin", "name": named}), ("recordings/look", {"name": named})):
        status, answer = upload(f"/api/runs/{run['id']}/{path}", content, **said)
        assert status == 422
        assert answer["faults"][0]["message"]
