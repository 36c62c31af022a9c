"""A person's own heart, fitted to recordings against the demand of the paths taken."""

from oaken.calibration.fit import Calibrated, calibrate
from oaken.calibration.simulated import belt_of
from oaken.calibration.taken import Compared, Taken, compared, taken_in

__all__ = ["Calibrated", "Compared", "Taken", "belt_of", "calibrate", "compared", "taken_in"]
