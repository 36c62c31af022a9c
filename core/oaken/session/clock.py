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
from oaken.plan import ClassPlan, RelayBlock, SetsBlock
from oaken.plan.changes import Change, apply
from oaken.schedule.class_file import ClassFile
from oaken.schedule.rotation.rolling import NEVER
from oaken.schedule.timeline import Circumstances, Timeline, timeline_in
from oaken.schedule.timeline.rolling_work import RollingBlock, rolling_block
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
    SetDone,
    SetSkipped,
    SetStarted,
    StoppedFor,
    Tagged,
    TimeAdded,
    TookAnother,
    UnitBack,
    UnitLost,
    WaitsForReady,
    WentOn,
    standing,
)
from oaken.session.floor import FloorPlan, FloorVisit, How, SeenPress, SetId, floor_at
from oaken.session.relays import tagged, teams_of, turns_of_team

Standing = Literal["not begun", "runs", "paused", "time added", "runs over", "waits for ready", "plan is over", "ended"]
"""`runs over`: people at their own pace need longer than their block was planned to last."""

LAST_S = 0.001
"""The last moment of a block is so long before its end: there the clock stands while a block runs over."""

LOOKS_AFTER_S, LOOKS_WITHIN_S = 15.0, 60.0
"""How soon, and how late at most, it is looked again whether a block that runs over is over."""

ENDS_WITHIN_S = 0.5
"""A block of which so little is left is over."""


@dataclass(frozen=True, slots=True)
class Era:
    """A plan and its time axis, for as long as nothing changed it. `lost` are the units lost since the class began."""

    plan: ClassPlan
    timeline: Timeline
    around: Circumstances = field(compare=False)
    lost: frozenset[str] = frozenset()

    def rolling(self, block: int) -> RollingBlock | None:
        """A block's work as it is dispatched while it runs; None where people go by the bell."""
        found = self.plan.blocks[block]
        return rolling_block(found, self.around, self.lost) if isinstance(found, SetsBlock) else None

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
    """From one moment to another, in seconds since the class began: an era, where its axis stood, whether it moved. On
    a floor that was followed (`floor`, an index of `RunState.floors`; -1: none) its time at the beginning."""

    from_s: float
    to_s: float
    era: int
    second: float
    state: Standing
    floor: int = -1
    floor_s: float = 0.0


@dataclass(slots=True)
class Ahead:
    """One person stands `ahead_s` before the class (behind it: less than 0) in a block, from a moment on until another,
    in seconds since the class began (None: as long as the block runs). They do not pass the second `stays_at` of the
    axis (None: nothing keeps them)."""

    person: str
    block: str
    ahead_s: float
    from_s: float
    until_s: float | None = None
    stays_at: float | None = None

    def at(self, second: float) -> float:
        """How far they stand before the class when that is at a second of the axis."""
        return self.ahead_s if self.stays_at is None else min(self.ahead_s, self.stays_at - second)


