"""`make bench`, the people: forecast with bands, calibration, and importing recordings."""

from __future__ import annotations

from dataclasses import replace
from time import perf_counter
from typing import Any

import numpy as np
from crowd import big_class
from oaken.forecast import forecast
from oaken.heart_data.calibration import calibrate, recorded_path
from oaken.heart_data.recordings import HeartSeries, read_recording
from oaken.physiology.body import body_of
from oaken.schedule.class_file import read_class
from oaken.schedule.class_file.reading import load_class
from places import ROOT
from showing import milliseconds, show
from test_recordings import fit, tcx

LONG_S = 9000
"""Two and a half hours at one reading a second."""


def test_forecast_with_bands(benchmark: Any) -> None:
    """As after an edit: one block is new, the others are known."""
    document = big_class(40, 75)
    document["plan"]["blocks"][1]["groups"] = document["plan"]["blocks"][1]["groups"][:1]
    file = read_class(document)
    work = iter(range(20, 200))

    def edited() -> Any:
        stations = file.plan.blocks[2].model_copy(update={"work_s": next(work), "rounds": 1})
        blocks = [*file.plan.blocks[:2], stations, *file.plan.blocks[3:]]
        return forecast(file.model_copy(update={"plan": file.plan.model_copy(update={"blocks": blocks})}))

    result, median = milliseconds(benchmark, edited)
    assert len(result.people) == 40
    assert all(len(person.bpm_low) == len(person.bpm_high) > 100 for person in result.people)
    assert result.length.value >= 4000
    show(f"forecast with bands, 40 people x {result.length.value / 60:.0f} min", median, "ms", 150)


def test_calibration_of_an_hour(benchmark: Any) -> None:
    file = load_class(ROOT / "examples" / "machine-pairs.json")
    person = next(person for person in file.people if person.id == "tobin")
    nothing = recorded_path(file, "tobin", HeartSeries.of([0.0], [80.0], None, "CSV"), 0.0)
    seconds = np.arange(0.0, 3600.0)
    (bpm,) = nothing.rates([replace(body_of(person).likely, gain=1.15)], seconds)
    bpm = bpm + np.random.default_rng(1).normal(0, 2, seconds.size)
    series = HeartSeries.of(seconds.tolist(), bpm.tolist(), None, "CSV")
    found, median = milliseconds(
        benchmark, lambda: calibrate(person, [recorded_path(file, "tobin", series, 0.0)]), rounds=5
    )
    assert found.better
    show(f"calibration of one recording of {found.fit.minutes:.0f} min", median / 1000, "s", 1)


def test_import_of_a_long_recording(benchmark: Any) -> None:
    rates: list[int | None] = [100 + second % 50 for second in range(LONG_S)]
    files = {
        "CSV": "\n".join(["seconds,bpm", *(f"{at},{rate}" for at, rate in enumerate(rates))]).encode(),
        "TCX": tcx(rates),
        "FIT": fit(rates),
    }
    for name, content in files.items():
        series, median = read_timed(lambda content=content: read_recording(content))
        assert series.bpm.size == LONG_S
        show(f"import of 2.5 h at 1 Hz, {name} of {len(content) / 1e6:.1f} MB", median, "s", 1)
    benchmark.pedantic(lambda: read_recording(files["CSV"]), rounds=1)


def read_timed(work: Any) -> tuple[HeartSeries, float]:
    """The result and the median of three runs, in seconds."""
    times = []
    for _ in range(3):
        begun = perf_counter()
        result = work()
        times.append(perf_counter() - begun)
    return result, sorted(times)[1]
