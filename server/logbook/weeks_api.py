"""Endpoint of the class over time, week by week."""

from __future__ import annotations

from datetime import date

from django.http import HttpRequest
from django.shortcuts import get_object_or_404
from ninja import Router
from studio.access import RowId, studio_of
from studio.answers import Answer

from logbook import weeks

router = Router(tags=["weeks"])


class HeldClassOut(Answer):
    """A class that was held, the mean of those who came."""

    run: int
    name: str
    on: date
    class_id: int
    planned_s: float
    actual_s: float
    planned_people: int
    came: int
    figures: dict[str, float]
    off: dict[str, float]


class HeldWeekOut(Answer):
    """A week of classes: sums and means of one person, and how the load stands to the weeks before."""

    monday: date
    classes: list[HeldClassOut]
    figures: dict[str, float]
    rise: float | None
    steep: bool


class BlockOverOut(Answer):
    """A block by name: how much longer than planned it was (s, mean), in how many classes, longer in how many."""

    name: str
    mean_s: float
    classes: int
    longer: int


class OverTimeOut(Answer):
    """The class over time."""

    weeks: list[HeldWeekOut]
    blocks: list[BlockOverOut]


@router.get("/weeks", response=OverTimeOut)
def read_weeks(request: HttpRequest, course: RowId | None = None, class_id: RowId | None = None) -> OverTimeOut:
    """The class over time, week by week: of everything, of a course, or of one class."""
    studio = studio_of(request)
    runs = studio.runs.all()
    if course is not None:
        runs = runs.filter(saved_as__planned_class__course=get_object_or_404(studio.courses, pk=course))
    if class_id is not None:
        runs = runs.filter(saved_as__planned_class=get_object_or_404(studio.classes, pk=class_id))
    held = weeks.held_classes(studio, runs)
    return OverTimeOut(
        weeks=[HeldWeekOut.model_validate(week) for week in weeks.by_week(held)],
        blocks=[BlockOverOut.model_validate(overrun) for overrun in weeks.overruns(held)],
    )
