"""Lays out sets and supersets that people work through at their own pace."""

from __future__ import annotations

from dataclasses import dataclass, field

from oaken.catalogue import Catalogue, Exercise
from oaken.people import Person
from oaken.plan import SetsBlock, SetSlot
from oaken.prescription import Sides, WorkSet, rounds_of, straight_sets
from oaken.room import Room
from oaken.rotation.self_paced import Placed, Task, first_come_first_served, makespan_bound
from oaken.timeline.stage import Stage
from oaken.timeline.steps import BlockSpan, Doing, Step, load_kg

CHANGE_OF_SIDE_S = 5.0
"""Seconds to change sides within a set (common practice, no source)."""


@dataclass(frozen=True, slots=True)
class SetsSchedule:
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


def schedule_sets(
    block: SetsBlock, room: Room, people: list[Person], catalogue: Catalogue, walks: Walks, pace: float
) -> SetsSchedule:
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
    return SetsSchedule(slots, sets, placed, makespan_bound(tasks, stock))


@dataclass(slots=True)
class Walks:
    """Walking seconds between units, each pair computed once."""

    room: Room
    known: dict[tuple[int, int], float] = field(default_factory=dict)

    def seconds(self, here: int, there: int) -> float:
        """Seconds from one unit to another."""
        pair = (here, there)
        if pair not in self.known:
            self.known[pair] = self.room.walk_s(here, there)
        return self.known[pair]


def lay_out_sets(stage: Stage, index: int, block: SetsBlock, start: float) -> BlockSpan:
    """Write everybody's sets, walks, rests and waits; the block's span."""
    schedule = schedule_sets(block, stage.room, stage.people, stage.catalogue, Walks(stage.room), stage.pace)
    slots = [
        [stage.add_slot(index, number, slot.id, exercise, places) for slot, exercise, places in listed]
        for number, listed in enumerate(schedule.slots)
    ]
    for path, own in zip(stage.paths, schedule.placed, strict=True):
        for move in own:
            group, place, round_, work_set = schedule.sets[move.task.tag]
            _append_move(path, move, start, index, slots[group][place], round_, work_set, stage.pace)
    return BlockSpan(start, start + schedule.length_s, schedule.bound_s)


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
