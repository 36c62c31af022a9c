"""What the sets of an exercise are to one another: ramp, working sets, a last one that differs; built and changed."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from oaken.domain.prescription.loads import Load, LoadChange
from oaken.domain.prescription.segments import Segment, SetRun, each_set, merged


def ramp(sets: int, reps: int, change: LoadChange, start: Load | None = None, at_most: int | None = None,
         rest_s: int = 0) -> list[SetRun]:  # fmt: skip
    """Every set heavier by `change` until form fails: `sets` for sure, up to `at_most` if able.

    Warm-up and work in one: about 6 or 7 sets of 6 with a plate more each (common practice, no source).
    """
    first = SetRun(segments=[Segment(reps=reps, load=start)], rest_s=rest_s)
    heavier = SetRun(segments=[Segment(reps=reps, change=change)], rest_s=rest_s)
    runs = [first]
    if sets > 1:
        runs.append(heavier.model_copy(update={"times": sets - 1}))
    if at_most is not None and at_most > sets:
        runs.append(heavier.model_copy(update={"times": at_most - sets, "if_able": True}))
    return runs


LIGHT_SHARE, MORE_LEFT = 0.9, 2
"""A set that leads up to the others takes at most this share of their load, or leaves so many more
repetitions in reserve (common practice, no source)."""


@dataclass(frozen=True)
class SetShape:
    """The sets of an exercise one by one: lighter ones that lead up (`ramp`), the working sets, and the last one where
    it differs from them. In an `uneven` list (falling, rising, every set heavier) no set is like another: all of them
    are working sets, and the list is a scheme of its own."""

    ramp: tuple[SetRun, ...]
    work: tuple[SetRun, ...]
    last: SetRun | None
    uneven: bool = False

    @classmethod
    def of(cls, runs: Sequence[SetRun]) -> SetShape:
        """What the sets are to one another."""
        every = each_set(list(runs))
        up = 0
        while up < len(every) - 1 and _leads_up(every[up], every[up + 1 :]):
            up += 1
        work = every[up:]
        last = None
        enough = len(work) > 2 or (len(work) == 2 and begins_alike(work[1], work[0]))
        if enough and _same(work[:-1]) and not _same(work):
            last, work = work[-1], work[:-1]
        if not _same(work):
            return cls((), tuple(every), None, uneven=True)
        return cls(tuple(every[:up]), tuple(work), last)

    def with_work(self, sets: int) -> list[SetRun]:
        """The same with so many working sets: of an uneven list the last ones fall away, or the last is repeated."""
        kept = max(1, sets)
        work = (list(self.work) + [self.work[-1]] * kept)[:kept]
        return merged([*self.ramp, *work, *([] if self.last is None else [self.last])])


def _leads_up(run: SetRun, behind: Sequence[SetRun]) -> bool:
    """Whether a set is lighter than those that follow, which are alike but for a last one."""
    light, heavy = run.segments[0].load, behind[0].segments[0].load
    if light is None or heavy is None or len(run.segments) > 1 or light.way != heavy.way:
        return False
    if any(item.segments[0].load != heavy for item in (behind[:-1] if len(behind) > 2 else behind)):
        return False
    own, their = getattr(light, light.way), getattr(heavy, heavy.way)
    if light.by_effort:
        return light.way != "effort" and bool(own >= their + MORE_LEFT)
    return bool(own <= LIGHT_SHARE * their)


def begins_alike(run: SetRun, other: SetRun) -> bool:
    """Whether two sets begin with the same work, one perhaps to failure or going on after it."""
    first, second = run.segments[0], other.segments[0]
    return first.model_copy(update={"to_failure": second.to_failure, "pause_after_s": second.pause_after_s}) == second


def _same(runs: Sequence[SetRun]) -> bool:
    """Whether sets are alike but for the rest behind them."""
    return all(run.segments == runs[0].segments and run.if_able == runs[0].if_able for run in runs)


def reshaped(runs: Sequence[SetRun], sets: int) -> list[SetRun]:
    """The same with another number of sets in all. What leads up to the working sets and a last one that differs stay
    while a working set is left beside them; of an uneven list the last ones fall away, or the last is repeated."""
    shape = SetShape.of(runs)
    around = len(shape.ramp) + (shape.last is not None)
    if sets > around:
        return shape.with_work(sets - around)
    # too few for all of it: the last one goes first, then the ramp
    last = None if sets <= len(shape.ramp) + 1 else shape.last
    leading = shape.ramp[len(shape.ramp) - max(0, sets - 1 - (last is not None)) :] if sets > 1 else ()
    return SetShape(leading, shape.work, last).with_work(1)
