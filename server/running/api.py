"""Endpoints of the live class: everything a device needs to go on alone, events in, passes for the wall."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Any

from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404
from django.utils import timezone
from logbook import runs
from logbook.clock import now_of
from logbook.runs_api import name_of, run_of
from ninja import Router, Status
from oaken.basis.faults import Faults
from oaken.basis.limits import most
from oaken.forecast.pre_class import DEFER, STOP_SIGNS
from oaken.session import Ask, Event, Offer, PlannedAndActual, Sheet, offers, planned_and_actual, write_log
from pydantic import BaseModel, ConfigDict, Field
from studio.access import RowId, may, member, needs, studio_of
from studio.turns import long_work

from running import hearts, keeping
from running.cards import Card, cards_of
from running.following import following, last_event
from running.models import WallPass
from running.visibility import Names, events_visible_to, for_the_wall, numbers_of, reader_of

router = Router(tags=["live class"])


class OpenedRun(BaseModel):
    """What is always told whole."""

    model_config = ConfigDict(json_schema_serialization_defaults_required=True)


class LiveRun(OpenedRun):
    """A run as a device takes it up: what it was planned as, everything that happened, and the server's time now.

    `seq` is the number of the last event in it: what comes later is followed from there.
    """

    id: int
    class_id: RowId
    revision: int
    name: str
    starts: str
    slot_s: float
    stop_signs: list[str]
    defer: str
    opened_at: datetime
    seq: int
    now: datetime
    sheets: list[Sheet]
    events: list[dict[str, Any]]


class SheetsOut(OpenedRun):
    """The sheets of every plan a run has had."""

    sheets: list[Sheet]


class EventsIn(BaseModel):
    """Events as a device kept them, in any order; those that were sent before count once."""

    events: Annotated[list[dict[str, Any]], Field(max_length=most("run.batch"))]


class RefusedEvent(OpenedRun):
    """An event that cannot be kept, and why."""

    id: str
    message: str


class EventsKept(OpenedRun):
    """Which events are on disk now, which were refused, the time of the run, and when those happened by it whose moment
    was ahead of it."""

    kept: list[str]
    refused: list[RefusedEvent]
    now: datetime
    clamped: dict[str, datetime]


class ClockOut(OpenedRun):
    """The server's time now."""

    now: datetime


class AfterOut(OpenedRun):
    """Figures of a run, planned beside actual."""

    rows: list[PlannedAndActual]


class AskIn(BaseModel):
    """What happened, or is wanted."""

    ask: Ask


class WallIn(BaseModel):
    """What the wall calls people by."""

    names: Names


class WallOut(OpenedRun):
    """An address for the wall: `path` on this server."""

    id: int
    path: str
    names: Names
    made_at: datetime


class WallRun(OpenedRun):
    """A run as the wall sees it: the clock and the places."""

    name: str
    names: Names
    opened_at: datetime
    seq: int
    now: datetime
    sheets: list[Sheet]
    events: list[dict[str, Any]]


class EventList(OpenedRun):
    """What happened, typed: the shape of what streams and live runs carry."""

    events: list[Event]


@router.get("/clock", response=ClockOut, auth=needs("run_classes"))
def tell_time(request: HttpRequest, run: RowId | None = None) -> ClockOut:
    """The server's time, for devices that set their clocks by it; with a run the time of that run, which no setting of
    the server's clock moves."""
    return ClockOut(now=timezone.now() if run is None else now_of(run_of(request, run).pk))


@router.get("/runs/{run_id}/live", response={200: LiveRun, 422: Faults}, auth=needs("run_classes"))
def take_up(request: HttpRequest, run_id: RowId) -> LiveRun:
    """Take up a run: sheets and everything that happened."""
    run = run_of(request, run_id)
    seq = last_event(run.pk)
    numbered = runs.events_of(run)
    plan = runs.file_of(run).plan
    return LiveRun(
        id=run.pk,
        class_id=run.saved_as.planned_class_id,
        revision=run.saved_as.number,
        name=name_of(run),
        starts=plan.starts,
        slot_s=plan.slot_min * 60,
        stop_signs=list(STOP_SIGNS),
        defer=DEFER,
        opened_at=run.opened_at,
        seq=seq,
        now=now_of(run.pk),
        sheets=runs.sheets(run, [event for _, event in numbered]),
        events=events_visible_to(numbered, reader_of(member(request))),
    )


@router.get("/runs/{run_id}/sheets", response={200: SheetsOut, 422: Faults}, auth=needs("run_classes"))
def list_sheets(request: HttpRequest, run_id: RowId) -> SheetsOut:
    """The sheets as the plan's changes left them."""
    run = run_of(request, run_id)
    return SheetsOut(sheets=runs.sheets(run, [event for _, event in runs.events_of(run)]))


@router.get("/runs/{run_id}/log", response={200: Any, 422: Faults})
def save_log(request: HttpRequest, run_id: RowId) -> HttpResponse:
    """The run log as a file: the class file, then one event a line."""
    run = run_of(request, run_id)
    text = write_log(runs.file_of(run), [event for _, event in runs.events_of(run)])
    response = HttpResponse(text, content_type="application/jsonl; charset=utf-8")
    response["Content-Disposition"] = f'attachment; filename="run-{run.pk}.jsonl"'
    return response


