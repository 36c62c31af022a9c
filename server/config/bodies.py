"""Bodies of requests are counted while they arrive: what is too large is refused before more of it is taken.

Files are sent as they are (`application/octet-stream`, which no form can send), to the few addresses that take them;
each has a bound of its own, and the largest are taken from nobody who is not signed in.
"""

from __future__ import annotations

import json
import re
from collections.abc import Awaitable, Callable, Mapping
from http.cookies import SimpleCookie
from typing import Any

from asgiref.sync import sync_to_async
from oaken.basis.limits import most

Message = Mapping[str, Any]
Receive = Callable[[], Awaitable[Message]]
Send = Callable[[Message], Awaitable[None]]
Application = Callable[[dict[str, Any], Receive, Send], Awaitable[None]]


FILES = {
    re.compile(r"/api/studio/file(/look)?"): "studio_file.bytes",
    re.compile(r"/api/runs/[^/]+/recordings(/look)?"): "recording.bytes",
    re.compile(r"/api/runs/[^/]+/sets-file"): "table.bytes",
    re.compile(r"/api/calendar/read"): "calendar.bytes",
    re.compile(r"/api/tables/[^/]+"): "table.bytes",
    re.compile(r"/api/people/roster(/preview)?"): "table.bytes",
}
"""Where files are sent to, and how large they may be."""

ANYBODY = most("request.bytes")
"""What is taken before it is known who sends it."""


def most_bytes(path: str) -> int:
    """How large a body may be at an address."""
    return most(next((bound for address, bound in FILES.items() if address.fullmatch(path)), "request.bytes"))


def takes_files(path: str) -> bool:
    """Whether files are sent to an address as they are."""
    return any(address.fullmatch(path) for address in FILES)


def too_large(path: str) -> str:
    """Why a body is refused."""
    return f"That is too large: at most {most_bytes(path) / 1e6:g} MB."


class TooLarge(Exception):
    """More has arrived than any request has."""


class LimitedBodies:
    """An ASGI application in front of another, which hands it no more than the largest body there is.

    A body without a length, or with a false one, is counted as it comes.
    """

    def __init__(self, inner: Application) -> None:
        self.inner = inner

    async def __call__(self, scope: dict[str, Any], receive: Receive, send: Send) -> None:
        if scope["type"] != "http":
            await self.inner(scope, receive, send)
            return
        arrived = 0
        answering = False
        path = str(scope["path"])
        bound = most_bytes(path)
        if bound > ANYBODY and not await sync_to_async(_signed_in)(scope):
            bound = ANYBODY

        async def counted() -> Message:
            nonlocal arrived
            message = await receive()
            arrived += len(message.get("body", b""))
            if arrived > bound:
                raise TooLarge
            return message

        async def noticed(message: Message) -> None:
            nonlocal answering
            answering = True
            await send(message)

        try:
            if _declared(scope) > bound:
                raise TooLarge
            await self.inner(scope, counted, noticed)
        except TooLarge:
            if not answering:
                await _refuse(send, path)


def _signed_in(scope: Mapping[str, Any]) -> bool:
    """Whether the cookie of a request is that of a session somebody is signed in with."""
    from django.conf import settings
    from django.contrib.auth import SESSION_KEY
    from django.contrib.sessions.backends.db import SessionStore

    cookies = SimpleCookie(dict(scope["headers"]).get(b"cookie", b"").decode("latin-1"))
    mine = cookies.get(settings.SESSION_COOKIE_NAME)
    return mine is not None and SESSION_KEY in SessionStore(mine.value)


def _declared(scope: dict[str, Any]) -> int:
    length = dict(scope["headers"]).get(b"content-length", b"0")
    return int(length) if length.isdigit() and len(length) < 20 else 0 if length == b"" else 10**18


async def _refuse(send: Send, path: str) -> None:
    body = json.dumps({"message": too_large(path)}).encode()
    headers = [
        (b"content-type", b"application/json"),
        (b"content-length", str(len(body)).encode()),
        (b"connection", b"close"),
        (b"cache-control", b"no-store"),
    ]
    await send({"type": "http.response.start", "status": 413, "headers": headers})
    await send({"type": "http.response.body", "body": body})
