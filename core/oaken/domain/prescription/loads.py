"""How heavy: a load, and how it changes from one segment or set to the next."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import AfterValidator, BaseModel, ConfigDict, Field, model_validator


def _to(digits: int) -> AfterValidator:
    """No more digits than can be written in a line."""
    return AfterValidator(lambda value: round(value, digits))


class Effort(BaseModel):
    """How hard it shall be: on the scale from 6 to 20, or on the one to 10 (`of`)."""

    model_config = ConfigDict(frozen=True, extra="forbid")

    value: Annotated[float, Field(ge=1, le=20), _to(1)]
    of: Literal[10, 20] = 10

    @model_validator(mode="after")
    def on_its_scale(self) -> Effort:
        if (self.of == 10 and self.value > 10) or (self.of == 20 and self.value < 6):
            raise ValueError("effort is 1 to 10 on the scale of 10, or 6 to 20 on the scale of 20")
        return self


class Load(BaseModel):
    """How heavy: a share of the person's best (one-repetition maximum), kilograms for everybody, or how hard it shall
    be.

    `a_side_kg` are plates on each side of what the unit's bar or carriage weighs. `reps_left` is how many repetitions
    more could be done at the end of the set, `rep_max` the load with which this many end in failure; with `effort`
    kilograms follow from the person's best and the repetitions of the set.
    """

    model_config = ConfigDict(frozen=True, extra="forbid")

    share_of_best: Annotated[float, Field(gt=0, le=1.2), _to(4)] | None = None
    load_kg: Annotated[float, Field(ge=0, le=600), _to(2)] | None = None
    a_side_kg: Annotated[float, Field(ge=0, le=300), _to(2)] | None = None
    reps_left: Annotated[float, Field(ge=0, le=10), _to(1)] | None = None
    rep_max: Annotated[int, Field(ge=1, le=30)] | None = None
    effort: Effort | None = None

    @model_validator(mode="after")
    def one_way(self) -> Load:
        if sum(getattr(self, name) is not None for name in Load.model_fields) != 1:
            raise ValueError("a load is said in one way: one of " + ", ".join(Load.model_fields))
        return self

    @property
    def way(self) -> str:
        """The name of the field in which it is said."""
        return next(name for name in Load.model_fields if getattr(self, name) is not None)

    @property
    def by_effort(self) -> bool:
        """Whether it says how hard, and kilograms only follow."""
        return self.way in ("reps_left", "rep_max", "effort")

    def kg(self, best_kg: float | None) -> float | None:
        """Kilograms for a person with this best; None when the best is needed and not known.

        A load by effort has to be turned into a share first, and plates a side into kilograms of the unit.
        """
        if self.load_kg is not None:
            return self.load_kg
        if self.a_side_kg is not None:
            return 2 * self.a_side_kg
        assert self.share_of_best is not None
        return None if best_kg is None else self.share_of_best * best_kg

    def share(self, best_kg: float | None) -> float | None:
        """Share of the person's best; None when the best is needed and not known."""
        if self.share_of_best is not None:
            return self.share_of_best
        kg = self.kg(best_kg)
        return kg / best_kg if best_kg and kg is not None else None


class LoadChange(BaseModel):
    """A step up or down from the load before: in percent of it, in machine steps, or in kilograms.

    In the first segment of a set it is relative to the first segment of the set before, later in a set to the
    segment before. A drop of 20 % is `percent=-20`.
    """

    model_config = ConfigDict(frozen=True, extra="forbid")

    percent: Annotated[float, Field(ge=-90, le=100), _to(2)] | None = None
    steps: Annotated[int, Field(ge=-20, le=20)] | None = None
    kg: Annotated[float, Field(ge=-200, le=200), _to(2)] | None = None

    @model_validator(mode="after")
    def one_way(self) -> LoadChange:
        given = [value for value in (self.percent, self.steps, self.kg) if value is not None]
        if len(given) != 1 or given[0] == 0:
            raise ValueError("a change of load is one of percent, steps and kg, and not zero")
        return self

    @property
    def lighter(self) -> bool:
        """Whether it takes load off."""
        return (self.percent or self.steps or self.kg or 0) < 0
