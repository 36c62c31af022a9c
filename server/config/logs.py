"""What is written down about the server's own faults: where, never what somebody sent.

Bodies and values stay out of the log: people's health passes through here. A traceback is written with its places and
the kind of the exception; its words may hold values and are left out.
"""

from __future__ import annotations

import logging
import secrets
import traceback

from django.http import HttpRequest

log = logging.getLogger("oaken.server")


def number_of(request: HttpRequest) -> str:
    """The number of a request, under which its faults stand in the log."""
    found = getattr(request, "number", None)
    if not isinstance(found, str):
        found = secrets.token_hex(4)
        request.number = found  # type: ignore[attr-defined]
    return found


def unexpected(request: HttpRequest, error: BaseException) -> str:
    """Write down a fault nobody expected; the number to tell whoever met it."""
    number = number_of(request)
    match = request.resolver_match
    where = match.route if match is not None else "no route"
    log.error("%s %s %s: %s", number, request.method, where, places_of(error))
    return number


def places_of(error: BaseException) -> str:
    """The kind of an exception and of what caused it, with the places they passed through."""
    told: list[str] = []
    here: BaseException | None = error
    while here is not None and len(told) < 5:
        frames = traceback.extract_tb(here.__traceback__)
        places = " > ".join(f"{frame.filename.rsplit('/', 1)[-1]}:{frame.lineno} {frame.name}" for frame in frames)
        told.append(f"{type(here).__module__}.{type(here).__name__} at {places}")
        here = here.__cause__ or (None if here.__suppress_context__ else here.__context__)
    return " <- ".join(told)


class WithoutValues(logging.Formatter):
    """Formats records so that exceptions tell their kind and place, and not their words."""

    def formatException(self, ei: object) -> str:
        error = ei[1] if isinstance(ei, tuple) else None
        return places_of(error) if isinstance(error, BaseException) else ""

    def formatStack(self, stack_info: str) -> str:
        return ""
