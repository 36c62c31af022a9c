"""Files of one format turned into another, wherever nothing has to be made up for it."""

from __future__ import annotations

import csv
import io
import json
from collections.abc import Callable
from datetime import UTC, datetime
from pathlib import Path

from oaken.domain.people.roster import write_roster
from oaken.exports.formats.known import faulty_file, kind_of, people_in, roster_in
from oaken.heart_data.recordings import read_recording
from oaken.plan.notation import text_of
from oaken.schedule.class_file.reading import load_class, load_text
from oaken.session import log_of, replay_events, standing
from oaken.session.reading import load_run
from oaken.session.sets_file import write_sets


def _text_of_class(path: Path, beside: Path | None) -> str:
    file = load_class(path)
    return text_of(file.plan, file.catalogue())


def _class_of_text(path: Path, beside: Path | None) -> str:
    if beside is None:
        message = "a class as text has no room and no people of its own"
        raise faulty_file(path, message, "--with CLASS.json, whose room, people and own entries it means")
    return load_text(path, beside).model_dump_json(indent=1, exclude_none=True) + "\n"


def _whole_class(path: Path, beside: Path | None) -> str:
    """Today's form, with everything it names inside."""
    return load_class(path).model_dump_json(indent=1, exclude_none=True) + "\n"


def _roster_of_class(path: Path, beside: Path | None) -> str:
    return write_roster([(person, "") for person in load_class(path).participants])


def _people_of_roster(path: Path, beside: Path | None) -> str:
    people = [person.model_dump(mode="json", exclude_none=True) for person in roster_in(path)]
    return json.dumps(people, indent=1, ensure_ascii=False) + "\n"


def _roster_of_people(path: Path, beside: Path | None) -> str:
    return write_roster([(person, "") for person in people_in(path)])


def _readings(path: Path, beside: Path | None) -> str:
    """A recording as CSV: seconds since its first reading, bpm, and whatever else was recorded."""
    series = read_recording(path.read_bytes(), path.name)
    names = sorted(series.channels)
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\r\n")
    writer.writerow(["seconds", "bpm", *names])
    for at, second in enumerate(series.seconds.tolist()):
        rate = float(series.bpm[at])
        others = (float(series.channels[name][at]) for name in names)
        writer.writerow(
            [f"{second:g}", f"{rate:g}" if rate else "", *("" if other != other else f"{other:g}" for other in others)]
        )
    return out.getvalue()


def _sets_of_run(path: Path, beside: Path | None) -> str:
    file, events = load_run(path)
    now = max((event.happened_at for event in standing(events)), default=datetime.now(UTC))
    names = {person.id: person.name for person in file.participants}
    return write_sets(log_of(file, events, replay_events(file, events, now)), names)


TARGETS: dict[tuple[str, str], tuple[str, Callable[[Path, Path | None], str]]] = {
    ("class", "text"): ("the class as text", _text_of_class),
    ("class", "class"): ("the class file in today's form, room and people inside", _whole_class),
    ("class", "roster"): ("its people as CSV", _roster_of_class),
    ("text", "class"): ("a class file, with the room and people of another (--with)", _class_of_text),
    ("roster", "people"): ("the people of a class file, as JSON", _people_of_roster),
    ("people", "roster"): ("people as CSV", _roster_of_people),
    ("recording", "readings"): ("a recording as CSV", _readings),
    ("run", "sets"): ("what was done, as CSV", _sets_of_run),
}
"""From a format to another: what comes of it, and how."""


def targets_of(kind: str) -> list[str]:
    """What a file of a format can be turned into."""
    return [target for source, target in TARGETS if source == kind]


def convert(path: Path, target: str, beside: Path | None = None) -> str:
    """The file in another format. Raises FaultyInput or FaultyText where it is faulty, or cannot become that."""
    known = kind_of(path)
    chosen = TARGETS.get((known.id, target))
    if chosen is None:
        right = ", ".join(targets_of(known.id)) or "nothing else"
        raise faulty_file(path, f"is a {known.name}, which cannot become {target!r}", right)
    return chosen[1](path, beside)
