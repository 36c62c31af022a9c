"""Reads the data files, checks that they agree with one another, and looks things up."""

from __future__ import annotations

import json
from collections.abc import Iterable, Iterator
from dataclasses import dataclass, field, replace
from difflib import get_close_matches
from functools import cache, cached_property
from importlib.resources import files
from typing import Annotated, Any, Literal, TypeVar

from pydantic import Field, PrivateAttr

from oaken.basis.data_files import shipped_json
from oaken.basis.limits import most
from oaken.domain.catalogue.choices import Question
from oaken.domain.catalogue.entries import (
    Activity,
    Entry,
    EquipmentKind,
    Exercise,
    MuscleMassClass,
    NamedEntry,
    Pattern,
    shipped_again,
    shipped_name,
    spoken_names,
)
from oaken.domain.catalogue.spoken import Spoken, faults_of_the_table

T = TypeVar("T", bound=NamedEntry)


FREE_FLOOR = "none"
"""The equipment kind of what needs no machine."""

MOST_OWN = most("own.entries")
"""Most exercises, and most equipment kinds, that can be added to the catalogue."""


class OwnEntries(Entry):
    """What an instructor has added: exercises and equipment kinds, under the same rules as the shipped ones.

    `retired` are ids of them that are no longer to be chosen: what names them goes on as it was. `replaced` are ids of
    equipment kinds in whose place the shipped kind of that id stands now, because the instructor chose so.
    """

    exercises: Annotated[list[Exercise], Field(max_length=MOST_OWN)] = []
    equipment: Annotated[list[EquipmentKind], Field(max_length=MOST_OWN)] = []
    retired: Annotated[list[str], Field(max_length=2 * MOST_OWN)] = []
    replaced: Annotated[list[str], Field(max_length=2 * MOST_OWN)] = []

    _grown: Catalogue | None = PrivateAttr(default=None)


@dataclass(frozen=True)
class Collision:
    """An own entry whose id or name a shipped one has too: `shipped` is the id under which that one stands beside it,
    `shipped_name` what it is called there."""

    id: str
    kind: Literal["exercise", "equipment"]
    name: str
    by: Literal["id", "name"]
    shipped: str
    shipped_name: str


