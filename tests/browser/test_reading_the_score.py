"""Reading the score: the scrub line, one person, how a figure was reached, and everybody's access to it."""

from __future__ import annotations

from functools import partial

import pytest
from browser import chromium
from screen import Screen, serious_faults
from selenium.webdriver import Keys


def test_the_scrub_line_reads_out_one_second(screen: Screen) -> None:
    screen.open_class("Stretcher legs")
    # 7:15 is the first bell of the stations; station 1 is the leg press, where number 1 begins
    assert "Stations, round 1 of 2" in screen.text("[data-testid=readout]")
    screen.one("[data-testid=scrub]").click()
    screen.keys(Keys.HOME)
    screen.until_text("[data-testid=readout]", "0:00")
    screen.until_text("[data-testid=readout]", "12 at work")
    screen.keys(*([Keys.PAGE_UP] * 7))
    screen.until_text("[data-testid=readout]", "7:00")
    screen.until_text("[data-testid=readout]", "Moving on to the next block")
    screen.keys(*([Keys.ARROW_RIGHT] * 15))
    words = screen.until_text("[data-testid=readout]", "7:15")
    assert "Marit leg press" in words
    assert "Next change 7:55" in words
    screen.keys(Keys.END)
    screen.until_text("[data-testid=readout]", "End of the class")
    assert screen.one("[data-testid=scrub]").get_attribute("aria-valuetext") == "38:09"


def test_one_person_stands_out_and_the_ledger_turns_to_them(screen: Screen) -> None:
    screen.open_class("Stretcher legs")
    assert "Mean of the class" in screen.text("[data-testid=ledger]")
    people = screen.all("[data-testid=readout] button")
    people[4].click()
    screen.until_text("[data-testid=ledger]", "5 Wilma Thornquill")
    assert screen.one("[data-testid=own-heart]").get_attribute("d")
    people = screen.all("[data-testid=readout] button")
    people[6].click()
    screen.until_text("[data-testid=ledger]", "Heart-rate figures do not apply")
    assert screen.all("[data-testid=own-heart]") == []
    screen.press("Class")
    screen.until_text("[data-testid=ledger]", "Mean of the class")


@pytest.mark.parametrize(
    ("line", "words"),
    [
        ("Energy, gross", ["2011 Compendium", "± 20 %", "kcal", "what the work costs", "VO₂max"]),
        ("Highest heart rate", ["208", "pressor", "Gettman & Pollock", "bpm", "what the work costs"]),
        ("Work ÷ total", ["seconds of working segments", "%", "warm-up and cool-down", "how fast people work"]),
    ],
)
def test_a_figure_says_how_it_was_reached(line: str, words: list[str], screen: Screen) -> None:
    screen.open_class("Stretcher legs")
    if line == "Highest heart rate":
        screen.press_nth("[data-testid=readout] button", 0)
        screen.until_text("[data-testid=ledger]", "1 Marit")
        words = [*words[1:], "maximum 184 bpm"]
    screen.open_figure(line)
    screen.until_text("dialog", "how this was reached")
    screen.one("[data-testid=levers]")
    shown = screen.until_text("dialog", "Formula")
    for word in words:
        assert word in shown
    screen.keys(Keys.ESCAPE)
    screen.wait(lambda: not screen.all("dialog"), "the dialog to close")


def test_a_block_can_be_looked_at_close_up(screen: Screen) -> None:
    screen.open_class("Scree and stairs")
    planks = len(screen.all("[role=tab]"))
    screen.press("Stations on the bell")
    screen.press("This block")
    screen.wait(lambda: len(screen.all("[role=tab]")) == 1 < planks, "one plank over the whole width")
    screen.press("Whole class")
    screen.wait(lambda: len(screen.all("[role=tab]")) == planks, "all planks")


def test_a_new_class_opens_on_its_score(screen: Screen) -> None:
    screen.make_class()
    screen.until_saved(1)
    screen.one("[data-testid=staves]")
    # as many stations as it takes for twelve people of whom nobody stands by
    assert len(screen.exercises) >= 10
    assert "breather" not in screen.cautions()
    assert int(screen.length.split(":")[0]) in range(34, 46)


def test_an_address_that_leads_nowhere_says_so(screen: Screen) -> None:
    screen.open("/classes/4711")
    screen.until_text("main", "This does not exist")
    screen.open("/nowhere")
    screen.until_text("main", "There is nothing at this address")


@pytest.mark.parametrize("theme", ["mill-day", "mill-wall"])
@pytest.mark.parametrize("page", ["/classes", "/", "Stretcher legs", "Machine pairs", "a dialog"])
def test_everybody_can_use_it(page: str, theme: str, screen: Screen) -> None:
    screen.open("/classes")
    screen.script("localStorage.setItem('oaken-theme', arguments[0])", theme)
    if page.startswith("/"):
        screen.open(page)
        screen.one("[data-testid=classes], [data-testid=needs]")
    else:
        screen.open_class("Stretcher legs" if page == "a dialog" else page)
    if page == "a dialog":
        screen.press("Station")
        screen.one("[data-testid=exercises]")
    assert screen.script("return document.documentElement.dataset.theme") == theme
    faults = serious_faults(screen)
    assert not faults, "\n".join(faults)


def test_it_fits_a_phone_and_a_doubled_zoom(address: str, session: str) -> None:
    for width, height, phone in ((390, 844, True), (640, 400, False)):
        with chromium(width, height, phone=phone) as driver:
            screen = Screen(driver, address)
            screen.enter(session)
            screen.open_class("Stretcher legs")
            wide = screen.script("return document.documentElement.scrollWidth")
            assert wide <= width
            screen.type("Work", "50")
            screen.wait(partial(lambda here: here.length == "42:09", screen), "the length to follow")
