"""The floor: who is where, the best rotation, a machine that is taken, and the wishes a rotation has to keep."""

from __future__ import annotations

import re

from browser import chromium
from screen import COMPUTES_S, Screen, serious_faults
from selenium.webdriver import Keys


def strip(screen: Screen) -> str:
    return screen.text("[data-testid=rotation-strip]")


def seconds_in(words: str) -> int:
    """The first clock time in some words, in seconds."""
    found = re.search(r"(\d+):(\d\d)", words)
    assert found is not None, words
    return 60 * int(found[1]) + int(found[2])


def length_of_block(screen: Screen) -> int:
    # what an option of the block's list says is no time
    return seconds_in(strip(screen))


def marks(screen: Screen, state: str) -> list[str]:
    """The numbers of those who are drawn in a state on the plan."""
    script = "return [...document.querySelectorAll(`[data-state='${arguments[0]}']`)].map((one) => one.dataset.person)"
    found: list[str] = screen.script(script, state)
    return found


def test_the_plan_the_matrix_and_the_words_agree_at_every_second(screen: Screen) -> None:
    screen.open_floor("Machine pairs")
    for minute in (9, 16, 24):
        screen.scrub_to(minute)
        words = screen.until_text("[data-testid=now]", f"{minute}:00")
        works, waits = marks(screen, "works"), marks(screen, "waits")
        assert (f"{len(works)} work" in words) == bool(works)
        if waits:
            assert ("1 waits: " if len(waits) == 1 else f"{len(waits)} wait: ") in words
            assert f"{waits[0]} for the" in words
        else:
            assert "nobody waits" in words
        states = ("works", "waits", "walks", "rests", "sets up", "is done", "breather")
        assert sum(len(marks(screen, state)) for state in states) == 12
    # all together in the warm-up: everybody works, nobody waits
    screen.scrub_to(1)
    screen.until_text("[data-testid=now]", "12 work")


def test_one_persons_way_and_one_machines_queue(screen: Screen) -> None:
    screen.open_floor("Machine pairs")
    screen.script("document.querySelector('[data-testid=matrix] button').click()")
    way = screen.until_text("[data-testid=path]", "own way")
    assert "Leg press" in way
    assert "Hack squat" in way
    # pressing a stop moves the line there
    screen.script("[...document.querySelectorAll('[data-testid=path] button')].at(-1).click()")
    screen.press("Machines")
    screen.script(
        "document.querySelector('[data-unit=thrust]').dispatchEvent(new MouseEvent('click', {bubbles: true}))"
    )
    queue = screen.until_text("[data-testid=queue]", "load changed")
    assert "36 sets" in queue
    assert " kg" in queue
    assert "⇅ change" in queue


def test_the_best_rotation_is_found_used_undone_and_kept(screen: Screen) -> None:
    screen.open_floor("Machine pairs")
    before = length_of_block(screen)
    assert "first come, first served" in strip(screen)
    screen.press("Find the best rotation")
    # the best so far can be had while the search goes on
    screen.until_text("[data-testid=rotation-table]", "best so far")
    screen.until_text("[data-testid=rotation-state]", "Done", COMPUTES_S)
    assert re.search(r"proven|above \d+:\d\d, below which no order can be", screen.text("[data-testid=rotation-state]"))
    screen.press("Use this rotation")
    screen.until_text("[data-testid=rotation-strip]", "in the rotation that was chosen")
    assert length_of_block(screen) < before
    screen.press("Undo")
    screen.until_text("[data-testid=rotation-strip]", "first come, first served")
    assert length_of_block(screen) == before
    screen.press("Redo")
    screen.until_text("[data-testid=rotation-strip]", "in the rotation that was chosen")
    # the score shows the same class
    after = length_of_block(screen)
    screen.press("Score")
    screen.wait(
        lambda: f"{after // 60}:{after % 60:02d}" in screen.text("[data-testid=score]"), "the block on the score"
    )


def test_a_machine_breaks_and_two_presses_repair_the_class(screen: Screen) -> None:
    screen.open_floor("Machine pairs")
    screen.press("What if")
    screen.press("A machine is taken")
    screen.one("[data-testid=units]")
    screen.press("Lying leg curl")
    words = screen.until_text("[data-testid=substitutes]", "same movement")
    assert "free at that time" in words
    first = screen.text("[data-testid=substitutes] li strong")
    screen.press(f"Use {first}")
    repaired = screen.until_text("[data-testid=repaired]", "Repaired.")
    assert "Nobody is sent elsewhere than planned" in repaired
    screen.press("To the floor")
    screen.until_text("[data-testid=taken]", "Lying leg curl: free again")
    assert "taken" in screen.text("[data-testid=room-plan] [data-unit=curl]")
    assert screen.script("return document.querySelectorAll('[data-unit=curl] [data-person]').length") == 0
    # the score has the substitute in its place
    screen.press("Score")
    screen.wait(lambda: "lying-leg-curl" not in screen.exercises, "the substitute on the score")
    screen.press("Undo")
    screen.wait(lambda: "lying-leg-curl" in screen.exercises, "the class as it was")


