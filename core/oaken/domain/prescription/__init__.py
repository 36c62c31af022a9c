"""What a person is asked to do: a set is a list of segments, and every scheme is such a list."""

from oaken.domain.prescription.loads import Effort, Load, LoadChange
from oaken.domain.prescription.machine import MachineSetting
from oaken.domain.prescription.segments import Manner, Segment, SetRun, Sides, Stance, Until, each_set, merged
from oaken.domain.prescription.tempo import Tempo

__all__ = [
    "Effort",
    "Load",
    "LoadChange",
    "MachineSetting",
    "Manner",
    "Segment",
    "SetRun",
    "Sides",
    "Stance",
    "Tempo",
    "Until",
    "each_set",
    "merged",
]
