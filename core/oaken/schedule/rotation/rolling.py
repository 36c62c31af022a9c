"""The rest of a block dispatched again from where everybody really is: the dispatcher's rule with what is known.

`self_paced.dispatch` lays a block out from nothing. This does the same from the block's beginning with every start and
end that was seen pinned where it was, so that the past is what happened, what nobody saw is what the dispatcher makes
of it, and the future is the rest of the work on the machines as they are. With nothing seen it is the same, to the
last digit (a property test). `web/src/live/rolling.ts` does the same on a device, held to this by golden cases.

What is seen is never moved: nobody is in two places, and no unit has two users at once. An unseen set that would stand
in the way of a seen one on its unit has ended before that one began.
"""

from __future__ import annotations

import heapq
from collections import Counter, defaultdict
from collections.abc import Sequence
from dataclasses import dataclass, field
from functools import cached_property
from typing import NamedTuple

from oaken.schedule.rotation.self_paced import Gates, Place

HELD_AT_MOST_S = 90.0
"""A set that somebody who presses has not pressed goes on for so long at most; then the press was forgotten (a trial on
simulated floors: 45 s is too short, 90 s right unless many forget)."""

HELD_ON_S = 5.0
"""A set that is waited for is expected to be over in so many seconds, whenever it is asked."""

HOLDS_MISSED = 2
"""Of somebody whose press was forgotten for so many sets in a row nothing is waited for until it is pressed again."""

SOONER = 0.6
"""An unseen set may have taken this share of its seconds where somebody else is seen on its unit behind it."""

FASTEST_PACE, SLOWEST_PACE = 0.8, 1.3
"""What a pace learned in the class does not go beyond."""

CLEAN_WAIT_S = 2.0
"""Of a stretch in which somebody waited for longer nothing is learned about their pace."""

OWN_WEIGHT, CLASS_WEIGHT = 4.0, 10.0
"""How many stretches as planned a person's pace, and the class's, begin with."""


class RollingTask(NamedTuple):
    """A set of somebody: what is needed of it to give it a place again.

    `kind` is where it is done, `visit` what it belongs to, `turn_s`, `ready_s` and `start_s` when its turn was planned,
    when its person would be ready for it and when its work began by the plan; `id` is the part of the plan and the
    number of the set, `use` what the block has there for this person. The others are those of a `Task`; loads are only
    compared.
    """

    id: tuple[str, int]
    use: int
    kind: str
    work_s: float
    rest_s: float
    set_up_s: float
    load_change_s: float
    load: float | None
    leaves: float | None
    keeps: bool
    visit: int
    turn_s: float
    ready_s: float
    start_s: float


@dataclass(frozen=True)
class RollingWork:
    """A block at people's own pace as the plan has it. `stock[kind]` are the units of its working places (none:
    unlimited), `gone` the kinds of which the class has lost every unit: what needs them is left out."""

    tasks: Sequence[Sequence[RollingTask]]
    stock: dict[str, list[int]]
    walks_s: dict[tuple[int, int], float]
    own_times: dict[int, tuple[float | None, float | None]] = field(default_factory=dict)
    gates: dict[int, tuple[str, ...]] = field(default_factory=dict)
    width: dict[str, int] = field(default_factory=dict)
    release_s: Sequence[float] = ()
    gone: frozenset[str] = frozenset()

    @cached_property
    def index_of(self) -> list[dict[tuple[str, int], int]]:
        """Where everybody's sets stand among their tasks, by id."""
        return [{task.id: index for index, task in enumerate(own)} for own in self.tasks]

    @cached_property
    def by_id(self) -> list[dict[tuple[str, int], RollingTask]]:
        """Everybody's tasks by id."""
        return [{task.id: task for task in own} for own in self.tasks]

    @cached_property
    def places(self) -> Counter[int]:
        """How many places every unit has."""
        return Counter(unit for units in self.stock.values() for unit in units)


class SeenSet(NamedTuple):
    """What is known of a set: when it began or ended (None: not seen), where, that it is over, and by when at the
    latest. Of a set that was under way when the plan changed the start is only `assumed`."""

    start_s: float | None = None
    end_s: float | None = None
    unit: int | None = None
    over: bool = False
    latest_s: float | None = None
    assumed: bool = False


