"""Passes: who may look at a run from the wall, and which program may send what belts say."""

from __future__ import annotations

import secrets
import subprocess
from collections.abc import Callable
from threading import Lock

from django.utils import timezone
from logbook.models import Run
from oaken.basis.faults import FaultyInput
from oaken.basis.limits import most
from planning.keeping import too_many

from running.models import BeltPass, WallPass
from running.visibility import Names


def make_pass(run: Run, names: Names) -> WallPass:
    """A new address for the wall. Raises FaultyInput where there are as many as there may be."""
    if run.wall_passes.filter(revoked_at=None).count() >= most("run.walls"):
        raise FaultyInput([too_many("walls", "run.walls")])
    return WallPass.objects.create(run=run, names=names, token=secrets.token_urlsafe(18))


def revoke(run: Run, number: int) -> None:
    """From now on nobody sees anything under this address."""
    run.wall_passes.filter(pk=number, revoked_at=None).update(revoked_at=timezone.now())


def belt_pass(run: Run) -> BeltPass:
    """The pass with which a program sends what belts of this run say."""
    return BeltPass.objects.get_or_create(run=run, defaults={"token": secrets.token_urlsafe(18)})[0]


_programs: dict[int, subprocess.Popen[bytes]] = {}
_programs_lock = Lock()


def start_once(run: int, start: Callable[[], subprocess.Popen[bytes]]) -> None:
    """Start the program that reads belts for a run, unless it works already."""
    with _programs_lock:
        works = _programs.get(run)
        if works is None or works.poll() is not None:
            _programs[run] = start()
