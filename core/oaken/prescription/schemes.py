"""The named schemes, each a builder that returns sets of segments."""

from __future__ import annotations

from collections.abc import Sequence

from oaken.prescription.segments import Load, Segment, Sides, WorkSet
from oaken.prescription.tempo import Tempo


def straight_sets(
    sets: int,
    tempo: Tempo,
    *,
    reps: int | None = None,
    seconds: float | None = None,
    sides: Sides = "both",
    change_of_side_s: float = 0.0,
    load: Load | None = None,
    rest_s: float = 0.0,
) -> list[WorkSet]:
    """`sets` equal sets of one segment each, with `rest_s` after every set.

    >>> [s[0].duration_s() for s in straight_sets(2, Tempo(3, 0, 1), reps=10, rest_s=60)]
    [40, 40]
    """
    segment = Segment(reps, seconds, tempo, sides, change_of_side_s, load, pause_after_s=rest_s)
    return [(segment,) for _ in range(sets)]


def rounds_of(exercises: Sequence[WorkSet], rounds: int, rest_s: float) -> list[list[WorkSet]]:
    """A superset (two exercises), tri-set (three) or giant set (four and more): rest only after the round.

    Returns one list per round, with one set per exercise; the last segment of each round carries `rest_s`.
    """
    last = exercises[-1]
    closing = (*last[:-1], _with_pause(last[-1], rest_s))
    return [[*exercises[:-1], closing] for _ in range(rounds)]


def clocked_work(work_s: float, tempo: Tempo, *, one_sided: bool = False, load: Load | None = None) -> WorkSet:
    """The set of one turn at a clocked station: `work_s` in all, shared by both sides of a one-sided exercise."""
    return (Segment(None, work_s, tempo, "in_all" if one_sided else "both", 0.0, load),)


def _with_pause(segment: Segment, pause_s: float) -> Segment:
    return Segment(
        segment.reps, segment.seconds, segment.tempo, segment.sides, segment.change_of_side_s, segment.load, pause_s
    )
