"""What happens at each second: for every person one gap-free list of steps from the start of the class to its end."""

from __future__ import annotations

from dataclasses import dataclass, field
from enum import IntEnum
from typing import assert_never

from oaken.catalogue import Catalogue, Exercise
from oaken.people import Person
from oaken.plan import CircuitBlock, ClassPlan, SetsBlock, SetSlot, TogetherBlock
from oaken.prescription import Sides, WorkSet, clocked_work, rounds_of, straight_sets
from oaken.prescription.segments import Load, Segment
from oaken.room import Room
from oaken.rotation.clocked import clocked_rotation, share_out
from oaken.rotation.self_paced import Placed, Task, first_come_first_served, makespan_bound

CHANGE_OF_SIDE_S = 5.0
"""Seconds to change sides within a set (common practice, no source)."""


class Doing(IntEnum):
    """What a person does during a step."""

    WORK = 0
    CHANGE = 1  # walking, set-up, load change
    REST = 2
    WAIT = 3  # for a machine that somebody else is using
    FINISHED = 4  # done with the block before the others
    BREATHER = 5  # a turn of a clocked rotation without a station


@dataclass(slots=True)
class Step:
    """A stretch [start_s, end_s) in which one person does one thing.

    `slot` indexes `Timeline.slots` (-1 for none), `unit` the room's units (-1 for the floor), `lane` says which of the
    places of the slot. `segment` is set while working; `opens_set` marks the first segment of a set.
    """

    start_s: float
    end_s: float
    doing: Doing
    block: int
    slot: int = -1
    unit: int = -1
    lane: int = -1
    round: int = 0
    segment: Segment | None = None
    opens_set: bool = False


@dataclass(frozen=True, slots=True)
class SlotUse:
    """One exercise in one place of the plan, flattened: the index of its block and group, and its own id."""

    block: int
    group: int
    id: str
    exercise: Exercise
    places: int


@dataclass(frozen=True, slots=True)
class BlockSpan:
    """When a block runs, and what its rotation needed: `bound_s` is the proven least duration of its rotation."""

    start_s: float
    end_s: float
    bound_s: float
    turns: int = 0
    breathers: int = 0


@dataclass(slots=True)
class Timeline:
    """The class on its one time axis. `paths[p]` are the steps of person p, without gaps or overlaps."""

    paths: list[list[Step]]
    slots: list[SlotUse]
    blocks: list[BlockSpan]
    length_s: float


@dataclass(slots=True)
class _Stage:
    """What a block's schedule is built from and written to."""

    plan: ClassPlan
    room: Room
    people: list[Person]
    catalogue: Catalogue
    pace: float
    slots: list[SlotUse] = field(default_factory=list)
    paths: list[list[Step]] = field(default_factory=list)

    def add_slot(self, block: int, group: int, slot_id: str, exercise: Exercise, places: int) -> int:
        self.slots.append(SlotUse(block, group, slot_id, exercise, places))
        return len(self.slots) - 1


def build_timeline(
    plan: ClassPlan, room: Room, people: list[Person], catalogue: Catalogue, pace: float = 1.0
) -> Timeline:
    """Lay the plan out in time.

    `people` are in the order of the plan. `pace` stretches (> 1) or shrinks (< 1) everything that is not on the
    clock: repetitions, set-up, load changes.
    """
    stage = _Stage(plan, room, people, catalogue, pace, paths=[[] for _ in people])
    spans: list[BlockSpan] = []
    now = 0.0
    for index, block in enumerate(plan.blocks):
        match block:
            case CircuitBlock():
                span = _circuit(stage, index, block, now)
            case SetsBlock():
                span = _sets(stage, index, block, now)
            case TogetherBlock():
                span = _together(stage, index, block, now)
            case _:
                assert_never(block)
        spans.append(span)
        now = span.end_s
        for path in stage.paths:
            if path[-1].end_s < now:
                path.append(Step(path[-1].end_s, now, Doing.FINISHED, index))
        if index < len(plan.blocks) - 1 and block.move_on_s:
            for path in stage.paths:
                path.append(Step(now, now + block.move_on_s, Doing.CHANGE, index))
            now += block.move_on_s
    return Timeline(stage.paths, stage.slots, spans, now)


