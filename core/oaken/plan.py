"""The class plan: a versioned document of blocks, each a list of slots, validated with pointed errors."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from itertools import combinations
from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field, field_validator, model_validator

from oaken.catalogue import Catalogue
from oaken.people import Level, Person
from oaken.physiology.heat import Air
from oaken.prescription import Manner, Segment, SetRun, merged
from oaken.problems import Problem, place_in_words
from oaken.room import Room

Identifier = Annotated[str, Field(max_length=60, pattern=r"^[A-Za-z0-9._-]*$")]
Name = Annotated[str, Field(min_length=1, max_length=120, pattern=r"^\S(?:[^\x00-\x1f]*\S)?$")]
Reference = Annotated[str, Field(min_length=1, max_length=60, pattern=r"^[A-Za-z0-9._-]+$")]
ExerciseId = Annotated[str, Field(max_length=60)]
MOST_IN_CLASS = 60
Seconds = Annotated[int, Field(ge=0, le=1800)]
WorkSeconds = Annotated[int, Field(ge=5, le=3600)]
Rounds = Annotated[int, Field(ge=1, le=20)]

Purpose = Literal[
    "warm_up",
    "activation",
    "stretching",
    "rolling",
    "strength",
    "conditioning",
    "finisher",
    "talk",
    "water",
    "tidy_up",
    "cool_down",
]
Aim = Literal["strength", "conditioning", "mixed", "technique"]


class Part(BaseModel):
    """A part of the plan document; an empty id is filled in from its place."""

    model_config = ConfigDict(extra="forbid")

    id: Identifier = ""


class Slot(Part):
    """One exercise and the sets of it, each a list of segments and followed by its rest."""

    exercise: ExerciseId
    sets: Annotated[list[SetRun], Field(min_length=1, max_length=40)]

    @field_validator("sets")
    @classmethod
    def written_one_way(cls, sets: list[SetRun]) -> list[SetRun]:
        if sum(run.times for run in sets) > 40:
            raise ValueError("a slot has at most 40 sets")
        return merged(sets)

    @property
    def rounds(self) -> int:
        """How many sets there are."""
        return sum(run.times for run in self.sets)


class Station(Part, Manner):
    """A clocked station: one exercise, done for the block's work interval in its own manner.

    The sides of a one-sided exercise share the interval.
    """

    model_config = ConfigDict(extra="forbid", frozen=False)

    exercise: ExerciseId


class Group(Part):
    """Exercises done in turn: one makes straight sets, two a superset, three a tri-set, four and more a giant set.

    Round r holds the r-th set of every slot that has one; the rest after the round is that of the last slot's set.
    Everybody is done with the groups of a lower `stage` before one of a higher; a group without one may come anywhere.
    """

    slots: Annotated[list[Slot], Field(min_length=1, max_length=12)]
    stage: Annotated[int, Field(ge=1, le=9)] | None = None

    @property
    def rounds(self) -> int:
        """How many rounds there are."""
        return max(slot.rounds for slot in self.slots)


class BlockBase(Part):
    """What every block has. `purpose` says what it is for; `move_on_s` is the time it takes to get to the next."""

    name: Name
    purpose: Purpose | None = None
    move_on_s: Seconds = 30


class CircuitBlock(BlockBase):
    """Stations on the clock: everybody works `work_s`, has `change_s` to move on, and goes round `rounds` times.

    `round_rest_s` replaces the change between two rounds; None keeps the change there as everywhere. With
    `turn_s`, two share each place: one works for that long while the other rests, turn about through the interval.
    `circle` says who begins where: the people at each station in turn, then those who begin with a breather; without
    it people take their places in the order of the plan.
    """

    kind: Literal["circuit"]
    work_s: WorkSeconds
    change_s: Seconds
    rounds: Rounds
    round_rest_s: Seconds | None = None
    turn_s: Annotated[int, Field(ge=5, le=300)] | None = None
    circle: (
        Annotated[list[Annotated[list[Reference], Field(max_length=MOST_IN_CLASS)]], Field(max_length=100)] | None
    ) = None
    stations: Annotated[list[Station], Field(min_length=1, max_length=40)]

    @model_validator(mode="after")
    def turns_fill_the_interval(self) -> CircuitBlock:
        if self.turn_s is not None and (self.work_s % self.turn_s or (self.work_s // self.turn_s) % 2):
            raise ValueError("turn_s divides work_s into an even number of turns, so that both partners work alike")
        return self


class PlannedVisit(BaseModel):
    """A group (with `round`, one round of it), and when each of its sets was planned, in seconds of the block."""

    model_config = ConfigDict(extra="forbid", frozen=True)

    group: Reference
    round: Annotated[int, Field(ge=0, le=40)] | None = None
    sets_s: Annotated[list[Annotated[float, Field(ge=0, le=36_000)]], Field(min_length=1, max_length=480)]


class Rotation(BaseModel):
    """Who goes where in which order: the visits of every person.

    It is an order, not a timetable: machines serve people in the order of the planned starts, each as soon as can be,
    so that it stays free of clashes when the block is edited. People and groups it does not know come last; those
    that are gone are passed over.
    """

    model_config = ConfigDict(extra="forbid", frozen=True)

    visits: Annotated[
        dict[Reference, Annotated[list[PlannedVisit], Field(max_length=800)]], Field(max_length=2 * MOST_IN_CLASS)
    ]


class SetsBlock(BlockBase):
    """Groups of exercises that people work through at their own pace.

    `rounds_run` is back and forth on one group until it is done, or one round of every group and then again.
    With `start` spread each person begins with another group, in order everybody begins with the first.
    `sharing` work_in lets others use a machine between somebody's sets; with hold a group takes only as many people
    (or companies that go round together) at a time as it has machines for. `waves` begin `wave_gap_s` apart.
    `within_s` is how long the block may take; `rotation` is the order that was chosen for everybody.
    """

    kind: Literal["sets"]
    rounds_run: Literal["back_and_forth", "whole_circuit"] = "back_and_forth"
    start: Literal["spread", "in_order"] = "spread"
    sharing: Literal["work_in", "hold"] = "work_in"
    waves: Annotated[int, Field(ge=1, le=12)] = 1
    wave_gap_s: Seconds = 0
    within_s: Annotated[int, Field(ge=60, le=14_400)] | None = None
    rotation: Rotation | None = None
    groups: Annotated[list[Group], Field(min_length=1, max_length=20)]

    @model_validator(mode="after")
    def stages_count_from_one(self) -> SetsBlock:
        stages = sorted({group.stage for group in self.groups if group.stage is not None})
        for group in self.groups:
            if group.stage is not None:
                group.stage = stages.index(group.stage) + 1 if len(stages) > 1 else None
        return self


class TogetherBlock(BlockBase):
    """Everybody does the same at the same time: warm-up, cardio, stretching, talk, water, tidy-up, cool-down."""

    kind: Literal["together"]
    slots: Annotated[list[Slot], Field(min_length=1, max_length=40)]


class Leg(Part):
    """One leg of a relay: members take turns of `turn` until the team has done `turns` of them in all."""

    exercise: ExerciseId
    turn: Segment
    turns: Annotated[int, Field(ge=1, le=60)]
    rest_s: Seconds = 0


class RelayBlock(BlockBase):
    """Teams in which one works while the others rest, turn about: you go I go with two, tag relay with more.

    `change_s` is the tag: the seconds from one member's end to the next one's start.
    """

    kind: Literal["relay"]
    team_size: Annotated[int, Field(ge=2, le=8)] = 2
    change_s: Annotated[int, Field(ge=0, le=60)] = 2
    legs: Annotated[list[Leg], Field(min_length=1, max_length=12)]


Block = Annotated[CircuitBlock | SetsBlock | TogetherBlock | RelayBlock, Field(discriminator="kind")]
Place = tuple[int | str, ...]
"""A path into the plan's document."""


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

    def holds_for(self, person: Person) -> bool:
        """Whether this person does the other exercise."""
        return person.id in self.people or (self.level is not None and person.level == self.level)


