"""What changed from one plan to another, in words and lines of the notation."""

from __future__ import annotations

from collections.abc import Iterator

from oaken.basis.words import counted
from oaken.domain.catalogue import Catalogue
from oaken.plan import Block, ClassPlan
from oaken.plan.notation import head_of, line_of, wish_lines

HEAD = {
    "name": "name",
    "slot_min": "class length (min)",
    "starts": "starts",
    "room": "room",
    "aim": "aim",
    "level": "level",
    "note": "note",
}


def differences(before: ClassPlan, after: ClassPlan, catalogue: Catalogue) -> list[str]:
    """Every difference, in the order of the newer plan; empty when they are alike."""
    return list(_differences(before, after, catalogue))


def _differences(before: ClassPlan, after: ClassPlan, catalogue: Catalogue) -> Iterator[str]:
    for name, word in HEAD.items():
        was, now = getattr(before, name), getattr(after, name)
        if was != now:
            yield f"{word}: {_short(str(was))} → {_short(str(now))}"
    gone = [person for person in before.people if person not in after.people]
    come = [person for person in after.people if person not in before.people]
    if gone:
        yield f"without {', '.join(gone)}"
    if come:
        yield f"with {', '.join(come)}"
    if not gone and not come and before.people != after.people:
        yield "people in another order"
    was, now = wish_lines(before, catalogue), wish_lines(after, catalogue)
    yield from (f"no longer: {line}" for line in was if line not in now)
    yield from (f"new: {line}" for line in now if line not in was)
    for question in sorted({*before.choices, *after.choices}):
        was, now = before.school(question, catalogue), after.school(question, catalogue)
        if was != now:
            yield f"{catalogue.questions[question].name} {was} → {now}"
    # a block of another kind is another block, whatever its id
    old = {(block.id, block.kind): block for block in before.blocks}
    new = {(block.id, block.kind): block for block in after.blocks}
    for block in before.blocks:
        if (block.id, block.kind) not in new:
            yield f"block {block.name} taken out"
    for block in after.blocks:
        if (block.id, block.kind) not in old:
            count = len(block.parts)
            yield f"block {block.name} added ({counted(count, 'exercise')})"
        else:
            yield from _in_block(old[block.id, block.kind], block, catalogue)
    kept = [key for key in old if key in new]
    if kept != [key for key in new if key in old]:
        yield "blocks in another order"


def _in_block(before: Block, after: Block, catalogue: Catalogue) -> Iterator[str]:
    if head_of(before) != head_of(after):
        yield f"{_way(before)} → {_way(after)}"
    if before.told != after.told:
        yield f"{after.name}: another rotation" if after.told else f"{after.name}: rotation taken out"
    old = {part.id: part for part in before.parts}
    new = {part.id: part for part in after.parts}
    for name, part in old.items():
        if name not in new:
            yield f"{after.name}: {line_of(part, catalogue)} taken out"
    for name, part in new.items():
        if name not in old:
            yield f"{after.name}: {line_of(part, catalogue)} added"
        elif line_of(old[name], catalogue) != line_of(part, catalogue):
            yield f"{after.name}: {line_of(old[name], catalogue)} → {line_of(part, catalogue)}"
    if [name for name in old if name in new] != [name for name in new if name in old]:
        yield f"{after.name}: exercises in another order"
    elif set(old) == set(new):
        shapes = [[len(parts) for parts in block.groups_of_parts] for block in (before, after)]
        if shapes[0] != shapes[1]:
            yield f"{after.name}: exercises are grouped otherwise"


def _way(block: Block) -> str:
    return head_of(block).removeprefix("block ")


def _short(words: str) -> str:
    plain = " ".join(words.split()) or "—"
    return plain if len(plain) <= 60 else f"{plain[:57]}…"
