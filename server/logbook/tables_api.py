"""Endpoints of tables: eight that go out, two that come back here (the roster and a class's sets have their own)."""

from __future__ import annotations

import tempfile
from collections.abc import Callable
from datetime import date
from typing import Annotated, Literal

from django.http import HttpRequest, HttpResponseBase
from django.utils import timezone
from ninja import Router
from oaken.basis.faults import Fault, Faults, FaultyInput, faults_in
from oaken.exports.tables import table_lines
from pydantic import Field
from studio.access import studio_of
from studio.answers import Answer
from studio.files import FILE_BODY, received, sent
from studio.models import Studio
from studio.turns import long_work

from logbook import tables

router = Router(tags=["tables"])
_fault = faults_in("the table")

Name = Literal["sets", "attendance", "figures", "hearts", "loads", "settings", "progress", "forecasts"]
Comes = Literal["loads", "settings"]


class TableRowOut(Answer):
    """A row of a table, and what it does."""

    line: int
    who: str
    what: str
    outcome: tables.Outcome
    faults: list[Fault]


class TableRead(Answer):
    """What a table does, or did: its rows, and how many changed something."""

    rows: list[TableRowOut]
    kept: int


@router.get("/tables/{name}")
@long_work
def take_table(
    request: HttpRequest,
    name: Name,
    since: date | None = None,
    until: date | None = None,
    person: Annotated[str, Field(max_length=60)] = "",
) -> HttpResponseBase:
    """A table of the studio as CSV: of everything, or from one day to another, of everybody or of one person."""
    studio = studio_of(request)
    last = date(2100, 1, 1) if name == "forecasts" else timezone.localdate(timezone=studio.zone)
    asked = tables.TableAsked(studio, since or tables.EARLIEST, until or last, person)
    if asked.until < asked.since or not tables.EARLIEST <= asked.until <= date(2100, 1, 1):
        raise FaultyInput([_fault("until", f"{asked.until} is before {asked.since}", "a day behind the first")])
    file = tempfile.TemporaryFile()  # noqa: SIM115 — closed when the last piece of it was sent
    for part in table_lines(name, tables.TABLES[name](asked)):
        file.write(part)
    return sent(request, file, "text/csv; charset=utf-8", f"{name}.csv")


TAKES: dict[Comes, Callable[..., tuple[list[tables.RowOutcome], int]]] = {
    "loads": tables.take_lifts,
    "settings": tables.take_settings,
}


@router.post("/tables/{name}", response={200: TableRead, 422: Faults}, openapi_extra=FILE_BODY)
def take_table_in(request: HttpRequest, name: Comes, keep: bool = False, only_right: bool = False) -> TableRead:
    """A table that comes back (CSV). Without `keep` it is only looked at; with `only_right` faulty rows are left out.
    An empty cell leaves what was written down, “-” takes it away."""
    studio: Studio = studio_of(request)
    told, kept = TAKES[name](studio, received(request, "table.bytes"), keep=keep, only_right=only_right)
    return TableRead(rows=[TableRowOut.model_validate(item) for item in told], kept=kept)
