"""A second look before the doors open: lines with why, and a press that mends one."""

from __future__ import annotations

from screen import Screen, serious_faults


def test_a_remark_is_read_and_mended(screen: Screen) -> None:
    screen.open_class("Machine pairs")
    screen.press("Second look")
    told = screen.until_text("[data-testid=second-look]", "will queue")
    assert "worth a word before the doors open" in told
    assert serious_faults(screen) == []
    screen.press("Find a better rotation")
    screen.until_text("[data-testid=mended]", "another order of the visits")
    screen.press("Close")
    screen.press("Undo")
