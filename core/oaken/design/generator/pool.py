"""What these people could do in this room: every exercise with its places, and who does something kinder instead."""

from __future__ import annotations

from collections import Counter, defaultdict
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from functools import cached_property
from types import MappingProxyType
from typing import NamedTuple

from oaken.design.generator.request import LEAST_PEOPLE_KNOWN, ClassRequest, choosing
from oaken.domain.catalogue import Catalogue, Exercise
from oaken.domain.catalogue.entries import Condition
from oaken.domain.people import Level, Person
from oaken.domain.people.conditions import ASKS_FOR_CARE, asked, kind_to, kinder
from oaken.domain.room import Room
from oaken.schedule.timeline.schedule import NO_EQUIPMENT


class Choice(NamedTuple):
    """An exercise that can be chosen: how many can do it at once, who does which other exercise in its place (by the
    other's id), how many of those who do it have a load that is known, how many do it with an eye on something, and how
    many take an implement of which mass where the room tells them apart. `shared` are those who do the like of it on
    another machine, so that nobody queues."""

    exercise: Exercise
    places: int
    instead: dict[str, tuple[str, ...]]
    known_loads: int
    with_care: int
    masses: dict[float, int]
    shared: Mapping[str, tuple[str, ...]] = MappingProxyType({})

    @property
    def elsewhere(self) -> dict[str, tuple[str, ...]]:
        """Everybody who does another exercise in its place, by the other's id."""
        names = dict.fromkeys((*self.instead, *self.shared))
        return {name: (*self.instead.get(name, ()), *self.shared.get(name, ())) for name in names}

    @property
    def others(self) -> int:
        """How many do something else in its place."""
        return sum(len(people) for people in self.instead.values())


Why = str
"""Why an exercise cannot be chosen: a key of `NOT_CHOSEN`."""

NOT_CHOSEN: dict[Why, str] = {
    "no main work": "are no main work of a class",
    "equipment": "need equipment that does not stand in this room or does not work",
    "left out": "were left out",
    "skill": "ask for more practice than these people have, and nothing easier is at hand",
    "care": "ask for care with somebody, and nothing kinder is at hand",
    "breath": "are there for the breath, which this aim does not ask for",
}


