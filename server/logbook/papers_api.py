"""What is printed of a class, a run or a course: as data for the screen, and as PDF. What tells of health is for
instructors."""

from __future__ import annotations

import io
import re
import zipfile
from collections import defaultdict
from collections.abc import Sequence
from datetime import date

from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404
from django.utils import timezone
from ninja import Router
from oaken.basis.faults import Fault, Faults, FaultyInput
from oaken.basis.words import in_kg
from oaken.exports.paper import PAPERS, ClassPaper, Format, Paper, Printed, programme
from oaken.exports.paper.pdf import code_of
from oaken.plan import ClassPlan
from oaken.programme.progress import Session, SetTarget
from oaken.schedule.class_file import ClassFile
from people.models import UnitSetting
from planning import courses, keeping
from pydantic import BaseModel
from studio.access import NotAllowed, RowId, may, needs, studio_of
from studio.address import address_of
from studio.models import Studio
from studio.own import house_catalogue
from studio.turns import long_work

from logbook import runs, sets
from logbook.drawing import drawn

router = Router(tags=["papers"])

FOR_INSTRUCTORS = ("before-start",)
WITH_TARGETS = ("people", "log-sheet")


class PaperOf(BaseModel):
    """Which paper."""

    kind: ClassPaper


class PdfOf(PaperOf):
    """Which paper, on paper of a size."""

    page: Format = "a4"


class PaperIn(PaperOf):
    """A plan, saved or not, and which paper of it; with the number of its class the code on the run sheet opens its
    run."""

    plan: ClassPlan
    class_id: RowId | None = None


class PdfIn(PaperIn):
    """The same on paper of a size."""

    page: Format = "a4"


class WeekPapers(PdfOf):
    """Which paper of every class of a week."""

    week: int


class PageIn(BaseModel):
    """The size of the paper."""

    page: Format = "a4"


class PaperOut(Paper):
    """A paper as data, with the code that opens its address as SVG (empty for none)."""

    code: str = ""


def _out(paper: Paper) -> PaperOut:
    return PaperOut(**dict(paper), code=code_of(paper.opens) if paper.opens else "")


@router.post("/papers", response={200: PaperOut, 422: Faults}, auth=needs("run_classes"))
@long_work
def read_paper(request: HttpRequest, given: PaperIn) -> PaperOut:
    """A paper of a class as data."""
    return _out(_of_class(request, given))


@router.post("/papers/pdf", response={200: None, 422: Faults}, auth=needs("run_classes"))
@long_work
def draw_paper(request: HttpRequest, given: PdfIn) -> HttpResponse:
    """A paper of a class as PDF."""
    return _pdf(_of_class(request, given), given.page)


@router.post("/runs/{run_id}/papers", response={200: PaperOut, 422: Faults}, auth=needs("run_classes"))
@long_work
def read_paper_of_run(request: HttpRequest, run_id: RowId, given: PaperOf) -> PaperOut:
    """A paper of a run as data: with the room and people it is held with."""
    return _out(_of_run(request, run_id, given))


@router.post("/runs/{run_id}/papers/pdf", response={200: None, 422: Faults}, auth=needs("run_classes"))
@long_work
def draw_paper_of_run(request: HttpRequest, run_id: RowId, given: PdfOf) -> HttpResponse:
    """A paper of a run as PDF."""
    return _pdf(_of_run(request, run_id, given), given.page)


@router.post("/courses/{course_id}/papers", response={200: PaperOut, 422: Faults})
@long_work
def read_programme(request: HttpRequest, course_id: RowId) -> PaperOut:
    """The programme of a course as data: every week, and what changes in it."""
    return _out(_programme(request, course_id))


@router.post("/courses/{course_id}/papers/pdf", response={200: None, 422: Faults})
@long_work
def draw_programme(request: HttpRequest, course_id: RowId, given: PageIn) -> HttpResponse:
    """The programme of a course as PDF."""
    return _pdf(_programme(request, course_id), given.page)


@router.post("/courses/{course_id}/papers/week", response={200: None, 422: Faults})
@long_work
def draw_week(request: HttpRequest, course_id: RowId, given: WeekPapers) -> HttpResponse:
    """A paper of every class of a week that is written out, as PDF files in a zip."""
    course = get_object_or_404(studio_of(request).courses, pk=course_id)
    rows = list(course.classes.filter(course_week=given.week, archived=False).order_by("pk"))
    if not rows:
        message, right = f"week {given.week} is not written out", "a week that was made into classes"
        raise FaultyInput([Fault(path="week", place="the course", field="week", message=message, right=right)])
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as target:
        for number, planned in enumerate(rows, 1):
            plan = keeping.plan_of(planned.revisions.latest("number"))
            file = keeping.class_file_of(course.studio, plan)
            paper = _paper(request, file, given.kind, f"/classes/{planned.pk}/run")
            name = re.sub(r"[^\w ,-]+", " ", plan.name).strip() or f"class {planned.pk}"
            target.writestr(f"{number} {name}, {given.kind}.pdf", drawn(paper, given.page))
    answer = HttpResponse(out.getvalue(), content_type="application/zip")
    answer["Content-Disposition"] = f'attachment; filename="week-{given.week}-{given.kind}.zip"'
    return answer


