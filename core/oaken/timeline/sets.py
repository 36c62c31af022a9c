"""Lays out sets and supersets that people work through at their own pace."""

from __future__ import annotations

from dataclasses import dataclass, field
from itertools import pairwise

from oaken.catalogue import Catalogue, Exercise
from oaken.people import Person
from oaken.plan import SetsBlock, Slot
from oaken.room import Room
from oaken.rotation.self_paced import Placed, Task, first_come_first_served, makespan_bound
from oaken.timeline.bouts import DoneSet, Outlook, bouts_of
from oaken.timeline.stage import Stage
from oaken.timeline.steps import BlockSpan, Doing, Step


@dataclass(frozen=True, slots=True)
class _SetAt:
    """A set of the block: of which group, slot in it and round."""

    group: int
    place: int
    round: int
    exercise: Exercise
    done: DoneSet


@dataclass(frozen=True, slots=True)
class SetsSchedule:
    """A block of sets laid out: everybody's placed tasks, from 0 s, and what a task's tag points at.

    `slots[group][place]` lists the slot, its exercise and how many places the room has for it.
    """

    slots: list[list[tuple[Slot, Exercise, int]]]
    sets: list[_SetAt]
    placed: list[list[Placed]]
    bound_s: float

    @property
    def length_s(self) -> float:
        """Seconds until the last person is done."""
        return max((own[-1].end_s for own in self.placed if own), default=0.0)


def schedule_sets(
    block: SetsBlock, room: Room, people: list[Person], catalogue: Catalogue, walks: Walks, outlook: Outlook
) -> SetsSchedule:
    """Let everybody work through the groups in the block's way."""
    stock: dict[str, list[int]] = {}
    slots: list[list[tuple[Slot, Exercise, int]]] = []
    sets: list[_SetAt] = []
    rounds: list[list[list[int]]] = []  # of each group and round, the sets in their order
    for number, group in enumerate(block.groups):
        listed = []
        by_round: list[list[int]] = []
        for place, slot in enumerate(group.slots):
            exercise = catalogue.exercises[slot.exercise]
            stock[exercise.equipment] = room.working(exercise.equipment)
            listed.append((slot, exercise, len(stock[exercise.equipment])))
            for round_, done in enumerate(
                bouts_of(slot.sets, exercise, catalogue.equipment[exercise.equipment], outlook)
            ):
                if round_ == len(by_round):
                    by_round.append([])
                by_round[round_].append(len(sets))
                sets.append(_SetAt(number, place, round_, exercise, done))
        slots.append(listed)
        rounds.append(by_round)

    kept = _kept(sets, rounds, stock)
    ways: dict[int, list[int]] = {}
    tasks: list[list[Task]] = []
    for person, who in enumerate(people):
        first = person % len(rounds) if block.start == "spread" else 0
        if first not in ways:
            ways[first] = _way(rounds, first, block.rounds_run == "whole_circuit")
        tasks.append(_tasks(ways[first], sets, who, catalogue, outlook, kept))
    pace = outlook.pace
    placed = first_come_first_served(tasks, stock, lambda here, there: walks.seconds(here, there) * pace)
    return SetsSchedule(slots, sets, placed, makespan_bound(tasks, stock))


def _way(rounds: list[list[list[int]]], first: int, whole_circuit: bool) -> list[int]:
    """The order in which somebody who begins with group `first` does all sets."""
    groups = [(first + turn) % len(rounds) for turn in range(len(rounds))]
    if not whole_circuit:
        return [tag for group in groups for in_turn in rounds[group] for tag in in_turn]
    most = max((len(group) for group in rounds), default=0)
    return [
        tag
        for round_ in range(most)
        for group in groups
        if round_ < len(rounds[group])
        for tag in rounds[group][round_]
    ]


