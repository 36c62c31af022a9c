"""Endpoints of the schools a course can be made from: its base classes are made, or generated from what people did
in the last weeks."""

from __future__ import annotations

from datetime import date
from typing import Annotated

from django.http import HttpRequest
from ninja import Router, Status
from oaken.basis.faults import Faults
from oaken.plan import MOST_IN_CLASS
from oaken.plan.blocks import Name, Reference
from oaken.programme.course import templates
from oaken.programme.course.document import TimeOfDay
from planning import courses
from planning.courses_api import CourseOut, Week
from pydantic import BaseModel, Field
from studio.access import studio_of
from studio.answers import Answer
from studio.turns import long_work

from logbook.lately import lately_done

router = Router(tags=["courses"])


class CourseTemplateOut(Answer):
    """A school of courses."""

    id: str
    name: str
    what: str
    times_a_week: int


class FromTemplate(BaseModel):
    """A course of a school, from a room and people; `generated` lets the generator choose them."""

    template: str
    generated: bool = False
    name: Name
    room: Reference
    people: Annotated[list[Reference], Field(min_length=1, max_length=MOST_IN_CLASS)]
    starts: date
    time: TimeOfDay = "18:30"
    weeks: Week = 12


@router.get("/courses/templates", response=list[CourseTemplateOut])
def list_templates(request: HttpRequest) -> list[CourseTemplateOut]:
    """The schools a course can be made from."""
    return [
        CourseTemplateOut(id=template.id, name=template.name, what=template.what, times_a_week=len(template.meetings))
        for template in templates().values()
    ]


@router.post("/courses/template", response={201: CourseOut, 404: None, 422: Faults})
@long_work
def create_from_template(request: HttpRequest, given: FromTemplate) -> Status[CourseOut] | Status[None]:
    """Make a course of a school with its base classes, from what the room has and who comes."""
    if given.template not in templates():
        return Status(404, None)
    studio = studio_of(request)
    made = courses.make_template(
        studio,
        given.template,
        given.room,
        given.people,
        given.name,
        given.starts,
        given.time,
        given.weeks,
        generated=given.generated,
        lately=lately_done(studio, given.people, given.starts) if given.generated else [],
    )
    return Status(201, CourseOut.of(made))
