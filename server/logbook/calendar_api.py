"""Endpoints of today and the calendar."""

from __future__ import annotations

from datetime import date
from typing import Literal

from django.http import HttpRequest
from django.utils import timezone
from ninja import Router
from oaken.basis.faults import Faults, FaultyInput, faults_in
from studio.access import may, needs, studio_of
from studio.answers import Answer

from logbook import calendar
from logbook.today import day

router = Router(tags=["calendar"])
_fault = faults_in("the calendar")


class EntryOut(Answer):
    """A class on a day: planned, ready, running or held; `clashes` are what is in the same room at the same time."""

    class_id: int
    name: str
    on: date
    time: str
    length_s: float
    room: str
    people: int
    course: int | None
    week: int | None
    state: Literal["planned", "ready", "running", "held"]
    run: int | None
    came: int | None
    unwritten: int | None
    clashes: list[str]


class NeedOut(Answer):
    """Something a class still needs, and whether it is done."""

    what: Literal["slot", "rotation", "cards", "clash", "start", "loads"]
    words: str
    done: bool


class NextOut(Answer):
    """A class that comes next, and what it still needs."""

    entry: EntryOut
    needs: list[NeedOut]


class CourseStandsOut(Answer):
    """Where a course stands; `week` is 0 before it begins and None when it is over."""

    id: int
    name: str
    week: int | None
    weeks: int
    name_of_week: str
    held: int
    planned_so_far: int
    next_on: date | None


class DayOut(Answer):
    """Today: what is next, what runs, what is still to be written down, where the courses stand."""

    today: date
    next: list[NextOut]
    running: list[EntryOut]
    to_write: list[EntryOut]
    courses: list[CourseStandsOut]


@router.get("/today", response=DayOut, auth=needs("run_classes"))
def read_today(request: HttpRequest) -> DayOut:
    """Today as it stands; the pre-class check and loads are told to instructors."""
    told = day(studio_of(request), timezone.now(), health=may(request, "read_health"))
    return DayOut.model_validate(told)


@router.get("/calendar", response={200: list[EntryOut], 422: Faults}, auth=needs("run_classes"))
def read_calendar(request: HttpRequest, since: date, until: date) -> list[EntryOut]:
    """Every class from one day to another, planned and held, in the order of time."""
    if until < since or (until - since).days > calendar.MOST_DAYS:
        message = f"from {since} to {until} is no stretch of at most {calendar.MOST_DAYS} days"
        raise FaultyInput([_fault("until", message, f"a day within {calendar.MOST_DAYS} days behind the first")])
    return [EntryOut.model_validate(entry) for entry in calendar.entries(studio_of(request), since, until)]
