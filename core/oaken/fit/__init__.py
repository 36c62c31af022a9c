"""A class fitted to its slot, and its beginner and advanced versions: what is tried, what each change does."""

from oaken.fit.levels import Levelled, at_level
from oaken.fit.to_slot import Fitting, Proposal, class_seconds, fit_to_slot, kinds

__all__ = [
    "Fitting",
    "Levelled",
    "Proposal",
    "at_level",
    "class_seconds",
    "fit_to_slot",
    "kinds",
]
