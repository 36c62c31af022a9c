"""What a file is, told by what is in it and not by its name, and whether it is right."""

from __future__ import annotations

import json
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path
from typing import NamedTuple
from zoneinfo import ZoneInfo

from pydantic import TypeAdapter, ValidationError

from oaken.basis.faults import Fault, FaultyInput, faults_of
from oaken.basis.text_files import Unreadable, decoded
from oaken.basis.words import counted
from oaken.domain.catalogue import catalogue
from oaken.domain.people import Person
from oaken.domain.people.roster import COLUMNS, POUNDS_AND_INCHES, read_roster
from oaken.exports.calendar import read_calendar
from oaken.exports.studio_file import KeptPerson, StudioReader
from oaken.heart_data.recordings import read_recording
from oaken.plan.notation import read_class as read_text
from oaken.programme.course import read_course
from oaken.schedule.class_file.reading import load_class, load_text, read_json
from oaken.session.presses import read_presses
from oaken.session.reading import load_run

LARGEST_BYTES = 20_000_000
"""No file of any of these formats is larger; each format has its own bound besides."""


class FormatReport(NamedTuple):
    """A file that is right: which format it is in, and what it holds, in words."""

    format: Format
    words: str


@dataclass(frozen=True)
class Format:
    """A format: its id and name, and how a file of it is read; `beside` is the class file that a class as text means.

    `told` gives what the file holds in words. It raises FaultyInput or FaultyText with every fault.
    """

    id: str
    name: str
    told: Callable[[Path, Path | None], str]


def _class_file(path: Path, beside: Path | None) -> str:
    file = load_class(path)
    people, blocks = len(file.participants), len(file.plan.blocks)
    return f"“{file.plan.name}”: {counted(people, 'person', 'people')}, {counted(blocks, 'block')}"


def _text(path: Path, beside: Path | None) -> str:
    if beside is None:
        plan = read_text(_words(path), catalogue())
        return f"“{plan.name}”: {counted(len(plan.blocks), 'block')}; room and people only with --with CLASS.json"
    file = load_text(path, beside)
    return f"“{file.plan.name}”: {counted(len(file.plan.blocks), 'block')}, in the room of {beside.name}"


def _course(path: Path, beside: Path | None) -> str:
    course = read_course(read_json(path))
    return f"“{course.course.name}”: {counted(len(course.classes), 'base class', 'base classes')}"


def _run(path: Path, beside: Path | None) -> str:
    file, events = load_run(path)
    return f"a run of “{file.plan.name}”: {counted(len(events), 'event')}"


def _presses(path: Path, beside: Path | None) -> str:
    found = read_presses(read_json(path))
    return f"presses of a device in “{found.name or f'run {found.run}'}”: {counted(len(found.events), 'event')}"


def _roster(path: Path, beside: Path | None) -> str:
    return counted(len(roster_in(path)), "person", "people")


def roster_in(path: Path) -> list[Person]:
    """The people of a roster. Raises FaultyInput with every fault at its line."""
    roster = read_roster(path.read_bytes())
    faults = [fault for row in roster.rows for fault in row.faults]
    if faults:
        raise FaultyInput(faults)
    return roster.people


def _people(path: Path, beside: Path | None) -> str:
    return counted(len(people_in(path)), "person", "people")


def people_in(path: Path) -> list[Person]:
    """The people of a list in JSON. Raises FaultyInput with every fault at its person."""
    document = read_json(path)
    try:
        return PEOPLE.validate_python(document)
    except ValidationError as error:
        raise FaultyInput(faults_of(error, document)) from error


PEOPLE: TypeAdapter[list[Person]] = TypeAdapter(list[Person])


def _recording(path: Path, beside: Path | None) -> str:
    series = read_recording(path.read_bytes(), path.name)
    minutes = float(series.seconds[-1]) / 60
    others = ", ".join(sorted(name.partition("_")[0] for name in series.channels))
    return (
        f"{series.source}, {counted(series.bpm.size, 'reading')} in {minutes:.0f} min{' with ' * bool(others)}{others}"
    )


def _studio(path: Path, beside: Path | None) -> str:
    with path.open("rb") as source:
        reader = StudioReader(source)
        reader.check()
        people = sum(1 for _ in reader.records("people.jsonl", None, KeptPerson))
        held = len(reader.paths("runs", ".json"))
    return f"“{reader.manifest.name}”: {counted(people, 'person', 'people')}, {counted(held, 'class', 'classes')} held"


