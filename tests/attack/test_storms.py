"""Many at once against a running copy: writers, equal makers, kills, locks, bodies without end. Nothing is lost."""

from __future__ import annotations

import http.client
import json
import os
import random
import signal
import socket
import sqlite3
import threading
import time
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from pathlib import Path
from typing import Any
from urllib.parse import urlsplit

import psutil
import pytest
from oaken.basis.limits import most
from serving import serving, signed_in, with_demo

WRITERS = 30


@dataclass(frozen=True)
class Copy:
    """A running copy: its address, process, data, and a session of its instructor."""

    address: str
    pid: int
    data: Path
    session: str

    def ask(self, method: str, path: str, body: object = None) -> tuple[int, Any, http.client.HTTPResponse]:
        """One request on a connection of its own: status, answer, headers."""
        connection = http.client.HTTPConnection(urlsplit(self.address).netloc, timeout=60)
        token = "a" * 32
        headers = {
            "Content-Type": "application/octet-stream" if isinstance(body, bytes) else "application/json",
            "Cookie": f"sessionid={self.session}; csrftoken={token}",
            "X-CSRFToken": token,
        }
        sent = body if body is None or isinstance(body, bytes) else json.dumps(body)
        connection.request(method, path, sent, headers)
        answer = connection.getresponse()
        content = answer.read()
        connection.close()
        return answer.status, json.loads(content) if content else None, answer


@pytest.fixture(scope="module")
def copy(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Copy]:
    data = tmp_path_factory.mktemp("storm")
    with serving(data, dict(os.environ)) as (address, pid):
        yield Copy(address, pid, data, signed_in(address))


@pytest.mark.parametrize("path", ["/", "/classes/1", "/mark.svg", "/index.html", "/api/me", "/nothing.js"])
def test_headers_stand_on_every_answer_of_the_running_copy(copy: Copy, path: str) -> None:
    """Also on what is answered from files before anything else is asked, the start page included."""
    connection = http.client.HTTPConnection(urlsplit(copy.address).netloc, timeout=30)
    connection.request("GET", path)
    answer = connection.getresponse()
    page = answer.read()
    connection.close()
    policy = answer.headers["Content-Security-Policy"]
    assert "script-src 'self'" in policy
    assert "unsafe" not in policy
    assert answer.headers["X-Frame-Options"] == "DENY"
    assert answer.headers["Referrer-Policy"] == "same-origin"
    assert answer.headers["X-Content-Type-Options"] == "nosniff"
    if path == "/":
        assert b"<script>" not in page


def plan_of(copy: Copy, class_id: int = 1) -> dict[str, Any]:
    plan: dict[str, Any] = copy.ask("GET", f"/api/classes/{class_id}")[1]["plan"]
    return plan


def test_thirty_writers_on_one_class_lose_nothing(copy: Copy) -> None:
    """Each saves its own word on the newest revision, again whenever somebody was quicker."""
    _, made, _ = copy.ask("POST", "/api/classes", {"plan": plan_of(copy)})

    def write(number: int) -> int:
        tries = 0
        while True:
            tries += 1
            _, latest, _ = copy.ask("GET", f"/api/classes/{made['id']}")
            plan = {**latest["plan"], "note": f"writer {number}"}
            body = {"based_on": latest["revision"], "plan": plan}
            status, answer, _ = copy.ask("PUT", f"/api/classes/{made['id']}", body)
            assert status in (200, 409, 503), answer
            if status == 200:
                return int(answer["revision"])

    with ThreadPoolExecutor(WRITERS) as crowd:
        revisions = list(crowd.map(write, range(WRITERS)))
    assert sorted(revisions) == list(range(2, WRITERS + 2))
    notes = {
        copy.ask("GET", f"/api/classes/{made['id']}/revisions/{revision}")[1]["plan"]["note"] for revision in revisions
    }
    assert notes == {f"writer {number}" for number in range(WRITERS)}


def test_thirty_writers_on_classes_of_their_own_lose_nothing(copy: Copy) -> None:
    plan = plan_of(copy)

    def write(number: int) -> int:
        while True:
            status, made, _ = copy.ask("POST", "/api/classes", {"plan": {**plan, "name": f"Class of writer {number}"}})
            assert status in (201, 503)
            if status == 201:
                return int(made["id"])

    with ThreadPoolExecutor(WRITERS) as crowd:
        ids = list(crowd.map(write, range(WRITERS)))
    assert len(set(ids)) == WRITERS
    listed = {item["id"]: item["name"] for item in copy.ask("GET", "/api/classes")[1]}
    assert [listed[each_id] for each_id in ids] == [f"Class of writer {number}" for number in range(WRITERS)]


