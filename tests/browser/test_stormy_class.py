"""A class under everything at once: two browsers press and a wall looks on, while the server is killed, its database is
locked or cannot grow, clocks are set, and one browser keeps nothing. What was pressed is there, once, and the class runs.

`make test` has a few troubles, `make soak` thirty (OAKEN_KILLS)."""

from __future__ import annotations

import os
import sqlite3
import subprocess
import threading
import time
from collections import Counter
from collections.abc import Iterator
from contextlib import closing, contextmanager, suppress
from datetime import UTC, datetime
from functools import partial
from pathlib import Path
from typing import Any

import pytest
from browser import chromium
from places import ROOT
from screen import Screen
from serving import Server, ask, signed_in, with_demo
from warm import manage

TROUBLES = int(os.environ.get("OAKEN_KILLS", "2"))
LOCKED_S = 6.0

GOES_ON = ("At their own pace", "More time", "On to the next block", "Work", "Change", "Rest")

CLOCK_THAT_IS_SET = """
    (() => { const real = Date.now.bind(Date); window.setBy = 0; Date.now = () => real() + window.setBy; })()"""
KEEPS_NOTHING = """
    Object.defineProperty(window, 'indexedDB', {get() { throw new DOMException('refused', 'SecurityError') }})"""


@contextmanager
def small_disk(tmp_path: Path) -> Iterator[Path]:
    """A disk of 64 MB for a server's data; where none can be mounted, a folder that is as large as the disk it is on."""
    folder = tmp_path / "disk"
    folder.mkdir()
    mounted = subprocess.run(["mount", "-t", "tmpfs", "-o", "size=64m", "tmpfs", str(folder)], capture_output=True)
    try:
        yield folder
    finally:
        if mounted.returncode == 0:
            subprocess.run(["umount", "-l", str(folder)], check=True)


class Storm:
    """A server, a run of a class, and what befalls them."""

    def __init__(self, data: Path, clock: Path) -> None:
        self.data, self.clock = data, clock
        with_demo(data, dict(os.environ))
        path = os.pathsep.join([str(ROOT / "tests" / "attack" / "set_clock"), os.environ.get("PYTHONPATH", "")])
        environment = {**os.environ, "PYTHONPATH": path, "OAKEN_TEST_CLOCK": str(clock)}
        self.server = Server(data, environment, arguments=("--copy-every", "0"), warm=False)
        self.session = signed_in(self.server.address)
        planned = next(item for item in self.ask("GET", "/api/classes") if item["name"].startswith("Machine pairs"))
        body = {"class_id": planned["id"], "revision": planned["revision"]}
        self.run: int = self.ask("POST", "/api/runs", body)["id"]
        began = {"id": "began", "kind": "began", "happened_at": datetime.now(UTC).isoformat()}
        self.ask("POST", f"/api/runs/{self.run}/events", {"events": [began]})

    def ask(self, method: str, path: str, body: object = None) -> Any:
        return ask(self.server.address, self.session, method, path, body)

    def kill(self, press: Any) -> None:
        self.server.kill()
        press()
        self.server.start()

    def lock(self, press: Any) -> None:
        """Another program holds the database for longer than a write waits."""
        over = threading.Event()

        def hold() -> None:
            with closing(sqlite3.connect(self.data / "oaken.sqlite3", isolation_level=None)) as kept:
                kept.execute("begin immediate")
                over.wait(LOCKED_S)
                kept.execute("rollback")

        holding = threading.Thread(target=hold)
        holding.start()
        press()
        holding.join()

    def fill_the_disk(self, press: Any) -> None:
        """No room is left; then somebody makes some."""
        ballast = self.data / "ballast"
        with ballast.open("wb", buffering=0) as file, suppress(OSError):
            while True:  # until it is full, as wanted
                file.write(b"\0" * 4096)
        press()
        ballast.unlink()

    def set_the_server_s_clock(self, press: Any) -> None:
        now = float(self.clock.read_text(encoding="ascii")) if self.clock.exists() else 0.0
        self.clock.write_text("0" if now else "3600", encoding="ascii")
        press()


