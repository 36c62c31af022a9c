"""The page of evidence: `make lint` computes it again; what that holds for the same, and what it names, is tested here."""

from __future__ import annotations

import re
import sys
from pathlib import Path

import pytest

ROOT = Path(__file__).parents[2]
PAGE = (ROOT / "docs" / "evidence.md").read_text(encoding="utf-8")
sys.path.insert(0, str(ROOT / "tools"))


def test_a_page_is_the_same_but_for_what_least_squares_differ_by_on_another_machine() -> None:
    from evidence import same

    row = "| indoor-ride | 50 % | 2.7 bpm | +0.6 bpm | 91 % |"
    assert same(row, row)
    assert same(row, row.replace("2.7", "2.9"))
    assert same(row, row.replace("91", "92"))
    for other in (row.replace("2.7", "3.4"), row.replace("91", "85"), row.replace("indoor", "road"), row + "\n" + row):
        assert not same(row, other)


@pytest.mark.parametrize("name", ["indoor-ride", "road-ride", "walk-and-run", "young", "old woman", "unfit"])
def test_the_page_has_a_row_of_numbers_for_each(name: str) -> None:
    rows = [line for line in PAGE.splitlines() if line.startswith(f"| {name}")]
    assert rows
    assert all(re.search(r"\d", row.removeprefix(f"| {name}")) for row in rows)


def test_every_test_the_page_names_is_there() -> None:
    named = re.findall(r"`(tests/[\w/.-]+)`", PAGE)
    assert len(named) > 8
    for path in named:
        assert (ROOT / path).exists(), path
