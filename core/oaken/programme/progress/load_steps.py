"""The loads that can be set next to a load: what the unit holds, within the steps and bounds of the studio."""

from __future__ import annotations

from bisect import bisect_left, bisect_right
from dataclasses import dataclass
from math import floor, inf

from oaken.domain.room import Hardware, settable_kg
from oaken.programme.progress.load_rules import LoadRules

SAME_KG = 1e-6


@dataclass(frozen=True, slots=True)
class LoadSteps:
    """What can be set of one exercise: its unit (None: any load), whether it is a big lift, and the studio's rules."""

    hardware: Hardware | None
    big: bool
    rules: LoadRules

    @property
    def step_kg(self) -> float:
        """The usual step of a lift of this size."""
        return self.rules.step_big_kg if self.big else self.rules.step_small_kg

    @property
    def all_too_heavy(self) -> bool:
        """Whether the lightest load of the unit is above what the studio allows."""
        most = self.rules.heaviest_kg
        return self.hardware is not None and most is not None and settable_kg(self.hardware)[0] > most + SAME_KG

    def nearest(self, kg: float, at_most: float | None = None) -> float:
        """The load that can be set and comes nearest, the lighter of two, none above `at_most` where there is one."""
        if self.hardware is None:
            bounds = [bound for bound in (at_most, self.rules.heaviest_kg) if bound is not None]
            # never rounded up over what is allowed
            return round(kg, 3) if all(kg < bound for bound in bounds) else floor(min(bounds) * 1000) / 1000
        loads = settable_kg(self.hardware)
        bound = min(inf if at_most is None else at_most, self.rules.heaviest_kg or inf)
        end = max(1, bisect_right(loads, bound + SAME_KG))
        # sorted, so that only the two beside it can be nearest
        place = bisect_left(loads, kg, 0, end)
        near = loads[max(0, place - 1) : min(end, place + 1)]
        return min(near, key=lambda item: (abs(item - kg), item))

    def smallest_up(self, kg: float) -> float | None:
        """The next load above this one; None where the unit holds no more. Without a unit, the usual step."""
        if self.hardware is None:
            return kg + self.step_kg
        loads = settable_kg(self.hardware)
        place = bisect_right(loads, kg + SAME_KG)
        return loads[place] if place < len(loads) else None

    def up(self, kg: float, by_kg: float) -> float | None:
        """A load above this one, as near as can be to so much more; never more than the most that one step may be
        unless the unit has nothing between. None where it holds no more."""
        smallest = self.smallest_up(kg)
        if smallest is None:
            return None
        most = max(smallest, kg * (1 + self.rules.most_step_share))
        if self.hardware is None:
            return min(kg + by_kg, most)
        above = [load for load in settable_kg(self.hardware) if kg + SAME_KG < load <= most + SAME_KG]
        return min(above, key=lambda load: (abs(load - kg - by_kg), load))

    def down(self, kg: float, by_kg: float | None = None) -> float | None:
        """A load below this one, as near as can be to so much less (None: the usual step); None where the unit holds no
        less."""
        less = self.step_kg if by_kg is None else by_kg
        if self.hardware is None:
            return max(0.0, round(kg - less, 3))
        lighter = [load for load in settable_kg(self.hardware) if load < kg - SAME_KG]
        return min(lighter, key=lambda load: (abs(load - kg + less), -load)) if lighter else None

    def at_most(self, kg: float) -> float:
        """The heaviest load that is not above this one; the lightest there is where all are."""
        if self.hardware is None:
            return round(kg, 1)
        loads = settable_kg(self.hardware)
        return max((load for load in loads if load <= kg + SAME_KG), default=loads[0])
