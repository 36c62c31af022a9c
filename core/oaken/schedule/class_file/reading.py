"""Reads class files from disk, for the command line and the demo; the rest of the core touches no files."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

from oaken.basis.faults import Fault, FaultyInput
from oaken.plan.notation import Names
from oaken.plan.notation import read_class as read_text
from oaken.schedule.class_file.document import ClassFile, check_class, read_class


def load_class(path: Path) -> ClassFile:
    """Read a class file; its room and its people may stand in files beside it, named by {"$ref": "name.json"}.

    Raises FaultyInput for a file that is missing, is no JSON, or does not hold a valid class.
    """
    document = read_json(path)
    if isinstance(document, dict):
        for part in ("room", "people"):
            value = document.get(part)
            if isinstance(value, dict) and set(value) == {"$ref"}:
                document[part] = read_json(path.parent / str(value["$ref"]), part)
    return read_class(document)


def is_text(path: Path) -> bool:
    """Whether a file holds a class as text, and not as JSON."""
    if path.suffix.lower() == ".json":
        return False
    try:
        return not path.read_text(encoding="utf-8", errors="replace").lstrip().startswith(("{", "["))
    except OSError:
        return False


def load_text(path: Path, beside: Path) -> ClassFile:
    """Read a class as text; room, people and own entries are those of a class file, and what the text's head leaves
    out is that of its plan.

    Raises FaultyInput for files that cannot be read, and FaultyText with every fault of the text at its word.
    """
    file = load_class(beside)
    text = _read_text(path, "file", "the path of a class as text")
    names = Names(frozenset(unit.id for unit in file.room.units), frozenset(person.id for person in file.people))
    plan = read_text(text, file.catalogue(), file.plan, names)
    return check_class(file.model_copy(update={"plan": plan}))


def _read_text(path: Path, part: str, right: str) -> str:
    def faulty(message: str, what: str) -> FaultyInput:
        return FaultyInput([Fault(path=part, place=path.name, field=part, message=message, right=what)])

    try:
        return path.read_text(encoding="utf-8")
    except OSError as error:
        raise faulty(f"cannot be read ({error.strerror})", right) from error
    except UnicodeDecodeError as error:
        raise faulty(f"is not UTF-8 text (byte {error.start})", "UTF-8") from error


def read_json(path: Path, part: str = "file") -> Any:
    """What a JSON file holds. Raises FaultyInput, located at `part`, where it cannot be read or is no JSON."""

    def faulty(message: str, right: str) -> FaultyInput:
        return FaultyInput([Fault(path=part, place=path.name, field=part, message=message, right=right)])

    text = _read_text(path, part, "the path of a class file")
    try:
        return json.loads(text)
    except json.JSONDecodeError as error:
        raise faulty(f"is not JSON: {error.msg} in line {error.lineno}, column {error.colno}", "JSON") from error
