"""Endpoints of moving house: the studio as one file, out and in."""

from __future__ import annotations

import re
import tempfile

from django.contrib.auth.models import User
from django.http import HttpRequest, HttpResponseBase
from django.utils import timezone
from ninja import Router, Status
from oaken.basis.faults import Faults
from pydantic import BaseModel
from studio.access import member, needs, studio_of
from studio.files import FILE_BODY, on_disk, sent
from studio.turns import long_work

from moving.studio_export import export_studio
from moving.studio_import import Inside, import_studio, look

router = Router(tags=["moving"], auth=needs("manage_studio"))


class TakenIn(BaseModel):
    """The studio that was kept."""

    id: int
    name: str


@router.get("/studio/file")
@long_work
def take_studio_out(request: HttpRequest) -> HttpResponseBase:
    """Everything that is kept of the studio, as a zip of open formats."""
    studio, now = studio_of(request), timezone.now()
    file = tempfile.TemporaryFile()  # noqa: SIM115 — closed when the last piece of it was sent
    export_studio(studio, file, now)
    name = re.sub(r"[^a-z0-9]+", "-", studio.name.lower()).strip("-") or "studio"
    return sent(request, file, "application/zip", f"{name}-{now:%Y-%m-%d}.zip")


@router.post("/studio/file/look", response={200: Inside, 422: Faults}, openapi_extra=FILE_BODY)
@long_work
def look_into_studio(request: HttpRequest) -> Inside:
    """What the file of a studio holds; nothing is kept."""
    with on_disk(request, "studio_file.bytes") as file:
        return look(file)


@router.post("/studio/file", response={201: TakenIn, 422: Faults}, openapi_extra=FILE_BODY)
@long_work
def take_studio_in(request: HttpRequest) -> Status[TakenIn]:
    """Keep the studio of a file as another studio, in which whoever brings it is an instructor."""
    user = member(request).user
    assert isinstance(user, User)
    with on_disk(request, "studio_file.bytes") as file:
        studio = import_studio(file, user)
    return Status(201, TakenIn(id=studio.pk, name=studio.name))
