"""Endpoints of courses: keeping, the outlook of their weeks, writing weeks out, files."""

from __future__ import annotations

from datetime import date, datetime
from typing import Annotated, Literal

from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404
from ninja import Router, Status
from oaken.basis.faults import Faults
from oaken.programme.course import (
    MOST_WEEKS,
    Course,
    CourseFile,
    CourseOutlook,
    drop_week,
    move_week,
)
from pydantic import BaseModel, Field
from studio.access import Number, RowId, studio_of
from studio.answers import Answer
from studio.documents import Stale, StaleSave
from studio.turns import long_work

from planning import courses
from planning.api import Archive, FileIn
from planning.models import Course as CourseRow
from planning.models import CourseRevision

router = Router(tags=["courses"])

Week = Annotated[int, Field(ge=1, le=MOST_WEEKS)]


class CourseOut(Answer):
    """A course with its newest state."""

    id: int
    revision: int
    saved_at: datetime
    archived: bool
    course: Course

    @classmethod
    def of(cls, revision: CourseRevision) -> CourseOut:
        """A saved state as it is told."""
        return cls(
            id=revision.course_id,
            revision=revision.number,
            saved_at=revision.saved_at,
            archived=revision.course.archived,
            course=courses.course_of(revision),
        )


class CourseIn(BaseModel):
    """A course that need not be saved."""

    course: Course


class CourseSave(BaseModel):
    """A course to keep, and the revision it was made from."""

    based_on: Number
    course: Course


class Missed(BaseModel):
    """A week that is missed: it moves (with all that follow), or it is dropped."""

    course: Course
    week: Week
    how: Literal["move", "drop"]


class WeekIn(BaseModel):
    """A week to write out."""

    week: Week


class WrittenOut(Answer):
    """What became of one class of a week that was written out."""

    id: int
    name: str
    outcome: str


class WeekStateOut(Answer):
    """A class of a course that was written out, and how it stands to the course as it is now."""

    id: int
    week: int
    meeting: str
    on: date | None
    by_hand: bool
    behind: bool


class CourseStepOut(Answer):
    """One saved revision, and what changed."""

    revision: int
    saved_at: datetime
    changes: list[str]


@router.get("/courses", response=list[CourseOut])
def list_courses(request: HttpRequest) -> list[CourseOut]:
    """Every course, the one saved last first."""
    return [CourseOut.of(item) for item in courses.newest(studio_of(request)).select_related("course")]


@router.post("/courses", response={201: CourseOut, 422: Faults})
def create_course(request: HttpRequest, given: CourseIn) -> Status[CourseOut]:
    """Keep a new course."""
    return Status(201, CourseOut.of(courses.create(studio_of(request), given.course)))


@router.post("/courses/import", response={201: CourseOut, 422: Faults})
def import_course(request: HttpRequest, file: FileIn) -> Status[CourseOut]:
    """Keep the course of a course file with its base classes."""
    return Status(201, CourseOut.of(courses.bring_in(studio_of(request), file.document)))


@router.post("/courses/outlook", response={200: CourseOutlook, 422: Faults})
@long_work
def read_outlook(request: HttpRequest, given: CourseIn) -> HttpResponse:
    """Every week of a course in figures, and what should be looked at; nothing is kept."""
    told = courses.outlook_of(studio_of(request), given.course)
    return HttpResponse(told.model_dump_json(), content_type="application/json")


@router.post("/courses/missed", response={200: Course, 422: Faults})
def miss_week(request: HttpRequest, given: Missed) -> Course:
    """The course without a week that is missed: moved or dropped. Nothing is kept."""
    return move_week(given.course, given.week) if given.how == "move" else drop_week(given.course, given.week)


@router.get("/courses/{course_id}", response=CourseOut)
def read_course(request: HttpRequest, course_id: RowId) -> CourseOut:
    """A course as it is now."""
    return CourseOut.of(_row(request, course_id).revisions.select_related("course").latest("number"))


@router.put("/courses/{course_id}", response={200: CourseOut, 409: Stale[CourseOut], 422: Faults})
def save_course(
    request: HttpRequest, course_id: RowId, given: CourseSave
) -> Status[CourseOut] | Status[Stale[CourseOut]]:
    """Keep a new revision; 409 with the newest one when the course was made from an older."""
    try:
        return Status(200, CourseOut.of(courses.save(_row(request, course_id), given.based_on, given.course)))
    except StaleSave as stale:
        return Status(409, Stale[CourseOut](message=str(stale), latest=CourseOut.of(stale.latest)))


@router.get("/courses/{course_id}/history", response=list[CourseStepOut])
def read_history(request: HttpRequest, course_id: RowId) -> list[CourseStepOut]:
    """Every revision, the newest first, with what changed."""
    return [CourseStepOut.model_validate(step) for step in courses.history(_row(request, course_id))]


@router.get("/courses/{course_id}/revisions/{number}", response=CourseOut)
def read_revision(request: HttpRequest, course_id: RowId, number: Number) -> CourseOut:
    """A course as it was saved once."""
    return CourseOut.of(get_object_or_404(_row(request, course_id).revisions.select_related("course"), number=number))


@router.get("/courses/{course_id}/written", response=list[WeekStateOut])
def read_written(request: HttpRequest, course_id: RowId) -> list[WeekStateOut]:
    """The classes that were written out, and how each stands to the course as it is now."""
    return [WeekStateOut.model_validate(item) for item in courses.written(_row(request, course_id))]


@router.post("/courses/{course_id}/written", response={200: list[WrittenOut], 422: Faults})
@long_work
def write_week(request: HttpRequest, course_id: RowId, given: WeekIn) -> list[WrittenOut]:
    """Make the classes of a week, or bring those that were made to what the course says now."""
    return [WrittenOut.model_validate(item) for item in courses.materialise(_row(request, course_id), given.week)]


@router.put("/courses/{course_id}/archived", response={204: None})
def archive_course(request: HttpRequest, course_id: RowId, given: Archive) -> Status[None]:
    """Take a course out of the lists, or back in."""
    row = _row(request, course_id)
    row.archived = given.archived
    row.save(update_fields=["archived"])
    return Status(204, None)


@router.get("/courses/{course_id}/file", response={200: CourseFile, 422: Faults})
def read_file(request: HttpRequest, response: HttpResponse, course_id: RowId) -> CourseFile:
    """The course with its base classes as a file."""
    response["Content-Disposition"] = f'attachment; filename="course-{course_id}.json"'
    return courses.file_of(_row(request, course_id))


def _row(request: HttpRequest, course_id: int) -> CourseRow:
    return get_object_or_404(studio_of(request).courses, pk=course_id)
