"""The class file: a plan with the room and the people it speaks of, the open format of everything exchanged."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field, ValidationError

from oaken.basis.faults import Fault, FaultyInput, faults_of, unknown_format
from oaken.domain.catalogue import Catalogue, OwnEntries, catalogue
from oaken.domain.people import Person
from oaken.domain.room import Room
from oaken.plan import ClassPlan, HouseRule, check
from oaken.plan.older_versions import OLDEST, upgraded
from oaken.schedule.timeline.size import size_faults

FORMAT: Literal["oaken-class/2"] = "oaken-class/2"


class ClassFile(BaseModel):
    """A complete class: nothing else is needed to forecast it. `own` are exercises and equipment kinds that the
    instructor has added to the catalogue, `house_rules` what the studio wants to be seen before a class."""

    model_config = ConfigDict(extra="forbid")

    format: Literal["oaken-class/2"]
    plan: ClassPlan
    room: Room
    people: Annotated[list[Person], Field(max_length=200)]
    own: OwnEntries = OwnEntries()
    house_rules: Annotated[list[HouseRule], Field(max_length=60)] = []

    @property
    def room_today(self) -> Room:
        """The room as this class finds it."""
        return self.plan.room_of(self.room)

    @property
    def participants(self) -> list[Person]:
        """The people of the class, in the order of the plan."""
        by_id = {person.id: person for person in self.people}
        return [by_id[name] for name in self.plan.people]

    def catalogue(self) -> Catalogue:
        """The shipped catalogue with what the file adds."""
        return catalogue().with_own(self.own)


def read_class(document: Any) -> ClassFile:
    """Validate a class file that was read from JSON; one of an older version is turned into today's form first.

    Raises FaultyInput with every located fault.
    """
    if isinstance(document, dict):
        written = document.get("format")
        if written == OLDEST:
            document = {**document, "format": FORMAT, "plan": upgraded(document.get("plan"))}
        elif isinstance(written, str) and written != FORMAT:
            raise FaultyInput([unknown_format(written, (OLDEST, FORMAT))])
    try:
        file = ClassFile.model_validate(document)
    except ValidationError as error:
        raise FaultyInput(faults_of(error, document)) from error
    return check_class(file)


def check_class(file: ClassFile) -> ClassFile:
    """The same class file, once every name it uses is known to exist. Raises FaultyInput otherwise."""
    try:
        known = file.catalogue()
    except ValueError as error:
        raise FaultyInput(
            [Fault(path="own", place="the file", field="own", message=str(error), right="an entry of its own")]
        ) from error
    found = check(file.plan, file.room, file.people, known) or size_faults(file.plan, file.room_today, known)
    if found:
        raise FaultyInput(found)
    return file


def check_search(file: ClassFile) -> ClassFile:
    """The same class file, where it is small enough to be tried many times over. Raises FaultyInput otherwise."""
    found = size_faults(file.plan, file.room_today, file.catalogue(), searching=True)
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
