"""The blocks of a class: four kinds, their slots, stations and legs, and what is done to any part of any kind.

What has to be known of a kind to find, change, move or leave out its parts are methods of it; how it is laid out in
time stands in `oaken.schedule.timeline.kinds`, how it is written in `oaken.plan.notation.kinds`.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator, Sequence
from typing import Annotated, ClassVar, Literal, Self, TypeVar

from pydantic import AfterValidator, BaseModel, ConfigDict, Field, model_validator

from oaken.basis.names import Clean
from oaken.domain.people import Level, Person
from oaken.domain.prescription import Manner, Segment, SetRun, merged

Identifier = Annotated[str, Field(max_length=60, pattern=r"^[A-Za-z0-9._-]*$")]
Name = Annotated[str, Clean, Field(min_length=1, max_length=120, pattern=r"^\S(?:[^\x00-\x1f]*\S)?$")]
Reference = Annotated[str, Field(min_length=1, max_length=60, pattern=r"^[A-Za-z0-9._-]+$")]
ExerciseId = Annotated[str, Field(max_length=60)]
MOST_IN_CLASS = 60
Seconds = Annotated[int, Field(ge=0, le=1800)]
WorkSeconds = Annotated[int, Field(ge=5, le=3600)]
Rounds = Annotated[int, Field(ge=1, le=20)]

Place = tuple[int | str, ...]
"""A path into the plan's document."""

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


BESIDE_THE_MAIN_PART: frozenset[Purpose] = frozenset(
    ("warm_up", "activation", "stretching", "rolling", "talk", "water", "tidy_up", "cool_down")
)
"""Blocks for these purposes are not what the class is about."""


class Part(BaseModel):
    """A part of the plan document; an empty id is filled in from its place."""

    model_config = ConfigDict(extra="forbid")

    id: Identifier = ""


class WithNote(Part):
    """A part with a cue or a note of the instructor, one line."""

    note: Annotated[str, Field(max_length=200, pattern=r'^(?:[^\s"](?:[^\x00-\x1f"]*[^\s"])?)?$')] = ""


def _without_another_if(said: str) -> str:
    if re.search(r"\bif\b", said, re.IGNORECASE):
        raise ValueError("has an “if” of its own: one decision, one condition")
    return said


Asked = Annotated[
    str,
    Clean,
    Field(min_length=1, max_length=80, pattern=r'^[^\s":](?:[^\x00-\x1f":]*[^\s":])?$'),
    AfterValidator(_without_another_if),
]
"""One side of a decision, in words: no quotes, no colon, which stands between the two, and
no other “if”."""

Sets = Annotated[list[SetRun], Field(min_length=1, max_length=40)]


def _written_one_way(sets: list[SetRun]) -> list[SetRun]:
    if sum(run.times for run in sets) > 40:
        raise ValueError("an exercise has at most 40 sets")
    return merged(sets)


class Other(BaseModel):
    """What may stand in a slot's place: another exercise, other sets, or both.

    For whom it is named (people, everybody of a level) do it; without a name it is the choice where the slot's own
    exercise has no unit that works, and the sets of that exercise wherever it is put in the slot's place.
    """

    model_config = ConfigDict(extra="forbid", frozen=True)

    exercise: ExerciseId | None = None
    sets: Annotated[Sets, AfterValidator(_written_one_way)] | None = None
    people: Annotated[list[Reference], Field(max_length=MOST_IN_CLASS)] = []
    level: Level | None = None

    @model_validator(mode="after")
    def says_something_else(self) -> Other:
        if self.exercise is None and self.sets is None:
            raise ValueError("another choice is another exercise, other sets, or both")
        if self.exercise is None and self.for_all:
            raise ValueError("other sets of the same exercise are for somebody: name people or a level")
        return self

    @property
    def for_all(self) -> bool:
        """Whether it names nobody."""
        return not self.people and self.level is None

    def names(self, person: Person) -> bool:
        """Whether this person does it."""
        return person.id in self.people or (self.level is not None and person.level == self.level)


class Branch(BaseModel):
    """What is looked at before or between the sets of an exercise, and what is done where it is so: twelve easy → add a
    plate. It is asked on the floor, of everybody by themselves; the answer is kept with the words of the question."""

    model_config = ConfigDict(extra="forbid", frozen=True)

    when: Asked
    then: Asked


