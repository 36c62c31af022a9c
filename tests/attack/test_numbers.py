"""Numbers, dates, ids, signs and depths beyond any measure: refused with a word, on every endpoint that takes them."""

from __future__ import annotations

import json
import logging
from collections.abc import Callable

import pytest
from config.bodies import takes_files
from django.contrib.auth import get_user_model
from django.test import Client
from logbook.models import Run
from places import published_api
from planning.models import PlannedClass

SCHEMA = published_api()
ENDPOINTS = [(method.upper(), path) for path, methods in SCHEMA["paths"].items() for method in methods]
WRITES = [(method, path) for method, path in ENDPOINTS if method in ("POST", "PUT") and "sign" not in path]
BODIES = {
    "four hundred nines": b'{"plan": {"slot_min": ' + b"9" * 400 + b"}}",
    "NaN": b'{"temperature_c": NaN, "humidity_percent": 50, "plan": NaN}',
    "infinity": b'{"load_kg": 1e999, "reps": Infinity}',
    "five thousand digits": b'{"based_on": ' + b"1" * 5000 + b"}",
    "half a character": b'{"text": "\\ud800", "line": "\\ud800", "name": "\\udfff"}',
    "no UTF-8": b'{"text": "\xff\xfe"}',
    "a hundred thousand deep": b"[" * 100_000,
    "deep and whole": b'{"plan":' * 900 + b"1" + b"}" * 900,
    "no JSON": b"{",
}


@pytest.fixture
def client(db: None) -> Client:
    signed_in = Client(headers={"host": "127.0.0.1"}, raise_request_exception=False)
    signed_in.force_login(
        get_user_model().objects.get(username="ranger"), backend="django.contrib.auth.backends.ModelBackend"
    )
    return signed_in


def real(path: str, number: object = 1) -> str:
    """The address with this number for everything that has one."""
    for name in ("class_id", "run_id", "wall_id", "recording_id", "member_id", "number"):
        path = path.replace(f"{{{name}}}", str(number))
    return path.replace("{key}", "tobin").replace("{job_id}", "nothing").replace("{kind}", "rooms")


def kind_for(path: str) -> str:
    """How what is sent to an address is called."""
    return "application/octet-stream" if takes_files(real(path)) else "application/json"


@pytest.mark.parametrize("what", BODIES)
def test_no_body_breaks_an_endpoint(client: Client, what: str) -> None:
    for method, path in WRITES:
        answer = client.generic(method, real(path), BODIES[what], content_type=kind_for(path))
        assert answer.status_code in (400, 404, 422), (method, path, answer.content[:300])
        told = answer.json()
        if answer.status_code == 400:
            assert told["message"].startswith(("That is no JSON", "Lists and objects")), told
        else:
            assert told.get("message") or told.get("faults") or told.get("text_faults"), told


@pytest.mark.parametrize("what", ["a hundred thousand deep", "four hundred nines"])
def test_a_body_where_none_belongs_breaks_nothing(client: Client, what: str) -> None:
    for method, path in ENDPOINTS:
        if method in ("GET", "DELETE"):
            answer = client.generic(method, real(path, 10**9), BODIES[what], content_type="application/json")
            assert answer.status_code in (200, 204, 404, 422), (method, path, answer.content[:300])


@pytest.mark.parametrize("number", [10**25, -1, 0, 2**63, "1.5", "%00", "½", "9" * 400, "%ED%A0%80"])
def test_no_number_in_an_address_breaks_an_endpoint(client: Client, number: object) -> None:
    for method, path in ENDPOINTS:
        if ("_id}" in path and "{job_id}" not in path) or "{number}" in path:
            answer = client.generic(method, real(path, number), b"{}", content_type=kind_for(path))
            assert answer.status_code in (404, 422), (method, path, answer.content[:300])
            assert answer.json()


@pytest.mark.parametrize("key", ["%00", "x" * 300, "½", "..", "%ED%A0%80", "a%20b", "<script>"])
def test_no_name_in_an_address_breaks_an_endpoint(client: Client, key: str) -> None:
    for method, path in ENDPOINTS:
        if "{key}" in path:
            address = real(path.replace("{key}", key))
            answer = client.generic(method, address, b'{"retired": false}', content_type="application/json")
            assert answer.status_code in (200, 404, 422), (method, path, answer.content[:300])


@pytest.mark.parametrize(
    "moment",
    [
        "0001-01-01T00:00:00+14:00",
        "9999-12-31T23:59:59-14:00",
        "0001-01-01T00:00:00",
        "+262143-01-01T00:00:00Z",
        1e18,
        -1e18,
    ],
)
def test_no_date_is_too_far(client: Client, moment: object) -> None:
    planned = PlannedClass.objects.get(key="long-carry")
    body = {"class_id": planned.pk, "revision": 1, "began_at": moment}
    answer = client.post("/api/runs/past", json.dumps(body), content_type="application/json")
    assert answer.status_code == 422
    assert answer.json()["faults"][0]["field"] == "began_at"


@pytest.mark.parametrize("year", ["0001", "9999", "1999"])
def test_no_date_in_a_recording_is_too_far(client: Client, year: str) -> None:
    rows = "\n".join(f"{year}-11-24T19:{at // 60:02d}:{at % 60:02d}+14:00,{100 + at % 20}" for at in range(900))
    run = Run.objects.get(saved_as__planned_class__key="long-carry")
    path = f"/api/runs/{run.pk}/recordings?person=tobin&name=a.csv"
    answer = client.post(path, f"time,bpm\n{rows}", content_type="application/octet-stream")
    assert answer.status_code == 422
    assert "between 2000 and 2100" in answer.json()["faults"][0]["right"]


def test_what_is_unexpected_is_told_and_logged_by_number_and_without_a_word_of_it(
    client: Client, monkeypatch: pytest.MonkeyPatch, caplog: pytest.LogCaptureFixture
) -> None:
    from planning import keeping

    def fails(*_: object) -> None:
        raise RuntimeError("body mass 91.7 kg of Oskar")

    monkeypatch.setattr(keeping, "forecast_of", fails)
    plan = PlannedClass.objects.get(key="long-carry").revisions.latest("number").document
    with caplog.at_level(logging.ERROR, "oaken.server"):
        answer = client.post("/api/forecast", json.dumps({"plan": plan}), content_type="application/json")
    assert answer.status_code == 500
    number = answer["X-Request-Number"]
    assert f"(No. {number})" in answer.json()["message"]
    (record,) = [record for record in caplog.records if record.name == "oaken.server"]
    written = record.getMessage()
    assert written.startswith(f"{number} POST api/forecast: builtins.RuntimeError at ")
    assert "test_numbers.py" in written
    assert "fails" in written
    assert "91.7" not in written
    assert "Oskar" not in written


def test_tracebacks_of_other_loggers_tell_no_values_either() -> None:
    from config.logs import WithoutValues

    formatter: Callable[[logging.LogRecord], str] = WithoutValues("{message}", style="{").format
    try:
        raise ValueError("secret 91.7") from KeyError("Oskar")
    except ValueError as error:
        record = logging.LogRecord(
            "x", logging.ERROR, "", 1, "it failed", (), (type(error), error, error.__traceback__)
        )
    written = formatter(record)
    assert written.startswith("it failed")
    assert "ValueError at test_numbers.py" in written
    assert "KeyError" in written
    assert "91.7" not in written
    assert "Oskar" not in written