@dataclass(frozen=True)
class Catalogue:
    """Everything the data files say, by id. `own` are the exercises an instructor has added, `retired` those that are
    no longer proposed or chosen, and likewise for equipment kinds; `collisions` are the own entries whose id or name a
    shipped one has too."""

    exercises: dict[str, Exercise]
    equipment: dict[str, EquipmentKind]
    muscles: dict[str, NamedEntry]
    muscle_mass: dict[str, MuscleMassClass]
    activities: dict[str, Activity]
    patterns: dict[str, Pattern]
    questions: dict[str, Question]
    recovery_met: dict[str, float]
    own: frozenset[str] = field(default_factory=frozenset)
    retired: frozenset[str] = field(default_factory=frozenset)
    own_equipment: frozenset[str] = field(default_factory=frozenset)
    retired_equipment: frozenset[str] = field(default_factory=frozenset)
    collisions: tuple[Collision, ...] = ()

    @cached_property
    def choosable(self) -> list[Exercise]:
        """Every exercise that can be chosen or proposed."""
        return [exercise for exercise in self.exercises.values() if exercise.id not in self.retired]

    @cached_property
    def usual_steps_kg(self) -> dict[str, float]:
        """The usual step of a load on each kind of equipment, by id; 0 where a kind holds none."""
        return {key: kind.step_kg for key, kind in self.equipment.items()}

    @cached_property
    def spoken(self) -> Spoken:
        """What the names of the exercises mean that can be chosen."""
        return Spoken(self.choosable)

    @cached_property
    def spoken_of_all(self) -> Spoken:
        """The same with what is retired: older documents go on naming it."""
        return Spoken(self.exercises.values()) if self.retired else self.spoken

    @cached_property
    def named(self) -> dict[str, list[str]]:
        """The exercises that go by each spoken name, lower case; more than one where they contradict each other."""
        found: dict[str, list[str]] = {}
        for exercise in self.exercises.values():
            for name in set(spoken_names(exercise)):
                found.setdefault(name, []).append(exercise.id)
        return found

    def closest_exercises(self, wanted: str) -> list[str]:
        """Up to three exercise ids that an unknown one may have meant."""
        return self.spoken.meaning(wanted).choices

    def standing_as(self, shipped: str) -> str:
        """The id under which a shipped exercise stands here, given the one under which the shipped tables know it."""
        return shipped_again(shipped) if shipped in self.own and shipped in catalogue().exercises else shipped

    def substitutes(self, exercise: Exercise) -> list[Exercise]:
        """Exercises of the same movement pattern, the most alike first: by prime muscles, sides, load, muscle mass."""
        others = [item for item in self.choosable if item.pattern == exercise.pattern and item != exercise]
        return sorted(
            others,
            key=lambda other: (
                -len(set(other.prime) & set(exercise.prime)),
                other.sides != exercise.sides,
                other.takes_load != exercise.takes_load,
                self.equipment[other.equipment].holds != self.equipment[exercise.equipment].holds,
                other.muscle_mass != exercise.muscle_mass,
                other.name,
            ),
        )

    def faults_of(self, exercise: Exercise) -> list[tuple[str, str, str]]:
        """What an exercise names that the catalogue has not got: field, name, what would be right."""
        found = []
        references: list[tuple[str, str, Iterable[str]]] = [
            ("equipment", exercise.equipment, self.equipment),
            ("muscle_mass", exercise.muscle_mass, self.muscle_mass),
            ("activity", exercise.activity, self.activities),
            ("pattern", exercise.pattern, self.patterns),
            *(("prime", muscle, self.muscles) for muscle in exercise.prime),
            *(("helping", muscle, self.muscles) for muscle in exercise.helping),
            *(("easier", other, self.exercises) for other in exercise.easier),
            *(("harder", other, self.exercises) for other in exercise.harder),
        ]
        for where, name, known in references:
            if name not in known:
                near = get_close_matches(name, known, n=3, cutoff=0.4)
                found.append((where, name, f"perhaps {', '.join(near)}" if near else "an id from the catalogue"))
        for name in spoken_names(exercise):
            others = [other for other in self.named.get(name, ()) if other != exercise.id]
            if others:
                found.append(("name", name, f"a name of its own: {others[0]} has this one"))
        return found

    def with_own(self, own: OwnEntries) -> Catalogue:
        """The catalogue with an instructor's additions, checked once for the same additions.

        Her entries keep their ids and names for ever, whatever is shipped later: a shipped entry of the same id stands
        under an id of its own (`shipped_again`), one of the same name is called by another (`shipped_name`). Raises
        ValueError where an addition contradicts another one or names what there is not.
        """
        if not own.exercises and not own.equipment:
            return self
        if self is catalogue() and own._grown is not None:
            return own._grown
        grown = self._beside(own)
        _refuse_contradictions(grown, [exercise for exercise in grown.exercises.values() if exercise.is_own])
        if self is catalogue():
            own._grown = grown
        return grown

    def _beside(self, own: OwnEntries) -> Catalogue:
        # the rules speak of the free floor by its id: no entry of anybody stands for it
        replaced = (set(own.replaced) | {FREE_FLOOR}) & set(self.equipment) & {item.id for item in own.equipment}
        kinds = _by_id([item for item in own.equipment if item.id not in replaced])
        exercises = _by_id([exercise.as_own() for exercise in own.exercises])
        names = {name for exercise in exercises.values() for name in spoken_names(exercise)}
        kind_names = {kind.name.lower() for kind in kinds.values()}
        moved_kinds = {key: shipped_again(key) for key in kinds if key in self.equipment}
        moved = {key: shipped_again(key) for key in exercises if key in self.exercises}
        grown_kinds = {}
        for key, kind in self.equipment.items():
            name = shipped_name(kind.name) if kind.name.lower() in kind_names else kind.name
            goal = moved_kinds.get(key, key)
            grown_kinds[goal] = kind.model_copy(update={"id": goal, "name": name})
            if key in replaced:
                # both ids mean the shipped kind from the moment the instructor has chosen it
                grown_kinds[shipped_again(key)] = kind.model_copy(update={"id": shipped_again(key)})
        grown_exercises = {
            moved.get(key, key): exercise.beside(moved, moved_kinds, names) for key, exercise in self.exercises.items()
        }
        return replace(
            self,
            exercises={**grown_exercises, **exercises},
            equipment={**grown_kinds, **kinds},
            own=self.own | set(exercises),
            retired=self.retired | (set(own.retired) & set(exercises)),
            own_equipment=self.own_equipment | set(kinds),
            retired_equipment=self.retired_equipment
            | (set(own.retired) & set(kinds))
            | {shipped_again(key) for key in replaced},
            collisions=tuple(_collisions(self, kinds, exercises)),
        )


