"""What happens at each second: for every person one gap-free list of steps from the start of the class to its end."""

from oaken.timeline.bouts import Bout, Outlook, SlotTime, slot_time
from oaken.timeline.build import Lengths, build_timeline, lengths
from oaken.timeline.clocked import station_bout
from oaken.timeline.steps import BlockSpan, Doing, SlotUse, Step, Timeline, load_kg

__all__ = [
    "BlockSpan",
    "Bout",
    "Doing",
    "Lengths",
    "Outlook",
    "SlotTime",
    "SlotUse",
    "Step",
    "Timeline",
    "build_timeline",
    "lengths",
    "load_kg",
    "slot_time",
    "station_bout",
]
