"""The server is killed at random points of a class that several devices run and log: what it acknowledged is there, once.

`make test` kills five times, `make soak` thirty (OAKEN_KILLS)."""

from __future__ import annotations

import os
import random
import sqlite3
import threading
import time
from collections import Counter
from datetime import UTC, datetime
from http.client import HTTPException
from pathlib import Path
from typing import Any
from urllib.error import HTTPError, URLError

from serving import Server, ask, signed_in, with_demo

KILLS = int(os.environ.get("OAKEN_KILLS", "5"))
DEVICES = 4
MOST_WAITING = 40
"""Presses a device makes while none gets through: in thirty kills more would fill the run with all it can hold."""


class Device(threading.Thread):
    """A device that writes sets down as fast as it can, keeps what was not acknowledged, and sends it again."""

    def __init__(self, address: str, session: str, run: int, name: str, over: threading.Event, part: str) -> None:
        super().__init__(daemon=True)
        self.address, self.session, self.run_id, self.device, self.over = address, session, run, name, over
        self.part = part
        self.acknowledged: list[str] = []
        self.waiting: list[dict[str, Any]] = []
        self.random = random.Random(name)

    def run(self) -> None:
        """Make a few events, send what waits, drop what was acknowledged."""
        made = 0
        while not self.over.is_set() or self.waiting:
            if not self.over.is_set() and len(self.waiting) < MOST_WAITING:
                for _ in range(self.random.randint(1, 3)):
                    made += 1
                    self.waiting.append(self._event(made))
            # what was sent before goes along sometimes, as after an answer that was lost
            batch = self.waiting[:20]
            try:
                kept = ask(self.address, self.session, "POST", f"/api/runs/{self.run_id}/events", {"events": batch})
            except (HTTPError, URLError, HTTPException, OSError):
                time.sleep(0.05)  # the server is away: nothing can be waited for but time
                continue
            self.acknowledged += kept["kept"]
            done = set(kept["kept"]) if self.random.random() < 0.8 else set()
            self.waiting = [item for item in self.waiting if item["id"] not in done]

    def _event(self, number: int) -> dict[str, Any]:
        return {
            "id": f"{self.device}-{number}", "kind": "set_done", "happened_at": datetime.now(UTC).isoformat(),
            "device": self.device, "person": "tobin", "part": self.part, "number": number % 400 + 1, "reps": 8,
        }  # fmt: skip


def test_whatever_was_acknowledged_survives_every_kill_and_counts_once(tmp_path: Path) -> None:
    with_demo(tmp_path, dict(os.environ))
    server = Server(tmp_path, dict(os.environ))
    over = threading.Event()
    try:
        session = signed_in(server.address)
        run = ask(server.address, session, "POST", "/api/runs", {"class_id": 1, "revision": 1})["id"]
        ask(server.address, session, "POST", f"/api/runs/{run}/events", {"events": [
            {"id": "began", "kind": "began", "happened_at": datetime.now(UTC).isoformat()}]})  # fmt: skip
        part = ask(server.address, session, "GET", f"/api/runs/{run}/sheets")["sheets"][0]["parts"][0]["id"]
        devices = [Device(server.address, session, run, f"d{number}", over, part) for number in range(DEVICES)]
        for device in devices:
            device.start()
        points = random.Random(7)
        for _ in range(KILLS):
            before = sum(len(device.acknowledged) for device in devices)
            enough = before + points.randint(5, 60)
            _until(lambda enough=enough: sum(len(device.acknowledged) for device in devices) >= enough)
            server.kill()
            server.start()
        over.set()
        for device in devices:
            device.join(60)
            assert not device.is_alive()
    finally:
        over.set()
        server.stop()
    with sqlite3.connect(tmp_path / "oaken.sqlite3") as kept:
        counts = Counter(
            item for (item,) in kept.execute("select event_id from logbook_runevent where run_id = ?", (run,))
        )
        assert kept.execute("pragma integrity_check").fetchone() == ("ok",)
    acknowledged = {item for device in devices for item in device.acknowledged}
    assert len(acknowledged) > 5 * KILLS
    assert acknowledged <= set(counts)
    assert set(counts.values()) == {1}


def _until(state: Any, patience_s: float = 60) -> None:
    until = time.monotonic() + patience_s
    while not state():
        assert time.monotonic() < until
        time.sleep(0.005)
