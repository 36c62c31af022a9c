"""Lists of sets that are built from a rule: a ramp, and the same slot with another number of sets."""

from __future__ import annotations

from collections.abc import Sequence

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


def reshaped(runs: Sequence[SetRun], sets: int) -> list[SetRun]:
    """The same slot with another number of sets: the last ones fall away, or the last one is repeated."""
    single = each_set(list(runs))
    return merged((single + [single[-1]] * sets)[:sets])
