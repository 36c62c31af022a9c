"""The proof that a block cannot be had in time, where bounds prove nothing: small blocks are solved exactly."""

from __future__ import annotations

from oaken.schedule.arrange.collisions import by_bounds
from oaken.schedule.arrange.trial import Floor
from oaken.schedule.rotation.exact import MOST_SETS, solve_exactly
from oaken.schedule.rotation.problem import TENTHS
from oaken.schedule.timeline.lineup import Lineup

EFFORT = 0.3
"""Effort of the solver for each set of wishes, to see whether it can be kept."""


def by_solving(lineup: Lineup, limit_s: int) -> bool:
    """Whether no order keeps the limit: by the bounds, then by the solver. It takes seconds, so it is for a job."""
    if by_bounds(lineup, limit_s):
        return True
    floor = Floor(lineup)
    if floor.work.sets > MOST_SETS:
        return False
    known = floor.carried(floor.as_it_stands())
    return solve_exactly(floor.work, known, limit_s * TENTHS, 0, EFFORT).impossible
