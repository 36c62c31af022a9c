"""A person's class as TCX and FIT: read back by two readers, and by the elements that the published schema asks for."""

from __future__ import annotations

import io
import tempfile
from dataclasses import replace
from datetime import UTC, datetime, timedelta
from functools import cache
from itertools import pairwise
from pathlib import Path
from typing import Any
from xml.etree import ElementTree as Xml

import fitdecode
import pytest
from fit_tool.fit_file import FitFile
from hypothesis import given
from hypothesis import strategies as st
from oaken.exports.activities import Activity, ActivitySet, Lap, LapsAt, activities_of, write_fit, write_tcx
from oaken.exports.activities.fit import LONGEST_NAME, checksum
from oaken.exports.activities.tcx import SPACE
from oaken.heart_data.calibration import recorded_by_belt
from oaken.heart_data.recordings import read_recording
from oaken.plan import Slot
from oaken.schedule.class_file.reading import load_class
from oaken.session import replay_events, simulated_events
from oaken.session.events import SetDone
from places import EXAMPLES, ROOT

BEGAN = datetime(2026, 11, 24, 18, 30, tzinfo=UTC)


@cache
def activities(name: str = "machine-pairs", laps: LapsAt = "blocks") -> dict[str, Activity]:
    """Everybody's activity in a simulated class; one of them wore a belt."""
    file = load_class(ROOT / "examples" / f"{name}.json")
    events = simulated_events(file, BEGAN, 3)
    run_state = replay_events(file, events, max(event.happened_at for event in events))
    who = file.plan.people[1]
    hearts = {who: recorded_by_belt(file, who, 3, BEGAN)}
    return activities_of(file, events, run_state, BEGAN, hearts, laps)


def belted(laps: LapsAt = "blocks") -> Activity:
    return next(activity for activity in activities(laps=laps).values() if activity.bpm)


def fit_messages(content: bytes) -> list[tuple[str, dict[str, Any]]]:
    """Every message of a FIT file by the first reader, which checks both checksums."""
    reader = fitdecode.FitReader(
        io.BytesIO(content),
        check_crc=fitdecode.CrcCheck.RAISE,
        error_handling=fitdecode.ErrorHandling.RAISE,
    )
    return [
        (frame.name, {field.name: field.value for field in frame.fields})
        for frame in reader
        if isinstance(frame, fitdecode.FitDataMessage)
    ]


@pytest.mark.parametrize("name", EXAMPLES)
@pytest.mark.parametrize("laps", ["blocks", "stations"])
def test_laps_leave_no_gap_and_their_energy_is_the_whole(name: str, laps: LapsAt) -> None:
    for activity in activities(name, laps).values():
        assert activity.laps[0].from_s == 0.0
        assert activity.laps[-1].until_s == pytest.approx(activity.length_s)
        assert all(before.until_s == after.from_s for before, after in pairwise(activity.laps))
        assert sum(lap.kcal for lap in activity.laps) == pytest.approx(activity.kcal, rel=0.02, abs=2)
        assert all(0 <= done.start_s < activity.length_s and done.seconds > 0 for done in activity.sets)


@pytest.mark.parametrize("laps", ["blocks", "stations"])
def test_a_fit_file_says_what_was_done(laps: LapsAt) -> None:
    one = belted(laps)
    told = fit_messages(write_fit(one))
    by_kind: dict[str, list[dict[str, Any]]] = {}
    for kind, fields in told:
        by_kind.setdefault(kind, []).append(fields)
    (session,) = by_kind["session"]
    assert session["total_calories"] == round(one.kcal)
    assert session["energy_method"] == one.energy
    assert session["total_elapsed_time"] == pytest.approx(one.length_s, abs=0.001)
    assert (session["max_heart_rate"], session["num_laps"]) == (max(one.bpm), len(one.laps))
    assert (session["sport"], session["sub_sport"]) == ("training", "strength_training")
    steps = {step["message_index"]: step["wkt_step_name"] for step in by_kind["workout_step"]}
    assert [steps[lap["wkt_step_index"]] for lap in by_kind["lap"]] == [lap.name for lap in one.laps]
    assert [lap["avg_heart_rate"] for lap in by_kind["lap"]] == [
        None if lap.mean_bpm is None else round(lap.mean_bpm) for lap in one.laps
    ]
    titles = {title["exercise_name"]: title["wkt_step_name"] for title in by_kind["exercise_title"]}
    sets = sorted(by_kind["set"], key=lambda fields: fields["message_index"])
    assert [(titles[each["category_subtype"]], each["repetitions"]) for each in sets] == [
        (done.exercise, done.reps) for done in one.sets
    ]
    assert [each["weight"] for each in sets] == [
        None if done.load_kg is None else pytest.approx(done.load_kg, abs=1 / 32) for done in one.sets
    ]
    assert [record["heart_rate"] for record in by_kind["record"]] == one.bpm
    times = [fields["timestamp"] for kind, fields in told if "timestamp" in fields and kind in ("record", "lap", "set")]
    assert times == sorted(times)


