"""What has to be read before a class starts: screening, medication, care, air, the studio's rules; stop signs."""

from oaken.forecast.pre_class.checks import DEFER, STOP_SIGNS, StartItem, StartList, start_list

__all__ = [
    "DEFER",
    "STOP_SIGNS",
    "StartItem",
    "StartList",
    "start_list",
]
