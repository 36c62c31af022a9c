"""What is asked of a class that does not exist yet, and how one is composed (choosing.json)."""

from __future__ import annotations

import json
from functools import cache
from typing import Annotated, Literal, get_args

from pydantic import BaseModel, ConfigDict, Field

from oaken.basis.data_files import shipped_text
from oaken.design.goal_seeking import FigureGoal
from oaken.domain.catalogue import Catalogue
from oaken.domain.catalogue.entries import Holds, Tag
from oaken.domain.people import Level
from oaken.domain.people.person import Closed
from oaken.plan import MOST_IN_CLASS, Aim
from oaken.plan.blocks import Name, Reference

Day = Literal["whole", "front", "back"]
ClassFormat = Literal["stations", "partners", "pairs", "tri-sets", "giant sets", "straight sets", "mixed"]
Character = Literal["machines", "free", "varied"]
MANNERS: tuple[ClassFormat, ...] = get_args(ClassFormat)

LEAST_PEOPLE_KNOWN = 0.5
"""A load is said as people know it where at least so many of them do."""


class Lately(Closed):
    """An exercise that these people did, how many whole weeks ago the last time was, and in how many weeks in a row up
    to then (`running`)."""

    exercise: Annotated[str, Field(max_length=60)]
    weeks: Annotated[int, Field(ge=0, le=60)]
    running: Annotated[int, Field(ge=1, le=60)] = 1


class NotInClass(Closed):
    """What is not to be in the class: exercises, movement patterns, kinds of equipment, and tags (what lands hard, what
    loads the spine) by id."""

    exercises: Annotated[tuple[Reference, ...], Field(max_length=300)] = ()
    patterns: Annotated[tuple[Reference, ...], Field(max_length=40)] = ()
    equipment: Annotated[tuple[Reference, ...], Field(max_length=80)] = ()
    tags: Annotated[tuple[Tag, ...], Field(max_length=9)] = ()


class ClassRequest(BaseModel):
    """Who comes, where, when, for how long, what for and how. Without `manner` each class has another; `accents` are
    muscles that are to get more than the day gives them, `pinned` exercises that have to be there, `wanted` figures
    that are to be somewhere, `lately` what these people did in the last weeks, `hard_before` how many days before
    this one a hard class of theirs lies, where it is too near for another. With `sets` groups have so many working
    sets, else as many as are usual for the aim and fit. Another `seed` gives other classes."""

    model_config = ConfigDict(extra="forbid", frozen=True)

    name: Name = "New class"
    room: Reference
    people: Annotated[list[Reference], Field(min_length=1, max_length=MOST_IN_CLASS)]
    slot_min: Annotated[int, Field(ge=5, le=240)] = 45
    starts: Annotated[str, Field(max_length=60, pattern=r"^(?:\S(?:[^\x00-\x1f]*\S)?)?$")] = ""
    aim: Aim = "mixed"
    level: Level = "standard"
    manner: ClassFormat | None = None
    day: Day = "whole"
    accents: Annotated[tuple[Reference, ...], Field(max_length=4)] = ()
    leave_out: NotInClass = NotInClass()
    pinned: Annotated[tuple[Reference, ...], Field(max_length=12)] = ()
    wanted: Annotated[tuple[FigureGoal, ...], Field(max_length=6)] = ()
    lately: Annotated[tuple[Lately, ...], Field(max_length=300)] = ()
    hard_before: Annotated[float, Field(ge=0, le=14)] | None = None
    sets: Annotated[int, Field(ge=1, le=8)] | None = None
    seed: Annotated[int, Field(ge=0, le=1_000_000)] = 7


class _Strict(BaseModel):
    model_config = ConfigDict(extra="forbid", frozen=True)


class DayTarget(_Strict):
    """Shares of tension by muscle that make a day, and what goes before and after it."""

    name: str
    muscles: dict[str, float]
    warm_up: list[str]
    cool_down: list[str]


class Breath(_Strict):
    """Exercises that are there for the breath, and least and most share of the stations by aim."""

    exercises: list[str]
    share: dict[Aim, tuple[float, float]]


class Skill(_Strict):
    """How much an exercise asks of who does it, 1 to 3: by its tags on top of 1, or as the table says."""

    allowed: dict[Level, int]
    tags: dict[Tag, int]
    exercises: dict[str, int]


class StationsRule(_Strict):
    """How many stations, which numbers of rounds are tried in which order, and the rest between two rounds."""

    least: int
    most: int
    rounds: list[int]
    round_rest_s: int


class PartnersRule(_Strict):
    """Stations with two on a place, turn about."""

    change_s: int
    turn_s: int
    work_s: list[int]


