"""Reads class files from disk, for the command line and the demo; the rest of the core touches no files."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

from oaken.basis.faults import Fault, FaultyInput
from oaken.class_file.document import ClassFile, read_class


def load_class(path: Path) -> ClassFile:
    """Read a class file; its room and its people may stand in files beside it, named by {"$ref": "name.json"}.

    Raises FaultyInput for a file that is missing, is no JSON, or does not hold a valid class.
    """
    document = _read_json(path)
    if isinstance(document, dict):
        for part in ("room", "people"):
            value = document.get(part)
            if isinstance(value, dict) and set(value) == {"$ref"}:
                document[part] = _read_json(path.parent / str(value["$ref"]), part)
    return read_class(document)


def _read_json(path: Path, part: str = "file") -> Any:
    def faulty(message: str, right: str) -> FaultyInput:
        return FaultyInput([Fault(path=part, place=path.name, field=part, message=message, right=right)])

    try:
        return json.loads(path.read_text(encoding="utf-8"))
    except OSError as error:
        raise faulty(f"cannot be read ({error.strerror})", "the path of a class file") from error
    except UnicodeDecodeError as error:
        raise faulty(f"is not UTF-8 text (byte {error.start})", "JSON in UTF-8") from error
    except json.JSONDecodeError as error:
        raise faulty(f"is not JSON: {error.msg} in line {error.lineno}, column {error.colno}", "JSON") from error
