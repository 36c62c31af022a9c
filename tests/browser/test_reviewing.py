"""A second look before the doors open: lines with why, and a press that mends one."""

from __future__ import annotations

from screen import Screen, serious_faults


def test_a_remark_is_read_and_mended(screen: Screen) -> None:
    screen.open_class("Machine pairs")
    screen.press("Review")
    screen.one("[data-testid=review] li")
    # what can hurt somebody comes before a queue: that may stand behind the first seven
    screen.script(
        "[...document.querySelectorAll('[data-testid=review] button')].find((one) => / more$/.test(one.innerText))?.click()"
    )
    told = screen.until_text("[data-testid=review]", "will queue")
    assert "worth a word before the doors open" in told
    assert serious_faults(screen) == []
    screen.press("Find a better rotation")
    screen.until_text("[data-testid=mended]", "another order of the visits")
    screen.press("Close")
    screen.press("Undo")


def test_a_line_that_is_accepted_stays_away_until_it_is_shown_again(screen: Screen) -> None:
    """For everybody: what was accepted is kept with the class."""
    screen.open_class("Long carry")
    screen.press("Review")
    screen.one("[data-testid=review] li")
    show_all = (
        "[...document.querySelectorAll('[data-testid=review] button')].find((b) => / more$/.test(b.innerText))?.click()"
    )
    screen.script(show_all)
    labels = (
        "return [...document.querySelectorAll('[aria-label^=\"Accept: \"]')].map((b) => b.getAttribute('aria-label'))"
    )
    before = screen.script(labels)
    assert before
    screen.press(before[-1])
    screen.wait(lambda: before[-1] not in screen.script(labels), "the line to go away")
    screen.press("Close")
    screen.driver.execute_script("localStorage.clear()")
    screen.press("Review")
    screen.until_text("[data-testid=review]", "Show the 1 that was accepted")
    screen.script(show_all)
    assert screen.script(labels) == before[:-1]
    screen.press("Show the 1 that was accepted")
    screen.wait(lambda: screen.script(labels) == before, "the line to come back")
    # the part that is read item by item is in the same place
    screen.choose("dialog [role=tab]", "Pre-class check")
    screen.until_text("[data-testid=go-item]", "1 of ")


def test_the_same_class_otherwise_in_three_presses(screen: Screen) -> None:
    screen.open_class("Machine pairs")
    screen.press("Versions")
    screen.choose("[role=menuitem]", "Compare scenarios")
    told = screen.until_text("[data-testid=sides]", "All beginners")
    for words in ("As planned", "2 more people", "2 do not come", "Without", "6 °C warmer"):
        assert words in told
    assert serious_faults(screen) == []