class AccessoryDose(_Strict):
    """Repetitions and share of best of what takes load and is no main lift; how the last set of the last of them on a
    machine differs, where people are of standard level at least."""

    reps: int
    share: float
    last: Literal["", "drop", "to_failure"] = ""


class UnloadedDose(_Strict):
    """Repetitions of what takes no load, and seconds of what is held."""

    reps: int
    hold_s: int


class RampDose(_Strict):
    """The lighter set before the work sets of a main lift: by share of best, or by the repetitions that are left."""

    reps: int
    share: float
    reps_left: float


class DoseRule(_Strict):
    """Sets, repetitions, share of best and rest of main lifts at people's own pace, and a pause on each repetition of
    them; what differs for the others; work and change of a station."""

    sets: int
    reps: int
    share: float
    rest_s: int
    work_s: int
    change_s: int
    accessory: AccessoryDose
    unloaded: UnloadedDose
    ramp: RampDose | None = None
    held_s: float = 0.0


class EasyPart(_Strict):
    """Seconds of the easy part of a warm-up or cool-down, and how the rest of it is dosed."""

    easy: list[str] | str
    least_s: int
    usual_s: int
    most_s: int
    drill_s: int = 20
    drill_reps: int = 12
    hold_s: int = 20


class Variant(_Strict):
    """How one of three classes of the same format differs in its dose from what is usual: so much more or less."""

    name: str
    why: str
    sets: int
    reps: int
    share: float
    rest_s: int
    work_s: int


class CharacterRule(_Strict):
    """What a class leans to, by what its equipment holds (less is preferred); `short` is what it is about, empty where
    anything is."""

    name: str
    short: str
    why: str
    prefers: dict[Holds, int]


class Costs(_Strict):
    """What the choice of exercises weighs: a percent of muscles off target, somebody who does another exercise, an
    unknown load, an exercise done this week, last week and so on, one that is hardly main work,
    and by aim one that takes no load; what is below 0 speaks for an exercise."""

    muscle: int
    instead: int
    unknown_load: int
    lately: list[int]
    main_lift_stays: int
    main_lift_weeks: int
    hardly: int
    with_care: int
    chance: int
    breath: int
    staple: int
    unloaded: dict[Aim, int]


class NoCharacter(_Strict):
    """What a class is called where less than a share (`below`) of its exercises is what its character likes."""

    name: str
    why: str
    below: float


class Choosing(_Strict):
    """The data file beside this module."""

    source: str
    days: dict[Day, DayTarget]
    accent: float
    untrained: float
    patterns: dict[str, float]
    breath: Breath
    jumps: dict[Aim, int]
    skill: Skill
    hardly_main: list[str]
    staples: list[str]
    floor_m2: float
    stations: StationsRule
    partners: PartnersRule
    groups: dict[ClassFormat, tuple[int, int]]
    mixed_share: float
    doses: dict[Aim, DoseRule]
    lighter_for_beginners: float
    lighter_after_hard: float
    push_after_hard: float
    reps_left: float
    warm_up: EasyPart
    cool_down: EasyPart
    characters: dict[Character, CharacterRule]
    of_no_character: NoCharacter
    kinds: list[tuple[ClassFormat, Character]]
    variants: list[Variant]
    stretches: dict[str, str]
    costs: Costs
    rest_in_groups: dict[ClassFormat, float]
    on_machines: dict[Aim, float]
    loaded: dict[Aim, float]
    most_shared: float
    most_idle: float
    used: list[float]
    pushes: list[float]


@cache
def choosing() -> Choosing:
    """The checked rules."""
    text = shipped_text("oaken.design.generator", "choosing.json")
    return Choosing.model_validate(json.loads(text))


LONG_AGO_WEEKS = 2
"""From so many weeks without anything for a muscle on, it gets more (common practice, no source)."""


def target_of(class_request: ClassRequest, known: Catalogue) -> dict[str, float]:
    """The share of tension that each muscle is to have, adding up to 1.

    An accent gets more; so does a muscle of the day for which nothing was done for two weeks, where it is known what
    was done.
    """
    rules = choosing()
    recent = {
        muscle
        for item in class_request.lately
        if item.weeks < LONG_AGO_WEEKS and item.exercise in known.exercises
        for muscle in known.exercises[item.exercise].prime
    }
    shares = dict(rules.days[class_request.day].muscles)
    for muscle in class_request.accents:
        shares[muscle] = rules.accent * shares.get(muscle, 0.1)
    for muscle in shares:
        if class_request.lately and muscle not in recent:
            shares[muscle] *= rules.untrained
    total = sum(shares.values())
    return {muscle: share / total for muscle, share in shares.items()}
