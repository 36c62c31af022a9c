"""A scheme whose sets differ, from the log to the next class: proposed, taken, set, forecast, printed and exported."""

from __future__ import annotations

from collections.abc import Callable
from datetime import timedelta
from typing import Any

import pytest
from django.test import Client
from django.utils import timezone
from logbook import runs
from oaken.plan import ClassPlan
from people.models import Lift, core_people
from planning import keeping as plans
from studio.models import Studio

Send = Callable[..., Any]
REPS, KG = (12, 10, 8, 6), (60.0, 65.0, 70.0, 75.0)
LIFT = "leg-press"


@pytest.fixture
def falling(demo: Studio) -> int:
    """A class of leg presses of 12, 10, 8 and 6 without a load in it, for two people."""
    document = plans.plan_of(demo.classes.get(key="machine-pairs").revisions.latest("number")).model_dump()
    block = next(item for item in document["blocks"] if item["kind"] == "sets")
    group = block["groups"][0]
    slot = next(item for item in group["slots"] if item["exercise"] == LIFT)
    run = {**slot["sets"][0], "times": 1, "rest_s": 90}
    segment = {**run["segments"][0], "reps_to": None, "load": None, "change": None, "to_failure": False}
    slot["sets"] = [{**run, "segments": [{**segment, "reps": reps}]} for reps in REPS]
    document |= {
        "name": "Falling",
        "blocks": [{**block, "rotation": None, "groups": [{**group, "slots": [slot]}]}],
        "people": ["tobin", "ines"],
        "together": [], "apart": [], "newcomers": [],
    }  # fmt: skip
    made = plans.create(demo, ClassPlan.model_validate(document))
    return int(made.planned_class.pk)


def logged(send: Send, class_id: int, reps: tuple[int, ...] = REPS) -> None:
    """The class as it was held two days ago, typed in: what Tobin lifted."""
    began = timezone.now() - timedelta(days=2)
    body = {"class_id": class_id, "revision": 1, "began_at": began.isoformat(), "people": ["tobin", "ines"]}
    run = send("POST", "/api/runs/past", body)[1]["id"]
    rows = [item for item in send("GET", f"/api/runs/{run}/book")[1]["log"] if item["person"] == "tobin"]
    now = timezone.now().isoformat()
    events = [
        {"id": f"s{row['number']}", "kind": "set_done", "happened_at": now, "person": "tobin", "part": row["part"],
         "number": row["number"], "load_kg": kg, "reps": count}
        for row, kg, count in zip(rows, KG, reps, strict=True)
    ]  # fmt: skip
    assert send("POST", f"/api/runs/{run}/events", {"events": events})[0] == 200


def proposed(send: Send, class_id: int) -> Any:
    """What is proposed for Tobin."""
    status, told = send("POST", f"/api/classes/{class_id}/next-loads", {"today": {}})
    assert status == 200
    return next(item for item in told if item["person"] == "tobin" and item["exercise"] == LIFT)


def test_a_scheme_done_as_planned_goes_up_as_a_whole(demo: Studio, send: Send, falling: int) -> None:
    logged(send, falling)
    proposal = proposed(send, falling)["proposal"]
    assert proposal["do"] == "add", proposal
    assert [item["low"] for item in proposal["sets"]] == list(REPS)
    assert all(item["load_kg"] > kg for item, kg in zip(proposal["sets"], KG, strict=True))
    assert "(12, 10, 8, 6)" in proposal["reason"]
    assert proposal["rests_on"][0].startswith("60 kg × 12; 65 kg × 10; 70 kg × 8; 75 kg × 6 on")


def test_a_miss_holds_all_of_it_and_is_named(demo: Studio, send: Send, falling: int) -> None:
    logged(send, falling, (12, 10, 7, 6))
    proposal = proposed(send, falling)["proposal"]
    assert (proposal["do"], "set 3 ended at 7 of 8" in proposal["reason"]) == ("repeat", True)


