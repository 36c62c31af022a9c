"""The names of `spoken_names.txt`, and how many of them are read."""

from __future__ import annotations

from dataclasses import dataclass, field
from pathlib import Path

from oaken.domain.catalogue import catalogue

KNOWN = catalogue()


def cases() -> list[tuple[str, list[str]]]:
    """Every name as it is said, and the exercises it can mean."""
    lines = (Path(__file__).parent / "spoken_names.txt").read_text(encoding="utf-8").splitlines()
    told = [line.split(" = ") for line in lines if line and not line.startswith("#")]
    return [(said, meant.split(", ")) for said, meant in told]


@dataclass
class Score:
    """How many names were read rightly, how many were asked for with a right one first, and what was guessed wrongly."""

    names: int = 0
    read: int = 0
    offered: int = 0
    wrong: list[str] = field(default_factory=list)


def score() -> Score:
    """Read every name."""
    found = Score()
    for said, meant in cases():
        found.names += 1
        meaning = KNOWN.spoken.meaning(said)
        if meaning.exercise is not None:
            if meant == [meaning.exercise]:
                found.read += 1
            else:
                found.wrong.append(said)
        elif meaning.choices and meaning.choices[0] in meant:
            found.offered += 1
    return found
