"""Writing a class as text, fitting it to its slot, comparing two versions, and the catalogue."""

from __future__ import annotations

import json
from pathlib import Path

import pytest
from places import ROOT
from screen import Screen, serious_faults
from selenium.webdriver import ActionChains, Keys

TEXT = """class Typed in the evening
slot 40 min
room saw-floor
people marit, tobin, ines, oskar

block Warm-up: together, for warm-up, then 45
brisk marching on the spot 4 min
leg swings 20 s, each side

block Legs: sets, for strength, then 60
leg press 8/6/4, @70/75/80%, rest 90
leg extension 2 x 12 then 12 + max~8 drop 20%, @60%
+ lying leg curl 3 x 12, @60%, rest 60

block Cool-down: together, for cool-down, then 0
hamstring stretch 20 s, each side
"""


def paste(screen: Screen, text: str) -> None:
    """Replace what stands in the text of the class, as pasting does."""
    screen.one("[data-testid=text-editor]").click()
    screen.chord(Keys.CONTROL, "a")
    screen.driver.execute_cdp_cmd("Input.insertText", {"text": text})


def new_class(screen: Screen) -> None:
    screen.make_class()
    screen.until_saved(1)


def test_a_class_is_typed_as_text_put_on_the_score_and_found_again(screen: Screen) -> None:
    new_class(screen)
    screen.press("Edit as text")
    screen.until_text("[data-testid=text-state]", "Reads as 3 blocks")
    # half typed, with two mistakes: each is told at its word, and a proposal mends it
    paste(screen, TEXT.replace("leg press 8/6/4", "leg pres 8/6/4").replace("rest 60", "rets 60"))
    state = screen.until_text("[data-testid=text-state]", "is no exercise of the catalogue")
    assert "line 11: leg pres" in state
    assert "line 13: rets" in state
    # what is half typed survives a reload
    screen.driver.refresh()
    screen.one("[data-testid=readout]")
    screen.press("Edit as text")
    screen.until_text("[data-testid=text-state]", "leg pres")
    screen.press("leg press")
    screen.wait(lambda: "leg pres " not in screen.text("[data-testid=text-state]"), "the first mistake to go")
    screen.press("rest")
    screen.until_text("[data-testid=text-state]", "Reads as 3 blocks, 6 exercises")
    screen.press("Apply")
    screen.wait(lambda: not screen.all("dialog"), "the dialog to close")
    screen.wait(lambda: screen.field("Name of the class").get_attribute("value") == "Typed in the evening", "the name")
    screen.wait(lambda: "4 people" in screen.text("main"), "who comes")
    screen.press("Legs")
    screen.wait(lambda: screen.exercises == ["leg-press", "leg-extension", "lying-leg-curl"], "the three exercises")
    screen.until_text("[data-testid=staves]", "superset")
    screen.press("Save")
    screen.until_saved(2)
    # the same text comes back out
    screen.press("Edit as text")
    screen.until_text("[data-testid=text-state]", "Reads as 3 blocks, 6 exercises")
    assert screen.class_text == TEXT
    screen.keys(Keys.ESCAPE)


def test_a_slot_is_written_as_a_line_and_by_its_figures(screen: Screen) -> None:
    screen.open_class("Machine pairs")
    screen.choose_slot("leg-press")
    assert screen.field("Line of Leg press").get_attribute("value") == "leg press 3 x 10, @70%, 3-0-1"
    screen.type("Sets", "4")
    screen.wait(
        lambda: screen.field("Line of Leg press").get_attribute("value") == "leg press 4 x 10, @70%, 3-0-1",
        "the line to follow the figure",
    )
    length = screen.length
    screen.type("Line of Leg press", "leg press 8/6/4, @70/75/80%, rest 90")
    screen.wait(lambda: "8/6/4" in screen.text("[data-testid=slot][data-exercise=leg-press]"), "the row to follow")
    screen.wait(lambda: screen.length != length, "the length to follow")
    assert "load change 1:00" in screen.until_text("[data-testid=slot-time]", "load change 1:00")
    # a word that cannot be is pointed at; nothing is lost, and its proposal mends it
    length = screen.length
    screen.type("Line of Leg press", "leg press 3 x 10, tmepo")
    screen.until_text("#line-fault", "tmepo")
    assert screen.length == length
    screen.type("Line of Leg press", "leg prss 3 x 10")
    screen.until_text("#line-fault", "is no exercise of the catalogue")
    screen.press("leg press")
    screen.wait(lambda: "3 x 10" in screen.text("[data-testid=slot][data-exercise=leg-press]"), "the mended line")
    # a scheme by its name
    screen.press("Scheme")
    screen.choose("[role=menu] [role=menuitem]", "Cluster")
    screen.until_text("[data-testid=slot][data-exercise=leg-press]", "7 + 7 + 7")
    # keyboard: duplicate, remove
    screen.script("document.querySelector('[data-exercise=leg-press] [data-slot]').focus()")
    screen.chord(Keys.CONTROL, "d")
    screen.wait(lambda: screen.exercises.count("leg-press") == 2, "the copy")
    screen.script("document.querySelectorAll('[data-exercise=leg-press] [data-slot]')[1].focus()")
    screen.keys(Keys.DELETE)
    screen.wait(lambda: screen.exercises.count("leg-press") == 1, "the copy to go")


