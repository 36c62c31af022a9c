"""Reads run logs from disk, for the command line; the rest of the room touches no files."""

from __future__ import annotations

from pathlib import Path

from oaken.basis.faults import Fault, FaultyInput
from oaken.schedule.class_file import ClassFile
from oaken.schedule.class_file.reading import load_class
from oaken.session.events import Event
from oaken.session.log_file import read_log


def load_run(path: Path) -> tuple[ClassFile, list[Event]]:
    """The class and the events of a run log; the class file that its first line may name stands beside it.

    Raises FaultyInput for a file that cannot be read or is faulty.
    """
    try:
        text = path.read_text(encoding="utf-8")
    except (OSError, UnicodeDecodeError) as error:
        told = getattr(error, "strerror", None) or "it is not UTF-8 text"
        fault = Fault(path="file", place=path.name, field="file", message=f"cannot be read ({told})", right="a run log")
        raise FaultyInput([fault]) from error
    return read_log(text.splitlines(), lambda name: load_class(path.parent / name))