@dataclass(frozen=True, slots=True)
class Wishes:
    """What a class wishes for everybody's way round; people by their index in the plan.

    `companies` are those who go round as one, in the order of the plan; whoever is alone is a company of one. `apart`
    are pairs that are never at the same group or station at once.
    """

    companies: tuple[tuple[int, ...], ...]
    apart: tuple[tuple[int, int], ...] = ()
    instead: tuple[Instead, ...] = ()

    @classmethod
    def none(cls, crowd: int) -> Wishes:
        """Everybody for themselves."""
        return cls(tuple((index,) for index in range(crowd)))

    def does(self, exercise: str, person: Person) -> str:
        """The exercise a person does where this one stands."""
        return next((one.other for one in self.instead if one.exercise == exercise and one.holds_for(person)), exercise)


Company = Annotated[list[Reference], Field(min_length=2, max_length=12)]


class ClassPlan(BaseModel):
    """A planned class. `people` and `room` are ids; the order of `people` gives them their numbers, from 1.

    `aim` steers which change to fit the slot does least harm; `choices` answers questions on which practitioners
    disagree (question id → school id; what is missing takes the default). People who are `together` go round as one;
    those who are `apart` are never at the same group or station at the same time; `instead` names exercises that
    somebody does not do, and what they do in their place. `taken` are units of the room that this class cannot have.
    `air` is what thermometer and hygrometer say; None where nobody has looked.
    """

    model_config = ConfigDict(extra="forbid")

    name: Name
    slot_min: Annotated[int, Field(ge=5, le=240)]
    starts: Annotated[str, Field(max_length=60, pattern=r"^(?:\S(?:[^\x00-\x1f]*\S)?)?$")] = ""
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
    air: Air | None = None
    blocks: Annotated[list[Block], Field(min_length=1, max_length=40)]

    @field_validator("note")
    @classmethod
    def plain_lines(cls, note: str) -> str:
        lines = note.replace("\r\n", "\n").replace("\r", "\n").split("\n")
        return "\n".join("".join(mark for mark in line if mark.isprintable() or mark == "\t") for line in lines)

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
            yield block
            if isinstance(block, SetsBlock):
                for group in block.groups:
                    yield group
                    yield from group.slots
            else:
                yield from listed(block)

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
        of = {place[name]: tuple(sorted(place[one] for one in company if one in place))
              for company in self.together for name in company if name in place}  # fmt: skip
        everybody = range(len(self.people))
        companies = [mine for index in everybody for mine in [of.get(index, (index,))] if mine[0] == index]
        apart = {
            (min(pair), max(pair))
            for company in self.apart
            for pair in combinations([place[name] for name in company if name in place], 2)
        }
        return Wishes(tuple(companies), tuple(sorted(apart)), tuple(self.instead))

    def school(self, question: str, catalogue: Catalogue) -> str:
        """The school this class follows in a question."""
        return self.choices.get(question, catalogue.questions[question].default)