@dataclass
class Pool:
    """The exercises that can be chosen, and why the others cannot."""

    class_request: ClassRequest
    room: Room
    people: Sequence[Person]
    known: Catalogue
    choices: dict[str, Choice] = field(init=False)
    not_chosen: dict[str, Why] = field(init=False)

    def __post_init__(self) -> None:
        self.choices, self.not_chosen = {}, {}
        for exercise in self.known.choosable:
            found = self._choice(exercise)
            if isinstance(found, Choice):
                self.choices[exercise.id] = found
            else:
                self.not_chosen[exercise.id] = found

    @property
    def crowd(self) -> int:
        """How many people come."""
        return len(self.people)

    @cached_property
    def floor_places(self) -> int:
        """How many can work on the floor at once; where nobody has said how large it is, everybody."""
        places = floor_places(self.room, self.known)
        return self.crowd if places is None else places

    def places(self, kind: str) -> int:
        """How many places there are of a kind of equipment, or on the floor."""
        return self.floor_places if kind == NO_EQUIPMENT else len(self.room.working(kind))

    @cached_property
    def places_in_all(self) -> int:
        """How many can do something at once, the floor counted along."""
        return sum(self.places(kind) for kind in {choice.exercise.equipment for choice in self.choices.values()})

    @property
    def overfull(self) -> bool:
        """Whether more come than can do anything at once."""
        return bool(self.choices) and self.places_in_all < self.crowd

    def given_back(self) -> tuple[str, int]:
        """What of all that is left out would give most exercises back, in words, and how many it would."""
        out, best = self.class_request.leave_out, ("", 0)
        for name, ids in out.model_dump().items():
            for each_id in ids:
                less = out.model_copy(update={name: tuple(other for other in ids if other != each_id)})
                pool = Pool(
                    self.class_request.model_copy(update={"leave_out": less}), self.room, self.people, self.known
                )
                more = len(pool.choices) - len(self.choices)
                if more > best[1]:
                    best = each_id.replace("_", " ").replace("-", " "), more
        return best

    def summary(self) -> list[str]:
        """How many exercises fall to each reason: what stands in the way where too few are left."""
        counts = Counter(self.not_chosen.values())
        return [f"{counts[why]} {words}" for why, words in NOT_CHOSEN.items() if counts[why]]

    def _choice(self, exercise: Exercise) -> Choice | Why:
        rules, pinned = choosing(), exercise.id in self.class_request.pinned
        breath = exercise.id in rules.breath.exercises
        if not breath and (
            exercise.nature not in ("resistance", "body_weight") or exercise.pattern not in rules.patterns
        ):
            return "no main work"
        if breath and not pinned and self.class_request.aim in ("strength", "technique"):
            return "breath"
        if exercise.pattern == "jump" and not pinned and not rules.jumps[self.class_request.aim]:
            return "breath"
        if exercise.id in rules.hardly_main and not pinned and self.class_request.level != "beginner":
            return "no main work"
        if self._left_out(exercise):
            return "left out"
        places = self.places(exercise.equipment)
        if not places:
            return "equipment"
        instead: dict[str, list[str]] = defaultdict(list)
        doing = []
        for person in self.people:
            other = self._does(exercise, person.level, tuple(person.careful), pinned)
            if other is None:
                kind = kind_to([person], exercise)
                return "skill" if kind else "care"
            if other == exercise.id:
                doing.append(person)
            else:
                instead[other].append(person.id)
        if not doing:
            return "skill" if kind_to(self.people, exercise) else "care"
        loads = sum(exercise.id in person.bests_kg or exercise.id in person.working_kg for person in doing)
        with_care = sum(
            any(note.who in person.careful for note in exercise.cautions) or self._somewhat(exercise, person)
            for person in doing
        )
        return Choice(
            exercise, places, {name: tuple(ids) for name, ids in instead.items()},
            loads if exercise.takes_load else len(doing), with_care, self._masses(exercise, doing),
        )  # fmt: skip

    def _masses(self, exercise: Exercise, doing: Sequence[Person]) -> dict[float, int]:
        share = choosing().doses[self.class_request.aim].share
        found: Counter[float] = Counter()
        for person in doing if exercise.takes_load else ():
            best = person.bests_kg.get(exercise.id)
            kg = person.working_kg.get(exercise.id, None if best is None else share * best)
            mass = self.room.implement(exercise.equipment, kg)
            if mass is not None:
                found[mass] += 1
        return dict(found)

    def _somewhat(self, exercise: Exercise, person: Person) -> bool:
        met = [asked(condition, exercise) for condition in person.careful]
        return any(item is not None and item.asks == ASKS_FOR_CARE - 1 for item in met)

    def _left_out(self, exercise: Exercise) -> bool:
        out = self.class_request.leave_out
        return (
            exercise.id in out.exercises
            or exercise.pattern in out.patterns
            or exercise.equipment in out.equipment
            or bool(set(exercise.tags) & set(out.tags))
        )

    def _does(self, exercise: Exercise, level: Level, careful: tuple[Condition, ...], pinned: bool) -> str | None:
        """What somebody of this level, with this to be careful about, does where the exercise stands; None: nothing
        known to be kind and easy enough is at hand."""
        key = (exercise.id, level, careful)
        if key not in self._known:
            self._known[key] = self._found(exercise, level, careful, pinned)
        return self._known[key]

    @cached_property
    def _known(self) -> dict[tuple[str, Level, tuple[Condition, ...]], str | None]:
        return {}

    def _found(self, exercise: Exercise, level: Level, careful: tuple[Condition, ...], pinned: bool) -> str | None:
        likes = [next(person for person in self.people if person.level == level and tuple(person.careful) == careful)]
        allowed = choosing().skill.allowed[min(level, self.class_request.level, key=LEVELS.index)]
        kind = kind_to(likes, exercise)
        if kind and (pinned or skill_of(exercise) <= allowed):
            return exercise.id

        def right(other: Exercise) -> bool:
            return (
                skill_of(other) <= allowed
                and other.is_work
                and not self._left_out(other)
                and kind_to(likes, other)
                and self.places(other.equipment) > 0
            )

        if not kind:
            worry = next(
                item for item in careful
                if (told := asked(item, exercise)) is None or told.asks >= ASKS_FOR_CARE
            )  # fmt: skip
            return next((item.id for item in kinder(exercise, worry, likes, self.known) if right(item)), None)
        if LEVELS.index(level) >= LEVELS.index(self.class_request.level):
            # too much for the class as it was wanted: nobody does it
            return None
        easier = [self.known.exercises[name] for name in exercise.easier if name not in self.known.retired]
        return next((item.id for item in easier if right(item)), None)


LEVELS: tuple[Level, ...] = ("beginner", "standard", "advanced")


def skill_of(exercise: Exercise) -> int:
    """How much practice an exercise asks for, 1 to 3."""
    rules = choosing().skill
    told = rules.exercises.get(exercise.id)
    return told if told is not None else min(3, 1 + sum(rules.tags.get(tag, 0) for tag in exercise.tags))


def load_is_known(choice: Choice, crowd: int) -> bool:
    """Whether enough of those who do it know what they lift."""
    return choice.known_loads >= LEAST_PEOPLE_KNOWN * max(1, crowd - choice.others)


def floor_places(room: Room, known: Catalogue) -> int | None:
    """How many can work on the floor of a room at once: units of free floor, else what the machines leave; None where
    nobody has said how large it is (the area for one: common practice, no source)."""
    units = room.working(NO_EQUIPMENT)
    if units:
        return len(units)
    if room.width_m is None or room.depth_m is None:
        return None
    kinds = known.equipment
    taken = sum(
        (unit.width_m or kinds[unit.kind].width_m) * (unit.depth_m or kinds[unit.kind].depth_m)
        for unit in room.units
        if unit.kind in kinds
    )
    return max(1, int((room.width_m * room.depth_m - 1.5 * taken) / choosing().floor_m2))
