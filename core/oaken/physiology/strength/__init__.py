"""Loads and repetitions: what goes with what."""

from oaken.physiology.strength.effort import load_meant, reserve_share
from oaken.physiology.strength.reps_at_load import most_reps, share_for

__all__ = ["load_meant", "most_reps", "reserve_share", "share_for"]
