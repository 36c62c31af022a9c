"""Classes sketched from what is sought: chosen by an optimiser, arranged, fitted to the slot, with reasons."""

from oaken.design.generator.sketches import Hit, Sketch, Sketching, best_for, check_sought, sketch
from oaken.design.generator.sought import Day, Lately, NotInClass, SketchManner, Sought

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
