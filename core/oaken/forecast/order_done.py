"""The order in which people really do the exercises of a class: who does what is small before what is large.

On paper the large stands first. At their own pace people begin at different groups, and some of them come to the small
exercise of a muscle first; in a circle of k pairs that is (k - 1)/2k of all cases at the least.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable
from itertools import permutations
from typing import NamedTuple

from oaken.domain.catalogue import Catalogue, Exercise
from oaken.forecast.cautions.in_order import usual_rank
from oaken.forecast.report import Forecast
from oaken.plan import ClassPlan, SetsBlock
from oaken.schedule.timeline import Doing

LARGE = 2
"""The last place in the usual order that is work of the whole leg."""


class SmallBeforeLarge(NamedTuple):
    """A small and a large exercise of one muscle in a block at people's own pace: who does both, and who of them does
    the small one first (numbers). `slots` are the two."""

    small: str
    large: str
    slots: tuple[str, str]
    both: tuple[int, ...]
    small_first: tuple[int, ...]


def small_before_large(plan: ClassPlan, predicted: Forecast, known: Catalogue) -> list[SmallBeforeLarge]:
    """Every small exercise beside a large one of the same prime muscle, by how many do it first, the most first."""
    inside = {
        at
        for at, (block, counts) in enumerate(zip(plan.blocks, plan.main_part(), strict=True))
        if counts and isinstance(block, SetsBlock)
    }
    began: dict[int, dict[int, float]] = defaultdict(dict)
    for person in predicted.people:
        for step in person.path.stretches(predicted.length.value):
            if step.doing == Doing.WORK and predicted.slots[step.slot].block in inside:
                began[step.slot].setdefault(person.number, step.start_s)
    found = []
    for small, large in permutations(began, 2):
        here, there = (known.exercises[predicted.slots[at].exercise] for at in (small, large))
        both = sorted(began[small].keys() & began[large].keys())
        if both and is_small(here) and is_large(there) and set(here.prime) & set(there.prime):
            found.append(
                SmallBeforeLarge(
                    here.name,
                    there.name,
                    (predicted.slots[small].id, predicted.slots[large].id),
                    tuple(both),
                    tuple(who for who in both if began[small][who] < began[large][who]),
                )
            )
    return sorted(found, key=lambda item: (-len(item.small_first) / len(item.both), item.slots))


def share_small_first(pairs: Iterable[SmallBeforeLarge]) -> float:
    """The share of all cases, 0 to 1, in which what is small is done before what is large; 0 where there is none."""
    listed = list(pairs)
    return sum(len(pair.small_first) for pair in listed) / max(1, sum(len(pair.both) for pair in listed))


def is_large(exercise: Exercise) -> bool:
    """Whether it is work of the whole leg, which comes before what is small."""
    return usual_rank(exercise) <= LARGE


def is_small(exercise: Exercise) -> bool:
    """Whether it is work of one joint, of the calves or of the trunk."""
    return LARGE < usual_rank(exercise) < 9