@pytest.mark.parametrize("what", ["members", "people", "rooms", "exercises"])
def test_the_same_made_thirty_times_at_once_is_made_once(copy: Copy, what: str) -> None:
    _, room, _ = copy.ask("GET", "/api/rooms/saw-floor")
    person = {"id": "twin", "name": "Twin", "age": 30, "body_mass_kg": 70}
    exercise = copy.ask("GET", "/api/catalogue/exercises/leg-press")[1]["exercise"]
    method, path, body = {
        "members": ("POST", "/api/members", {"user": "twin", "password": "two-of-a-kind", "role": "assistant"}),
        "people": ("POST", "/api/people", {"person": person}),
        "rooms": ("POST", "/api/rooms", {"room": room["room"] | {"id": "twin", "name": "Twin"}}),
        "exercises": (
            "PUT",
            "/api/catalogue/exercises",
            {**exercise, "id": "twin", "name": "Twin press", "aliases": [], "easier": [], "harder": []},
        ),
    }[what]
    with ThreadPoolExecutor(WRITERS) as crowd:
        answers = list(crowd.map(lambda _: copy.ask(method, path, body)[:2], range(WRITERS)))
    statuses = [status for status, _ in answers]
    if what == "exercises":  # putting the same again is no fault
        assert set(statuses) <= {200, 503}
        assert 200 in statuses
    else:
        assert statuses.count(201) == 1, statuses
        assert set(statuses) <= {201, 409, 422, 503}, answers


def test_two_instructors_who_remove_each_other_at_once_leave_one(copy: Copy) -> None:
    for number in range(3):
        name = f"second-{number}"
        body = {"user": name, "password": "second-at-the-mill", "role": "instructor"}
        _, second, _ = copy.ask("POST", "/api/members", body)
        _, members, _ = copy.ask("GET", "/api/members")
        first = next(member["id"] for member in members if member["user"] == "ranger")
        other = Copy(copy.address, copy.pid, copy.data, signed_in(copy.address, name, "second-at-the-mill"))
        with ThreadPoolExecutor(2) as both:
            one = both.submit(copy.ask, "DELETE", f"/api/members/{second['id']}")
            two = both.submit(other.ask, "DELETE", f"/api/members/{first}")
        statuses = sorted([one.result()[0], two.result()[0]])
        assert statuses[0] == 204
        assert statuses[1] in (401, 403, 404)
        left = next(who for who in (copy, other) if who.ask("GET", "/api/members")[0] == 200)
        roles = [entry["role"] for entry in left.ask("GET", "/api/members")[1]]
        assert roles.count("instructor") == 1
        if left is other:  # bring the first one back for the next turn, under the name everybody knows
            back = {"user": "ranger", "password": "mill-by-the-weir", "role": "instructor"}
            assert other.ask("POST", "/api/members", back)[0] == 201
            object.__setattr__(copy, "session", signed_in(copy.address))
            own = next(entry["id"] for entry in copy.ask("GET", "/api/members")[1] if entry["user"] == name)
            assert copy.ask("DELETE", f"/api/members/{own}")[0] == 204


def test_a_long_roster_keeps_others_waiting_for_a_moment_only(copy: Copy) -> None:
    rows = "\n".join(["name,age,mass_kg,best leg-press kg", *(f"Walker {n},40,70,120" for n in range(1900))])
    waited: list[float] = []
    stop = threading.Event()
    plan = plan_of(copy)

    def save_now_and_then() -> None:
        while not stop.is_set():
            begun = time.monotonic()
            status, _, _ = copy.ask("POST", "/api/classes", {"plan": plan})
            waited.append(time.monotonic() - begun)
            assert status in (201, 503)

    other = threading.Thread(target=save_now_and_then)
    other.start()
    status, kept, _ = copy.ask("POST", "/api/people/roster", rows.encode())
    stop.set()
    other.join()
    assert (status, kept["added"]) == (200, 1900)
    assert max(waited) < 8, waited
    assert copy.ask("GET", "/api/people/walker-1899")[0] == 200


