"""Lays out a block in which everybody does the same."""

from __future__ import annotations

from collections.abc import Iterator

from oaken.catalogue import Catalogue
from oaken.plan import AnyPart, Slot, TogetherBlock
from oaken.timeline.bouts import DoneSet, Outlook, bouts_of
from oaken.timeline.in_slots import bouts_in_slots, own_seconds, part_time
from oaken.timeline.kind import BlockLength, TimeKind
from oaken.timeline.schedule import Circumstances, Schedule, own_use
from oaken.timeline.steps import BlockSpan, Doing, Step


def together_seconds(block: TogetherBlock, catalogue: Catalogue, outlook: Outlook) -> float:
    """Seconds of the block: all sets with their rests, one after the other."""
    return sum(done.length_s + done.rest_s for slot in block.slots for done in _sets(slot, catalogue, outlook))


def lay_out_together(schedule: Schedule, block: TogetherBlock) -> BlockSpan:
    """Write the same times for everybody, and what each does in them; the block's span."""
    uses = schedule.enter(block)
    now = 0.0
    for index, slot in enumerate(block.slots):
        clock = _sets(slot, schedule.catalogue, schedule.outlook)
        own = [own_use(uses, index, person, schedule.around) for person in schedule.people]
        for use in dict.fromkeys(own):
            done = clock if use == index else _sets(uses[use].part, schedule.catalogue, schedule.outlook)
            steps = list(_steps(schedule, clock, done, now, use))
            for path, mine in zip(schedule.paths, own, strict=True):
                if mine == use:
                    path += steps
        now += sum(done.length_s + done.rest_s for done in clock)
    return BlockSpan(0.0, now, now)


def _sets(slot: AnyPart, catalogue: Catalogue, outlook: Outlook) -> list[DoneSet]:
    assert isinstance(slot, Slot)
    exercise = catalogue.exercises[slot.exercise]
    return bouts_of(slot.sets, exercise, catalogue.equipment[exercise.equipment], outlook)


def _steps(schedule: Schedule, clock: list[DoneSet], sets: list[DoneSet], now: float, use: int) -> Iterator[Step]:
    """The steps of somebody who does `sets` in the times of `clock`."""
    for round_, (timed, done) in enumerate(zip(clock, sets, strict=True)):
        for number, bout in enumerate(timed.bouts):
            if bout.lead_s:
                yield Step(now, now + bout.lead_s, Doing.CHANGE, 0, use, round=round_, load_change_s=bout.lead_s)
                now += bout.lead_s
            mine = done.bouts[min(number, len(done.bouts) - 1)]
            yield Step(now, now + bout.work_s, Doing.WORK, 0, use, round=round_, bout=mine, opens_set=number == 0)
            now += bout.work_s
            if bout.pause_after_s:
                yield Step(now, now + bout.pause_after_s, Doing.REST, 0, use, round=round_)
                now += bout.pause_after_s
        if timed.rest_s:
            active = schedule.catalogue.exercises[timed.rest_doing] if timed.rest_doing else None
            yield Step(now, now + timed.rest_s, Doing.REST, 0, use, round=round_, active=active)
            now += timed.rest_s


def _length(block: TogetherBlock, around: Circumstances, outlook: Outlook) -> BlockLength:
    return BlockLength.without_waits(together_seconds(block, around.catalogue, outlook), len(around.people))


KIND = TimeKind(lay_out_together, _length, part_time, bouts_in_slots, own_seconds)
