"""Recorded heart rates: what belts and files say, decoded, cleaned and written."""

from oaken.heart_data.recordings.files import LARGEST_BYTES, read_recording
from oaken.heart_data.recordings.naming import person_named
from oaken.heart_data.recordings.series import Cleaned, HeartSeries, cleaned

__all__ = ["LARGEST_BYTES", "Cleaned", "HeartSeries", "cleaned", "person_named", "read_recording"]
