"""What happens at each second: for every person one gap-free list of steps from the start of the class to its end."""

from __future__ import annotations

from dataclasses import dataclass, replace

from oaken.catalogue import Catalogue
from oaken.people import Person
from oaken.plan import ClassPlan
from oaken.room import Room
from oaken.timeline.bouts import Outlook
from oaken.timeline.layout import BlockAt, BlockLayout, block_length, laid_out
from oaken.timeline.stage import Circumstances
from oaken.timeline.steps import BlockSpan, Doing, SlotUse, Step


@dataclass(frozen=True, slots=True)
class Timeline:
    """The class on its one time axis: its blocks one after another, with the seconds to get from each to the next.

    `blocks[b]` is when `layouts[b]` runs; `moves_s[b]` follows it (0 behind the last). `first_slot[b]` is the index
    in `slots` of the first slot of block b.
    """

    ats: list[BlockAt]
    layouts: list[BlockLayout]
    blocks: list[BlockSpan]
    moves_s: list[float]
    slots: list[SlotUse]
    first_slot: list[int]
    length_s: float

    @property
    def crowd(self) -> int:
        """How many people are in the class."""
        return len(self.layouts[0].paths)

    @property
    def paths(self) -> list[list[Step]]:
        """Everybody's steps on the axis of the class, written out: for those who want to read them one by one."""
        found: list[list[Step]] = [[] for _ in range(self.crowd)]
        for index, (layout, span) in enumerate(zip(self.layouts, self.blocks, strict=True)):
            begin, slots = span.start_s, self.first_slot[index]
            for path, own in zip(found, layout.paths, strict=True):
                path += [
                    replace(
                        step,
                        start_s=begin + step.start_s,
                        end_s=begin + step.end_s,
                        block=index,
                        slot=step.slot + slots if step.slot >= 0 else -1,
                    )
                    for step in own
                ]
                if self.moves_s[index]:
                    path.append(Step(span.end_s, span.end_s + self.moves_s[index], Doing.CHANGE, index))
        return found


def build_timeline(
    plan: ClassPlan,
    room: Room,
    people: list[Person],
    catalogue: Catalogue,
    outlook: Outlook = Outlook.EXPECTED,
) -> Timeline:
    """Lay the plan out in time. `people` are in the order of the plan."""
    return timeline_in(plan, Circumstances.of(room, people, catalogue, plan.wishes()), outlook)


def timeline_in(plan: ClassPlan, circumstances: Circumstances, outlook: Outlook = Outlook.EXPECTED) -> Timeline:
    """Lay the plan out in these circumstances."""
    ats = [BlockAt.of(block, circumstances, outlook) for block in plan.blocks]
    layouts = [laid_out(at) for at in ats]
    spans: list[BlockSpan] = []
    moves: list[float] = []
    slots: list[SlotUse] = []
    first_slot: list[int] = []
    now = 0.0
    for index, (block, layout) in enumerate(zip(plan.blocks, layouts, strict=True)):
        end = now + layout.length_s
        spans.append(BlockSpan(now, end, layout.bound_s, layout.turns, layout.breathers))
        first_slot.append(len(slots))
        slots += [
            replace(slot, block=index, stands_for=slot.stands_for + len(slots) if slot.stands_for >= 0 else -1)
            for slot in layout.slots
        ]
        moves.append(block.move_on_s * outlook.pace if index < len(plan.blocks) - 1 else 0.0)
        now = end + moves[-1]
    return Timeline(ats, layouts, spans, moves, slots, first_slot, now)


@dataclass(frozen=True, slots=True)
class Lengths:
    """How long the class, each of its blocks, and everybody's waiting are in another outlook, in seconds."""

    class_s: float
    blocks_s: list[float]
    waits_s: list[float]


def lengths(plan: ClassPlan, timeline: Timeline, outlook: Outlook) -> Lengths:
    """Lengths in another outlook than the one `timeline` was laid out in."""
    found = [block_length(replace(at, outlook=outlook)) for at in timeline.ats]
    blocks = [one.length_s for one in found]
    waits = [sum(own) for own in zip(*(one.waits_s for one in found), strict=True)]
    return Lengths(sum(blocks) + sum(block.move_on_s for block in plan.blocks[:-1]) * outlook.pace, blocks, waits)
