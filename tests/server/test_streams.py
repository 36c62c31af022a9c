"""Streams of a run, from a real server: what was missed, what happens, and their end with the pass or the membership."""

from __future__ import annotations

import asyncio
import itertools
import json
import os
import threading
import urllib.request
from collections.abc import Callable, Iterator
from datetime import UTC, datetime
from pathlib import Path
from queue import Empty, Queue
from typing import Any
from unittest.mock import patch
from urllib.error import HTTPError

import pytest
from oaken.basis.limits import most
from running.following import Follower, Following, TooMany
from serving import ask, serving, signed_in

PATIENCE_S = 20


@pytest.fixture(scope="module")
def address(tmp_path_factory: pytest.TempPathFactory) -> Iterator[str]:
    """A server with the demo."""
    folder: Path = tmp_path_factory.mktemp("data")
    with serving(folder, dict(os.environ)) as (found, _):
        yield found


class Stream:
    """A stream that is read on a thread of its own."""

    def __init__(self, url: str, session: str = "", last: str = "") -> None:
        headers = {"Cookie": f"sessionid={session}"} if session else {}
        request = urllib.request.Request(url, headers={**headers, **({"Last-Event-ID": last} if last else {})})
        self.answer = urllib.request.urlopen(request, timeout=PATIENCE_S)
        self.messages: Queue[tuple[str, Any, str]] = Queue()
        threading.Thread(target=self._read, daemon=True).start()

    def _read(self) -> None:
        kind, number = "", ""
        try:
            for line in self.answer:
                name, _, value = line.decode().rstrip("\n").partition(": ")
                if name == "event":
                    kind = value
                elif name == "id":
                    number = value
                elif name == "data":
                    self.messages.put((kind, json.loads(value), number))
        except (OSError, ValueError, AttributeError):
            pass  # closed by the test
        self.messages.put(("over", None, number))

    def next(self, *kinds: str) -> tuple[Any, str]:
        """The next message of one of these kinds, with its number."""
        while True:
            try:
                kind, said, number = self.messages.get(timeout=PATIENCE_S)
            except Empty:
                raise AssertionError(f"nothing of {kinds} came") from None
            if kind in kinds:
                return said, number


def opened(address: str, session: str) -> int:
    number: int = ask(address, session, "POST", "/api/runs", {"class_id": 1, "revision": 1})["id"]
    return number


def happen(address: str, session: str, run: int, name: str, kind: str, **more: Any) -> None:
    event = {"id": name, "kind": kind, "happened_at": datetime.now(UTC).isoformat(), **more}
    ask(address, session, "POST", f"/api/runs/{run}/events", {"events": [event]})


def test_a_stream_tells_what_was_missed_and_what_happens_and_goes_on_where_it_stopped(address: str) -> None:
    session = signed_in(address)
    run = opened(address, session)
    happen(address, session, run, "a", "began")
    stream = Stream(f"{address}/api/runs/{run}/stream", session)
    said, number = stream.next("events")
    assert [item["id"] for item in said] == ["a"]
    happen(address, session, run, "b", "paused")
    said, _ = stream.next("events")
    assert [item["id"] for item in said] == ["b"]
    assert said[0]["by"] == "ranger"
    again = Stream(f"{address}/api/runs/{run}/stream", session, last=number)
    assert [item["id"] for item in again.next("events")[0]] == ["b"]
    assert again.next("beat")[0] == {}


def test_the_wall_follows_until_its_pass_is_revoked(address: str) -> None:
    session = signed_in(address)
    run = opened(address, session)
    wall = ask(address, session, "POST", f"/api/runs/{run}/walls", {"names": "numbers"})
    stream = Stream(f"{address}/api{wall['path']}/stream")
    assert stream.next("events")[0] == []
    happen(address, session, run, "a", "stopped_for", person="tobin", words="dizzy")
    said, _ = stream.next("events")
    assert [(item["kind"], item["person"]) for item in said] == [("left", "2")]
    assert "words" not in said[0]
    assert ask(address, session, "DELETE", f"/api/runs/{run}/walls/{wall['id']}") is None
    stream.next("gone", "over")
    with pytest.raises(HTTPError):
        Stream(f"{address}/api{wall['path']}/stream")


def test_a_phone_hears_that_something_happened_until_its_address_is_revoked(address: str) -> None:
    session = signed_in(address)
    run = opened(address, session)
    phone = ask(address, session, "POST", f"/api/runs/{run}/phones", {"people": ["tobin"]})[0]
    stream = Stream(f"{address}/api{phone['path']}/stream")
    stream.next("changed")
    happen(address, session, run, "a", "stopped_for", person="ines", words="dizzy")
    assert stream.next("changed", "events")[0] == {}
    assert ask(address, session, "DELETE", f"/api/runs/{run}/phones/{phone['id']}") is None
    stream.next("gone", "over")
    with pytest.raises(HTTPError):
        Stream(f"{address}/api{phone['path']}/stream")


def test_a_stream_ends_with_the_membership_and_strangers_get_none(address: str) -> None:
    session = signed_in(address)
    run = opened(address, session)
    helper = signed_in(address, "helper")
    stream = Stream(f"{address}/api/runs/{run}/stream", helper)
    stream.next("events")
    members = ask(address, session, "GET", "/api/members")
    number = next(member["id"] for member in members if member["role"] == "assistant")
    assert ask(address, session, "DELETE", f"/api/members/{number}") is None
    stream.next("gone", "over")
    with pytest.raises(HTTPError, match="403"):
        Stream(f"{address}/api/runs/{run}/stream", helper)
    with pytest.raises(HTTPError, match="403"):
        Stream(f"{address}/api/runs/{run}/stream")
    with pytest.raises(HTTPError, match="403"):
        Stream(f"{address}/api/runs/999999/stream", session)


def test_a_wall_and_a_member_have_quotas_of_their_own() -> None:
    """One address of a wall that is opened a thousand times shuts nobody else out, nor does one account."""

    async def follow() -> None:
        following, run = Following(), 1

        def fill(follower: Callable[[], Follower], most_of: int) -> None:
            for _ in range(most_of):
                following.join(run, follower(), 0)
            with pytest.raises(TooMany):
                following.join(run, follower(), 0)

        with patch("running.following.events_since", return_value=[]):
            fill(lambda: Follower("wall", "wall a"), most("run.wall_screens"))
            following.join(run, Follower("wall", "wall b"), 0)
            fill(lambda: Follower("own_phone", "phone a"), most("run.phone_screens"))
            following.join(run, Follower("own_phone", "phone b"), 0)
            fill(lambda: Follower("without_health", "account 1"), most("run.followers_each"))
            following.join(run, Follower("with_health", "account 2"), 0)
            number = itertools.count(10)
            left = most("run.followers") - most("run.followers_each") - 1
            fill(lambda: Follower("with_health", f"account {next(number)}"), left)
            following.join(run, Follower("wall", "wall c"), 0)

    asyncio.run(follow())
