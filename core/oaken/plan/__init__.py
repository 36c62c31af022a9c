"""What a class is: a document of blocks with wishes, its checks, its changes, and documents of older versions.

`blocks` knows the four kinds of blocks and what is done to their parts, `document` is the plan, `check` says what is
wrong with it in a room with people, `changes` are functions from plan to plan.
"""

from oaken.plan.blocks import (
    BLOCK_KINDS,
    MOST_IN_CLASS,
    AnyPart,
    Asked,
    Block,
    BlockBase,
    Branch,
    CircuitBlock,
    ExerciseId,
    Group,
    Leg,
    Other,
    Part,
    Place,
    PlannedVisit,
    Purpose,
    Reference,
    RelayBlock,
    Rotation,
    SetsBlock,
    Slot,
    Station,
    TogetherBlock,
    segments_of,
)
from oaken.plan.check import check, fitted, fitted_sets, settled, settled_slot
from oaken.plan.dates import Occasion, Repeats, first_occasion, minutes_of, occasions
from oaken.plan.document import Aim, ClassPlan
from oaken.plan.house_rules import HouseRule
from oaken.plan.wishes import Instead, OwnSettings, Wishes

__all__ = [
    "BLOCK_KINDS",
    "MOST_IN_CLASS",
    "Aim",
    "AnyPart",
    "Asked",
    "Block",
    "BlockBase",
    "Branch",
    "CircuitBlock",
    "ClassPlan",
    "ExerciseId",
    "Group",
    "HouseRule",
    "Instead",
    "Leg",
    "Occasion",
    "Other",
    "OwnSettings",
    "Part",
    "Place",
    "PlannedVisit",
    "Purpose",
    "Reference",
    "RelayBlock",
    "Repeats",
    "Rotation",
    "SetsBlock",
    "Slot",
    "Station",
    "TogetherBlock",
    "Wishes",
    "check",
    "first_occasion",
    "fitted",
    "fitted_sets",
    "minutes_of",
    "occasions",
    "segments_of",
    "settled",
    "settled_slot",
]
