"""Endpoints of belts: packets in by a pass, hearts out to instructors, and the simulated belts of the demo."""

from __future__ import annotations

import subprocess
import sys
from typing import Annotated

from config.names import EVERYWHERE
from django.conf import settings
from django.http import HttpRequest
from django.shortcuts import get_object_or_404
from logbook.clock import now_of
from logbook.models import Run
from ninja import Router, Status
from oaken.basis.faults import Faults, FaultyInput, faults_in
from oaken.basis.moments import Moment
from oaken.heart_data.recordings.packets import LONGEST_PACKET
from oaken.session import HeartNow
from pydantic import BaseModel, Field
from studio.access import RowId, studio_of

from running import hearts, keeping
from running.models import BeltPass

router = Router(tags=["belts"])

_fault = faults_in("the belts", "")

Hex = Annotated[str, Field(max_length=2 * LONGEST_PACKET, pattern=r"^([0-9a-fA-F]{2})*$")]


class PacketIn(BaseModel):
    """A Heart Rate Measurement packet as hexadecimal digits, and when it came."""

    at: Moment
    hex: Hex


class PacketsIn(BaseModel):
    """What one belt sent since the last time."""

    person: Annotated[str, Field(max_length=60)]
    packets: Annotated[list[PacketIn], Field(max_length=600)]


class BeltsIn(BaseModel):
    """Who wears no belt."""

    without: Annotated[list[Annotated[str, Field(max_length=60, pattern=r"^[a-z0-9_-]+$")]], Field(max_length=60)] = []


class PacketsKept(BaseModel):
    """How many readings were kept."""

    readings: int


def _keep(run: Run, given: PacketsIn) -> PacketsKept:
    packets = [(packet.at, bytes.fromhex(packet.hex)) for packet in given.packets]
    count = hearts.keep_packets(run, given.person, packets)
    hearts.tell(run)
    return PacketsKept(readings=count)


@router.post("/belts/{token}", response={200: PacketsKept, 422: Faults}, auth=None)
def take_packets(request: HttpRequest, token: Annotated[str, Field(max_length=64)], given: PacketsIn) -> PacketsKept:
    """Keep what a program that reads belts sends; it needs the run's pass and no account."""
    return _keep(get_object_or_404(BeltPass.objects.select_related("run__studio"), token=token).run, given)


@router.post("/runs/{run_id}/packets", response={200: PacketsKept, 422: Faults})
def take_own_packets(request: HttpRequest, run_id: RowId, given: PacketsIn) -> PacketsKept:
    """Keep what a belt sent to the browser of an instructor."""
    return _keep(get_object_or_404(studio_of(request).runs, pk=run_id), given)


@router.get("/runs/{run_id}/hearts", response={200: list[HeartNow], 422: Faults})
def list_hearts(request: HttpRequest, run_id: RowId) -> list[HeartNow]:
    """Everybody's heart now, beside the forecast."""
    run = get_object_or_404(studio_of(request).runs, pk=run_id)
    return hearts.hearts_of(run, now_of(run.pk))


@router.post("/runs/{run_id}/simulated-belts", response={202: None, 422: Faults})
def start_belts(request: HttpRequest, run_id: RowId, given: BeltsIn) -> Status[None]:
    """Put simulated belts on everybody of this run: a program of its own, which ends with the class."""
    run = get_object_or_404(studio_of(request).runs, pk=run_id)
    if run.ended_at is not None:
        raise FaultyInput([_fault("run", "this class is over", "a class that runs")])
    token = keeping.belt_pass(run).token
    # straight to this server, also where a proxy stands in front of it
    host = "127.0.0.1" if settings.HOST in EVERYWHERE else settings.HOST
    address = f"{'https' if settings.TLS else 'http'}://{host}:{request.META['SERVER_PORT']}/api/belts/{token}"
    command = [sys.executable, str(settings.ROOT / "server" / "manage.py"), "belts", "--run", str(run.pk)]
    command += ["--to", address]
    command += ["--without", *given.without] if given.without else []
    keeping.start_once(run.pk, lambda: subprocess.Popen(command, stdin=subprocess.DEVNULL))
    return Status(202, None)
