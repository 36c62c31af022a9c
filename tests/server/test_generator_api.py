"""Generated classes over HTTP: from what is wanted and what the class log says of the last weeks; nothing is kept."""

from __future__ import annotations

from collections.abc import Callable
from datetime import timedelta
from typing import Any

import pytest
from django.contrib.auth import get_user_model
from django.test import Client
from django.utils import timezone
from logbook import runs
from logbook.lately import lately_done
from logbook.models import DoneSet
from planning.models import PlannedClass
from studio.models import Studio

Send = Callable[..., Any]


def asked(demo: Studio, **more: Any) -> dict[str, Any]:
    room = demo.rooms.first()
    assert room is not None
    people = list(demo.people.values_list("key", flat=True)[:10])
    return {"room": room.key, "people": people, "slot_min": 45, **more}


def test_a_class_is_asked_for_in_a_few_words(demo: Studio, send: Send) -> None:
    words = {"text": "back day, 8, 45 min, no jumps, blue moon", "class_request": asked(demo)}
    status, told = send("POST", "/api/generated-classes/request", words)
    assert status == 200
    assert (told["class_request"]["day"], len(told["class_request"]["people"])) == ("back", 8)
    assert told["unread"] == ["“blue moon” is not understood"]
    assert send("POST", "/api/generated-classes/request", {**words, "text": "x" * 401})[0] == 422


def test_a_generated_class_can_be_kept(demo: Studio, send: Send) -> None:
    before = PlannedClass.objects.count()
    status, told = send("POST", "/api/generated-classes", {"class_request": asked(demo), "number": 0})
    assert status == 200
    assert PlannedClass.objects.count() == before
    generated = told["generated"]
    status, kept = send("POST", "/api/classes", {"plan": generated["plan"]})
    assert status == 201
    status, forecast = send("POST", "/api/forecast", {"plan": kept["plan"]})
    assert forecast["length"]["value"] == generated["figures"]["length"]["value"]
    status, next_one = send(
        "POST",
        "/api/generated-classes",
        {"class_request": asked(demo), "number": 1, "unlike": [generated["exercises"]]},
    )
    assert next_one["generated"]["manner"] != generated["manner"]
    assert len(set(next_one["generated"]["exercises"]) & set(generated["exercises"])) <= 0.4 * len(
        generated["exercises"]
    )


def test_the_last_weeks_come_from_the_book(demo: Studio, send: Send) -> None:
    planned = demo.classes.get(key="machine-pairs")
    run = runs.simulate(demo, planned, timezone.now() - timedelta(days=9), 1)
    people = sorted(set(DoneSet.objects.values_list("person__key", flat=True)))
    lately = {item.exercise: item.weeks for item in lately_done(demo, people, timezone.localdate())}
    done = set(DoneSet.objects.values_list("exercise", flat=True))
    assert lately
    assert set(lately) <= done
    assert {done_set.exercise for done_set in run.done_sets.all()} <= {
        name for name, weeks in lately.items() if weeks <= 1
    }
    # the day itself is not among the weeks before it
    assert lately_done(demo, people, run.done_sets.earliest("on").on - timedelta(weeks=60)) == []
    _, told = send("POST", "/api/generated-classes", {"class_request": asked(demo, people=people), "number": 0})
    because = {item["exercise"]: item["because"] for item in told["generated"]["reasons"]}
    assert any("not done in the last weeks" in words for words in because.values())


@pytest.mark.parametrize(
    ("fields", "words"),
    [
        ({"people": []}, "at least 1"),
        ({"slot_min": 4}, "at least 5; given: 4"),
        ({"people": ["nobody"]}, "nobody"),
        ({"room": "no-room"}, "no-room"),
        ({"pinned": ["no-exercise"]}, "no-exercise"),
        ({"manner": "upside down"}, "stations"),
    ],
)
def test_bad_input_is_told_at_its_place(demo: Studio, send: Send, fields: dict[str, Any], words: str) -> None:
    status, told = send("POST", "/api/generated-classes", {"class_request": asked(demo, **fields)})
    assert status == 422
    assert words in str(told)


def test_a_generated_class_tells_of_health_and_is_for_instructors(demo: Studio) -> None:
    assistant = Client(headers={"host": "127.0.0.1"})
    assistant.force_login(get_user_model().objects.get(username="helper"))
    assert (
        assistant.post(
            "/api/generated-classes", {"class_request": asked(demo)}, content_type="application/json"
        ).status_code
        == 403
    )
