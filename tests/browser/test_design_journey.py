"""The journey of the first screen: open a class, change it, see everything follow, undo, save, find it again."""

from __future__ import annotations

import json

import pytest
from screen import Screen
from selenium.webdriver import ActionChains, Keys
from serving import signed_in


def _open_copy(screen: Screen, name: str) -> str:
    """Open a copy of a demo class, so that other tests find the demo as it was; its path in the API."""
    (original,) = [item for item in screen.ask("GET", "/api/classes") if item["name"] == name]
    plan = screen.ask("GET", f"/api/classes/{original['id']}")["plan"]
    made = screen.ask("POST", "/api/classes", {"plan": {**plan, "name": f"Copy of {name}"}})
    screen.open(f"/classes/{made['id']}")
    screen.one("[data-testid=readout]")
    return f"/api/classes/{made['id']}"


def test_from_the_list_to_a_saved_change_and_back(screen: Screen) -> None:
    _open_copy(screen, "Stretcher legs, week 3")
    screen.open("/classes")
    screen.open_class("Copy of Stretcher legs")
    assert screen.length == "38:09"
    stations = screen.exercises
    assert stations[:2] == ["leg-press", "lying-leg-curl"]
    heart_before = screen.one("[data-testid=score] svg[aria-label^='Heart rate'] path").get_attribute("d")
    energy_before = screen.one("svg[aria-label^='Energy']").get_attribute("aria-label")

    # the work interval: 12 stations × 2 rounds × 5 s longer = 2 minutes more
    screen.type("Work", "45")
    screen.wait(lambda: screen.length == "40:09", "the length to follow")
    assert "0:09 over the class length" in screen.text("[data-testid=ledger]")
    assert screen.one("[data-testid=score] svg[aria-label^='Heart rate'] path").get_attribute("d") != heart_before
    assert screen.one("svg[aria-label^='Energy']").get_attribute("aria-label") != energy_before
    assert "Not saved yet" in screen.text("[data-testid=save-state]")

    # reorder by keyboard: the first station two places down, the focus stays with it
    screen.script("document.querySelector('[data-testid=slot] [data-handle]').focus()")
    screen.keys(Keys.ARROW_DOWN)
    screen.wait(lambda: screen.exercises[1] == "leg-press", "leg press at the second place")
    screen.keys(Keys.ARROW_DOWN)
    screen.wait(lambda: screen.exercises[2] == "leg-press", "leg press at the third place")

    # undo by keyboard, redo by button
    screen.chord(Keys.CONTROL, "z")
    screen.wait(lambda: screen.exercises[1] == "leg-press", "one step back")
    screen.press("Redo")
    screen.wait(lambda: screen.exercises[2] == "leg-press", "one step forward")
    screen.press("Undo")
    screen.press("Undo")
    screen.wait(lambda: screen.exercises == stations, "the order of before")
    screen.wait(lambda: screen.length == "40:09", "the longer work to stay")

    screen.press("Save")
    screen.until_saved(2)
    screen.driver.refresh()
    screen.until_saved(2)
    screen.wait(lambda: screen.length == "40:09", "the saved length after a reload")
    screen.open("/classes")
    screen.until_text("[data-testid=classes]", "0:09 over the class length")


