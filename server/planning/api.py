"""Endpoints of the class plans: keeping, forecasting, history."""

from datetime import date, datetime
from typing import Any

from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404
from django.utils import timezone
from ninja import Router, Status
from oaken.basis.faults import Faults
from oaken.forecast.report import Forecast
from oaken.forecast.report.for_assistants import OpenForecast, for_assistants
from oaken.plan import ClassPlan
from oaken.schedule.class_file import ClassFile
from pydantic import BaseModel
from studio.access import Number, RowId, may, needs, studio_of
from studio.documents import Stale, StaleSave

from planning import keeping
from planning.models import Revision

router = Router(tags=["planning"])


class OutlineBlock(BaseModel):
    """A block as the list of classes draws it."""

    name: str
    kind: str
    start_s: float
    end_s: float


class ClassSummary(BaseModel):
    """One line of the list of classes; length and energy are as forecast when it was saved. Energy tells of bodies: it
    is for instructors. `next_on` is the next day on which it is held, the last one where all are past."""

    id: int
    name: str
    starts: str
    next_on: date | None
    slot_min: int
    people: int
    crowd: list[str]
    room: str
    exercises: list[str]
    course: int | None
    course_week: int | None
    archived: bool
    revision: int
    saved_at: datetime
    length_s: float
    kcal_each: float | None
    outline: list[OutlineBlock]


class ClassOut(BaseModel):
    """A class with its newest plan."""

    id: int
    revision: int
    saved_at: datetime
    plan: ClassPlan


class Imported(BaseModel):
    """A class that was brought in from a file, and what to know about it."""

    made: ClassOut
    notes: list[str]


class Archive(BaseModel):
    """Whether it is out of the lists."""

    archived: bool


class Draft(BaseModel):
    """A plan that need not be saved."""

    plan: ClassPlan


class FileIn(BaseModel):
    """A class file of any version, as it was read."""

    document: dict[str, Any]


class SaveIn(BaseModel):
    """A plan to keep, and the revision it was made from."""

    based_on: Number
    plan: ClassPlan


class HistoryEntryOut(BaseModel):
    """A saved revision with what changed from the one before it. Energy is for instructors."""

    revision: int
    saved_at: datetime
    length_s: float
    kcal_each: float | None
    changes: list[str]


@router.get("/classes", response=list[ClassSummary], auth=needs("run_classes"))
def list_classes(request: HttpRequest) -> list[ClassSummary]:
    """Every class, the one saved last first; archived ones are marked."""
    closed = not may(request, "read_health")
    today = timezone.localdate(timezone=studio_of(request).zone)
    return [
        _summary(revision, today, closed=closed)
        for revision in keeping.latest_revisions(studio_of(request)).select_related("planned_class").defer("document")
    ]


def _summary(revision: Revision, today: date, *, closed: bool) -> ClassSummary:
    planned = revision.planned_class
    facts = planned.facts
    held = keeping.occasions_of(facts)
    return ClassSummary(
        id=planned.pk,
        name=facts["name"],
        starts=facts["starts"] or "",
        next_on=next((item.on for item in held if item.on >= today), held[-1].on if held else None),
        slot_min=facts["slot_min"],
        people=len(facts["people"]),
        crowd=facts["people"],
        room=facts["room"],
        exercises=facts["exercises"],
        course=planned.course_id,
        course_week=planned.course_week,
        archived=planned.archived,
        revision=revision.number,
        saved_at=revision.saved_at,
        length_s=revision.length_s,
        kcal_each=None if closed else revision.kcal_each,
        outline=revision.outline,
    )


@router.put("/classes/{class_id}/archived", response={204: None})
def archive_class(request: HttpRequest, class_id: RowId, given: Archive) -> Status[None]:
    """Take a class out of the lists, or back in."""
    planned = get_object_or_404(studio_of(request).classes, pk=class_id)
    planned.archived = given.archived
    planned.save(update_fields=["archived"])
    return Status(204, None)


@router.post("/classes", response={201: ClassOut, 422: Faults})
def create_class(request: HttpRequest, draft: Draft) -> Status[ClassOut]:
    """Keep a new class."""
    return Status(201, _out(keeping.create(studio_of(request), draft.plan)))


@router.post("/classes/import", response={201: Imported, 422: Faults})
def import_class(request: HttpRequest, file: FileIn) -> Status[Imported]:
    """Keep the class of a class file, also of an older version."""
    revision, notes = keeping.bring_in(studio_of(request), file.document)
    return Status(201, Imported(made=_out(revision), notes=notes))


@router.get("/classes/{class_id}", response=ClassOut, auth=needs("run_classes"))
def read_class(request: HttpRequest, class_id: RowId) -> ClassOut:
    """A class with its newest plan."""
    planned = get_object_or_404(studio_of(request).classes, pk=class_id)
    return _out(planned.revisions.latest("number"))


@router.put("/classes/{class_id}", response={200: ClassOut, 409: Stale[ClassOut], 422: Faults})
def save_class(request: HttpRequest, class_id: RowId, save: SaveIn) -> Status[ClassOut] | Status[Stale[ClassOut]]:
    """Keep a new revision; 409 with the newest one when the plan was made from an older."""
    planned = get_object_or_404(studio_of(request).classes, pk=class_id)
    try:
        return Status(200, _out(keeping.save(planned, save.based_on, save.plan)))
    except StaleSave as stale:
        return Status(409, Stale[ClassOut](message=str(stale), latest=_out(stale.latest)))


@router.get("/classes/{class_id}/history", response=list[HistoryEntryOut], auth=needs("run_classes"))
def read_history(request: HttpRequest, class_id: RowId) -> list[HistoryEntryOut]:
    """Every revision, the newest first, with what changed."""
    planned = get_object_or_404(studio_of(request).classes, pk=class_id)
    closed = {} if may(request, "read_health") else {"kcal_each": None}
    return [HistoryEntryOut(**{**vars(step), **closed}) for step in keeping.history(planned)]


@router.get("/classes/{class_id}/revisions/{number}", response=ClassOut, auth=needs("run_classes"))
def read_revision(request: HttpRequest, class_id: RowId, number: Number) -> ClassOut:
    """A class as it was saved once."""
    return _out(
        get_object_or_404(Revision, planned_class__studio=studio_of(request), planned_class=class_id, number=number)
    )


@router.get("/classes/{class_id}/file", response=ClassFile)
def read_file(request: HttpRequest, response: HttpResponse, class_id: RowId) -> ClassFile:
    """The newest plan as a complete class file: with its room, its people and the studio's own exercises."""
    planned = get_object_or_404(studio_of(request).classes, pk=class_id)
    response["Content-Disposition"] = f'attachment; filename="class-{class_id}.json"'
    return keeping.class_file_of(studio_of(request), keeping.plan_of(planned.revisions.latest("number")))


@router.post("/forecast", response={200: Forecast | OpenForecast, 422: Faults}, auth=needs("run_classes"))
def forecast_draft(request: HttpRequest, draft: Draft) -> HttpResponse:
    """Forecast a plan without keeping it. Assistants get it without what tells of anybody's health."""
    predicted = keeping.forecast_of(studio_of(request), draft.plan)
    shown = predicted if may(request, "read_health") else for_assistants(predicted)
    # the core made it and it is long: written out at once, without being checked again
    return HttpResponse(shown.model_dump_json(), content_type="application/json")


def _out(revision: Revision) -> ClassOut:
    return ClassOut(
        id=revision.planned_class_id,
        revision=revision.number,
        saved_at=revision.saved_at,
        plan=keeping.plan_of(revision),
    )
