"""The kinds of blocks on the time axis: a new kind is entered here."""

from __future__ import annotations

from typing import Any

from oaken.plan import Block
from oaken.schedule.timeline import circuit, relay, sets, together
from oaken.schedule.timeline.kind import TimeKind

KINDS: dict[str, TimeKind[Any]] = {
    "circuit": circuit.KIND,
    "sets": sets.KIND,
    "together": together.KIND,
    "relay": relay.KIND,
}


def kind_of(block: Block) -> TimeKind[Any]:
    """What the time axis knows of a block's kind."""
    return KINDS[block.kind]
