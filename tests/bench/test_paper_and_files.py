"""Paper and open formats: how quickly cards are drawn, a studio moves, activities and recordings are written and read."""

from __future__ import annotations

import subprocess
import sys
import time
from collections.abc import Callable
from datetime import UTC, datetime
from pathlib import Path
from typing import Any

import psutil
import pytest
from crowd import big_class
from django.utils import timezone
from logbook.models import DoneSet
from moving.studio_export import export_studio
from moving.studio_import import import_studio
from oaken.exports.activities import Activity, Lap, write_fit, write_tcx
from oaken.exports.paper import Printed, person_cards
from oaken.exports.paper.pdf import draw
from oaken.heart_data.recordings import read_recording
from oaken.schedule.class_file import read_class
from places import ROOT
from planning.models import PlannedClass
from showing import show
from studio.models import Member, Studio
from test_year_of_logs import year  # noqa: F401 — a fixture

BEGAN = datetime(2026, 11, 24, 18, 30, tzinfo=UTC)


def seconds(work: Callable[[], Any]) -> float:
    began = time.perf_counter()
    work()
    return time.perf_counter() - began


def test_cards_of_forty_people() -> None:
    paper = person_cards(Printed(read_class(big_class(40, 60))))
    drawn: list[bytes] = []
    show("cards of 40 people as PDF", seconds(lambda: drawn.extend(draw(paper))), "s", 4)
    show("cards of 40 people, the file", len(drawn[0]) / 1e6, "MB", 4)
    given = f'{{"paper": {paper.model_dump_json()}, "format": "a4"}}'.encode()
    command = [sys.executable, "-m", "oaken.exports.paper.pdf"]

    def apart() -> None:
        subprocess.run(command, input=given, check=True, capture_output=True, env={"PYTHONPATH": str(ROOT / "core")})

    show("cards of 40 people in a process of its own, as the server draws them", seconds(apart), "s", 6)


def three_hours() -> Activity:
    """An activity of three hours with a reading a second."""
    every = list(range(3 * 3600))
    laps = [Lap(f"Block {at}", 600.0 * at, 600.0 * (at + 1), 60.0, 120.0, 150) for at in range(18)]
    bpm = [90 + at % 80 for at in every]
    return Activity("Tobin", "Long", BEGAN, 10_800.0, laps, [], 1080.0, "by table", [float(at) for at in every], bpm)


def test_a_recording_of_three_hours() -> None:
    made = three_hours()
    written: list[bytes] = []
    show("3 h written as FIT", seconds(lambda: written.append(write_fit(made))), "s", 1)
    show("3 h written as TCX", seconds(lambda: write_tcx(made)), "s", 2)
    show("3 h read from FIT", seconds(lambda: read_recording(written[0])), "s", 1)


@pytest.mark.django_db
def test_a_studio_with_a_year_moves(year: tuple[Studio, PlannedClass], tmp_path: Path) -> None:  # noqa: F811
    studio, _ = year
    file = tmp_path / "studio.zip"
    process = psutil.Process()
    before = process.memory_info().rss
    with file.open("wb") as target:
        show("a studio with a year, out", seconds(lambda: export_studio(studio, target, timezone.now())), "s", 20)
    show("a studio with a year, the file", file.stat().st_size / 1e6, "MB", 60)
    user = Member.objects.filter(studio=studio)[0].user
    arrived: list[Studio] = []
    with file.open("rb") as source:
        show("a studio with a year, in", seconds(lambda: arrived.append(import_studio(source, user))), "s", 60)
    show("memory that moving it took", (process.memory_info().rss - before) / 1e6, "MB", 300)
    sets = DoneSet.objects.filter(run__studio=studio).count()
    assert DoneSet.objects.filter(run__studio=arrived[0]).count() == sets
    arrived[0].delete()
