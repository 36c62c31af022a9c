"""The course as a document: what it consists of, and its file."""

from __future__ import annotations

from datetime import date
from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field, ValidationError, field_validator, model_validator

from oaken.basis.faults import FaultyInput, faults_of, unknown_format
from oaken.domain.people import Closed
from oaken.plan import ClassPlan
from oaken.plan.blocks import Name, Reference
from oaken.plan.changes import Change

FORMAT: Literal["oaken-course/1"] = "oaken-course/1"
MOST_WEEKS = 26

Week = Annotated[int, Field(ge=1, le=MOST_WEEKS)]
TimeOfDay = Annotated[str, Field(pattern=r"^([01]\d|2[0-3]):[0-5]\d$")]


class Base(Closed):
    """A base class of the course: its id here, and what it is called in the course (a split's day, say)."""

    id: Reference
    name: Name


class Meeting(Closed):
    """A class that is held in the weeks of a course: which base, on which weekday (0 is Monday) at what time; in every
    week, or in `weeks` only."""

    id: Reference
    base: Reference
    weekday: Annotated[int, Field(ge=0, le=6)]
    time: TimeOfDay = "18:30"
    weeks: Annotated[tuple[Week, ...], Field(max_length=MOST_WEEKS)] = ()


class WeekChange(Closed):
    """A change to the base classes in some weeks: one of the plan's own. `bases` empty: of all of them."""

    weeks: Annotated[tuple[Week, ...], Field(min_length=1, max_length=MOST_WEEKS)]
    bases: Annotated[tuple[Reference, ...], Field(max_length=14)] = ()
    change: Change


class Pause(Closed):
    """Weeks in which nothing is held, before a week of the course: all that follows is so much later."""

    before: Week
    weeks: Annotated[int, Field(ge=1, le=12)] = 1


class LeftOut(Closed):
    """One class of one week that is not held."""

    week: Week
    meeting: Reference


class Course(BaseModel):
    """A course of up to 26 weeks. `starts` is a day of its first week. `names` say what a week is for; `dropped` weeks
    are left out without making up for them, `pauses` move what follows."""

    model_config = ConfigDict(extra="forbid")

    name: Name
    note: Annotated[str, Field(max_length=2000)] = ""
    starts: Annotated[date, Field(ge=date(2000, 1, 1), le=date(2099, 1, 1))]
    weeks: Week
    bases: Annotated[list[Base], Field(min_length=1, max_length=14)]
    meetings: Annotated[list[Meeting], Field(min_length=1, max_length=14)]
    changes: Annotated[list[WeekChange], Field(max_length=400)] = []
    names: Annotated[dict[Week, Annotated[str, Field(min_length=1, max_length=40)]], Field(max_length=MOST_WEEKS)] = {}
    pauses: Annotated[list[Pause], Field(max_length=MOST_WEEKS)] = []
    dropped: Annotated[list[Week], Field(max_length=MOST_WEEKS)] = []
    left_out: Annotated[list[LeftOut], Field(max_length=200)] = []

    @field_validator("note")
    @classmethod
    def plain_lines(cls, note: str) -> str:
        return "\n".join("".join(mark for mark in line if mark.isprintable()) for line in note.splitlines())

    @model_validator(mode="after")
    def names_what_it_has(self) -> Course:
        bases = [base.id for base in self.bases]
        meetings = [meeting.id for meeting in self.meetings]
        for what, ids in (("base class", bases), ("class of a week", meetings)):
            twice = next((each_id for each_id in ids if ids.count(each_id) > 1), None)
            if twice is not None:
                raise ValueError(f"the {what} {twice!r} stands twice; each once")
        for each_base in [meeting.base for meeting in self.meetings] + [
            base for ch in self.changes for base in ch.bases
        ]:
            if each_base not in bases:
                raise ValueError(f"there is no base class {each_base!r} in this course; one of: {', '.join(bases)}")
        for left in self.left_out:
            if left.meeting not in meetings:
                raise ValueError(f"there is no class {left.meeting!r} in the weeks; one of: {', '.join(meetings)}")
        named = {
            *(week for meeting in self.meetings for week in meeting.weeks),
            *(week for change in self.changes for week in change.weeks),
            *self.names,
            *self.dropped,
            *(pause.before for pause in self.pauses),
            *(left.week for left in self.left_out),
        }
        beyond = max(named, default=0)
        if beyond > self.weeks:
            raise ValueError(f"week {beyond} is named, but the course has {self.weeks} weeks")
        if len(set(self.dropped)) >= self.weeks:
            raise ValueError("every week is dropped; at least one stays")
        return self


class CourseFile(BaseModel):
    """A course with its base classes: nothing else is needed to read it elsewhere, where its room and people are."""

    model_config = ConfigDict(extra="forbid")

    format: Literal["oaken-course/1"]
    course: Course
    classes: Annotated[dict[Reference, ClassPlan], Field(min_length=1, max_length=14)]

    @model_validator(mode="after")
    def has_every_base(self) -> CourseFile:
        missing = [base.id for base in self.course.bases if base.id not in self.classes]
        if missing:
            raise ValueError(f"the base class {missing[0]!r} is not among the classes of the file")
        return self


def read_course(document: Any) -> CourseFile:
    """Validate a course file that was read from JSON. Raises FaultyInput with every located fault."""
    written = document.get("format") if isinstance(document, dict) else None
    if isinstance(written, str) and written != FORMAT:
        raise FaultyInput([unknown_format(written, (FORMAT,))])
    try:
        return CourseFile.model_validate(document)
    except ValidationError as error:
        raise FaultyInput(faults_of(error, document)) from error


def json_schema() -> dict[str, Any]:
    """The published JSON Schema of a course file."""
    return {
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        "title": "Oaken Circuit course file",
        **CourseFile.model_json_schema(),
    }