def test_a_second_reader_finds_the_same_in_a_fit_file() -> None:
    one = belted()
    content = write_fit(one)
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "one.fit"
        path.write_bytes(content)
        messages = [record.message for record in FitFile.from_file(str(path)).records]
    rates = [message.heart_rate for message in messages if type(message).__name__ == "RecordMessage"]
    assert rates == one.bpm
    (session,) = (message for message in messages if type(message).__name__ == "SessionMessage")
    assert session.total_calories == round(one.kcal)
    laps = [message for message in messages if type(message).__name__ == "LapMessage"]
    assert len(laps) == len(one.laps)
    assert laps[0].start_time == 1000 * BEGAN.timestamp()
    assert read_recording(content, "one.fit").bpm.tolist() == [float(bpm) for bpm in one.bpm]


def test_the_checksum_is_that_of_the_published_table() -> None:
    """Worked by hand from the table of the format: of no bytes, of one, and of a file with its own checksum behind."""
    assert checksum(b"") == 0
    assert checksum(b"\x01") == 0xC0C1  # the reflected polynomial 0xA001 for one byte, as for every CRC-16 of this kind
    assert checksum(b"123456789") == 0xBB3D  # the check value of CRC-16/ARC
    assert checksum(write_fit(belted())) == 0


LAP_ORDER = [
    "TotalTimeSeconds", "DistanceMeters", "Calories", "AverageHeartRateBpm", "MaximumHeartRateBpm", "Intensity",
    "TriggerMethod", "Track", "Notes",
]  # fmt: skip
"""The order of a lap's elements in the published schema (TrainingCenterDatabase v2, from memory)."""


@pytest.mark.parametrize("laps", ["blocks", "stations"])
def test_a_tcx_file_keeps_the_order_of_its_schema(laps: LapsAt) -> None:
    one = belted(laps)
    root = Xml.fromstring(write_tcx(one))
    assert root.tag == f"{{{SPACE}}}TrainingCenterDatabase"
    (told,) = root.findall("*/*")
    plain = [child.tag.removeprefix(f"{{{SPACE}}}") for child in told]
    assert plain == ["Id", *["Lap"] * len(one.laps), "Notes"]
    for element, lap in zip(told.findall(f"{{{SPACE}}}Lap"), one.laps, strict=True):
        names = [child.tag.removeprefix(f"{{{SPACE}}}") for child in element]
        assert names == sorted(names, key=LAP_ORDER.index)
        start = datetime.fromisoformat(element.attrib["StartTime"])
        assert abs((start - BEGAN).total_seconds() - lap.from_s) < 0.001
        assert int(element.findtext(f"{{{SPACE}}}Calories", "")) == round(lap.kcal)
        assert (element.findtext(f"{{{SPACE}}}Notes") or "").startswith(lap.name)
    assert one.energy in (told.findtext(f"{{{SPACE}}}Notes") or "")
    assert read_recording(write_tcx(one).encode(), "one.tcx").bpm.tolist() == [float(bpm) for bpm in one.bpm]


def test_without_a_recording_there_is_no_heart_and_everything_else() -> None:
    one = next(each for each in activities().values() if not each.bpm)
    told = dict(fit_messages(write_fit(one)))
    assert told["session"]["avg_heart_rate"] is None
    assert "record" not in told
    assert "HeartRate" not in write_tcx(one)


AS_DONE: list[tuple[dict[str, Any], list[tuple[int | None, float | None]], list[str]]] = [
    # what was written, repetitions and load of each set message, and what stands in words
    (
        {"load_kg": 60.0, "parts": [10, {"reps": 8, "load_kg": 45.0}], "to_failure": True},
        [(10, 60.0), (8, 45.0)],
        ["set 1", "set 1, part 2, to failure"],
    ),
    (
        {"load_kg": 60.0, "parts": [6, {"reps": 3, "rest_s": 15.0}, {"reps": 2, "rest_s": 15.0}], "rest_s": 120.0},
        [(6, 60.0), (3, 60.0), (2, 60.0)],
        ["set 1, after 120 s", "set 1, part 2, after 15 s", "set 1, part 3, after 15 s"],
    ),
    (
        {"load_kg": 55.5, "reps": 10, "helped": True, "helped_reps": 2, "range_of_motion": "partial"},
        [(10, 55.5)],
        ["set 1, 2 helped, partial range"],
    ),
    (
        # help that was said of the whole set, as older devices did
        {"load_kg": 60.0, "parts": [5, 5], "helped": True},
        [(5, 60.0), (5, 60.0)],
        ["set 1", "set 1, part 2, helped"],
    ),
    (
        {"load_kg": 55.5, "reps": 15, "reps_left": 0, "form": "poor", "set_up": {"heels_cm": 2.5, "aids": ["belt"]}},
        [(15, 55.5)],
        ["set 1, none in reserve, form poor, heels 2.5 cm, belt"],
    ),
]


