"""Reads the data files, checks that they agree with one another, and looks things up."""

from __future__ import annotations

import json
from collections.abc import Container
from dataclasses import dataclass
from difflib import get_close_matches
from functools import cache
from importlib.resources import files
from typing import Any, TypeVar

from oaken.catalogue.entries import Activity, EquipmentKind, Exercise, MuscleMassClass, NamedEntry

T = TypeVar("T", bound=NamedEntry)


@dataclass(frozen=True)
class Catalogue:
    """Everything the data files say, by id."""

    exercises: dict[str, Exercise]
    equipment: dict[str, EquipmentKind]
    muscles: dict[str, NamedEntry]
    muscle_mass: dict[str, MuscleMassClass]
    activities: dict[str, Activity]
    recovery_met: dict[str, float]

    def closest_exercises(self, wanted: str) -> list[str]:
        """Up to three exercise ids that an unknown one may have meant."""
        by_name = {exercise.name.lower(): exercise.id for exercise in self.exercises.values()}
        near = get_close_matches(wanted.lower(), [*self.exercises, *by_name], n=6, cutoff=0.5)
        return list(dict.fromkeys(by_name.get(name, name) for name in near))[:3]


def _read(name: str) -> Any:
    return json.loads(files("oaken.catalogue").joinpath("data", name).read_text(encoding="utf-8"))


@cache
def catalogue() -> Catalogue:
    """The shipped catalogue. Raises ValueError when its data files contradict one another."""
    table = _read("activity_table.json")
    loaded = Catalogue(
        exercises=_by_id([Exercise.model_validate(row) for row in _read("exercises.json")["exercises"]]),
        equipment=_by_id([EquipmentKind.model_validate(row) for row in _read("equipment.json")["kinds"]]),
        muscles=_by_id([NamedEntry.model_validate(row) for row in _read("muscles.json")["muscles"]]),
        muscle_mass=_by_id([MuscleMassClass.model_validate(row) for row in _read("muscle_mass.json")["classes"]]),
        activities={row["code"]: Activity.model_validate(row) for row in table["activities"]},
        recovery_met=table["recovery_met"],
    )
    for exercise in loaded.exercises.values():
        references: list[tuple[str, Container[str]]] = [
            (exercise.equipment, loaded.equipment),
            (exercise.muscle_mass, loaded.muscle_mass),
            (exercise.activity, loaded.activities),
            *((muscle, loaded.muscles) for muscle in [*exercise.prime, *exercise.helping]),
        ]
        for name, known in references:
            if name not in known:
                raise ValueError(f"exercises.json, {exercise.id}: {name!r} is not in the catalogue")
    return loaded


def _by_id(rows: list[T]) -> dict[str, T]:
    found = {row.id: row for row in rows}
    if len(found) != len(rows):
        raise ValueError("an id stands twice in a data file of the catalogue")
    return found