def _of_class(request: HttpRequest, given: PaperIn) -> Paper:
    file = keeping.class_file_of(studio_of(request), given.plan)
    return _paper(request, file, given.kind, "" if given.class_id is None else f"/classes/{given.class_id}/run")


def _of_run(request: HttpRequest, run_id: int, given: PaperOf) -> Paper:
    run = get_object_or_404(studio_of(request).runs, pk=run_id)
    return _paper(request, runs.file_of(run), given.kind, f"/runs/{run_id}")


def _programme(request: HttpRequest, course_id: int) -> Paper:
    course = get_object_or_404(studio_of(request).courses, pk=course_id)
    return programme(courses.course_of(course.revisions.latest("number")), house_catalogue(studio_of(request)))


def _paper(request: HttpRequest, file: ClassFile, kind: ClassPaper, path: str) -> Paper:
    if kind in FOR_INSTRUCTORS and not may(request, "read_health"):
        raise NotAllowed
    studio = studio_of(request)
    last = last_time(studio, file) if kind == "people" else {}
    today = timezone.localdate(timezone=studio.zone)
    targets = {}
    if kind in WITH_TARGETS:
        targets = {
            (own.person, own.part, own.exercise): _target_words(own.sets)
            for own in sets.targets_of(studio, file, today)
        }
    opens = f"{address_of(request)}{path}" if path else ""
    printed = Printed(file, last=last, targets=targets, settings=settings_of(studio, file), opens=opens)
    return PAPERS[kind][1](printed, today)


def _target_words(targets: Sequence[SetTarget]) -> dict[int, str]:
    """What is to be reached, by the set's number; with its day where the set before was of another."""
    days = [None, *(target.last.on for target in targets)]
    return {
        target.number: target.words if day == target.last.on else f"{target.words} ({_day(target.last.on)})"
        for day, target in zip(days, targets, strict=False)
    }


def _day(on: date) -> str:
    return f"{on.day} {on:%b}"


def settings_of(studio: Studio, file: ClassFile) -> dict[tuple[str, str], str]:
    """How the people of a class set the units of its room, in words, as it is written down."""
    found: dict[tuple[str, str], list[str]] = defaultdict(list)
    rows = UnitSetting.objects.filter(person__studio=studio, person__key__in=file.plan.people, room=file.room.id)
    for person, unit, name, value in rows.values_list("person__key", "unit", "name", "value"):
        found[person, unit].append(f"{name} {value}")
    return {key: ", ".join(words) for key, words in found.items()}


def last_time(studio: Studio, file: ClassFile) -> dict[tuple[str, str], str]:
    """What everybody did last of each exercise of a class, in words: “60 kg × 10, 10, 9 (24 Nov)”."""
    known = file.catalogue()
    lifts = {part.exercise for _, part in file.plan.placed() if part.exercise in known.exercises}
    pairs = {(person, lift): None for person in file.plan.people for lift in lifts}
    sessions = sets.last_sessions(studio, pairs, timezone.localdate(timezone=studio.zone), sessions=1)
    told = {pair: session_words(own[-1]) for pair, own in sessions.items() if own}
    return {pair: words for pair, words in told.items() if words}


def session_words(session: Session) -> str:
    """A day's sets in a few words: loads, each with the repetitions of its sets; empty where neither was counted."""
    if not any(each_set.reps or each_set.load_kg for each_set in session.sets):
        return ""
    by_load: dict[float | None, list[str]] = {}
    for each_set in session.sets:
        count = "–" if each_set.reps is None else str(each_set.reps)
        by_load.setdefault(each_set.load_kg, []).append(count)
    told = [
        ", ".join(counts) if load is None else f"{in_kg(load)} × {', '.join(counts)}"
        for load, counts in by_load.items()
    ]
    return f"{_short(told)} ({_day(session.on)})"


MOST_LOADS = 3


def _short(told: Sequence[str]) -> str:
    return "; ".join(told) if len(told) <= MOST_LOADS else f"{'; '.join(told[:MOST_LOADS])}; …"


def _pdf(paper: Paper, page: Format) -> HttpResponse:
    return HttpResponse(drawn(paper, page), content_type="application/pdf")
