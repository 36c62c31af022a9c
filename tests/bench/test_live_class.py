"""What a class under way costs: events from one screen to forty others, acknowledged on disk; a repair; the bell."""

from __future__ import annotations

import gzip
import os
import re
import subprocess
import threading
import time
import urllib.request
from collections.abc import Iterable, Iterator
from contextlib import contextmanager
from datetime import UTC, datetime, timedelta
from pathlib import Path
from typing import Any

import pytest
from crowd import big_class
from oaken.schedule.class_file import read_class
from oaken.session import offers
from oaken.session.events import Began
from oaken.session.live_adjustments import LosesUnit
from places import ROOT
from serving import ask, serving, signed_in
from showing import milliseconds, show

SCREENS = 40
PRESSES = 60
HANDS = 4
BEGAN = datetime(2026, 11, 24, 18, 30, tzinfo=UTC)


class Screen(threading.Thread):
    """A screen that follows a run, and notes when it hears of which event."""

    def __init__(self, address: str, session: str, run: int) -> None:
        super().__init__(daemon=True)
        self.heard: dict[str, float] = {}
        request = urllib.request.Request(f"{address}/api/runs/{run}/stream", headers={"Cookie": f"sessionid={session}"})
        self.answer = urllib.request.urlopen(request, timeout=30)
        self.ready = threading.Event()

    def run(self) -> None:
        """Read until the stream ends."""
        try:
            for line in self.answer:
                self.ready.set()
                for name in re.findall(rb'"id":"(press-\d+)"', line):
                    self.heard.setdefault(name.decode(), time.perf_counter())
        except (OSError, ValueError):
            return  # closed by this bench


@contextmanager
def followed(tmp_path: Path) -> Iterator[tuple[str, str, int, list[Screen]]]:
    """A run of the demo, followed by forty screens."""
    with serving(tmp_path, dict(os.environ)) as (address, _):
        session = signed_in(address)
        run = ask(address, session, "POST", "/api/runs", {"class_id": 1, "revision": 1})["id"]
        screens = [Screen(address, session, run) for _ in range(SCREENS)]
        for screen in screens:
            screen.start()
            assert screen.ready.wait(20)
        yield address, session, run, screens
        for screen in screens:
            screen.answer.close()


def press(address: str, session: str, run: int, name: str, **more: Any) -> tuple[float, float]:
    """One press; when it was sent and when it was acknowledged."""
    event = {"id": name, "happened_at": datetime.now(UTC).isoformat(), **(more or {"kind": "time_added", "seconds": 5})}
    sent = time.perf_counter()
    ask(address, session, "POST", f"/api/runs/{run}/events", {"events": [event]})
    return sent, time.perf_counter()


def p95(values: Iterable[float]) -> float:
    found = sorted(values)
    return found[int(0.95 * len(found))]


