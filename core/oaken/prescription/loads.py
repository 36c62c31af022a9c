"""How heavy: a load, and how it changes from one segment or set to the next."""

from __future__ import annotations

from typing import Annotated

from pydantic import AfterValidator, BaseModel, ConfigDict, Field, model_validator


def _to(digits: int) -> AfterValidator:
    """No more digits than can be written in a line."""
    return AfterValidator(lambda value: round(value, digits))


class Load(BaseModel):
    """How heavy: a share of the person's best (one-repetition maximum), or kilograms for everybody."""

    model_config = ConfigDict(frozen=True, extra="forbid")

    share_of_best: Annotated[float, Field(gt=0, le=1.2), _to(4)] | None = None
    load_kg: Annotated[float, Field(ge=0, le=600), _to(2)] | None = None

    @model_validator(mode="after")
    def one_way(self) -> Load:
        if (self.share_of_best is None) == (self.load_kg is None):
            raise ValueError("a load is either share_of_best or load_kg, exactly one of the two")
        return self

    def kg(self, best_kg: float | None) -> float | None:
        """Kilograms for a person with this best; None when the best is needed and not known."""
        if self.load_kg is not None:
            return self.load_kg
        assert self.share_of_best is not None
        return None if best_kg is None else self.share_of_best * best_kg

    def share(self, best_kg: float | None) -> float | None:
        """Share of the person's best; None when the best is needed and not known."""
        if self.share_of_best is not None:
            return self.share_of_best
        assert self.load_kg is not None
        return self.load_kg / best_kg if best_kg else None


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
