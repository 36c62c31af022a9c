"""A written notation that reads like a notebook: whole classes and single lines, to text and back."""

from oaken.plan.notation.faults import FaultyText, TextFault
from oaken.plan.notation.parts import read_leg, read_part, read_slot, read_station
from oaken.plan.notation.read import Names, read_class, read_class_noting
from oaken.plan.notation.write import head_of, line_of, tempo_words, text_of, wish_lines

__all__ = [
    "FaultyText",
    "Names",
    "TextFault",
    "head_of",
    "line_of",
    "read_class",
    "read_class_noting",
    "read_leg",
    "read_part",
    "read_slot",
    "read_station",
    "tempo_words",
    "text_of",
    "wish_lines",
]