def test_from_a_press_to_forty_screens(tmp_path: Path) -> None:
    """Four people log at the same time, each about three presses a second: more than 24 people are."""
    with followed(tmp_path) as (address, session, run, screens):
        alone = [press(address, session, run, f"alone-{number}") for number in range(20)]
        presses: dict[str, tuple[float, float]] = {}

        def log(hand: int) -> None:
            for number in range(PRESSES // HANDS):
                name = f"press-{hand * PRESSES + number}"
                presses[name] = press(address, session, run, name)
                time.sleep(0.3)  # presses are no burst

        hands = [threading.Thread(target=log, args=(hand,)) for hand in range(HANDS)]
        for hand in hands:
            hand.start()
        for hand in hands:
            hand.join()
        until = time.monotonic() + 20
        while any(len(screen.heard) < PRESSES for screen in screens) and time.monotonic() < until:
            time.sleep(0.02)
        assert all(len(screen.heard) == PRESSES for screen in screens)
        reached = [(at - presses[name][0]) * 1000 for screen in screens for name, at in screen.heard.items()]
    show("an event acknowledged, on disk, p95", p95((done - sent) * 1000 for sent, done in alone), "ms", 50)
    show(f"a press of one of {HANDS} who log on {SCREENS} other screens, p95", p95(reached), "ms", 200)


class OwnPhone(threading.Thread):
    """A phone that follows its person, and notes when it has been shown what after a press."""

    def __init__(self, address: str, path: str) -> None:
        super().__init__(daemon=True)
        self.path = f"{address}/api{path}"
        self.shown_at = [time.perf_counter()]
        self.answer = urllib.request.urlopen(f"{self.path}/stream", timeout=30)

    def run(self) -> None:
        """Ask for its own view whenever something happened."""
        try:
            for line in self.answer:
                if line.startswith(b"event: changed"):
                    urllib.request.urlopen(self.path, timeout=30).read()
                    self.shown_at.append(time.perf_counter())
        except (OSError, ValueError):
            return  # closed by this bench


def test_from_a_press_on_a_phone_to_everybodys(tmp_path: Path) -> None:
    """As many people as a class of ours has, each with a phone that asks anew whenever one of them has pressed."""
    with serving(tmp_path, dict(os.environ)) as (address, _):
        session = signed_in(address)
        planned = next(item for item in ask(address, session, "GET", "/api/classes") if "pairs" in item["name"])
        opened = {"class_id": planned["id"], "revision": planned["revision"]}
        run = ask(address, session, "POST", "/api/runs", opened)["id"]
        press(address, session, run, "began", kind="began", follows="people")
        made = ask(address, session, "POST", f"/api/runs/{run}/phones", {"people": None})
        phones = [OwnPhone(address, item["path"]) for item in made]
        for phone in phones:
            phone.start()
        waits = []
        for number in range(10):
            time.sleep(1.5)  # seven presses a minute are the usual
            before = [len(phone.shown_at) for phone in phones]
            sent, _ = press(address, session, run, f"phone-{number}", kind="noted", words="a press")
            until = time.monotonic() + 20
            while any(len(phone.shown_at) == count for phone, count in zip(phones, before, strict=True)):
                assert time.monotonic() < until
                time.sleep(0.005)
            waits += [(phone.shown_at[-1] - sent) * 1000 for phone in phones]
        for phone in phones:
            phone.answer.close()
    show(f"a press on {len(phones)} people's own phones, p95", p95(waits), "ms", 1000)


def test_repair_in_the_middle(benchmark: Any) -> None:
    file = read_class(big_class(20))
    kinds = {file.catalogue().exercises[part.exercise].equipment for block in file.plan.blocks for part in block.parts}
    unit = next(unit.id for unit in file.room.units if unit.kind in kinds and unit.kind != "none")
    events = [Began(id="b", happened_at=BEGAN)]
    found, median = milliseconds(
        benchmark, lambda: offers(file, events, BEGAN + timedelta(seconds=1200), LosesUnit(unit=unit)), rounds=5
    )
    assert found
    show("a machine lost in the middle, 20 people: every way with its effect", median / 1000, "s", 1)


def test_the_bell_against_the_servers_clock() -> None:
    """An hour of bells on audio clocks that are wrong by 200 parts in a million, by a controlled clock (in vitest)."""
    told = subprocess.run(
        ["npx", "vitest", "run", "tests/bells.test.ts"], cwd=ROOT / "web", capture_output=True, text=True, check=True
    ).stdout
    drifts = [float(item) for item in re.findall(r"bell drift at -?\d+ ppm: ([\d.]+) ms", told)]
    assert len(drifts) == 3
    show("drift of the bell in an hour, the worst", max(drifts), "ms", 100)


@pytest.mark.parametrize(("page", "goal"), [("RunPage", 200), ("WallPage", 200), ("DesignPage", 250)])
def test_what_a_page_fetches_first(page: str, goal: float) -> None:
    assets = ROOT / "web" / "dist" / "assets"
    index = (ROOT / "web" / "dist" / "index.html").read_text(encoding="utf-8")
    wanted = {*re.findall(r"assets/([\w-]+\.js)", index), next(assets.glob(f"{page}-*.js")).name}
    found: set[str] = set()
    while wanted:
        name = wanted.pop()
        found.add(name)
        text = (assets / name).read_text(encoding="utf-8")
        wanted |= set(re.findall(r"""(?:from|import)\s*["']\./([\w-]+\.js)["']""", text)) - found
    size = sum(len(gzip.compress((assets / name).read_bytes(), 9)) for name in found) / 1000
    show(f"first load of {page}, scripts, gzip", size, "kB", goal)
