"""Lays out a block in which everybody does the same."""

from __future__ import annotations

from collections.abc import Iterator

from oaken.catalogue import Catalogue
from oaken.plan import Slot, TogetherBlock
from oaken.timeline.bouts import DoneSet, Outlook, bouts_of
from oaken.timeline.stage import Stage
from oaken.timeline.steps import BlockSpan, Doing, Step


def together_seconds(block: TogetherBlock, catalogue: Catalogue, outlook: Outlook) -> float:
    """Seconds of the block: all sets with their rests, one after the other."""
    return sum(done.length_s + done.rest_s for slot in block.slots for done in _sets(slot, catalogue, outlook))


def lay_out_together(stage: Stage, index: int, block: TogetherBlock, start: float) -> BlockSpan:
    """Write the same steps for everybody; the block's span."""
    now = start
    for slot in block.slots:
        exercise = stage.catalogue.exercises[slot.exercise]
        use = stage.add_slot(index, -1, slot.id, exercise, stage.places(exercise))
        for round_, done in enumerate(_sets(slot, stage.catalogue, stage.outlook)):
            for step in _steps(stage, done, now, index, use, round_):
                for path in stage.paths:
                    path.append(step)
            now += done.length_s + done.rest_s
    return BlockSpan(start, now, now - start)


def _sets(slot: Slot, catalogue: Catalogue, outlook: Outlook) -> list[DoneSet]:
    exercise = catalogue.exercises[slot.exercise]
    return bouts_of(slot.sets, exercise, catalogue.equipment[exercise.equipment], outlook)


def _steps(stage: Stage, done: DoneSet, now: float, index: int, use: int, round_: int) -> Iterator[Step]:
    for number, bout in enumerate(done.bouts):
        if bout.lead_s:
            yield Step(now, now + bout.lead_s, Doing.CHANGE, index, use, round=round_, load_change_s=bout.lead_s)
            now += bout.lead_s
        yield Step(now, now + bout.work_s, Doing.WORK, index, use, round=round_, bout=bout, opens_set=number == 0)
        now += bout.work_s
        if bout.pause_after_s:
            yield Step(now, now + bout.pause_after_s, Doing.REST, index, use, round=round_)
            now += bout.pause_after_s
    if done.rest_s:
        active = stage.catalogue.exercises[done.rest_doing] if done.rest_doing else None
        yield Step(now, now + done.rest_s, Doing.REST, index, use, round=round_, active=active)
