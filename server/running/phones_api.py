"""Endpoints of people's own phones: addresses made and revoked by whoever runs the class, and what stands under one."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Literal

from django.http import Http404, HttpRequest
from django.shortcuts import get_object_or_404
from logbook.runs_api import run_of
from ninja import Router, Status
from oaken.basis.faults import Faults, FaultyInput, faults_in
from oaken.plan import Reference
from oaken.session.events import EventId
from oaken.session.own_phone import OwnView
from pydantic import BaseModel, ConfigDict, Field
from studio.access import RowId, needs
from studio.address import address_of, qr_svg

from running import phones
from running.models import PhonePass

router = Router(tags=["own phones"])

_fault = faults_in("your own phone", "")

Token = Annotated[str, Field(max_length=64)]


class PhonesIn(BaseModel):
    """Who is given an address: these people of the class, or (None) everybody."""

    people: Annotated[list[Reference], Field(max_length=60)] | None = None


class PhoneOut(BaseModel):
    """Somebody's address: `path` on this server."""

    model_config = ConfigDict(json_schema_serialization_defaults_required=True)

    id: int
    person: str
    path: str
    made_at: datetime


class PhoneCode(BaseModel):
    """An address as a picture (SVG) for a phone's camera."""

    address: str
    qr_svg: str


class OwnPressIn(BaseModel):
    """A press on somebody's own phone, so many seconds ago: a set is `done`, their team has tagged (`tag`), or an
    earlier press (`of`) is taken back. The phone makes the id: what is sent again counts once."""

    id: EventId
    what: Literal["done", "tag", "take_back"]
    part: Reference | None = None
    number: Annotated[int, Field(ge=1, le=400)] | None = None
    of: EventId | None = None
    ago_s: Annotated[float, Field(ge=0, le=43_200, allow_inf_nan=False)] = 0.0


class OwnRun(BaseModel):
    """What somebody's own phone shows; `said` is its last press that still counts, which can be taken back."""

    model_config = ConfigDict(json_schema_serialization_defaults_required=True)

    view: OwnView
    said: str | None


@router.get("/runs/{run_id}/phones", response=list[PhoneOut], auth=needs("run_classes"))
def list_phones(request: HttpRequest, run_id: RowId) -> list[PhoneOut]:
    """The addresses of people's own phones."""
    return [_phone(phone) for phone in phones.phones_of(run_of(request, run_id))]


@router.post("/runs/{run_id}/phones", response={201: list[PhoneOut], 422: Faults}, auth=needs("run_classes"))
def add_phones(request: HttpRequest, run_id: RowId, given: PhonesIn) -> Status[list[PhoneOut]]:
    """Give people of the class an address of their own."""
    run = run_of(request, run_id)
    phones.make_phones(run, given.people)
    return Status(201, [_phone(phone) for phone in phones.phones_of(run)])


@router.delete("/runs/{run_id}/phones", response={204: None}, auth=needs("run_classes"))
def revoke_all_phones(request: HttpRequest, run_id: RowId) -> Status[None]:
    """Revoke every address of people's own phones."""
    phones.revoke_phones(run_of(request, run_id))
    return Status(204, None)


@router.delete("/runs/{run_id}/phones/{phone_id}", response={204: None}, auth=needs("run_classes"))
def revoke_phone(request: HttpRequest, run_id: RowId, phone_id: RowId) -> Status[None]:
    """Revoke somebody's address."""
    run = run_of(request, run_id)
    get_object_or_404(run.phone_passes, pk=phone_id)
    phones.revoke_phones(run, phone_id)
    return Status(204, None)


@router.get("/runs/{run_id}/phones/{phone_id}/code", response=PhoneCode, auth=needs("run_classes"))
def show_code(request: HttpRequest, run_id: RowId, phone_id: RowId) -> PhoneCode:
    """Somebody's address as a picture, which their phone's camera opens."""
    phone = get_object_or_404(run_of(request, run_id).phone_passes, pk=phone_id, revoked_at=None)
    address = f"{address_of(request)}{_path(phone)}"
    return PhoneCode(address=address, qr_svg=qr_svg(address))


@router.get("/phone/{token}", response={200: OwnRun, 422: Faults}, auth=None)
def look_from_phone(request: HttpRequest, token: Token) -> OwnRun:
    """What somebody's own phone shows: no account is needed, only an address that was not revoked."""
    return _own_run(_found(token))


@router.post("/phone/{token}/presses", response={200: OwnRun, 422: Faults}, auth=None)
def press_on_phone(request: HttpRequest, token: Token, given: OwnPressIn) -> OwnRun:
    """Keep a press of somebody's own phone. When this answers it is on disk."""
    phone = _found(token)
    done = (given.part, given.number) if given.part is not None and given.number is not None else None
    if (given.what == "done") != (done is not None) or (given.what == "take_back") != (given.of is not None):
        expected = "a set with “done”, a press with “take_back”, neither with “tag”"
        raise FaultyInput([_fault("what", f"{given.what!r} does not go with what is said with it", expected)])
    phones.say(phone, phones.Said(given.id, given.ago_s, done, given.of))
    return _own_run(phone)


def _found(token: str) -> PhonePass:
    phone = phones.phone_of(token)
    if phone is None:
        raise Http404
    return phone


def _own_run(phone: PhonePass) -> OwnRun:
    view, said = phones.shown_on(phone)
    return OwnRun(view=view, said=said)


def _path(phone: PhonePass) -> str:
    return f"/phone/{phone.token}"


def _phone(phone: PhonePass) -> PhoneOut:
    return PhoneOut(id=phone.pk, person=phone.person.key, path=_path(phone), made_at=phone.made_at)
