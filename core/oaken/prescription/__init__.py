"""What a person is asked to do: a set is a list of segments, and every scheme is a builder of such lists."""

from oaken.prescription.schemes import clocked_work, rounds_of, straight_sets
from oaken.prescription.segments import Load, Segment, Sides, WorkSet
from oaken.prescription.tempo import Tempo

__all__ = ["Load", "Segment", "Sides", "Tempo", "WorkSet", "clocked_work", "rounds_of", "straight_sets"]
