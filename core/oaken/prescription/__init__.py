"""What a person is asked to do: a set is a list of segments, and every scheme is such a list."""

from oaken.prescription.loads import Load, LoadChange
from oaken.prescription.machine import MachineSetting
from oaken.prescription.segments import Manner, Segment, SetRun, Sides, Stance, each_set, merged
from oaken.prescription.tempo import Tempo

__all__ = [
    "Load",
    "LoadChange",
    "MachineSetting",
    "Manner",
    "Segment",
    "SetRun",
    "Sides",
    "Stance",
    "Tempo",
    "each_set",
    "merged",
]
