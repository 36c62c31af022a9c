"""Endpoints of dates: calendars as files and as feeds, and classes made of the dates of other calendars."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated

from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404
from django.utils import timezone
from ninja import Router, Status
from oaken.basis.faults import Fault, Faults
from oaken.exports.calendar import read_calendar
from oaken.plan import Repeats
from oaken.plan.blocks import Name
from pydantic import BaseModel, ConfigDict, Field
from studio.access import RowId, needs, studio_of
from studio.answers import Answer
from studio.files import FILE_BODY, received
from studio.turns import long_work

from planning import dates
from planning.models import CalendarFeed

router = Router(tags=["dates"])

MOST_AT_ONCE = 60


class FeedIn(BaseModel):
    """Whose calendar is to have an address: a class's, a course's, or the whole studio's."""

    model_config = ConfigDict(extra="forbid")

    class_id: RowId | None = None
    course_id: RowId | None = None


class FeedOut(Answer):
    """An address of a calendar: `path` on this server."""

    id: int
    of: str
    path: str
    made_at: datetime


class DateRead(Answer):
    """An event of a calendar as a date of a class; with faults it is none."""

    event: int
    name: str
    starts: str
    minutes: float | None
    repeats: Repeats | None
    notes: list[str]
    faults: list[Fault]


class DateIn(BaseModel):
    """A date to make a class of."""

    model_config = ConfigDict(extra="forbid")

    name: Name
    starts: Annotated[str, Field(max_length=40)]
    repeats: Repeats | None = None


class DatesIn(BaseModel):
    """Dates, and the class that they are made like."""

    model_config = ConfigDict(extra="forbid")

    like: RowId
    dates: Annotated[list[DateIn], Field(min_length=1, max_length=MOST_AT_ONCE)]


class ClassesMade(BaseModel):
    """The classes that were made, in the order of their dates."""

    ids: list[int]


@router.get("/calendar.ics", auth=needs("run_classes"))
def studio_calendar(request: HttpRequest) -> HttpResponse:
    """Every class of the studio that has a date, as iCalendar."""
    return _file(dates.calendar_of(studio_of(request)), "studio")


@router.get("/classes/{class_id}/calendar.ics", auth=needs("run_classes"))
def class_calendar(request: HttpRequest, class_id: RowId) -> HttpResponse:
    """The dates of a class, as iCalendar."""
    planned = get_object_or_404(studio_of(request).classes, pk=class_id)
    return _file(dates.calendar_of(studio_of(request), planned), f"class-{class_id}")


@router.get("/courses/{course_id}/calendar.ics", auth=needs("run_classes"))
def course_calendar(request: HttpRequest, course_id: RowId) -> HttpResponse:
    """Every class of a course, written out or not, as iCalendar."""
    course = get_object_or_404(studio_of(request).courses, pk=course_id)
    return _file(dates.calendar_of(studio_of(request), course=course), f"course-{course_id}")


@router.get("/feeds", response=list[FeedOut])
def list_feeds(request: HttpRequest) -> list[FeedOut]:
    """The addresses under which calendars of this studio can be read."""
    rows = studio_of(request).feeds.filter(revoked_at=None).select_related("planned_class", "studio")
    return [_feed(row) for row in rows]


@router.post("/feeds", response={201: FeedOut, 422: Faults})
def add_feed(request: HttpRequest, given: FeedIn) -> Status[FeedOut]:
    """Make an address of a calendar. Whoever knows it reads names of classes, times, rooms, and how many come."""
    studio = studio_of(request)
    planned = None if given.class_id is None else get_object_or_404(studio.classes, pk=given.class_id)
    course = None if given.course_id is None else get_object_or_404(studio.courses, pk=given.course_id)
    return Status(201, _feed(dates.make_feed(studio, planned, course)))


@router.delete("/feeds/{feed_id}", response={204: None})
def revoke_feed(request: HttpRequest, feed_id: RowId) -> Status[None]:
    """From now on nobody reads anything under this address."""
    feed = get_object_or_404(studio_of(request).feeds, pk=feed_id)
    CalendarFeed.objects.filter(pk=feed.pk, revoked_at=None).update(revoked_at=timezone.now())
    return Status(204, None)


@router.get("/feeds/{token}/calendar.ics", auth=None)
def read_feed(request: HttpRequest, token: Annotated[str, Field(max_length=64)]) -> HttpResponse:
    """A calendar by its address, as it stands now."""
    feeds = CalendarFeed.objects.filter(revoked_at=None, studio__arriving_since=None)
    feed = get_object_or_404(feeds.select_related("studio", "planned_class", "course"), token=token)
    return _file(dates.calendar_of(feed.studio, feed.planned_class, feed.course), "oaken-circuit")


@router.post("/calendar/read", response={200: list[DateRead], 422: Faults}, openapi_extra=FILE_BODY)
@long_work
def read_dates(request: HttpRequest) -> list[DateRead]:
    """The events of an iCalendar file, each as a date of a class or with why it is none; nothing is kept."""
    found = read_calendar(received(request, "calendar.bytes"), studio_of(request).zone)
    return [
        DateRead(
            event=item.event,
            name=item.name,
            starts=item.said,
            minutes=item.minutes,
            repeats=item.repeats,
            notes=list(item.notes),
            faults=list(item.faults),
        )
        for item in found
    ]


@router.post("/calendar/classes", response={201: ClassesMade, 422: Faults})
@long_work
def make_classes_of_dates(request: HttpRequest, given: DatesIn) -> Status[ClassesMade]:
    """Make a class like another for each date; all of them, or none."""
    like = get_object_or_404(studio_of(request).classes, pk=given.like)
    made = dates.make_classes(
        studio_of(request), like, [(date.name, date.starts, date.repeats) for date in given.dates]
    )
    return Status(201, ClassesMade(ids=[item.planned_class_id for item in made]))


def _file(content: bytes, name: str) -> HttpResponse:
    answer = HttpResponse(content, content_type="text/calendar; charset=utf-8")
    answer["Content-Disposition"] = f'attachment; filename="{name}.ics"'
    return answer


def _feed(one: CalendarFeed) -> FeedOut:
    if one.planned_class is not None:
        of = str(one.planned_class.facts.get("name", "class"))
    elif one.course is not None:
        of = str(one.course.revisions.latest("number").document["name"])
    else:
        of = one.studio.name
    return FeedOut(id=one.pk, of=of, path=f"/api/feeds/{one.token}/calendar.ics", made_at=one.made_at)
