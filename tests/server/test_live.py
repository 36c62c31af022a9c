"""The live class on the server: events are kept once, told by role, and settle into a class that was held."""

from __future__ import annotations

import json
from collections.abc import Callable
from datetime import timedelta
from pathlib import Path
from typing import Any

import pytest
from django.contrib.auth import get_user_model
from django.test import Client
from django.utils import timezone
from logbook import keeping, runs
from logbook.models import Recording, Run, RunEvent
from oaken.forecast import forecast
from oaken.heart_data.recordings.packets import Measurement, encode
from oaken.schedule.class_file.reading import load_class
from oaken.session import read_log
from people.models import Person
from planning.models import PlannedClass
from running import keeping as passes

Send = Callable[..., tuple[int, Any]]
pytestmark = pytest.mark.usefixtures("demo")


@pytest.fixture
def run(send: Send) -> Run:
    """A class that is ready to be run."""
    planned = PlannedClass.objects.get(key="stretcher-legs")
    status, opened = send("POST", "/api/runs", {"class_id": planned.pk, "revision": 1})
    assert (status, opened["state"]) == (201, "ready")
    return Run.objects.get(pk=opened["id"])


def event(count: int, kind: str, seconds_ago: float = 0, **more: Any) -> dict[str, Any]:
    moment = timezone.now() - timedelta(seconds=seconds_ago)
    return {"id": f"t-{count}", "kind": kind, "happened_at": moment.isoformat(), "device": "t", **more}


def append(send: Send, run: Run, *events: dict[str, Any]) -> dict[str, Any]:
    status, kept = send("POST", f"/api/runs/{run.pk}/events", {"events": list(events)})
    assert status == 200, kept
    found: dict[str, Any] = kept
    return found


def helper() -> Client:
    client = Client(headers={"host": "127.0.0.1"})
    client.force_login(get_user_model().objects.get(username="helper"))
    return client


def test_an_event_that_is_sent_twice_counts_once_and_a_faulty_one_keeps_nobody_back(send: Send, run: Run) -> None:
    began = event(1, "began", 60)
    faulty = event(2, "time_added", seconds=-4)
    kept = append(send, run, began, faulty, event(3, "paused"), {"kind": "nothing"})
    assert kept["kept"] == ["t-1", "t-3"]
    assert [item["id"] for item in kept["refused"]] == ["t-2", ""]
    assert "seconds" in kept["refused"][0]["message"]
    again = append(send, run, {**began, "happened_at": timezone.now().isoformat()}, event(3, "paused"))
    assert again["kept"] == ["t-1", "t-3"]
    assert RunEvent.objects.filter(run=run).count() == 2
    first = runs.events_of(run)[0][1]
    assert first.happened_at.isoformat()[:19] == began["happened_at"][:19]
    assert (first.by, first.device) == ("ranger", "t")


def test_a_clock_that_is_far_ahead_counts_as_now(send: Send, run: Run) -> None:
    append(send, run, event(1, "began", -3600))
    happened = runs.events_of(run)[0][1].happened_at
    assert abs((happened - timezone.now()).total_seconds()) < 5


def test_a_device_that_takes_a_run_up_gets_sheets_and_everything_that_happened(send: Send, run: Run) -> None:
    append(send, run, event(1, "began", 60), event(2, "unit_lost", 30, unit=runs.file_of(run).room.units[0].id))
    _, live = send("GET", f"/api/runs/{run.pk}/live")
    assert [item["kind"] for item in live["events"]] == ["began", "unit_lost"]
    assert [sheet["after"] for sheet in live["sheets"]] == [[], ["t-2"]]
    assert live["seq"] == live["events"][-1]["seq"]
    assert live["slot_s"] == runs.file_of(run).plan.slot_min * 60
    lost = [{item["id"] for item in sheet["units"] if item["lost"]} for sheet in live["sheets"]]
    assert lost[1] - lost[0] == {runs.file_of(run).room.units[0].id}


