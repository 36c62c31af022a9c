"""Lays out a block in which everybody does the same."""

from __future__ import annotations

from oaken.plan import TogetherBlock
from oaken.prescription import clocked_work
from oaken.timeline.stage import Stage
from oaken.timeline.steps import BlockSpan, Doing, Step


def lay_out_together(stage: Stage, index: int, block: TogetherBlock, start: float) -> BlockSpan:
    """Write the same steps for everybody; the block's span."""
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