@dataclass
class PersonOnFloor:
    """What is known of somebody: the order of what they still have to do (indices of tasks), what was seen of it,
    before which moment a set does not begin (`not_before_s`), when they were away, what they did in an earlier plan
    and where they stood at its end, and whether whoever presses for them presses promptly."""

    order: list[int]
    seen: dict[int, SeenSet] = field(default_factory=dict)
    not_before_s: dict[int, float] = field(default_factory=dict)
    away: list[tuple[float, float]] = field(default_factory=list)
    fixed: list[Placement] = field(default_factory=list)
    stands_at: int | None = None
    prompt: bool = False


class Placement(NamedTuple):
    """A set on the floor: leave the last place, arrive, rested, set-up, work, end, all in seconds of the block's floor
    time. `known`: its end was seen, or it is not over and its start was; `held`: it would be over but nobody said so;
    `cut`: it was broken off."""

    task: RollingTask
    leave_s: float
    arrive_s: float
    rested_s: float
    set_up_from_s: float
    load_change_s: float
    work_from_s: float
    end_s: float
    unit: int
    known: bool
    held: bool
    cut: bool = False


@dataclass(slots=True)
class _Lane(Place):
    """A place with when somebody was seen on it (from, until, who), and when sets were put on it."""

    seen: list[tuple[float, float, int]] = field(default_factory=list)
    taken: list[tuple[float, float]] = field(default_factory=list)

    def take(self, person: int, since_s: float, until_s: float, leaves: float | None) -> None:
        if until_s > self.free_s:
            self.free_s = until_s
        self.user, self.load = person, leaves
        self.taken.append((since_s, until_s))

    def next_seen(self, person: int, since_s: float) -> float:
        """When somebody else was seen to begin here after a moment."""
        return min((begin for begin, _, other in self.seen if other != person and begin > since_s), default=NEVER)

    def fits(self, begin: float, end: float) -> tuple[float, float]:
        """The last part of a stretch in which nobody else was on it; empty at its end where there is none."""
        if self.free_s <= begin:
            return begin, end
        for since, until in self.taken:
            if since < end and until > begin:
                if until < end:
                    begin = until
                else:
                    end = max(begin, since)
        return begin, end


class _Chosen(NamedTuple):
    lane: _Lane | None
    arrive_s: float
    start_s: float
    set_up_s: float
    change_s: float
    until_s: float


def roll(
    work: RollingWork,
    people: Sequence[PersonOnFloor],
    now_s: float,
    pauses: Sequence[tuple[float, float]] = (),
) -> list[list[Placement]]:
    """Everybody's sets, done and to come, as they stand at `now_s` seconds of floor time.

    `pauses` are moments at which the floor stood still, with their seconds: who had a rest to go rested in them.
    Deterministic: ties go to the lower person.
    """
    return _Rolling(work, people, now_s, pauses).run()


