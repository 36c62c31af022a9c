"""The page of evidence says what the code gives today."""

from __future__ import annotations

import re
import sys
from pathlib import Path

import pytest

ROOT = Path(__file__).parents[2]
PAGE = (ROOT / "docs" / "evidence.md").read_text(encoding="utf-8")
sys.path.insert(0, str(ROOT / "tools"))


def numbers(row: str) -> list[float]:
    return [float(one) for one in re.findall(r"[-+]?\d+(?:\.\d+)?", row)]


def row_of(*begins: str) -> str:
    return next(line for line in PAGE.splitlines() if line.startswith("| " + " | ".join(begins) + " |"))


def test_the_hearts_of_the_page_are_those_of_the_code() -> None:
    """To a third of a bpm and two percent: least squares end a little elsewhere on another machine."""
    from evidence import hearts

    for name, share, (error, bias, held, usual, constant) in hearts():
        said = numbers(row_of(name, f"{share:.0%}".replace("%", " %")))[1:]
        assert said[:2] == pytest.approx([error, bias], abs=0.3)
        assert said[2] == pytest.approx(held, abs=2)
        assert said[3:] == pytest.approx([usual, constant], abs=0.5)


def test_the_bodies_of_the_page_are_those_of_the_code() -> None:
    from evidence import bodies

    for name, figures in bodies():
        assert numbers(row_of(name)) == pytest.approx(figures, abs=0.6)


def test_every_test_the_page_names_is_there() -> None:
    for path in re.findall(r"`(tests/[\w/.-]+)`", PAGE):
        assert (ROOT / path).exists(), path
