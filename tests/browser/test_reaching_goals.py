"""GoalSearch at a density: from the figure in the ledger to the class that has it, in a few presses, and back."""

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
    assert "cost" in told
    # the first proposals are there at once, the rest is looked for meanwhile
    screen.wait(lambda: "Looking for more" not in screen.text("dialog[open]"), "the whole search is over")
    screen.script("document.querySelector('[data-testid=aiming] li button').click()")
    screen.until_text("[data-testid=ledger]", "50 %")
    screen.press("Undo")
    screen.until_text("[data-testid=ledger]", "42 %")


def test_what_stands_in_the_way_is_told(screen: Screen) -> None:
    screen.open_class("Stretcher legs")
    screen.open_figure("Energy, gross")
    screen.press("Aim at another value …")
    screen.type("Where it is to be", "420")
    screen.press("Find changes")
    told = screen.until_text("[data-testid=aiming]", "In the way")
    assert "length at most 40:00 min:s" in told
    assert "Nothing that was tried" in told


def test_the_tension_of_a_muscle_is_aimed_at(screen: Screen) -> None:
    screen.open_class("Stretcher legs")
    screen.open_figure("Muscle balance by block")
    now = screen.text("[data-testid=muscle-balance]")
    assert "Quadriceps" in now
    screen.press("Aim at another value of quadriceps")
    screen.select("How", "at least")
    screen.type("Where it is to be", "9")
    screen.press("Find changes")
    told = screen.until_text("[data-testid=aiming]", "These bring it there")
    assert "min:s" in told


def test_a_curve_is_drawn_and_a_point_of_it_taken(screen: Screen) -> None:
    screen.open_class("Stretcher legs")
    before = screen.one("[data-testid=ledger]").text
    screen.open_figure("Energy, gross")
    screen.press("Aim at another value …")
    screen.press("What it costs of another figure …")
    screen.select("The other figure", "Vigorous or more")
    screen.press("Draw it")
    screen.one("[data-testid=curve]")
    # points may lie close to one another: this one is meant
    point = "document.querySelector('[data-testid=curve] g[role=button]')"
    screen.script(f"{point}.dispatchEvent(new MouseEvent('click', {{bubbles: true}}))")
    screen.press("Use it")
    screen.wait(lambda: screen.one("[data-testid=ledger]").text != before, "the ledger tells of another class")


def test_fit_to_slot_goes_on_to_other_limits(screen: Screen) -> None:
    screen.open_class("Long carry")
    screen.press("Fit to length")
    screen.press("Another length, other limits …")
    screen.press("Find changes")
    screen.until_text("[data-testid=aiming]", "Now 71:0")
