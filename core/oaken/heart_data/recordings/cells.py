"""What a cell of a recording says: a heart rate, or a number beside it."""

from __future__ import annotations

from math import nan


def number_in(cell: str | None) -> float:
    """A number beside the heart rate; NaN where there is none."""
    try:
        return float((cell or "").strip().replace(",", "."))
    except ValueError:
        return nan


def rate_in(cell: str) -> float:
    """A heart rate; an empty cell is a reading without contact."""
    if not cell:
        return 0.0
    rate = float(cell.replace(",", "."))
    if not 0 <= rate < 1000:
        raise ValueError(f"{cell!r} is no heart rate")
    return rate
