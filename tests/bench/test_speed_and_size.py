"""`make bench`: one line a figure, `name: value unit (goal ≤ bound)`. Figures are printed, not asserted: they depend
on the machine. What is asserted is only that the thing measured was really done."""

from __future__ import annotations

import gzip
import json
import os
import re
import subprocess
import sys
from pathlib import Path
from typing import Any

import psutil
import pytest
from browser import chromium
from crowd import big_class, long_class
from django.contrib.auth import get_user_model
from django.test import Client
from oaken.design.goal_seeking import fit_to_slot
from oaken.domain.people.record import Record
from oaken.forecast import forecast
from oaken.forecast.workload import layout_workload
from oaken.schedule.class_file import read_class
from oaken.schedule.class_file.reading import load_class
from oaken.schedule.timeline.layout import block_length, laid_out
from people.keeping import add
from places import ROOT
from screen import Screen
from serving import serving, signed_in
from showing import milliseconds, show
from studio.models import Member, Studio
from studio.rooms import create_room


def test_core_forecast(benchmark: Any) -> None:
    """As after an edit: one block is new, the others are known."""
    file = read_class(big_class())
    work = iter(range(20, 200))

    def edited() -> Any:
        stations = file.plan.blocks[2].model_copy(update={"work_s": next(work)})
        blocks = [*file.plan.blocks[:2], stations, *file.plan.blocks[3:]]
        return forecast(file.model_copy(update={"plan": file.plan.model_copy(update={"blocks": blocks})}))

    result, median = milliseconds(benchmark, edited)
    assert len(result.people) == 20
    assert result.length.value >= 3600
    show(f"core forecast, 20 people x {result.length.value / 60:.0f} min at 1 s", median, "ms", 50)


def test_core_forecast_of_a_class_never_seen(benchmark: Any) -> None:
    file = read_class(long_class())

    def cold() -> Any:
        laid_out.cache_clear()
        block_length.cache_clear()
        layout_workload.cache_clear()
        return forecast(file)

    result, median = milliseconds(benchmark, cold)
    assert (len(result.blocks), len(result.slots)) == (12, 60)
    show(f"core forecast, 12 blocks, 60 slots, {result.length.value / 60:.0f} min, nothing kept", median, "ms", 250)


def test_fitting(benchmark: Any) -> None:
    file = load_class(ROOT / "examples" / "machine-pairs.json")
    tight = file.model_copy(update={"plan": file.plan.model_copy(update={"slot_min": 50})})
    fitting, median = milliseconds(benchmark, lambda: fit_to_slot(tight), rounds=5)
    assert len(fitting.proposals) >= 5
    show(f"fit to slot, {len(fitting.proposals)} proposals with their effects", median, "ms", 1000)


@pytest.mark.django_db
def test_draft_forecast_request(benchmark: Any) -> None:
    document = big_class()
    file = read_class(document)
    studio = Studio.objects.create(name="Bench")
    user = get_user_model().objects.create_user("bench")
    Member.objects.create(user=user, studio=studio, role="instructor")
    create_room(studio, file.room)
    for who in file.people:
        add(studio, Record(person=who))
    client = Client(headers={"host": "127.0.0.1"})
    client.force_login(user)
    body = json.dumps({"plan": document["plan"]})
    answer, median = milliseconds(
        benchmark, lambda: client.post("/api/forecast", body, content_type="application/json")
    )
    assert len(answer.json()["people"]) == 20
    show("draft forecast request, 20 people x 60 min", median, "ms", 120)


def test_javascript() -> None:
    """What the first page fetches, and all of it: pages and dialogs that are opened seldom come when they are opened."""
    dist = ROOT / "web" / "dist"
    first = [
        dist / name for name in re.findall(r"assets/[\w-]+\.js", (dist / "index.html").read_text(encoding="utf-8"))
    ]
    assert first
    for what, scripts, goal in (
        ("first-load JavaScript, gzip", first, 250),
        ("all JavaScript, gzip", list((dist / "assets").glob("*.js")), 400),
    ):
        show(what, sum(len(gzip.compress(script.read_bytes(), 9)) for script in scripts) / 1000, "kB", goal)


def test_memory_and_edit_to_score(tmp_path: Path) -> None:
    """Resident memory of the demo server after use, and the time from an edit to the frame that shows its score."""
    environment = {**os.environ, "OAKEN_DATA": str(tmp_path)}
    with serving(tmp_path, environment, warm=False) as (address, process_id), chromium() as driver:
        subprocess.run([sys.executable, "-c", _LOAD_BIG], env=environment, check=True, cwd=ROOT)
        screen, session = Screen(driver, address), signed_in(address)
        for name, block, what in (
            ("Twenty people", "Stations on the bell", "20 people, an hour"),
            ("Twelve blocks", "Stations 2", "12 people, 12 blocks, 60 slots"),
        ):
            screen.enter(session)
            screen.open_class(name)
            screen.press(block)
            times = []
            for work in range(31, 46):  # never the same twice: a known forecast would be shown at once
                before = screen.length
                screen.script(_WATCH)
                # typing "35" passes through "3", which is no valid interval: the measure is the whole edit
                screen.type("Work", str(work))
                # the page itself says when it is done: asking it again and again would slow down what is measured
                times.append(driver.execute_async_script("window.redrawn.then(arguments[arguments.length - 1])"))
                assert screen.length != before
            show(f"edit to redrawn score, {what}, median", sorted(times)[len(times) // 2], "ms", 100)
            show(f"edit to redrawn score, {what}, worst of {len(times)}", max(times), "ms", 200)
        show("demo server, resident", psutil.Process(process_id).memory_info().rss / 1e6, "MB", 300)


_WATCH = """
window.redrawn = new Promise((done) => new PerformanceObserver((list, observer) => {
  observer.disconnect();
  done(list.getEntriesByName('oaken-edit-to-score').at(-1).duration);
}).observe({type: 'measure'}));
"""

_LOAD_BIG = """
import sys
sys.path[:0] = ["core", "server", "tests", "tests/bench"]
import os; os.environ["DJANGO_SETTINGS_MODULE"] = "config.settings"
import django; django.setup()
from crowd import big_class, long_class
from oaken.schedule.class_file import read_class
from oaken.domain.people.record import Record
from people.keeping import add
from planning import keeping
from studio.models import Studio
studio = Studio.objects.get()
file, longer = read_class(big_class()), read_class(long_class())
for who in file.people:
    add(studio, Record(person=who))
file.plan.name = "Twenty people"
keeping.create(studio, file.plan)
keeping.create(studio, longer.plan)
"""