class Slot(WithNote):
    """One exercise and the sets of it, each a list of segments and followed by its rest.

    `others` are what may stand in its place, `decisions` what is asked before and between its sets. With `after_last`
    its sets go with the last rounds of the group instead of the first.
    """

    exercise: ExerciseId
    sets: Annotated[Sets, AfterValidator(_written_one_way)]
    others: Annotated[list[Other], Field(max_length=6)] = []
    decisions: Annotated[list[Branch], Field(max_length=4)] = []
    after_last: bool = False

    @property
    def rounds(self) -> int:
        """How many sets there are."""
        return sum(run.times for run in self.sets)

    @property
    def most_rounds(self) -> int:
        """How many sets there are for whoever does most."""
        return max(self.rounds, *(sum(run.times for run in other.sets or []) for other in self.others), 1)


class Station(WithNote, Manner):
    """A clocked station: one exercise, done for the block's work interval in its own manner.

    The sides of a one-sided exercise share the interval.
    """

    model_config = ConfigDict(extra="forbid", frozen=False)

    exercise: ExerciseId


class Leg(WithNote):
    """One leg of a relay: members take turns of `turn` until the team has done `turns` of them in all."""

    exercise: ExerciseId
    turn: Segment
    turns: Annotated[int, Field(ge=1, le=60)]
    rest_s: Seconds = 0


AnyPart = Slot | Station | Leg
"""What somebody does in a place of a block."""

PartEdit = Callable[[AnyPart], AnyPart | None]
"""A change of one part; None leaves it out."""

Anything = TypeVar("Anything")


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
        return max(slot.most_rounds for slot in self.slots)


class BlockBase(WithNote):
    """What every block has. `purpose` says what it is for; `move_on_s` is the time it takes to get to the next.

    A kind that has its parts in one list names it in `PARTS`; `OWN_PACE` says whether people go through them at their
    own pace, group by group.
    """

    PARTS: ClassVar[str] = ""
    OWN_PACE: ClassVar[bool] = False

    name: Name
    purpose: Purpose | None = None
    move_on_s: Seconds = 30

    @property
    def parts(self) -> list[AnyPart]:
        """Every slot, station or leg, in its order."""
        found: list[AnyPart] = list(getattr(self, self.PARTS))
        return found

    @property
    def groups_of_parts(self) -> list[list[AnyPart]]:
        """The parts as they are done in turn; what is done by itself is a group of one."""
        return [[part] for part in self.parts]

    @property
    def documents(self) -> list[Part]:
        """Everything in the block that has an id of its own, the block first."""
        return [self, *self.parts]

    def placed(self) -> Iterator[tuple[Place, AnyPart]]:
        """Every part with its path from the block."""
        for number, part in enumerate(self.parts):
            yield (self.PARTS, number), part

    def with_parts(self, change: PartEdit) -> Self | None:
        """The block with every part changed; what becomes None is left out, and with the last of them the block."""
        kept = [found for part in self.parts if (found := change(part)) is not None]
        return self.model_copy(update={self.PARTS: kept}) if kept else None

    def moved(self, part: str, to: str, behind: str = "") -> Self:
        """A part (by its id) put first, last or behind another."""
        listed = self.parts
        at, target = (_place_of(listed, name) for name in (part, behind))
        return self if at is None else self.model_copy(update={self.PARTS: in_another_place(listed, at, to, target)})

    def with_ids_of(self, old: BlockBase | None) -> Self:
        """The block with the ids of an older one of its kind, and what the text does not tell of it."""
        left = list(old.parts) if old is not None else []
        return self.model_copy(update={"id": old.id if old else "", self.PARTS: matched(self.parts, left)})

    def milder(self, more_rest: float) -> Self:
        """The block with so many times the rest."""
        return self

    @property
    def told(self) -> object:
        """What was chosen of who goes where; None where nothing was."""
        return None


def _place_of(parts: Sequence[AnyPart], name: str) -> int | None:
    return next((place for place, part in enumerate(parts) if part.id == name), None)


