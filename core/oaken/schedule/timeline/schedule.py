"""What every kind of block is laid out from and written to: circumstances, uses, and the schedule under way."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from hashlib import sha256

from oaken.domain.catalogue import Catalogue, Exercise
from oaken.domain.people import Person
from oaken.domain.room import Room
from oaken.plan import AnyPart, Block, Slot, Wishes
from oaken.plan.changes import refit
from oaken.schedule.timeline.bouts import Outlook
from oaken.schedule.timeline.steps import SlotUse, Step


@dataclass(frozen=True)
class Circumstances:
    """Everything a block is laid out in but the block itself; two are the same when their keys are."""

    key: str
    room: Room = field(compare=False)
    people: list[Person] = field(compare=False)
    catalogue: Catalogue = field(compare=False)
    wishes: Wishes = field(compare=False)

    @classmethod
    def of(cls, room: Room, people: list[Person], catalogue: Catalogue, wishes: Wishes | None = None) -> Circumstances:
        """Circumstances with a key of everything that a layout or a demand reads."""
        wishes = wishes or Wishes.none(len(people))
        parts = [
            room.model_dump_json(),
            *(person.model_dump_json() for person in people),
            repr(replace(wishes, newcomers=frozenset())),
            *sorted(wishes.newcomers),
        ]
        parts += [catalogue.exercises[name].model_dump_json() for name in sorted(catalogue.own)]
        parts += [catalogue.equipment[name].model_dump_json() for name in sorted(catalogue.own_equipment)]
        return cls(sha256("\n".join(parts).encode()).hexdigest(), room, people, catalogue, wishes)

    def wishing(self, wishes: Wishes) -> Circumstances:
        """The same with other wishes."""
        return Circumstances.of(self.room, self.people, self.catalogue, wishes)


@dataclass(frozen=True, slots=True)
class Use:
    """A part of the block, or what somebody does in its place: `stands_for` is then the index of that part's use."""

    group: int
    part: AnyPart
    exercise: Exercise
    stands_for: int


def uses_of(block: Block, around: Circumstances) -> list[Use]:
    """Every part of the block in its order, then every exercise that somebody does in the place of one."""
    known = around.catalogue.exercises
    found = [
        Use(group if block.OWN_PACE else -1, part, known[part.exercise], -1)
        for group, parts in enumerate(block.groups_of_parts)
        for part in parts
    ]
    for index, use in enumerate(list(found)):
        if not _varies(use.part, around):
            continue
        others: list[AnyPart] = []
        for person in around.people:
            own = own_part(use.part, person, around)
            if own is not use.part and own not in others:
                others.append(own)
        found += [Use(use.group, other, known[other.exercise], index) for other in others]
    return found


def _varies(part: AnyPart, around: Circumstances) -> bool:
    return bool(around.wishes.instead) or bool(isinstance(part, Slot) and part.others)


def own_part(part: AnyPart, person: Person, around: Circumstances) -> AnyPart:
    """What a person does in the place of a part: what is meant for them or their level, what they do instead of its
    exercise, the other choice where its machine is not to be had, or the part itself."""
    known = around.catalogue.exercises
    others = part.others if isinstance(part, Slot) else []
    mine = next((other for other in others if other.names(person)), None)
    if mine is not None:
        assert isinstance(part, Slot)
        here = part if mine.exercise in (None, part.exercise) else refit(part, known[mine.exercise])
        return here.model_copy(update={"others": [], **({} if mine.sets is None else {"sets": mine.sets})})
    does = around.wishes.does(part.exercise, person)
    if does == part.exercise and not _at_hand(does, around):
        names = [other.exercise for other in others if other.for_all and other.exercise]
        does = next((name for name in names if _at_hand(name, around)), does)
    if does == part.exercise:
        return part
    own = refit(part, known[does])
    return own.model_copy(update={"others": []}) if isinstance(own, Slot) else own


def _at_hand(exercise: str, around: Circumstances) -> bool:
    kind = around.catalogue.exercises[exercise].equipment
    return kind == NO_EQUIPMENT or bool(around.room.working(kind))


NO_EQUIPMENT = "none"
"""The kind of what needs nothing but the floor."""


@dataclass(slots=True)
class Schedule:
    """A block as it is laid out: what that is built from, the slots entered so far, and everybody's steps so far."""

    around: Circumstances
    outlook: Outlook
    slots: list[SlotUse] = field(default_factory=list)
    paths: list[list[Step]] = field(default_factory=list)

    @property
    def room(self) -> Room:
        """Where it is."""
        return self.around.room

    @property
    def people(self) -> list[Person]:
        """Who takes part."""
        return self.around.people

    @property
    def catalogue(self) -> Catalogue:
        """What can be done."""
        return self.around.catalogue

    def enter(self, block: Block, places: Sequence[int] | None = None) -> list[Use]:
        """Enter every use of the block as a slot of the timeline; `places` are those of its parts, where the block
        knows them better than the room does."""
        uses = uses_of(block, self.around)
        for index, use in enumerate(uses):
            count = places[index] if places is not None and index < len(places) else self.places(use.exercise)
            self.slots.append(SlotUse(0, use.group, use.part.id, use.exercise, count, use.stands_for, use.part))
        return uses

    def places(self, exercise: Exercise) -> int:
        """How many places the room has for an exercise."""
        return len(self.room.working(exercise.equipment))


def own_use(uses: list[Use], index: int, person: Person, around: Circumstances) -> int:
    """The use that a person has in the place of part `index`: the part's own, or what stands for it."""
    part = uses[index].part
    if not _varies(part, around):
        return index
    own = own_part(part, person, around)
    if own is part:
        return index
    return next(place for place, use in enumerate(uses) if use.stands_for == index and use.part == own)
