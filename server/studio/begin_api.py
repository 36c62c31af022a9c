"""The first account of an empty installation, made in the browser, on this machine only."""

from __future__ import annotations

from typing import Annotated
from zoneinfo import available_timezones

from django.contrib.auth import get_user_model, login
from django.db import transaction
from django.http import HttpRequest
from ninja import Router, Status
from ninja.errors import HttpError
from oaken.basis.faults import Faults, FaultyInput, faults_in
from oaken.basis.names import ThingName
from pydantic import BaseModel, ConfigDict, Field

from studio.account_api import Me, check_password, me_of
from studio.address import is_from_here
from studio.models import Member, Studio

_fault = faults_in("the studio")

router = Router(tags=["account"])


class Begun(BaseModel):
    """Whether the first account can be made from here: nobody has one yet, and this is the machine that serves."""

    open: bool


class Beginning(BaseModel):
    """The first studio and its first instructor."""

    model_config = ConfigDict(extra="forbid")

    studio: ThingName
    time_zone: Annotated[str, Field(min_length=1, max_length=60)] = "UTC"
    user: Annotated[str, Field(min_length=2, max_length=60, pattern=r"^[\w.@+-]+$")]
    password: Annotated[str, Field(max_length=200)]


@router.get("/begin", response=Begun, auth=None)
def may_begin(request: HttpRequest) -> Begun:
    """Whether the first account can be made from here."""
    return Begun(open=_is_open(request))


@router.post("/begin", response={201: Me, 422: Faults}, auth=None)
def begin(request: HttpRequest, given: Beginning) -> Status[Me]:
    """Make an empty studio and the account of its first instructor, who is signed in by it. Only where there is no
    account at all, and only from the machine that serves (403 otherwise)."""
    if not _is_open(request):
        raise HttpError(403, "The first account was made already, or this is not the machine that serves.")
    if given.time_zone not in available_timezones():
        raise FaultyInput([_fault("time_zone", f"{given.time_zone!r} is no time zone", "a name like Europe/Berlin")])
    users = get_user_model()
    check_password(given.password, users(username=given.user))
    with transaction.atomic():
        if users.objects.exists():
            raise HttpError(403, "The first account was made already.")
        user = users(username=given.user)
        user.set_password(given.password)
        user.save()
        studio = Studio.objects.create(name=given.studio.strip(), time_zone=given.time_zone)
        mine = Member.objects.create(user=user, studio=studio, role="instructor")
    login(request, user, backend="django.contrib.auth.backends.ModelBackend")
    return Status(201, me_of(mine))


def _is_open(request: HttpRequest) -> bool:
    return is_from_here(request) and not get_user_model().objects.exists()
