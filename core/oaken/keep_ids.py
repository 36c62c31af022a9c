"""Ids for a plan read from text: parts that were there before keep theirs, so that history can follow them."""

from __future__ import annotations

from typing import TypeVar

from oaken.plan import (
    Block,
    CircuitBlock,
    ClassPlan,
    Group,
    Leg,
    RelayBlock,
    SetsBlock,
    Slot,
    Station,
    TogetherBlock,
    listed,
)

Item = TypeVar("Item", Slot, Station, Leg)


def with_ids_of(new: ClassPlan, old: ClassPlan) -> ClassPlan:
    """The new plan in which blocks of the same name and kind, and in them the same exercises, have their old ids.

    The rotation of a block, which the text does not tell, stays with it.
    """
    left = list(old.blocks)
    blocks: list[Block] = []
    for place, block in enumerate(new.blocks):
        match = next((one for one in left if (one.name, one.kind) == (block.name, block.kind)), None)
        if match is None and place < len(old.blocks) and old.blocks[place] in left:
            same_kind = old.blocks[place].kind == block.kind
            named = {one.name for one in new.blocks}
            match = old.blocks[place] if same_kind and old.blocks[place].name not in named else None
        if match is not None:
            left.remove(match)
        blocks.append(_block(block, match))
    taken = {part.id for block in blocks for part in _all(block)}
    return ClassPlan.model_validate(_filled(new.model_copy(update={"blocks": blocks}), taken).model_dump())


def _block(block: Block, old: Block | None) -> Block:
    if isinstance(block, SetsBlock):
        before = [slot for group in old.groups for slot in group.slots] if isinstance(old, SetsBlock) else []
        left = list(before)
        groups = []
        old_groups = {group.slots[0].id: group.id for group in old.groups} if isinstance(old, SetsBlock) else {}
        for group in block.groups:
            slots = _matched(group.slots, left)
            groups.append(Group(id=old_groups.get(slots[0].id, ""), slots=slots, stage=group.stage))
        rotation = old.rotation if isinstance(old, SetsBlock) else None
        return block.model_copy(update={"id": old.id if old else "", "groups": groups, "rotation": rotation})
    update: dict[str, object] = {"id": old.id if old else ""}
    match block:
        case CircuitBlock():
            update["stations"] = _matched(block.stations, list(old.stations) if isinstance(old, CircuitBlock) else [])
            update["circle"] = old.circle if isinstance(old, CircuitBlock) else None
        case TogetherBlock():
            update["slots"] = _matched(block.slots, list(old.slots) if isinstance(old, TogetherBlock) else [])
        case RelayBlock():
            update["legs"] = _matched(block.legs, list(old.legs) if isinstance(old, RelayBlock) else [])
    return block.model_copy(update=update)


def _matched(parts: list[Item], left: list[Item]) -> list[Item]:
    """The parts with the ids of those left that have the same exercise, in order; each id is given once."""
    found = []
    for part in parts:
        match = next((one for one in left if one.exercise == part.exercise), None)
        if match is not None:
            left.remove(match)
        found.append(part.model_copy(update={"id": match.id if match else ""}))
    return found


def _all(block: Block) -> list[Block | Group | Slot | Station | Leg]:
    if isinstance(block, SetsBlock):
        return [block, *block.groups, *(slot for group in block.groups for slot in group.slots)]
    return [block, *listed(block)]


def _filled(plan: ClassPlan, taken: set[str]) -> ClassPlan:
    """Fresh ids for what is new, none of which any old part had."""
    number = 0
    for block in plan.blocks:
        for part in _all(block):
            while not part.id:
                number += 1
                if f"line-{number}" not in taken:
                    part.id = f"line-{number}"
                    taken.add(part.id)
    return plan