def _kept(sets: list[_SetAt], rounds: list[list[list[int]]], stock: dict[str, list[int]]) -> set[int]:
    """The sets after which the unit stays taken: the next exercise of the round is on the same one."""
    return {
        here
        for group in rounds
        for in_turn in group
        for here, there in pairwise(in_turn)
        if sets[here].exercise.equipment == sets[there].exercise.equipment and stock[sets[here].exercise.equipment]
    }


def _tasks(
    way: list[int], sets: list[_SetAt], who: Person, catalogue: Catalogue, outlook: Outlook, kept: set[int]
) -> list[Task]:
    own: dict[int, Task] = {}
    mine = []
    for tag in way:
        at = sets[tag]
        found = own.get(id(at.done))
        if found is None:
            exercise, bouts = at.exercise, at.done.bouts
            kind = catalogue.equipment[exercise.equipment]
            best = who.bests_kg.get(exercise.id) if exercise.takes_load else None
            meant = exercise.takes_load
            first = bouts[0].loads.kg(best) if meant else None
            last = first if bouts[-1].loads == bouts[0].loads else bouts[-1].loads.kg(best) if meant else None
            found = own[id(at.done)] = Task(
                kind=exercise.equipment,
                work_s=at.done.length_s,
                rest_s=at.done.rest_s,
                set_up_s=kind.set_up_s * outlook.pace,
                load_change_s=kind.load_change_s * outlook.pace if first is not None else 0.0,
                load=None if first is None else round(first, 1),
                leaves=None if last is None else round(last, 1),
                keeps=False,
                tag=-1,
            )
        mine.append(found._replace(tag=tag, keeps=tag in kept))
    return mine


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
    schedule = schedule_sets(block, stage.room, stage.people, stage.catalogue, Walks(stage.room), stage.outlook)
    slots = [
        [stage.add_slot(index, number, slot.id, exercise, places) for slot, exercise, places in listed]
        for number, listed in enumerate(schedule.slots)
    ]
    resting = {id(at.done): stage.catalogue.exercises[at.done.rest_doing] for at in schedule.sets if at.done.rest_doing}
    for path, own in zip(stage.paths, schedule.placed, strict=True):
        active: Exercise | None = None
        for move in own:
            at = schedule.sets[move.task.tag]
            _append_move(path, move, start, index, slots[at.group][at.place], at, active)
            active = resting.get(id(at.done))
    return BlockSpan(start, start + schedule.length_s, schedule.bound_s)


def _append_move(
    path: list[Step], move: Placed, start: float, block: int, slot: int, at: _SetAt, active: Exercise | None
) -> None:
    """Write one placed task as steps: walk, rest, wait, set up, then the bouts of the set with their pauses."""
    where = (block, slot, move.unit, move.lane, at.round)
    if move.arrive_s > move.leave_s:
        path.append(Step(start + move.leave_s, start + move.arrive_s, Doing.CHANGE, *where))
    if move.rested_s > move.arrive_s:
        path.append(Step(start + move.arrive_s, start + move.rested_s, Doing.REST, *where, active=active))
    if move.set_up_from_s > move.rested_s:
        path.append(Step(start + move.rested_s, start + move.set_up_from_s, Doing.WAIT, *where))
    if move.work_from_s > move.set_up_from_s:
        spent = move.work_from_s - move.set_up_from_s
        path.append(
            Step(
                start + move.set_up_from_s,
                start + move.work_from_s,
                Doing.CHANGE,
                *where,
                set_up_s=spent - move.load_change_s,
                load_change_s=move.load_change_s,
            )
        )
    now = start + move.work_from_s
    last = len(at.done.bouts) - 1
    for number, bout in enumerate(at.done.bouts):
        if bout.lead_s:
            path.append(Step(now, now + bout.lead_s, Doing.CHANGE, *where, load_change_s=bout.lead_s))
            now += bout.lead_s
        end = start + move.end_s if number == last else now + bout.work_s
        path.append(Step(now, end, Doing.WORK, *where, bout, number == 0))
        now = end
        if bout.pause_after_s:
            path.append(Step(now, now + bout.pause_after_s, Doing.REST, *where))
            now += bout.pause_after_s
