"""Which figures a class can be steered by, and what is wanted of one."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Annotated, Literal

import numpy as np
from numpy.typing import NDArray
from pydantic import Field, model_validator

from oaken.basis.estimate import Estimate
from oaken.basis.faults import Fault, FaultyInput, faults_in
from oaken.domain.people import Closed, Level
from oaken.forecast import chance_inside, likely_figures
from oaken.forecast.report import Figures, Forecast, GoalFigure, Tolerance, figures
from oaken.forecast.workload import CarriedOut, carry_out
from oaken.schedule.class_file import ClassFile
from oaken.schedule.timeline import Circumstances, Outlook, blocks_at, lengths

Want = Literal["about", "at_least", "at_most"]

LEVEL_WORDS: dict[Level, str] = {
    "beginner": "beginners",
    "standard": "those of standard level",
    "advanced": "the advanced",
}
"""People of a level as they are spoken of."""


def goal_of(figure: str) -> Tolerance:
    """How near counts as there, of a figure that a class can be steered by."""
    goal = figures()[figure].goal
    assert goal is not None
    return goal


class FigureGoal(Closed):
    """What a figure is to be: about a value, or at least or at most that. Of one person (by id), of everybody of a
    level, or of the class; tension needs its muscle. In the figure's own unit."""

    figure: GoalFigure
    want: Want = "about"
    value: Annotated[float, Field(ge=0, le=1e6, allow_inf_nan=False)]
    person: Annotated[str, Field(max_length=60)] | None = None
    level: Level | None = None
    muscle: Annotated[str, Field(max_length=60)] | None = None

    @model_validator(mode="after")
    def of_one_thing(self) -> FigureGoal:
        if (self.figure == "muscle") != (self.muscle is not None):
            raise ValueError("a muscle is named where the tension of one is meant, and only there")
        if self.person is not None and self.level is not None:
            raise ValueError("a figure is of one person or of a level, not of both")
        return self

    @property
    def near(self) -> float:
        """How far from the value still counts as there."""
        goal = goal_of(self.figure)
        return max(goal.near, goal.near_share * self.value)

    def miss(self, value: float) -> float:
        """How far a value is from what is wanted, in units of the figure; 0 where it is there."""
        return float(self.misses(np.array([value]))[0])

    def misses(self, values: NDArray[np.float64]) -> NDArray[np.float64]:
        """The same of many values."""
        if self.want == "at_least":
            return np.maximum(0.0, self.value - values)
        if self.want == "at_most":
            return np.maximum(0.0, values - self.value)
        return np.maximum(0.0, np.abs(values - self.value) - self.near)

    @property
    def words(self) -> str:
        """What is wanted: “vigorous or more of beginners at most 10 min”, seconds as minutes."""
        known = figures()[self.figure]
        of = f" of {self.person}" if self.person else f" of {LEVEL_WORDS[self.level]}" if self.level else ""
        name = f"tension of {self.muscle}" if self.muscle else known.in_sentence
        said = f"{self.value:g} {known.unit}"
        if known.unit == "s":
            said = f"{round(self.value) // 60}:{round(self.value) % 60:02d} min:s"
        return f"{name}{of} {self.want.replace('_', ' ')} {said}".strip()


