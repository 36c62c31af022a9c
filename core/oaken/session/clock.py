"""The clock of a run: events folded into where the class stands at every second, with the time handed in.

The class has one position, a second of its plan's time axis. It moves with the clock while the class runs, stands still
in a pause, while time is added and while everybody waits for ready, and jumps where somebody skips on or back. Where
the plan itself changes a new era begins: the same second of the same block on another time axis.
"""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Sequence
from dataclasses import dataclass, field
from datetime import datetime
from typing import Literal

from oaken.basis.faults import FaultyInput
from oaken.plan import ClassPlan
from oaken.plan.changes import apply
from oaken.schedule.class_file import ClassFile
from oaken.schedule.timeline import Circumstances, Doing, Timeline, timeline_in
from oaken.session.events import (
    Began,
    Came,
    Changed,
    Ended,
    Event,
    Left,
    MovedOn,
    Paused,
    Resumed,
    StoppedFor,
    TimeAdded,
    UnitBack,
    UnitLost,
    WaitsForReady,
    WentOn,
    standing,
)

Standing = Literal["not begun", "runs", "paused", "time added", "waits for ready", "plan is over", "ended"]


@dataclass(frozen=True, slots=True)
class Era:
    """A plan and its time axis, for as long as nothing changed it."""

    plan: ClassPlan
    timeline: Timeline

    def place(self, second: float) -> tuple[int, float]:
        """The block that is under way at a second, and the seconds since it began; between two blocks the earlier."""
        starts = [span.start_s for span in self.timeline.blocks]
        block = max(0, bisect_right(starts, second) - 1)
        return block, second - starts[block]

    def second_of(self, block_id: str, second: float) -> float | None:
        """The second of this axis at which a block has run for so long; None when the plan has not got it."""
        for block, span in zip(self.plan.blocks, self.timeline.blocks, strict=True):
            if block.id == block_id:
                return min(span.start_s + second, span.end_s)
        return None


@dataclass(frozen=True, slots=True)
class Stretch:
    """From one moment to another, in seconds since the class began: an era, where its axis stood, whether it moved."""

    from_s: float
    to_s: float
    era: int
    second: float
    state: Standing


@dataclass(slots=True)
class Ahead:
    """One person stands `ahead_s` before the class (behind it: less than 0) in a block, from a moment on until another,
    in seconds since the class began (None: as long as the block runs)."""

    person: str
    block: str
    ahead_s: float
    from_s: float
    until_s: float | None = None