def test_when_the_database_is_locked_the_answer_says_when_to_come_again(copy: Copy) -> None:
    with sqlite3.connect(copy.data / "oaken.sqlite3", isolation_level=None) as other:
        other.execute("begin immediate")
        status, answer, headers = copy.ask("POST", "/api/classes", {"plan": plan_of(copy)})
        assert copy.ask("GET", "/api/classes")[0] == 200  # reading goes on
        other.execute("rollback")
    assert status == 503, answer
    assert "busy: nothing was kept" in answer["message"]
    assert int(headers.headers["Retry-After"]) > 0
    assert copy.ask("POST", "/api/classes", {"plan": plan_of(copy)})[0] == 201


@pytest.mark.parametrize("declared", [True, False])
def test_a_body_without_end_is_refused_while_it_arrives(copy: Copy, declared: bool) -> None:
    """300 MB, with its length told or in chunks: refused after what is allowed, and nothing of it stays in memory."""
    before = psutil.Process(copy.pid).memory_info().rss
    host, port = urlsplit(copy.address).netloc.split(":")
    sent, answer = 0, b""
    with socket.create_connection((host, int(port)), timeout=30) as line:
        length = f"Content-Length: {300 * 10**6}" if declared else "Transfer-Encoding: chunked"
        line.sendall(
            f"POST /api/heat HTTP/1.1\r\nHost: {host}:{port}\r\nContent-Type: application/json\r\n{length}\r\n\r\n".encode()
        )
        piece = b"x" * 100_000
        chunk = piece if declared else f"{len(piece):x}\r\n".encode() + piece + b"\r\n"
        line.settimeout(0.02)
        while sent < 300 * 10**6:
            try:
                answer = line.recv(4096)
                break
            except TimeoutError:
                pass
            try:
                line.settimeout(10)
                line.sendall(chunk)
                sent += len(piece)
            except (BrokenPipeError, ConnectionResetError):
                break
            finally:
                line.settimeout(0.02 if sent > most("request.bytes") * 0.8 else 0.0005)
    assert sent < 3 * most("request.bytes")
    assert answer == b"" or b" 413 " in answer.split(b"\r\n")[0]
    assert psutil.Process(copy.pid).memory_info().rss - before < 80 * 10**6
    assert copy.ask("GET", "/api/me")[0] == 200


def killed_in_a_storm(data: Path, seed: int) -> int:
    """Save from several clients, kill the server in the middle, start it again: what was acknowledged is there."""
    chance = random.Random(seed)
    acknowledged: dict[tuple[int, int], str] = {}
    stop = threading.Event()
    with serving(data, dict(os.environ), demo=False) as (address, pid):
        copy = Copy(address, pid, data, signed_in(address))
        plan = plan_of(copy)
        ids = [copy.ask("POST", "/api/classes", {"plan": plan})[1]["id"] for _ in range(3)]

        def save(class_id: int) -> None:
            revision = 1
            while not stop.is_set():
                note = f"{seed}-{class_id}-{revision}"
                body = {"based_on": revision, "plan": {**plan, "note": note}}
                try:
                    status, answer, _ = copy.ask("PUT", f"/api/classes/{class_id}", body)
                except (OSError, http.client.HTTPException):
                    return
                if status == 200:
                    revision = answer["revision"]
                    acknowledged[class_id, revision] = note

        clients = [threading.Thread(target=save, args=(class_id,)) for class_id in ids]
        for client in clients:
            client.start()
        until = time.monotonic() + 30
        wanted = chance.randint(4, 14)
        while len(acknowledged) < wanted and time.monotonic() < until:
            time.sleep(chance.uniform(0.001, 0.02))
        os.kill(pid, signal.SIGKILL)
        stop.set()
        for client in clients:
            client.join()
    with sqlite3.connect(data / "oaken.sqlite3") as kept:
        assert kept.execute("pragma integrity_check").fetchone() == ("ok",)
        for (class_id, revision), note in acknowledged.items():
            row = kept.execute(
                "select document from planning_revision where planned_class_id = ? and number = ?", (class_id, revision)
            ).fetchone()
            assert row is not None, (class_id, revision)
            assert json.loads(row[0])["note"] == note
    return len(acknowledged)


def test_nothing_that_was_acknowledged_is_lost_when_the_server_is_killed(tmp_path: Path) -> None:
    with_demo(tmp_path, dict(os.environ))
    saved = [killed_in_a_storm(tmp_path, seed) for seed in range(3)]
    assert min(saved) >= 3
