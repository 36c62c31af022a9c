"""The class plan: a versioned document of blocks, each a list of slots, validated with pointed errors."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator
from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field, model_validator

from oaken.catalogue import Catalogue
from oaken.people import Person
from oaken.prescription.segments import Load, Sides
from oaken.prescription.tempo import Tempo
from oaken.problems import Problem, place_in_words
from oaken.room import Room

Identifier = Annotated[str, Field(max_length=60, pattern=r"^[A-Za-z0-9._-]*$")]
Name = Annotated[str, Field(min_length=1, max_length=120)]
Seconds = Annotated[int, Field(ge=0, le=1800)]
WorkSeconds = Annotated[int, Field(ge=5, le=3600)]
Rounds = Annotated[int, Field(ge=1, le=20)]


class Part(BaseModel):
    """A part of the plan document; an empty id is filled in from its place."""

    model_config = ConfigDict(extra="forbid")

    id: Identifier = ""


class Station(Part):
    """A clocked station: one exercise, done for the block's work interval."""

    exercise: str
    load: Load | None = None


class SetSlot(Part):
    """One exercise of a group: what is done in every round. Exactly one of `reps` and `seconds` is given.

    A count of a one-sided exercise says whether it is done on "each_side" or is shared "in_all".
    """

    exercise: str
    reps: Annotated[int, Field(ge=1, le=200)] | None = None
    seconds: WorkSeconds | None = None
    sides: Sides | None = None
    tempo: Tempo | None = None
    load: Load | None = None

    @model_validator(mode="after")
    def reps_or_seconds(self) -> SetSlot:
        if (self.reps is None) == (self.seconds is None):
            raise ValueError("a slot is either reps or seconds, exactly one of the two")
        return self


class Group(Part):
    """Exercises done in turn, round after round, with rest only after the round.

    One exercise makes straight sets, two a superset, three a tri-set, four and more a giant set.
    """

    rounds: Rounds
    rest_s: Seconds
    slots: Annotated[list[SetSlot], Field(min_length=1, max_length=12)]


class TogetherSlot(Part):
    """Something everybody does at the same time."""

    exercise: str
    seconds: WorkSeconds
    pause_after_s: Seconds = 0


class BlockBase(Part):
    """What every block has. `move_on_s` are the seconds it takes the class to get to the next block."""

    name: Name
    move_on_s: Seconds = 30


class CircuitBlock(BlockBase):
    """Stations on the clock: everybody works `work_s`, has `change_s` to move on, and goes round `rounds` times.

    `round_rest_s` replaces the change between two rounds; None keeps the change there as everywhere.
    """

    kind: Literal["circuit"]
    work_s: WorkSeconds
    change_s: Seconds
    rounds: Rounds
    round_rest_s: Seconds | None = None
    stations: Annotated[list[Station], Field(min_length=1, max_length=40)]


class SetsBlock(BlockBase):
    """Groups of exercises that people work through at their own pace, each starting at another group."""

    kind: Literal["sets"]
    groups: Annotated[list[Group], Field(min_length=1, max_length=20)]


class TogetherBlock(BlockBase):
    """Warm-up, stretching, cool-down: everybody does the same at the same time."""

    kind: Literal["together"]
    slots: Annotated[list[TogetherSlot], Field(min_length=1, max_length=40)]


Block = Annotated[CircuitBlock | SetsBlock | TogetherBlock, Field(discriminator="kind")]


class ClassPlan(BaseModel):
    """A planned class. `people` and `room` are ids; the order of `people` gives them their numbers, from 1."""

    model_config = ConfigDict(extra="forbid")

    name: Name
    slot_min: Annotated[int, Field(ge=5, le=240)]
    starts: Annotated[str, Field(max_length=60)] = ""
    note: Annotated[str, Field(max_length=2000)] = ""
    room: str
    people: Annotated[list[str], Field(min_length=1, max_length=60)]
    blocks: Annotated[list[Block], Field(min_length=1, max_length=40)]

    @model_validator(mode="after")
    def every_part_has_its_own_id(self) -> ClassPlan:
        taken = Counter(part.id for part in self._parts() if part.id)
        twice = [name for name, count in taken.items() if count > 1]
        if twice:
            raise ValueError(f"the id {twice[0]!r} stands {taken[twice[0]]} times; every part needs its own")
        number = 0
        for part in self._parts():
            while not part.id:
                number += 1
                if f"part-{number}" not in taken:
                    part.id = f"part-{number}"
        return self

    def _parts(self) -> Iterator[Part]:
        for block in self.blocks:
            yield block
            if isinstance(block, CircuitBlock):
                yield from block.stations
            elif isinstance(block, TogetherBlock):
                yield from block.slots
            else:
                for group in block.groups:
                    yield group
                    yield from group.slots


def check(plan: ClassPlan, room: Room, people: list[Person], catalogue: Catalogue) -> list[Problem]:
    """What the document alone cannot know: whether every name it uses exists."""
    document = plan.model_dump()
    found: list[Problem] = []

    def report(path: tuple[int | str, ...], message: str, right: str) -> None:
        found.append(
            Problem(
                path=".".join(str(step) for step in ("plan", *path)),
                place=place_in_words(document, path) if len(path) > 1 else "the plan",
                field=str(path[-1]) if isinstance(path[-1], str) else str(path[-2]),
                message=message,
                right=right,
            )
        )

    if plan.room != room.id:
        report(("room",), f"names the room {plan.room!r}", f"the room at hand is {room.id!r}")
    known = {person.id for person in people}
    for index, person in enumerate(plan.people):
        if person not in known:
            report(("people", index), f"nobody has the id {person!r}", "an id from the list of people")
        elif person in plan.people[:index]:
            report(("people", index), f"{person!r} is in the class twice", "each person once")
    for path, exercise in _exercises(plan):
        if exercise not in catalogue.exercises:
            near = catalogue.closest_exercises(exercise)
            right = f"perhaps {', '.join(near)}" if near else "an exercise id from the catalogue"
            report((*path, "exercise"), f"{exercise!r} is not in the catalogue", right)
    return found


def _exercises(plan: ClassPlan) -> Iterator[tuple[tuple[int | str, ...], str]]:
    """Every exercise named in the plan, with the path of its slot."""
    for b, block in enumerate(plan.blocks):
        if isinstance(block, CircuitBlock):
            for s, station in enumerate(block.stations):
                yield ("blocks", b, "stations", s), station.exercise
        elif isinstance(block, TogetherBlock):
            for s, together in enumerate(block.slots):
                yield ("blocks", b, "slots", s), together.exercise
        else:
            for g, group in enumerate(block.groups):
                for s, slot in enumerate(group.slots):
                    yield ("blocks", b, "groups", g, "slots", s), slot.exercise