def test_what_is_taken_stands_set_by_set_in_the_next_class(
    demo: Studio, send: Send, falling: int, upload: Callable[..., Any], client: Client
) -> None:
    logged(send, falling)
    loads = [item["load_kg"] for item in proposed(send, falling)["proposal"]["sets"]]
    taken = {"person": "tobin", "exercise": LIFT, "load_kg": max(loads), "sets_kg": loads}
    status, told = send("PUT", "/api/next-loads", {"taken": [{**taken, "load_kg": 60}]})
    assert (status, told["faults"][0]["path"]) == (422, "taken.0.sets_kg")
    assert not Lift.objects.filter(person__studio=demo, working_kg__isnull=False).exists()
    assert send("PUT", "/api/next-loads", {"taken": [taken]}) == (200, {"changed": 1})
    assert send("PUT", "/api/next-loads", {"taken": [taken]}) == (200, {"changed": 0})

    plan = send("GET", f"/api/classes/{falling}")[1]["plan"]
    sheet = next(row for row in send("POST", "/api/loads", {"plan": plan})[1] if row["person"] == 1)
    assert [item["loadings"][0]["load"]["set_kg"] for item in sheet["sets"]] == loads
    volume = send("POST", "/api/forecast", {"plan": plan})[1]["people"][0]["figures"]["volume_load"]["value"]
    assert volume == pytest.approx(sum(kg * reps for kg, reps in zip(loads, REPS, strict=True)), abs=0.5)
    (person,) = core_people(demo, ["tobin"])
    assert person.working_sets_kg[LIFT] == tuple(loads)
    assert proposed(send, falling)["working_sets_kg"] == loads

    # the table says so, and reads it back
    table = client.get("/api/tables/loads").getvalue().decode()
    assert "/".join(f"{kg:g}" for kg in loads) in table
    assert {row["outcome"] for row in upload("/api/tables/loads", table, keep=True)[1]["rows"]} <= {"the same"}
    file = f"person_id,exercise_id,working_sets_kg\ntobin,{LIFT},50/55/60\n"
    assert upload("/api/tables/loads", file, keep=True)[0] == 200
    lift = Lift.objects.get(person__key="tobin", exercise=LIFT)
    assert (lift.working_kg, lift.working_sets_kg) == (60, [50, 55, 60])
    # the loads of sets are taken away by themselves, and never kept without their working load
    upload("/api/tables/loads", f"person_id,exercise_id,working_sets_kg\ntobin,{LIFT},-\n", keep=True)
    lift.refresh_from_db()
    assert (lift.working_kg, lift.working_sets_kg) == (60, [])
    both = upload("/api/tables/loads", f"person_id,exercise_id,working_kg,working_sets_kg\ntobin,{LIFT},-,50/60\n")[1]
    assert both["rows"][0]["outcome"] == "faulty"
    upload("/api/tables/loads", file, keep=True)
    # another working load is one for all sets
    upload("/api/tables/loads", f"person_id,exercise_id,working_kg\ntobin,{LIFT},62.5\n", keep=True)
    lift.refresh_from_db()
    assert (lift.working_kg, lift.working_sets_kg) == (62.5, [])


@pytest.mark.parametrize("cell", ["60/x/70", "60/950", "60", "/".join(["50"] * 61)])
def test_loads_that_are_none_are_refused_at_their_line(cell: str, demo: Studio, upload: Callable[..., Any]) -> None:
    file = f"person_id,exercise_id,working_sets_kg\ntobin,{LIFT},{cell}\n"
    status, told = upload("/api/tables/loads", file)
    assert (status, told["rows"][0]["outcome"]) == (200, "faulty")
    assert "working_sets_kg" in told["rows"][0]["faults"][0]["path"]


def test_the_heaviest_set_is_the_working_load_of_a_record(demo: Studio, send: Send) -> None:
    kept = send("GET", "/api/people/tobin")[1]
    record = kept["record"]
    record["person"] |= {"working_kg": {LIFT: 70}, "working_sets_kg": {LIFT: [60, 65]}}
    body = {"based_on": kept["revision"], "record": record}
    assert send("PUT", "/api/people/tobin", body)[0] == 422
    record["person"]["working_sets_kg"] = {LIFT: [60, 70]}
    assert send("PUT", "/api/people/tobin", body)[0] == 200
    assert send("GET", "/api/people/tobin")[1]["record"]["person"]["working_sets_kg"] == {LIFT: [60, 70]}


def test_every_set_of_the_next_class_has_its_target(demo: Studio, send: Send, falling: int) -> None:
    logged(send, falling)
    run = send("POST", "/api/runs", {"class_id": falling, "revision": 1})[1]["id"]
    cards = {card["person"]: card for card in send("GET", f"/api/runs/{run}/cards")[1]}
    (targets,) = cards["tobin"]["targets"]
    assert targets["exercise"] == LIFT
    assert [(item["number"], item["last"]["load_kg"], item["last"]["reps"]) for item in targets["sets"]] == [
        (number, kg, reps) for number, (kg, reps) in enumerate(zip(KG, REPS, strict=True), 1)
    ]
    for kind in ("people", "log-sheet"):
        status, paper = send("POST", f"/api/runs/{run}/papers", {"kind": kind})
        assert status == 200
        assert "65 kg × 10" in str(paper), kind


def test_targets_are_of_this_scheme_alone(demo: Studio, send: Send, falling: int) -> None:
    held = runs.simulate(demo, demo.classes.get(key="machine-pairs"), timezone.now() - timedelta(days=3), 1)
    assert held.done_sets.filter(exercise=LIFT, person__key="tobin").exists()
    run = send("POST", "/api/runs", {"class_id": falling, "revision": 1})[1]["id"]
    cards = send("GET", f"/api/runs/{run}/cards")[1]
    assert all(card["targets"] == [] for card in cards)
