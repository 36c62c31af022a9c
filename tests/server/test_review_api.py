"""The second look over HTTP: held against the class log of these people, mended by one press, for instructors."""

from __future__ import annotations

from collections.abc import Callable
from datetime import timedelta
from typing import Any

from django.contrib.auth import get_user_model
from django.test import Client
from django.utils import timezone
from logbook import runs
from logbook.lately import history_of, lately_done
from oaken.basis.limits import most
from planning import keeping
from studio.models import Studio

Send = Callable[..., Any]


def test_the_book_of_these_people_is_what_it_rests_on(demo: Studio, send: Send) -> None:
    planned = demo.classes.get(key="machine-pairs")
    plan = keeping.plan_of(planned.revisions.latest("number"))
    run = runs.simulate(demo, planned, timezone.now() - timedelta(days=3), 1)
    history = history_of(demo, plan.people, timezone.localdate(), timezone.now())
    newest = min(history.classes, key=lambda planned_class: planned_class.days)
    assert 2 <= newest.days <= 5
    assert newest.aim == plan.aim
    came = [attendance.figures["energy"] for attendance in run.attendances.filter(person__key__in=plan.people)]
    assert abs(newest.figures["energy"] - sum(came) / len(came)) < 1e-6
    assert history.lately
    status, told = send("POST", "/api/review", {"plan": plan.model_dump(mode="json")})
    assert status == 200
    assert told["classes"] == len(history.classes)


def test_weeks_in_a_row_are_counted_back_from_the_last_time(demo: Studio) -> None:
    planned = demo.classes.get(key="machine-pairs")
    plan = keeping.plan_of(planned.revisions.latest("number"))
    demo.runs.all().delete()
    for days in (2, 9, 30):
        runs.simulate(demo, planned, timezone.now() - timedelta(days=days), 1)
    (press,) = [item for item in lately_done(demo, plan.people, timezone.localdate()) if item.exercise == "leg-press"]
    assert press.weeks == 0
    assert press.running == 2


def test_a_remark_is_mended_by_one_press_and_nothing_is_kept(demo: Studio, send: Send) -> None:
    planned = demo.classes.get(key="machine-pairs")
    plan = keeping.plan_of(planned.revisions.latest("number")).model_dump(mode="json")
    _, told = send("POST", "/api/review", {"plan": plan})
    queue = next(item for item in told["advice"] if "will queue" in item["line"])
    status, made = send("POST", "/api/review/mend", {"plan": plan, "mend": queue["mend"]})
    assert status == 200
    assert made["did"] == "another order of the visits"
    _, before = send("POST", "/api/forecast", {"plan": plan})
    _, after = send("POST", "/api/forecast", {"plan": made["plan"]})
    assert after["figures"]["waiting"]["value"] < before["figures"]["waiting"]["value"]
    assert planned.revisions.count() == 1
    status, told = send("POST", "/api/review/mend", {"plan": plan, "mend": {"label": "x", "muscle": "no-such"}})
    assert status == 422
    assert "nothing for it" in str(told)


def test_lines_that_were_accepted_are_kept_with_the_class(demo: Studio, send: Send) -> None:
    planned = demo.classes.get(key="machine-pairs")
    plan = keeping.plan_of(planned.revisions.latest("number")).model_dump(mode="json")
    keys = [item["key"] for item in send("POST", "/api/review", {"plan": plan})[1]["advice"]]
    where = f"/api/classes/{planned.pk}/review/accepted"
    assert send("GET", where) == (200, [])
    assert send("POST", where, {"keys": keys[1:2]}) == (200, keys[1:2])
    assert send("POST", where, {"keys": keys[:2]}) == (200, [keys[1], keys[0]])
    # the oldest go first
    many = [f"{number:016x}" for number in range(most("class.accepted"))]
    assert send("POST", where, {"keys": many})[1] == many
    assert planned.revisions.count() == 1
    assert send("POST", where, {"keys": ["no key"]})[0] == 422
    assert send("POST", "/api/classes/999999/review/accepted", {"keys": keys[:1]})[0] == 404
    assert send("DELETE", where) == (200, [])
    assert send("GET", where) == (200, [])


def test_an_assistant_is_told_nothing(demo: Studio) -> None:
    assistant = Client(headers={"host": "127.0.0.1"})
    assistant.force_login(get_user_model().objects.get(username="helper"))
    assert assistant.post("/api/review", {}, content_type="application/json").status_code == 403
