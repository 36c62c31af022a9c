"""One block laid out in time from 0 s, and kept: after an edit only the block that changed is laid out again."""

from __future__ import annotations

from dataclasses import dataclass, field
from threading import RLock

from cachetools import LRUCache, cached

from oaken.basis.limits import most
from oaken.plan import Block
from oaken.schedule.timeline.bouts import Outlook
from oaken.schedule.timeline.kind import BlockLength
from oaken.schedule.timeline.kinds import kind_of
from oaken.schedule.timeline.schedule import Circumstances, Schedule
from oaken.schedule.timeline.steps import Doing, SlotUse, Step, StepBound

KEPT_PEOPLE = most("cache.people")
"""How many people, over all blocks, a process keeps small things of: some dozen classes under edit."""

KEPT_STEPS = most("cache.steps")
"""How many steps of laid-out blocks a process keeps; a large class takes the place of many small ones."""


@dataclass(frozen=True)
class BlockAt:
    """A block in its circumstances and outlook; two are the same when they say the same."""

    says: str
    circumstances: Circumstances
    outlook: Outlook
    block: Block = field(compare=False)

    @classmethod
    def of(cls, block: Block, circumstances: Circumstances, outlook: Outlook = Outlook.EXPECTED) -> BlockAt:
        """The name of a block and the way to the next do not matter to what happens in it."""
        says = block.model_dump_json(exclude={"name", "purpose", "move_on_s"})
        return cls(says, circumstances, outlook, block)


@dataclass(frozen=True, slots=True, eq=False)
class BlockLayout:
    """A block from 0 s: `paths[p]` are the steps of person p without gaps up to `length_s`.

    `bound` is the proven least duration of its rotation. A layout is itself and no other: what is computed from
    one is kept by it.
    """

    paths: list[list[Step]]
    slots: list[SlotUse]
    length_s: float
    bound: StepBound
    turns: int
    breathers: int


def steps_in(layout: BlockLayout) -> int:
    """What a layout takes of the store."""
    return 1 + sum(len(path) for path in layout.paths)


@cached(LRUCache(maxsize=KEPT_STEPS, getsizeof=steps_in), lock=RLock())
def laid_out(at: BlockAt) -> BlockLayout:
    """The layout of a block, from the store or laid out now."""
    around = at.circumstances
    schedule = Schedule(around, at.outlook, paths=[[] for _ in around.people])
    span = kind_of(at.block).lay_out(schedule, at.block)
    for path in schedule.paths:
        done = path[-1].end_s if path else 0.0
        if span.end_s - done > 1e-9:
            path.append(Step(done, span.end_s, Doing.FINISHED, 0))
    return BlockLayout(schedule.paths, schedule.slots, span.end_s, span.bound, span.turns, span.breathers)


@cached(LRUCache(maxsize=KEPT_PEOPLE, getsizeof=lambda item: max(1, len(item.waits_s))), lock=RLock())
def block_length(at: BlockAt) -> BlockLength:
    """Length and waits of a block, without writing out everybody's steps."""
    return kind_of(at.block).length(at.block, at.circumstances, at.outlook)
