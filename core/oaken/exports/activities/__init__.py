"""What one person did in one class, as other programs read it: TCX and FIT, with heart rate, laps, sets and energy."""

from oaken.exports.activities.activity import Activity, ActivitySet, Lap, LapsAt, activities_of
from oaken.exports.activities.fit import write_fit
from oaken.exports.activities.tcx import write_tcx

__all__ = ["Activity", "ActivitySet", "Lap", "LapsAt", "activities_of", "write_fit", "write_tcx"]