@dataclass(slots=True)
class RunState:
    """How the class went up to a moment: its eras, its stretches, who was away when, and what could not be followed.
    Where the class `follows` its people, `floors` are its visits to blocks at their own pace; in one, `floor` is it.

    `away` are person, from, to (None: still) in seconds since the class began; `changed_by` are the events that
    began each era but the first, `left_at` where everybody stood on each era's axis when it was left, `done_in` the
    block under way then and what everybody had done of it, where people were followed.
    """

    eras: list[Era]
    began_at: datetime | None = None
    now_s: float = 0.0
    second: float = 0.0
    state: Standing = "not begun"
    added_s: float = 0.0
    over_s: float = 0.0
    stops_at: float | None = None
    stretches: list[Stretch] = field(default_factory=list)
    away: list[tuple[str, float, float | None]] = field(default_factory=list)
    ahead: list[Ahead] = field(default_factory=list)
    changed_by: list[str] = field(default_factory=list)
    left_at: list[dict[str, float]] = field(default_factory=list)
    done_in: list[tuple[int, dict[str, frozenset[SetId]]] | None] = field(default_factory=list)
    notices: list[str] = field(default_factory=list)
    follows: Literal["plan", "people"] = "plan"
    floors: list[FloorVisit] = field(default_factory=list)
    floor: FloorVisit | None = None
    done: set[tuple[str, SetId]] = field(default_factory=set)

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
            elif self.over_s > 0:
                until = min(to_s, self.now_s + self.over_s)
                self.over_s = 0.0 if until < to_s else max(0.0, self.over_s - (until - self.now_s))
                self._stand(until, "runs over")
            else:
                self._run(to_s)

    def _stand(self, to_s: float, state: Standing) -> None:
        if state != "ended":
            self._stretch(to_s, state)
            if self.floor is not None:
                if state in ("time added", "runs over"):
                    self.floor.now_s += to_s - self.now_s
                else:
                    self.floor.pause(to_s - self.now_s)
        self.now_s = to_s

    def _run(self, to_s: float) -> None:
        length = self.era.timeline.length_s
        goal = length if self.stops_at is None else min(self.stops_at, length)
        edge = self._edge()
        until = min(to_s, self.now_s + (min(goal, edge) - self.second))
        if until > self.now_s:
            stretch = self._stretch(until, "runs")
            if self.floor is not None:
                self.floor.now_s += until - self.now_s
            self.second = min(goal, edge) if until < to_s else stretch.second + (until - stretch.from_s)
            self.now_s = until
        if self.second >= edge and edge <= goal:
            self._at_edge()
        elif self.second >= goal:
            self.state = "plan is over" if goal >= length else "waits for ready"
            self.stops_at = None

    def _edge(self) -> float:
        """The next second of the axis at which a block at people's own pace begins or, in one, ends."""
        if self.follows == "plan":
            return NEVER
        if self.floor is not None:
            return self.era.timeline.blocks[self.era.place(self.second)[0]].end_s - LAST_S
        starts = (
            span.start_s
            for block, span in zip(self.era.plan.blocks, self.era.timeline.blocks, strict=True)
            if block.OWN_PACE and span.end_s - span.start_s > LAST_S and span.start_s >= self.second
        )
        return next(starts, NEVER)

    def _at_edge(self) -> None:
        """Begin to follow people in the block that begins; leave the one that ends if everybody is done, else go on."""
        if self.floor is None:
            self.enter()
            return
        stands = floor_at(self.floor)
        left = stands.ends_s - self.floor.now_s
        if left > ENDS_WITHIN_S or stands.held:
            self.over_s = min(LOOKS_WITHIN_S, max(left, LOOKS_AFTER_S if stands.held else 0.0))
            return
        self.floor = None
        self.second = self.era.timeline.blocks[self.era.place(self.second)[0]].end_s

    def enter(self) -> None:
        """Follow people from where the class stands, if that is in a block at their own pace."""
        self.floor, self.over_s = None, 0.0
        if self.follows == "plan" or not self.era.plan.blocks:
            return
        block, since = self.era.place(self.second)
        span, rolling = self.era.timeline.blocks[block], self.era.rolling(block)
        if rolling is None or self.second >= span.end_s - LAST_S:
            return
        self.floor = FloorVisit(
            block=self.era.plan.blocks[block].id,
            people=self.era.plan.people,
            from_s=since,
            plans=[FloorPlan(0.0, rolling.work)],
            absent=frozenset(person for person, _, until in self.away if until is None),
            done_before=frozenset(self.done),
        )
        self.floors.append(self.floor)

    def _follow_on(self) -> None:
        """Go on following people by the plan that stands now."""
        block, _ = self.era.place(self.second)
        span, rolling = self.era.timeline.blocks[block], self.era.rolling(block)
        if self.floor is None or rolling is None or self.era.plan.blocks[block].id != self.floor.block:
            self.enter()
            return
        self.over_s = 0.0
        self.second = min(self.second, span.end_s - LAST_S)
        self.floor.plans.append(FloorPlan(self.floor.now_s, rolling.work))

    def _stretch(self, to_s: float, state: Standing) -> Stretch:
        """The stretch from now on; where nothing but time has passed since the last one, that one goes on."""
        era = len(self.eras) - 1
        floor = -1 if self.floor is None else len(self.floors) - 1
        floor_s = 0.0 if self.floor is None else self.floor.now_s
        found = Stretch(self.now_s, to_s, era, self.second, state, floor, floor_s)
        last = self.stretches[-1] if self.stretches else None
        if last is not None and (last.era, last.state, last.to_s, last.floor) == (era, state, self.now_s, floor):
            stood = last.second + (last.to_s - last.from_s if state == "runs" else 0.0)
            if stood == self.second:
                found = Stretch(last.from_s, to_s, era, last.second, state, floor, last.floor_s)
                self.stretches.pop()
        self.stretches.append(found)
        return found

    def ahead_of(self, person: str) -> float:
        """How far somebody stands before the class now, in seconds."""
        block = self.era.plan.blocks[self.era.place(self.second)[0]].id if self.era.plan.blocks else ""
        own = (item for item in self.ahead if item.person == person and item.block == block and item.until_s is None)
        return next((item.at(self.second) for item in own), 0.0)

    def together(self, moment: float, person: str | None = None) -> None:
        """From a moment on somebody, or everybody, stands where the class stands."""
        for item in self.ahead:
            if item.until_s is None and person in (None, item.person):
                item.until_s = moment

    def change(self, plan: ClassPlan, around: Circumstances, by: str, lost: frozenset[str]) -> None:
        """Go on with another plan at the same second of the same block; where that is gone, at the block behind it."""
        block, since = self.era.place(self.second)
        era = Era(plan, timeline_in(plan, around), around, lost)
        behind = [(each_block.id, 0.0) for each_block in self.era.plan.blocks[block + 1 :]]
        goals = [(self.era.plan.blocks[block].id, since), *behind]
        found = (era.second_of(name, second) for name, second in goals)
        second = next((item for item in found if item is not None), era.timeline.length_s)
        self.left_at.append({name: self.second + self.ahead_of(name) for name in self.era.plan.people})
        done = None if self.floor is None else floor_at(self.floor).over(self.floor.people)
        self.done_in.append(None if done is None else (block, done))
        self.eras.append(era)
        self.changed_by.append(by)
        self.second, self.stops_at = second, None
        if self.began_at is not None and self.state != "not begun":
            self._follow_on()
        if self.state == "plan is over" and second < era.timeline.length_s:
            self.state = "runs"


