"""A set that is kept says what was done: what nobody could tell is refused, and what was done stays in every answer."""

from __future__ import annotations

from collections.abc import Callable
from datetime import UTC, datetime, timedelta
from typing import Any

import pytest
from logbook import runs
from logbook.models import DoneSet, Run, RunEvent
from studio.models import Studio

Send = Callable[..., tuple[int, Any]]
BEGAN = datetime.now(UTC).replace(microsecond=0) - timedelta(hours=3)
pytestmark = pytest.mark.usefixtures("demo")


def opened(send: Send, name: str) -> dict[str, Any]:
    """A class that is ready to be run, with its sheet."""
    planned = next(item for item in send("GET", "/api/classes")[1] if item["name"].startswith(name))
    run = send("POST", "/api/runs", {"class_id": planned["id"], "revision": planned["revision"]})[1]
    found: dict[str, Any] = send("GET", f"/api/runs/{run['id']}/live")[1]
    return found


def add(send: Send, run: int, *events: tuple[float, str, dict[str, Any]], named: str = "e") -> dict[str, Any]:
    batch = [
        {"id": f"{named}{number}", "kind": kind, "happened_at": (BEGAN + timedelta(seconds=at)).isoformat(), **more}
        for number, (at, kind, more) in enumerate(events)
    ]
    status, answer = send("POST", f"/api/runs/{run}/events", {"events": batch})
    assert status == 200, answer
    return answer


def test_a_set_that_nobody_could_name_is_refused_and_an_added_exercise_is_kept(send: Send) -> None:
    live = opened(send, "Machine pairs")
    person = live["sheets"][0]["people"][0]["id"]
    done = {"person": person, "number": 1, "reps": 5, "load_kg": 60}
    answer = add(
        send, live["id"],
        (0, "began", {}),
        (60, "set_done", {**done, "part": "nowhere"}),
        (61, "set_done", {**done, "part": "unplanned.moon-walk", "exercise": "moon-walk"}),
        (62, "set_done", {**done, "part": "unplanned.back-squat", "exercise": "leg-press"}),
        (63, "set_done", {**done, "part": "unplanned.back-squat", "exercise": "back-squat"}),
        (64, "ended", {}),
    )  # fmt: skip
    assert answer["kept"] == ["e0", "e4", "e5"]
    assert [item["id"] for item in answer["refused"]] == ["e1", "e2", "e3"]
    assert "not in this class" in answer["refused"][0]["message"]
    book = send("GET", f"/api/runs/{live['id']}/book")[1]
    assert [row["exercise"] for row in book["log"] if row["written"] == "done"] == ["back-squat"]
    assert list(DoneSet.objects.filter(run=live["id"]).values_list("exercise", "load_kg", "reps")) == [
        ("back-squat", 60.0, 5)
    ]


def test_the_book_the_records_and_the_table_keep_what_was_done_before_a_machine_broke(
    demo: Studio, send: Send, client: Any
) -> None:
    live = opened(send, "Machine pairs")
    sheet = live["sheets"][0]
    part = next(item for item in sheet["parts"] if item["exercise"] == "hip-thrust")
    at = sheet["parts"].index(part)
    done, last = [], 0.0
    for person in sheet["people"]:
        own = next((item for item in person["sets"] if item["part"] == at and item["number"] == 1), None)
        if own is not None:
            last = max(last, own["ends_s"])
            fields = {"person": person["id"], "part": part["id"], "number": 1, "load_kg": 100, "reps": 13}
            done.append((own["ends_s"] + 1, "set_done", fields))
    assert len(done) > 3
    swap = {"do": "swap_exercise", "slot": part["id"], "exercise": "cable-hip-extension"}
    add(send, live["id"], (0, "began", {}), *done, (last + 5, "changed", {"change": swap}), (9000, "ended", {}))
    book = send("GET", f"/api/runs/{live['id']}/book")[1]
    assert {row["exercise"] for row in book["log"] if row["written"] == "done"} == {"hip-thrust"}
    kept = DoneSet.objects.filter(run=live["id"])
    assert set(kept.values_list("exercise", "load_kg", "reps")) == {("hip-thrust", 100.0, 13)}
    assert kept.count() == len(done)
    table = client.get(f"/api/runs/{live['id']}/sets.csv").content.decode()
    assert all(",hip-thrust," in line for line in table.splitlines() if ",done" in line)
    # a run that an earlier release wrote out wrongly is written out anew
    run = Run.objects.get(pk=live["id"])
    kept.update(exercise="cable-hip-extension")
    Run.objects.filter(pk=run.pk).update(projected=1)
    assert runs.materialise_missing(demo) >= 1
    assert set(DoneSet.objects.filter(run=run).values_list("exercise", flat=True)) == {"hip-thrust"}


def test_a_class_that_runs_is_not_deleted(send: Send) -> None:
    live = opened(send, "Stretcher legs")
    add(send, live["id"], (0, "began", {}))
    status, answer = send("DELETE", f"/api/runs/{live['id']}")
    assert status == 422
    assert "end the class first" in answer["faults"][0]["right"]
    add(send, live["id"], (4000, "ended", {}), named="over")
    assert send("DELETE", f"/api/runs/{live['id']}")[0] == 204
    assert send("DELETE", f"/api/runs/{opened(send, 'Stretcher legs')['id']}")[0] == 204