@dataclass(frozen=True)
class Seen:
    """A class in its likely figures, computed only as far as it is asked."""

    file: ClassFile

    @cached_property
    def carried(self) -> CarriedOut:
        return carry_out(self.file)

    @cached_property
    def figures(self) -> list[Figures]:
        return likely_figures(self.carried, self.file.participants)

    def length_s(self, outlook: Outlook = Outlook.EXPECTED) -> float:
        """How long the class is in an outlook."""
        file = self.file
        around = Circumstances.of(file.room_today, file.participants, file.catalogue(), file.plan.wishes())
        return lengths(file.plan.blocks, blocks_at(file.plan.blocks, around), outlook).class_s

    def value(self, aimed: FigureGoal) -> float | None:
        """The figure that is aimed at; None where it does not apply to anybody it is about."""
        if aimed.figure == "length":
            return self.length_s()
        if aimed.figure == "longest":
            return self.length_s(Outlook.LONGEST)
        if aimed.figure == "chance_inside":
            low, high = self.length_s(Outlook.SHORTEST), self.length_s(Outlook.LONGEST)
            length = Estimate.between(self.length_s(), low, high, "s", "time.sum")
            return chance_inside(length, self.file.plan.slot_min * 60).value
        chosen = [
            at
            for at, participant in enumerate(self.file.participants)
            if _is_meant(aimed, participant.id, participant.level)
        ]
        if aimed.figure == "muscle":
            done = self.carried.workload.done
            return _mean([done[at].prime_s.get(str(aimed.muscle), 0.0) for at in chosen])
        told: list[Estimate | None] = [getattr(self.figures[at], aimed.figure) for at in chosen]
        return _mean([item.value for item in told if item is not None])


def value_in(predicted: Forecast, aimed: FigureGoal, file: ClassFile) -> float | None:
    """The same figure as the forecast says it."""
    if aimed.figure == "length":
        return predicted.length.value
    if aimed.figure == "longest":
        return predicted.length.high
    if aimed.figure == "chance_inside":
        return predicted.chance_inside.value
    if aimed.figure == "muscle" and aimed.person is None and aimed.level is None:
        return next((muscle.prime_s for muscle in predicted.muscles if muscle.muscle == aimed.muscle), 0.0)
    if aimed.figure == "muscle":
        return Seen(file).value(aimed)
    chosen = [person for person in predicted.people if _is_meant(aimed, person.id, person.level)]
    found: list[Estimate | None] = [getattr(item.figures, aimed.figure) for item in chosen]
    return _mean([item.value for item in found if item is not None])


def _is_meant(aimed: FigureGoal, person: str, level: Level) -> bool:
    return aimed.person in (None, person) and aimed.level in (None, level)


def _mean(values: Sequence[float]) -> float | None:
    return sum(values) / len(values) if values else None


def check_goals(file: ClassFile, wanted: Sequence[FigureGoal]) -> None:
    """Raise FaultyInput where something is aimed at that this class has not got, or that contradicts itself."""
    fault = faults_in("the goal")
    known, people = file.catalogue(), {participant.id for participant in file.participants}
    found = []
    seen = Seen(file)
    for at, item in enumerate(wanted):
        if item.person is not None and item.person not in people:
            found.append(fault(f"wanted.{at}.person", f"{item.person!r} is not in this class", "somebody of the class"))
        elif item.muscle is not None and item.muscle not in known.muscles:
            found.append(
                fault(f"wanted.{at}.muscle", f"{item.muscle!r} is no muscle", ", ".join(sorted(known.muscles)))
            )
        elif seen.value(item) is None:
            message = f"{figures()[item.figure].label} applies to nobody it is about"
            found.append(fault(f"wanted.{at}.figure", message, "a figure that the ledger shows"))
    found += contradictions(wanted)
    if found:
        raise FaultyInput(found)


def contradictions(wanted: Sequence[FigureGoal]) -> list[Fault]:
    """Those that no class could bring about together, as faults."""
    fault = faults_in("the goal")
    return [
        fault(f"wanted.{at}.value", f"“{item.words}” and “{other.words}” cannot both be", "one of them")
        for at, item in enumerate(wanted)
        for other in wanted[at + 1 :]
        if _same(item, other) and _apart(item, other)
    ]


def _same(one: FigureGoal, other: FigureGoal) -> bool:
    return (one.figure, one.person, one.level, one.muscle) == (other.figure, other.person, other.level, other.muscle)


def _apart(one: FigureGoal, other: FigureGoal) -> bool:
    """Whether no value is what both want."""
    values = [one.value - one.near, one.value, one.value + one.near, other.value]
    return not any(one.miss(value) == 0 and other.miss(value) == 0 for value in values)
