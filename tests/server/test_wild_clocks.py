"""A belt, a browser or a program with a wild clock: refused at its place, and nothing of the class stops answering."""

from __future__ import annotations

import json
from collections.abc import Callable
from datetime import UTC, datetime, timedelta
from importlib import import_module
from types import SimpleNamespace
from typing import Any

import pytest
from django.apps import apps
from django.db import connection
from django.test import Client
from logbook.models import LiveHeart, Recording, Run
from oaken.heart_data.recordings.packets import Measurement, encode
from people.models import Person
from studio.models import Studio
from test_what_was_done import add, opened

Send = Callable[..., tuple[int, Any]]
pytestmark = pytest.mark.usefixtures("demo")
WILD = ["9999-12-31T23:59:59Z", "1970-01-01T00:00:00Z", "0001-01-01T00:00:00+14:00", "2026-11-30T12:00:00", "2099-06-01",
        "+275760-09-13T00:00:00Z"]  # fmt: skip


def every_answer(client: Client, run: int) -> list[int]:
    """What is asked of a run that was given something wild, and an event after its end."""
    late = {"id": "late", "kind": "noted", "happened_at": datetime.now(UTC).isoformat(), "words": "water"}
    note = json.dumps({"events": [late]})
    return [
        client.get(f"/api/runs/{run}/hearts").status_code,
        client.get(f"/api/runs/{run}/live").status_code,
        client.get(f"/api/runs/{run}/book").status_code,
        client.post(f"/api/runs/{run}/events", data=note, content_type="application/json").status_code,
        client.get("/api/studio/file").status_code,
        client.get("/api/today").status_code,
    ]


def test_a_packet_of_no_time_is_refused_and_everything_answers(send: Send, client: Client) -> None:
    live = opened(send, "Stretcher legs")
    person = live["sheets"][0]["people"][0]["id"]
    packet = encode(Measurement(120, contact=True)).hex()
    add(send, live["id"], (0, "began", {}))
    for wild in WILD:
        body = {"person": person, "packets": [{"at": wild, "hex": packet}]}
        status, answer = send("POST", f"/api/runs/{live['id']}/packets", body)
        assert status == 422, (wild, answer)
        assert "packets" in answer["faults"][0]["path"]
    # one that is good and one that is not: nothing of both is kept
    now = datetime.now(UTC).isoformat()
    mixed = [{"at": now, "hex": packet}, {"at": WILD[0], "hex": packet}]
    assert send("POST", f"/api/runs/{live['id']}/packets", {"person": person, "packets": mixed})[0] == 422
    assert not LiveHeart.objects.filter(run=live["id"], first_at__year__gt=2098).exists()
    add(send, live["id"], (4000, "ended", {}), named="over")
    assert every_answer(client, live["id"]) == [200] * 6


def test_a_clock_that_is_ahead_counts_as_now_and_an_old_one_is_of_another_class(send: Send) -> None:
    live = opened(send, "Stretcher legs")
    person = live["sheets"][0]["people"][0]["id"]
    packet = encode(Measurement(120, contact=True)).hex()

    def sent(moment: datetime) -> int:
        body = {"person": person, "packets": [{"at": moment.isoformat(), "hex": packet}]}
        return send("POST", f"/api/runs/{live['id']}/packets", body)[0]

    now = datetime.now(UTC)
    assert sent(now + timedelta(days=900)) == 200
    assert LiveHeart.objects.get(run=live["id"]).first_at < now + timedelta(minutes=5)
    assert sent(now - timedelta(hours=13)) == 422


def test_what_a_run_holds_from_before_keeps_nothing_else_back(demo: Studio, send: Send, client: Client) -> None:
    live = opened(send, "Stretcher legs")
    key = live["sheets"][0]["people"][0]["id"]
    person = Person.objects.get(studio=demo, key=key)
    run = Run.objects.get(pk=live["id"])
    add(send, live["id"], (0, "began", {}))
    far = datetime(2099, 12, 31, tzinfo=UTC)
    LiveHeart.objects.create(run=run, person=person, first_at=far, seconds=[0.0, 1.0], bpm=[100.0, 101.0])
    add(send, live["id"], (4000, "ended", {}), named="over")
    assert every_answer(client, live["id"]) == [200] * 6
    Recording.objects.create(run=run, person=person, source="x" * 10, seconds=[0, 1e12], bpm=[100, 101], offset_s=1e13)
    assert client.get("/api/studio/file").status_code == 200


def test_bad_rows_of_an_earlier_version_are_migrated_away(demo: Studio, send: Send) -> None:
    live = opened(send, "Stretcher legs")
    person = Person.objects.filter(studio=demo)[0]
    run = Run.objects.get(pk=live["id"])
    good = LiveHeart.objects.create(run=run, person=person, first_at=datetime.now(UTC), seconds=[0, 1], bpm=[90, 91])
    wild = [
        LiveHeart.objects.create(
            run=run, person=person, first_at=datetime.now(UTC), seconds=[0, 2.5e11], bpm=[90, 91]
        ).pk
    ]
    for moment in ("9999-12-31 23:59:59.999999", "1970-01-01 00:00:00", "0001-01-01 00:00:00"):
        wild.append(
            LiveHeart.objects.create(run=run, person=person, first_at=datetime.now(UTC), seconds=[0], bpm=[90]).pk
        )
        with connection.cursor() as cursor:
            cursor.execute("update logbook_liveheart set first_at = %s where id = %s", [moment, wild[-1]])
    import_module("logbook.migrations.0011_wild_clocks").drop(apps, SimpleNamespace(connection=connection))
    assert list(LiveHeart.objects.filter(run=run).values_list("pk", flat=True)) == [good.pk]