def test_a_class_over_its_slot_is_fitted_with_a_click_and_undone(screen: Screen) -> None:
    screen.open_class("Machine pairs")
    assert screen.length == "57:37"
    screen.type("Class length", "50")
    screen.until_text("[data-testid=ledger]", "7:37 over the class length")
    screen.press("Fit to length")
    screen.until_text("[data-testid=proposals]", "✓")
    assert len(screen.all("[data-testid=proposals] li")) >= 4
    first = screen.nth("[data-testid=proposals] li", 0)
    for word in ("time −", "work ÷ total", "load ÷ minute", "sets ÷ minute", "mean heart", "energy", "under tension"):
        assert word in first.text
    screen.press("Apply")
    screen.wait(lambda: not screen.all("dialog"), "the dialog to close")
    screen.until_text("[data-testid=ledger]", "to spare")
    screen.press("Undo")
    screen.wait(lambda: screen.length == "57:37", "the length of before")
    # the longest outlook is asked for with a tick
    screen.press("Fit to length")
    screen.script("document.querySelector('dialog input[type=checkbox]').click()")
    screen.until_text("dialog", "over its class length if everything goes slowly")


def test_a_version_is_derived_compared_and_its_history_read(screen: Screen) -> None:
    screen.open_class("Machine pairs")
    assert "85 %" in screen.make_beginner_version()
    screen.until_saved(1)
    assert "superset" not in screen.text("[data-testid=staves]")
    screen.press("Versions")
    screen.choose("[role=menu] a", "Compare with another class")
    screen.one("[data-testid=comparison]")
    screen.until_text("[data-testid=comparison-table]", "Length")
    # the class it was made from, chosen as the second
    screen.select("Second class", "Machine pairs, heavy week")
    told = screen.until_text("[data-testid=differences]", "level: beginner → standard")
    assert "Machine pairs: exercises are grouped otherwise" in told
    assert not serious_faults(screen)
    # the axis is one: the later end of the two slots, and both classes begin at its left edge
    planks = screen.script(
        "return [...document.querySelectorAll('[data-testid=comparison] .h-8')].map((row) => row.children[0].offsetLeft)"
    )
    assert len(planks) == 2
    assert planks[0] == planks[1]

    screen.open_class("Machine pairs, heavy week (beginner)")
    screen.type("Class length", "65")
    screen.press("Save")
    screen.until_saved(2)
    screen.press("Versions")
    screen.press("History")
    told = screen.until_text("[data-testid=history]", "Revision 2")
    assert "class length (min): 60 → 65" in told
    screen.press("Apply")  # revision 2 itself: nothing changes
    screen.press("Versions")
    screen.press("History")
    screen.one("[data-testid=history]")
    screen.press_nth("[data-testid=history] button", 1)
    screen.wait(lambda: screen.field("Class length").get_attribute("value") == "60", "revision 1 on the score")


def test_choices_change_the_advice_with_their_reasons_in_place(screen: Screen) -> None:
    screen.open_class("Scree and stairs")
    screen.press("Choices")
    assert "Tired calves make squats" in screen.until_text("[data-question=calves]", "default")
    screen.script("document.querySelector('[data-question=squat-depth] input:not(:checked)').click()")
    screen.script("document.querySelector('dialog input[name=aim]').click()")
    screen.keys(Keys.ESCAPE)
    screen.until_text("[data-testid=save-state]", "Not saved yet")
    screen.press("Edit as text")
    screen.wait(lambda: "choose squat-depth: full" in screen.class_text, "the choice")
    assert "aim strength" in screen.class_text
    screen.keys(Keys.ESCAPE)
    screen.wait(lambda: not screen.all("dialog"), "the dialog to close")


def test_blocks_come_from_templates_and_go_from_class_to_class(screen: Screen) -> None:
    screen.open_class("Machine pairs")
    planks = len(screen.all("[role=tab]"))
    screen.press("Block")
    screen.choose("[data-testid=templates] button", "Tag relay")
    screen.wait(lambda: len(screen.all("[role=tab]")) == planks + 1, "the new block")
    screen.wait(lambda: screen.exercises == ["kettlebell-swing", "reverse-lunge"], "the legs of the relay")
    screen.type("Team of", "3")
    screen.until_text("[data-testid=save-state]", "Not saved yet")
    screen.press("Copy block for another class")
    new_class(screen)
    screen.press("Block")
    screen.choose("[data-testid=templates] button", "Copied")
    screen.wait(lambda: screen.exercises == ["kettlebell-swing", "reverse-lunge"], "the relay in the other class")
    assert screen.field("Team of").get_attribute("value") == "3"
    screen.press("Duplicate block")
    screen.wait(lambda: len(screen.all("[role=tab]")) == 5, "its copy")

    # by keyboard: arrows choose a block, with Alt they move it
    def names() -> list[str]:
        tabs = "return [...document.querySelectorAll('[role=tab]')].map((tab) => tab.getAttribute('aria-label').split(' ')[0])"
        return list(screen.script(tabs))

    before = names()
    screen.script("document.querySelector('[role=tab]').focus()")
    screen.keys(Keys.ARROW_RIGHT)
    screen.wait(lambda: screen.exercises[0] == "leg-press", "the second block")
    screen.wait(lambda: screen.script("return document.activeElement.ariaSelected") == "true", "the focus on it")
    screen.chord(Keys.ALT, Keys.ARROW_RIGHT)
    screen.wait(lambda: names()[1:3] == before[1:3][::-1], "the second and the third block to change places")


