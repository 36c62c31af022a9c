"""The catalogue: exercises, equipment kinds, muscles and the activity table, read from checked data files."""

from oaken.catalogue.entries import Activity, EquationSetting, EquipmentKind, Exercise, MuscleMassClass, NamedEntry
from oaken.catalogue.library import Catalogue, catalogue

__all__ = [
    "Activity",
    "Catalogue",
    "EquationSetting",
    "EquipmentKind",
    "Exercise",
    "MuscleMassClass",
    "NamedEntry",
    "catalogue",
]
