"""What a person is asked to do: a set is a list of segments, and every scheme is such a list."""

from oaken.domain.prescription.loads import Effort, Load, LoadChange
from oaken.domain.prescription.machine import MachineSetting
from oaken.domain.prescription.segments import Manner, Segment, SetRun, Sides, Until, each_set, merged
from oaken.domain.prescription.set_up import Aid, SetUp, Stance, read_set_up, stance_claims
from oaken.domain.prescription.tempo import Tempo

__all__ = [
    "Aid",
    "Effort",
    "Load",
    "LoadChange",
    "MachineSetting",
    "Manner",
    "Segment",
    "SetRun",
    "SetUp",
    "Sides",
    "Stance",
    "Tempo",
    "Until",
    "each_set",
    "merged",
    "read_set_up",
    "stance_claims",
]
