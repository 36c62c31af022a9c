"""Changes of a class: what is tried, what each kind costs the aim and does to the figures, and other levels."""

from oaken.fit.edits import Attempt
from oaken.fit.effect import Effect, MuscleChange, effect_of
from oaken.fit.kinds import Kind, harm_of, kinds
from oaken.fit.levels import Levelled, at_level

__all__ = [
    "Attempt",
    "Effect",
    "Kind",
    "Levelled",
    "MuscleChange",
    "at_level",
    "effect_of",
    "harm_of",
    "kinds",
]
