"""Kilograms from how hard it shall be: repetitions in reserve, repetition maximum, effort."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from oaken.domain.prescription import Effort, Load
from oaken.physiology.strength.reps_at_load import share_for

EFFORT_AT_SHARE = ((6.0, 0.10), (9.0, 0.30), (12.0, 0.50), (14.0, 0.70), (18.0, 0.85), (20.0, 1.00))
"""Effort from 6 to 20 and the share of best that goes with it: the bounds of the classes of intensity of resistance
work (Garber et al. 2011, from memory), in straight lines between."""

EFFORT_AT_RESERVE = ((6.0, 0.0), (9.0, 0.30), (12.0, 0.40), (14.0, 0.60), (18.0, 0.90), (20.0, 1.00))
"""Effort from 6 to 20 and the share of the reserve that goes with it in rhythmic work (Garber et al. 2011, from
memory), in straight lines between."""

LIGHTEST_SHARE = 0.1


def _along(points: Sequence[tuple[float, float]], at: float) -> float:
    return float(np.interp(at, [x for x, _ in points], [y for _, y in points]))


def effort_of_twenty(effort: Effort) -> float:
    """The effort on the scale from 6 to 20; ten of ten is twenty, one is seven (common practice, no source)."""
    return effort.value if effort.of == 20 else float(np.interp(effort.value, (1, 10), (7, 20)))


def reserve_share(effort: Effort) -> float:
    """Share of the uptake reserve of rhythmic work at this effort. 13 of 20 → 0.5."""
    return _along(EFFORT_AT_RESERVE, effort_of_twenty(effort))


def load_meant(load: Load, reps: float | None) -> Load:
    """The load as a share of best where it says how hard; any other load as it is. `reps` is the count of the set,
    None where it goes by the clock.

    Effort to 10 counts the repetitions left: eight of ten leaves two (Zourdos et al. 2016, from memory). 8 repetitions
    with 2 left → 0.75, by the usual training-load table (from memory).
    """
    if not load.by_effort:
        return load
    left = load.reps_left
    if load.effort is not None and load.effort.of == 10 and reps is not None:
        left = 10 - load.effort.value
    if load.rep_max is not None:
        share = share_for(load.rep_max)
    elif left is not None:
        share = share_for((reps or 10) + left)
    else:
        assert load.effort is not None
        share = _along(EFFORT_AT_SHARE, effort_of_twenty(load.effort))
    return Load(share_of_best=max(LIGHTEST_SHARE, round(share, 4)))
