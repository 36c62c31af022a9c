"""What a unit holds: a stack with its steps, a bar or carriage with the plates there are, pairs by mass."""

from __future__ import annotations

from bisect import bisect_left
from functools import cached_property
from math import prod
from threading import RLock
from typing import Annotated, Literal

import numpy as np
from cachetools import LRUCache, cached
from pydantic import BaseModel, ConfigDict, Field, model_validator

from oaken.basis.limits import most

Kg = Annotated[float, Field(gt=0, le=400)]
HEAVIEST_KG = 600.0

MOST_LOADS = most("unit.loads")
"""Most different loads that the plates of one unit may make."""


LB_KG = 0.45359237
"""One pound in kilograms, exactly (international yard and pound agreement 1959)."""


class _Item(BaseModel):
    model_config = ConfigDict(frozen=True, extra="forbid")


class _Marked(_Item):
    """`marked` is the unit that stands on the hardware; masses here are kilograms all the same."""

    marked: Literal["kg", "lb"] = "kg"

    @cached_property
    def loads_kg(self) -> tuple[float, ...]:
        """Every load that can be set, lightest first: looked up by value once for each piece of hardware."""
        assert isinstance(self, (Stack, Plates, Implements))
        return settable_kg(self)


class Stack(_Marked):
    """A stack: loads of the pin's holes, and add-on weights that sit between two steps, each there once."""

    holds: Literal["stack"] = "stack"
    steps_kg: Annotated[tuple[Kg, ...], Field(min_length=1, max_length=60)]
    add_ons_kg: Annotated[tuple[Kg, ...], Field(max_length=6)] = ()


class PlatePair(_Item):
    """Plates of one mass: how many pairs of them there are. Both sides are always loaded alike."""

    kg: Kg
    pairs: Annotated[int, Field(ge=1, le=40)]


class Plates(_Marked):
    """A bar or carriage of its own mass, and the plates that exist for it."""

    holds: Literal["plates"] = "plates"
    bar_kg: Annotated[float, Field(ge=0, le=150)]
    plates: Annotated[tuple[PlatePair, ...], Field(max_length=12)]

    @model_validator(mode="after")
    def makes_not_too_many_loads(self) -> Plates:
        ways = prod(plate.pairs + 1 for plate in self.plates)
        if ways > MOST_LOADS and len(settable_kg(self)) > MOST_LOADS:
            raise ValueError(f"these plates make more than {MOST_LOADS:,} different loads: leave some masses out")
        return self


class Implement(_Item):
    """Dumbbells or kettlebells of one mass: how many people can take them at once (of dumbbells, pairs)."""

    kg: Kg
    count: Annotated[int, Field(ge=1, le=40)]


class Implements(_Marked):
    """Dumbbells or kettlebells by mass. `in_hand` of one mass are used at a time: two dumbbells, one kettlebell.

    The load of an exercise is what is in hand altogether.
    """

    holds: Literal["implements"] = "implements"
    in_hand: Annotated[int, Field(ge=1, le=2)] = 1
    by_mass: Annotated[tuple[Implement, ...], Field(min_length=1, max_length=40)]

    def nearest(self, load_kg: float | None) -> Implement:
        """The implement whose load comes nearest, the lighter of two; the lightest where no load is known."""
        in_order = sorted(self.by_mass, key=lambda item: item.kg)
        if load_kg is None:
            return in_order[0]
        return min(in_order, key=lambda item: abs(item.kg * self.in_hand - load_kg))


Hardware = Annotated[Stack | Plates | Implements, Field(discriminator="holds")]


@cached(LRUCache(maxsize=20 * MOST_LOADS, getsizeof=len), lock=RLock())
def settable_kg(hardware: Stack | Plates | Implements) -> tuple[float, ...]:
    """Every load that can be set, lightest first.

    >>> settable_kg(Plates(bar_kg=20, plates=(PlatePair(kg=10, pairs=1), PlatePair(kg=5, pairs=2))))
    (20.0, 30.0, 40.0, 50.0, 60.0)
    """
    match hardware:
        case Stack():
            loads = {0.0}
            for add_on in hardware.add_ons_kg:
                loads |= {round(load + add_on, 3) for load in loads}
            found = {round(step + extra, 3) for step in hardware.steps_kg for extra in loads}
        case Plates():
            # one place a gram: as fast for forty pairs of twelve odd masses as for what a gym has
            there = np.zeros(round(HEAVIEST_KG * 1000) + 1, dtype=bool)
            there[round(hardware.bar_kg * 1000)] = True
            for plate in hardware.plates:
                before = there.copy()
                for count in range(1, plate.pairs + 1):
                    grams = round(2 * plate.kg * count * 1000)
                    if grams >= there.size:
                        break
                    there[grams:] |= before[:-grams]
            found = {round(grams / 1000, 3) for grams in np.flatnonzero(there).tolist()}
        case Implements():
            found = {round(item.kg * hardware.in_hand, 3) for item in hardware.by_mass}
    return tuple(sorted(found))


def nearest_kg(hardware: Stack | Plates | Implements, load_kg: float) -> float:
    """The load that can be set and comes nearest; the lighter of two that are equally near."""
    loads = hardware.loads_kg
    above = bisect_left(loads, load_kg)
    return min(loads[max(0, above - 1) : above + 1], key=lambda load: (abs(load - load_kg), load))


USUAL_STEP_KG = 0.5
"""Loads of what has no usual step either are read in half kilograms (common practice, no source)."""


def load_to_set(hardware: Stack | Plates | Implements | None, load_kg: float, usual_step_kg: float = 0.0) -> float:
    """A load as it can be set; where the unit's own steps are not known, rounded to the usual step of its kind."""
    if hardware is not None:
        return nearest_kg(hardware, load_kg)
    step = usual_step_kg or USUAL_STEP_KG
    return round(round(load_kg / step) * step, 3)