def in_another_place(parts: Sequence[Anything], at: int, to: str, target: int | None) -> list[Anything]:
    """The list with its item `at` first, last, or behind the item `target`."""
    rest = [part for place, part in enumerate(parts) if place != at]
    if to == "first":
        return [parts[at], *rest]
    if to == "last" or target is None:
        return [*rest, parts[at]]
    here = target + (1 if target < at else 0)
    return [*rest[:here], parts[at], *rest[here:]]


def matched(parts: Sequence[AnyPart], left: list[AnyPart]) -> list[AnyPart]:
    """The parts with the ids of those left that have the same exercise, in order; each id is given once."""
    found = []
    for part in parts:
        match = next((item for item in left if item.exercise == part.exercise), None)
        if match is not None:
            left.remove(match)
        found.append(part.model_copy(update={"id": match.id if match else ""}))
    return found


class CircuitBlock(BlockBase):
    """Stations on the clock: everybody works `work_s`, has `change_s` to move on, and goes round `rounds` times.

    `round_rest_s` replaces the change between two rounds; None keeps the change there as everywhere. With
    `turn_s`, two share each place: one works for that long while the other rests, turn about through the interval.
    `circle` says who begins where: the people at each station in turn, then those who begin with a breather; without
    it people take their places in the order of the plan.
    """

    PARTS = "stations"

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

    def with_ids_of(self, old: BlockBase | None) -> Self:
        circle = old.circle if isinstance(old, CircuitBlock) else None
        return super().with_ids_of(old).model_copy(update={"circle": circle})

    def milder(self, more_rest: float) -> Self:
        between = self.change_s if self.round_rest_s is None else self.round_rest_s
        return self.model_copy(update={"round_rest_s": min(1800, max(60, round(between * more_rest)))})

    @property
    def told(self) -> object:
        return self.circle


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
    that are gone are passed over. With `first_come` it is an order of everybody's visits alone, and machines serve
    whoever comes first: so is one that was found while the class ran.
    """

    model_config = ConfigDict(extra="forbid", frozen=True)

    visits: Annotated[
        dict[Reference, Annotated[list[PlannedVisit], Field(max_length=800)]], Field(max_length=2 * MOST_IN_CLASS)
    ]
    first_come: Literal[True] | None = None


class SetsBlock(BlockBase):
    """Groups of exercises that people work through at their own pace.

    `rounds_run` is back and forth on one group until it is done, or one round of every group and then again.
    With `start` spread each person begins with another group, in order everybody begins with the first.
    `sharing` work_in lets others use a machine between somebody's sets; with hold a group takes only as many people
    (or companies that go round together) at a time as it has machines for. `waves` begin `wave_gap_s` apart.
    `log_s` is how long writing a set down takes, within its rest or beyond it, `plates_back_s` how long it takes to
    strip a bar or carriage after the last set at it. `within_s` is how long the block may take; `rotation` is the
    order that was chosen for everybody.
    """

    OWN_PACE = True

    kind: Literal["sets"]
    rounds_run: Literal["back_and_forth", "whole_circuit"] = "back_and_forth"
    start: Literal["spread", "in_order"] = "spread"
    sharing: Literal["work_in", "hold"] = "work_in"
    waves: Annotated[int, Field(ge=1, le=12)] = 1
    wave_gap_s: Seconds = 0
    log_s: Annotated[int, Field(ge=0, le=120)] = 0
    plates_back_s: Annotated[int, Field(ge=0, le=300)] = 0
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

    @property
    def parts(self) -> list[AnyPart]:
        return [slot for group in self.groups for slot in group.slots]

    @property
    def groups_of_parts(self) -> list[list[AnyPart]]:
        return [list(group.slots) for group in self.groups]

    @property
    def documents(self) -> list[Part]:
        return [self, *(slot for group in self.groups for slot in (group, *group.slots))]

    def placed(self) -> Iterator[tuple[Place, AnyPart]]:
        for g, group in enumerate(self.groups):
            for s, slot in enumerate(group.slots):
                yield ("groups", g, "slots", s), slot

    def with_parts(self, change: PartEdit) -> Self | None:
        groups = []
        for group in self.groups:
            slots = [found for slot in group.slots if (found := change(slot)) is not None]
            if slots:
                groups.append(group.model_copy(update={"slots": slots}))
        return self.model_copy(update={"groups": groups}) if groups else None

    def moved(self, part: str, to: str, behind: str = "") -> Self:
        """A part's group as a whole put first, last or behind another part's group."""

        def group_of(name: str) -> int | None:
            return next((g for g, group in enumerate(self.groups) if _place_of(group.slots, name) is not None), None)

        at = group_of(part)
        if at is None:
            return self
        return self.model_copy(update={"groups": in_another_place(self.groups, at, to, group_of(behind))})

    def with_ids_of(self, old: BlockBase | None) -> Self:
        before = old if isinstance(old, SetsBlock) else None
        left = before.parts if before else []
        group_ids = {group.slots[0].id: group.id for group in before.groups} if before else {}
        groups = []
        for group in self.groups:
            slots = matched(group.slots, left)
            groups.append(group.model_copy(update={"id": group_ids.get(slots[0].id, ""), "slots": slots}))
        rotation = before.rotation if before else None
        return self.model_copy(update={"id": old.id if old else "", "groups": groups, "rotation": rotation})

    def milder(self, more_rest: float) -> Self:
        def rested(part: AnyPart) -> AnyPart:
            return with_rest(part, lambda rest: round(rest * more_rest / 5) * 5) if isinstance(part, Slot) else part

        return self.with_parts(rested) or self

    @property
    def told(self) -> object:
        return self.rotation


class TogetherBlock(BlockBase):
    """Everybody does the same at the same time: warm-up, cardio, stretching, talk, water, tidy-up, cool-down."""

    PARTS = "slots"

    kind: Literal["together"]
    slots: Annotated[list[Slot], Field(min_length=1, max_length=40)]


class RelayBlock(BlockBase):
    """Teams in which one works while the others rest, turn about: you go I go with two, tag relay with more.

    `change_s` is the tag: the seconds from one member's end to the next one's start.
    """

    PARTS = "legs"

    kind: Literal["relay"]
    team_size: Annotated[int, Field(ge=2, le=8)] = 2
    change_s: Annotated[int, Field(ge=0, le=60)] = 2
    legs: Annotated[list[Leg], Field(min_length=1, max_length=12)]

    def milder(self, more_rest: float) -> Self:
        legs = [leg.model_copy(update={"rest_s": min(1800, round(leg.rest_s * more_rest))}) for leg in self.legs]
        return self.model_copy(update={"legs": legs})


Block = Annotated[CircuitBlock | SetsBlock | TogetherBlock | RelayBlock, Field(discriminator="kind")]
BLOCK_KINDS: tuple[type[BlockBase], ...] = (CircuitBlock, SetsBlock, TogetherBlock, RelayBlock)


def segments_of(part: Slot | Leg) -> Iterator[tuple[Place, Segment]]:
    """Every segment of a slot or leg with its path from there."""
    if isinstance(part, Leg):
        yield ("turn",), part.turn
        return
    for r, run in enumerate(part.sets):
        for s, segment in enumerate(run.segments):
            yield ("sets", r, "segments", s), segment


def with_runs(slot: Slot, change: Callable[[SetRun], SetRun | None]) -> Slot:
    """The slot with every run of its own sets changed, equal neighbours counted together. What may stand in its place
    has doses of its own and keeps them."""
    runs = [found for run in slot.sets if (found := change(run)) is not None]
    return slot.model_copy(update={"sets": merged(runs)}) if runs else slot


def with_segments(slot: Slot, change: Callable[[Segment], Segment]) -> Slot:
    """The slot with every segment changed."""
    return with_runs(
        slot, lambda run: run.model_copy(update={"segments": [change(segment) for segment in run.segments]})
    )


def with_rest(slot: Slot, change: Callable[[int], int]) -> Slot:
    """Other rests after the sets."""

    def rested(run: SetRun) -> SetRun:
        rest_s = max(0, min(1800, change(run.rest_s)))
        update: dict[str, object] = {"rest_s": rest_s, "rest_doing": run.rest_doing if rest_s else None}
        if run.rest_to_s is not None:
            rest_to_s = max(0, min(1800, change(run.rest_to_s)))
            update["rest_to_s"] = rest_to_s if rest_to_s > rest_s else None
        if not rest_s:
            update["rest_until"] = None
        return run.model_copy(update=update)

    return with_runs(slot, rested)
