"""One heart under one path, the way a check by hand looks at it."""

from __future__ import annotations

from oaken.physiology.heart_rate import Floats, HeartProfile, ReserveCurve, Stretches, reserve_curves


def reserve_curve(stretches: Stretches, demand: Floats, profile: HeartProfile, first: float = 0.0) -> ReserveCurve:
    """The answer of one heart to one path; see `reserve_curves`."""
    return reserve_curves(stretches, [demand], [[profile] * stretches.first.size], first)[0]
