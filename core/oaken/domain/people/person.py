"""The people: who comes, and what the computation has to know of each."""

from __future__ import annotations

from datetime import date
from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field, model_validator

from oaken.basis.names import PersonName
from oaken.domain.catalogue.entries import Condition

Sex = Literal["female", "male"]
Level = Literal["beginner", "standard", "advanced"]
MaximumFormula = Literal["tanaka", "gellish", "fox", "nes", "gulati"]

LEAST_RESERVE_BPM = 40
MOST_LIFTS = 300
"""Exercises of which somebody's best is known, at most."""


MOST_SET_LOADS = 60
"""Sets of one exercise that have loads of their own, at most."""

SetLoads = Annotated[tuple[Annotated[float, Field(gt=0, le=900)], ...], Field(min_length=2, max_length=MOST_SET_LOADS)]


class Closed(BaseModel):
    """Never changed once made, and closed to fields nobody knows."""

    model_config = ConfigDict(frozen=True, extra="forbid")


class HeartFit(Closed):
    """What recordings of a person's own heart say of it, fitted against the demand of the paths taken.

    `level_bpm` is the level in class: where the rate settles among people without any demand, well above a true
    resting rate, which it never stands for. `gain` is the answer to a demand compared with the usual one, `rise_s` and
    `fall_s` are time constants.
    `max_bpm` and `vo2max` (mL/kg/min) are the body data it was fitted with: with others it does not hold. `minutes`
    of readings in `classes` classes went in. The errors are of the last class, forecast without having been seen:
    mean error and bias in bpm, and the mean error of the forecast without calibration.
    """

    level_bpm: Annotated[float, Field(ge=30, le=120)]
    gain: Annotated[float, Field(ge=0.4, le=2.0)]
    rise_s: Annotated[float, Field(ge=5, le=300)]
    fall_s: Annotated[float, Field(ge=5, le=600)]
    max_bpm: Annotated[float, Field(ge=100, le=240)]
    vo2max: Annotated[float, Field(ge=5, le=95)]
    minutes: Annotated[float, Field(ge=0)]
    classes: Annotated[int, Field(ge=1)]
    error_bpm: Annotated[float, Field(ge=0)]
    bias_bpm: float
    uncalibrated_error_bpm: Annotated[float, Field(ge=0)]

    @model_validator(mode="before")
    @classmethod
    def called_a_resting_rate_once(cls, written: Any) -> Any:
        """Earlier versions wrote the level in class as `rest_bpm`."""
        if isinstance(written, dict) and "rest_bpm" in written and "level_bpm" not in written:
            written = {"level_bpm" if name == "rest_bpm" else name: value for name, value in written.items()}
        return written


class Screening(Closed):
    """Answers to the usual questions before training, with their date: a record, never a clearance.

    `some_yes` means that at least one answer was yes; `advised` that licensed advice was sought since.
    """

    on: Annotated[date, Field(ge=date(2000, 1, 1), le=date(2100, 1, 1))]
    some_yes: bool
    advised: bool = False


class Person(Closed):
    """One participant. Measured values win over estimated ones; what is None is estimated.

    `bests_kg` holds the one-repetition maximum by exercise id, tested or estimated. `max_formula` is the age formula
    where no maximum was measured. With `heart_medication` (beta-blockers and similar) heart-rate targets do not apply
    and no heart figure of this person is used. `careful` names what to be careful about. `working_kg` is the load they
    work with by exercise id: what they set where a plan says nothing of the load; `working_sets_kg` the same set by
    set where the sets have loads of their own.
    """

    id: Annotated[str, Field(min_length=1, max_length=60)]
    name: PersonName
    age: Annotated[int, Field(ge=12, le=100)]
    body_mass_kg: Annotated[float, Field(ge=30, le=250)]
    height_cm: Annotated[float, Field(ge=120, le=230)] | None = None
    sex: Sex | None = None
    level: Level = "standard"
    resting_bpm: Annotated[int, Field(ge=30, le=110)] | None = None
    max_bpm: Annotated[int, Field(ge=110, le=230)] | None = None
    max_formula: MaximumFormula = "tanaka"
    vo2max: Annotated[float, Field(ge=12, le=90, description="mL per kg and minute")] | None = None
    heart_medication: bool = False
    heart_fit: HeartFit | None = None
    careful: Annotated[tuple[Condition, ...], Field(max_length=9)] = ()
    screening: Screening | None = None
    bests_kg: Annotated[
        dict[Annotated[str, Field(max_length=60)], Annotated[float, Field(gt=0, le=900)]], Field(max_length=MOST_LIFTS)
    ] = {}
    working_kg: Annotated[
        dict[Annotated[str, Field(max_length=60)], Annotated[float, Field(gt=0, le=900)]], Field(max_length=MOST_LIFTS)
    ] = {}
    working_sets_kg: Annotated[dict[Annotated[str, Field(max_length=60)], SetLoads], Field(max_length=MOST_LIFTS)] = {}

    def working_load(self, exercise: str, number: int = 0) -> float | None:
        """The load they work with in an exercise (kg), in the set of this number where its sets differ: behind the
        last of them as in the last. None where none is known."""
        sets = self.working_sets_kg.get(exercise) if number else None
        return sets[min(number, len(sets)) - 1] if sets else self.working_kg.get(exercise)

    @model_validator(mode="after")
    def rest_below_maximum(self) -> Person:
        if (
            self.resting_bpm is not None
            and self.max_bpm is not None
            and self.resting_bpm + LEAST_RESERVE_BPM > self.max_bpm
        ):
            raise ValueError(f"max_bpm has to be at least {LEAST_RESERVE_BPM} bpm above resting_bpm")
        return self

    @model_validator(mode="after")
    def heaviest_set_is_the_working_load(self) -> Person:
        for exercise, sets in self.working_sets_kg.items():
            if abs(max(sets) - self.working_kg.get(exercise, 0.0)) > 1e-6:
                raise ValueError(f"the heaviest of working_sets_kg.{exercise} has to be its working_kg")
        return self