@router.get("/runs/{run_id}/events", response=EventList)
def list_events(request: HttpRequest, run_id: RowId) -> EventList:
    """Everything that happened in a run."""
    return EventList(events=[event for _, event in runs.events_of(run_of(request, run_id))])


@router.post("/runs/{run_id}/events", response={200: EventsKept, 422: Faults}, auth=needs("run_classes"))
def add_events(request: HttpRequest, run_id: RowId, given: EventsIn) -> EventsKept:
    """Keep events. When this answers they are on disk."""
    run = get_object_or_404(studio_of(request).runs.defer("file"), pk=run_id)
    kept = runs.append(run, given.events, member(request).user.get_username())
    following.wake(run.pk)
    if run.ended_at is not None:
        runs.follow_up(run, hearts.make_recordings)
    return EventsKept(
        kept=kept.ids,
        refused=[RefusedEvent(id=item.id, message=item.message) for item in kept.refused],
        now=now_of(run.pk),
        clamped=kept.clamped,
    )


@router.post("/runs/{run_id}/offers", response={200: list[Offer], 422: Faults}, auth=needs("run_classes"))
@long_work
def make_offers(request: HttpRequest, run_id: RowId, given: AskIn) -> list[Offer]:
    """What can be done about something that happened, each way with its effect; nothing is kept."""
    run = run_of(request, run_id)
    events = [event for _, event in runs.events_of(run)]
    found = offers(runs.file_of(run), events, now_of(run.pk), given.ask)
    if may(request, "read_health"):
        return found
    unread = {"heart_change_bpm": None, "energy_change_kcal": None}
    return [item.model_copy(update={"effect": item.effect.model_copy(update=unread)}) for item in found]


@router.get("/runs/{run_id}/after", response={200: AfterOut, 422: Faults}, auth=needs("run_classes"))
@long_work
def compare_actual(request: HttpRequest, run_id: RowId) -> AfterOut:
    """What was planned beside what actually was; hearts and energy for instructors."""
    run = run_of(request, run_id)
    file, _, real = runs.actual_of(run)
    rows = planned_and_actual(file, real)
    return AfterOut(rows=rows if may(request, "read_health") else [row for row in rows if not row.of_bodies])


@router.get("/runs/{run_id}/cards", response=list[Card], auth=needs("run_classes"))
def list_cards(request: HttpRequest, run_id: RowId) -> list[Card]:
    """What everybody's card says: settings; for instructors also what to be careful of, and the last note."""
    return cards_of(run_of(request, run_id), health=may(request, "read_health"), targets=True)


@router.get("/runs/{run_id}/walls", response=list[WallOut], auth=needs("run_classes"))
def list_walls(request: HttpRequest, run_id: RowId) -> list[WallOut]:
    """The addresses under which the wall may look at a run."""
    return [_wall(wall_pass) for wall_pass in run_of(request, run_id).wall_passes.filter(revoked_at=None)]


@router.post("/runs/{run_id}/walls", response={201: WallOut, 422: Faults}, auth=needs("run_classes"))
def add_wall(request: HttpRequest, run_id: RowId, given: WallIn) -> Status[WallOut]:
    """Make an address for the wall."""
    return Status(201, _wall(keeping.make_pass(run_of(request, run_id), given.names)))


@router.delete("/runs/{run_id}/walls/{wall_id}", response={204: None}, auth=needs("run_classes"))
def revoke_wall(request: HttpRequest, run_id: RowId, wall_id: RowId) -> Status[None]:
    """Revoke an address of the wall."""
    run = run_of(request, run_id)
    get_object_or_404(run.wall_passes, pk=wall_id)
    keeping.revoke(run, wall_id)
    following.look_again()
    return Status(204, None)


@router.get("/wall/{token}", response={200: WallRun, 422: Faults}, auth=None)
def look_from_wall(request: HttpRequest, token: Annotated[str, Field(max_length=64)]) -> WallRun:
    """What the wall shows: no account is needed, only an address that was not revoked."""
    found = get_object_or_404(WallPass.objects.select_related("run__saved_as"), token=token, revoked_at=None)
    run, names = found.run, _names(found)
    seq = last_event(run.pk)
    numbered = runs.events_of(run)
    return WallRun(
        name=name_of(run),
        names=names,
        opened_at=run.opened_at,
        seq=seq,
        now=now_of(run.pk),
        sheets=for_the_wall(runs.sheets(run, [event for _, event in numbered]), names),
        events=events_visible_to(numbered, "wall", numbers_of(runs.people_of(run.pk))),
    )


@router.get("/wall/{token}/clock", response=ClockOut, auth=None)
def tell_wall_time(request: HttpRequest, token: Annotated[str, Field(max_length=64)]) -> ClockOut:
    """The server's time, for the wall."""
    found = get_object_or_404(WallPass, token=token, revoked_at=None)
    return ClockOut(now=now_of(found.run_id))


def _names(found: WallPass) -> Names:
    return "first_names" if found.names == "first_names" else "numbers"


def _wall(one: WallPass) -> WallOut:
    return WallOut(id=one.pk, path=f"/wall/{one.token}", names=_names(one), made_at=one.made_at)
