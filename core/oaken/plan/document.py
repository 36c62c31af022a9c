"""The class plan: a versioned document of blocks with what the class wishes for."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator
from itertools import combinations
from typing import Annotated, Literal, TypeVar

from pydantic import BaseModel, ConfigDict, Field, field_validator, model_validator

from oaken.domain.catalogue import Catalogue
from oaken.domain.people import Level
from oaken.domain.room import Room
from oaken.physiology.heat import Air
from oaken.plan.blocks import (
    BESIDE_THE_MAIN_PART,
    MOST_IN_CLASS,
    AnyPart,
    Block,
    BlockBase,
    Name,
    Part,
    Place,
    Reference,
)
from oaken.plan.dates import Repeats, first_occasion
from oaken.plan.wishes import Company, Instead, OwnSettings, Wishes

Aim = Literal["strength", "conditioning", "mixed", "technique"]
AnyBlock = TypeVar("AnyBlock", bound=BlockBase)


class ClassPlan(BaseModel):
    """A planned class. `people` and `room` are ids; the order of `people` gives them their numbers, from 1.

    `aim` steers which change to fit the slot does least harm; `choices` answers questions on which practitioners
    disagree (question id → school id; what is missing takes the default). People who are `together` go round as one;
    those who are `apart` are never at the same group or station at the same time; `instead` names exercises that
    somebody does not do, and what they do in their place. `taken` are units of the room that this class cannot have.
    `newcomers` are shown every machine when they first come to it; `settings` are what is set for somebody at a unit.
    `air` is what thermometer and hygrometer say; None where nobody has looked. `starts` is a day and time
    ("2026-12-01 18:30") or other words; with a day it may repeat. `reasons` say in words why an exercise was chosen
    (exercise id → reason), where the generator chose it.
    """

    model_config = ConfigDict(extra="forbid")

    name: Name
    slot_min: Annotated[int, Field(ge=5, le=240)]
    starts: Annotated[str, Field(max_length=60, pattern=r"^(?:\S(?:[^\x00-\x1f]*\S)?)?$")] = ""
    repeats: Repeats | None = None
    note: Annotated[str, Field(max_length=2000)] = ""
    aim: Aim = "mixed"
    level: Level = "standard"
    choices: Annotated[dict[Reference, Reference], Field(max_length=40)] = {}
    room: Reference
    people: Annotated[list[Reference], Field(min_length=1, max_length=MOST_IN_CLASS)]
    together: Annotated[list[Company], Field(max_length=30)] = []
    apart: Annotated[list[Company], Field(max_length=30)] = []
    instead: Annotated[list[Instead], Field(max_length=60)] = []
    taken: Annotated[list[Reference], Field(max_length=60)] = []
    newcomers: Annotated[list[Reference], Field(max_length=MOST_IN_CLASS)] = []
    settings: Annotated[list[OwnSettings], Field(max_length=300)] = []
    air: Air | None = None
    reasons: Annotated[dict[Reference, Annotated[str, Field(max_length=300)]], Field(max_length=60)] = {}
    blocks: Annotated[list[Block], Field(min_length=1, max_length=40)]

    @field_validator("note")
    @classmethod
    def plain_lines(cls, note: str) -> str:
        lines = note.replace("\r\n", "\n").replace("\r", "\n").split("\n")
        return "\n".join("".join(mark for mark in line if mark.isprintable() or mark == "\t") for line in lines)

    @model_validator(mode="after")
    def repeats_from_a_day_on(self) -> ClassPlan:
        if self.repeats is None:
            return self
        first = first_occasion(self.starts)
        if first is None:
            raise ValueError("what repeats has a day and a time: starts like “2026-12-01 18:30”")
        if self.repeats.until < first.on:
            raise ValueError(f"it repeats until {self.repeats.until}, before its first day {first.on}")
        return self

    @model_validator(mode="after")
    def wishes_do_not_contradict_one_another(self) -> ClassPlan:
        seen: set[str] = set()
        for company in self.together:
            for name in company:
                if name in seen or company.count(name) > 1:
                    raise ValueError(f"together: {name!r} stands twice; everybody goes round with one company")
            seen.update(company)
            for pair in self.apart:
                both = [name for name in pair if name in company]
                if len(both) > 1:
                    raise ValueError(f"{both[0]!r} and {both[1]!r} cannot be kept together and apart at once")
        return self

    @model_validator(mode="after")
    def every_part_has_its_own_id(self) -> ClassPlan:
        taken = Counter(part.id for part in self.parts() if part.id)
        twice = [name for name, count in taken.items() if count > 1]
        if twice:
            raise ValueError(f"the id {twice[0]!r} stands {taken[twice[0]]} times; every part needs its own")
        number = 0
        for part in self.parts():
            while not part.id:
                number += 1
                if f"part-{number}" not in taken:
                    part.id = f"part-{number}"
        return self

    def parts(self) -> Iterator[Part]:
        """Every block, group, slot, station and leg."""
        for block in self.blocks:
            yield from block.documents

    def placed(self) -> Iterator[tuple[Place, AnyPart]]:
        """Every slot, station and leg with its path in the plan's document."""
        for number, block in enumerate(self.blocks):
            for place, part in block.placed():
                yield ("blocks", number, *place), part

    def main_part(self) -> list[bool]:
        """Of every block, whether it belongs to what the class is about.

        Its purpose tells; where none is said, what everybody does together at the beginning or end of a class of
        several blocks is warm-up or cool-down.
        """
        last = len(self.blocks) - 1

        def main(number: int, block: Block) -> bool:
            if block.purpose is not None:
                return block.purpose not in BESIDE_THE_MAIN_PART
            return not (last and number in (0, last) and block.kind == "together")

        return [main(number, block) for number, block in enumerate(self.blocks)]

    def of_kind(self, kind: type[AnyBlock]) -> Iterator[tuple[int, AnyBlock]]:
        """Every block of a kind with its place."""
        for number, block in enumerate(self.blocks):
            if isinstance(block, kind):
                yield number, block

    def room_of(self, room: Room) -> Room:
        """The room as this class finds it: what is taken counts as out of order."""
        if not self.taken:
            return room
        units = [
            unit.model_copy(update={"out_of_order": True}) if unit.id in self.taken else unit for unit in room.units
        ]
        return room.model_copy(update={"units": units})

    def wishes(self) -> Wishes:
        """What is wished for everybody's way round."""
        place = {name: index for index, name in enumerate(self.people)}
        of = {place[name]: tuple(sorted(place[item] for item in company if item in place))
              for company in self.together for name in company if name in place}  # fmt: skip
        everybody = range(len(self.people))
        companies = [mine for index in everybody for mine in [of.get(index, (index,))] if mine[0] == index]
        apart = {
            (min(pair), max(pair))
            for company in self.apart
            for pair in combinations([place[name] for name in company if name in place], 2)
        }
        return Wishes(tuple(companies), tuple(sorted(apart)), tuple(self.instead), frozenset(self.newcomers))

    def school(self, question: str, catalogue: Catalogue) -> str:
        """The school this class follows in a question."""
        return self.choices.get(question, catalogue.questions[question].default)
