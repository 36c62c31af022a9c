"""Changes of a class: what is tried, what each kind costs the aim and does to the figures, and other levels."""

from oaken.design.adjustments.edits import Attempt
from oaken.design.adjustments.effect import Effect, Lost, MuscleChange, effect_of, lost_in
from oaken.design.adjustments.kinds import Kind, cost_of, kinds
from oaken.design.adjustments.levels import Levelled, at_level

__all__ = [
    "Attempt",
    "Effect",
    "Kind",
    "Levelled",
    "Lost",
    "MuscleChange",
    "at_level",
    "cost_of",
    "effect_of",
    "kinds",
    "lost_in",
]
