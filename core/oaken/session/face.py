"""What the clock of a run shows, and what it calls: intervals, half way, the last ten seconds, three, two, one."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from oaken.schedule.timeline import Doing
from oaken.session.clock import Era, RunState, Standing, marks
from oaken.session.floor import floor_at

Call = Literal["work", "half way", "ten left", "three", "two", "one", "change", "rest", "block", "end"]


@dataclass(frozen=True, slots=True)
class Cue:
    """What is called at a second of the axis."""

    second: float
    call: Call
    words: str = ""


COUNTED_FROM_S, HALF_WAY_FROM_S, TEN_FROM_S = 5.0, 40.0, 20.0
"""From which length an interval is counted down, has its half way called, and its last ten seconds."""


def cues(era: Era) -> list[Cue]:
    """Everything that is called, in its order: blocks, intervals, half way, the last ten, three, two, one, the end."""
    found: list[Cue] = []
    for block, passage in zip(era.plan.blocks, era.timeline.passages, strict=True):
        span = passage.span
        found.append(Cue(span.start_s, "block", block.name))
        if block.OWN_PACE:
            found += _counted(span.start_s, span.end_s, half=False)
            continue
        steps = {(passage.zero_s + step.start_s, passage.zero_s + step.end_s): step.doing
                 for path in reversed(passage.layout.paths) for step in path}  # fmt: skip
        works = {at for at, doing in steps.items() if doing is Doing.WORK}
        for (start, end), doing in sorted(steps.items()):
            working = (start, end) in works
            if working or not any(work[0] <= start < work[1] for work in works):
                call: Call = "work" if working else "change" if doing is Doing.CHANGE else "rest"
                found += [Cue(start, call), *_counted(start, end, half=working)]
    found.append(Cue(era.timeline.length_s, "end"))
    return sorted(dict.fromkeys(found), key=lambda cue: cue.second)


def _counted(start: float, end: float, *, half: bool) -> list[Cue]:
    length = end - start
    found: list[Cue] = []
    if half and length >= HALF_WAY_FROM_S:
        found.append(Cue(start + length / 2, "half way"))
    if length >= TEN_FROM_S:
        found.append(Cue(end - 10, "ten left"))
    if length >= COUNTED_FROM_S:
        found += [Cue(end - 3, "three"), Cue(end - 2, "two"), Cue(end - 1, "one")]
    return found


@dataclass(frozen=True, slots=True)
class ClockFace:
    """What the clock shows at a moment. Seconds are whole-class seconds of the plan unless they say otherwise.

    `left_s` is how long what is under way still takes, with time that was added; `calls` are the next cues, each with
    the seconds until it sounds; `ends_in_s` is when the class is over if it goes on now as planned.
    """

    state: Standing
    passed_s: float
    second: float
    block: int
    in_block_s: float
    left_s: float
    ends_in_s: float
    calls: tuple[tuple[float, Cue], ...]


NEXT_CALLS = 8


def face_of(run_state: RunState) -> ClockFace:
    """What the clock shows where a class stands. Where people are followed, what is under way is over when the last of
    them is expected to be done, and nothing is called before."""
    era, floor = run_state.era, run_state.floor
    block, since = era.place(run_state.second)
    over = run_state.state in ("plan is over", "ended")
    if floor is None:
        mark = next((mark for mark in marks(era) if mark > run_state.second), era.timeline.length_s)
        left = run_state.added_s + mark - run_state.second
        ends = run_state.added_s + era.timeline.length_s - run_state.second
        first, until = run_state.second, run_state.added_s
        coming = [cue for cue in cues(era) if cue.second > first]
    else:
        first = era.timeline.blocks[block].end_s
        left = max(0.0, floor_at(floor).ends_s - floor.now_s)
        ends = left + era.timeline.length_s - first
        # the class does not go on by itself before the block's planned end
        until = max(left, run_state.added_s + first - run_state.second)
        coming = [cue for cue in cues(era) if cue.second >= first]
    return ClockFace(
        state=run_state.state,
        passed_s=run_state.now_s,
        second=run_state.second,
        block=block,
        in_block_s=since,
        left_s=0.0 if over else left,
        ends_in_s=0.0 if over else ends,
        calls=() if over else tuple((until + cue.second - first, cue) for cue in coming[:NEXT_CALLS]),
    )
