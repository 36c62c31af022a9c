"""Makes a first class by stated rules: warm-up, a main block in the manner that is wanted, cool-down.

Stations and groups are taken from a menu in its order, from what the room has, until nobody has to stand by; then as
many rounds or sets as the slot holds. Common practice, no source.
"""

from __future__ import annotations

import json
from collections.abc import Iterator, Sequence
from functools import cache
from typing import Annotated, Literal, get_args

from pydantic import BaseModel, ConfigDict, Field

from oaken.basis.data_files import shipped_text
from oaken.domain.catalogue import Catalogue, Exercise
from oaken.domain.people import Person
from oaken.domain.prescription import Load, Segment, SetRun
from oaken.domain.room import Room
from oaken.plan import (
    MOST_IN_CLASS,
    Aim,
    Block,
    CircuitBlock,
    ClassPlan,
    Group,
    Repeats,
    SetsBlock,
    Slot,
    Station,
    TogetherBlock,
    settled,
)
from oaken.plan.blocks import Name, Reference
from oaken.plan.changes import SetScheme
from oaken.schedule.timeline import Circumstances, Outlook, blocks_at, lengths
from oaken.schedule.timeline.circuit import rotation_of
from oaken.schedule.timeline.in_slots import own_seconds

Manner = Literal["stations", "partners", "pairs", "straight sets"]
MANNERS: tuple[str, ...] = get_args(Manner)

LEAST_STATIONS, MOST_STATIONS, MOST_ROUNDS, MOST_GROUPS, MOST_SETS = 4, 12, 6, 10, 5
PARTNERS = (60, 20, 15)
"""Work, change and turn of partner stations (s)."""

BEGINNERS_SHARE = 0.1
"""So much lighter, as a share of best, where at least half are beginners (common practice, no source)."""

PLENTY = 3
"""So many places are as good as more."""

WAIT_WEIGHT = 3.0
"""A second that people stand waiting counts as much as so many that the class is shorter than its slot."""


class Wanted(BaseModel):
    """Who comes, where, when, how long, what for, and in which manner. `parts` are the roles of the menu that are
    wanted (empty: all of them); loads are a share of best, or left to what people work with. `scheme` are sets and
    repetitions where they are settled already."""

    model_config = ConfigDict(extra="forbid", frozen=True)

    name: Name = "New class"
    room: Reference
    people: Annotated[list[Reference], Field(min_length=1, max_length=MOST_IN_CLASS)]
    slot_min: Annotated[int, Field(ge=15, le=240)] = 45
    starts: Annotated[str, Field(max_length=60, pattern=r"^(?:\S(?:[^\x00-\x1f]*\S)?)?$")] = ""
    repeats: Repeats | None = None
    aim: Aim = "mixed"
    manner: Manner = "stations"
    parts: Annotated[tuple[str, ...], Field(max_length=20)] = ()
    loads: Literal["share", "working"] = "share"
    scheme: SetScheme | None = None


class _Role(BaseModel):
    role: str
    exercises: list[str]


class _Dose(BaseModel):
    sets: int
    reps: int
    reps_to: int | None
    share: float
    rest_s: int
    work_s: int
    change_s: int


class _Menu(BaseModel):
    source: str
    roles: list[_Role]
    pairs: list[tuple[str, str]]
    doses: dict[Aim, _Dose]


@cache
def _menu() -> _Menu:
    text = shipped_text("oaken.design.first_class", "menu.json")
    return _Menu.model_validate(json.loads(text))


def first_class(wanted: Wanted, room: Room, people: Sequence[Person], catalogue: Catalogue) -> ClassPlan:
    """The class; `people` are those it names, in its order."""
    maker = _Maker(wanted, room, people, catalogue)
    around = Circumstances.of(room, list(people), catalogue)
    best: tuple[float, ClassPlan] | None = None
    # where even the shortest block is too long for its slot, stations are what can be cut to any length
    for main in [*maker.mains()] or [*maker.stations(partners=False)]:
        plan = maker.plan(main)
        told = lengths(plan.blocks, blocks_at(plan.blocks, around), Outlook.EXPECTED)
        spare_s = wanted.slot_min * 60 - told.class_s
        waiting_s = sum(told.waits_s) / len(people)
        if isinstance(main, CircuitBlock):
            rotation, _ = rotation_of(main, around)
            waiting_s += told.blocks_s[1] * rotation.breathers / rotation.turns
        cost = WAIT_WEIGHT * waiting_s + (spare_s if spare_s >= 0 else 100 * -spare_s)
        if best is None or cost < best[0]:
            best = cost, plan
    assert best is not None
    return settled(best[1], catalogue)


