"""The shape of what a forecast says, and what of it an assistant is told."""

from oaken.forecast.report.shape import (
    HEART_FIGURES,
    Band,
    BlockForecast,
    Caution,
    Figures,
    Fix,
    Forecast,
    MuscleShare,
    Overheads,
    PathColumns,
    PersonForecast,
    Severity,
    SlotReport,
    SlotSeconds,
    Subject,
    Target,
)

__all__ = [
    "HEART_FIGURES",
    "Band",
    "BlockForecast",
    "Caution",
    "Figures",
    "Fix",
    "Forecast",
    "MuscleShare",
    "Overheads",
    "PathColumns",
    "PersonForecast",
    "Severity",
    "SlotReport",
    "SlotSeconds",
    "Subject",
    "Target",
]