def as_done(said: dict[str, Any], part: str, exercise: str) -> Activity:
    """The activity of somebody of whom one set was written, in a class that ran as planned."""
    file = load_class(ROOT / "examples" / "machine-pairs.json")
    events = [event for event in simulated_events(file, BEGAN, 3) if event.kind in ("began", "ended")]
    who = file.plan.people[1]
    told = {"person": who, "part": part, "number": 1, "exercise": exercise, **said}
    made = [*events, SetDone(id="it", happened_at=BEGAN + timedelta(minutes=20), **told)]
    run_state = replay_events(file, made, max(event.happened_at for event in made))
    return activities_of(file, made, run_state, BEGAN, {})[who]


@pytest.mark.parametrize(("said", "lifted", "words"), AS_DONE)
def test_a_set_stands_in_fit_and_tcx_as_it_was_done(
    said: dict[str, Any], lifted: list[tuple[int | None, float | None]], words: list[str]
) -> None:
    file = load_class(ROOT / "examples" / "machine-pairs.json")
    part = next(part for part in file.plan.parts() if isinstance(part, Slot) and part.exercise == "leg-press")
    for one in (as_done(said, part.id, "leg-press"), as_done(said, "unplanned.hack-squat", "hack-squat")):
        sets = [fields for kind, fields in fit_messages(write_fit(one)) if kind == "set"]
        assert [(each["repetitions"], each["weight"]) for each in sets] == lifted
        assert [each["set_in_words"] for each in sets] == words
        notes = "".join(Xml.fromstring(write_tcx(one)).itertext())
        for (reps, load), told in zip(lifted, words, strict=True):
            assert f"{reps} × {load:g} kg, {told}" in notes


NAMES = st.text(max_size=90)
MOMENTS = st.datetimes(datetime(2001, 1, 1), datetime(2090, 1, 1)).map(
    lambda datetime: datetime.replace(tzinfo=UTC, microsecond=0)
)


@given(
    st.lists(NAMES, min_size=1, max_size=4),
    st.lists(st.tuples(NAMES, st.none() | st.integers(0, 500), st.none() | st.floats(0, 900)), max_size=5),
    st.lists(st.integers(30, 230), max_size=30),
    st.floats(0, 60_000),
    MOMENTS,
)
def test_whatever_was_done_comes_back(
    names: list[str], sets: list[tuple[str, int | None, float | None]], bpm: list[int], kcal: float, began: datetime
) -> None:
    length = 60.0 * len(names) + 60
    made = Activity(
        person=names[0], name=names[-1], began_at=began, length_s=length,
        laps=[Lap(name, 60.0 * at, 60.0 * (at + 1), kcal / 7, None, None) for at, name in enumerate(names)],
        sets=[ActivitySet(name, 5.0 * at, 4.0, reps, load) for at, (name, reps, load) in enumerate(sets)],
        kcal=kcal, energy=names[0], seconds=[float(at) for at in range(len(bpm))], bpm=bpm,
    )  # fmt: skip
    told = fit_messages(write_fit(made))
    assert [fields["heart_rate"] for kind, fields in told if kind == "record"] == bpm
    back = sorted((fields["message_index"], fields["repetitions"]) for kind, fields in told if kind == "set")
    assert back == [(at, each_set.reps) for at, each_set in enumerate(made.sets)]
    for kind, fields in told:
        if kind == "workout_step":
            name = names[fields["message_index"]].split("\0")[0]
            assert (fields["wkt_step_name"] or "") == name.encode()[: LONGEST_NAME - 1].decode("utf-8", "ignore")
    assert Xml.fromstring(write_tcx(made)).find(f".//{{{SPACE}}}Id") is not None


def test_times_are_seconds_of_the_format_and_stay_in_order_over_a_change_of_clocks() -> None:
    one = replace(belted(), began_at=datetime(2026, 10, 25, 0, 59, 30, tzinfo=UTC))
    told = fit_messages(write_fit(one))
    assert dict(told)["file_id"]["time_created"] == one.began_at
    laps = [fields for kind, fields in told if kind == "lap"]
    assert laps[0]["start_time"] == one.began_at
    assert all(lap["timestamp"] - lap["start_time"] > timedelta(0) for lap in laps)