def test_a_class_that_ends_is_settled_and_opens_again_when_that_is_taken_back(send: Send, run: Run) -> None:
    people = runs.file_of(run).plan.people
    append(send, run, event(1, "began", 600), event(2, "left", 600, person=people[0]), event(3, "ended"))
    ended = Run.objects.get(pk=run.pk)
    assert ended.people_count == len(people) - 1
    assert set(ended.attendances.values_list("person__key", flat=True)) == set(people[1:])
    whole = sum(person.figures.energy.value for person in forecast(runs.file_of(run)).people)
    assert 0 < ended.kcal_total < whole / 2  # ten minutes of the whole class
    append(send, run, event(4, "withdrawn", event="t-3"))
    again = Run.objects.get(pk=run.pk)
    assert (again.ended_at, again.people_count, again.kcal_total) == (None, 0, 0.0)
    assert again.attendances.count() == 0


def test_a_class_that_was_held_as_planned_has_the_plans_own_figures(send: Send) -> None:
    planned = PlannedClass.objects.get(key="stretcher-legs")
    body = {"class_id": planned.pk, "revision": 1, "began_at": "2026-11-24T19:00:00Z"}
    run = Run.objects.get(pk=send("POST", "/api/runs/past", body)[1]["id"])
    told = forecast(runs.file_of(run))
    assert run.kcal_total == pytest.approx(sum(person.figures.energy.value for person in told.people), abs=0.1)
    assert run.ended_at is not None
    assert run.began_at is not None
    assert (run.ended_at - run.began_at).total_seconds() == pytest.approx(told.length.value, abs=0.01)


WORDS = "zq-not-for-everybody"


def test_assistants_and_the_wall_read_nothing_that_was_written_of_anybody(send: Send, run: Run) -> None:
    first, second = runs.file_of(run).plan.people[:2]
    append(
        send, run, event(1, "began", 60), event(2, "stopped_for", 50, person=first, words=WORDS),
        event(3, "noted", 40, person=second, words=WORDS), event(4, "effort_told", 30, person=second, effort=17),
        event(5, "set_done", 20, person=second, part=runs.file_of(run).plan.blocks[0].id, number=1, note=WORDS),
        event(6, "noted", 10, words="bring more chalk"),
    )  # fmt: skip
    whole = json.dumps(send("GET", f"/api/runs/{run.pk}/live")[1])
    assert whole.count(WORDS) == 3
    told = helper().get(f"/api/runs/{run.pk}/live").json()
    assert WORDS not in json.dumps(told)
    assert [item["kind"] for item in told["events"]] == ["began", "left", "set_done", "noted"]
    assert told["events"][1]["person"] == first
    assert told["events"][3]["words"] == "bring more chalk"
    status, wall = send("POST", f"/api/runs/{run.pk}/walls", {"names": "numbers"})
    assert status == 201
    nobody = Client(headers={"host": "127.0.0.1"})
    shown = nobody.get(f"/api{wall['path']}")
    seen = shown.json()
    assert [seen_item["kind"] for seen_item in seen["events"]] == ["began", "left", "set_done"]
    # that a set is over is told, and nothing of what was lifted in it
    told_of_a_set = {"seq", "id", "kind", "happened_at", "received_at", "device", "person", "part", "number", "unit"}
    assert set(seen["events"][2]) <= told_of_a_set
    text = shown.content.decode()
    assert all(person.key not in text and person.name not in text for person in Person.objects.all())
    assert all(item["sets"] == [] for sheet in seen["sheets"] for item in sheet["people"])
    assert seen["events"][1]["person"] == "1"
    assert send("DELETE", f"/api/runs/{run.pk}/walls/{wall['id']}")[0] == 204
    assert nobody.get(f"/api{wall['path']}").status_code == 404


