"""The room: how large it is, what stands where, how many of it, and whether it works."""

from __future__ import annotations

from functools import cached_property
from math import hypot
from typing import Annotated, Literal, NamedTuple

from pydantic import BaseModel, ConfigDict, Field, model_validator

from oaken.basis.names import Clean, ThingName
from oaken.domain.room.hardware import Hardware, Implements, Plates, nearest_kg

WALKING_SPEED_M_PER_S = 1.2
"""Ordinary indoor walking speed (common practice, no source)."""

Metres = Annotated[float, Field(ge=0, le=200)]
SettingName = Literal["seat", "back", "pad", "range", "rack_hole", "platform", "resistance"]


class Unit(BaseModel):
    """A machine, or `count` identical things kept at one place of the room.

    `people_at_once` is how many may use one of them together. `x_m` and `y_m` are metres from the room's corner to its
    middle, `width_m` and `depth_m` its footprint before it is turned by `turned` degrees; `set_up_s` and
    `load_change_s` replace those of its kind. `settings` are what each person sets on it, `hardware` the loads it can
    hold. A unit of the kind "none" is free floor: places to work without a machine.
    """

    model_config = ConfigDict(frozen=True, extra="forbid")

    id: Annotated[str, Field(min_length=1, max_length=60)]
    kind: Annotated[str, Field(max_length=60)]
    name: Annotated[str, Clean, Field(min_length=1, max_length=80)]
    count: Annotated[int, Field(ge=1, le=60)] = 1
    people_at_once: Annotated[int, Field(ge=1, le=10)] = 1
    x_m: Metres = 0.0
    y_m: Metres = 0.0
    width_m: Annotated[float, Field(ge=0.2, le=40)] | None = None
    depth_m: Annotated[float, Field(ge=0.2, le=40)] | None = None
    turned: Literal[0, 90, 180, 270] = 0
    set_up_s: Annotated[float, Field(ge=0, le=300)] | None = None
    load_change_s: Annotated[float, Field(ge=0, le=300)] | None = None
    settings: Annotated[tuple[SettingName, ...], Field(max_length=7)] = ()
    hardware: Hardware | None = None
    out_of_order: bool = False

    @property
    def places(self) -> int:
        """How many people can work on it at the same time; 0 when it is out of order."""
        if self.out_of_order:
            return 0
        if isinstance(self.hardware, Implements):
            return sum(item.count for item in self.hardware.by_mass)
        return self.count * self.people_at_once


class Zone(BaseModel):
    """A named part of the room, in metres from its corner."""

    model_config = ConfigDict(frozen=True, extra="forbid")

    id: Annotated[str, Field(min_length=1, max_length=60)]
    name: Annotated[str, Clean, Field(min_length=1, max_length=80)]
    x_m: Metres
    y_m: Metres
    width_m: Annotated[float, Field(ge=0.5, le=200)]
    depth_m: Annotated[float, Field(ge=0.5, le=200)]

    def contains(self, unit: Unit) -> bool:
        """Whether a unit's middle stands in it."""
        across = self.x_m <= unit.x_m <= self.x_m + self.width_m
        return across and self.y_m <= unit.y_m <= self.y_m + self.depth_m


class _LookedUp(NamedTuple):
    """Answers about these very units: the implements of a kind as one, and the load nearest to one that is wanted."""

    units: list[Unit]
    implements: dict[str, Implements | None]
    loads: dict[tuple[str, float], float]


MOST_KNOWN_LOADS = 20_000


