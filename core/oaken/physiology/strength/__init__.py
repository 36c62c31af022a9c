"""Loads and repetitions: what goes with what, in general and by the kind of movement."""

from oaken.physiology.strength.effort import load_meant, reserve_share
from oaken.physiology.strength.movement_curves import (
    MovementCurve,
    RepCurve,
    any_movement,
    best_from,
    curve_of,
    log_share,
    movement_curves,
    power_spread,
)
from oaken.physiology.strength.reps_at_load import most_reps, share_for

__all__ = [
    "MovementCurve",
    "RepCurve",
    "any_movement",
    "best_from",
    "curve_of",
    "load_meant",
    "log_share",
    "most_reps",
    "movement_curves",
    "power_spread",
    "reserve_share",
    "share_for",
]