@dataclass(slots=True)
class RunState:
    """How the class went up to a moment: its eras, its stretches, who was away when, and what could not be followed.

    `away` are person, from, to (None: still) in seconds since the class began; `changed_by` are the events that
    began each era but the first, `left_at` where everybody stood on each era's axis when it was left.
    """

    eras: list[Era]
    began_at: datetime | None = None
    now_s: float = 0.0
    second: float = 0.0
    state: Standing = "not begun"
    added_s: float = 0.0
    stops_at: float | None = None
    stretches: list[Stretch] = field(default_factory=list)
    away: list[tuple[str, float, float | None]] = field(default_factory=list)
    ahead: list[Ahead] = field(default_factory=list)
    changed_by: list[str] = field(default_factory=list)
    left_at: list[dict[str, float]] = field(default_factory=list)
    notices: list[str] = field(default_factory=list)

    @property
    def era(self) -> Era:
        """The plan as it is now."""
        return self.eras[-1]

    def advance(self, to_s: float) -> None:
        """Let time pass up to a moment, in seconds since the class began."""
        while self.now_s < to_s:
            if self.state in ("paused", "waits for ready", "plan is over", "ended"):
                self._stand(to_s, self.state)
            elif self.added_s > 0:
                until = min(to_s, self.now_s + self.added_s)
                self.added_s = 0.0 if until < to_s else max(0.0, self.added_s - (until - self.now_s))
                self._stand(until, "time added")
            else:
                self._run(to_s)

    def _stand(self, to_s: float, state: Standing) -> None:
        if state != "ended":
            self._stretch(to_s, state)
        self.now_s = to_s

    def _run(self, to_s: float) -> None:
        length = self.era.timeline.length_s
        goal = length if self.stops_at is None else min(self.stops_at, length)
        until = min(to_s, self.now_s + (goal - self.second))
        if until > self.now_s:
            stretch = self._stretch(until, "runs")
            self.second = goal if until < to_s else stretch.second + (until - stretch.from_s)
            self.now_s = until
        if self.second >= goal:
            self.state = "plan is over" if goal >= length else "waits for ready"
            self.stops_at = None

    def _stretch(self, to_s: float, state: Standing) -> Stretch:
        """The stretch from now on; where nothing but time has passed since the last one, that one goes on."""
        era = len(self.eras) - 1
        found = Stretch(self.now_s, to_s, era, self.second, state)
        last = self.stretches[-1] if self.stretches else None
        if last is not None and (last.era, last.state, last.to_s) == (era, state, self.now_s):
            stood = last.second + (last.to_s - last.from_s if state == "runs" else 0.0)
            if stood == self.second:
                found = Stretch(last.from_s, to_s, era, last.second, state)
                self.stretches.pop()
        self.stretches.append(found)
        return found

    def ahead_of(self, person: str) -> float:
        """How far somebody stands before the class now, in seconds."""
        block = self.era.plan.blocks[self.era.place(self.second)[0]].id if self.era.plan.blocks else ""
        own = (item for item in self.ahead if item.person == person and item.block == block and item.until_s is None)
        return next((item.ahead_s for item in own), 0.0)

    def together(self, moment: float, person: str | None = None) -> None:
        """From a moment on somebody, or everybody, stands where the class stands."""
        for item in self.ahead:
            if item.until_s is None and person in (None, item.person):
                item.until_s = moment

    def change(self, plan: ClassPlan, around: Circumstances, by: str) -> None:
        """Go on with another plan at the same second of the same block; where that is gone, at the block behind it."""
        block, since = self.era.place(self.second)
        era = Era(plan, timeline_in(plan, around))
        behind = [(each_block.id, 0.0) for each_block in self.era.plan.blocks[block + 1 :]]
        goals = [(self.era.plan.blocks[block].id, since), *behind]
        found = (era.second_of(name, second) for name, second in goals)
        second = next((item for item in found if item is not None), era.timeline.length_s)
        self.left_at.append({name: self.second + self.ahead_of(name) for name in self.era.plan.people})
        self.eras.append(era)
        self.changed_by.append(by)
        self.second, self.stops_at = second, None
        if self.state == "plan is over" and second < era.timeline.length_s:
            self.state = "runs"


def circumstances(file: ClassFile, plan: ClassPlan) -> Circumstances:
    """What a plan of this class is laid out in."""
    return Circumstances.of(plan.room_of(file.room), file.participants, file.catalogue(), plan.wishes())


def replay_events(file: ClassFile, events: Sequence[Event], now: datetime) -> RunState:
    """How a class went by its events, up to `now`. The file must have been checked (`read_class`)."""
    counting = [event for event in standing(events) if event.happened_at <= now]
    plan = file.plan
    run_state = RunState([Era(plan, timeline_in(plan, circumstances(file, plan)))])
    began = next((event for event in counting if isinstance(event, Began)), None)
    run_state.began_at = began.happened_at if began else None
    _who_came_late(run_state, counting)
    for event in counting:
        moment = 0.0 if began is None else max(0.0, (event.happened_at - began.happened_at).total_seconds())
        if began is not None and event.happened_at >= began.happened_at:
            run_state.advance(moment)
        if event is began:
            run_state.state = "runs"
            continue
        _take(run_state, file, event, moment)
    if began is not None:
        run_state.advance(max(0.0, (now - began.happened_at).total_seconds()))
    return run_state


