"""Changes of a class that need its room and people, and all others."""

from __future__ import annotations

from oaken.basis.faults import Fault, FaultyInput
from oaken.plan import ClassPlan, Rotation, SetsBlock
from oaken.plan.changes import Change, MakeRotation, apply
from oaken.schedule.arrange.search import BlockSearch
from oaken.schedule.arrange.what_if import Scene
from oaken.schedule.timeline import Outlook
from oaken.schedule.timeline.lineup import line_up

AT_A_PRESS = 0.15
"""Effort of the search behind one press (some seconds for a class of twelve)."""


def apply_to(scene: Scene, change: Change) -> ClassPlan:
    """The plan of a class with a change made. Raises FaultyInput where it has not got what the change speaks of."""
    if not isinstance(change, MakeRotation):
        return apply(scene.plan, change, scene.catalogue)
    block = sets_block(scene.plan, change.block)
    search = BlockSearch(line_up(block, scene.around, Outlook.EXPECTED), AT_A_PRESS)
    return with_rotation(scene.plan, block.id, search.run().rotation)


def sets_block(plan: ClassPlan, block_id: str) -> SetsBlock:
    """The block of sets of this id. Raises FaultyInput where there is none."""
    found = next((block for block in plan.blocks if block.id == block_id), None)
    if isinstance(found, SetsBlock):
        return found
    what = "is no block of sets" if found is not None else "is not in the plan (any more)"
    raise FaultyInput(
        [
            Fault(
                path="block",
                place="the change",
                field="block",
                message=f"the block {block_id!r} {what}",
                right="a block in which people go at their own pace",
            )
        ]
    )


def with_rotation(plan: ClassPlan, block_id: str, rotation: Rotation | None) -> ClassPlan:
    """The plan in which a block keeps this rotation."""
    blocks = [
        block.model_copy(update={"rotation": rotation})
        if block.id == block_id and isinstance(block, SetsBlock)
        else block
        for block in plan.blocks
    ]
    return plan.model_copy(update={"blocks": blocks})
