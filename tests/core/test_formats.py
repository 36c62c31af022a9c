"""Every format by its content: what a file is, whether it is right, and what it becomes and comes back from."""

from __future__ import annotations

import json
from collections.abc import Callable
from pathlib import Path

import pytest
from hypothesis import HealthCheck, given, settings
from making import classes
from oaken.__main__ import main
from oaken.basis.faults import FaultyInput
from oaken.exports.formats import FORMATS, TARGETS, check, convert, kind_of
from oaken.plan.notation import FaultyText
from oaken.schedule.class_file import ClassFile
from oaken.schedule.class_file.reading import load_class
from places import ROOT
from test_gpx import gpx, point
from test_recordings import fit, tcx

EXAMPLES = ROOT / "examples"
TEXT = "class Legs\nslot 30 min\nroom saw-floor\npeople marit\nblock A: sets\nleg press 3 x 10"
Write = Callable[[str, str | bytes], Path]


@pytest.fixture
def write(tmp_path: Path) -> Write:
    """A file of this name with this in it."""

    def written(name: str, content: str | bytes) -> Path:
        path = tmp_path / name
        path.write_bytes(content if isinstance(content, bytes) else content.encode())
        return path

    return written


@pytest.mark.parametrize(
    ("content", "kind", "words"),
    [
        (TEXT, "text", "“Legs”: 1 block"),
        ("name,age,mass_kg\nAda,40,70\n", "roster", "1 person"),
        ("name;age;mass_kg\nAda;40;70,5\nBo;30;80\n", "roster", "2 people"),
        ("seconds,bpm\n0,100\n60,120\n", "recording", "CSV, 2 readings in 1 min"),
        (tcx([100, 101, 102]), "recording", "TCX, 3 readings"),
        (fit([100, 101, 102]), "recording", "FIT, 3 readings"),
        (gpx(point(0) + point(1)), "recording", "GPX, 2 readings in 0 min with altitude, distance"),
        ('[{"id": "a", "name": "Ada", "age": 40, "body_mass_kg": 70}]', "people", "1 person"),
    ],
)
def test_a_file_is_known_by_what_is_in_it(content: str | bytes, kind: str, words: str, write: Write) -> None:
    found = check(write("a file with any name.txt", content))
    assert found.format.id == kind
    assert found.words.startswith(words)


def test_class_files_courses_and_runs_are_told_apart(write: Write) -> None:
    assert check(EXAMPLES / "long-carry.json").words == "“Long carry, week 5”: 8 people, 7 blocks"
    whole = convert(EXAMPLES / "long-carry.json", "class")
    line = json.dumps(json.loads(whole))
    run = write("run.jsonl", line + '\n{"kind": "began", "id": "b", "happened_at": "2026-11-20T18:30:00Z"}\n')
    assert check(run).words == "a run of “Long carry, week 5”: 1 event"
    assert kind_of(write("course.json", '{"format": "oaken-course/1"}')).id == "course"


@pytest.mark.parametrize(
    ("content", "says"),
    [
        ("", "is empty"),
        ('{"format": "oaken-class/2", "plan": ', "is not JSON"),
        ('{"format": "other/1"}', "is JSON with the format 'other/1'"),
        ("{}", "is JSON with no format"),
        ('{"format": "oaken-class/9", "plan": {}}', "oaken-class/9"),
        ("<html></html>", "neither TCX nor GPX"),
        ("name,age,mass_kg\nAda,400,70\n", "age"),
        ('[{"id": "a"}]', "name"),
        (b"\xff\xfe\xfa\x00\x01", "text"),
    ],
)
def test_what_is_wrong_is_told_with_its_place(
    content: str | bytes, says: str, write: Write, capsys: pytest.CaptureFixture[str]
) -> None:
    path = write("broken", content)
    with pytest.raises(FaultyInput, match=says):
        check(path)
    assert main(["check", str(path)]) == 2
    told = capsys.readouterr()
    assert told.out == ""
    assert "broken: " in told.err


def test_a_text_with_a_fault_is_told_at_its_word(write: Write, capsys: pytest.CaptureFixture[str]) -> None:
    path = write("class.txt", TEXT.replace("leg press", "leg dance"))
    with pytest.raises(FaultyText):
        check(path)
    assert main(["check", str(path)]) == 2
    assert "line 6" in capsys.readouterr().err


@settings(
    max_examples=20, deadline=None, suppress_health_check=[HealthCheck.function_scoped_fixture, HealthCheck.too_slow]
)
@given(file=classes)
def test_a_class_file_becomes_text_and_comes_back(file: ClassFile, tmp_path: Path) -> None:
    there = tmp_path / "class.json"
    there.write_text(file.model_dump_json(exclude_none=True), encoding="utf-8")
    text = tmp_path / "class.txt"
    text.write_text(convert(there, "text"), encoding="utf-8")
    again = ClassFile.model_validate_json(convert(text, "class", there))
    assert plan_as_text(again) == plan_as_text(file)
    assert ClassFile.model_validate_json(convert(there, "class")) == file