def entered(driver: Any, storm: Storm, user: str, *scripts: str) -> Screen:
    for script in scripts:
        driver.execute_cdp_cmd("Page.addScriptToEvaluateOnNewDocument", {"source": script})
    screen = Screen(driver, storm.server.address)
    screen.enter(signed_in(storm.server.address, user))
    screen.open(f"/runs/{storm.run}")
    screen.until_text("[data-testid=word]", "")
    screen.button("15 s")
    return screen


def goes_on(screen: Screen) -> bool:
    """Whether the class runs on a screen, whatever it is doing."""
    return screen.text("[data-testid=word]").startswith(GOES_ON)


def test_a_class_outlives_the_storm(tmp_path: Path) -> None:
    with (
        small_disk(tmp_path) as disk,
        chromium() as one,
        chromium(390, 844) as other,
        chromium() as third,
    ):
        storm = Storm(disk, tmp_path / "clock")
        try:
            weather(storm, one, other, third)
        finally:
            storm.server.stop()
        with closing(sqlite3.connect(disk / "oaken.sqlite3")) as kept:
            assert kept.execute("pragma integrity_check").fetchone() == ("ok",)


def weather(storm: Storm, one: Any, other: Any, third: Any) -> None:
    ranger = entered(one, storm, "ranger", CLOCK_THAT_IS_SET)
    helper = entered(other, storm, "helper", KEEPS_NOTHING)
    assert "keeps nothing on this device" in helper.text("[data-testid=storage-banner]")
    wall_of = storm.ask("POST", f"/api/runs/{storm.run}/walls", {"names": "numbers"})
    wall = Screen(third, storm.server.address)
    wall.open(wall_of["path"])
    wall.one("[data-testid=left]")
    pressed: Counter[str] = Counter()

    def press() -> None:
        for name, screen in (("ranger", ranger), ("helper", helper)):
            screen.press("15 s")
            pressed[name] += 1

    def everything_is_there() -> bool:
        events = storm.ask("GET", f"/api/runs/{storm.run}/events")["events"]
        kept = Counter(event["by"] for event in events if event["kind"] == "time_added")
        assert len({event["id"] for event in events}) == len(events)
        return kept == pressed

    troubles = [storm.kill, storm.lock, storm.set_the_server_s_clock, storm.kill]
    if os.path.ismount(storm.data):
        # a disk that is as large as the machine's own is not filled
        troubles.append(storm.fill_the_disk)
    for number in range(TROUBLES):
        if number % 3 == 1:
            ranger.script("window.setBy += arguments[0]", 600_000 if number % 2 else -600_000)
        troubles[number % len(troubles)](press)
        ranger.wait(everything_is_there, f"every press after trouble {number}: {pressed}")
        for screen in (ranger, helper, wall):
            # no clock has thrown it to its end, and no press has stopped it
            screen.wait(partial(goes_on, screen), "a class that runs")
        # all moments are by the clock of the run: nothing lies more than the storm's own length apart
        moments = [
            datetime.fromisoformat(event["happened_at"])
            for event in storm.ask("GET", f"/api/runs/{storm.run}/events")["events"]
        ]
        assert (max(moments) - min(moments)).total_seconds() < 60 + 60 * (number + 1)
    assert ranger.all("[data-testid=clock-step]") == []


def test_a_damaged_database_is_put_right_and_the_class_goes_on(tmp_path: Path) -> None:
    storm = Storm(tmp_path / "data", tmp_path / "clock")
    try:
        copy = storm.data / "copies" / "good.sqlite3"
        copy.parent.mkdir(exist_ok=True)
        assert manage(storm.data, "backup", "--to", str(copy)).returncode == 0
        storm.server.kill()
        live = storm.data / "oaken.sqlite3"
        content = bytearray(live.read_bytes())
        content[8192:65536] = os.urandom(57344)
        live.write_bytes(content)
        with pytest.raises(RuntimeError, match="THE DATABASE IS DAMAGED"):
            storm.server.start()
        assert manage(storm.data, "restore", str(copy)).returncode == 0
        storm.server.start()
        until = time.monotonic() + 90
        while time.monotonic() < until:
            events = storm.ask("GET", f"/api/runs/{storm.run}/events")["events"]
            if events:
                break
        assert [event["kind"] for event in events] == ["began"]
    finally:
        storm.server.stop()
