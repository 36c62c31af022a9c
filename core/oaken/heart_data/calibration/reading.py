"""Reads recordings and bodies from disk, for the command line; the rest of the room touches no files."""

from __future__ import annotations

from pathlib import Path

from pydantic import ValidationError

from oaken.basis.faults import FaultyInput, faults_of
from oaken.domain.people import Person
from oaken.heart_data.calibration.own_demand import NOBODY
from oaken.heart_data.recordings import LARGEST_BYTES, HeartSeries, read_recording
from oaken.heart_data.recordings.series import faulty
from oaken.schedule.class_file.reading import read_json


def load_recording(path: Path) -> HeartSeries:
    """A recording. Raises FaultyInput where it cannot be read or is none."""
    try:
        with path.open("rb") as file:
            content = file.read(LARGEST_BYTES + 1)
    except OSError as error:
        raise faulty(f"cannot be read: {error.strerror}", "a FIT, TCX, GPX or CSV file", path.name) from error
    return read_recording(content, path.name)


def load_body(path: Path) -> Person:
    """Somebody as in a class file, who needs neither id nor name. Raises FaultyInput where it is no such thing."""
    given = read_json(path, "body")
    named = {"id": NOBODY.id, "name": NOBODY.name, **given} if isinstance(given, dict) else given
    try:
        return Person.model_validate(named)
    except ValidationError as error:
        faults = [fault.model_copy(update={"place": path.name}) for fault in faults_of(error, named)]
        raise FaultyInput(faults) from error
