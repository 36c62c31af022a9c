"""A person's own heart, fitted to recordings against the demand of the paths taken."""

from oaken.calibration.fit import Calibrated, calibrate
from oaken.calibration.taken import Compared, Taken, compared, taken_in

__all__ = ["Calibrated", "Compared", "Taken", "calibrate", "compared", "taken_in"]
