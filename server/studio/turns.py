"""Turns for long computations: so many at once in the process, in a studio and for a person; others wait a little."""

from __future__ import annotations

import threading
import time
from collections import Counter
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from functools import wraps
from inspect import signature
from typing import Concatenate, ParamSpec, TypeVar

from django.http import HttpRequest
from oaken.basis.limits import most

from studio.access import member

Given = ParamSpec("Given")
Answer = TypeVar("Answer")


class Busy(Exception):
    """There was no turn in time; `again_s` is when another try is worth it."""

    def __init__(self, again_s: int = 2) -> None:
        super().__init__("The server is busy with other long computations.")
        self.again_s = again_s


class Turns:
    """Who computes at the moment, and room for who waits."""

    def __init__(self) -> None:
        self._change = threading.Condition()
        self._now: Counter[tuple[str, int]] = Counter()

    @contextmanager
    def of(self, studio: int, person: int, wait_s: float | None = None) -> Iterator[None]:
        """One turn. Raises Busy where none comes free in time."""
        places = {("process", 0): "work.process", ("studio", studio): "work.studio", ("person", person): "work.person"}
        until = time.monotonic() + (most("work.wait_s") if wait_s is None else wait_s)
        with self._change:
            while any(self._now[place] >= most(bound) for place, bound in places.items()):
                left = until - time.monotonic()
                if left <= 0 or not self._change.wait(left):
                    raise Busy
            self._now.update(places.keys())
        try:
            yield
        finally:
            with self._change:
                self._now.subtract(places.keys())
                self._now += Counter()
                self._change.notify_all()


turns = Turns()


def long_work(
    view: Callable[Concatenate[HttpRequest, Given], Answer],
) -> Callable[..., Answer]:
    """Let an endpoint compute only when it is its turn."""

    @wraps(view)
    def waiting(request: HttpRequest, *args: Given.args, **kwargs: Given.kwargs) -> Answer:
        mine = member(request)
        with turns.of(mine.studio_id, mine.user_id):
            return view(request, *args, **kwargs)

    # django-ninja reads the types of the endpoint itself, which are written as text in its own module
    waiting.__signature__ = signature(view, eval_str=True)  # type: ignore[attr-defined]
    return waiting
