"""Intensity classes by name (ACSM position stand, Garber et al. 2011; limits from memory)."""

from __future__ import annotations

from bisect import bisect_right
from itertools import pairwise

import numpy as np
import numpy.typing as npt

CLASS_NAMES = ("very light", "light", "moderate", "vigorous", "near-maximal")
RESERVE_LIMITS = (0.30, 0.40, 0.60, 0.90)
MAXIMUM_LIMITS = (0.57, 0.64, 0.77, 0.96)


def class_by_reserve(fraction: float) -> str:
    """Class of a fraction of the heart-rate (or oxygen-uptake) reserve.

    >>> class_by_reserve(0.6)
    'vigorous'
    """
    return CLASS_NAMES[bisect_right(RESERVE_LIMITS, fraction)]


def class_by_maximum(fraction: float) -> str:
    """Class of a fraction of the maximum heart rate.

    >>> class_by_maximum(0.70)
    'moderate'
    """
    return CLASS_NAMES[bisect_right(MAXIMUM_LIMITS, fraction)]


def minutes_by_class(reserve_per_second: npt.NDArray[np.float64]) -> npt.NDArray[np.float64]:
    """Minutes in each class, very light first along the last axis, from the fraction of reserve at every second."""
    whole = np.full(reserve_per_second.shape[:-1], reserve_per_second.shape[-1])
    counts = [np.count_nonzero(reserve_per_second >= limit, axis=-1) for limit in RESERVE_LIMITS]
    steps = [more - less for more, less in pairwise([whole, *counts, np.zeros_like(whole)])]
    return np.stack(steps, axis=-1) / 60