def with_stand_ins(known: Catalogue, names: Iterable[str]) -> Catalogue:
    """The catalogue with a nameless entry for every id that it has lost, so that documents of before can be told.

    Nothing may be computed with it: a stand-in has the values of another exercise.
    """
    missing = [name for name in names if name not in known.exercises]
    if not missing:
        return known
    like = known.exercises["bodyweight-squat"]
    lost = {
        name: like.model_copy(update={"id": name, "name": f"{name} (no longer in the catalogue)", "aliases": []})
        for name in missing
    }
    return replace(known, exercises={**known.exercises, **lost}, retired=known.retired | set(missing))


def _read(name: str) -> Any:
    return shipped_json("oaken.domain.catalogue", "data", name)


def _exercise_rows() -> list[Any]:
    folder = files("oaken.domain.catalogue").joinpath("data", "exercises")
    rows: list[Any] = []
    for file in sorted(folder.iterdir(), key=lambda item: item.name):
        rows.extend(json.loads(file.read_text(encoding="utf-8"))["exercises"])
    return rows


@cache
def catalogue() -> Catalogue:
    """The shipped catalogue. Raises ValueError when its data files contradict one another."""
    table = _read("activity_table.json")
    loaded = Catalogue(
        exercises=_by_id([Exercise.model_validate(row) for row in _exercise_rows()]),
        equipment=_by_id([EquipmentKind.model_validate(row) for row in _read("equipment.json")["kinds"]]),
        muscles=_by_id([NamedEntry.model_validate(row) for row in _read("muscles.json")["muscles"]]),
        muscle_mass=_by_id([MuscleMassClass.model_validate(row) for row in _read("muscle_mass.json")["classes"]]),
        activities={row["code"]: Activity.model_validate(row) for row in table["activities"]},
        patterns=_by_id([Pattern.model_validate(row) for row in _read("patterns.json")["patterns"]]),
        questions={row["id"]: Question.model_validate(row) for row in _read("choices.json")["questions"]},
        recovery_met=table["recovery_met"],
    )
    _refuse_contradictions(loaded, loaded.exercises.values())
    for name in faults_of_the_table(loaded.exercises):
        raise ValueError(f"spoken.json names the exercise {name!r}, which is not in the catalogue")
    for pattern in loaded.patterns.values():
        for question in pattern.questions:
            if question not in loaded.questions:
                raise ValueError(f"patterns.json, {pattern.id}: there is no question {question!r}")
    return loaded


def _refuse_contradictions(known: Catalogue, exercises: Iterable[Exercise]) -> None:
    for exercise in exercises:
        for where, name, right in known.faults_of(exercise):
            raise ValueError(f"exercise {exercise.id}, {where}: {name!r} does not fit the catalogue ({right})")


def _collisions(
    shipped: Catalogue, kinds: dict[str, EquipmentKind], exercises: dict[str, Exercise]
) -> Iterator[Collision]:
    """Every own entry that shares its id or a name with a shipped one, the first such one of each."""
    by_name = {item.name.lower(): key for key, item in shipped.equipment.items()}
    for key, kind in kinds.items():
        found = key if key in shipped.equipment else by_name.get(kind.name.lower())
        if found is not None:
            by: Literal["id", "name"] = "id" if found == key else "name"
            other = shipped.equipment[found]
            name = shipped_name(other.name) if other.name.lower() == kind.name.lower() else other.name
            yield Collision(key, "equipment", kind.name, by, shipped_again(found) if found == key else found, name)
    for key, exercise in exercises.items():
        called = [other for name in spoken_names(exercise) for other in shipped.named.get(name, ())]
        found = key if key in shipped.exercises else next(iter(called), None)
        if found is not None:
            by = "id" if found == key else "name"
            other_name = shipped.exercises[found].beside({}, {}, set(spoken_names(exercise))).name
            goal = shipped_again(found) if found == key else found
            yield Collision(key, "exercise", exercise.name, by, goal, other_name)


def _by_id(rows: list[T]) -> dict[str, T]:
    found = {row.id: row for row in rows}
    if len(found) != len(rows):
        raise ValueError("an id stands twice")
    return found
