"""The floor and the rooms over HTTP: searches that run beside, what-if, replay, rooms kept whole or not at all."""

from __future__ import annotations

import copy
import time
from collections.abc import Callable
from typing import Any

import pytest
from planning import jobs
from planning.models import Revision
from studio.models import MachineUnit, Room
from test_design_api import planned

Send = Callable[..., tuple[int, Any]]
pytestmark = pytest.mark.usefixtures("demo")


def sets_of(plan: dict[str, Any]) -> dict[str, Any]:
    return next(block for block in plan["blocks"] if block["kind"] == "sets")


def until_over(send: Send, job: dict[str, Any]) -> dict[str, Any]:
    """Ask until a search has ended, a minute at most."""
    until = time.monotonic() + 60
    while job["state"] in ("waiting", "running"):
        assert time.monotonic() < until
        # the answer is asked for again and again, as the screen does
        _, job = send("GET", f"/api/rotations/{job['id']}")
    return job


def test_a_rotation_is_searched_watched_and_used(send: Send) -> None:
    plan = planned(send, "Machine")["plan"]
    block = sets_of(plan)["id"]
    status, job = send("POST", "/api/rotations", {"plan": plan, "block": block, "effort": 0.05})
    assert status == 201
    assert job["best"]["length_s"] <= job["before"]["length_s"]
    # the best so far is usable while the search goes on
    status, early = send("GET", f"/api/rotations/{job['id']}/plan")
    assert status == 200
    assert send("POST", "/api/forecast", {"plan": early["plan"]})[0] == 200
    job = until_over(send, job)
    assert (job["state"], job["phase"]) == ("done", "done")
    assert job["bound_s"] <= job["best"]["length_s"] < job["before"]["length_s"]
    _, used = send("GET", f"/api/rotations/{job['id']}/plan")
    _, forecast = send("POST", "/api/forecast", {"plan": used["plan"]})
    drawn = next(item for item in forecast["blocks"] if item["id"] == block)
    assert drawn["end_s"] - drawn["start_s"] == pytest.approx(job["best"]["length_s"], abs=0.2)
    # it is part of the class: saved, read and told in the history
    listed = next(item for item in send("GET", "/api/classes")[1] if item["name"].startswith("Machine"))
    status, saved = send("PUT", f"/api/classes/{listed['id']}", {"based_on": 1, "plan": used["plan"]})
    assert status == 200
    assert sets_of(saved["plan"])["rotation"]["visits"].keys() == set(plan["people"])
    _, history = send("GET", f"/api/classes/{listed['id']}/history")
    assert any("another rotation" in change for change in history[0]["changes"])


def test_a_search_can_be_stopped_and_says_what_it_does_not_know(send: Send) -> None:
    plan = planned(send, "Machine")["plan"]
    _, job = send("POST", "/api/rotations", {"plan": plan, "block": sets_of(plan)["id"], "effort": 10})
    status, _ = send("DELETE", f"/api/rotations/{job['id']}")
    assert status == 200
    job = until_over(send, job)
    assert job["state"] == "cancelled"
    assert send("GET", f"/api/rotations/{job['id']}/plan")[0] == 200
    assert send("GET", "/api/rotations/never")[0] == 404
    assert send("DELETE", "/api/rotations/never")[0] == 404
    assert send("GET", "/api/rotations/never/plan")[0] == 404
    status, answer = send("POST", "/api/rotations", {"plan": plan, "block": plan["blocks"][0]["id"]})
    assert status == 422
    assert "no block of sets" in answer["faults"][0]["message"]


def test_a_wish_that_cannot_be_kept_is_explained_by_the_search(send: Send) -> None:
    plan = planned(send, "Machine")["plan"]
    sets_of(plan)["within_s"] = 1200
    _, job = send("POST", "/api/rotations", {"plan": plan, "block": sets_of(plan)["id"], "effort": 0.05})
    job = until_over(send, job)
    assert "12 people need the hip thrust bench for" in job["why_not"][0]["message"]
    assert job["why_not"][0]["message"].endswith("the block has 20")


