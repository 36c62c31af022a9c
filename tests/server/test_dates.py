"""Calendars as files and feeds, and classes made of the dates of another calendar."""

from __future__ import annotations

from collections.abc import Callable
from datetime import UTC, date, datetime
from typing import Any
from zoneinfo import ZoneInfo

import pytest
from django.test import Client
from ical.calendar_stream import IcsCalendarStream
from ical.event import Event, EventStatus
from oaken.plan import Repeats
from planning import courses
from planning import keeping as plans
from planning.models import CalendarFeed, Course, PlannedClass
from studio.models import Studio

Send = Callable[..., Any]
BERLIN = ZoneInfo("Europe/Berlin")


@pytest.fixture
def mill(demo: Studio) -> Studio:
    """The demo's studio in Berlin, with a class that repeats and a course."""
    demo.time_zone = "Europe/Berlin"
    demo.save()
    plan = plans.plan_of(demo.classes.get(key="scree-and-stairs").revisions.latest("number"))
    repeats = Repeats(until=date(2026, 11, 10), without=(date(2026, 11, 3),))
    plans.create(
        demo, plan.model_copy(update={"name": "Saturday stairs", "starts": "2026-10-20 18:30", "repeats": repeats})
    )
    made = courses.make_template(demo, "waves", "saw-floor", ["marit", "ines"], "Winter", date(2026, 12, 7), "18:30", 4)
    course = courses.course_of(made)
    courses.save(made.course, 1, course.model_copy(update={"dropped": [3]}))
    courses.materialise(made.course, 1)
    return demo


def events_of(client: Client, path: str) -> list[Event]:
    answer = client.get(path)
    assert answer.status_code == 200, answer.content[:300]
    assert answer["Content-Type"] == "text/calendar; charset=utf-8"
    return list(IcsCalendarStream.calendar_from_ics(answer.content.decode()).events)


def test_a_class_a_course_and_the_studio_are_calendars(mill: Studio, client: Client) -> None:
    planned = mill.classes.get(facts__name="Saturday stairs")
    answer = client.get(f"/api/classes/{planned.pk}/calendar.ics")
    told = IcsCalendarStream.calendar_from_ics(answer.content.decode())
    starts = [item.start for item in told.timeline_tz(BERLIN) if isinstance(item.start, datetime)]
    assert [start.astimezone(UTC).isoformat()[:16] for start in starts] == [
        "2026-10-20T16:30", "2026-10-27T17:30", "2026-11-10T17:30",
    ]  # fmt: skip
    (event,) = told.events
    assert event.location == "Saw floor, Alder Mill"
    assert event.description == "12 people"
    for person in mill.people.all():
        assert person.name.encode() not in answer.content
    course = Course.objects.get()
    of_course = events_of(client, f"/api/courses/{course.pk}/calendar.ics")
    a_week = len(courses.course_of(course.revisions.latest("number")).meetings)
    assert len(of_course) == 4 * a_week
    cancelled = [item for item in of_course if item.status is EventStatus.CANCELLED]
    assert {(item.summary or "").split(":")[0] for item in cancelled} == {"Winter, week 3"}
    everything = events_of(client, "/api/calendar.ics")
    assert {item.uid for item in everything} >= {item.uid for item in of_course} | {event.uid}
    assert len({item.uid for item in everything}) == len(everything)


def test_a_class_keeps_its_id_when_it_is_written_out_and_changes_its_number(mill: Studio, client: Client) -> None:
    course = Course.objects.get()
    path = f"/api/courses/{course.pk}/calendar.ics"
    before = {event.summary: event.uid for event in events_of(client, path)}
    courses.materialise(course, 2)
    after = {event.summary: event.uid for event in events_of(client, path)}
    assert after == before
    planned = mill.classes.get(facts__name="Saturday stairs")
    latest = planned.revisions.latest("number")
    plans.save(planned, latest.number, plans.plan_of(latest).model_copy(update={"starts": "2026-10-20 19:00"}))
    (event,) = events_of(client, f"/api/classes/{planned.pk}/calendar.ics")
    assert event.sequence == 2
    assert event.start.isoformat()[11:16] == "19:00"