def test_erasing_somebody_blots_out_what_was_written_of_them_in_runs(send: Send, run: Run) -> None:
    append(
        send, run, event(1, "began", 60), event(2, "stopped_for", 10, person="tobin", words=WORDS), event(3, "ended")
    )
    assert WORDS in json.dumps(send("GET", "/api/people/tobin/everything")[1])
    keeping.erase(Person.objects.get(key="tobin"))
    text = json.dumps([row.body for row in RunEvent.objects.filter(run=run)])
    assert WORDS not in text
    assert "tobin" not in text
    assert "gone-1" in text
    assert Run.objects.get(pk=run.pk).people_count == 12


def test_belts_send_packets_that_are_decoded_kept_and_become_recordings(send: Send, run: Run) -> None:
    began = timezone.now() - timedelta(seconds=400)
    append(send, run, {**event(1, "began"), "happened_at": began.isoformat()})
    token = passes.belt_pass(run).token
    belt = Client(headers={"host": "127.0.0.1"})

    def send_packets(person: str, *packets: tuple[float, bytes]) -> tuple[int, Any]:
        body = {
            "person": person,
            "packets": [
                {"at": (began + timedelta(seconds=at)).isoformat(), "hex": packet.hex()} for at, packet in packets
            ],
        }
        answer = belt.post(f"/api/belts/{token}", json.dumps(body), content_type="application/json")
        return answer.status_code, answer.json()

    packets = [(float(second), encode(Measurement(120 + second % 5, contact=True))) for second in range(60, 400)]
    assert send_packets("tobin", *packets) == (200, {"readings": 340})
    assert send_packets("tobin", (399.5, b""))[0] == 422
    assert send_packets("nobody", packets[0])[0] == 422
    status, told = send("GET", f"/api/runs/{run.pk}/hearts")
    assert status == 200
    own = next(item for item in told if item["person"] == "tobin")
    assert own["bpm"] == 120 + 399 % 5
    assert own["expected_bpm"] > 40
    # whoever takes heart medication is asked for effort, with a belt or without one
    assert [item["person"] for item in told if not item["applies"]] == ["petra"]
    assert helper().get(f"/api/runs/{run.pk}/hearts").status_code == 403
    append(send, run, event(2, "ended"))
    kept = Recording.objects.get(run=run)
    assert (kept.person.key, kept.source, len(kept.bpm)) == ("tobin", "belt", 340)
    assert kept.offset_s == pytest.approx(60, abs=0.1)
    assert belt.post("/api/belts/nothing", "{}", content_type="application/json").status_code in (404, 422)


def test_a_card_tells_settings_to_everybody_and_care_and_notes_to_instructors(send: Send, run: Run) -> None:
    append(send, run, event(1, "noted", person="oskar", words=WORDS))
    own = next(item for item in send("GET", f"/api/runs/{run.pk}/cards")[1] if item["person"] == "oskar")
    assert own["settings"]
    assert own["careful"]
    assert own["last_note"] == WORDS
    bare = next(item for item in helper().get(f"/api/runs/{run.pk}/cards").json() if item["person"] == "oskar")
    assert bare == {**own, "careful": [], "last_note": ""}
    # what the class itself says of a unit stands before what was written down there
    file = run.file
    assert file is not None
    file["plan"]["settings"] = [{"person": "oskar", "unit": "press", "values": {"seat": "9"}}]
    run.save(update_fields=["file"])
    own = next(item for item in send("GET", f"/api/runs/{run.pk}/cards")[1] if item["person"] == "oskar")
    assert own["settings"]["press"] == "seat 9"


def test_the_run_log_goes_out_and_the_core_reads_it_back(send: Send, run: Run, client: Client) -> None:
    append(send, run, event(1, "began", 60), event(2, "paused"))
    answer = client.get(f"/api/runs/{run.pk}/log")
    assert answer.headers["Content-Disposition"].startswith("attachment")
    text = answer.content.decode()
    file, events = read_log(
        text.splitlines(), lambda name: load_class(Path(name))
    )  # the class file is in it: none is looked for
    assert file == runs.file_of(run)
    assert [event.kind for event in events] == ["began", "paused"]
    assert helper().get(f"/api/runs/{run.pk}/log").status_code == 403
