"""Bodies of requests are counted while they arrive: what is too large is refused before more of it is taken."""

from __future__ import annotations

import json
from collections.abc import Awaitable, Callable, Mapping
from typing import Any

from oaken.basis.limits import most

Message = Mapping[str, Any]
Receive = Callable[[], Awaitable[Message]]
Send = Callable[[Message], Awaitable[None]]
Application = Callable[[dict[str, Any], Receive, Send], Awaitable[None]]


def too_large() -> str:
    """Why a body is refused."""
    return f"That is too large: at most {most('request.bytes') / 1e6:.1f} MB in all, a recording at most 8 MB."


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

        async def counted() -> Message:
            nonlocal arrived
            message = await receive()
            arrived += len(message.get("body", b""))
            if arrived > most("request.bytes"):
                raise TooLarge
            return message

        async def noticed(message: Message) -> None:
            nonlocal answering
            answering = True
            await send(message)

        try:
            if _declared(scope) > most("request.bytes"):
                raise TooLarge
            await self.inner(scope, counted, noticed)
        except TooLarge:
            if not answering:
                await _refuse(send)


def _declared(scope: dict[str, Any]) -> int:
    length = dict(scope["headers"]).get(b"content-length", b"0")
    return int(length) if length.isdigit() and len(length) < 20 else 0 if length == b"" else most("request.bytes") + 1


async def _refuse(send: Send) -> None:
    body = json.dumps({"message": too_large()}).encode()
    headers = [
        (b"content-type", b"application/json"),
        (b"content-length", str(len(body)).encode()),
        (b"connection", b"close"),
        (b"cache-control", b"no-store"),
    ]
    await send({"type": "http.response.start", "status": 413, "headers": headers})
    await send({"type": "http.response.body", "body": body})