def test_what_arrives_of_somebody_erased_is_blotted_out(demo: Studio, send: Send) -> None:
    live = opened(send, "Machine pairs")
    run = live["id"]
    block = next(block for block in live["sheets"][0]["blocks"] if block["own_pace"])["id"]
    # an order that was found when a machine was lost names everybody
    visits = {name: [{"group": "any", "sets_s": [10.0]}] for name in ("tobin", "ines")}
    ordered = {"do": "order_visits", "block": block, "rotation": {"visits": visits, "first_come": True}}
    lost = {"unit": "hack", "changes": [ordered]}
    add(send, run, (0, "began", {}), (5, "noted", {"person": "tobin", "words": "his knee"}), (6, "unit_lost", lost))
    assert send("DELETE", "/api/people/tobin/everything")[0] == 204
    swap = {"do": "swap_exercise", "slot": live["sheets"][0]["parts"][0]["id"], "exercise": "wall-sit"}
    answer = add(
        send, run,
        (10, "noted", {"person": "tobin", "words": "his other knee"}),
        (11, "stopped_for", {"person": "tobin", "words": "dizzy"}),
        (12, "noted", {"person": "ines", "words": "fine"}),
        (13, "changed", {"change": swap}),
        (14, "unit_lost", lost),
        named="late",
    )  # fmt: skip
    assert len(answer["kept"]) == 5
    kept = str([each_object.body for each_object in RunEvent.objects.filter(run=run)])
    assert "tobin" not in kept
    assert "knee" not in kept
    assert "dizzy" not in kept
    assert "fine" in kept
    # sent once more it is the same event
    again = add(send, run, (10, "noted", {"person": "tobin", "words": "his other knee"}), named="late")
    assert (again["kept"], again["refused"]) == (["late0"], [])


def test_an_id_that_was_used_for_something_else_is_refused(send: Send) -> None:
    run = opened(send, "Machine pairs")["id"]
    add(send, run, (0, "began", {}), (5, "noted", {"words": "water"}))
    again = add(send, run, (0, "began", {}), (5, "noted", {"words": "water"}))
    assert (again["kept"], again["refused"]) == (["e0", "e1"], [])
    other = add(send, run, (0, "began", {}), (5, "noted", {"words": "chalk"}), (9, "paused", {}))
    assert other["kept"] == ["e0", "e2"]
    assert [item["id"] for item in other["refused"]] == ["e1"]
    assert "something else" in other["refused"][0]["message"]
    assert [each_object.body.get("words") for each_object in RunEvent.objects.filter(run=run, event_id="e1")] == [
        "water"
    ]
    # a moment that was ahead counts as now, and sent again it is the same press
    ahead = (90_000, "time_added", {"seconds": 15})
    assert add(send, run, ahead, named="ahead")["kept"] == ["ahead0"]
    assert add(send, run, ahead, named="ahead")["refused"] == []


def test_a_note_after_the_end_works_nothing_out_again(send: Send, monkeypatch: pytest.MonkeyPatch) -> None:
    run = opened(send, "Machine pairs")["id"]
    add(send, run, (0, "began", {}), (5, "noted", {"words": "x"}), (4000, "ended", {}))
    settled: list[int] = []
    monkeypatch.setattr(runs, "settle", lambda run: settled.append(run.pk))
    add(
        send,
        run,
        (4100, "noted", {"words": "sore"}),
        (4101, "effort_told", {"person": "ines", "effort": 14}),
        named="n",
    )
    add(send, run, (4102, "withdrawn", {"event": "n0"}), named="w")
    assert settled == []
    file = Run.objects.get(pk=run).file
    assert file is not None
    part = file["plan"]["blocks"][0]
    add(send, run, (4103, "as_planned", {"block": part["id"]}), named="p")
    add(send, run, (4104, "withdrawn", {"event": "p0"}), named="v")
    assert settled == [run, run]


def test_a_volume_that_is_known_in_part_is_kept_nowhere_as_the_whole(demo: Studio, send: Send, client: Any) -> None:
    """Of somebody whose loads nobody knows neither the class, the tables nor their own page has a sum."""
    demo.people.get(key="tobin").lifts.all().delete()
    live = opened(send, "Machine pairs")
    add(send, live["id"], (0, "began", {}), (4000, "as_planned", {}), (4001, "ended", {}))
    volume = {
        attendance.person.key: attendance.figures.get("volume_load")
        for attendance in Run.objects.get(pk=live["id"]).attendances.all()
    }
    assert volume["tobin"] is None
    assert any(item is not None and item > 0 for item in volume.values())
    sets = DoneSet.objects.filter(run=live["id"], person__key="tobin", load_kg=None, exercise="leg-press")
    assert sets.exists()
    assert set(sets.values_list("volume_kg", flat=True)) == {None}
    days = send("GET", "/api/people/tobin/progress/leg-press")[1]
    assert (days[0]["run"], days[0]["volume_kg"], days[0]["without_load"]) == (live["id"], None, len(sets))
