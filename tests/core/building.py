"""The schemes of the trade as builders of sets, written apart from the notation that has to read and write them."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Literal

from oaken.domain.prescription import Load, LoadChange, MachineSetting, Segment, SetRun, Tempo, each_set, merged
from oaken.domain.prescription.segments import Sides

Which = Literal["last", "last two", "every"]


def straight_sets(sets: int, segment: Segment, rest_s: int = 0) -> list[SetRun]:
    """Equal sets of one segment: `4 x 12`, `3 x 40 s`, `3 x 100 m`, `3 x 15-20`, timed holds."""
    return [SetRun(times=sets, segments=[segment], rest_s=rest_s)]


def pyramid(reps: Sequence[int], loads: Sequence[Load | None], rest_s: int = 0) -> list[SetRun]:
    """Sets of differing reps: rising load with falling reps (8/6/4/2) or the other way (10/20/30/40).

    `loads` has one entry a set, or a single one for all of them.
    """
    if len(loads) not in (1, len(reps)):
        raise ValueError(f"{len(reps)} sets need one load or {len(reps)} of them, not {len(loads)}")
    each = list(loads) * len(reps) if len(loads) == 1 else list(loads)
    return merged(
        [
            SetRun(segments=[Segment(reps=count, load=load)], rest_s=rest_s)
            for count, load in zip(reps, each, strict=True)
        ]
    )


def drop_sets(sets: int, first: Segment, drops: int, change: LoadChange, reps: int, *, to_failure: bool = True,
              on: Which = "last", rest_s: int = 0) -> list[SetRun]:  # fmt: skip
    """Sets that go on lighter without rest: single (`drops=1`), double (2); on the last, last two or every set."""
    plain = SetRun(segments=[first], rest_s=rest_s)
    dropped = [first, *([Segment(reps=reps, to_failure=to_failure, change=change)] * drops)]
    with_drop = SetRun(segments=dropped, rest_s=rest_s)
    count = {"last": 1, "last two": min(2, sets), "every": sets}[on]
    return merged([*[plain] * (sets - count), *[with_drop] * count])


def with_pauses(sets: int, counts: Sequence[int], pause_s: int, load: Load | None = None, *,
                to_failure_first: bool = False, rest_s: int = 0) -> list[SetRun]:  # fmt: skip
    """One set in parts at the same load with short pauses: cluster (7+7+7), or rest-pause (8 to failure, then 7)."""
    last = len(counts) - 1
    segments = [
        Segment(
            reps=count,
            load=load,
            to_failure=to_failure_first and place == 0,
            pause_after_s=0 if place == last else pause_s,
        )
        for place, count in enumerate(counts)
    ]
    return [SetRun(times=sets, segments=segments, rest_s=rest_s)]


def tempo_by_set(tempos: Sequence[Tempo], reps: int, load: Load | None = None, rest_s: int = 0) -> list[SetRun]:
    """Equal sets but for their tempo: the last one slower."""
    return merged([SetRun(segments=[Segment(reps=reps, tempo=tempo, load=load)], rest_s=rest_s) for tempo in tempos])


def last_rep_held(sets: int, first: Segment, expected_s: int, rest_s: int = 0) -> list[SetRun]:
    """The last repetition is held as long as possible, about `expected_s` seconds."""
    held = Segment(seconds=expected_s, hold=True, to_failure=True, load=first.load, sides=first.sides)
    return [SetRun(times=sets, segments=[first, held], rest_s=rest_s)]


def mixed(sets: int, segments: Sequence[Segment], rest_s: int = 0) -> list[SetRun]:
    """Unlike segments in one set: with a hold then plain, partial then full, three foot positions."""
    return [SetRun(times=sets, segments=list(segments), rest_s=rest_s)]


def as_many_as_possible(expected: Sequence[int], load: Load | None = None, rest_s: int = 0) -> list[SetRun]:
    """Every set to failure, with the falling numbers to expect: 12, 9, 6."""
    return merged(
        [SetRun(segments=[Segment(reps=count, to_failure=True, load=load)], rest_s=rest_s) for count in expected]
    )


def intervals(times: int, hard_s: int, hard: MachineSetting, easy_s: int, easy: MachineSetting) -> list[SetRun]:
    """Hard and easy seconds in turn on one machine."""
    return [
        SetRun(
            times=times,
            segments=[Segment(seconds=hard_s, setting=hard), Segment(seconds=easy_s, setting=easy)],
        )
    ]


def with_rests(runs: Sequence[SetRun], rests_s: Sequence[int]) -> list[SetRun]:
    """The same sets with another rest after each; the last rest given goes on to the end."""
    return merged(
        [
            run.model_copy(update={"rest_s": rests_s[min(place, len(rests_s) - 1)]})
            for place, run in enumerate(each_set(list(runs)))
        ]
    )


def on_sides(runs: Sequence[SetRun], sides: Sides) -> list[SetRun]:
    """The same sets with every count meant this way."""
    return [
        run.model_copy(update={"segments": [segment.model_copy(update={"sides": sides}) for segment in run.segments]})
        for run in runs
    ]