def circumstances(file: ClassFile, plan: ClassPlan) -> Circumstances:
    """What a plan of this class is laid out in."""
    return Circumstances.of(plan.room_of(file.room), file.participants, file.catalogue(), plan.wishes())


def replay_events(file: ClassFile, events: Sequence[Event], now: datetime) -> RunState:
    """How a class went by its events, up to `now`. The file must have been checked (`read_class`)."""
    counting = [event for event in standing(events) if event.happened_at <= now]
    plan, around = file.plan, circumstances(file, file.plan)
    run_state = RunState([Era(plan, timeline_in(plan, around), around)])
    began = next((event for event in counting if isinstance(event, Began)), None)
    if began is not None:
        run_state.began_at, run_state.follows = began.happened_at, began.follows
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
            run_state.enter()
            if run_state.state in ("plan is over", "waits for ready"):
                run_state.state = "runs"
        case SetDone() | SetStarted() | TookAnother() | SetSkipped():
            _see(run_state, file, event)
        case MovedOn() if begun:
            _move_on(run_state, file, event, moment)
        case Tagged() if begun:
            _tag(run_state, event, moment)
        case Ended() if begun:
            run_state.state = "ended"
        case Came() | Left() | StoppedFor():
            _presence(run_state, file, event, moment)
        case UnitLost() | UnitBack() if run_state.state != "ended":
            _unit(run_state, file, event)
        case Changed() if run_state.state != "ended":
            _change(run_state, file, event.id, run_state.era.plan, [event.change])
        case _:
            pass


_HOW: dict[str, How] = {
    "set_done": "done", "set_started": "started", "took_another": "another", "set_skipped": "skipped",
}  # fmt: skip


