"""Loads and repetitions: what goes with what."""

from oaken.strength.reps_at_load import most_reps, share_for

__all__ = ["most_reps", "share_for"]