class Room(BaseModel):
    """A room, the units in it, and its zones. Without `width_m` and `depth_m` it is as large as its units need."""

    model_config = ConfigDict(frozen=True, extra="forbid")

    id: Annotated[str, Field(min_length=1, max_length=60)]
    name: ThingName
    width_m: Annotated[float, Field(ge=2, le=200)] | None = None
    depth_m: Annotated[float, Field(ge=2, le=200)] | None = None
    zones: Annotated[list[Zone], Field(max_length=40)] = []
    units: Annotated[list[Unit], Field(max_length=400)]

    @model_validator(mode="after")
    def everything_stands_inside(self) -> Room:
        for name, items in (("unit", self.units), ("zone", self.zones)):
            ids = [item.id for item in items]
            twice = next((each_id for each_id in ids if ids.count(each_id) > 1), None)
            if twice is not None:
                raise ValueError(f"the id {twice!r} stands twice; every {name} needs its own")
        width, depth = self.width_m, self.depth_m
        for unit in self.units:
            if (width is not None and unit.x_m > width) or (depth is not None and unit.y_m > depth):
                raise ValueError(f"{unit.name!r} stands outside of the room")
        for zone in self.zones:
            if (width is not None and zone.x_m + zone.width_m > width + 0.01) or (
                depth is not None and zone.y_m + zone.depth_m > depth + 0.01
            ):
                raise ValueError(f"the zone {zone.name!r} reaches out of the room")
        return self

    def working(self, kind: str) -> list[int]:
        """Indices into `units` of the working places of a kind, one entry for each person who can use it at once."""
        return [index for index, unit in enumerate(self.units) if unit.kind == kind for _ in range(unit.places)]

    def working_at(self, kind: str, kg: float) -> list[int]:
        """The same for implements of one mass."""
        return [
            index
            for index, unit in enumerate(self.units)
            if unit.kind == kind and not unit.out_of_order and isinstance(unit.hardware, Implements)
            for item in unit.hardware.by_mass
            if item.kg == kg
            for _ in range(item.count)
        ]

    def implement(self, kind: str, load_kg: float | None) -> float | None:
        """The mass of the implement of a kind for a load; None where the room does not tell them apart by mass."""
        known = self._known()
        if kind not in known.implements:
            units = [unit for unit in self.units if unit.kind == kind and not unit.out_of_order]
            held = [unit.hardware for unit in units if isinstance(unit.hardware, Implements)]
            every = {item.kg: item for hardware in held for item in hardware.by_mass}
            alike = bool(held) and len(held) == len(units)
            together = held[0].model_copy(update={"by_mass": tuple(every.values())}) if alike else None
            known.implements[kind] = together
        implements = known.implements[kind]
        return None if implements is None else implements.nearest(load_kg).kg

    def settable(self, kind: str, load_kg: float) -> float:
        """The load that the units of a kind can really hold and that comes nearest; as it is where nothing is known."""
        known = self._known().loads
        if (kind, load_kg) not in known:
            of_kind = [unit for unit in self.units if unit.kind == kind and not unit.out_of_order]
            held = [nearest_kg(unit.hardware, load_kg) for unit in of_kind if unit.hardware]
            near = min(held, key=lambda kg: (abs(kg - load_kg), kg), default=round(load_kg, 1))
            if len(known) >= MOST_KNOWN_LOADS:
                known.clear()
            known[kind, load_kg] = near
        return known[kind, load_kg]

    @cached_property
    def looked_up(self) -> _LookedUp:
        """What was looked up of these units before."""
        return _LookedUp(self.units, {}, {})

    def _known(self) -> _LookedUp:
        """The same, never of the units of a room that this one was copied from."""
        if self.looked_up.units is not self.units:
            self.__dict__["looked_up"] = _LookedUp(self.units, {}, {})
        return self.looked_up

    def bar_kg(self, kind: str) -> float:
        """What the bar or carriage of the first working unit of a kind weighs; 0 where nothing is known of it."""
        held = [unit.hardware for unit in self.units if unit.kind == kind and not unit.out_of_order]
        return next((item.bar_kg for item in held if isinstance(item, Plates)), 0.0)

    def walk_s(self, start: int, end: int) -> float:
        """Seconds to walk from one unit to another in a straight line; 0 where a unit is the floor (-1)."""
        if start < 0 or end < 0 or start == end:
            return 0.0
        here, there = self.units[start], self.units[end]
        return hypot(here.x_m - there.x_m, here.y_m - there.y_m) / WALKING_SPEED_M_PER_S
