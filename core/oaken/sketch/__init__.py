"""Classes sketched from what is sought: exercises chosen by an optimiser, arranged, fitted to the slot, with reasons."""

from oaken.sketch.sketches import Hit, Sketch, Sketching, check_sought, sketch
from oaken.sketch.sought import Lately, LeftOut, Sought

__all__ = ["Hit", "Lately", "LeftOut", "Sketch", "Sketching", "Sought", "check_sought", "sketch"]
