"""The conditions people may have, and what holds for each."""

from __future__ import annotations

from functools import cache
from typing import Annotated

from pydantic import Field

from oaken.basis.data_files import shipped_json
from oaken.domain.catalogue import Condition
from oaken.domain.people.person import Closed


class CarefulAbout(Closed):
    """One thing to be careful about.

    `tags` of exercises that an instructor has added ask for care, each with how it is done with less of it: the shipped
    exercises stand in the table of `care.json` one by one. `read` is what must be read before class, `vigorous_min`
    how many minutes of vigorous heart rate are enough.
    """

    id: Condition
    name: Annotated[str, Field(min_length=3)]
    tags: dict[str, str]
    read: Annotated[str, Field(min_length=20)]
    vigorous_min: Annotated[float, Field(ge=0)] | None


@cache
def conditions() -> dict[Condition, CarefulAbout]:
    """Everything people may have to be careful about, by id."""
    raw = shipped_json("oaken.domain.people.conditions", "conditions.json")
    return {entry.id: entry for entry in map(CarefulAbout.model_validate, raw["conditions"])}
