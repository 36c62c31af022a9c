"""What happens at each second: for every person one gap-free list of steps from the start of the class to its end."""

from oaken.timeline.build import build_timeline, paced
from oaken.timeline.steps import BlockSpan, Doing, SlotUse, Step, Timeline, load_kg

__all__ = ["BlockSpan", "Doing", "SlotUse", "Step", "Timeline", "build_timeline", "load_kg", "paced"]
