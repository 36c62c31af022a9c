"""What to be careful about with a person: which exercises ask for care, and what an instructor has to read.

Common practice, no source; local rules and licensed advice come first.
"""

from __future__ import annotations

import json
from dataclasses import dataclass
from functools import cache
from importlib.resources import files
from typing import Annotated

from pydantic import Field

from oaken.catalogue import Exercise
from oaken.people import Closed, Condition, Person


class CarefulAbout(Closed):
    """One thing to be careful about.

    It heeds the notes that exercises have for `reads_notes_of`, and `tags` of exercises with a safer choice for each.
    `read` is what must be read before class, `vigorous_min` how many minutes of vigorous heart rate are enough.
    """

    id: Condition
    name: Annotated[str, Field(min_length=3)]
    reads_notes_of: tuple[Condition, ...]
    tags: dict[str, str]
    read: Annotated[str, Field(min_length=20)]
    vigorous_min: Annotated[float, Field(ge=0)] | None


@dataclass(frozen=True, slots=True)
class Concern:
    """Why an exercise asks for care with a person, and what would be safer."""

    condition: Condition
    name: str
    safer: str


@cache
def conditions() -> dict[Condition, CarefulAbout]:
    """Everything people may have to be careful about, by id."""
    raw = json.loads(files("oaken").joinpath("conditions.json").read_text(encoding="utf-8"))
    return {entry.id: entry for entry in map(CarefulAbout.model_validate, raw["conditions"])}


def concerns(person: Person, exercise: Exercise) -> list[Concern]:
    """What to be careful about when this person does this exercise; at most one reason a condition."""
    found = []
    for name in person.careful:
        about = conditions()[name]
        said = next((note.say for note in exercise.cautions if note.who in about.reads_notes_of), None)
        safer = said or next((safer for tag, safer in about.tags.items() if tag in exercise.tags), None)
        if safer is not None:
            found.append(Concern(name, about.name, safer))
    return found