class _Rolling:
    def __init__(
        self,
        work: RollingWork,
        people: Sequence[PersonOnFloor],
        now_s: float,
        pauses: Sequence[tuple[float, float]],
    ) -> None:
        self.work, self.people, self.now_s, self.pauses = work, people, now_s, pauses
        self.lanes = {kind: [self._lane(unit) for unit in units] for kind, units in work.stock.items()}
        self.placed: list[list[Placement]] = [[] for _ in people]
        self.at = [0] * len(people)
        self.turns: list[tuple[float, int]] = []
        self.since: list[tuple[float, float, int]] = [(0.0, 0.0, -1)] * len(people)
        self.missed = [0] * len(people)
        # of everybody and of the class: how many stretches were seen, and the sum of their real shares of the plan
        self.own_pace = [(OWN_WEIGHT, OWN_WEIGHT) for _ in people]
        self.class_pace = (CLASS_WEIGHT, CLASS_WEIGHT)
        self.gates = self._gates() if work.gates else None
        self._reserve()
        self._stand()

    def _lane(self, unit: int) -> _Lane:
        set_up_s, load_change_s = self.work.own_times.get(unit, (None, None))
        return _Lane(unit, set_up_s=set_up_s, load_change_s=load_change_s)

    def run(self) -> list[list[Placement]]:
        """Serve whoever's turn it is until nobody has anything to do."""
        for person in range(len(self.people)):
            self._queue(person)
        while self.turns or (self.gates is not None and self.gates.waiting):
            turn, person = heapq.heappop(self.turns) if self.turns or self.gates is None else self.gates.let_in()
            self._serve(person, turn)
        return self.placed

    def _gates(self) -> Gates:
        left: dict[int, int] = defaultdict(int)
        for person, own in zip(self.people, self.work.tasks, strict=True):
            for index in person.order:
                left[own[index].visit] += 1
            for placement in person.fixed:
                left[placement.task.visit] += 1
        return Gates(self.work.gates, self.work.width, left)

    def _reserve(self) -> None:
        """Note on every unit when somebody was seen on it."""
        for number, (person, own) in enumerate(zip(self.people, self.work.tasks, strict=True)):
            for index, seen in person.seen.items():
                task = own[index]
                lanes = self.lanes.get(task.kind, [])
                if seen.end_s is None and seen.start_s is None:
                    continue
                mine = [lane for lane in lanes if seen.unit in (None, lane.unit)]
                if len(mine) == 1:
                    end = seen.end_s
                    if end is None:
                        assert seen.start_s is not None
                        end = max(self.now_s, seen.start_s + task.work_s)
                    begin = end - task.work_s if seen.start_s is None else seen.start_s
                    mine[0].seen.append((begin, end, number))
        for lanes in self.lanes.values():
            for lane in lanes:
                lane.seen.sort()

    def _stand(self) -> None:
        """Put everybody where an earlier plan left them."""
        fixed = [
            (placement.work_from_s, number, placement)
            for number, person in enumerate(self.people)
            for placement in person.fixed
        ]
        for _, number, placement in sorted(fixed, key=lambda item: (item[0], item[1])):
            self.placed[number].append(placement)
            lanes = [lane for own in self.lanes.values() for lane in own if lane.unit == placement.unit]
            if placement.unit >= 0 and lanes:
                lane = min(lanes, key=lambda lane: lane.free_s)
                lane.take(number, placement.set_up_from_s, placement.end_s, placement.task.leaves)
            if self.gates is not None:
                self.gates.opened(placement.task.visit, number, placement.work_from_s, passed=True)
                self.gates.closed(placement.task.visit, placement.end_s)

    def _own(self, person: int) -> float:
        """The pace of somebody as it was seen so far today."""
        planned, real = self.own_pace[person]
        of_class = self.class_pace[1] / self.class_pace[0]
        found = (real - OWN_WEIGHT + OWN_WEIGHT * of_class) / planned
        return min(SLOWEST_PACE, max(FASTEST_PACE, found))

    def _rested_s(self, leave_s: float, rest_s: float) -> float:
        """When somebody has had their rest: what they stood through in a pause was rest too."""
        for at, length in self.pauses:
            if leave_s <= at < leave_s + rest_s:
                rest_s = max(at - leave_s, rest_s - length)
        return leave_s + rest_s

    def _since(self, person: int) -> tuple[float, float, int]:
        """When somebody left their last place, when they have rested, and where they are."""
        done, own = self.placed[person], self.people[person]
        if not done:
            release = self.work.release_s[person] if self.work.release_s else 0.0
            if own.order and own.order[0] in own.seen:
                release = 0.0  # whoever was seen did not wait until they were to begin
            return release, release, -1 if own.stands_at is None else own.stands_at
        last = done[-1]
        rest = last.task.rest_s
        if not (last.end_s < self.now_s and self._seen_next(person)):
            rest *= self._own(person)
        at = own.stands_at if own.stands_at is not None and len(done) == len(own.fixed) else last.unit
        return last.end_s, self._rested_s(last.end_s, rest), at

    def _seen_next(self, person: int) -> bool:
        own = self.people[person]
        return self.at[person] < len(own.order) and own.order[self.at[person]] in own.seen

    def _queue(self, person: int) -> None:
        """Note when it is somebody's turn again."""
        own = self.people[person]
        while self.at[person] < len(own.order):
            task = self.work.tasks[person][own.order[self.at[person]]]
            if task.kind not in self.work.gone or self._seen_next(person):
                break
            self.at[person] += 1
        if self.at[person] == len(own.order):
            return
        index = own.order[self.at[person]]
        task, seen = self.work.tasks[person][index], own.seen.get(index)
        self.since[person] = self._since(person)
        ready = self.since[person][1]
        turn = task.turn_s + (max(ready, own.not_before_s.get(index, 0.0)) - task.ready_s)
        if seen is not None and seen.start_s is not None:
            turn = min(turn, seen.start_s)
        elif seen is not None and seen.end_s is not None:
            turn = min(turn, seen.end_s - task.work_s)
        heapq.heappush(self.turns, (turn, person))

    def _serve(self, person: int, turn: float) -> None:
        """Place somebody's next set, and those that stay on its unit."""
        own, tasks = self.people[person], self.work.tasks[person]
        held_s = 0.0
        if self.gates is not None:
            index = own.order[self.at[person]]
            opened = self.gates.opened(tasks[index].visit, person, turn, passed=index in own.seen)
            if opened is None:
                return  # comes back when a visit that is in the way has ended
            held_s = opened
        kept: _Lane | None = None
        leave, ready, at = self.since[person]
        while True:
            index = own.order[self.at[person]]
            task, seen = tasks[index], own.seen.get(index)
            earliest = own.not_before_s.get(index, 0.0)
            if earliest > ready:
                ready = earliest
            for since, until in own.away:
                if since <= ready < until:
                    ready = until
            rested = ready
            if held_s > ready:
                ready = held_s
            if ready == NEVER:
                self._gone(person)
                return
            pace = self._own(person)
            if kept is not None:
                set_up, change = kept.preparing(person, task)
                chosen = _Chosen(kept, leave, ready, set_up, change, NEVER)
            else:
                chosen = self._choose(person, task, seen, leave, ready, at, pace)
            placement = self._place(person, task, seen, chosen, leave, max(chosen.arrive_s, rested), pace)
            for since, until in own.away:
                if placement.set_up_from_s < since < placement.end_s and placement.end_s > self.now_s:
                    # whoever goes leaves their set as it is
                    placement = placement._replace(
                        end_s=since, work_from_s=min(since, placement.work_from_s), held=False, cut=True
                    )
                elif since <= placement.set_up_from_s < until and until == NEVER:
                    self._gone(person)
                    return
            if chosen.lane is not None:
                chosen.lane.take(person, placement.set_up_from_s, placement.end_s, task.leaves)
            self.placed[person].append(placement)
            self.at[person] += 1
            if self.gates is not None:
                for again in self.gates.closed(task.visit, placement.end_s):
                    heapq.heappush(self.turns, again)
            if not task.keeps or chosen.lane is None or self.at[person] == len(own.order):
                break
            kept = chosen.lane
            leave, ready, at = self._since(person)
        self._queue(person)

    def _gone(self, person: int) -> None:
        """Somebody has left and does nothing any more."""
        own = self.people[person]
        for index in own.order[self.at[person] :]:
            if self.gates is not None:
                for again in self.gates.closed(self.work.tasks[person][index].visit, self.now_s):
                    heapq.heappush(self.turns, again)
        self.at[person] = len(own.order)

    def _choose(
        self, person: int, task: RollingTask, seen: SeenSet | None, leave: float, ready: float, at: int, pace: float
    ) -> _Chosen:
        """The place on which work can begin first, or the one on which it was seen."""
        lanes = self.lanes.get(task.kind, [])
        if seen is not None and seen.unit is not None:
            lanes = [lane for lane in lanes if lane.unit == seen.unit] or lanes
        if not lanes:
            done = self.placed[person]
            settled = bool(done) and done[-1].task.kind == task.kind
            return _Chosen(None, leave, ready, 0.0 if settled else task.set_up_s, 0.0, NEVER)
        best: _Chosen | None = None
        for lane in lanes:
            arrive = leave + self.work.walks_s.get((at, lane.unit), 0.0)
            start = max(ready, arrive, lane.free_s)
            set_up, change = lane.preparing(person, task)
            until = NEVER
            if seen is None or (seen.end_s is None and seen.start_s is None):
                start, until = _between(lane, person, start, set_up + change, task.work_s * pace)
            begin = start + (set_up + change)
            if best is None:
                best = _Chosen(lane, arrive, start, set_up, change, until)
                continue
            known = best.start_s + (best.set_up_s + best.change_s)
            if begin < known or (begin == known and start < best.start_s):
                best = _Chosen(lane, arrive, start, set_up, change, until)
        assert best is not None
        return best

    def _place(
        self,
        person: int,
        task: RollingTask,
        seen: SeenSet | None,
        chosen: _Chosen,
        leave: float,
        rested: float,
        pace: float,
    ) -> Placement:
        """A set at the place that was chosen, as far as it was seen."""
        begin = chosen.start_s + chosen.set_up_s + chosen.change_s
        end = begin + task.work_s * pace
        unit = -1 if chosen.lane is None else chosen.lane.unit
        if seen is None:
            held = False
            if chosen.until_s < end:
                end = chosen.until_s
            elif self._waits_for(person, end, self.people[person].prompt):
                end, held = self.now_s + HELD_ON_S, True
            return Placement(
                task, leave, chosen.arrive_s, rested, chosen.start_s, chosen.change_s, begin, end, unit, False, held
            )
        held = False
        if seen.start_s is not None:
            begin = max(leave, seen.start_s)
            end = begin + task.work_s * pace
            if seen.end_s is not None:
                end = max(begin, seen.end_s)
            elif seen.over:
                end = max(begin, min(end, self.now_s if seen.latest_s is None else seen.latest_s))
            elif self._waits_for(person, end, self.people[person].prompt):
                end, held = self.now_s + HELD_ON_S, True
            after = NEVER if chosen.lane is None else chosen.lane.next_seen(person, begin)
            if seen.end_s is None and after < end:
                # somebody else is seen on the unit since
                end, held = after, False
        elif seen.end_s is not None:
            end = max(leave, seen.end_s)
            planned = (rested - leave) + (begin - chosen.start_s) + task.work_s
            self._learn(person, chosen.start_s - rested, planned, end - leave)
            begin = max(leave, end - task.work_s * pace)
        else:
            latest = self.now_s if seen.latest_s is None else min(self.now_s, seen.latest_s)
            end = max(leave, min(end, latest))
            begin = max(leave, min(begin, end - task.work_s * pace))
        if chosen.lane is not None:
            expected = end
            begin, end = chosen.lane.fits(begin, end)
            held = held and end == expected
            set_up_from = chosen.lane.fits(max(leave, min(chosen.start_s, begin)), begin)[0]
        else:
            set_up_from = max(leave, min(chosen.start_s, begin))
        self.missed[person] = 0
        known = seen.end_s is not None or (seen.start_s is not None and not seen.over and not seen.assumed)
        return Placement(
            task,
            leave,
            min(chosen.arrive_s, set_up_from),
            min(rested, set_up_from),
            set_up_from,
            min(chosen.change_s, begin - set_up_from),
            begin,
            end,
            unit,
            known,
            held,
        )

    def _waits_for(self, person: int, end_s: float, prompt: bool) -> bool:
        """Whether a set that would be over is waited for, because nobody said so."""
        if not prompt or end_s >= self.now_s:
            return False
        if self.now_s <= end_s + HELD_AT_MOST_S:
            return self.missed[person] < HOLDS_MISSED
        self.missed[person] += 1
        return False

    def _learn(self, person: int, waited_s: float, planned_s: float, real_s: float) -> None:
        """Take a stretch from one seen end to the next into the pace of its person and of the class."""
        done = self.placed[person]
        if not done or not done[-1].known or waited_s > CLEAN_WAIT_S or planned_s <= 0:
            return
        ratio = min(2.0, max(0.5, real_s / planned_s))
        planned, real = self.own_pace[person]
        self.own_pace[person] = (planned + 1.0, real + ratio)
        planned, real = self.class_pace
        self.class_pace = (planned + 1.0, real + ratio)


NEVER = float("inf")


def _between(lane: _Lane, person: int, start: float, needs: float, work: float) -> tuple[float, float]:
    """When a set that nobody saw can begin on a unit, so that it does not overlap what was seen on it, and by when it
    was over at the latest."""
    for since, until, other in lane.seen:
        if until <= start or other == person:
            continue
        if since >= start + needs + work:
            break
        if since >= start + needs + SOONER * work:
            return start, since
        start = until
    return start, NEVER