def test_stations_are_added_changed_removed_and_dragged(screen: Screen) -> None:
    screen.open_class("Scree and stairs")
    screen.press("Stations on the bell")
    screen.wait(lambda: len(screen.exercises) == 10, "the ten stations")
    screen.wait(lambda: "12 people on 10 stations" in screen.cautions(), "the note on breathers")

    screen.press("Station")
    screen.type("Search exercises", "goblet")
    # two by name, and the front carry, which is called so on the floor as well
    screen.wait(lambda: len(screen.all("[data-testid=exercises] li")) == 3, "three exercises found")
    screen.keys(Keys.ENTER)
    screen.wait(lambda: screen.exercises[-1] == "goblet-squat", "the new station")
    screen.until_caution("12 people on 11 stations")
    # 24 turns at the new station, and the sets that the strength block does with the same kettlebells
    screen.wait(
        lambda: "12 people in 72 turns" in screen.stave("Goblet squat"), "everybody to pass the new station twice"
    )

    # another exercise in its place: a hack squat is only one, and free
    screen.choose_slot("goblet-squat")
    screen.press("Other exercise")
    screen.type("Search exercises", "hack squat")
    screen.keys(Keys.ENTER)
    screen.wait(lambda: screen.exercises[-1] == "hack-squat", "the other exercise")
    screen.wait(lambda: "12 people" in screen.stave("Hack squat"), "the stave of the hack squat")

    # what nothing matches says what to do
    screen.press("Station")
    screen.type("Search exercises", "zzz")
    assert "Try a muscle" in screen.text("dialog")
    screen.keys(Keys.ESCAPE)
    screen.wait(lambda: not screen.all("dialog"), "the dialog to close")

    # drag the last one to the top
    screen.press("Close the exercise")
    handles = screen.all("[data-testid=slot] [data-handle]")
    top, last = handles[0], handles[-1]
    drag = ActionChains(screen.driver, duration=60).click_and_hold(last)
    for _ in range(6):
        drag = drag.move_by_offset(0, -48)
    drag.move_to_element(top).move_by_offset(0, -3).release().perform()
    screen.wait(lambda: screen.exercises[0] == "hack-squat", "the dragged station at the top")

    screen.choose_slot("hack-squat")
    screen.press("Remove Hack squat")
    screen.wait(lambda: len(screen.exercises) == 10, "ten stations again")
    screen.until_caution("12 people on 10 stations")


def test_a_clash_is_told_where_it_is_and_goes_with_its_cause(screen: Screen) -> None:
    """The seated leg curl of the demo's room is out of order."""
    screen.open_class("Stretcher legs")
    screen.choose_slot("lying-leg-curl")
    screen.press("Other exercise")
    screen.type("Search exercises", "seated leg")
    assert "none working here" in screen.until_text("[data-testid=exercises]", "Seated leg curl")
    screen.keys(Keys.ENTER)
    clash = screen.until_caution("Clash")
    assert "the seated leg curl is out of order" in clash
    assert "safer: use lying leg curl" in clash.lower()
    row = "[data-testid=slot][data-exercise=seated-leg-curl]"
    screen.until_text(row, "✕")
    screen.chord(Keys.CONTROL, "z")
    screen.wait(lambda: "Clash" not in screen.cautions(), "the clash to go")
    screen.wait(lambda: "✕" not in screen.text("[data-testid=staves]"), "its sign to go")


def test_half_typed_and_impossible_figures_change_nothing(screen: Screen) -> None:
    screen.open_class("Machine pairs")
    before = screen.length
    screen.type("Class length", "2")
    assert screen.field("Class length").get_attribute("aria-invalid") == "true"
    assert "5 to 240 min" in screen.text("[role=alert]")
    screen.keys(Keys.TAB)
    assert screen.field("Class length").get_attribute("value") == "60"
    assert screen.length == before
    assert "Saved as revision" in screen.text("[data-testid=save-state]")


def test_a_plan_the_server_refuses_is_told_with_its_place_and_the_score_stays(screen: Screen) -> None:
    """A fault that only the server can see: the room is not there (any more)."""
    screen.open_class("Machine pairs")
    key = screen.script("return 'oaken-draft-' + location.pathname.split('/').pop()")
    plan = screen.ask("GET", f"/api/classes/{key.rsplit('-', 1)[1]}")["plan"]
    plan["room"] = "attic"
    kept = json.dumps({"form": 2, "revision": 1, "plan": plan, "at": "2026-11-24T10:00:00Z"})
    screen.script("localStorage.setItem(arguments[0], arguments[1])", key, kept)
    screen.driver.refresh()
    assert "there is no room 'attic'" in screen.until_text("[role=alert]", "room")
    screen.press("Show the saved class instead")
    screen.wait(lambda: not screen.all("[role=alert]"), "the complaint to go")
    screen.one("[data-testid=readout]")


@pytest.mark.parametrize("choice", ["copy", "mine", "theirs"])
def test_a_class_saved_elsewhere_in_the_meantime_loses_nothing(choice: str, screen: Screen) -> None:
    path = _open_copy(screen, "Machine pairs, heavy week")
    found = screen.ask("GET", path)
    other, mine = "Pairs as saved elsewhere", "Pairs as I want them"
    newer = screen.ask("PUT", path, {"based_on": 1, "plan": {**found["plan"], "name": other}})["revision"]
    screen.type("Name of the class", mine)
    screen.press("Save")
    screen.until_text("dialog", "This class was saved elsewhere")
    if choice == "copy":
        screen.press("Keep mine as a class of its own")
        screen.wait(lambda: not screen.driver.current_url.endswith(path[4:]), "the class of its own")
        screen.wait(lambda: screen.field("Name of the class").get_attribute("value") == f"{mine} (copy)", "its name")
        assert screen.ask("GET", path)["plan"]["name"] == other
    elif choice == "mine":
        screen.press("Save mine as the newest revision")
        screen.until_saved(newer + 1)
        assert screen.ask("GET", path)["plan"]["name"] == mine
    else:
        screen.press("Show the other version (undo brings mine back)")
        screen.wait(lambda: screen.field("Name of the class").get_attribute("value") == other, "the other version")
        screen.press("Undo")
        screen.wait(lambda: screen.field("Name of the class").get_attribute("value") == mine, "mine")