def listed(block: CircuitBlock | TogetherBlock | RelayBlock) -> list[Station] | list[Slot] | list[Leg]:
    """The parts of a block that has one list of them."""
    match block:
        case CircuitBlock():
            return block.stations
        case TogetherBlock():
            return block.slots
        case RelayBlock():
            return block.legs


def parts_of(block: Block) -> list[Slot | Station | Leg]:
    """Every slot, station or leg of a block, in its order."""
    if isinstance(block, SetsBlock):
        return [slot for group in block.groups for slot in group.slots]
    return [*listed(block)]


def places(plan: ClassPlan) -> Iterator[tuple[Place, Slot | Station | Leg]]:
    """Every slot, station and leg with its path in the plan's document."""
    names = {"circuit": "stations", "together": "slots", "relay": "legs"}
    for b, block in enumerate(plan.blocks):
        if isinstance(block, SetsBlock):
            for g, group in enumerate(block.groups):
                for s, slot in enumerate(group.slots):
                    yield ("blocks", b, "groups", g, "slots", s), slot
        else:
            parts: Sequence[Station | Slot | Leg] = listed(block)
            for s, part in enumerate(parts):
                yield ("blocks", b, names[block.kind], s), part


def segments_of(part: Slot | Leg) -> Iterator[tuple[Place, Segment]]:
    """Every segment of a slot or leg with its path from there."""
    if isinstance(part, Leg):
        yield ("turn",), part.turn
        return
    for r, run in enumerate(part.sets):
        for s, segment in enumerate(run.segments):
            yield ("sets", r, "segments", s), segment


