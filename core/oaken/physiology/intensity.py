"""Intensity classes by name (ACSM position stand, Garber et al. 2011; limits from memory)."""

from __future__ import annotations

from itertools import pairwise

import numpy as np
import numpy.typing as npt

CLASS_NAMES = ("very light", "light", "moderate", "vigorous", "near-maximal")
RESERVE_LIMITS = (0.30, 0.40, 0.60, 0.90)


def minutes_by_class(reserve: npt.NDArray[np.float64], every_s: float = 1.0) -> npt.NDArray[np.float64]:
    """Minutes in each class, very light first along the last axis, from the fraction of reserve read every
    so many seconds."""
    whole = np.full(reserve.shape[:-1], reserve.shape[-1])
    counts = [np.count_nonzero(reserve >= limit, axis=-1) for limit in RESERVE_LIMITS]
    steps = [more - less for more, less in pairwise([whole, *counts, np.zeros_like(whole)])]
    return np.stack(steps, axis=-1) * every_s / 60
