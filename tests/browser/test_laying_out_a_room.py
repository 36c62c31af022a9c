"""A room is laid out: machines put in, moved by pointer, keys and numbers, kept, and seen by the classes in it."""

from __future__ import annotations

from screen import Screen, serious_faults
from selenium.webdriver import ActionChains, Keys


def place_of(screen: Screen, unit: str) -> tuple[float, float]:
    """Where a unit is drawn, in metres."""
    words: str = screen.script(
        "return document.querySelector(`[data-unit='${arguments[0]}']`).getAttribute('transform')", unit
    )
    x, y = words.removeprefix("translate(").removesuffix(")").split(" ")
    return float(x), float(y)


def test_a_new_room_is_laid_out_by_keyboard_pointer_and_numbers(screen: Screen) -> None:
    screen.open("/rooms")
    screen.one("[data-testid=rooms] svg")
    screen.press("Empty room")
    screen.until_text("[data-testid=room]", "An empty room")
    screen.type("Name of the room", "Loft")
    screen.select("Kind of equipment to add", "Leg press")
    screen.press("Add it")
    screen.one("[data-testid=unit-panel]")
    x, y = place_of(screen, "leg-press-1")
    # by keyboard: a tenth of a metre a step, half a metre with shift
    screen.script("document.querySelector('[data-unit=leg-press-1]').focus()")
    screen.keys(Keys.ARROW_RIGHT, Keys.ARROW_DOWN)
    screen.wait(lambda: place_of(screen, "leg-press-1") == (round(x + 0.1, 1), round(y + 0.1, 1)), "a step")
    # by numbers
    screen.type("from left", "6.5")
    screen.wait(lambda: place_of(screen, "leg-press-1")[0] == 6.5, "the number")
    # by pointer
    unit = screen.one("[data-unit=leg-press-1]")
    ActionChains(screen.driver).click_and_hold(unit).move_by_offset(-120, 60).release().perform()
    screen.wait(lambda: place_of(screen, "leg-press-1")[0] < 6.0, "the drag")
    dragged = place_of(screen, "leg-press-1")
    # a second one, put on top of the first, is told
    screen.press("Add it")
    screen.wait(lambda: screen.all("[data-unit=leg-press-2]"), "the second press")
    screen.type("from left", str(dragged[0]))
    screen.type("from top", str(dragged[1]))
    screen.until_text("[data-testid=standing-faults]", "stands in")
    # one field is one step back
    screen.press("Undo")
    screen.press("Undo")
    screen.wait(lambda: not screen.all("[data-testid=standing-faults]"), "the second press to stand free")
    # loads that it can hold, and what is wrong with them
    screen.type("pairs of plates", "20 by 3")
    screen.until_text("[data-testid=unit-panel]", "reads like 20 x 3")
    screen.type("pairs of plates", "20 x 3, 10 x 1")
    screen.press("Save")
    screen.until_text("[data-testid=save-state]", "Saved")
    screen.driver.refresh()
    screen.one("[data-unit=leg-press-2]")
    assert place_of(screen, "leg-press-1") == dragged
    assert screen.field("Name of the room").get_attribute("value") == "Loft"


def test_a_machine_out_of_order_changes_the_classes_of_the_room(screen: Screen) -> None:
    screen.open_class("Machine pairs")
    before = screen.length
    screen.press("Floor")
    screen.wait(lambda: screen.all("main a[href='/rooms/saw-floor']"), "the link to the room")
    screen.one("main a[href='/rooms/saw-floor']").click()
    screen.one("[data-testid=room] [data-unit=press-1]")
    screen.choose_unit("press-1")
    toggle = "[...document.querySelectorAll('[data-testid=unit-panel] label')].find((one) => one.textContent.trim() === 'out of order').click()"
    screen.script(toggle)
    assert "out of order" in screen.text("[data-unit=press-1]")
    screen.press("Save")
    screen.until_text("[data-testid=save-state]", "Saved")
    screen.open_class("Machine pairs")
    screen.wait(lambda: screen.length != before, "the class with one press")
    # put it right again for the other tests
    screen.open("/rooms/saw-floor")
    screen.one("[data-unit=press-1]")
    screen.choose_unit("press-1")
    screen.script(toggle)
    screen.press("Save")
    screen.until_text("[data-testid=save-state]", "Saved")


