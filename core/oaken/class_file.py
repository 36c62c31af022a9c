"""The class file: a plan with the room and the people it speaks of, the open format of everything exchanged."""

from __future__ import annotations

from typing import Any, Literal

from pydantic import BaseModel, ConfigDict, ValidationError

from oaken.catalogue import catalogue
from oaken.people import Person
from oaken.plan import ClassPlan, check
from oaken.problems import FaultyInput, problems_of
from oaken.room import Room

FORMAT: Literal["oaken-class/1"] = "oaken-class/1"


class ClassFile(BaseModel):
    """A complete class: nothing else is needed to forecast it."""

    model_config = ConfigDict(extra="forbid")

    format: Literal["oaken-class/1"]
    plan: ClassPlan
    room: Room
    people: list[Person]


def read_class(document: Any) -> ClassFile:
    """Validate a class file that was read from JSON. Raises FaultyInput with every located problem."""
    try:
        file = ClassFile.model_validate(document)
    except ValidationError as error:
        raise FaultyInput(problems_of(error, document)) from error
    return check_class(file)


def check_class(file: ClassFile) -> ClassFile:
    """The same class file, once every name it uses is known to exist. Raises FaultyInput otherwise."""
    found = check(file.plan, file.room, file.people, catalogue())
    if found:
        raise FaultyInput(found)
    return file


def json_schema() -> dict[str, Any]:
    """The published JSON Schema of a class file; room and people may also be named as files beside it."""
    schema = ClassFile.model_json_schema()
    elsewhere = {
        "title": "A file beside this one",
        "type": "object",
        "properties": {"$ref": {"type": "string"}},
        "required": ["$ref"],
        "additionalProperties": False,
    }
    for part in ("room", "people"):
        schema["properties"][part] = {"anyOf": [schema["properties"][part], elsewhere]}
    return {"$schema": "https://json-schema.org/draft/2020-12/schema", "title": "Oaken Circuit class file", **schema}
