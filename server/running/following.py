"""Following runs: one reader a run asks the database for what is new and hands it to everybody who follows.

Whoever appends wakes the reader; once a second it looks by itself, so that what another process wrote is seen as well.
A follower that cannot keep up is dropped, and takes up again where it was.
"""

from __future__ import annotations

import asyncio
import threading
from collections.abc import Callable, Sequence
from concurrent.futures import ThreadPoolExecutor
from contextlib import suppress
from dataclasses import dataclass, field
from typing import Any

import orjson
from logbook.models import RunEvent
from logbook.runs import events_since
from oaken.basis.limits import most
from oaken.session import Event

from running.visibility import Reader, events_visible_to

SCREENS: dict[Reader, str] = {"wall": "run.wall_screens", "own_phone": "run.phone_screens"}
"""Who follows by a pass, with the bound of how many screens of one pass may: they take no member's place."""

LOOKS_EVERY_S = 1.0
WAITING_AT_MOST = 200


@dataclass(eq=False)
class Follower:
    """Somebody's stream: what is still to be sent. `lost` is set when it could not keep up, `numbers` are what the wall
    calls people by, `of` is whose it is: an account, or the address of a wall. `unsure` is set when somebody may have
    lost the right to follow: it is looked at before the next beat."""

    reader: Reader
    of: str = ""
    numbers: dict[str, str] = field(default_factory=dict)
    queue: asyncio.Queue[bytes] = field(default_factory=lambda: asyncio.Queue(WAITING_AT_MOST))
    lost: bool = False
    unsure: bool = False

    def hand(self, message: bytes) -> None:
        """Put a message into the queue."""
        try:
            self.queue.put_nowait(message)
        except asyncio.QueueFull:
            self.lost = True


class _Reading:
    """The one who reads a run for all its followers."""

    def __init__(self, run: int, last: int) -> None:
        self.run, self.last = run, last
        self.woken = asyncio.Event()
        self.followers: set[Follower] = set()
        self.task = asyncio.create_task(self._read())

    async def _read(self) -> None:
        while self.followers or not self.woken.is_set():
            with suppress(TimeoutError):
                await asyncio.wait_for(self.woken.wait(), LOOKS_EVERY_S)
            self.woken.clear()
            if not self.followers:
                return
            found = await asyncio.get_running_loop().run_in_executor(_readers, events_since, self.run, self.last)
            if not found:
                continue
            self.last = found[-1][0]
            numbers = {follower.reader: follower.numbers for follower in self.followers}
            for reader, of_people in numbers.items():
                said = events_message(found, reader, of_people, found[-1][0])
                for follower in self.followers:
                    if follower.reader == reader:
                        follower.hand(said)


_readers = ThreadPoolExecutor(max_workers=2, thread_name_prefix="runs")


class Following:
    """Who follows which run, in this process."""

    def __init__(self) -> None:
        self._runs: dict[int, _Reading] = {}
        self._loop: asyncio.AbstractEventLoop | None = None
        self._lock = threading.Lock()

    def join(self, run: int, follower: Follower, last: int) -> None:
        """Follow a run from behind event number `last` on. Raises TooMany. Call it in the loop."""
        with self._lock:
            self._loop = asyncio.get_running_loop()
            reading = self._runs.get(run)
            if reading is None or reading.task.done():
                reading = self._runs[run] = _Reading(run, last)
            own = sum(each_follower.of == follower.of for each_follower in reading.followers)
            members = sum(each_follower.reader not in SCREENS for each_follower in reading.followers)
            if own >= most(SCREENS.get(follower.reader, "run.followers_each")):
                raise TooMany
            if follower.reader not in SCREENS and members >= most("run.followers"):
                raise TooMany
            # what is between its own last one and the reader's comes from the database: the stream asks for that itself
            reading.followers.add(follower)

    def leave(self, run: int, follower: Follower) -> None:
        """Follow no longer."""
        with self._lock:
            reading = self._runs.get(run)
            if reading is None:
                return
            reading.followers.discard(follower)
            if not reading.followers:
                del self._runs[run]
                reading.woken.set()

    def look_again(self) -> None:
        """Somebody may have lost the right to follow something: every stream asks before its next beat. From any
        thread."""
        with self._lock:
            for reading in self._runs.values():
                for follower in reading.followers:
                    follower.unsure = True

    def wake(self, run: int) -> None:
        """Something was kept: look now. From any thread."""
        self._in_loop(run, lambda reading: reading.woken.set())

    def say(self, run: int, kind: str, what: Any, readers: Sequence[Reader]) -> None:
        """Tell followers something that is not kept. From any thread."""
        said = message(kind, what)

        def hand(reading: _Reading) -> None:
            for follower in reading.followers:
                if follower.reader in readers:
                    follower.hand(said)

        self._in_loop(run, hand)

    def _in_loop(self, run: int, act: Callable[[_Reading], None]) -> None:
        with self._lock:
            loop, reading = self._loop, self._runs.get(run)
        if loop is not None and reading is not None and not loop.is_closed():
            loop.call_soon_threadsafe(act, reading)


class TooMany(Exception):
    """As many follow one run as may."""


def message(kind: str, what: Any, number: int | None = None) -> bytes:
    """A server-sent event."""
    head = b"" if number is None else b"id: %d\n" % number
    return head + b"event: " + kind.encode() + b"\ndata: " + orjson.dumps(what) + b"\n\n"


def events_message(found: Sequence[tuple[int, Event]], reader: Reader, numbers: dict[str, str], last: int) -> bytes:
    """What is sent of events to somebody: the events as they may read them, or, to people's own phones, that something
    happened. `last` is the number up to which it tells."""
    if reader == "own_phone":
        return message("changed", {}, last)
    return message("events", events_visible_to(found, reader, numbers), last)


following = Following()


def last_event(run: int) -> int:
    """The number of the newest event of a run, 0 for none."""
    found: int | None = RunEvent.objects.filter(run=run).order_by("-pk").values_list("pk", flat=True).first()
    return found or 0