def test_the_catalogue_is_searched_and_grows_by_an_own_exercise(screen: Screen) -> None:
    screen.open("/catalogue")
    screen.one("[data-testid=exercise-card]")
    assert not serious_faults(screen)
    screen.type("Search exercises", "hamstrings curl")
    screen.wait(lambda: 3 < len(screen.all("[data-testid=catalogue-list] li")) < 12, "the curls")
    card = screen.until_text("[data-testid=exercise-card]", "Demand while working")
    assert "2011 Compendium" in card
    screen.press("Own exercise")
    screen.type("Name", "Press 2000")
    screen.press("Keep the exercise")
    screen.until_text("dialog [role=alert]", "no digits")
    screen.type("Name", "Mill wheel press")
    screen.press("Keep the exercise")
    screen.wait(lambda: not screen.all("dialog"), "the dialog to close")
    screen.until_text("main", "(own)")
    screen.until_text("[data-testid=exercise-card]", "In its place, same pattern")
    screen.press("Change mill wheel press")
    screen.type("Cues", "Feet flat\nSlow")
    screen.press("Keep the exercise")
    screen.wait(lambda: not screen.all("dialog"), "the dialog to close")
    screen.until_text("[data-testid=exercise-card]", "Feet flat")
    # an equipment kind of one's own is kept, found and taken out
    screen.press("Own equipment kind")
    screen.type("Name", "Timber sledge")
    screen.press("Keep the equipment kind")
    screen.wait(lambda: not screen.all("dialog"), "the dialog to close")
    screen.wait(lambda: "Timber sledge" in screen.text("select[aria-label='Equipment']"), "the kind among the filters")
    screen.press("Own equipment kind")
    screen.press("Remove timber sledge")
    screen.wait(lambda: "Added here" not in screen.text("dialog"), "the kind to go")
    screen.keys(Keys.ESCAPE)
    screen.wait(lambda: not screen.all("dialog"), "the dialog to close")
    screen.press("Remove mill wheel press")
    screen.wait(lambda: "(own)" not in screen.text("main"), "the own exercise to go")


def test_a_class_file_of_an_older_version_is_taken_in_and_a_faulty_one_told(screen: Screen, tmp_path: Path) -> None:
    old = json.loads((ROOT / "tests" / "core" / "older" / "machine-pairs-1.json").read_text(encoding="utf-8"))
    for part, name in (("room", "alder-mill"), ("people", "hill-team")):
        old[part] = json.loads((ROOT / "examples" / f"{name}.json").read_text(encoding="utf-8"))
    fine, faulty = tmp_path / "old.json", tmp_path / "faulty.json"
    old["plan"]["name"] = "Pairs from an older file"
    fine.write_text(json.dumps(old), encoding="utf-8")
    old["plan"]["blocks"][1]["groups"][0]["rest_s"] = -30
    faulty.write_text(json.dumps(old), encoding="utf-8")
    screen.open("/classes")
    screen.one("[data-testid=classes]")
    screen.one("input[type=file]").send_keys(str(fine))
    assert "older version" in screen.until_text("[data-testid=imported]", "was taken in")
    screen.until_text("[data-testid=classes]", "Pairs from an older file")
    screen.one("input[type=file]").send_keys(str(faulty))
    told = screen.until_text("[role=alert]", "nothing was changed")
    assert "block 2 “Machine pairs”, group 1, slot 2, rest_s: is too small" in told


@pytest.mark.parametrize("theme", ["mill-day", "mill-wall"])
@pytest.mark.parametrize("opened", ["Edit as text", "Choices", "Fit to length", "Muscle balance by block"])
def test_everybody_can_use_the_dialogs(screen: Screen, opened: str, theme: str) -> None:
    screen.open("/classes")
    screen.script("localStorage.setItem('oaken-theme', arguments[0])", theme)
    screen.open_class("Machine pairs")
    assert screen.script("return document.documentElement.dataset.theme") == theme
    if opened == "Fit to length":
        screen.type("Class length", "40")
        screen.until_text("[data-testid=ledger]", "over the class length")
    button = screen.button(opened)
    screen.script("arguments[0].scrollIntoView({block: 'center'})", button)
    ActionChains(screen.driver).click(button).perform()
    screen.one("dialog")
    ready = {
        "Edit as text": "Reads as",
        "Choices": "default",
        "Fit to length": "cost",
        "Muscle balance by block": "Opposites",
    }
    screen.until_text("dialog", ready[opened])
    assert not serious_faults(screen)
