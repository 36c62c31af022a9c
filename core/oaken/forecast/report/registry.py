"""The registry of figures: each is declared once, and every table, list and screen takes its name and unit from it."""

from __future__ import annotations

from functools import cache
from typing import Annotated, Literal

from pydantic import AfterValidator, BaseModel, ConfigDict, WithJsonSchema

from oaken.basis.data_files import shipped_json


class _Declared(BaseModel):
    model_config = ConfigDict(extra="forbid", frozen=True)


class Tolerance(_Declared):
    """How near to a wanted value a figure counts as there: in its own unit, or as a share of that value."""

    near: float = 0.0
    near_share: float = 0.0


class Figure(_Declared):
    """A figure: what it is called, its unit and the digits behind the point; of the class, of a person or of a muscle.

    `about_bodies` ones are for instructors only; those that rest on somebody's heart are None where heart rates do not
    apply. `goal` is set where a class can be steered by it, `week` where weeks add it up. `compared` ones stand as
    planned beside actual after a class, where earlier releases kept them as `kept_as`.
    """

    id: str
    label: str
    unit: str
    digits: int = 0
    of: Literal["class", "person", "muscle"] = "person"
    about_bodies: bool = False
    rests_on_heart: bool = False
    goal: Tolerance | None = None
    week: Literal["sum", "mean"] | None = None
    compared: bool = False
    kept_as: str = ""

    @property
    def in_sentence(self) -> str:
        """The label inside a sentence: “vigorous or more”, but “TRIMP”."""
        return self.label if self.label[:2].isupper() else self.label[0].lower() + self.label[1:]


@cache
def figures() -> dict[str, Figure]:
    """Every figure by id, in the order in which they are read."""
    rows = shipped_json("oaken.forecast.report", "figures.json")["figures"]
    return {row["id"]: Figure.model_validate(row) for row in rows}


def figures_of_people() -> list[Figure]:
    """The figures that each person has."""
    return [figure for figure in figures().values() if figure.of == "person"]


HEART_FIGURES: tuple[str, ...] = tuple(figure.id for figure in figures().values() if figure.rests_on_heart)
"""Figures that rest on a person's heart: None where heart rates do not apply."""

GOALS: tuple[str, ...] = tuple(figure.id for figure in figures().values() if figure.goal is not None)
"""The ids of the figures that a class can be steered by."""


def _is_goal(name: str) -> str:
    if name not in GOALS:
        raise ValueError(f"should be one of {', '.join(GOALS)}")
    return name


GoalFigure = Annotated[str, AfterValidator(_is_goal), WithJsonSchema({"type": "string", "enum": list(GOALS)})]
"""The id of a figure that a class can be steered by."""
