"""Ids for a plan read from text: parts that were there before keep theirs, so that history can follow them."""

from __future__ import annotations

from oaken.plan.blocks import Block
from oaken.plan.document import ClassPlan


def with_ids_of(new: ClassPlan, old: ClassPlan) -> ClassPlan:
    """The new plan in which blocks of the same name and kind, and in them the same exercises, have their old ids.

    The rotation of a block, which the text does not tell, stays with it.
    """
    left = list(old.blocks)
    blocks: list[Block] = []
    for place, block in enumerate(new.blocks):
        match = next((item for item in left if (item.name, item.kind) == (block.name, block.kind)), None)
        if match is None and place < len(old.blocks) and old.blocks[place] in left:
            same_kind = old.blocks[place].kind == block.kind
            named = {block.name for block in new.blocks}
            match = old.blocks[place] if same_kind and old.blocks[place].name not in named else None
        if match is not None:
            left.remove(match)
        blocks.append(block.with_ids_of(match))
    taken = {part.id for block in blocks for part in block.documents}
    return ClassPlan.model_validate(_filled(new.model_copy(update={"blocks": blocks}), taken).model_dump())


def _filled(plan: ClassPlan, taken: set[str]) -> ClassPlan:
    """Fresh ids for what is new, none of which any old part had."""
    number = 0
    for block in plan.blocks:
        for part in block.documents:
            while not part.id:
                number += 1
                if f"line-{number}" not in taken:
                    part.id = f"line-{number}"
                    taken.add(part.id)
    return plan
