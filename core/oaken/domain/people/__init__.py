"""Who comes: one person with body, bests and what to be careful about; the roster as CSV; conditions and their care."""

from oaken.domain.people.person import (
    LEAST_RESERVE_BPM,
    MOST_LIFTS,
    Closed,
    HeartFit,
    Level,
    MaximumFormula,
    Person,
    Screening,
    Sex,
)

__all__ = [
    "LEAST_RESERVE_BPM",
    "MOST_LIFTS",
    "Closed",
    "HeartFit",
    "Level",
    "MaximumFormula",
    "Person",
    "Screening",
    "Sex",
]
