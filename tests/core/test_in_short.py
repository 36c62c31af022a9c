"""A class in short against its whole forecast, and the heart at the same work from simulated belts."""

from __future__ import annotations

from datetime import UTC, datetime
from pathlib import Path

import numpy as np
import pytest
from oaken.forecast import brief, forecast
from oaken.heart_data.calibration import recorded_by_belt, recorded_path
from oaken.heart_data.recordings import HeartSeries
from oaken.programme.progress import heart_at_work
from oaken.schedule.class_file.reading import load_class
from oaken.schedule.timeline import build_timeline
from places import ROOT


def test_a_class_in_short_says_what_its_forecast_says(example: Path) -> None:
    file = load_class(example)
    short, whole = brief(file), forecast(file)
    figures = whole.figures
    assert short.length_s == pytest.approx(whole.length.value, abs=0.1)
    assert short.kcal == pytest.approx(figures.energy.value, rel=1e-3)
    assert short.work_share == pytest.approx(figures.work_share.value, abs=0.1)
    assert short.volume_kg == pytest.approx(figures.volume_load.value, rel=1e-3, abs=0.1)
    assert figures.session_effort
    assert figures.impulse
    assert figures.zone_sum
    assert figures.vigorous_or_more
    assert short.session_effort == pytest.approx(figures.session_effort.value, rel=0.01)
    assert short.impulse == pytest.approx(figures.impulse.value, rel=0.01)
    assert short.zone_sum == pytest.approx(figures.zone_sum.value, rel=0.01)
    assert short.vigorous_min == pytest.approx(figures.vigorous_or_more.value, abs=0.05)


def test_sets_of_a_muscle_are_those_of_the_steps(example: Path) -> None:
    file = load_class(example)
    timeline = build_timeline(file.plan, file.room_today, file.participants, file.catalogue())
    counted: dict[str, int] = {}
    for path in timeline.paths:
        for step in path:
            exercise = timeline.slots[step.slot].exercise if step.slot >= 0 else None
            if exercise is None or not step.opens_set or not exercise.is_work or not exercise.loads_muscle:
                continue
            for muscle in exercise.prime:
                counted[muscle] = counted.get(muscle, 0) + 1
    crowd = len(file.participants)
    assert brief(file).sets == {muscle: round(count / crowd, 1) for muscle, count in sorted(counted.items())}


def test_the_heart_at_the_same_work_follows_the_heart() -> None:
    file = load_class(ROOT / "examples" / "long-carry.json")
    began = datetime(2026, 3, 2, 19, 0, tzinfo=UTC)
    series, put_on_s = recorded_by_belt(file, "tobin", 7, began, None)
    told = heart_at_work(recorded_path(file, "tobin", series, put_on_s))
    assert told.at_work_bpm is not None
    assert told.at_work_low is not None
    assert told.at_work_high is not None
    assert told.at_work_low < told.at_work_bpm < told.at_work_high
    assert told.rests > 0
    assert told.recovery_bpm is not None
    assert 0 < told.recovery_bpm < 80
    faster = HeartSeries.of(series.seconds.tolist(), (series.bpm + 10).tolist(), series.start, series.source)
    again = heart_at_work(recorded_path(file, "tobin", faster, put_on_s))
    assert again.at_work_bpm == pytest.approx(told.at_work_bpm + 10, abs=0.3)
    assert again.recovery_bpm == pytest.approx(told.recovery_bpm, abs=0.3)


def test_a_recording_that_tells_too_little_says_nothing_of_the_heart_at_work() -> None:
    file = load_class(ROOT / "examples" / "long-carry.json")
    seconds = np.arange(0.0, 120.0, 1.0)
    short = HeartSeries.of(seconds.tolist(), [100.0] * seconds.size, None, "csv")
    told = heart_at_work(recorded_path(file, "tobin", short, 0.0))
    assert told.at_work_bpm is None
    flat = HeartSeries.of(np.arange(0.0, 2000.0, 1.0).tolist(), [100.0] * 2000, None, "csv")
    assert heart_at_work(recorded_path(file, "tobin", flat, 0.0)).at_work_bpm is None