def plan_as_text(file: ClassFile) -> str:
    """The plan as text: its parts have ids of their own in the file."""
    from oaken.plan.notation import text_of

    return text_of(file.plan, file.catalogue())


def test_people_go_out_as_csv_and_come_back(tmp_path: Path) -> None:
    roster = tmp_path / "people.csv"
    roster.write_text(convert(EXAMPLES / "long-carry.json", "roster"), encoding="utf-8", newline="")
    people = tmp_path / "people.json"
    people.write_text(convert(roster, "people"), encoding="utf-8")
    before = {participant.id: participant for participant in load_class(EXAMPLES / "long-carry.json").participants}
    after = json.loads(people.read_text(encoding="utf-8"))
    assert [item["id"] for item in after] == list(before)
    for item in after:
        assert item["bests_kg"] == pytest.approx(before[item["id"]].bests_kg, abs=0.01)
    assert convert(people, "roster") == roster.read_bytes().decode()


def test_a_recording_of_any_kind_becomes_csv_with_all_that_was_recorded(write: Write) -> None:
    path = write("way.gpx", gpx("".join(point(item, str(100 + item), 47 + item * 1e-5) for item in range(30))))
    again = write("way.csv", convert(path, "readings"))
    assert check(again).words == "CSV, 30 readings in 0 min with altitude, distance"
    assert convert(again, "readings") == again.read_bytes().decode()


def test_what_cannot_become_something_says_what_it_can(write: Write, capsys: pytest.CaptureFixture[str]) -> None:
    path = write("people.csv", "name,age,mass_kg\nAda,40,70\n")
    assert main(["convert", str(path), "--to", "text"]) == 2
    assert "is a roster as CSV, which cannot become 'text' — people" in capsys.readouterr().err
    text = write("class.txt", TEXT)
    assert main(["convert", str(text), "--to", "class"]) == 2
    assert "--with CLASS.json" in capsys.readouterr().err
    assert main(["convert", str(path), "--to", "people", "--out", str(path.parent / "no" / "folder.json")]) == 2
    assert "cannot be written" in capsys.readouterr().err


def test_every_target_starts_from_a_known_format_and_help_names_it(capsys: pytest.CaptureFixture[str]) -> None:
    assert {source for source, _ in TARGETS} <= set(FORMATS)
    with pytest.raises(SystemExit) as ended:
        main(["convert", "--help"])
    assert ended.value.code == 0
    told = " ".join(capsys.readouterr().out.split())
    for source, target in TARGETS:
        assert f"{source} → {target}" in told
    assert "Ends with 0 when it worked, and with 2" in told


def test_a_studio_file_and_a_calendar_are_known_and_checked(tmp_path: Path) -> None:
    from datetime import UTC, datetime
    from zoneinfo import ZoneInfo

    from oaken.exports.calendar import Dated, write_calendar
    from test_studio_file import studio

    whole = tmp_path / "mill.zip"
    whole.write_bytes(studio())
    assert (kind_of(whole).id, check(whole).words) == ("studio", "“Alder Mill”: 0 people, 0 classes held")
    whole.write_bytes(studio()[:-40])
    with pytest.raises(FaultyInput, match="no zip, or was cut off"):
        check(whole)
    moment = datetime(2026, 12, 1, 18, 30)
    one = Dated("a@b", "Legs", moment, 50, "Mill", "12 people", 1, datetime(2026, 1, 1, tzinfo=UTC))
    dates = tmp_path / "dates.ics"
    dates.write_bytes(write_calendar("Mill", ZoneInfo("Europe/Berlin"), [one]))
    assert (kind_of(dates).id, check(dates).words) == ("calendar", "1 event, 1 of them dates of classes")


def test_presses_of_a_device_are_known_and_checked(tmp_path: Path) -> None:
    event = {"kind": "paused", "id": "b-1", "happened_at": "2026-11-24T18:31:00Z"}
    document = {"format": "oaken-presses/1", "run": 12, "name": "Stretcher legs", "events": [event]}
    path = tmp_path / "presses.json"
    path.write_text(json.dumps(document), encoding="utf-8")
    assert check(path).words == "presses of a device in “Stretcher legs”: 1 event"
    path.write_text(
        json.dumps({**document, "events": [{**event, "happened_at": "9999-01-01T00:00:00Z"}]}), encoding="utf-8"
    )
    with pytest.raises(FaultyInput) as caught:
        check(path)
    assert "events" in caught.value.faults[0].path
