"""The time of a run: the machine's clock until the class begins, then a steady one that nobody can set.

A machine's clock jumps when it is set, by hand or by the network. A class that runs must not jump with it: when it
begins, the time is written down beside a count of seconds that only ever goes on (also while the machine sleeps, where
the system has such a one), and from then on the time of that run is the first plus what the second has counted. After a
restart of the machine the count begins anew, and the machine's clock counts again.
"""

from __future__ import annotations

import time
from datetime import datetime, timedelta
from pathlib import Path
from uuid import uuid4

from django.utils import timezone
from pydantic import BaseModel, ConfigDict

from logbook.models import Run

BOOT_ID = Path("/proc/sys/kernel/random/boot_id")

ANCHORED_WITHIN_S = 60.0
"""A beginning that is told so soon is one that happens now: a class that is typed in afterwards has no clock."""


class Anchor(BaseModel):
    """The time at a count of seconds; `counts` names what counts them."""

    model_config = ConfigDict(frozen=True)

    at: datetime
    seconds: float
    counts: str


def _counter() -> str:
    """What counts the seconds: this start of the machine, or this process where the system does not name it."""
    try:
        return BOOT_ID.read_text(encoding="ascii").strip()
    except OSError:
        return uuid4().hex


COUNTER = _counter()


def steady_s() -> float:
    """Seconds that only ever go on, also while the machine sleeps where the system can tell."""
    clock = getattr(time, "CLOCK_BOOTTIME", None)
    return time.monotonic() if clock is None else time.clock_gettime(clock)


def now_of(run: int) -> datetime:
    """The time of a run, by its number."""
    kept = Run.objects.filter(pk=run).values_list("anchor", flat=True).first()
    anchor = None if kept is None else Anchor.model_validate(kept)
    if anchor is None or anchor.counts != COUNTER:
        return timezone.now()
    return anchor.at + timedelta(seconds=steady_s() - anchor.seconds)


def hold_to_steady_clock(run: Run, began_at: datetime) -> None:
    """From now on the time of a run that has just begun follows the steady clock."""
    now = timezone.now()
    if run.anchor is not None or abs((now - began_at).total_seconds()) > ANCHORED_WITHIN_S:
        return
    anchor = Anchor(at=now, seconds=steady_s(), counts=COUNTER)
    run.anchor = anchor.model_dump(mode="json")
    run.save(update_fields=["anchor"])