def test_a_room_that_was_changed_elsewhere_loses_nothing(screen: Screen) -> None:
    screen.open("/rooms/saw-floor")
    screen.one("[data-unit=bench]")
    # somebody else saves in the meantime
    kept = screen.ask("GET", "/api/rooms/saw-floor")
    screen.ask("PUT", "/api/rooms/saw-floor", {"based_on": kept["revision"], "room": kept["room"]})
    screen.type("Name of the room", "Saw floor, Alder Mill")
    screen.script("document.querySelector('[data-unit=bench]').focus()")
    screen.keys(Keys.ARROW_LEFT)
    at = place_of(screen, "bench")
    screen.press("Save")
    screen.until_text("dialog", "This room was saved elsewhere")
    assert place_of(screen, "bench") == at
    screen.press("Save mine as the newest revision")
    screen.until_text("[data-testid=save-state]", "Saved")
    screen.script("document.querySelector('[data-unit=bench]').focus()")
    screen.keys(Keys.ARROW_RIGHT)
    screen.press("Save")
    screen.wait(lambda: screen.text("[data-testid=save-state]").startswith("Saved"), "the bench back in its place")


def test_the_room_can_be_read_and_used_by_everybody(screen: Screen) -> None:
    screen.open("/rooms/saw-floor")
    screen.one("[data-unit=press-1]")
    screen.choose_unit("dumbbells")
    screen.one("[data-testid=unit-panel]")
    assert serious_faults(screen) == []
    screen.open("/rooms")
    screen.one("[data-testid=rooms] svg")
    assert serious_faults(screen) == []


def test_zones_sizes_and_hand_weights_are_changed_by_numbers(screen: Screen) -> None:
    screen.open("/rooms/saw-floor")
    screen.one("[data-unit=kettlebells]")
    screen.choose_unit("kettlebells")
    panel = screen.until_text("[data-testid=unit-panel]", "By mass")
    assert "6 in all" in panel
    screen.type("pieces", "8 x 2, 16 x 3")
    screen.until_text("[data-testid=unit-panel]", "5 in all")
    # a number out of range says so and changes nothing
    x, _ = place_of(screen, "kettlebells")
    screen.type("from left", "-5")
    screen.until_text("[data-testid=unit-panel]", "0 to 13 m")
    assert place_of(screen, "kettlebells")[0] == x
    screen.keys(Keys.TAB)
    # a quarter turn swaps width and depth
    box = "const one = document.querySelector('[data-unit=kettlebells] rect'); return [one.getAttribute('width'), one.getAttribute('height')]"
    wide, deep = screen.script(box)
    screen.press("Turn by a quarter")
    screen.wait(lambda: screen.script(box) == [deep, wide], "the turn")
    screen.script("document.querySelector('details summary').click()")
    zones = "[...document.querySelectorAll('summary')].find((one) => one.textContent.startsWith('Zones'))"
    screen.script(f"{zones}.parentElement.open = true")
    screen.press("Zone")
    screen.wait(lambda: "Zones (6)" in screen.text("[data-testid=room]"), "a sixth zone")
    screen.press("Remove Zone 6")
    screen.wait(lambda: "Zones (5)" in screen.text("[data-testid=room]"), "five zones again")
    undo = "document.querySelector('button[title^=Undo]').click()"
    screen.wait(
        lambda: screen.script(undo) or "Not saved" not in screen.text("[data-testid=save-state]"), "the room as it was"
    )


def test_a_room_that_does_not_exist_says_so_and_leads_back(screen: Screen) -> None:
    screen.open("/rooms/nowhere")
    screen.until_text("main", "This room cannot be opened")
    screen.one("main a[href='/rooms']").click()
    screen.one("[data-testid=rooms]")
