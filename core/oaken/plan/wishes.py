"""What a class wishes for everybody's way round: who goes with whom, who keeps apart, who does something else."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated

from pydantic import BaseModel, ConfigDict, Field, model_validator

from oaken.domain.people import Level, Person
from oaken.domain.room import SettingName
from oaken.plan.blocks import MOST_IN_CLASS, ExerciseId, Reference

Company = Annotated[list[Reference], Field(min_length=2, max_length=12)]


class Instead(BaseModel):
    """Who does another exercise wherever this one stands: the named people, and everybody of the named level."""

    model_config = ConfigDict(extra="forbid", frozen=True)

    exercise: ExerciseId
    other: ExerciseId
    people: Annotated[list[Reference], Field(max_length=MOST_IN_CLASS)] = []
    level: Level | None = None

    @model_validator(mode="after")
    def says_for_whom(self) -> Instead:
        if not self.people and self.level is None:
            raise ValueError("an exercise is replaced for somebody: name people or a level")
        if self.exercise == self.other:
            raise ValueError("an exercise is replaced by another one")
        return self

    def applies_to(self, person: Person) -> bool:
        """Whether this person does the other exercise."""
        return person.id in self.people or (self.level is not None and person.level == self.level)


class OwnSettings(BaseModel):
    """What is set for somebody at a unit of the room: seat, back, pad and the like, as its scale says it."""

    model_config = ConfigDict(extra="forbid", frozen=True)

    person: Reference
    unit: Reference
    values: Annotated[
        dict[
            SettingName,
            Annotated[str, Field(min_length=1, max_length=20, pattern=r"^[^\s,:](?:[^,:\x00-\x1f]*[^\s,:])?$")],
        ],
        Field(min_length=1, max_length=8),
    ]


@dataclass(frozen=True, slots=True)
class Wishes:
    """What a class wishes for everybody's way round; people by their index in the plan.

    `companies` are those who go round as one, in the order of the plan; whoever is alone is a company of one. `apart`
    are pairs that are never at the same group or station at once. `newcomers` (by id) have to be shown every machine.
    """

    companies: tuple[tuple[int, ...], ...]
    apart: tuple[tuple[int, int], ...] = ()
    instead: tuple[Instead, ...] = ()
    newcomers: frozenset[str] = frozenset()

    @classmethod
    def none(cls, crowd: int) -> Wishes:
        """Everybody for themselves."""
        return cls(tuple((index,) for index in range(crowd)))

    def does(self, exercise: str, person: Person) -> str:
        """The exercise a person does where this one stands."""
        if not self.instead:
            return exercise
        return next(
            (item.other for item in self.instead if item.exercise == exercise and item.applies_to(person)), exercise
        )