def _calendar(path: Path, beside: Path | None) -> str:
    found = read_calendar(path.read_bytes(), ZoneInfo("UTC"))
    dates = sum(not item.faults for item in found)
    return f"{counted(len(found), 'event')}, {dates} of them dates of classes"


FORMATS = {
    item.id: item
    for item in (
        Format("class", "class file", _class_file),
        Format("text", "class as text", _text),
        Format("course", "course file", _course),
        Format("run", "run log", _run),
        Format("presses", "presses of a device", _presses),
        Format("roster", "roster as CSV", _roster),
        Format("people", "list of people", _people),
        Format("recording", "recording of heart rate", _recording),
        Format("studio", "studio file", _studio),
        Format("calendar", "calendar", _calendar),
    )
}


def check(path: Path, beside: Path | None = None) -> FormatReport:
    """What a file is and holds. Raises FaultyInput or FaultyText with every fault, each at its place."""
    known = kind_of(path)
    return FormatReport(known, known.told(path, beside))


def kind_of(path: Path) -> Format:
    """Which format a file is in. Raises FaultyInput where it is none of them, or cannot be read."""
    try:
        size = path.stat().st_size
        with path.open("rb") as source:
            if source.read(4) == b"PK\x03\x04":
                return FORMATS["studio"]
        content = path.read_bytes() if size <= LARGEST_BYTES else b""
    except OSError as error:
        raise faulty_file(path, f"cannot be read ({error.strerror})", "the path of a file") from error
    if size > LARGEST_BYTES:
        raise faulty_file(path, f"is {size / 1e6:.0f} MB large", f"at most {LARGEST_BYTES / 1e6:.0f} MB")
    if not content.strip():
        raise faulty_file(path, "is empty", _any_format())
    if content[8:12] == b".FIT":
        return FORMATS["recording"]
    try:
        text = decoded(content)
    except Unreadable as error:
        raise faulty_file(path, str(error), error.right) from error
    return FORMATS[_kind_of_text(path, text.lstrip("\ufeff \t\r\n"))]


def _kind_of_text(path: Path, text: str) -> str:
    if text.startswith("{"):
        return _kind_of_json(path, text)
    if text.startswith("<"):
        return "recording"
    if text.startswith("["):
        return "people"
    if text[:15].upper() == "BEGIN:VCALENDAR":
        return "calendar"
    first = text.split("\n", 1)[0].strip().lower()
    cells = {cell.strip(' "') for cell in first.replace(";", ",").replace("\t", ",").split(",")}
    if len(cells) > 1 and "name" in cells and cells & {*COLUMNS, *POUNDS_AND_INCHES} - {"name", "id"}:
        return "roster"
    if len(cells) > 1 and not first.startswith(("class ", "block ")):
        return "recording"
    return "text"


def _kind_of_json(path: Path, text: str) -> str:
    """A JSON document says its format itself; a run log begins with its class, one document a line."""
    try:
        document = json.loads(text)
    except json.JSONDecodeError:
        try:
            first = json.loads(text.split("\n", 1)[0])
        except json.JSONDecodeError as error:
            where = f"line {error.lineno}, column {error.colno}"
            raise faulty_file(path, f"is not JSON: {error.msg} in {where}", _any_format()) from error
        if isinstance(first, dict):
            return "run"
        raise faulty_file(path, "is neither one JSON document nor a run log", _any_format()) from None
    written = str(document.get("format", ""))
    if written.startswith("oaken-course"):
        return "course"
    if written.startswith("oaken-presses"):
        return "presses"
    if written.startswith("oaken-class") or "plan" in document:
        return "class"
    if set(document) == {"class"}:
        return "run"
    said = f"the format {written!r}" if written else "no format"
    raise faulty_file(path, f"is JSON with {said}", '"format": "oaken-class/2" or "oaken-course/1"')


def _any_format() -> str:
    return ", ".join(each_format.name for each_format in FORMATS.values())


def _words(path: Path) -> str:
    return path.read_text(encoding="utf-8-sig")


def faulty_file(path: Path, message: str, right: str) -> FaultyInput:
    """What is wrong with a file as a whole."""
    return FaultyInput([Fault(path="file", place=path.name, field="file", message=message, right=right)])