def _circuit(stage: _Stage, index: int, block: CircuitBlock, start: float) -> BlockSpan:
    exercises = [stage.catalogue.exercises[station.exercise] for station in block.stations]
    shares = share_out([exercise.equipment for exercise in exercises], stage.room)
    crowd = len(stage.people)
    capacities = [len(share) or crowd for share in shares]
    rotation = clocked_rotation(crowd, capacities)
    slots = [
        stage.add_slot(index, -1, station.id, exercise, len(share))
        for station, exercise, share in zip(block.stations, exercises, shares, strict=True)
    ]
    sets = [
        clocked_work(block.work_s, exercise.tempo, one_sided=exercise.sides == "one_sided", load=station.load)
        for station, exercise in zip(block.stations, exercises, strict=True)
    ]
    round_rest = block.change_s if block.round_rest_s is None else block.round_rest_s
    between = Doing.CHANGE if block.round_rest_s is None else Doing.REST
    now = start
    for round_ in range(block.rounds):
        for turn in range(rotation.turns):
            end = now + block.work_s
            last_turn = turn == rotation.turns - 1
            pause = round_rest if last_turn else block.change_s
            if last_turn and round_ == block.rounds - 1:
                pause = 0
            for person, path in enumerate(stage.paths):
                station = rotation.station(person, turn)
                if station is None:
                    path.append(Step(now, end, Doing.BREATHER, index, round=round_))
                else:
                    lane = rotation.lane(person)
                    unit = shares[station][lane] if lane < len(shares[station]) else -1
                    (segment,) = sets[station]
                    path.append(
                        Step(now, end, Doing.WORK, index, slots[station], unit, lane, round_, segment, opens_set=True)
                    )
                if pause:
                    path.append(Step(end, end + pause, between if last_turn else Doing.CHANGE, index, round=round_))
            now = end + pause
    return BlockSpan(start, now, now - start, rotation.turns, rotation.breathers)


@dataclass(frozen=True, slots=True)
class _SetsSchedule:
    """A block of sets laid out: everybody's placed tasks, from 0 s, and what a task's tag points at.

    `slots[group][place]` lists the slot, its exercise and how many places the room has for it.
    """

    slots: list[list[tuple[SetSlot, Exercise, int]]]
    sets: list[tuple[int, int, int, WorkSet]]  # group, place, round, set
    placed: list[list[Placed]]
    bound_s: float

    @property
    def length_s(self) -> float:
        """Seconds until the last person is done."""
        return max(own[-1].end_s for own in self.placed)


def _schedule(
    block: SetsBlock, room: Room, people: list[Person], catalogue: Catalogue, walks: _Walks, pace: float
) -> _SetsSchedule:
    """Let everybody work through the groups, each person beginning with another one."""
    stock: dict[str, list[int]] = {}
    slots: list[list[tuple[SetSlot, Exercise, int]]] = []
    sets: list[tuple[int, int, int, WorkSet]] = []
    tags: list[list[int]] = []
    for number, group in enumerate(block.groups):
        listed = []
        for slot in group.slots:
            exercise = catalogue.exercises[slot.exercise]
            stock[exercise.equipment] = room.working(exercise.equipment)
            listed.append((slot, exercise, len(stock[exercise.equipment])))
        slots.append(listed)
        once = [_work_set(slot, exercise) for slot, exercise, _ in listed]
        tags.append([])
        for round_, in_turn in enumerate(rounds_of(once, group.rounds, group.rest_s)):
            for place, work_set in enumerate(in_turn):
                tags[number].append(len(sets))
                sets.append((number, place, round_, work_set))

    tasks: list[list[Task]] = []
    for person, who in enumerate(people):
        own: dict[tuple[int, int, float], Task] = {}
        mine = []
        for turn in range(len(tags)):
            for tag in tags[(person + turn) % len(tags)]:
                number, place, _, work_set = sets[tag]
                key = (number, place, work_set[-1].pause_after_s)
                if key not in own:
                    own[key] = _task(who, slots[number][place][1], work_set, catalogue, pace)
                mine.append(own[key]._replace(tag=tag))
        tasks.append(mine)
    placed = first_come_first_served(tasks, stock, lambda here, there: walks.seconds(here, there) * pace)
    return _SetsSchedule(slots, sets, placed, makespan_bound(tasks, stock))


@dataclass(slots=True)
class _Walks:
    """Walking seconds between units, each pair computed once."""

    room: Room
    known: dict[tuple[int, int], float] = field(default_factory=dict)

    def seconds(self, here: int, there: int) -> float:
        pair = (here, there)
        if pair not in self.known:
            self.known[pair] = self.room.walk_s(here, there)
        return self.known[pair]


def _sets(stage: _Stage, index: int, block: SetsBlock, start: float) -> BlockSpan:
    schedule = _schedule(block, stage.room, stage.people, stage.catalogue, _Walks(stage.room), stage.pace)
    slots = [
        [stage.add_slot(index, number, slot.id, exercise, places) for slot, exercise, places in listed]
        for number, listed in enumerate(schedule.slots)
    ]
    for path, own in zip(stage.paths, schedule.placed, strict=True):
        for move in own:
            group, place, round_, work_set = schedule.sets[move.task.tag]
            _append_move(path, move, start, index, slots[group][place], round_, work_set, stage.pace)
    return BlockSpan(start, start + schedule.length_s, schedule.bound_s)


