"""Files as they are sent: the body of a request or of an answer is the file, piece by piece and counted."""

from __future__ import annotations

import tempfile
from collections.abc import AsyncIterator, Iterator
from contextlib import contextmanager
from typing import IO, Any

from asgiref.sync import sync_to_async
from django.core.handlers.asgi import ASGIRequest
from django.http import HttpRequest, StreamingHttpResponse
from oaken.basis.faults import Fault, FaultyInput
from oaken.basis.limits import in_words, most

FILE_BODY: dict[str, Any] = {
    "requestBody": {
        "required": True,
        "content": {"application/octet-stream": {"schema": {"type": "string", "format": "binary"}}},
    }
}
"""How an endpoint says in its schema that a file is sent to it."""

PIECE = 1 << 18


def received(request: HttpRequest, bound: str) -> bytes:
    """A file that is small enough to be held in memory. Raises FaultyInput where it is larger than its bound."""
    content = request.read(most(bound) + 1)
    if len(content) > most(bound):
        raise FaultyInput([_too_large(bound)])
    return content


@contextmanager
def on_disk(request: HttpRequest, bound: str) -> Iterator[IO[bytes]]:
    """A file of any size that is allowed, on disk until it has been read. Raises FaultyInput where it is larger."""
    with tempfile.TemporaryFile() as kept:
        while piece := request.read(PIECE):
            kept.write(piece)
            if kept.tell() > most(bound):
                raise FaultyInput([_too_large(bound)])
        kept.seek(0)
        yield kept


def sent(request: HttpRequest, file: IO[bytes], kind: str, name: str) -> StreamingHttpResponse:
    """An answer that is a file, to be saved under a name; the file is closed when its last piece was sent."""
    size = file.seek(0, 2)
    file.seek(0)
    # whoever serves asynchronously would first read all of a plain iterator into memory
    pieces = _pieces_apart(file) if isinstance(request, ASGIRequest) else _pieces(file)
    answer = StreamingHttpResponse(pieces, content_type=kind)
    answer["Content-Disposition"] = f'attachment; filename="{name}"'
    answer["Content-Length"] = str(size)
    return answer


def _pieces(file: IO[bytes]) -> Iterator[bytes]:
    with file:
        while piece := file.read(PIECE):
            yield piece


async def _pieces_apart(file: IO[bytes]) -> AsyncIterator[bytes]:
    with file:
        while piece := await sync_to_async(file.read)(PIECE):
            yield piece


def _too_large(bound: str) -> Fault:
    return Fault(path="file", place="the file", field="file", message="is too large", right=in_words(bound))
