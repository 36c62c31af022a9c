"""The one representation of a set: a list of segments.

Time, volume, tension, oxygen demand and load all read segments and nothing else, so a new scheme is one builder.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field, model_validator

from oaken.prescription.tempo import Tempo

Sides = Literal["both", "each_side", "in_all"]


class Load(BaseModel):
    """How heavy: a share of the person's best (one-repetition maximum), or kilograms for everybody."""

    model_config = ConfigDict(frozen=True, extra="forbid")

    share_of_best: Annotated[float, Field(gt=0, le=1.2)] | None = None
    load_kg: Annotated[float, Field(ge=0, le=600)] | None = None

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


@dataclass(frozen=True, slots=True)
class Segment:
    """One uninterrupted stretch of work within a set, and the pause after it.

    Exactly one of `reps` and `seconds` is given. `sides` is never left to guess: "both" limbs work together,
    "each_side" means the count is done once a side, "in_all" means the count is shared by the two sides.
    """

    reps: int | None
    seconds: float | None
    tempo: Tempo
    sides: Sides = "both"
    change_of_side_s: float = 0.0
    load: Load | None = None
    pause_after_s: float = 0.0

    def __post_init__(self) -> None:
        if (self.reps is None) == (self.seconds is None):
            raise ValueError("a segment is either reps or seconds, exactly one of the two")

    def effort_s(self, pace: float = 1.0) -> float:
        """Seconds under effort, without the change of side; `pace` stretches repetitions, never clocked seconds."""
        times = 2 if self.sides == "each_side" else 1
        if self.seconds is not None:
            return self.seconds * times
        assert self.reps is not None
        return self.reps * self.tempo.rep_s * times * pace

    def duration_s(self, pace: float = 1.0) -> float:
        """Seconds from the first repetition to the last, with the change of side, without the pause after.

        Seconds given "in_all" are the whole of it: the change of side happens within them.
        """
        changes = self.sides == "each_side" or (self.sides == "in_all" and self.reps is not None)
        return self.effort_s(pace) + (self.change_of_side_s if changes else 0.0)

    def total_reps(self) -> int:
        """Repetitions done, both sides counted; in a clocked segment as many as the tempo allows."""
        times = 2 if self.sides == "each_side" else 1
        if self.reps is not None:
            return self.reps * times
        assert self.seconds is not None
        return int(self.seconds // self.tempo.rep_s) * times if self.tempo.rep_s > 0 else 0


WorkSet = tuple[Segment, ...]
"""A set: its segments in the order they are done."""
