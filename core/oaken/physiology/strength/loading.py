"""Loads that can really be set: working loads, warm-up sets, drops and pyramids within the seconds there are."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Literal

from pydantic import BaseModel, computed_field

from oaken.basis.words import in_kg
from oaken.domain.room.hardware import LB_KG, Implements, Plates, Stack, load_to_set, settable_kg
from oaken.physiology.strength.reps_at_load import share_for

Held = Stack | Plates | Implements

WARM_UP_SHARES = ((0.20, 15), (0.30, 12))
"""Share of best and repetitions of the two warm-up sets: they must not tire (common practice, no source)."""


ROUNDED_FROM_KG = 0.05
"""A load without known steps that is off by more than this says that it was rounded."""


class LoadAsSet(BaseModel):
    """A load as it is set: what was wanted, what the unit holds, and how it is made up, for the eye.

    `a_side_kg` are the plates of one side from the inside out, `pin_kg` the stack's hole, `add_ons_kg` what lies on
    it, `in_hand` how many implements of `each_kg`. `share_off` is how far the set load is from the wanted one.
    `marked` is the unit that stands on the hardware.
    """

    wanted_kg: float
    set_kg: float
    share_off: float
    bar_kg: float | None = None
    a_side_kg: list[float] = []
    pin_kg: float | None = None
    add_ons_kg: list[float] = []
    each_kg: float | None = None
    in_hand: int = 0
    marked: Literal["kg", "lb"] = "kg"

    @computed_field  # type: ignore[prop-decorator]
    @property
    def words(self) -> str:
        """How to set it, in the unit that stands on the hardware."""
        if self.bar_kg is not None:
            plates = " + ".join(self._marked(plate) for plate in self.a_side_kg) or "no plates"
            return f"bar {self._marked(self.bar_kg)} {self.marked}, a side: {plates}"
        if self.pin_kg is not None:
            parts = [self._marked(item) for item in (self.pin_kg, *self.add_ons_kg)]
            return f"pin at {' + '.join(parts)} {self.marked}"
        if self.each_kg is not None:
            return f"{self.in_hand} × {self._marked(self.each_kg)} {self.marked}"
        return f"{'about ' if self.is_rounded else ''}{self._marked(self.set_kg)} {self.marked}"

    @property
    def is_rounded(self) -> bool:
        """Whether it was rounded to the usual step, because what the unit holds is not known."""
        made_up = self.bar_kg is not None or self.pin_kg is not None or self.each_kg is not None
        return not made_up and abs(self.set_kg - self.wanted_kg) > ROUNDED_FROM_KG

    def _marked(self, kg: float) -> str:
        return f"{round(kg if self.marked == 'kg' else kg / LB_KG, 1):g}"


def as_set(hardware: Held | None, wanted_kg: float, usual_step_kg: float = 0.0) -> LoadAsSet:
    """The wanted load as the unit can hold it; where its steps are not known, rounded to the usual step of its kind of
    equipment (in kg, 0 where there is none)."""
    set_kg = load_to_set(hardware, wanted_kg, usual_step_kg)
    made = LoadAsSet(
        wanted_kg=round(wanted_kg, 2),
        set_kg=set_kg,
        share_off=set_kg / wanted_kg - 1 if wanted_kg > 0 else 0.0,
        marked="kg" if hardware is None else hardware.marked,
    )
    match hardware:
        case Plates():
            return made.model_copy(update={"bar_kg": hardware.bar_kg, "a_side_kg": plates_a_side(hardware, set_kg)})
        case Stack():
            pin, add_ons = pin_and_add_ons(hardware, set_kg)
            return made.model_copy(update={"pin_kg": pin, "add_ons_kg": add_ons})
        case Implements():
            each = hardware.nearest(wanted_kg)
            return made.model_copy(update={"each_kg": each.kg, "in_hand": hardware.in_hand})
        case None:
            return made


def plates_a_side(hardware: Plates, load_kg: float) -> list[float]:
    """Plates of one side that make up a load that can be set, heaviest first and as few as can be.

    Raises ValueError for a load that cannot be made up.

    >>> from oaken.domain.room.hardware import PlatePair
    >>> plates_a_side(Plates(bar_kg=20, plates=(PlatePair(kg=20, pairs=1), PlatePair(kg=5, pairs=3))), 80)
    [20.0, 5.0, 5.0]
    """
    # fewest plates for each sum, in grams so that sums are exact
    target = round((load_kg - hardware.bar_kg) * 500)
    fewest: dict[int, tuple[float, ...]] = {0: ()}
    for plate in sorted(hardware.plates, key=lambda plate: -plate.kg):
        grams = round(plate.kg * 1000)
        for have, used in list(fewest.items()):
            for count in range(1, plate.pairs + 1):
                reached = have + grams * count
                if reached > target + 1:
                    break
                more = (*used, *[float(plate.kg)] * count)
                if reached not in fewest or _fewer(more, fewest[reached]):
                    fewest[reached] = more
    for near in (target, target - 1, target + 1):
        if near in fewest:
            return list(fewest[near])
    raise ValueError(f"{in_kg(load_kg)} cannot be made up of equal plates on both sides")


def _fewer(plates: tuple[float, ...], others: tuple[float, ...]) -> bool:
    """Whether these are fewer plates or, of as many, heavier ones on the inside."""
    return (len(plates), *(-kg for kg in plates)) < (len(others), *(-kg for kg in others))


def pin_and_add_ons(hardware: Stack, load_kg: float) -> tuple[float, list[float]]:
    """Hole of the pin and add-on weights of a load that can be set, with as few add-ons as can be.

    Raises ValueError for a load that cannot be set.
    """
    ways: list[tuple[int, float, list[float]]] = []
    sums: list[tuple[float, list[float]]] = [(0.0, [])]
    for add_on in hardware.add_ons_kg:
        sums += [(total + add_on, [*used, add_on]) for total, used in sums]
    for step in hardware.steps_kg:
        ways += [(len(used), step, used) for total, used in sums if abs(step + total - load_kg) < 2e-3]
    if not ways:
        raise ValueError(f"the stack cannot be set to {in_kg(load_kg)}")
    _, pin, used = min(ways, key=lambda way: (way[0], way[1]))
    return pin, used


WorkingBy = Literal["share_of_best", "reps_in_reserve", "rep_window"]


def share_by_reserve(reps: int, in_reserve: int) -> float:
    """Share of best for a set of `reps` that leaves `in_reserve` more: the load at which reps + reserve would end in
    failure, by the usual training-load table (from memory). 8 with 2 in reserve → 0.75."""
    return share_for(reps + in_reserve)


def share_by_window(low: int, high: int) -> float:
    """Share of best for a rep window: the last repetition of the middle of it should be a struggle. 6–8 → 0.83."""
    return share_for((low + high) / 2)


class Loading(BaseModel):
    """One load of a drop set or pyramid: how it is set, and the seconds the change to it takes."""

    load: LoadAsSet
    change_s: float


def loadings(
    hardware: Held | None,
    wanted_kg: Sequence[float],
    load_change_s: float,
    within_s: float | None = None,
    usual_step_kg: float = 0.0,
) -> list[Loading]:
    """Loads one after another as they can be set within the seconds there are for each change.

    A pin or another pair of dumbbells is one change of `load_change_s`; a bar takes it once for every plate a side
    that goes off or on (common practice, no source). Where the wanted load takes too long, the nearest one that can be
    reached in time is set; it may be the load before.
    """
    found: list[Loading] = []
    for kg in wanted_kg:
        wanted = as_set(hardware, kg, usual_step_kg)
        if not found:
            found.append(Loading(load=wanted, change_s=0.0))
            continue
        before = found[-1].load
        options = [wanted]
        if within_s is not None and hardware is not None and change_s(before, wanted, load_change_s) > within_s:
            options = [
                one.model_copy(update={"wanted_kg": wanted.wanted_kg, "share_off": load / kg - 1 if kg > 0 else 0.0})
                for load in settable_kg(hardware)
                if change_s(before, one := as_set(hardware, load), load_change_s) <= within_s
            ] or [before]
        best = min(options, key=lambda option: (abs(option.set_kg - kg), option.set_kg))
        found.append(Loading(load=best, change_s=change_s(before, best, load_change_s)))
    return found


def change_s(before: LoadAsSet, after: LoadAsSet, load_change_s: float) -> float:
    """Seconds from one set load to another on the same unit."""
    if abs(before.set_kg - after.set_kg) < 1e-6:
        return 0.0
    if after.bar_kg is None:
        return load_change_s
    moved = len(_without(before.a_side_kg, after.a_side_kg)) + len(_without(after.a_side_kg, before.a_side_kg))
    return load_change_s * max(1, moved)


def _without(plates: list[float], others: list[float]) -> list[float]:
    left = list(plates)
    for plate in others:
        if plate in left:
            left.remove(plate)
    return left


def warm_up_sets(hardware: Held | None, best_kg: float, usual_step_kg: float = 0.0) -> list[tuple[LoadAsSet, int]]:
    """Two sets before the work at 20 and 30 % of best, 15 and 12 repetitions, as the unit can hold them."""
    return [(as_set(hardware, best_kg * share, usual_step_kg), reps) for share, reps in WARM_UP_SHARES]
