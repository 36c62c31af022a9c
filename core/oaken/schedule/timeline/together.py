"""Lays out a block in which everybody does the same."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from oaken.domain.catalogue import EquipmentKind
from oaken.plan import AnyPart, Slot, TogetherBlock
from oaken.schedule.timeline.bouts import DoneSet, Outlook, bouts_of
from oaken.schedule.timeline.in_slots import bouts_in_slots, own_seconds, part_time
from oaken.schedule.timeline.kind import BlockLength, TimeKind
from oaken.schedule.timeline.schedule import NO_EQUIPMENT, Circumstances, Schedule, own_use
from oaken.schedule.timeline.steps import BlockSpan, Doing, Step, StepBound


@dataclass(frozen=True, slots=True)
class _ClockedSlot:
    """One slot as the whole class goes through it: the seconds to get to it and to set it up, the load change before
    each set, and the sets."""

    walk_s: float
    set_up_s: float
    changes_s: list[float]
    sets: list[DoneSet]

    @property
    def total_s(self) -> float:
        """All of it."""
        return (
            self.walk_s + self.set_up_s + sum(self.changes_s) + sum(done.length_s + done.rest_s for done in self.sets)
        )


def together_seconds(block: TogetherBlock, around: Circumstances, outlook: Outlook) -> float:
    """Seconds of the block: all sets with their rests, one after the other, and what it takes to get to them."""
    return sum(slot.total_s for slot in _on_the_clock(block, around, outlook))


def _on_the_clock(block: TogetherBlock, around: Circumstances, outlook: Outlook) -> list[_ClockedSlot]:
    """Everybody goes at the pace of the clock: the longest walk there is, one set-up, one load change where it
    changes."""
    found = []
    before: EquipmentKind | None = None
    for slot in block.slots:
        exercise = around.catalogue.exercises[slot.exercise]
        kind = around.catalogue.equipment[exercise.equipment]
        sets = _sets(slot, around, outlook)
        new = kind.id != NO_EQUIPMENT and (before is None or before.id != kind.id)
        ways = [around.room.walk_s(a, b) for a in _units(before, around) for b in _units(kind, around)]
        walk = max(ways, default=0.0) * outlook.pace if new else 0.0
        set_up = kind.set_up_s * outlook.pace if new else 0.0
        changes = []
        loads = None
        for done in sets:
            changed = exercise.takes_load and done.bouts[0].meant_load and done.bouts[0].loads != loads
            changes.append(kind.load_change_s * outlook.pace if changed else 0.0)
            loads = done.bouts[-1].loads
        found.append(_ClockedSlot(walk, set_up, changes, sets))
        before = kind if kind.id != NO_EQUIPMENT else before
    return found


def _units(kind: EquipmentKind | None, around: Circumstances) -> set[int]:
    return set() if kind is None else set(around.room.working(kind.id))


def lay_out_together(schedule: Schedule, block: TogetherBlock) -> BlockSpan:
    """Write the same times for everybody, and what each does in them; the block's span."""
    uses = schedule.enter(block)
    now = 0.0
    for index, clock in enumerate(_on_the_clock(block, schedule.around, schedule.outlook)):
        own = [own_use(uses, index, person, schedule.around) for person in schedule.people]
        for use in dict.fromkeys(own):
            done = clock.sets if use == index else _sets(uses[use].part, schedule.around, schedule.outlook)
            steps = list(_steps(schedule, clock, done, now, use))
            for path, mine in zip(schedule.paths, own, strict=True):
                if mine == use:
                    path += steps
        now += clock.total_s
    return BlockSpan(0.0, now, StepBound(now))


def _sets(slot: AnyPart, around: Circumstances, outlook: Outlook) -> list[DoneSet]:
    assert isinstance(slot, Slot)
    exercise = around.catalogue.exercises[slot.exercise]
    kind = around.catalogue.equipment[exercise.equipment]
    return bouts_of(slot.sets, exercise, kind, outlook, around.room.bar_kg(kind.id))


def _steps(schedule: Schedule, clock: _ClockedSlot, sets: list[DoneSet], now: float, use: int) -> Iterator[Step]:
    """The steps of somebody who does `sets` in the times of `clock`; whoever has fewer of them rests, of more leaves
    them out."""
    if arrive_s := clock.walk_s + clock.set_up_s:
        yield Step(now, now + arrive_s, Doing.CHANGE, 0, use, set_up_s=clock.set_up_s)
        now += arrive_s
    for round_, (change_s, timed) in enumerate(zip(clock.changes_s, clock.sets, strict=True)):
        if change_s:
            yield Step(now, now + change_s, Doing.CHANGE, 0, use, round=round_, load_change_s=change_s)
            now += change_s
        done = sets[round_] if round_ < len(sets) else None
        for number, bout in enumerate(timed.bouts):
            if bout.lead_s:
                yield Step(now, now + bout.lead_s, Doing.CHANGE, 0, use, round=round_, load_change_s=bout.lead_s)
                now += bout.lead_s
            if done is None:
                yield Step(now, now + bout.work_s, Doing.REST, 0, use, round=round_)
            else:
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
    return BlockLength.without_waits(together_seconds(block, around, outlook), len(around.people))


KIND = TimeKind(lay_out_together, _length, part_time, bouts_in_slots, own_seconds)
