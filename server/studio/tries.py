"""Tries to sign in: how many an address has, and in which lane a password is checked.

A password is slow to check, on purpose. Names that are known here have lanes of their own: whoever tries a dictionary
of names keeps nobody out who works here. Each name waits by itself besides (django-axes, by name and address).
"""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from threading import BoundedSemaphore, Lock

from django.contrib.auth import get_user_model
from django.core.cache import cache
from oaken.basis.limits import most

from studio.turns import Busy

_KNOWN = BoundedSemaphore(most("work.process"))
_UNKNOWN = BoundedSemaphore(1)
_counting = Lock()


class Tries:
    """The wrong passwords that came from an address lately, for whatever names."""

    def __init__(self, address: str) -> None:
        self._key = f"tries-from-{address}"

    @property
    def too_many(self) -> bool:
        """Whether the address has to wait."""
        return int(cache.get(self._key, 0)) >= most("signing_in.address_tries")

    @property
    def words(self) -> str:
        """What is told while it waits."""
        return f"Too many wrong passwords from this address. Wait {most('signing_in.wait_s') // 60} min."

    def count(self) -> None:
        """One more was wrong; the wait begins with the first."""
        with _counting:
            if not cache.add(self._key, 1, timeout=most("signing_in.wait_s")):
                cache.incr(self._key)


@contextmanager
def lane_of(name: str) -> Iterator[None]:
    """A turn to check a password of this name. Raises Busy where none comes free in time."""
    known = get_user_model().objects.filter(username=name).exists()
    lane = _KNOWN if known else _UNKNOWN
    if not lane.acquire(timeout=most("work.wait_s")):
        raise Busy
    try:
        yield
    finally:
        lane.release()
