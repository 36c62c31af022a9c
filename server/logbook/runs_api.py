"""Endpoints of runs: getting a class ready to be run, logging one that was held, the list, taking one out."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Literal

from django.http import HttpRequest
from django.shortcuts import get_object_or_404
from ninja import Router, Status
from oaken.basis.faults import Faults, FaultyInput, faults_in
from oaken.basis.moments import Moment
from oaken.plan import MOST_IN_CLASS
from pydantic import BaseModel, Field
from studio.access import Number, RowId, member, needs, studio_of
from studio.models import Member

from logbook import runs
from logbook.models import Run

router = Router(tags=["runs"])


LISTED = 500
"""The list has so many runs, the last ones."""


class PastClassIn(BaseModel):
    """A class that was held, when it began, and who came (None: everybody in it)."""

    class_id: RowId
    revision: Number
    began_at: Moment
    people: Annotated[list[str], Field(max_length=MOST_IN_CLASS)] | None = None


class RunOut(BaseModel):
    """A class that is ready to be run, runs, or is over. `people` are those who came, `recorded` those of whom there is
    a recording; both are known when it is over. Energy is for instructors."""

    id: int
    class_id: RowId
    revision: int
    name: str
    state: Literal["ready", "running", "over"]
    opened_at: datetime
    began_at: datetime | None
    ended_at: datetime | None
    people: list[str]
    recorded: list[str]
    people_count: int
    kcal_total: float | None


class RunIn(BaseModel):
    """Which saved class is to be run."""

    class_id: RowId
    revision: Number


@router.post("/runs", response={201: RunOut, 422: Faults}, auth=needs("run_classes"))
def open_run(request: HttpRequest, given: RunIn) -> Status[RunOut]:
    """Get a saved class ready to be run."""
    planned = get_object_or_404(studio_of(request).classes, pk=given.class_id)
    get_object_or_404(planned.revisions, number=given.revision)
    return Status(201, run_out(runs.open_run(studio_of(request), planned, given.revision), member(request)))


@router.post("/runs/past", response={201: RunOut, 422: Faults}, auth=needs("run_classes"))
def hold_class(request: HttpRequest, given: PastClassIn) -> Status[RunOut]:
    """Log that a class was held."""
    planned = get_object_or_404(studio_of(request).classes, pk=given.class_id)
    kept = get_object_or_404(planned.revisions, number=given.revision)
    came = given.people if given.people is not None else list(kept.document["people"])
    run = runs.hold(studio_of(request), planned, given.revision, given.began_at, came)
    return Status(201, run_out(run, member(request)))


@router.get("/runs", response=list[RunOut], auth=needs("run_classes"))
def list_runs(request: HttpRequest) -> list[RunOut]:
    """Classes that are run or were, the last one first."""
    found = studio_of(request).runs.select_related("saved_as").defer("file")
    whole = found.prefetch_related("attendances__person", "recordings__person")[:LISTED]
    return [run_out(item, member(request)) for item in whole]


@router.delete("/runs/{run_id}", response={204: None, 422: Faults})
def forget_run(request: HttpRequest, run_id: RowId) -> Status[None]:
    """Take a class out of the log, with its recordings; one that runs has to be ended first."""
    run = get_object_or_404(studio_of(request).runs, pk=run_id)
    if run.began_at is not None and run.ended_at is None:
        message = "this class runs: devices would be left with presses that nobody takes"
        raise FaultyInput([faults_in("the run")("run", message, "end the class first")])
    run.delete()
    return Status(204, None)


def run_of(request: HttpRequest, run_id: int) -> Run:
    """A run of the studio. Raises Http404."""
    return get_object_or_404(studio_of(request).runs, pk=run_id)


def run_out(run: Run, reader: Member) -> RunOut:
    """A run as it is told to somebody."""
    return RunOut(
        id=run.pk,
        class_id=run.saved_as.planned_class_id,
        revision=run.saved_as.number,
        name=name_of(run),
        state="over" if run.ended_at else "running" if run.began_at else "ready",
        opened_at=run.opened_at,
        began_at=run.began_at,
        ended_at=run.ended_at,
        people=[attendance.person.key for attendance in run.attendances.all()],
        recorded=[recording.person.key for recording in run.recordings.all()],
        people_count=run.people_count,
        kcal_total=run.kcal_total if reader.may("read_health") and run.ended_at else None,
    )


def name_of(run: Run) -> str:
    """What the class was called."""
    return str(run.saved_as.document["name"])