def test_a_taken_press_of_two_somebody_who_leaves_and_one_more_machine(screen: Screen) -> None:
    screen.open_floor("Machine pairs")
    screen.press("What if")
    screen.press("A machine is taken")
    screen.press("Leg press by the hoist")
    screen.until_text("[data-testid=options]", "Nobody is sent elsewhere than planned")
    screen.press("Go on so")
    screen.until_text("[data-testid=repaired]", "Repaired.")
    screen.press("Undo it")
    screen.wait(lambda: not screen.all("[data-testid=taken]"), "the press to be free")
    screen.press("What if")
    screen.press("Somebody leaves")
    screen.one("[data-testid=persons]")
    screen.script("document.querySelectorAll('[data-testid=persons] button')[2].click()")
    screen.until_text("[data-testid=repaired]", "Repaired.")
    screen.press("To the floor")
    screen.wait(lambda: len(screen.all("[data-testid=matrix] [role=listitem]")) == 11, "eleven people")
    screen.press("What if")
    screen.press("One machine more")
    words = screen.until_text("[data-testid=one-more]", "Hip thrust bench")
    assert "min" in words


def test_wishes_take_effect_and_what_cannot_be_is_explained(screen: Screen) -> None:
    screen.open_floor("Machine pairs")
    screen.press("Wishes")
    screen.press("Marit")
    screen.press("Tobin")
    screen.press("Keep together")
    screen.until_text("[data-testid=companies]", "together: Marit, Tobin")
    screen.script(
        "[...document.querySelectorAll('dialog label')].find((one) => one.textContent.includes('may not take')).click()"
    )
    screen.type("in all", "20")
    screen.keys(Keys.ESCAPE)
    screen.until_text("[data-testid=rotation-strip]", "may take 20:00")
    screen.press("Find the best rotation")
    words = screen.until_text("[data-testid=why-not]", "It cannot be done in 20:00", COMPUTES_S)
    assert "people need the hip thrust bench for" in words
    assert "the block has 20" in words
    screen.press("Keep it as it is")
    # the text of the class says the wishes, too
    screen.press("Edit as text")
    screen.wait(
        lambda: "together marit, tobin" in screen.class_text,
        "the wish in the text",
    )


def test_the_replay_says_how_likely_and_where(screen: Screen) -> None:
    screen.open_floor("Long carry")
    screen.select("Block", "Heavy pairs")
    screen.script("document.querySelector('[data-testid=replay] input').click()")
    words = screen.until_text("[data-testid=replay]", "Held up by")
    assert re.search(r"\d+ % of the replays", words)
    assert "%" in screen.text("[data-testid=room-plan] [data-unit=thrust]")
    screen.press("People now")
    screen.wait(lambda: len(screen.all("[data-testid=people-marks] [data-person]")) == 8, "the people again")


def test_the_circle_of_a_clocked_block_is_put_in_order(screen: Screen) -> None:
    screen.open_floor("Stretcher legs")
    screen.select("Block", "Stations")
    screen.press("Order the circle")
    screen.until_text("[data-testid=circle-changes]", "times")
    screen.press("Use this order")
    screen.until_text("[data-testid=rotation-strip]", "round the circle that was chosen")


def test_the_floor_can_be_read_and_used_by_everybody(screen: Screen) -> None:
    screen.open_floor("Machine pairs")
    assert serious_faults(screen) == []
    screen.press("Machines")
    screen.press("Dark mode")
    assert serious_faults(screen) == []
    screen.press("Light mode")


def test_order_waves_and_somebodys_own_exercise(screen: Screen) -> None:
    screen.open_floor("Machine pairs")
    screen.press("Wishes")
    screen.select("How machines are shared", "nobody works in: one at a machine")
    screen.press("Waves: more")
    screen.press("Compound before single joint")
    screen.wait(lambda: screen.field("Group A comes").get_attribute("value") == "1", "the stages")
    screen.select("For whom", "Oskar")
    screen.select("Which exercise", "hack squat")
    screen.press("but …")
    screen.type("Search exercises", "wall sit")
    screen.choose("[data-testid=exercises] li", "Wall sit")
    screen.until_text("[data-testid=insteads]", "Oskar: wall sit instead of hack squat")
    screen.keys(Keys.ESCAPE)
    # Oskar's way has the wall sit, the others' the hack squat
    rows = "return [...document.querySelectorAll('[data-testid=matrix] [role=img]')].map((one) => one.ariaLabel)"
    screen.wait(lambda: "wall sit" in screen.script(rows)[3], "Oskar's wall sit")
    assert "hack squat" in screen.script(rows)[0]
    assert "hack squat" not in screen.script(rows)[3]
    # and the class says it in words
    screen.press("Edit as text")
    screen.wait(
        lambda: "instead hack squat: wall sit for oskar" in screen.class_text,
        "the wish",
    )
    written = screen.class_text
    assert "hold machines" in written
    assert "2 waves every 240" in written
    screen.keys(Keys.ESCAPE)
    screen.press("Wishes")
    screen.press("Drop: Oskar: wall sit instead of hack squat")
    screen.until_text("[data-testid=insteads]", "everybody does what is planned")


def test_the_floor_and_the_people_fit_a_phone(address: str, session: str) -> None:
    with chromium(390, 844, phone=True) as driver:
        screen = Screen(driver, address)
        screen.enter(session)
        screen.open_floor("Machine pairs")
        assert screen.script("return document.documentElement.scrollWidth") <= 390
        screen.button("Find the best rotation")
        for path, there in (
            ("/rooms/saw-floor", "[data-unit=press-1]"),
            ("/people", "[data-testid=roster]"),
            ("/people/oskar", "[data-testid=recordings] li svg[role=img]"),
            ("/studio", "[data-testid=studio-rules] li"),
        ):
            screen.open(path)
            screen.one(there)
            assert screen.script("return document.documentElement.scrollWidth") <= 390, path
        screen.open_class("Machine pairs")
        screen.press("People")
        screen.one("[data-testid=hearts]")
        assert screen.script("return document.documentElement.scrollWidth") <= 390
