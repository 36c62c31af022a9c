"""Changes of a plan: pure functions from plan to plan, and the small documents that name them.

`apply` carries a document out; what fitting, levels and repair are made of stands in `parts` (one slot, station or
leg) and `plans` (everything else).
"""

from oaken.plan.blocks import with_rest, with_runs, with_segments
from oaken.plan.changes.apply import apply, do_instead
from oaken.plan.changes.documents import (
    AddBlock,
    Change,
    DoInstead,
    DropsOnLastOnly,
    MakeRotation,
    MilderForHeat,
    MoveSlot,
    SetChange,
    SetLoad,
    SetRest,
    ShortenHolds,
    SwapExercise,
)
from oaken.plan.changes.parts import (
    SlotEdit,
    has_drops,
    refit,
    refit_slot,
    with_load,
    with_short_holds,
    without_drops,
)
from oaken.plan.changes.plans import (
    Edit,
    drops_on_last_only,
    milder,
    move,
    on_blocks,
    on_parts,
    on_sets,
    on_slots,
    swap,
)

__all__ = [
    "AddBlock",
    "Change",
    "DoInstead",
    "DropsOnLastOnly",
    "Edit",
    "MakeRotation",
    "MilderForHeat",
    "MoveSlot",
    "SetChange",
    "SetLoad",
    "SetRest",
    "ShortenHolds",
    "SlotEdit",
    "SwapExercise",
    "apply",
    "do_instead",
    "drops_on_last_only",
    "has_drops",
    "milder",
    "move",
    "on_blocks",
    "on_parts",
    "on_sets",
    "on_slots",
    "refit",
    "refit_slot",
    "swap",
    "with_load",
    "with_rest",
    "with_runs",
    "with_segments",
    "with_short_holds",
    "without_drops",
]
