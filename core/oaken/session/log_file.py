"""The run log as an open format: one JSON document a line, first the class (or where its file is), then its events."""

from __future__ import annotations

import json
from collections.abc import Callable, Iterable
from typing import Any

from pydantic import TypeAdapter, ValidationError

from oaken.basis.faults import Fault, FaultyInput, faults_in, faults_of
from oaken.basis.limits import in_words, most
from oaken.schedule.class_file import ClassFile, read_class
from oaken.session.events import Event

EVENTS: TypeAdapter[Event] = TypeAdapter(Event)


def read_log(lines: Iterable[str], class_at: Callable[[str], ClassFile]) -> tuple[ClassFile, list[Event]]:
    """The class and the events of a run log. `class_at` reads the class file that the first line may name by
    `{"class": "path.json"}`.

    Raises FaultyInput with every fault, each at its line.
    """
    found: list[Fault] = []
    events: list[Event] = []
    file: ClassFile | None = None
    for number, line in enumerate(lines, 1):
        if not line.strip():
            continue
        if number > most("run.events"):
            found.append(_at(number, "line", "is one too many", in_words("run.events")))
            break
        document = _json_of(line, number, found)
        if document is None:
            continue
        if number == 1:
            try:
                file = _class_of(document, class_at)
            except FaultyInput as error:
                found += [fault.model_copy(update={"place": f"line 1, {fault.place}"}) for fault in error.faults]
            continue
        try:
            events.append(EVENTS.validate_python(document))
        except ValidationError as error:
            found += [fault.model_copy(update={"place": f"line {number}"}) for fault in faults_of(error, document)]
    if file is None and not found:
        found.append(_at(1, "class", "has no class", '{"class": "path of a class file"}, or a class file itself'))
    if found or file is None:
        raise FaultyInput(found)
    return file, events


def write_log(file: ClassFile, events: Iterable[Event]) -> str:
    """A run log with its class file in it; reading it gives the same back."""
    head = file.model_dump_json(exclude_none=True)
    return "\n".join([head, *(event.model_dump_json(exclude_none=True) for event in events), ""])


def json_schema() -> dict[str, Any]:
    """The JSON Schema of one event."""
    return {
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        "title": "Event of a run log",
        **EVENTS.json_schema(),
    }


def _class_of(document: Any, class_at: Callable[[str], ClassFile]) -> ClassFile:
    if isinstance(document, dict) and set(document) == {"class"} and isinstance(document["class"], str):
        return class_at(document["class"])
    return read_class(document)


def _json_of(line: str, number: int, found: list[Fault]) -> Any:
    try:
        return json.loads(line)
    except (json.JSONDecodeError, RecursionError) as error:
        message = f"is not JSON: {error.msg} in column {error.colno}" if isinstance(error, json.JSONDecodeError) else ""
        found.append(_at(number, "line", message or "is nested too deeply", "one JSON document a line"))
        return None


def _at(number: int, field: str, message: str, right: str) -> Fault:
    return faults_in(f"line {number}", f"line.{number}.")(field, message, right)