def _take(run_state: RunState, file: ClassFile, event: Event, moment: float) -> None:
    begun = run_state.state not in ("not begun", "ended")
    match event:
        case Paused() if begun and run_state.state != "plan is over":
            run_state.state = "paused"
        case Resumed() if run_state.state in ("paused", "waits for ready"):
            run_state.state = "runs"
        case TimeAdded() if begun:
            run_state.added_s += event.seconds
            run_state.state = "runs" if run_state.state == "plan is over" else run_state.state
        case WaitsForReady() if run_state.state == "runs":
            run_state.stops_at = next((mark for mark in marks(run_state.era) if mark > run_state.second), None)
        case WentOn() if begun:
            second = run_state.era.second_of(event.block, event.second)
            if second is None:
                run_state.notices.append(f"{event.id}: there is no block {event.block!r} (any more)")
                return
            run_state.second, run_state.added_s, run_state.stops_at = second, 0.0, None
            run_state.together(moment)
            if run_state.state in ("plan is over", "waits for ready"):
                run_state.state = "runs"
        case MovedOn() if begun:
            _move_on(run_state, file, event, moment)
        case Ended() if begun:
            run_state.state = "ended"
        case Came() | Left() | StoppedFor():
            _presence(run_state, file, event, moment)
        case UnitLost() | UnitBack() if run_state.state != "ended":
            _unit(run_state, file, event)
        case Changed() if run_state.state != "ended":
            try:
                plan = apply(run_state.era.plan, event.change, file.catalogue())
            except FaultyInput as error:
                run_state.notices.append(f"{event.id}: {error}")
                return
            run_state.change(plan, circumstances(file, plan), event.id)
        case _:
            pass


def _move_on(run_state: RunState, file: ClassFile, event: MovedOn, moment: float) -> None:
    goal = run_state.era.second_of(event.block, event.second)
    here = run_state.era.plan.blocks[run_state.era.place(run_state.second)[0]]
    if goal is None or here.id != event.block or event.person not in file.plan.people:
        run_state.notices.append(f"{event.id}: {event.person!r} cannot be moved on in block {event.block!r} now")
        return
    run_state.together(moment, event.person)
    run_state.ahead.append(Ahead(event.person, event.block, goal - run_state.second, moment))


def _unit(run_state: RunState, file: ClassFile, event: UnitLost | UnitBack) -> None:
    plan = run_state.era.plan
    if event.unit not in {unit.id for unit in file.room.units}:
        run_state.notices.append(f"{event.id}: there is no unit {event.unit!r} in the room")
        return
    left = [unit for unit in plan.taken if unit != event.unit]
    taken = [*left, event.unit] if isinstance(event, UnitLost) else left
    if taken != plan.taken:
        changed = plan.model_copy(update={"taken": taken})
        run_state.change(changed, circumstances(file, changed), event.id)


def _who_came_late(run_state: RunState, events: Sequence[Event]) -> None:
    """Whoever is said to have come was not there before, unless they had left."""
    seen: set[str] = set()
    for event in events:
        if isinstance(event, Came | Left | StoppedFor) and event.person not in seen:
            seen.add(event.person)
            if isinstance(event, Came):
                run_state.away.append((event.person, 0.0, None))


def _presence(run_state: RunState, file: ClassFile, event: Came | Left | StoppedFor, moment: float) -> None:
    if event.person not in file.plan.people:
        run_state.notices.append(f"{event.id}: {event.person!r} is not among the people of this class")
        return
    open_at = next((at for at, item in enumerate(run_state.away) if item[0] == event.person and item[2] is None), None)
    if isinstance(event, Came):
        if open_at is not None:
            person, since, _ = run_state.away[open_at]
            run_state.away[open_at] = (person, since, moment)
    elif open_at is None:
        run_state.away.append((event.person, moment, None))


def marks(era: Era) -> list[float]:
    """The seconds at which something changes for everybody: every change on the bell, the beginning and the end of what
    people do at their own pace."""
    found: set[float] = set()
    for block, passage in zip(era.plan.blocks, era.timeline.passages, strict=True):
        found |= {passage.span.start_s, passage.span.end_s}
        if not block.OWN_PACE:
            found |= {passage.zero_s + step.start_s for path in passage.layout.paths for step in path}
    return sorted({*found, era.timeline.length_s})


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
    """What the clock shows where the run_state stands."""
    era = run_state.era
    block, since = era.place(run_state.second)
    mark = next((mark for mark in marks(era) if mark > run_state.second), era.timeline.length_s)
    coming = [cue for cue in cues(era) if cue.second > run_state.second][:NEXT_CALLS]
    over = run_state.state in ("plan is over", "ended")
    wait = run_state.added_s
    return ClockFace(
        state=run_state.state,
        passed_s=run_state.now_s,
        second=run_state.second,
        block=block,
        in_block_s=since,
        left_s=0.0 if over else wait + mark - run_state.second,
        ends_in_s=0.0 if over else wait + era.timeline.length_s - run_state.second,
        calls=() if over else tuple((wait + cue.second - run_state.second, cue) for cue in coming),
    )
