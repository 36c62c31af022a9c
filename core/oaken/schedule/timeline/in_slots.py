"""What blocks of slots have in common: the time of their sets, counted for one person alone."""

from __future__ import annotations

from oaken.domain.catalogue import Catalogue
from oaken.plan import AnyPart, Slot
from oaken.plan.blocks import BlockBase
from oaken.schedule.timeline.bouts import Outlook, SlotTime, slot_time


def slots_of(block: BlockBase) -> list[Slot]:
    """The slots of a block."""
    return [part for part in block.parts if isinstance(part, Slot)]


def part_time(part: AnyPart, block: BlockBase, known: Catalogue, outlook: Outlook) -> SlotTime:
    """How long one person is with a slot: alone on it, without walks and waits."""
    assert isinstance(part, Slot)
    exercise = known.exercises[part.exercise]
    return slot_time(part.sets, exercise, known.equipment[exercise.equipment], outlook)


def bouts_in_slots(block: BlockBase) -> int:
    """Parts of sets that one person does."""
    return sum(run.times * len(run.segments) for slot in slots_of(block) for run in slot.sets)


def own_seconds(block: BlockBase, known: Catalogue) -> float:
    """Seconds that all slots take one person."""
    return sum(part_time(slot, block, known, Outlook.EXPECTED).total_s for slot in slots_of(block))
