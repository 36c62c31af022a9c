"""Dates of classes for other calendars: what is held when, what was cancelled; feeds; and classes made of dates."""

from __future__ import annotations

import secrets
from collections.abc import Iterator, Sequence
from datetime import datetime, timedelta
from typing import Any
from uuid import NAMESPACE_OID, uuid5

from django.conf import settings
from django.db import transaction
from django.db.models import Max, QuerySet
from django.utils import timezone
from oaken.basis.faults import FaultyInput, faults_in
from oaken.basis.limits import most
from oaken.exports.calendar import Dated, write_calendar
from oaken.plan import Repeats, first_occasion
from oaken.programme.course import Course as CoreCourse
from oaken.programme.course import meets_in, monday_in
from studio.models import Studio

from planning import courses, keeping
from planning.models import CalendarFeed, Course, CourseRevision, PlannedClass, Revision

_fault = faults_in("the calendar")


def calendar_of(studio: Studio, planned: PlannedClass | None = None, course: Course | None = None) -> bytes:
    """The calendar of a class, of a course, or of the whole studio, as iCalendar."""
    if planned is not None:
        name, dates = str(planned.facts.get("name", "class")), list(_of_classes(studio.classes.filter(pk=planned.pk)))
    elif course is not None:
        latest = course.revisions.latest("number")
        name = str(latest.document["name"])
        dates = [*_of_classes(course.classes.all()), *_not_written_out(latest)]
    else:
        name = studio.name
        dates = list(_of_classes(studio.classes.all()))
        for revision in courses.newest(studio).filter(course__archived=False).select_related("course"):
            dates += _not_written_out(revision)
    return write_calendar(name, studio.zone, dates)


def _uid(*of: object) -> str:
    """An id that is the same each time, and of no other installation."""
    return f"{uuid5(NAMESPACE_OID, ':'.join(map(str, (settings.SECRET_KEY, *of))))}@oaken-circuit.invalid"


def _of_classes(rows: QuerySet[PlannedClass]) -> Iterator[Dated]:
    """Classes with a date; what was put away before it was held is cancelled."""
    here = timezone.now()
    told = rows.exclude(facts={}).annotate(newest=Max("revisions__number"), saved=Max("revisions__saved_at"))
    names = dict(_room_names(rows))
    for item in told.select_related("studio").order_by("pk"):
        first = first_occasion(str(item.facts.get("starts") or ""))
        if first is None:
            continue
        repeats = item.facts.get("repeats")
        starts = datetime.fromisoformat(f"{first.on} {first.time}")
        if item.archived and starts.replace(tzinfo=item.studio.zone) < here and repeats is None:
            continue
        of_course = item.course_id and item.course_meeting
        yield Dated(
            uid=_uid("course", item.course_id, item.course_week, item.course_meeting)
            if of_course
            else _uid("class", item.pk),
            name=str(item.facts["name"]),
            starts=starts,
            minutes=float(item.facts.get("slot_min") or item.facts["length_s"] / 60),
            place=_place(names.get((item.studio_id, item.facts.get("room"))), item.studio),
            words=_people(item.facts),
            revision=int(item.newest),
            changed_at=item.saved,
            repeats=None if repeats is None else Repeats.model_validate(repeats),
            cancelled=item.archived,
        )


def _place(room: str | None, studio: Studio) -> str:
    """Where a class is, with the studio's name once."""
    return studio.name if room is None else room if studio.name in room else f"{room}, {studio.name}"


def _people(facts: dict[str, Any]) -> str:
    """How many come; names are nobody's business who reads a calendar."""
    count = len(facts.get("people") or [])
    return f"{count} {'person' if count == 1 else 'people'}"


def _room_names(rows: QuerySet[PlannedClass]) -> Iterator[tuple[tuple[int, object], str]]:
    for studio in Studio.objects.filter(pk__in=rows.values("studio")):
        for key, name in studio.rooms.values_list("key", "name"):
            yield (studio.pk, key), name


def _not_written_out(revision: CourseRevision) -> Iterator[Dated]:
    """Classes of a course that no week has been written out for; those that were left out are cancelled."""
    row, course = revision.course, courses.course_of(revision)
    written = set(row.classes.values_list("course_week", "course_meeting"))
    bases = courses.base_plans(row.studio, course)
    names = dict(_room_names(row.studio.classes.filter(studio=row.studio)))
    for week, meeting, on, held in _all_meetings(course):
        if (week, meeting.id) in written:
            continue
        base = bases.get(meeting.base)
        document = base.document if base is not None else {}
        called = next(base_class.name for base_class in course.bases if base_class.id == meeting.base)
        yield Dated(
            uid=_uid("course", row.pk, week, meeting.id),
            name=f"{course.name}, week {week}: {called}",
            starts=datetime.fromisoformat(f"{on} {meeting.time}"),
            minutes=float(document.get("slot_min") or 60),
            place=_place(names.get((row.studio_id, document.get("room"))), row.studio),
            words=_people(document),
            revision=revision.number,
            changed_at=revision.saved_at,
            cancelled=not held,
        )


def _all_meetings(course: CoreCourse) -> Iterator[tuple[int, Any, Any, bool]]:
    for week in range(1, course.weeks + 1):
        for meeting in course.meetings:
            if not meeting.weeks or week in meeting.weeks:
                on = monday_in(course, week) + timedelta(days=meeting.weekday)
                yield week, meeting, on, meets_in(course, meeting, week)


def make_feed(studio: Studio, planned: PlannedClass | None, course: Course | None) -> CalendarFeed:
    """A new address. Raises FaultyInput where there are as many as there may be."""
    with transaction.atomic():
        if studio.feeds.filter(revoked_at=None).count() >= most("studio.feeds"):
            raise FaultyInput([keeping.too_many("feeds", "studio.feeds")])
        return CalendarFeed.objects.create(
            studio=studio, planned_class=planned, course=course, token=secrets.token_urlsafe(24)
        )


def make_classes(
    studio: Studio, like: PlannedClass, dates: Sequence[tuple[str, str, Repeats | None]]
) -> list[Revision]:
    """A copy of a class for each name, beginning and repetition; all of them, or none. Raises FaultyInput where one is
    no date, or there would be too many classes."""
    plan = keeping.plan_of(like.revisions.latest("number"))
    found = [
        _fault(f"dates.{at}.starts", f"{starts!r} is no day and time", "2026-12-01 18:30")
        for at, (_, starts, _) in enumerate(dates)
        if first_occasion(starts) is None
    ]
    if found:
        raise FaultyInput(found)
    with transaction.atomic():
        return [
            keeping.create(studio, plan.model_copy(update={"name": name, "starts": starts, "repeats": repeats}))
            for name, starts, repeats in dates
        ]
