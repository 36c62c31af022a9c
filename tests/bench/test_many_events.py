"""What a class with half of the events that are permitted costs, screens on which nothing happens, and a line that
is longer than any."""

from __future__ import annotations

import io
import json
import os
import time
import zipfile
from collections.abc import Iterator
from datetime import UTC, datetime, timedelta
from hashlib import sha256
from pathlib import Path
from typing import Any

import pytest
from django.test import Client
from logbook import runs
from logbook.models import Run, RunEvent
from oaken.basis.faults import FaultyInput
from oaken.basis.limits import most
from oaken.exports.studio_file import StudioReader
from planning.models import PlannedClass
from pytest_django.plugin import DjangoDbBlocker
from serving import ask, serving, signed_in
from showing import show
from studio.models import Studio
from test_live_class import Screen

HALF = most("run.events") // 2
BEGAN = datetime.now(UTC).replace(microsecond=0) - timedelta(hours=2)
IDLE_SCREENS, IDLE_S = 40, 20.0
MANIFEST = {"format": "oaken-studio/1", "name": "A mill", "made_at": "2026-11-30T12:00:00Z"}


@pytest.fixture(scope="module")
def busy_run(django_db_setup: None, django_db_blocker: DjangoDbBlocker) -> Iterator[Run]:
    """A run of the demo under way in which half of the events that can be kept have happened: sets of everybody."""
    with django_db_blocker.unblock():
        planned = PlannedClass.objects.get(key="machine-pairs")
        studio = Studio.objects.order_by("pk")[0]
        run = runs.open_run(studio, planned, planned.revisions.latest("number").number)
        file = runs.file_of(run)
        parts, people = [part.id for part in file.plan.parts()], file.plan.people
        began: dict[str, Any] = {"id": "began", "kind": "began", "happened_at": BEGAN.isoformat()}
        sets = [
            {
                "id": f"s{number}",
                "kind": "set_done",
                "happened_at": (BEGAN + timedelta(seconds=number / 3)).isoformat(),
                "person": people[number % len(people)],
                "part": parts[number % len(parts)],
                "number": number // len(parts) % 40 + 1,
                "reps": 8,
                "load_kg": 40,
            }
            for number in range(HALF - 1)
        ]
        events = [began, *sets]
        for at in range(0, len(events), 500):
            assert not runs.append(run, events[at : at + 500], "ranger").refused
        yield run
        run.delete()


def _press(client: Client, run: Run, named: str, **fields: Any) -> float:
    """Milliseconds until an event is acknowledged."""
    event = {"id": named, "happened_at": datetime.now(UTC).isoformat(), **fields}
    began = time.perf_counter()
    told = client.post(f"/api/runs/{run.pk}/events", json.dumps({"events": [event]}), content_type="application/json")
    taken = 1000 * (time.perf_counter() - began)
    assert told.json()["kept"] == [named], told.content
    return taken


@pytest.mark.django_db
def test_an_event_of_a_class_with_very_many(busy_run: Run, client: Client) -> None:
    client.force_login(busy_run.studio.members.get(role="instructor", user__username="ranger").user)
    part = RunEvent.objects.filter(run=busy_run, kind="set_done")[0].body["part"]
    person = RunEvent.objects.filter(run=busy_run, kind="set_done")[0].body["person"]
    done = {"kind": "set_done", "person": person, "part": part, "number": 1, "reps": 9}
    taken = sorted(_press(client, busy_run, f"more-{number}", **done) for number in range(9))
    show(f"a set written down in a class with {HALF:,} events", taken[4], "ms", 50)
    _press(client, busy_run, "ended", kind="ended")
    taken = sorted(_press(client, busy_run, f"n-{number}", kind="noted", words="sore") for number in range(9))
    show(f"a note after the end of a class with {HALF:,} events", taken[4], "ms", 50)


def test_screens_on_which_nothing_happens(tmp_path: Path) -> None:
    with serving(tmp_path, dict(os.environ), warm=False) as (address, process):
        session = signed_in(address)
        run = ask(address, session, "POST", "/api/runs", {"class_id": 1, "revision": 1})["id"]
        screens = [Screen(address, session, run) for _ in range(IDLE_SCREENS)]
        for screen in screens:
            screen.start()
            assert screen.ready.wait(20)
        before = _cpu_s(process)
        time.sleep(IDLE_S)  # what is measured is that nothing happens
        share = (_cpu_s(process) - before) / IDLE_S
        for screen in screens:
            screen.answer.close()
    show(f"a core's time for {IDLE_SCREENS} screens on which nothing happens", 100 * share, "%", 2)


def _cpu_s(process: int) -> float:
    told = Path(f"/proc/{process}/stat").read_text(encoding="ascii").rsplit(")", 1)[1].split()
    return (int(told[11]) + int(told[12])) / os.sysconf("SC_CLK_TCK")


def test_one_line_of_300_mb(tmp_path: Path) -> None:
    """A file of a studio whose one line is far too long is refused after a part of it, and no slower than it is
    unpacked."""
    line = b"x" * 300_000_000
    packed = tmp_path / "long.zip"
    with zipfile.ZipFile(packed, "w", zipfile.ZIP_DEFLATED) as out:
        out.writestr("rooms.jsonl", line)
        for name in ("studio.json", "people.jsonl"):
            out.writestr(name, b"")
        listed = [{"path": "rooms.jsonl", "bytes": len(line), "sha256": sha256(line).hexdigest()}]
        listed += [
            {"path": name, "bytes": 0, "sha256": sha256(b"").hexdigest()} for name in ("studio.json", "people.jsonl")
        ]
        out.writestr("manifest.json", json.dumps({**MANIFEST, "files": listed}))
    content = packed.read_bytes()
    began = time.perf_counter()
    with zipfile.ZipFile(io.BytesIO(content)) as whole, whole.open("rooms.jsonl") as source:
        while source.read(1 << 16):
            pass
    plain = time.perf_counter() - began
    began = time.perf_counter()
    with pytest.raises(FaultyInput, match="too long"):
        for _ in StudioReader(io.BytesIO(content)).lines("rooms.jsonl"):
            pass
    show("a line of 300 MB refused, against unpacking it", (time.perf_counter() - began) / plain, "×", 1)
