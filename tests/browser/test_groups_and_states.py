"""Groups on the score, a phone, long lists, and what is shown when there is nothing or when the server is gone."""

from __future__ import annotations

import os
import signal
from collections.abc import Iterator
from pathlib import Path

import pytest
from browser import chromium
from screen import Screen
from selenium.webdriver import Keys
from serving import serving, signed_in
from test_writing_and_fitting import new_class, paste


@pytest.fixture
def alone(tmp_path: Path) -> Iterator[tuple[Screen, int]]:
    """A server and a browser of one's own, to do harm to; with the server's process id."""
    with serving(tmp_path, dict(os.environ)) as (address, process), chromium() as driver:
        screen = Screen(driver, address)
        screen.enter(signed_in(address))
        yield screen, process


def test_supersets_are_made_and_undone_by_joining_and_splitting(screen: Screen) -> None:
    new_class(screen)
    screen.press("Block")
    screen.choose("[data-testid=templates] button", "Straight sets")
    screen.wait(lambda: screen.exercises == ["leg-press", "lying-leg-curl", "standing-calf-raise"], "the template")
    assert "superset" not in screen.text("[data-testid=staves]")
    screen.choose_slot("lying-leg-curl")
    screen.press("Join Lying leg curl to the group above")
    screen.until_text("[data-testid=staves]", "superset")
    # rounds and round rest of the pair
    screen.type("Group A: rounds", "4")
    screen.wait(lambda: "4 x 10" in screen.text("[data-testid=slot][data-exercise=leg-press]"), "four rounds")
    screen.wait(lambda: "4 x 12" in screen.text("[data-testid=slot][data-exercise=lying-leg-curl]"), "of both")
    screen.type("Group A: rest after the round", "75")
    screen.wait(lambda: "rest 75" in screen.text("[data-testid=slot][data-exercise=lying-leg-curl]"), "the round rest")
    screen.press("Add an exercise to group A")
    screen.type("Search exercises", "plank")
    screen.keys(Keys.ENTER)
    screen.until_text("[data-testid=staves]", "tri-set")
    screen.choose_slot("lying-leg-curl")
    screen.press("Split Lying leg curl off")
    screen.wait(lambda: "tri-set" not in screen.text("[data-testid=staves]"), "the tri-set to go")
    # the way the rounds run and where people begin are said in the text
    select = screen.field("Rounds")
    select.send_keys("w")
    screen.press("Edit as text")
    screen.wait(lambda: "whole circuit" in screen.class_text, "the way in the text")
    screen.keys(Keys.ESCAPE)


def test_a_caution_on_a_slot_is_mended_with_a_press(screen: Screen) -> None:
    new_class(screen)
    screen.press("Edit as text")
    screen.until_text("[data-testid=text-state]", "Reads as")
    paste(screen, "class Mend\nslot 40 min\npeople marit\nblock Legs: sets, then 0\nleg press 3 x 15, @85%, rest 90\n")
    screen.until_text("[data-testid=text-state]", "Reads as 1 block, 1 exercise")
    screen.press("Apply")
    screen.wait(lambda: screen.exercises == ["leg-press"], "the class")
    screen.until_text("[data-testid=slot]", "▲")
    screen.choose_slot("leg-press")
    assert "15 repetitions at 85 %" in screen.text("[data-testid=slot-bar]")
    screen.choose("[data-testid=slot-bar] button", "65 % of best")
    screen.wait(lambda: "@65%" in screen.text("[data-testid=slot]"), "the lighter load")
    screen.wait(lambda: "▲" not in screen.text("[data-testid=slot]"), "the caution to go")
    # the class has neither warm-up nor cool-down: both are a press away
    tabs = len(screen.all("[role=tab]"))
    screen.press("Review")
    screen.press("Add a warm-up")
    screen.until_text("[data-testid=mended]", "Add a warm-up")
    screen.press("Close")
    screen.wait(lambda: len(screen.all("[role=tab]")) == tabs + 1, "the warm-up")


def test_about_an_exercise_is_read_in_place_and_a_variant_taken(screen: Screen) -> None:
    screen.open_class("Machine pairs")
    screen.choose_slot("leg-press")
    screen.press("About Leg press")
    card = screen.until_text("dialog [data-testid=exercise-card]", "Demand while working")
    assert "✓ to parallel" in card
    assert "On the same unit (leg press)" in card
    screen.press("Hack squat")
    screen.wait(lambda: screen.exercises[0] == "hack-squat", "the harder variant")
    screen.chord(Keys.CONTROL, "z")
    screen.wait(lambda: screen.exercises[0] == "leg-press", "one step back")


