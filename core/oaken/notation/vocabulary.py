"""The words of the notation, in one place for reading, writing and for proposals."""

from __future__ import annotations

from typing import get_args

from oaken.plan import Aim, Purpose
from oaken.prescription.segments import Stance

STANCES: tuple[str, ...] = get_args(Stance)
PURPOSES = {purpose.replace("_", "-"): purpose for purpose in get_args(Purpose)}
AIMS: tuple[str, ...] = get_args(Aim)
LEVELS = ("beginner", "standard", "advanced")

LINE_WORDS = [
    "then", "if able", "max", "hold", "held", "partial", "each side", "in all", "drop", "add", "pause", "rest", "doing",
    "ramp", "turns", "incline", "step", "steps", "level", "min", "s", "m", "kg", "km/h", "W", "steps/min", "x",
]  # fmt: skip
WISH_WORDS = ["together", "apart", "instead", "taken"]
HEADER_WORDS = [
    "class",
    "slot",
    "starts",
    "room",
    "people",
    *WISH_WORDS,
    "air",
    "aim",
    "level",
    "choose",
    "note",
    "block",
]
BLOCK_WORDS = ["stations", "sets", "together", "relay of"]
BLOCK_CLAUSES = [
    "rounds", "round rest", "turn", "whole circuit", "in order", "hold machines", "waves every", "within", "before",
    "tag", "for", "then",
]  # fmt: skip

# words that notebooks use and this notation says in another way
SAID_ELSEWHERE = {
    "tempo": ["3-1-1"],
    "sets": ["3 x 12"],
    "reps": ["3 x 12"],
    "superset": ["+"],
    "amrap": ["max~12"],
    "failure": ["max~12"],
    "dropset": ["drop 20%"],
    "load": ["@70%"],
    "weight": ["@60 kg"],
    "side": ["each side", "in all"],
    "per": ["each side"],
    "warmup": ["@30%"],
    "seconds": ["40 s"],
    "minutes": ["4 min"],
}
