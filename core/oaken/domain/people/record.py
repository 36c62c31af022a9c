"""Everything that is written down about a person, also what the computation does not read."""

from __future__ import annotations

from typing import Annotated

from pydantic import BaseModel, ConfigDict, Field

from oaken.domain.people.person import MOST_LIFTS, Person


class SettingRow(BaseModel):
    """How a person sets a unit."""

    model_config = ConfigDict(extra="forbid")

    room: str = Field(min_length=1, max_length=60)
    unit: str = Field(min_length=1, max_length=60)
    name: str = Field(min_length=1, max_length=20)
    value: str = Field(min_length=1, max_length=20)


class Record(BaseModel):
    """Everything an instructor writes down about a person.

    `best_from` says where each best comes from, `settings` how they set the units of the rooms.
    """

    model_config = ConfigDict(extra="forbid")

    person: Person
    group: str = Field(default="", max_length=60)
    health_note: str = Field(default="", max_length=2000)
    best_from: Annotated[dict[str, Annotated[str, Field(max_length=200)]], Field(max_length=MOST_LIFTS)] = {}
    settings: list[SettingRow] = Field(default=[], max_length=300)