def test_a_long_class_stays_in_sight_while_it_is_edited(screen: Screen) -> None:
    lines = "\n".join(f"leg press 2 x {8 + number % 5}, @60%, rest 30" for number in range(20))
    new_class(screen)
    screen.press("Edit as text")
    screen.until_text("[data-testid=text-state]", "Reads as")
    paste(screen, f"class Twenty slots\nslot 120 min\npeople marit, tobin\nblock Many: sets, then 0\n{lines}\n")
    screen.until_text("[data-testid=text-state]", "Reads as 1 block, 20 exercises")
    screen.press("Apply")
    screen.wait(lambda: len(screen.exercises) == 20, "the twenty slots")
    screen.script("[...document.querySelectorAll('[data-slot]')].at(-1).focus()")
    screen.keys(Keys.ENTER)
    bar = screen.one("[data-testid=slot-bar]")

    def in_sight() -> bool:
        top, bottom = screen.script(
            "const box = arguments[0].getBoundingClientRect(); return [box.top, innerHeight - box.bottom]", bar
        )
        return bool(top >= 0 and bottom >= 0)

    screen.wait(in_sight, "the slot's bar in sight")
    screen.type("Repetitions", "6")
    screen.wait(lambda: "2 x 6" in screen.all("[data-testid=slot]")[-1].text, "the last slot to follow")


def test_on_a_phone_a_slot_is_written_and_a_proposal_applied(address: str, session: str) -> None:
    with chromium(390, 844, phone=True) as driver:
        screen = Screen(driver, address)
        screen.enter(session)
        screen.open_class("Long carry")
        screen.press("Heavy pairs")
        screen.choose_slot("leg-press")
        screen.type("Line of Leg press", "leg press 2 x 8, @70%")
        screen.wait(
            lambda: (
                "Leg press 2 x 8" in (screen.one("[data-exercise=leg-press] [data-slot]").get_attribute("title") or "")
            ),
            "the row to follow",
        )
        assert screen.script("return document.documentElement.scrollWidth") <= 390
        screen.script("[...document.querySelectorAll('button')].find((b) => b.textContent === 'Fit to length').click()")
        screen.one("dialog")
        assert screen.script("return document.documentElement.scrollWidth") <= 390
        screen.open("/catalogue")
        screen.one("[data-testid=exercise-card]")
        assert screen.script("return document.documentElement.scrollWidth") <= 390
        screen.open("/compare")
        screen.one("[data-testid=differences]")
        assert screen.script("return document.documentElement.scrollWidth") <= 390


def test_when_the_server_is_gone_nothing_is_lost_and_every_screen_says_what_to_do(alone: tuple[Screen, int]) -> None:
    screen, process = alone
    screen.open_class("Machine pairs")
    screen.press("Choices")  # what is asked for once is there
    screen.keys(Keys.ESCAPE)
    screen.choose_slot("leg-press")
    os.kill(process, signal.SIGSTOP)
    os.kill(process, signal.SIGKILL)
    screen.type("Sets", "5")
    screen.until_text("[role=alert]", "The score shows the last state that could be computed")
    screen.until_text("[data-testid=save-state]", "Not saved yet")
    screen.type("Line of Leg press", "leg press 4 x 6")
    screen.until_text("#line-fault", "Not read")
    screen.press("Save")
    screen.wait(lambda: "Nothing of yours is lost" in screen.text("main"), "the word on saving")
    screen.press("Fit to length")
    screen.until_text("dialog", "No proposals")
    screen.keys(Keys.ESCAPE)
    screen.press("Edit as text")
    screen.until_text("[data-testid=text-state]", "Not read")
    kept = screen.script(
        "const keys = Array.from({length: localStorage.length}, (_, at) => localStorage.key(at));"
        "const key = keys.find((one) => one.startsWith('oaken/draft/'));"
        "return JSON.parse(localStorage.getItem(key))"
    )
    assert kept["document"]["blocks"][1]["groups"][0]["slots"][0]["sets"][0]["times"] == 5


def test_what_does_not_exist_is_said_on_every_new_screen(screen: Screen) -> None:
    screen.open("/catalogue")
    screen.one("[data-testid=exercise-card]")
    screen.type("Search exercises", "zzz")
    screen.until_text("[data-testid=catalogue-list]", "Nothing matches")
    screen.open("/compare?one=4711&other=4712")
    screen.until_text("[role=alert]", "does not exist")
