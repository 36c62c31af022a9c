"""The words of the notation, in one place for reading, writing and for proposals."""

from __future__ import annotations

from typing import get_args

from oaken.domain.prescription import Stance
from oaken.plan import Aim, Purpose

STANCES: tuple[str, ...] = get_args(Stance)
AIDS: dict[str, tuple[str, ...]] = {
    "belt": ("with a belt", "with belt", "belt"),
    "straps": ("with straps", "with wrist straps", "straps"),
    "wedge": ("heels on a wedge", "on a wedge", "with a wedge", "wedge"),
    "pad": ("with a pad", "on a pad", "pad"),
}
"""What is worn or laid under, as it is spoken."""

PURPOSES = {purpose.replace("_", "-"): purpose for purpose in get_args(Purpose)}
AIMS: tuple[str, ...] = get_args(Aim)
LEVELS = ("beginner", "standard", "advanced")

NUMBER_WORDS = {
    "one": 1, "two": 2, "three": 3, "four": 4, "five": 5, "six": 6, "seven": 7, "eight": 8, "nine": 9, "ten": 10,
}  # fmt: skip

EACH_SIDE = ("each side", "each leg", "each arm", "per side", "per leg", "per arm", "a side", "a leg", "every side")
IN_ALL = ("in all", "in total", "altogether", "alternating sides", "alternating legs")
HELPED = ("helped", "assisted", "forced")
PARTIAL_AND_FULL = ("partial and full", "alternating partial and full", "half and full", "partial then full")
PARTIAL = ("partials", "partial", "half way", "halves")
HELPER = ("with helper", "with a helper", "helper", "with a spotter", "spotter", "with a partner")
AFTER_THE_LAST = ("after the last set", "after the last round", "after the last", "only after the last set")
TALKING = ("you can talk", "they can talk", "talking", "able to talk", "breath is back")

LINE_WORDS = [
    "then", "or", "if able", "max", "hold", "held", "partial", "partial and full", "each side", "in all", "drop", "add",
    "pause", "rest", "doing", "until", "bpm", "ramp", "turns", "incline", "step", "steps", "level", "effort", "left",
    "RM", "a side", "helped", "with helper", "after the last", *AIDS, "heels", "cm",
    "min", "s", "m", "kg", "km/h", "W", "steps/min", "x",
]  # fmt: skip
WISH_WORDS = ["together", "apart", "instead", "taken", "new", "setting"]
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
    "log", "plates back", "tag", "for", "then",
]  # fmt: skip

# words that may stand behind a name without being part of it
BEHIND_NAMES = {
    word
    for phrase in (
        *LINE_WORDS, *STANCES, *EACH_SIDE, *IN_ALL, *HELPED, *PARTIAL_AND_FULL, *PARTIAL, *HELPER, *AFTER_THE_LAST,
        *(phrase for said in AIDS.values() for phrase in said),
        "able", "to failure", "amrap", "tempo", "rpe", "rir", "last hard", "no rest", "note", "cue", "feet", "grade",
        "resistance", "mph", "lb", "lbs", "plate", "plates", "reps", "sets of", "at", "for",
    )
    for word in phrase.lower().split()
}  # fmt: skip

# words that notebooks use and this notation says in another way
SAID_ELSEWHERE = {
    "tempo": ["3-1-1"],
    "sets": ["3 x 12"],
    "reps": ["3 x 12"],
    "superset": ["+"],
    "amrap": ["max~12"],
    "failure": ["max~12"],
    "dropset": ["drop 20% on the last set"],
    "load": ["@70%"],
    "weight": ["@60 kg"],
    "heavy": ["@80%", "@2 left"],
    "light": ["@30%"],
    "side": ["each side", "in all"],
    "per": ["each side"],
    "warmup": ["@30%"],
    "seconds": ["40 s"],
    "minutes": ["4 min"],
}
