"""Endpoints of the book: a run's page, its log as a table, and a table read back."""

from __future__ import annotations

from datetime import datetime
from typing import Literal

from django.http import HttpRequest, HttpResponse
from ninja import Router
from oaken.basis.faults import Fault, Faults
from oaken.domain.prescription import Aid, Stance
from oaken.session import LogRow, PlannedAndActual, write_sets
from studio.access import RowId, may, member, needs
from studio.answers import Answer
from studio.files import FILE_BODY, received

from logbook import class_log, keeping
from logbook.models import Run
from logbook.runs_api import RunOut, run_of, run_out

router = Router(tags=["book"])


class PartOut(Answer):
    """What was written down of a set, or of one part of it."""

    load_kg: float | None
    reps: int | None
    seconds: float | None
    to_failure: bool
    helped: bool
    helped_reps: int | None
    reps_left: int | None
    range_of_motion: Literal["full", "partial"] | None
    form: Literal["good", "poor"] | None
    rest_s: float | None


class SetUpOut(Answer):
    """How somebody was set up."""

    stance: list[Stance]
    heels_cm: float | None
    aids: list[Aid]


class DoneOut(PartOut):
    """What was written down of a set, or of one side of it."""

    side: Literal["left", "right"] | None
    parts: list[PartOut]
    set_up: SetUpOut | None
    note: str


class LogRowOut(Answer):
    """One set of one person: what was planned (repetitions a side, None where it goes by the clock), how it stands, and
    what was written down."""

    person: str
    block: str
    part: str
    exercise: str
    name: str
    number: int
    unit: str
    planned_kg: float | None
    planned_low: int | None
    planned_high: int | None
    one_sided: bool
    written: Literal["not written", "as planned", "done"]
    done: list[DoneOut]


class ToldOut(Answer):
    """A note or a stop."""

    at: datetime
    person: str
    words: str
    by: str
    stop: bool


class TraceOut(Answer):
    """Something that was taken back or written anew."""

    kind: str
    words: str
    written_at: datetime
    by: str
    withdrawn_at: datetime
    withdrawn_by: str


class HeartOut(Answer):
    """A recording beside its forecast."""

    person: str
    minutes: float
    error_bpm: float
    bias_bpm: float
    every_s: int
    forecast: list[float]
    recorded: list[float | None]


class BookOut(Answer):
    """A run's page. Assistants are told no hearts, no stops, and nothing that was written of somebody."""

    run: RunOut
    people: dict[str, str]
    rows: list[PlannedAndActual]
    log: list[LogRowOut]
    told: list[ToldOut]
    traces: list[TraceOut]
    hearts: list[HeartOut]


class SetRowOut(Answer):
    """A row of the table, and what it does."""

    line: int
    who: str
    what: str
    outcome: Literal["new", "changes", "as planned", "empty", "faulty"]
    faults: list[Fault]


class SetsRead(Answer):
    """What a table does, or did: its rows, and how many were kept."""

    rows: list[SetRowOut]
    kept: int


@router.get("/runs/{run_id}/book", response={200: BookOut, 422: Faults}, auth=needs("run_classes"))
def read_book(request: HttpRequest, run_id: RowId) -> BookOut:
    """A run's page: planned beside actual, the log, notes and stops, what was taken back, hearts beside forecasts."""
    run = run_of(request, run_id)
    page = class_log.page_of(run)
    health = may(request, "read_health")
    figures = [PlannedAndActual.model_validate(row) for row in run.figures]
    return BookOut(
        run=run_out(run, member(request)),
        people=page.names,
        rows=figures if health else [row for row in figures if not row.of_bodies],
        log=[_row(row, page.exercises, note=health) for row in page.log],
        told=[ToldOut.model_validate(item) for item in page.told if health or not (item.person or item.stop)],
        traces=[
            TraceOut.model_validate(trace)
            for trace in page.traces
            if health or trace.kind in ("set_done", "as_planned")
        ],
        hearts=_hearts(run) if health else [],
    )


def _hearts(run: Run) -> list[HeartOut]:
    return [
        HeartOut(
            person=recording.person.key,
            minutes=told.minutes,
            error_bpm=told.error_bpm,
            bias_bpm=told.bias_bpm,
            every_s=told.every_s,
            forecast=told.forecast,
            recorded=told.recorded,
        )
        for recording, told in keeping.hearts_beside(run)
    ]


def _row(row: LogRow, names: dict[str, str], *, note: bool) -> LogRowOut:
    low, high = row.window or (None, None)
    return LogRowOut(
        person=row.person,
        block=row.block,
        part=row.part,
        exercise=row.exercise,
        name=names.get(row.exercise, row.exercise),
        number=row.number,
        unit=row.unit,
        planned_kg=row.planned_kg,
        planned_low=low,
        planned_high=high,
        one_sided=any(bout.change_of_side_s > 0 for bout in row.bouts),
        written=row.written,
        done=[DoneOut.model_validate(item if note else item.model_copy(update={"note": ""})) for item in row.done],
    )


@router.get("/runs/{run_id}/sets.csv", auth=needs("run_classes"))
def read_sets_file(request: HttpRequest, run_id: RowId) -> HttpResponse:
    """The log of a run as a table."""
    page = class_log.page_of(run_of(request, run_id))
    answer = HttpResponse(write_sets(page.log, page.names), content_type="text/csv; charset=utf-8")
    answer["Content-Disposition"] = f'attachment; filename="sets-{run_id}.csv"'
    return answer


@router.post(
    "/runs/{run_id}/sets-file",
    response={200: SetsRead, 422: Faults},
    auth=needs("run_classes"),
    openapi_extra=FILE_BODY,
)
def take_sets_file(request: HttpRequest, run_id: RowId, keep: bool = False, only_right: bool = False) -> SetsRead:
    """A table of sets (CSV). Without `keep` it is only looked at; with `only_right` faulty rows are passed over."""
    run = run_of(request, run_id)
    content = received(request, "table.bytes")
    preview = class_log.preview_sets(run, content)
    kept = 0
    if keep:
        kept = class_log.keep_sets(run, content, member(request).user.get_username(), only_right=only_right)
    return SetsRead(
        rows=[
            SetRowOut(line=row.line, who=row.who, what=row.what, outcome=outcome, faults=row.faults)
            for row, outcome in zip(preview.rows, preview.outcomes, strict=True)
        ],
        kept=kept,
    )