def paced(
    plan: ClassPlan, room: Room, people: list[Person], catalogue: Catalogue, timeline: Timeline, pace: float
) -> tuple[float, list[float]]:
    """Length of the class and everybody's seconds of waiting, were all repetitions and set-ups `pace` times as long.

    Only what is not on the clock is laid out again: the rest of `timeline` does not move.
    """
    length = timeline.length_s
    waits = [0.0] * len(people)
    walks = _Walks(room)
    for block, span in zip(plan.blocks, timeline.blocks, strict=True):
        if isinstance(block, SetsBlock):
            schedule = _schedule(block, room, people, catalogue, walks, pace)
            length += schedule.length_s - (span.end_s - span.start_s)
            for person, own in enumerate(schedule.placed):
                waits[person] += sum(move.set_up_from_s - move.rested_s for move in own)
    return length, waits


def _work_set(slot: SetSlot, exercise: Exercise) -> WorkSet:
    one_sided = exercise.sides == "one_sided"
    sides: Sides = slot.sides or ("each_side" if one_sided else "both")
    return straight_sets(
        1,
        slot.tempo or exercise.tempo,
        reps=slot.reps,
        seconds=slot.seconds,
        sides=sides,
        change_of_side_s=CHANGE_OF_SIDE_S if sides != "both" else 0.0,
        load=slot.load,
    )[0]


def _task(who: Person, exercise: Exercise, work_set: WorkSet, catalogue: Catalogue, pace: float) -> Task:
    kind = catalogue.equipment[exercise.equipment]
    load = load_kg(work_set[0].load, who, exercise)
    inside = sum(segment.pause_after_s for segment in work_set[:-1])
    return Task(
        kind=exercise.equipment,
        work_s=sum(segment.duration_s(pace) for segment in work_set) + inside,
        rest_s=work_set[-1].pause_after_s,
        set_up_s=kind.set_up_s * pace,
        load_change_s=kind.load_change_s * pace if load is not None else 0.0,
        load=None if load is None else round(load, 1),
        tag=-1,
    )


def load_kg(load: Load | None, who: Person, exercise: Exercise) -> float | None:
    """Kilograms this person moves at this load; None when no load is meant or the person's best is not known."""
    return load.kg(who.bests_kg.get(exercise.id)) if load is not None and exercise.takes_load else None


def _append_move(
    path: list[Step],
    move: Placed,
    start: float,
    block: int,
    slot: int,
    round_: int,
    work_set: WorkSet,
    pace: float,
) -> None:
    """Write one placed task as steps: walk, rest, wait, set up, then the segments of the set with their pauses."""
    for doing, begin, end in (
        (Doing.CHANGE, move.leave_s, move.arrive_s),
        (Doing.REST, move.arrive_s, move.rested_s),
        (Doing.WAIT, move.rested_s, move.set_up_from_s),
        (Doing.CHANGE, move.set_up_from_s, move.work_from_s),
    ):
        if end > begin:
            path.append(Step(start + begin, start + end, doing, block, slot, move.unit, move.lane, round_))
    now = start + move.work_from_s
    for number, segment in enumerate(work_set):
        closing = number == len(work_set) - 1
        end = start + move.end_s if closing else now + segment.duration_s(pace)
        path.append(
            Step(now, end, Doing.WORK, block, slot, move.unit, move.lane, round_, segment, opens_set=number == 0)
        )
        now = end
        if not closing and segment.pause_after_s:
            path.append(Step(now, now + segment.pause_after_s, Doing.REST, block, slot, move.unit, move.lane, round_))
            now += segment.pause_after_s


def _together(stage: _Stage, index: int, block: TogetherBlock, start: float) -> BlockSpan:
    now = start
    for slot in block.slots:
        exercise = stage.catalogue.exercises[slot.exercise]
        use = stage.add_slot(index, -1, slot.id, exercise, len(stage.room.working(exercise.equipment)))
        (segment,) = clocked_work(slot.seconds, exercise.tempo, one_sided=exercise.sides == "one_sided")
        end = now + slot.seconds
        for path in stage.paths:
            path.append(Step(now, end, Doing.WORK, index, use, -1, -1, 0, segment, opens_set=True))
            if slot.pause_after_s:
                path.append(Step(end, end + slot.pause_after_s, Doing.REST, index, use))
        now = end + slot.pause_after_s
    return BlockSpan(start, now, now - start)