def empty_class(wanted: Wanted) -> ClassPlan:
    """A class of nothing but what is wanted: who, where, how long."""
    return ClassPlan(
        name=wanted.name,
        slot_min=wanted.slot_min,
        starts=wanted.starts,
        repeats=wanted.repeats,
        aim=wanted.aim,
        room=wanted.room,
        people=wanted.people,
        blocks=[TogetherBlock(kind="together", name="Talk", purpose="talk", slots=[_timed("talk", 60)])],
    )


class _Maker:
    def __init__(self, wanted: Wanted, room: Room, people: Sequence[Person], catalogue: Catalogue) -> None:
        self.wanted, self.room, self.catalogue = wanted, room, catalogue
        self.crowd = len(people)
        self.dose = _menu().doses[wanted.aim]
        if wanted.scheme is not None:
            told = wanted.scheme.model_dump(include={"sets", "reps", "reps_to", "rest_s"})
            self.dose = self.dose.model_copy(update={name: value for name, value in told.items() if value is not None})
        beginners = sum(person.level == "beginner" for person in people)
        self.share = round(self.dose.share - (BEGINNERS_SHARE if 2 * beginners >= self.crowd else 0), 2)

    def places(self, exercise: Exercise) -> int:
        """How many can do it at once; the floor holds everybody."""
        return self.crowd if exercise.equipment == "none" else len(self.room.working(exercise.equipment))

    def chosen(self) -> Iterator[tuple[str, Exercise]]:
        """The first exercise of every role that the room has, no unit taken twice; then the next ones."""
        taken: set[str] = set()
        roles = {role.role: list(role.exercises) for role in _menu().roles}
        left = {role: roles[role] for role in self.wanted.parts or roles if role in roles}
        while any(left.values()):
            for role, names in left.items():
                while names:
                    exercise = self.catalogue.exercises[names.pop(0)]
                    floor = exercise.equipment == "none"
                    if self.places(exercise) and (floor or exercise.equipment not in taken):
                        taken.add(exercise.equipment)
                        yield role, exercise
                        break

    def mains(self) -> Iterator[Block]:
        """Every main block that is tried."""
        if self.wanted.manner in ("stations", "partners"):
            yield from self.stations(partners=self.wanted.manner == "partners")
        else:
            yield from self._sets(pairs=self.wanted.manner == "pairs")

    def stations(self, *, partners: bool) -> Iterator[Block]:
        """Stations on the clock, from the fewest that hold everybody on."""
        work_s, change_s = (PARTNERS[0], PARTNERS[1]) if partners else (self.dose.work_s, self.dose.change_s)
        exercises = [exercise for _, exercise in self.chosen()][:MOST_STATIONS]
        each = 2 if partners else 1
        enough = [
            count
            for count in range(min(LEAST_STATIONS, len(exercises)), len(exercises) + 1)
            if each * sum(self.places(exercise) for exercise in exercises[:count]) >= self.crowd and each * count >= 2
        ]
        for count in enough or [len(exercises)]:
            stations = [
                Station(exercise=each_exercise.id, load=self._load(each_exercise))
                for each_exercise in exercises[:count]
            ]
            for rounds in range(1, MOST_ROUNDS + 1):
                yield CircuitBlock(
                    kind="circuit",
                    name="Partner stations" if partners else "Stations",
                    purpose="conditioning" if self.wanted.aim == "conditioning" else "strength",
                    work_s=work_s,
                    change_s=change_s,
                    rounds=rounds,
                    round_rest_s=None if rounds == 1 else 60,
                    turn_s=PARTNERS[2] if partners else None,
                    move_on_s=60,
                    stations=[station.model_copy() for station in stations],
                )

    def _sets(self, *, pairs: bool) -> Iterator[Block]:
        by_role: dict[str, list[Exercise]] = {}
        for role, exercise in self.chosen():
            by_role.setdefault(role, []).append(exercise)
        if pairs:
            wanted = self.wanted.parts
            pairings = list(zip(wanted[::2], wanted[1::2], strict=False)) if wanted else _menu().pairs
            wishes = [
                [by_role[role].pop(0) for role in pair]
                for _ in range(2)
                for pair in pairings
                if all(by_role.get(role) for role in pair)
            ]
        else:
            wishes = [[item] for of in (0, 1) for listed in by_role.values() for item in listed[of : of + 1]]
        # where many can work at once comes first: the more of it, the fewer stand waiting
        wishes.sort(key=lambda group: -min(PLENTY, *(self.places(item) for item in group)))
        for count in range(1, min(MOST_GROUPS, len(wishes)) + 1):
            settled_sets = self.wanted.scheme is not None and self.wanted.scheme.sets
            for sets in [self.dose.sets] if settled_sets else range(2, MOST_SETS + 1):
                block = SetsBlock(
                    kind="sets",
                    name="Pairs" if pairs else "Sets",
                    purpose="strength",
                    move_on_s=60,
                    groups=[
                        Group(slots=[self._slot(item, sets, last=item is group[-1]) for item in group])
                        for group in wishes[:count]
                    ],
                )
                if own_seconds(block, self.catalogue) > self.wanted.slot_min * 60:
                    break
                yield block

    def _slot(self, exercise: Exercise, sets: int, *, last: bool) -> Slot:
        if exercise.is_static or exercise.nature == "rhythmic":
            segment = Segment(seconds=60 if exercise.nature == "rhythmic" else 30)
        else:
            segment = Segment(reps=self.dose.reps, reps_to=self.dose.reps_to, load=self._load(exercise))
        return Slot(
            exercise=exercise.id, sets=[SetRun(times=sets, segments=[segment], rest_s=self.dose.rest_s if last else 0)]
        )

    def _load(self, exercise: Exercise) -> Load | None:
        by_share = exercise.takes_load and self.wanted.loads == "share"
        return Load(share_of_best=self.share) if by_share else None

    def plan(self, main: Block) -> ClassPlan:
        """The whole class with this main block."""
        mats = len(self.room.working("mat")) >= self.crowd
        bikes = len(self.room.working("bike")) >= self.crowd
        short = self.wanted.slot_min < 30
        warm = [_timed("bike-easy" if bikes else "marching", 180 if short else 300), _timed("leg-swings", 20, True)]
        if not short:
            warm.append(Slot(exercise="bodyweight-squat", sets=[SetRun(segments=[Segment(reps=12)])]))
        if mats and not short:
            warm.append(Slot(exercise="glute-bridge", sets=[SetRun(segments=[Segment(reps=12, held_s=1)])]))
        cool = [_timed("easy-walk", 60 if short else 120), _timed("quadriceps-stretch", 20, True)]
        cool.append(_timed("calf-stretch", 20, True))
        if mats and not short:
            cool += [_timed("hamstring-stretch", 20, True), _timed("glute-stretch", 20, True)]
        blocks: list[Block] = [
            TogetherBlock(kind="together", name="Warm-up", purpose="warm_up", move_on_s=45, slots=warm),
            main,
            TogetherBlock(kind="together", name="Cool-down", purpose="cool_down", move_on_s=0, slots=cool),
        ]
        empty = empty_class(self.wanted).model_dump(exclude={"blocks"})
        return ClassPlan.model_validate({**empty, "blocks": [block.model_dump() for block in blocks]})


def _timed(exercise: str, seconds: int, each_side: bool = False) -> Slot:
    segment = Segment(seconds=seconds, sides="each_side" if each_side else None)
    return Slot(exercise=exercise, sets=[SetRun(segments=[segment])])
