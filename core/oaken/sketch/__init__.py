"""Classes sketched from what is sought: chosen by an optimiser, arranged, fitted to the slot, with reasons."""

from oaken.sketch.sketches import Hit, Sketch, Sketching, best_for, check_sought, sketch
from oaken.sketch.sought import Day, Lately, NotInClass, SketchManner, Sought

__all__ = [
    "Day",
    "Hit",
    "Lately",
    "NotInClass",
    "Sketch",
    "SketchManner",
    "Sketching",
    "Sought",
    "best_for",
    "check_sought",
    "sketch",
]
