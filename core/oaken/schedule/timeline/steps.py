"""The vocabulary of the time axis: what a person does when, and what the whole class made of it is."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field, replace
from enum import IntEnum

from oaken.domain.catalogue import Exercise
from oaken.domain.people import Person
from oaken.domain.prescription import Load
from oaken.plan import AnyPart
from oaken.schedule.timeline.bouts import Bout, LoadPath

HEAVIEST_LOAD_KG = 600.0
"""As heavy as a plan can say."""


class Doing(IntEnum):
    """What a person does during a step."""

    WORK = 0
    CHANGE = 1  # walking, set-up, load change
    REST = 2
    WAIT = 3  # for a machine that somebody else is using
    FINISHED = 4  # done with the block before the others
    BREATHER = 5  # a turn of a clocked rotation without a station


@dataclass(slots=True)
class Step:
    """A stretch [start_s, end_s) in which one person does one thing.

    `slot` indexes `Timeline.slots` (-1 for none), `unit` the room's units (-1 for the floor), `lane` says which of the
    places of the slot. `bout` is set while working; `opens_set` marks the first bout of a set. `active` is what is
    done in an active rest. Of a change, `set_up_s` and `load_change_s` say how much of it is which; the rest is
    walking.
    """

    start_s: float
    end_s: float
    doing: Doing
    block: int
    slot: int = -1
    unit: int = -1
    lane: int = -1
    round: int = 0
    bout: Bout | None = None
    opens_set: bool = False
    active: Exercise | None = None
    set_up_s: float = 0.0
    load_change_s: float = 0.0

    def moved(self, start_s: float, end_s: float, block: int, slot: int) -> Step:
        """The same at another place of an axis: written out, since a class has thousands of steps."""
        return Step(
            start_s,
            end_s,
            self.doing,
            block,
            slot,
            self.unit,
            self.lane,
            self.round,
            self.bout,
            self.opens_set,
            self.active,
            self.set_up_s,
            self.load_change_s,
        )


@dataclass(frozen=True, slots=True)
class SlotUse:
    """One exercise in one place of the plan, flattened: the index of its block and group, and its own id.

    `stands_for` is -1, or the index among the block's slots of the one that somebody does this in the place of. `part`
    is what is planned there.
    """

    block: int
    group: int
    id: str
    exercise: Exercise
    places: int
    stands_for: int = -1
    part: AnyPart | None = field(default=None, compare=False)


class StepBound:
    """The proven least duration of a rotation: known, or found when somebody asks for it."""

    __slots__ = ("_find", "_known")

    def __init__(self, known: float | Callable[[], float]) -> None:
        self._known: float | None = None if callable(known) else known
        self._find: Callable[[], float] | None = known if callable(known) else None

    @property
    def seconds(self) -> float:
        """The seconds."""
        if self._known is None:
            assert self._find is not None
            self._known, self._find = self._find(), None
        return self._known


@dataclass(frozen=True, slots=True)
class BlockSpan:
    """When a block runs, and what its rotation needed."""

    start_s: float
    end_s: float
    bound: StepBound
    turns: int = 0
    breathers: int = 0

    @property
    def bound_s(self) -> float:
        """The proven least duration of its rotation."""
        return self.bound.seconds


def loads_of(bout: Bout, who: Person, exercise: Exercise) -> LoadPath:
    """What is meant by the load of a bout: where the plan says nothing of it, what this person works with, in that set
    where their sets have loads of their own."""
    path = bout.loads
    working = who.working_load(exercise.id, bout.number) if path.load is None and exercise.takes_load else None
    return path if working is None else replace(path, load=Load(load_kg=min(working, HEAVIEST_LOAD_KG)))


def load_kg(bout: Bout, who: Person, exercise: Exercise) -> float | None:
    """Kilograms this person moves in a bout; None when no load is meant and none is known that they work with, or
    their best is not known."""
    if exercise.takes_load:
        return loads_of(bout, who, exercise).kg(who.bests_kg.get(exercise.id))
    # work of the body's own weight may be done with something in the hands
    return bout.loads.kg(None) if exercise.nature == "body_weight" else None