def test_only_so_many_searches_are_remembered(send: Send, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(jobs, "MOST_KEPT", 1)
    plan = planned(send, "Machine")["plan"]
    body = {"plan": plan, "block": sets_of(plan)["id"], "effort": 0.05}
    _, first = send("POST", "/api/rotations", body)
    _, second = send("POST", "/api/rotations", body)
    assert send("GET", f"/api/rotations/{first['id']}")[0] == 404
    send("DELETE", f"/api/rotations/{second['id']}")
    until_over(send, second)


def test_a_machine_is_taken_and_the_class_repaired(send: Send) -> None:
    plan = planned(send, "Machine")["plan"]
    status, press = send("POST", "/api/what-if/taken", {"plan": plan, "unit": "press-1"})
    assert status == 200
    assert press["affected"] == []
    assert press["options"][0]["moved"] == []
    status, curl = send("POST", "/api/what-if/taken", {"plan": plan, "unit": "curl"})
    (affected,) = curl["affected"]
    assert affected["exercise"] == "lying-leg-curl"
    assert len(affected["substitutes"]) == len(affected["effects"]) > 3
    change = {"do": "swap_exercise", "slot": affected["part"], "exercise": affected["substitutes"][0]["exercise"]}
    _, swapped = send("POST", "/api/changes", {"plan": curl["plan"], "change": change})
    status, options = send("POST", "/api/what-if/repair", {"before": plan, "after": swapped["plan"]})
    assert status == 200
    assert options[0]["moved"] == []
    assert options[0]["plan"]["taken"] == ["curl"]
    status, answer = send("POST", "/api/what-if/taken", {"plan": plan, "unit": "anvil"})
    assert status == 422
    assert "anvil" in answer["faults"][0]["message"]


def test_people_come_and_leave_and_one_more_machine_is_weighed(send: Send) -> None:
    plan = planned(send, "Machine")["plan"]
    everybody = [item["id"] for item in send("GET", "/api/people")[1]]
    comer = next((name for name in everybody if name not in plan["people"]), None)
    status, left = send("POST", "/api/what-if/people", {"plan": plan, "leaves": [plan["people"][0]]})
    assert status == 200
    assert plan["people"][0] not in left[0]["plan"]["people"]
    assert left[0]["longer_s"] <= 0
    if comer is None:
        comer = plan["people"][0]
        plan = left[0]["plan"]
    status, come = send("POST", "/api/what-if/people", {"plan": plan, "comes": [comer]})
    assert status == 200
    assert come[0]["plan"]["people"][-1] == comer
    assert come[0]["moved"] == []
    assert send("POST", "/api/what-if/people", {"plan": plan, "comes": ["nobody"]})[0] == 422
    assert send("POST", "/api/what-if/people", {"plan": plan, "leaves": plan["people"]})[0] == 422
    status, more = send("POST", "/api/what-if/one-more", {"plan": plan})
    assert status == 200
    assert more[0]["kind"] == "hip-thrust"


def test_the_replay_the_queues_and_the_circle_answer(send: Send) -> None:
    plan = planned(send, "Scree")["plan"]
    status, replay = send("POST", "/api/replay", {"plan": plan})
    assert status == 200
    assert replay["length_low_s"] <= replay["length_s"] <= replay["length_high_s"]
    assert send("POST", "/api/replay", {"plan": plan})[1] == replay
    status, queues = send("POST", "/api/queues", {"plan": plan})
    assert status == 200
    press = next(queue for queue in queues if queue["unit"] == "press-1")
    assert all(turn["load_kg"] is None or turn["load_kg"] >= 35 for turn in press["turns"])
    bell = next(block for block in plan["blocks"] if block["kind"] == "circuit")
    status, circle = send("POST", "/api/circle", {"plan": plan, "part": bell["id"]})
    assert status == 200
    assert circle["changes"] <= circle["before"]
    assert send("POST", "/api/forecast", {"plan": circle["plan"]})[0] == 200
    assert send("POST", "/api/circle", {"plan": plan, "part": "gone"})[0] == 422
    part = sets_of(plan)["groups"][0]["slots"][0]["id"]
    assert send("POST", "/api/what-if/substitutes", {"plan": plan, "part": part})[0] == 200
    assert send("POST", "/api/what-if/substitutes", {"plan": plan, "part": "gone"})[0] == 422
    assert Revision.objects.filter(number__gt=1).count() == 0


def test_a_room_is_read_changed_and_kept_whole(send: Send) -> None:
    _, out = send("GET", "/api/rooms/saw-floor")
    room = out["room"]
    assert room["width_m"] == 13
    changed = copy.deepcopy(room)
    changed["units"][0] |= {"x_m": 2.5, "set_up_s": 25, "settings": ["seat"]}
    changed["zones"] = changed["zones"][:1]
    status, saved = send("PUT", "/api/rooms/saw-floor", {"based_on": out["revision"], "room": changed})
    assert status == 200
    assert saved["room"] == changed
    assert saved["revision"] == out["revision"] + 1
    # the forecast reads the new room
    plan = planned(send, "Machine")["plan"]
    _, forecast = send("POST", "/api/forecast", {"plan": plan})
    status, stale = send("PUT", "/api/rooms/saw-floor", {"based_on": out["revision"], "room": room})
    assert status == 409
    assert stale["latest"]["room"] == changed
    send("PUT", "/api/rooms/saw-floor", {"based_on": saved["revision"], "room": room})
    _, before = send("POST", "/api/forecast", {"plan": plan})
    set_up = [item["overheads"]["set_up"]["value"] for item in (before, forecast)]
    assert set_up[1] > set_up[0]


@pytest.mark.parametrize(
    ("fields", "words"),
    [
        ({"kind": "anvil"}, "no equipment kind"),
        ({"x_m": 14.0}, "outside of the room"),
        ({"count": 0}, "too small"),
        ({"hardware": {"holds": "stack", "steps_kg": []}}, "at least 1 item"),
        ({"hardware": {"holds": "plates", "bar_kg": -5, "plates": []}}, "too small"),
        ({"hardware": {"holds": "wishes"}}, "holds"),
        ({"id": "press-2"}, "stands twice"),
    ],
)
def test_a_faulty_room_is_refused_at_its_place_and_nothing_is_kept(
    send: Send, fields: dict[str, Any], words: str
) -> None:
    _, out = send("GET", "/api/rooms/saw-floor")
    units = MachineUnit.objects.count()
    faulty = copy.deepcopy(out["room"])
    faulty["units"][0] |= fields
    status, answer = send("PUT", "/api/rooms/saw-floor", {"based_on": out["revision"], "room": faulty})
    assert status == 422
    assert words in str(answer["faults"])
    assert (MachineUnit.objects.count(), Room.objects.get(key="saw-floor").revision) == (units, out["revision"])


def test_rooms_are_made_and_taken_out_unless_a_class_needs_them(send: Send) -> None:
    _, out = send("GET", "/api/rooms/saw-floor")
    attic = out["room"] | {"id": "attic", "name": "Attic"}
    assert send("POST", "/api/rooms", {"room": attic})[0] == 201
    assert send("POST", "/api/rooms", {"room": attic})[0] == 422
    assert send("PUT", "/api/rooms/attic", {"based_on": 1, "room": out["room"]})[0] == 422
    assert send("DELETE", "/api/own/rooms/attic")[1]["outcome"] == "deleted"
    assert send("GET", "/api/rooms/attic")[0] == 404
    status, answer = send("DELETE", "/api/own/rooms/saw-floor")
    assert status == 422
    assert answer["faults"][0]["message"] == "is the only room there is"
    assert send("POST", "/api/rooms", {"room": attic})[0] == 201
    status, answer = send("DELETE", "/api/own/rooms/saw-floor")
    assert (status, answer["outcome"]) == (200, "retired")
    assert [(item["id"], item["retired"]) for item in send("GET", "/api/rooms")[1]] == [
        ("attic", False), ("saw-floor", True)]  # fmt: skip
    assert send("PUT", "/api/own/rooms/saw-floor/retired", {"retired": False})[0] == 204
    assert not any(item["retired"] for item in send("GET", "/api/rooms")[1])
