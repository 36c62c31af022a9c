"""A person's own heart, fitted to recordings against the demand of the paths taken."""

from oaken.heart_data.calibration.fit import Calibrated, calibrate
from oaken.heart_data.calibration.own_demand import NOBODY, HeartTold, judge_heart, own_demand
from oaken.heart_data.calibration.recorded_path import Compared, RecordedPath, compared, recorded_path
from oaken.heart_data.calibration.simulated import belt_of, packets_of, recorded_by_belt

__all__ = [
    "NOBODY",
    "Calibrated",
    "Compared",
    "HeartTold",
    "RecordedPath",
    "belt_of",
    "calibrate",
    "compared",
    "judge_heart",
    "own_demand",
    "packets_of",
    "recorded_by_belt",
    "recorded_path",
]
