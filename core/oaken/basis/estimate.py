"""A figure that knows its likely range, its unit and how it was reached."""

from __future__ import annotations

from dataclasses import dataclass, field
from functools import cache
from typing import Literal

from pydantic import BaseModel, ConfigDict

from oaken.basis.data_files import shipped_json


@dataclass(slots=True)
class Estimate:
    """A value with its likely range. Made by the hundred in every forecast, so it is a plain dataclass.

    `low` and `high` bound the range in which the truth probably lies; they equal `value` where the figure follows
    exactly from the plan. `method` is the id of an entry of `methods()`; `inputs` are the numbers that went in, in
    words with their units; `note` says what a reader must know before using the figure. `aside` is said of a figure by
    another method that lies above or below the one that is shown by more than the ranges of both. `partly` says of how
    much of what it sums it is known, where that is not everything: “known for 5 of 14”.
    """

    value: float
    low: float
    high: float
    unit: str
    method: str
    inputs: list[str] = field(default_factory=list)
    note: str = ""
    aside: Literal["", "above", "below"] = ""
    partly: str = ""

    @classmethod
    def within(
        cls, value: float, share: float, unit: str, method: str, inputs: list[str] | None = None, note: str = ""
    ) -> Estimate:
        """A figure with a symmetric range of ± `share` (0.2 = 20 %) around it."""
        return cls.between(value, value * (1 - share), value * (1 + share), unit, method, inputs, note)

    @classmethod
    def between(
        cls,
        value: float,
        low: float,
        high: float,
        unit: str,
        method: str,
        inputs: list[str] | None = None,
        note: str = "",
    ) -> Estimate:
        """A figure with its own low and high; they are put in order around the value."""
        value, low, high = _tidy(value), _tidy(low), _tidy(high)
        return cls(value, min(low, high, value), max(low, high, value), unit, method, inputs or [], note)


def _tidy(value: float) -> float:
    """Drop the digits that no figure of this trade deserves, so that files and screens stay short."""
    return float(f"{value:.5g}")


class Method(BaseModel):
    """How a figure is reached: what an instructor reads under 'how this was reached'. `remark` says where the numbers
    of the source come from, for docs/methods.md."""

    model_config = ConfigDict(frozen=True, extra="forbid")

    id: str
    name: str
    formula: str
    source: str
    range: str
    when: str = ""
    remark: str = ""


@cache
def methods() -> dict[str, Method]:
    """Every method the core uses, by id, from the data file beside this module."""
    raw = shipped_json("oaken.basis", "methods.json")
    return {entry["id"]: Method.model_validate(entry) for entry in raw["methods"]}
