"""Streams of server-sent events: what happens in a run, as it happens, to members, to the wall, to own phones."""

from __future__ import annotations

import asyncio
from collections.abc import AsyncIterator, Callable
from time import monotonic

from asgiref.sync import sync_to_async
from django.contrib.auth import get_user
from django.contrib.sessions.backends.db import SessionStore
from django.http import HttpRequest, HttpResponse, JsonResponse, StreamingHttpResponse
from logbook.runs import events_since, people_of
from studio.access import member_of

from running.following import Follower, TooMany, events_message, following, last_event, message
from running.models import PhonePass, WallPass
from running.visibility import Reader, numbers_of, reader_of

BEATS_EVERY_S = 2.0
"""How often a stream says that it lives; a device that hears nothing for more than two beats connects anew."""

ASKS_EACH_BEATS = 15
"""Whether somebody may still follow is asked when a session, a membership, a pass or a run ends in this process; and
after so many beats in any case, for what another process did."""

BEAT = message("beat", {})

May = Callable[[], Reader | None]


async def follow_run(request: HttpRequest, run_id: int) -> HttpResponse | StreamingHttpResponse:
    """A member of the studio follows a run; the stream ends when the membership does."""

    key = request.session.session_key

    def may() -> Reader | None:
        # who is signed in, and whether they still work here, is asked anew each time
        asked = HttpRequest()
        asked.session = SessionStore(key)
        asked.user = get_user(asked)
        member = member_of(asked)
        if member is None or not member.studio.runs.filter(pk=run_id).exists():
            return None
        return reader_of(member)

    user = await request.auser()
    return await _stream(request, run_id, may, f"account {user.pk}")


async def follow_wall(request: HttpRequest, token: str) -> HttpResponse | StreamingHttpResponse:
    """The wall follows its run until the pass is revoked."""

    def run_of() -> int | None:
        return WallPass.objects.filter(token=token, revoked_at=None).values_list("run_id", flat=True).first()

    def may() -> Reader | None:
        return None if run_of() is None else "wall"

    run = await sync_to_async(run_of)() or 0
    people = await sync_to_async(people_of)(run)
    return await _stream(request, run, may, f"wall {token}", numbers_of(people))


async def follow_phone(request: HttpRequest, token: str) -> HttpResponse | StreamingHttpResponse:
    """Somebody's own phone hears that something happened in its run, until its pass is revoked."""

    def run_of() -> int | None:
        return PhonePass.objects.filter(token=token, revoked_at=None).values_list("run_id", flat=True).first()

    def may() -> Reader | None:
        return None if run_of() is None else "own_phone"

    return await _stream(request, await sync_to_async(run_of)() or 0, may, f"phone {token}")


async def _stream(
    request: HttpRequest, run: int, may: May, of: str, numbers: dict[str, str] | None = None
) -> HttpResponse | StreamingHttpResponse:
    reader = await sync_to_async(may)()
    if reader is None:
        return JsonResponse({"message": "This does not exist (any more), or is not for you."}, status=403)
    given = request.headers.get("Last-Event-ID") or request.GET.get("after") or "0"
    last = int(given) if given.isdigit() and len(given) < 16 else 0
    follower = Follower(reader, of, numbers or {})
    try:
        following.join(run, follower, await sync_to_async(last_event)(run))
    except TooMany:
        return JsonResponse({"message": "As many screens as may follow this run already do."}, status=503)
    response = StreamingHttpResponse(_messages(run, follower, last, may), content_type="text/event-stream")
    response["Cache-Control"] = "no-store"
    response["X-Accel-Buffering"] = "no"
    return response


async def _messages(run: int, follower: Follower, last: int, may: May) -> AsyncIterator[bytes]:
    """What was missed, then what comes, with a beat in between. Events may be told twice; a device counts each once."""
    try:
        yield b"retry: 500\n\n"
        missed = await sync_to_async(events_since)(run, last)
        yield events_message(missed, follower.reader, follower.numbers, missed[-1][0] if missed else last)
        beat, beats = monotonic() + BEATS_EVERY_S, 0
        while not follower.lost:
            try:
                yield await asyncio.wait_for(follower.queue.get(), max(0.0, beat - monotonic()))
            except TimeoutError:
                beats += 1
                if follower.unsure or beats % ASKS_EACH_BEATS == 0:
                    follower.unsure = False
                    if await sync_to_async(may)() != follower.reader:
                        yield message("gone", {})
                        return
                yield BEAT
                beat = monotonic() + BEATS_EVERY_S
    finally:
        following.leave(run, follower)
