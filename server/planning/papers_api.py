"""What is printed of a class: as data for the screen, and as PDF."""

from __future__ import annotations

import os
import subprocess
import sys

from django.http import HttpRequest, HttpResponse
from django.utils import timezone
from ninja import Router
from oaken.basis.faults import Faults
from oaken.paper import PAPERS, Format, Paper, PaperKind, Printed
from oaken.plan import ClassPlan
from pydantic import BaseModel, TypeAdapter
from studio.access import studio_of
from studio.turns import long_work

from planning import keeping

router = Router(tags=["papers"])

LONGEST_S = 60
"""Nothing that is allowed takes so long to draw."""


class PaperIn(BaseModel):
    """A plan, saved or not, and which paper of it."""

    plan: ClassPlan
    kind: PaperKind


class PdfIn(PaperIn):
    """The same on paper of a size."""

    page: Format = "a4"


@router.post("/papers", response={200: Paper, 422: Faults})
@long_work
def read_paper(request: HttpRequest, given: PaperIn) -> Paper:
    """A paper as data."""
    return _paper(request, given)


@router.post("/papers/pdf", response={200: None, 422: Faults})
@long_work
def draw_paper(request: HttpRequest, given: PdfIn) -> HttpResponse:
    """A paper as PDF."""
    content = _drawn(_paper(request, given), given.page)
    return HttpResponse(content, content_type="application/pdf")


def _paper(request: HttpRequest, given: PaperIn) -> Paper:
    file = keeping.class_file_of(studio_of(request), given.plan)
    return PAPERS[given.kind][1](Printed(file), timezone.localdate())


def _drawn(paper: Paper, page: Format) -> bytes:
    """Drawn in a process of its own, which takes what Typst keeps with it when it ends."""
    given = TypeAdapter(dict[str, object]).dump_json({"paper": paper.model_dump(mode="json"), "format": page})
    done = subprocess.run(
        [sys.executable, "-m", "oaken.paper.pdf"],
        input=given,
        capture_output=True,
        check=True,
        timeout=LONGEST_S,
        env={**os.environ, "PYTHONPATH": os.pathsep.join(sys.path)},
    )
    return done.stdout
