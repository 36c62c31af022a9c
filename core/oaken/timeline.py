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


def _sets(stage: _Stage, index: int, block: SetsBlock, start: float) -> BlockSpan:
    slots: list[list[int]] = []
    rounds: list[list[list[WorkSet]]] = []
    stock = {}
    for number, group in enumerate(block.groups):
        exercises = [stage.catalogue.exercises[slot.exercise] for slot in group.slots]
        for exercise in exercises:
            stock[exercise.equipment] = stage.room.working(exercise.equipment)
        slots.append(
            [
                stage.add_slot(index, number, slot.id, exercise, len(stock[exercise.equipment]))
                for slot, exercise in zip(group.slots, exercises, strict=True)
            ]
        )
        once = [_work_set(slot, exercise) for slot, exercise in zip(group.slots, exercises, strict=True)]
        rounds.append(rounds_of(once, group.rounds, group.rest_s))

    sets: list[tuple[int, int, WorkSet]] = []  # slot, round, set: what a task's tag points at
    tags: dict[tuple[int, int, int], int] = {}
    for number, group_rounds in enumerate(rounds):
        for round_, in_turn in enumerate(group_rounds):
            for place, work_set in enumerate(in_turn):
                tags[number, round_, place] = len(sets)
                sets.append((slots[number][place], round_, work_set))

    tasks: list[list[Task]] = []
    for person, who in enumerate(stage.people):
        mine = []
        for turn in range(len(rounds)):
            number = (person + turn) % len(rounds)
            for round_, in_turn in enumerate(rounds[number]):
                for place in range(len(in_turn)):
                    mine.append(_task(stage, who, tags[number, round_, place], sets))
        tasks.append(mine)

    placed = first_come_first_served(tasks, stock, lambda a, b: stage.room.walk_s(a, b) * stage.pace)
    end = start + max(own[-1].end_s for own in placed)
    for path, own in zip(stage.paths, placed, strict=True):
        for move in own:
            _append_move(path, move, start, index, sets, stage.pace)
    return BlockSpan(start, end, makespan_bound(tasks, stock))


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


def _task(stage: _Stage, who: Person, tag: int, sets: list[tuple[int, int, WorkSet]]) -> Task:
    slot, _, work_set = sets[tag]
    exercise = stage.slots[slot].exercise
    kind = stage.catalogue.equipment[exercise.equipment]
    load = load_kg(work_set[0].load, who, exercise)
    inside = sum(segment.pause_after_s for segment in work_set[:-1])
    return Task(
        kind=exercise.equipment,
        work_s=sum(segment.duration_s(stage.pace) for segment in work_set) + inside,
        rest_s=work_set[-1].pause_after_s,
        set_up_s=kind.set_up_s * stage.pace,
        load_change_s=kind.load_change_s * stage.pace if load is not None else 0.0,
        load=None if load is None else round(load, 1),
        tag=tag,
    )


def load_kg(load: Load | None, who: Person, exercise: Exercise) -> float | None:
    """Kilograms this person moves at this load; None when no load is meant or the person's best is not known."""
    return load.kg(who.bests_kg.get(exercise.id)) if load is not None and exercise.takes_load else None


def _append_move(
    path: list[Step],
    move: Placed,
    start: float,
    block: int,
    sets: list[tuple[int, int, WorkSet]],
    pace: float,
) -> None:
    """Write one placed task as steps: walk, rest, wait, set up, then the segments of the set with their pauses."""
    slot, round_, work_set = sets[move.task.tag]
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
