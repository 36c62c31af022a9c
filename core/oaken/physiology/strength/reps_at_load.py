"""How many repetitions go with a share of the one-repetition maximum."""

from __future__ import annotations

from itertools import pairwise

# the usual training-load table (from memory): repetitions to failure, share of the best
REPS_AT_SHARE = [
    (1, 1.00), (2, 0.95), (3, 0.93), (4, 0.90), (5, 0.87), (6, 0.85), (7, 0.83), (8, 0.80), (9, 0.77), (10, 0.75),
    (11, 0.70), (12, 0.67), (15, 0.65),
]  # fmt: skip

BEYOND_TABLE_PER_REP = 0.0125
"""Share lost for every repetition beyond the table (common practice, no source)."""


def share_for(reps: float) -> float:
    """Share of the best at which about this many repetitions end in failure; between rows in a straight line.

    Free-weight compounds; machines and single joints run higher. Usual training-load table, from memory. 8 → 0.80.
    """
    last_reps, last_share = REPS_AT_SHARE[-1]
    if reps >= last_reps:
        return max(0.2, last_share - (reps - last_reps) * BEYOND_TABLE_PER_REP)
    for (few, heavy), (many, light) in pairwise(REPS_AT_SHARE):
        if reps <= many:
            return heavy + (light - heavy) * (max(reps, few) - few) / (many - few)
    raise AssertionError("the table ends above every number below its last row")


def most_reps(share: float) -> int:
    """The most repetitions at a share of the best, by the same table. 0.80 → 8."""
    reps = 1
    while reps < 200 and share_for(reps + 1) >= share - 1e-9:
        reps += 1
    return reps
