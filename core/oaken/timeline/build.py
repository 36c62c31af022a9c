"""What happens at each second: for every person one gap-free list of steps from the start of the class to its end."""

from __future__ import annotations

from typing import assert_never

from oaken.catalogue import Catalogue
from oaken.people import Person
from oaken.plan import CircuitBlock, ClassPlan, SetsBlock, TogetherBlock
from oaken.room import Room
from oaken.timeline.clocked import lay_out_circuit
from oaken.timeline.sets import Walks, lay_out_sets, schedule_sets
from oaken.timeline.stage import Stage
from oaken.timeline.steps import BlockSpan, Doing, Step, Timeline
from oaken.timeline.together import lay_out_together


def build_timeline(
    plan: ClassPlan, room: Room, people: list[Person], catalogue: Catalogue, pace: float = 1.0
) -> Timeline:
    """Lay the plan out in time.

    `people` are in the order of the plan. `pace` stretches (> 1) or shrinks (< 1) everything that is not on the
    clock: repetitions, set-up, load changes.
    """
    stage = Stage(plan, room, people, catalogue, pace, paths=[[] for _ in people])
    spans: list[BlockSpan] = []
    now = 0.0
    for index, block in enumerate(plan.blocks):
        match block:
            case CircuitBlock():
                span = lay_out_circuit(stage, index, block, now)
            case SetsBlock():
                span = lay_out_sets(stage, index, block, now)
            case TogetherBlock():
                span = lay_out_together(stage, index, block, now)
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


def paced(
    plan: ClassPlan, room: Room, people: list[Person], catalogue: Catalogue, timeline: Timeline, pace: float
) -> tuple[float, list[float]]:
    """Length of the class and everybody's seconds of waiting, were all repetitions and set-ups `pace` times as long.

    Only what is not on the clock is laid out again: the rest of `timeline` does not move.
    """
    length = timeline.length_s
    waits = [0.0] * len(people)
    walks = Walks(room)
    for block, span in zip(plan.blocks, timeline.blocks, strict=True):
        if isinstance(block, SetsBlock):
            schedule = schedule_sets(block, room, people, catalogue, walks, pace)
            length += schedule.length_s - (span.end_s - span.start_s)
            for person, own in enumerate(schedule.placed):
                waits[person] += sum(move.set_up_from_s - move.rested_s for move in own)
    return length, waits
