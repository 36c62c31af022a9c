"""The catalogue: exercises, equipment kinds, muscles and the activity table, read from checked data files."""

from oaken.domain.catalogue.choices import Question, School
from oaken.domain.catalogue.entries import (
    Activity,
    CautionNote,
    Condition,
    EquationSetting,
    EquipmentKind,
    Exercise,
    MuscleMassClass,
    NamedEntry,
    Pattern,
    shipped_again,
    spoken_names,
)
from oaken.domain.catalogue.library import MOST_OWN, Catalogue, Collision, OwnEntries, catalogue, with_stand_ins
from oaken.domain.catalogue.spoken import also_called

__all__ = [
    "MOST_OWN",
    "Activity",
    "Catalogue",
    "CautionNote",
    "Collision",
    "Condition",
    "EquationSetting",
    "EquipmentKind",
    "Exercise",
    "MuscleMassClass",
    "NamedEntry",
    "OwnEntries",
    "Pattern",
    "Question",
    "School",
    "also_called",
    "catalogue",
    "shipped_again",
    "spoken_names",
    "with_stand_ins",
]
