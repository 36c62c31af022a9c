"""What happens at each second: for every person one gap-free list of steps from the start of the class to its end."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

from oaken.domain.catalogue import Catalogue
from oaken.domain.people import Person
from oaken.domain.room import Room
from oaken.plan import Block, ClassPlan
from oaken.schedule.timeline.bouts import Outlook
from oaken.schedule.timeline.layout import BlockAt, BlockLayout, block_length, laid_out
from oaken.schedule.timeline.schedule import Circumstances
from oaken.schedule.timeline.steps import BlockSpan, Doing, SlotUse, Step


@dataclass(frozen=True, slots=True)
class Passage:
    """One block on the axis of the class: its steps from their own zero, which stands at `zero_s` of the class.

    `span` is when it runs, `first_slot` the index in `Timeline.slots` of the first of `layout.slots`, `move_s` the
    seconds that follow to get to the next block (0 where the steps have them already, and behind the last).
    """

    layout: BlockLayout
    span: BlockSpan
    zero_s: float
    first_slot: int
    move_s: float


@dataclass(frozen=True, slots=True)
class Timeline:
    """The class on its one time axis, planned or actual: its blocks one after another, with everybody's steps."""

    passages: list[Passage]
    slots: list[SlotUse]
    length_s: float

    @property
    def crowd(self) -> int:
        """How many people are in the class."""
        return len(self.passages[0].layout.paths)

    @property
    def blocks(self) -> list[BlockSpan]:
        """When each block runs."""
        return [passage.span for passage in self.passages]

    @property
    def paths(self) -> list[list[Step]]:
        """Everybody's steps on the axis of the class, written out: for those who want to read them one by one."""
        found: list[list[Step]] = [[] for _ in range(self.crowd)]
        for index, passage in enumerate(self.passages):
            zero, slots = passage.zero_s, passage.first_slot
            end = passage.span.end_s
            for path, own in zip(found, passage.layout.paths, strict=True):
                path += [
                    step.moved(
                        zero + step.start_s, zero + step.end_s, index, step.slot + slots if step.slot >= 0 else -1
                    )
                    for step in own
                ]
                if passage.move_s:
                    path.append(Step(end, end + passage.move_s, Doing.CHANGE, index))
        return found

    @classmethod
    def of_steps(
        cls, paths: Sequence[Sequence[Step]], slots: Sequence[SlotUse], blocks: Sequence[BlockSpan]
    ) -> Timeline:
        """A timeline from everybody's steps on the axis of the class, wherever they come from: planned or actual.

        `paths[p]` are the steps of person p in the order of time, `slots` what they index, `blocks` when each block
        ran. Every step says by `block` to which it belongs. Raises ValueError where one names a block or slot that
        is not there, or a path goes back to an earlier block.
        """
        for path in paths:
            numbers = [step.block for step in path]
            if numbers != sorted(numbers) or any(not 0 <= number < len(blocks) for number in numbers):
                raise ValueError("a path goes through the blocks in their order")
            if any(step.slot >= len(slots) for step in path):
                raise ValueError("a step names a slot that is not there")
        passages = []
        for index, span in enumerate(blocks):
            own = [[step for step in path if step.block == index] for path in paths]
            layout = BlockLayout(own, list(slots), span.end_s - span.start_s, span.bound, span.turns, span.breathers)
            passages.append(Passage(layout, span, 0.0, 0, 0.0))
        ends = [path[-1].end_s for path in paths if path]
        return cls(passages, list(slots), max(ends, default=0.0))


def build_timeline(
    plan: ClassPlan,
    room: Room,
    people: list[Person],
    catalogue: Catalogue,
    outlook: Outlook = Outlook.EXPECTED,
) -> Timeline:
    """Lay the plan out in time. `people` are in the order of the plan."""
    return timeline_in(plan, Circumstances.of(room, people, catalogue, plan.wishes()), outlook)


def blocks_at(
    blocks: Sequence[Block], circumstances: Circumstances, outlook: Outlook = Outlook.EXPECTED
) -> list[BlockAt]:
    """The blocks of a plan in these circumstances."""
    return [BlockAt.of(block, circumstances, outlook) for block in blocks]


def timeline_in(plan: ClassPlan, circumstances: Circumstances, outlook: Outlook = Outlook.EXPECTED) -> Timeline:
    """Lay the plan out in these circumstances."""
    return timeline_at(plan, blocks_at(plan.blocks, circumstances, outlook))


def timeline_at(plan: ClassPlan, ats: Sequence[BlockAt]) -> Timeline:
    """Lay the plan out, block by block from the store."""
    passages: list[Passage] = []
    slots: list[SlotUse] = []
    now = 0.0
    for index, at in enumerate(ats):
        layout = laid_out(at)
        span = BlockSpan(now, now + layout.length_s, layout.bound, layout.turns, layout.breathers)
        move_s = plan.blocks[index].move_on_s * at.outlook.pace if index < len(ats) - 1 else 0.0
        first = len(slots)
        passages.append(Passage(layout, span, now, first, move_s))
        slots += [
            replace(slot, block=index, stands_for=slot.stands_for + first if slot.stands_for >= 0 else -1)
            for slot in layout.slots
        ]
        now = span.end_s + move_s
    return Timeline(passages, slots, now)


@dataclass(frozen=True, slots=True)
class Lengths:
    """How long the class, each of its blocks, and everybody's waiting are in an outlook, in seconds."""

    class_s: float
    blocks_s: list[float]
    waits_s: list[float]


def lengths(blocks: Sequence[Block], ats: Sequence[BlockAt], outlook: Outlook) -> Lengths:
    """Lengths of the blocks of a plan in another outlook than that of `ats`, without writing out everybody's steps."""
    found = [block_length(replace(at, outlook=outlook)) for at in ats]
    waits = [sum(own) for own in zip(*(item.waits_s for item in found), strict=True)]
    each = [item.length_s for item in found]
    return Lengths(sum(each) + sum(block.move_on_s for block in blocks[:-1]) * outlook.pace, each, waits)
