"""Endpoints of the class plans and their forecasts."""

from datetime import datetime

from django.http import HttpRequest
from django.shortcuts import get_object_or_404
from ninja import Router, Status
from oaken.plan import ClassPlan
from oaken.problems import Problem
from oaken.report import Forecast
from pydantic import BaseModel

from planning import keeping
from planning.models import PlannedClass, Revision

router = Router(tags=["planning"])


class Faults(BaseModel):
    """What is wrong with a request, every problem with its place."""

    problems: list[Problem]


class OutlineBlock(BaseModel):
    """A block as the list of classes draws it."""

    name: str
    kind: str
    start_s: float
    end_s: float


class ClassSummary(BaseModel):
    """One line of the list of classes; length and energy are as forecast when it was saved."""

    id: int
    name: str
    starts: str
    slot_min: int
    people: int
    revision: int
    saved_at: datetime
    length_s: float
    kcal_each: float
    outline: list[OutlineBlock]


class ClassOut(BaseModel):
    """A class with its newest plan."""

    id: int
    revision: int
    saved_at: datetime
    plan: ClassPlan


class Draft(BaseModel):
    """A plan that need not be saved."""

    plan: ClassPlan


class SaveIn(BaseModel):
    """A plan to keep, and the revision it was made from."""

    based_on: int
    plan: ClassPlan


class Stale(BaseModel):
    """Nothing was saved: a newer revision exists, and this is it."""

    message: str
    latest: ClassOut


@router.get("/classes", response=list[ClassSummary])
def list_classes(request: HttpRequest) -> list[ClassSummary]:
    """Every class, the one saved last first."""
    return [
        ClassSummary(
            id=revision.planned_class_id,
            name=revision.document["name"],
            starts=revision.document["starts"],
            slot_min=revision.document["slot_min"],
            people=len(revision.document["people"]),
            revision=revision.number,
            saved_at=revision.saved_at,
            length_s=revision.length_s,
            kcal_each=revision.kcal_each,
            outline=revision.outline,
        )
        for revision in keeping.latest_revisions()
    ]


@router.post("/classes", response={201: ClassOut, 422: Faults})
def create_class(request: HttpRequest, draft: Draft) -> Status[ClassOut]:
    """Keep a new class."""
    return Status(201, _out(keeping.create(draft.plan)))


@router.get("/classes/{class_id}", response=ClassOut)
def read_class(request: HttpRequest, class_id: int) -> ClassOut:
    """A class with its newest plan."""
    planned = get_object_or_404(PlannedClass, pk=class_id)
    return _out(planned.revisions.latest("number"))


@router.put("/classes/{class_id}", response={200: ClassOut, 409: Stale, 422: Faults})
def save_class(request: HttpRequest, class_id: int, save: SaveIn) -> Status[ClassOut] | Status[Stale]:
    """Keep a new revision; 409 with the newest one when the plan was made from an older."""
    planned = get_object_or_404(PlannedClass, pk=class_id)
    try:
        return Status(200, _out(keeping.save(planned, save.based_on, save.plan)))
    except keeping.StaleRevision as stale:
        message = f"This class was saved elsewhere in the meantime (revision {stale.latest.number})."
        return Status(409, Stale(message=message, latest=_out(stale.latest)))


@router.post("/forecast", response={200: Forecast, 422: Faults})
def forecast_draft(request: HttpRequest, draft: Draft) -> Forecast:
    """Forecast a plan without keeping it."""
    return keeping.forecast_of(draft.plan)


def _out(revision: Revision) -> ClassOut:
    plan = ClassPlan.model_validate(revision.document)
    return ClassOut(id=revision.planned_class_id, revision=revision.number, saved_at=revision.saved_at, plan=plan)