def test_a_reload_brings_unsaved_changes_back(screen: Screen) -> None:
    screen.open_class("Scree and stairs")
    saved = screen.length
    screen.press("Stations on the bell")
    screen.type("Work", "35")
    screen.until_text("[data-testid=save-state]", "Not saved yet")
    changed = screen.wait(lambda: screen.length != saved and screen.length, "the length to follow")
    screen.driver.refresh()
    screen.until_text("[data-testid=brought-back]", "are back")
    screen.wait(lambda: screen.length == changed, "the unsaved length")
    screen.press("Show the saved class instead")
    screen.wait(lambda: screen.length == saved, "the saved length")


TO_PEOPLE = "document.querySelector('header a[href=\"/people\"]').click()"


def test_leaving_by_a_link_with_unsaved_changes_is_asked_about(screen: Screen) -> None:
    path = _open_copy(screen, "Machine pairs, heavy week")
    screen.type("Name of the class", "Pairs, not saved yet")
    screen.until_text("[data-testid=save-state]", "Not saved yet")
    screen.script(TO_PEOPLE)
    screen.until_text("dialog", "There are changes that are not saved.")
    screen.press("Stay")
    screen.wait(lambda: not screen.all("dialog"), "the class again")
    assert screen.driver.current_url.endswith(path[4:])
    screen.script(TO_PEOPLE)
    screen.press("Leave the draft here")
    screen.wait(lambda: screen.driver.current_url.endswith("/people"), "the people")
    screen.driver.back()
    screen.until_text("[data-testid=brought-back]", "are back")
    screen.script(TO_PEOPLE)
    screen.press("Save and leave")
    screen.wait(lambda: screen.driver.current_url.endswith("/people"), "the people")
    assert screen.ask("GET", path)["plan"]["name"] == "Pairs, not saved yet"


def test_two_tabs_at_one_class_do_not_overwrite_each_other(screen: Screen) -> None:
    path = _open_copy(screen, "Machine pairs, heavy week")
    first = screen.driver.current_window_handle
    screen.type("Name of the class", "From the first tab")
    screen.until_text("[data-testid=save-state]", "Not saved yet")
    screen.driver.switch_to.new_window("tab")
    try:
        screen.open(path[4:])
        screen.until_text("[data-testid=elsewhere]", "Another tab has changes of this class")
        assert screen.field("Name of the class").get_attribute("value") != "From the first tab"
        screen.type("Name of the class", "From the second tab")
        screen.press("Save")
        screen.until_text("[data-testid=save-state]", "Saved as revision")
    finally:
        screen.driver.close()
        screen.driver.switch_to.window(first)
    screen.press("Save")
    screen.until_text("dialog", "This class was saved elsewhere")
    assert screen.ask("GET", path)["plan"]["name"] == "From the second tab"
    assert screen.field("Name of the class").get_attribute("value") == "From the first tab"


def test_signing_out_says_which_drafts_it_drops_and_leaves_nothing_behind(screen: Screen, address: str) -> None:
    screen.enter(signed_in(address))  # a session of its own, which this test ends
    _open_copy(screen, "Machine pairs, heavy week")
    screen.type("Name of the class", "Never saved")
    screen.until_text("[data-testid=save-state]", "Not saved yet")
    screen.script("document.querySelector('header a[href=\"/studio\"]').click()")
    screen.press("Leave the draft here")
    screen.press("Sign out")
    screen.until_text("dialog", "1 draft on this device was never saved")
    screen.press("Sign out and drop it")
    screen.wait(lambda: screen.all("input[type=password]"), "the sign-in")
    kept = "return Object.keys(localStorage).filter((key) => key.startsWith('oaken/draft/')).length"
    assert screen.script(kept) == 0
