"""A person's own heart, fitted to recordings against the demand of the paths taken."""

from oaken.calibration.fit import Calibrated, calibrate
from oaken.calibration.recorded_path import Compared, RecordedPath, compared, recorded_path
from oaken.calibration.simulated import belt_of, packets_of, recorded_by_belt

__all__ = [
    "Calibrated",
    "Compared",
    "RecordedPath",
    "belt_of",
    "calibrate",
    "compared",
    "packets_of",
    "recorded_by_belt",
    "recorded_path",
]