def test_a_class_that_is_put_away_is_cancelled(mill: Studio, client: Client) -> None:
    planned = mill.classes.get(facts__name="Saturday stairs")
    PlannedClass.objects.filter(pk=planned.pk).update(archived=True)
    (event,) = events_of(client, f"/api/classes/{planned.pk}/calendar.ics")
    assert event.status is EventStatus.CANCELLED


def test_a_feed_is_read_by_whoever_knows_its_address_until_it_is_revoked(mill: Studio, send: Send) -> None:
    stranger = Client(headers={"host": "127.0.0.1"})
    planned = mill.classes.get(facts__name="Saturday stairs")
    for body, of in (({}, "Alder Mill"), ({"class_id": planned.pk}, "Saturday stairs"), ({"course_id": Course.objects.get().pk}, "Winter")):  # fmt: skip
        status, feed = send("POST", "/api/feeds", body)
        assert (status, feed["of"]) == (201, of)
        assert events_of(stranger, feed["path"])
    assert len(feed["path"].split("/")[3]) >= 32
    _, feeds = send("GET", "/api/feeds")
    assert [feed["of"] for feed in feeds] == ["Alder Mill", "Saturday stairs", "Winter"]
    assert send("DELETE", f"/api/feeds/{feed['id']}")[0] == 204
    assert stranger.get(feed["path"]).status_code == 404
    assert len(send("GET", "/api/feeds")[1]) == 2
    # what changes is in the next reading
    latest = planned.revisions.latest("number")
    plans.save(planned, latest.number, plans.plan_of(latest).model_copy(update={"name": "Sunday stairs"}))
    assert [event.summary for event in events_of(stranger, feeds[1]["path"])] == ["Sunday stairs"]


def test_there_are_so_many_feeds_and_no_more(demo: Studio, send: Send) -> None:
    CalendarFeed.objects.bulk_create(CalendarFeed(studio=demo, token=f"t{n}") for n in range(20))
    status, told = send("POST", "/api/feeds", {})
    assert (status, told["faults"][0]["right"]) == (422, "at most 20 feeds")


ICS = """BEGIN:VCALENDAR
VERSION:2.0
PRODID:-//x//y//EN
BEGIN:VEVENT
UID:a
SUMMARY:Evening legs
DTSTART;TZID=Europe/Berlin:20270105T183000
DTEND;TZID=Europe/Berlin:20270105T192000
RRULE:FREQ=WEEKLY;COUNT=3
END:VEVENT
BEGIN:VEVENT
UID:b
SUMMARY:Open day
DTSTART;VALUE=DATE:20270110
END:VEVENT
END:VCALENDAR
"""


def test_classes_are_made_of_another_calendar(mill: Studio, send: Send, upload: Send) -> None:
    status, read = upload("/api/calendar/read", ICS.replace("\n", "\r\n"))
    assert status == 200
    legs, day = read
    assert (legs["starts"], legs["minutes"], legs["faults"]) == ("2027-01-05 18:30", 50, [])
    assert "a whole day" in day["faults"][0]["message"]
    like = mill.classes.get(key="machine-pairs")
    count = mill.classes.count()
    dates = [{"name": legs["name"], "starts": legs["starts"], "repeats": legs["repeats"]}]
    wrong = {"like": like.pk, "dates": [*dates, {"name": "Other", "starts": "soon"}]}
    status, told = send("POST", "/api/calendar/classes", wrong)
    assert (status, told["faults"][0]["path"]) == (422, "dates.1.starts")
    assert mill.classes.count() == count
    status, made = send("POST", "/api/calendar/classes", {"like": like.pk, "dates": dates})
    assert status == 201
    planned = mill.classes.get(pk=made["ids"][0])
    assert [str(occasion.on) for occasion in plans.occasions_of(planned.facts)] == [
        "2027-01-05",
        "2027-01-12",
        "2027-01-19",
    ]
    before = plans.plan_of(like.revisions.latest("number"))
    assert len(plans.plan_of(planned.revisions.get()).blocks) == len(before.blocks)
    assert upload("/api/calendar/read", "no calendar")[0] == 422
