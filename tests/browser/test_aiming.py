"""Aiming at a density: from the figure in the ledger to the class that has it, in a few presses, and back."""

from __future__ import annotations

from screen import Screen


def test_a_density_is_aimed_at_and_taken(screen: Screen) -> None:
    screen.open_class("Stretcher legs")
    before = screen.one("[data-testid=ledger]").text
    assert "42 %" in before
    screen.open_figure("Work ÷ total")
    screen.press("Aim at another value …")
    screen.type("Where it is to be", "50")
    screen.press("Find changes")
    told = screen.until_text("[data-testid=aiming]", "These bring it there")
    assert "Now 42 %" in told
    assert "harm" in told
    screen.script("document.querySelector('[data-testid=aiming] li button').click()")
    screen.until_text("[data-testid=ledger]", "50 %")
    screen.press("Undo")
    screen.until_text("[data-testid=ledger]", "42 %")


def test_what_stands_in_the_way_is_told(screen: Screen) -> None:
    screen.open_class("Stretcher legs")
    screen.open_figure("Each, gross")
    screen.press("Aim at another value …")
    screen.type("Where it is to be", "420")
    screen.press("Find changes")
    told = screen.until_text("[data-testid=aiming]", "In the way")
    assert "length at most 2400 s" in told
    assert "Nothing that was tried" in told
