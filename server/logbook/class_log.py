"""The page of one run in the book: planned beside actual, the log set by set, hearts, notes, stops, and what was taken
back; and sets that are typed in or read from a table afterwards."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Any
from uuid import uuid4

from oaken.basis.faults import FaultyInput, faults_in
from oaken.schedule.class_file import ClassFile
from oaken.session import Event, LogRow, SetRow, log_of, read_sets, standing
from oaken.session.events import AsPlanned, BranchDecided, Noted, SetDone, StoppedFor, Withdrawn
from oaken.session.log import event_words
from oaken.session.sets_file import outcome_of

from logbook import runs
from logbook.clock import now_of
from logbook.models import Run

_fault = faults_in("the table")


@dataclass(frozen=True, slots=True)
class Trace:
    """Something that was taken back: what it said, when and by whom it was written, and when and by whom withdrawn."""

    kind: str
    words: str
    written_at: datetime
    by: str
    withdrawn_at: datetime
    withdrawn_by: str


@dataclass(frozen=True, slots=True)
class ClassLogPage:
    """A note or a stop: when, of whom (empty: of the class), by whom, in words."""

    at: datetime
    person: str
    words: str
    by: str
    stop: bool


@dataclass(frozen=True, slots=True)
class Page:
    """A run's page."""

    log: list[LogRow]
    names: dict[str, str]
    exercises: dict[str, str]
    told: list[ClassLogPage]
    traces: list[Trace]


def page_of(run: Run) -> Page:
    """Everything a run's page says but figures and hearts. Raises FaultyInput where an earlier version kept too
    little."""
    file, run_state, _ = runs.actual_of(run)
    events = [event for _, event in runs.events_of(run)]
    log = log_of(file, events, run_state)
    known = file.catalogue().exercises
    told = [
        ClassLogPage(item.happened_at, item.person or "", item.words, item.by, isinstance(item, StoppedFor))
        for item in standing(events)
        if isinstance(item, Noted | StoppedFor)
    ]
    told += [
        ClassLogPage(item.happened_at, item.person, _decided(item, file, log), item.by, False)
        for item in standing(events)
        if isinstance(item, BranchDecided)
    ]
    told.sort(key=lambda item: item.at)
    return Page(
        log=log,
        names={person.id: person.name for person in file.participants},
        exercises={row.exercise: known[row.exercise].name for row in log if row.exercise in known},
        told=told,
        traces=_traces(events),
    )


def _decided(event: BranchDecided, file: ClassFile, log: Sequence[LogRow]) -> str:
    """A decision with its answer, and before which set of what it was asked."""
    row = next((row for row in log if (row.person, row.part) == (event.person, event.part)), None)
    exercise = None if row is None else file.catalogue().exercises.get(row.exercise)
    where = event.part if exercise is None else exercise.name
    return f"{where}, before set {event.number}: {event.when}? {f'yes, {event.then}' if event.so else 'no'}"


def _traces(events: Sequence[Event]) -> list[Trace]:
    by_id = {event.id: event for event in events}
    counting = {event.id for event in standing(events)}
    found = []
    for event in events:
        if isinstance(event, Withdrawn) and event.event in by_id and event.event not in counting:
            gone = by_id[event.event]
            found.append(Trace(gone.kind, _words(gone), gone.happened_at, gone.by, event.happened_at, event.by))
    # a set that was written down twice: the earlier one no longer counts
    last: dict[tuple[str, str, int, str | None], SetDone] = {}
    for event in standing(events):
        if isinstance(event, SetDone):
            key = (event.person, event.part, event.number, event.side)
            before = last.get(key)
            if before is not None:
                words = f"{_words(before)}, then {_words(event)}"
                found.append(Trace("set_done", words, before.happened_at, before.by, event.happened_at, event.by))
            last[key] = event
    return sorted(found, key=lambda item: item.withdrawn_at)


def _words(event: Event) -> str:
    match event:
        case SetDone():
            return f"{event.person}, {event.part}, set {event.number}: {event_words(event)}"
        case AsPlanned():
            return f"as planned: {event.person or event.part or event.block or 'everybody'}"
        case BranchDecided():
            return (
                f"{event.person}, {event.part}, before set {event.number}: {event.when}? {'yes' if event.so else 'no'}"
            )
        case Noted() | StoppedFor():
            return event.words
        case _:
            return event.kind.replace("_", " ")


@dataclass(frozen=True, slots=True)
class SetsPreview:
    """What a table of sets would do to a run: its rows, and what each does."""

    rows: list[SetRow]
    outcomes: list[str]


def preview_sets(run: Run, content: bytes) -> SetsPreview:
    """Read a table of sets without keeping anything. Raises FaultyInput where it cannot be read at all."""
    page = page_of(run)
    rows = read_sets(content, page.log, page.names, runs.file_of(run).catalogue())
    written = {(row.person, row.part, row.number): row.written for row in page.log}
    return SetsPreview(rows, [outcome_of(row, written) for row in rows])


def keep_sets(run: Run, content: bytes, by: str, *, only_right: bool) -> int:
    """Keep a table of sets as events; how many rows were kept. Raises FaultyInput, and keeps nothing, where a row is
    faulty, unless only those that are right are wanted."""
    preview = preview_sets(run, content)
    faults = [fault for row in preview.rows for fault in row.faults]
    if faults and not only_right:
        raise FaultyInput(faults)
    now = now_of(run.pk)
    batch: list[dict[str, Any]] = []
    for row, outcome in zip(preview.rows, preview.outcomes, strict=True):
        if outcome in ("faulty", "empty"):
            continue
        plain: dict[str, Any] = {"id": uuid4().hex, "happened_at": now.isoformat(), "device": "table"}
        kind = "as_planned" if outcome == "as planned" else "set_done"
        named = ("person", "part", "number") if outcome == "as planned" else tuple(row.fields)
        batch.append({**plain, "kind": kind, **{name: row.fields[name] for name in named}})
    if batch:
        kept = runs.append(run, batch, by)
        if kept.refused:
            raise FaultyInput([_fault("sets", item.message, "a set as it can be") for item in kept.refused])
    return len(batch)