def _see(run_state: RunState, file: ClassFile, event: SetDone | SetStarted | TookAnother | SetSkipped) -> None:
    """What was pressed of a set moves its person on, where people are followed."""
    set_id = (event.part, event.number)
    if event.person not in file.plan.people:
        run_state.notices.append(f"{event.id}: {event.person!r} is not among the people of this class")
    elif run_state.floor is not None and run_state.state != "ended":
        unit = next((number for number, unit in enumerate(file.room.units) if unit.id == event.unit), None)
        seen = SeenPress(run_state.floor.now_s, _HOW[event.kind], event.person, set_id, unit)
        run_state.floor.presses.append(seen)
    if isinstance(event, SetDone):
        run_state.done.add((event.person, set_id))


def _change(run_state: RunState, file: ClassFile, by: str, plan: ClassPlan, changes: Sequence[Change]) -> None:
    """Go on with a plan, changed; where a change cannot be made, without it."""
    changed = plan is not run_state.era.plan
    for change in changes:
        try:
            plan, changed = apply(plan, change, file.catalogue()), True
        except FaultyInput as error:
            run_state.notices.append(f"{by}: {error}")
    if changed:
        lost = frozenset(plan.taken) - frozenset(file.plan.taken)
        run_state.change(plan, circumstances(file, plan), by, lost)


def _move_on(run_state: RunState, file: ClassFile, event: MovedOn, moment: float) -> None:
    goal = run_state.era.second_of(event.block, event.second)
    here = run_state.era.plan.blocks[run_state.era.place(run_state.second)[0]]
    if goal is None or here.id != event.block or event.person not in file.plan.people:
        run_state.notices.append(f"{event.id}: {event.person!r} cannot be moved on in block {event.block!r} now")
        return
    if run_state.floor is not None:
        seen = SeenPress(run_state.floor.now_s, "stands", event.person, second=event.second)
        run_state.floor.presses.append(seen)
        return
    run_state.together(moment, event.person)
    run_state.ahead.append(Ahead(event.person, event.block, goal - run_state.second, moment))


def _tag(run_state: RunState, event: Tagged, moment: float) -> None:
    """A team's next turn begins, and goes on until it is tagged."""
    number, _ = run_state.era.place(run_state.second)
    block, people = run_state.era.plan.blocks[number], run_state.era.plan.people
    if block.id != event.block or not isinstance(block, RelayBlock) or event.person not in people:
        run_state.notices.append(f"{event.id}: {event.person!r} cannot tag in block {event.block!r} now")
        return
    passage = run_state.era.timeline.passages[number]
    team = next((own for own in teams_of(passage) if people.index(event.person) in own), [])
    last = [item.from_s for item in run_state.ahead if item.person == event.person and item.block == block.id
            and item.stays_at is not None]  # fmt: skip
    second = run_state.second + run_state.ahead_of(event.person)
    since = moment - max(last) if last else None
    place = tagged(block, turns_of_team(passage, team), second, since)
    if place is None:
        return
    stays = None if place.until_s is None else place.until_s - LAST_S
    for person in team:
        run_state.together(moment, people[person])
        run_state.ahead.append(Ahead(people[person], block.id, place.second - run_state.second, moment, stays_at=stays))


def _unit(run_state: RunState, file: ClassFile, event: UnitLost | UnitBack) -> None:
    plan = run_state.era.plan
    if event.unit not in {unit.id for unit in file.room.units}:
        run_state.notices.append(f"{event.id}: there is no unit {event.unit!r} in the room")
        return
    left = [unit for unit in plan.taken if unit != event.unit]
    taken = [*left, event.unit] if isinstance(event, UnitLost) else left
    changed = plan if taken == plan.taken else plan.model_copy(update={"taken": taken})
    _change(run_state, file, event.id, changed, event.changes if isinstance(event, UnitLost) else ())


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
    if run_state.floor is not None:
        how: How = "came" if isinstance(event, Came) else "left"
        run_state.floor.presses.append(SeenPress(run_state.floor.now_s, how, event.person))
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
