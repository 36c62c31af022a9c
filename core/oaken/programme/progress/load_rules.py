"""How a studio raises loads: the progression method, its steps, and what is never gone over."""

from __future__ import annotations

from functools import cache
from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field

from oaken.basis.data_files import shipped_json
from oaken.domain.people import Closed

School = Literal["every-set", "last-set", "repetitions-first", "consolidate", "reserve", "percentage"]


class SchoolInWords(BaseModel):
    """A progression method: its id, its name, and why people follow it."""

    model_config = ConfigDict(frozen=True, extra="forbid")

    id: School
    name: str
    reason: str


class LoadRules(Closed):
    """How a studio raises loads: the method (`school_small` where small lifts have one of their own), the steps of big
    and of small lifts in kg, the repetitions that are meant to be left (`reserve`), and what is never gone over:
    `most_step_share` in one step (unless the unit's own smallest step is larger), `heaviest_kg` altogether."""

    school: School = "every-set"
    school_small: School | None = None
    step_big_kg: Annotated[float, Field(gt=0, le=20)] = 5.0
    step_small_kg: Annotated[float, Field(gt=0, le=10)] = 2.5
    reserve: Annotated[int, Field(ge=0, le=5)] = 2
    most_step_share: Annotated[float, Field(gt=0, le=0.5)] = 0.10
    heaviest_kg: Annotated[float, Field(gt=0, le=900)] | None = None

    def school_of(self, *, big: bool) -> School:
        """The method for lifts of this size."""
        return self.school if big or self.school_small is None else self.school_small


@cache
def schools() -> dict[str, SchoolInWords]:
    """Every progression method by id, from the data file beside this module."""
    raw = shipped_json("oaken.programme.progress", "schools.json")
    return {item["id"]: SchoolInWords.model_validate(item) for item in raw["schools"]}
