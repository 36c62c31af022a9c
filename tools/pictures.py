"""Takes the pictures of docs/screenshots afresh, from the demo data, with the browser of the tests."""

from __future__ import annotations

import os
import sys
import tempfile
from collections.abc import Callable
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
sys.path[:0] = [str(ROOT / "tests"), str(ROOT / "tests" / "browser")]

from browser import chromium  # noqa: E402
from screen import Screen  # noqa: E402
from serving import serving, signed_in  # noqa: E402

FOLDER = ROOT / "docs" / "screenshots"


def _score(screen: Screen) -> None:
    screen.open_class("Stretcher legs")
    _scrub_to(screen, 15)


def _sets(screen: Screen) -> None:
    screen.open_class("Machine pairs")
    _scrub_to(screen, 24)


def _person(screen: Screen) -> None:
    screen.open_class("Scree and stairs")
    screen.press("Stations on the bell")
    screen.press("This block")
    screen.all("[data-testid=readout] button")[3].click()
    screen.one("[data-testid=own-heart]")
    _scrub_to(screen, 36)


def _how(screen: Screen) -> None:
    screen.open_class("Stretcher legs")
    screen.open_figure("Each, gross")
    screen.until_text("dialog", "Formula")


def _slot(screen: Screen) -> None:
    screen.open_class("Long carry")
    screen.press("Heavy pairs")
    screen.choose_slot("hack-squat")
    _scrub_to(screen, 24)


def _text(screen: Screen) -> None:
    screen.open_class("Long carry")
    screen.press("Write")
    screen.until_text("[data-testid=text-state]", "Reads as")


def _fit(screen: Screen) -> None:
    screen.open_class("Long carry")
    screen.press("Fit to slot")
    screen.until_text("[data-testid=proposals]", "harm")


def _comparison(screen: Screen) -> None:
    screen.open_class("Machine pairs")
    screen.make_beginner_version()
    screen.press("Versions")
    screen.choose("[role=menu] a", "Compare with another class")
    screen.select("Second class", "Machine pairs, heavy week")
    screen.until_text("[data-testid=differences]", "level: beginner → standard")


def _catalogue(screen: Screen) -> None:
    screen.open("/catalogue?exercise=back-squat")
    screen.type("Search exercises", "squat")
    screen.until_text("[data-testid=exercise-card]", "Demand while working")


def _list(screen: Screen) -> None:
    screen.open("/")
    screen.one("[data-testid=classes]")
    screen.button("New class")


def _scrub_to(screen: Screen, minute: int) -> None:
    from selenium.webdriver import Keys

    screen.script("document.querySelector('[data-testid=scrub]').focus()")
    screen.keys(Keys.HOME, *([Keys.PAGE_UP] * minute))
    screen.until_text("[data-testid=readout]", f"{minute}:00")
    screen.script("document.activeElement.blur()")


def _room(screen: Screen) -> None:
    screen.open("/rooms/saw-floor")
    screen.choose_unit("thrust")
    screen.one("[data-testid=unit-panel]")


def _floor(screen: Screen) -> None:
    screen.open_floor("Machine pairs")
    screen.scrub_to(16)
    screen.script("document.querySelectorAll('[data-testid=matrix] button')[8].click()")
    screen.until_text("[data-testid=path]", "own way")
    screen.script("document.activeElement.blur()")


def _use(screen: Screen) -> None:
    screen.open_floor("Machine pairs")
    screen.press("Find the best rotation")
    screen.until_text("[data-testid=rotation-state]", "Done")
    screen.press("Use this rotation")
    screen.until_text("[data-testid=rotation-strip]", "in the rotation that was chosen")
    screen.press("Machines")
    screen.script("document.querySelector('[data-testid=replay] input').click()")
    screen.until_text("[data-testid=replay]", "Held up by")


def _repair(screen: Screen) -> None:
    screen.open_floor("Machine pairs")
    screen.press("What if")
    screen.press("A machine is taken")
    screen.press("Lying leg curl")
    screen.until_text("[data-testid=substitutes]", "same movement")


# name, size, theme, what to show
def _roster(screen: Screen) -> None:
    screen.open("/people")
    screen.one("[data-testid=roster]")


def _record(screen: Screen) -> None:
    screen.open("/people/tobin")
    screen.one("[data-testid=recordings] li svg[role=img]")
    screen.until_text("[data-testid=lifts]", "Leg press")


def _people_of_a_class(screen: Screen) -> None:
    screen.open_class("Machine pairs")
    screen.press("People")
    screen.choose("[data-testid=ranking] li button", "4 Oskar")
    screen.one("[data-testid=one-person]")


def _before_the_start(screen: Screen) -> None:
    _people_of_a_class(screen)
    screen.press("Before the start")
    for choice in ("Not today", "Goes with the safer choice", "Goes"):
        screen.one("[data-testid=go-item]")
        screen.press(choice)
    screen.until_text("[data-testid=go-item]", "4 of")


VIEWS: list[tuple[str, tuple[int, int], str, Callable[[Screen], None]]] = [
    ("class-list", (1280, 800), "mill-day", _list),
    ("score-stations", (1280, 800), "mill-day", _score),
    ("score-sets-wall-theme", (1280, 800), "mill-wall", _sets),
    ("score-one-person-close-up", (1280, 800), "mill-day", _person),
    ("how-this-was-reached", (1280, 800), "mill-day", _how),
    ("slot-as-a-line", (1280, 800), "mill-day", _slot),
    ("class-as-text", (1280, 800), "mill-day", _text),
    ("fit-to-slot", (1280, 800), "mill-day", _fit),
    ("catalogue", (1280, 800), "mill-day", _catalogue),
    ("roster", (1280, 800), "mill-day", _roster),
    ("person", (1280, 800), "mill-day", _record),
    ("people-of-a-class", (1280, 800), "mill-day", _people_of_a_class),
    ("before-the-start", (1280, 800), "mill-day", _before_the_start),
    ("room", (1280, 800), "mill-day", _room),
    ("floor", (1280, 800), "mill-day", _floor),
    ("floor-use-and-waits", (1280, 800), "mill-day", _use),
    ("machine-taken", (1280, 800), "mill-day", _repair),
    ("comparison", (1280, 800), "mill-day", _comparison),
    ("score-phone", (390, 844), "mill-day", _score),
]


def main(wanted: list[str]) -> None:
    """Take every picture, or only those named."""
    FOLDER.mkdir(parents=True, exist_ok=True)
    with tempfile.TemporaryDirectory() as data, serving(Path(data), dict(os.environ)) as (address, _):
        session = signed_in(address)
        for name, (width, height), theme, show in VIEWS:
            if wanted and name not in wanted:
                continue
            with chromium(width, height, phone=width < 600) as driver:
                screen = Screen(driver, address)
                screen.enter(session)
                screen.open("/")
                screen.script("localStorage.setItem('oaken-theme', arguments[0])", theme)
                show(screen)
                driver.execute_async_script("document.fonts.ready.then(arguments[0])")
                driver.save_screenshot(str(FOLDER / f"{name}.png"))
                print(f"took {name}.png")


if __name__ == "__main__":
    main(sys.argv[1:])
