"""What happens at each second: for every person one gap-free list of steps from the start of the class to its end."""

from __future__ import annotations

from dataclasses import dataclass
from typing import assert_never

from oaken.catalogue import Catalogue
from oaken.people import Person
from oaken.plan import CircuitBlock, ClassPlan, RelayBlock, SetsBlock, TogetherBlock
from oaken.room import Room
from oaken.timeline.bouts import Outlook
from oaken.timeline.clocked import lay_out_circuit
from oaken.timeline.relay import lay_out_relay, relay_seconds
from oaken.timeline.sets import Walks, lay_out_sets, schedule_sets
from oaken.timeline.stage import Stage
from oaken.timeline.steps import BlockSpan, Doing, Step, Timeline
from oaken.timeline.together import lay_out_together, together_seconds


def build_timeline(
    plan: ClassPlan,
    room: Room,
    people: list[Person],
    catalogue: Catalogue,
    outlook: Outlook = Outlook.EXPECTED,
) -> Timeline:
    """Lay the plan out in time. `people` are in the order of the plan."""
    stage = Stage(plan, room, people, catalogue, outlook, paths=[[] for _ in people])
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
            case RelayBlock():
                span = lay_out_relay(stage, index, block, now)
            case _:
                assert_never(block)
        spans.append(span)
        now = span.end_s
        for path in stage.paths:
            done = path[-1].end_s if path else 0.0
            if now - done > 1e-9:
                path.append(Step(done, now, Doing.FINISHED, index))
        if index < len(plan.blocks) - 1 and block.move_on_s:
            moving = Step(now, now + block.move_on_s * outlook.pace, Doing.CHANGE, index)
            for path in stage.paths:
                path.append(moving)
            now = moving.end_s
    return Timeline(stage.paths, stage.slots, spans, now)


@dataclass(frozen=True, slots=True)
class Lengths:
    """How long the class, each of its blocks, and everybody's waiting are in another outlook, in seconds."""

    class_s: float
    blocks_s: list[float]
    waits_s: list[float]


def lengths(
    plan: ClassPlan, room: Room, people: list[Person], catalogue: Catalogue, timeline: Timeline, outlook: Outlook
) -> Lengths:
    """Lengths in another outlook than the one `timeline` was laid out in.

    Only what is not on the clock is laid out again: the rest of `timeline` does not move.
    """
    waits = [0.0] * len(people)
    walks = Walks(room)
    blocks: list[float] = []
    for block, span in zip(plan.blocks, timeline.blocks, strict=True):
        match block:
            case SetsBlock():
                schedule = schedule_sets(block, room, people, catalogue, walks, outlook)
                blocks.append(schedule.length_s)
                for person, own in enumerate(schedule.placed):
                    waits[person] += sum(move.set_up_from_s - move.rested_s for move in own)
            case TogetherBlock():
                blocks.append(together_seconds(block, catalogue, outlook))
            case RelayBlock():
                blocks.append(relay_seconds(block, catalogue, outlook))
            case CircuitBlock():
                blocks.append(span.end_s - span.start_s)
    moves = sum(block.move_on_s for block in plan.blocks[:-1]) * outlook.pace
    return Lengths(sum(blocks) + moves, blocks, waits)