def check(plan: ClassPlan, room: Room, people: list[Person], catalogue: Catalogue) -> list[Problem]:
    """What the document alone cannot know: whether every name it uses exists and fits."""
    found: list[Problem] = []

    document: dict[str, Any] = {}

    def report(path: Place, message: str, right: str) -> None:
        if not document:
            document.update(plan.model_dump())
        found.append(
            Problem(
                path=".".join(str(step) for step in ("plan", *path)),
                place=place_in_words(document, path) if len(path) > 1 else "the plan",
                field=str(path[-1]) if isinstance(path[-1], str) else str(path[-2]),
                message=message,
                right=right,
            )
        )

    def known_exercise(path: Place, exercise: str) -> bool:
        if exercise in catalogue.exercises:
            return True
        near = catalogue.closest_exercises(exercise)
        right = f"perhaps {', '.join(near)}" if near else "an exercise id from the catalogue"
        report(path, f"{exercise!r} is not in the catalogue", right)
        return False

    if plan.room != room.id:
        report(("room",), f"names the room {plan.room!r}", f"the room at hand is {room.id!r}")
    known = {person.id for person in people}
    for index, person in enumerate(plan.people):
        if person not in known:
            report(("people", index), f"nobody has the id {person!r}", "an id from the list of people")
        elif person in plan.people[:index]:
            report(("people", index), f"{person!r} is in the class twice", "each person once")
    for name in ("together", "apart"):
        for index, company in enumerate(getattr(plan, name)):
            for place, person in enumerate(company):
                if person not in plan.people:
                    report((name, index, place), f"nobody in the class has the id {person!r}", "an id from its people")
    for index, one in enumerate(plan.instead):
        known_exercise(("instead", index, "exercise"), one.exercise)
        known_exercise(("instead", index, "other"), one.other)
        for place, person in enumerate(one.people):
            if person not in plan.people:
                right = "an id from its people"
                report(("instead", index, "people", place), f"nobody in the class has the id {person!r}", right)
    for question, school in plan.choices.items():
        asked = catalogue.questions.get(question)
        if asked is None:
            report(("choices", question), "is no question of the catalogue", ", ".join(catalogue.questions))
        elif school not in (schools := [one.id for one in asked.schools]):
            report(("choices", question), f"{school!r} is no school of it", " or ".join(schools))
    for path, part in places(plan):
        if not known_exercise((*path, "exercise"), part.exercise) or isinstance(part, Station):
            continue
        exercise = catalogue.exercises[part.exercise]
        for inside, segment in segments_of(part):
            if segment.metres is not None and exercise.speed_m_per_s is None:
                right = "seconds or repetitions, or an exercise that covers ground"
                report((*path, *inside, "metres"), f"{exercise.name} is not measured in metres", right)
        if isinstance(part, Slot):
            for r, run in enumerate(part.sets):
                if run.rest_doing is not None:
                    known_exercise((*path, "sets", r, "rest_doing"), run.rest_doing)
    return found


def settled(plan: ClassPlan, catalogue: Catalogue) -> ClassPlan:
    """The plan with nothing left to guess: every count of a one-sided exercise says how it is meant."""
    return plan.model_copy(update={"blocks": [_settled_block(block, catalogue) for block in plan.blocks]})


def settled_slot(slot: Slot, catalogue: Catalogue) -> Slot:
    """The slot with the sides of every count said."""
    if not catalogue.exercises[slot.exercise].one_sided:
        return slot
    return slot.model_copy(
        update={
            "sets": [
                run.model_copy(update={"segments": [_with_side(segment) for segment in run.segments]})
                for run in slot.sets
            ]
        }
    )


def _with_side(segment: Segment) -> Segment:
    return segment if segment.sides is not None else segment.model_copy(update={"sides": "each_side"})


def _settled_block(block: Block, catalogue: Catalogue) -> Block:
    match block:
        case TogetherBlock():
            return block.model_copy(update={"slots": [settled_slot(slot, catalogue) for slot in block.slots]})
        case SetsBlock():
            groups = [
                group.model_copy(update={"slots": [settled_slot(slot, catalogue) for slot in group.slots]})
                for group in block.groups
            ]
            return block.model_copy(update={"groups": groups})
        case RelayBlock():
            legs = [
                leg.model_copy(update={"turn": _with_side(leg.turn)})
                if catalogue.exercises[leg.exercise].one_sided
                else leg
                for leg in block.legs
            ]
            return block.model_copy(update={"legs": legs})
        case CircuitBlock():
            return block
