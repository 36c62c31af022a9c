"""First people: how many of each level, before anybody has a name."""

from __future__ import annotations

from collections.abc import Collection
from typing import Annotated

from pydantic import BaseModel, ConfigDict, Field, model_validator

from oaken.domain.people import Level, Person
from oaken.domain.people.record import Record
from oaken.plan import MOST_IN_CLASS

UNKNOWN_AGE, UNKNOWN_MASS_KG = 40, 72.0
"""Taken of somebody of whom nothing is known yet (common practice, no source): to be corrected, person by person."""

GROUP = "names to come"


class FirstPeople(BaseModel):
    """Who comes, told by how many of each level; names are given later."""

    model_config = ConfigDict(extra="forbid", frozen=True)

    beginner: Annotated[int, Field(ge=0, le=MOST_IN_CLASS)] = 0
    standard: Annotated[int, Field(ge=0, le=MOST_IN_CLASS)] = 0
    advanced: Annotated[int, Field(ge=0, le=MOST_IN_CLASS)] = 0

    @model_validator(mode="after")
    def somebody_and_not_too_many(self) -> FirstPeople:
        many = self.beginner + self.standard + self.advanced
        if not 1 <= many <= MOST_IN_CLASS:
            raise ValueError(f"somebody comes, and at most {MOST_IN_CLASS} at a time: {many} were told")
        return self


def first_people(told: FirstPeople, taken: Collection[str]) -> list[Record]:
    """As many people of each level, named by it and numbered; `taken` are ids that others have."""
    found: list[Record] = []
    levels: list[Level] = ["beginner", "standard", "advanced"]
    for level in levels:
        number = 0
        for _ in range(getattr(told, level)):
            number += 1
            while f"{level}-{number}" in taken:
                number += 1
            person = Person(
                id=f"{level}-{number}",
                name=f"{level.capitalize()} {number}",
                age=UNKNOWN_AGE,
                body_mass_kg=UNKNOWN_MASS_KG,
                level=level,
            )
            found.append(Record(person=person, group=GROUP))
    return found
