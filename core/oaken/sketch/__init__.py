"""Classes sketched from what is sought: chosen by an optimiser, arranged, fitted to the slot, with reasons."""

from oaken.sketch.sketches import Hit, Sketch, Sketching, best_for, check_sought, sketch
from oaken.sketch.sought import Lately, NotInClass, Sought

__all__ = ["Hit", "Lately", "NotInClass", "Sketch", "Sketching", "Sought", "best_for", "check_sought", "sketch"]
