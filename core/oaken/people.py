"""The people: who comes, and what the computation has to know of each."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field, model_validator

Sex = Literal["female", "male"]
Level = Literal["beginner", "standard", "advanced"]


class Person(BaseModel):
    """One participant. Measured values win over estimated ones; what is None is estimated.

    `bests_kg` holds the one-repetition maximum by exercise id, tested or estimated. With `heart_medication`
    (beta-blockers and similar) heart-rate targets do not apply and no heart figure of this person is used.
    """

    model_config = ConfigDict(frozen=True, extra="forbid")

    id: Annotated[str, Field(min_length=1, max_length=60)]
    name: Annotated[str, Field(min_length=1, max_length=120)]
    age: Annotated[int, Field(ge=12, le=100)]
    body_mass_kg: Annotated[float, Field(ge=30, le=250)]
    height_cm: Annotated[float, Field(ge=120, le=230)] | None = None
    sex: Sex | None = None
    level: Level = "standard"
    resting_bpm: Annotated[int, Field(ge=30, le=110)] | None = None
    max_bpm: Annotated[int, Field(ge=110, le=230)] | None = None
    vo2max: Annotated[float, Field(ge=12, le=90, description="mL per kg and minute")] | None = None
    heart_medication: bool = False
    bests_kg: dict[str, Annotated[float, Field(gt=0, le=900)]] = {}

    @model_validator(mode="after")
    def rest_below_maximum(self) -> Person:
        if self.resting_bpm is not None and self.max_bpm is not None and self.resting_bpm + 40 > self.max_bpm:
            raise ValueError("max_bpm has to be at least 40 bpm above resting_bpm")
        return self
