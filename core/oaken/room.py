"""The room: what stands where, how many of it, and whether it works."""

from __future__ import annotations

from math import hypot
from typing import Annotated

from pydantic import BaseModel, ConfigDict, Field

WALKING_SPEED_M_PER_S = 1.2
"""Ordinary indoor walking speed (common practice, no source)."""


class Unit(BaseModel):
    """A machine, or `count` identical things kept at one place of the room.

    `people_at_once` is how many may use one of them together. `x_m` and `y_m` are metres from the room's corner.
    """

    model_config = ConfigDict(frozen=True, extra="forbid")

    id: Annotated[str, Field(min_length=1, max_length=60)]
    kind: str
    name: Annotated[str, Field(min_length=1, max_length=80)]
    count: Annotated[int, Field(ge=1, le=60)] = 1
    people_at_once: Annotated[int, Field(ge=1, le=10)] = 1
    x_m: Annotated[float, Field(ge=0, le=200)] = 0.0
    y_m: Annotated[float, Field(ge=0, le=200)] = 0.0
    out_of_order: bool = False

    @property
    def places(self) -> int:
        """How many people can work on it at the same time; 0 when it is out of order."""
        return 0 if self.out_of_order else self.count * self.people_at_once


class Room(BaseModel):
    """A room and the units in it."""

    model_config = ConfigDict(frozen=True, extra="forbid")

    id: Annotated[str, Field(min_length=1, max_length=60)]
    name: Annotated[str, Field(min_length=1, max_length=120)]
    units: Annotated[list[Unit], Field(max_length=400)]

    def working(self, kind: str) -> list[int]:
        """Indices into `units` of the working places of a kind, one entry for each person who can use it at once."""
        return [index for index, unit in enumerate(self.units) if unit.kind == kind for _ in range(unit.places)]

    def walk_s(self, start: int, end: int) -> float:
        """Seconds to walk from one unit to another in a straight line; 0 where a unit is the floor (-1)."""
        if start < 0 or end < 0 or start == end:
            return 0.0
        here, there = self.units[start], self.units[end]
        return hypot(here.x_m - there.x_m, here.y_m - there.y_m) / WALKING_SPEED_M_PER_S
