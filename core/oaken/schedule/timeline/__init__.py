"""What happens at each second: for every person one gap-free list of steps from the start of the class to its end."""

from oaken.schedule.timeline.bouts import Bout, Outlook, SlotTime, slot_time
from oaken.schedule.timeline.build import (
    Lengths,
    Passage,
    Timeline,
    blocks_at,
    build_timeline,
    lengths,
    timeline_at,
    timeline_in,
)
from oaken.schedule.timeline.circuit import station_bout
from oaken.schedule.timeline.layout import BlockAt, BlockLayout, block_length
from oaken.schedule.timeline.schedule import Circumstances
from oaken.schedule.timeline.steps import BlockSpan, Doing, SlotUse, Step, StepBound, load_kg, loads_of

__all__ = [
    "BlockAt",
    "BlockLayout",
    "BlockSpan",
    "Bout",
    "Circumstances",
    "Doing",
    "Lengths",
    "Outlook",
    "Passage",
    "SlotTime",
    "SlotUse",
    "Step",
    "StepBound",
    "Timeline",
    "block_length",
    "blocks_at",
    "build_timeline",
    "lengths",
    "load_kg",
    "loads_of",
    "slot_time",
    "station_bout",
    "timeline_at",
    "timeline_in",
]
