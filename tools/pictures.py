"""Takes the pictures of docs/screenshots afresh, from the demo data, with the browser of the tests."""

from __future__ import annotations

import os
import sys
import tempfile
from collections.abc import Callable
from datetime import UTC, datetime, timedelta
from pathlib import Path
from typing import Any

ROOT = Path(__file__).resolve().parent.parent
sys.path[:0] = [str(ROOT / "tests"), str(ROOT / "tests" / "browser")]

from browser import chromium  # noqa: E402
from screen import Screen  # noqa: E402
from serving import serving, signed_in  # noqa: E402

FOLDER = ROOT / "docs" / "screenshots"


def _score(screen: Screen) -> None:
    screen.open_class("Stretcher legs")
    _scrub_to(screen, 15)


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


def _people_of_a_class(screen: Screen) -> None:
    screen.open_class("Machine pairs")
    screen.press("People")
    screen.choose("[data-testid=ranking] li button", "4 Oskar")
    screen.one("[data-testid=one-person]")


def _running(screen: Screen, name: str, ago_s: float, *more: dict[str, object], logged: bool = False) -> int:
    """A run of a class that began so long ago, with what else happened; its number. With `logged` every set that should
    be over by now was pressed, but one."""
    planned = next(item for item in screen.ask("GET", "/api/classes") if item["name"].startswith(name))
    run = screen.ask("POST", "/api/runs", {"class_id": planned["id"], "revision": planned["revision"]})
    began = datetime.now(UTC) - timedelta(seconds=ago_s)
    happened: list[tuple[float, dict[str, object]]] = [(0.0, {"kind": "began", "follows": "people"})]
    happened += [(0.0, item) for item in more]
    if logged:
        happened += _sets_over(screen.ask("GET", f"/api/runs/{run['id']}/live")["sheets"][0], ago_s)
    events = [
        {"id": f"p-{number}", "happened_at": (began + timedelta(seconds=at)).isoformat(), **item}
        for number, (at, item) in enumerate(happened)
    ]
    screen.ask("POST", f"/api/runs/{run['id']}/events", {"events": events})
    number: int = run["id"]
    return number


def _sets_over(sheet: dict[str, Any], ago_s: float) -> list[tuple[float, dict[str, object]]]:
    """Every set that the plan has end by now as it is pressed, but the last one of the first person who has one."""
    found = []
    for person in sheet["people"][2:]:
        for one in person["sets"]:
            if one["unit"] < 0 or one["ends_s"] > ago_s - 4:
                continue
            part, unit = sheet["parts"][one["part"]]["id"], sheet["units"][one["unit"]]["id"]
            said = {"kind": "set_done", "person": person["id"], "part": part, "number": one["number"], "unit": unit}
            found.append((one["ends_s"] + 1.0, said))
    return sorted(found, key=lambda item: item[0])[:-1]


def _run_stations(screen: Screen) -> None:
    screen.open(f"/runs/{_running(screen, 'Stretcher legs', 880)}")
    screen.until_text("[data-testid=word]", "Work")


def _run_own_pace(screen: Screen) -> None:
    left: dict[str, object] = {"kind": "left", "person": "tobin"}
    screen.open(f"/runs/{_running(screen, 'Machine pairs', 1010, left, logged=True)}")
    screen.until_text("[data-testid=block-end]", "over in")


def _run_machines(screen: Screen) -> None:
    _run_own_pace(screen)
    screen.press("Machines")
    screen.one("[aria-label='Machines now']")


def _log_sets(screen: Screen) -> None:
    _run_own_pace(screen)
    screen.press("Log sets")
    screen.until_text("main", "last ")
    screen.press("Set 1 of Hip thrust differs")
    screen.one("form[aria-label^=Set]")


def _adjust(screen: Screen) -> None:
    _run_own_pace(screen)
    screen.press("Adjust")
    screen.press("A machine is out")
    screen.press("Hip thrust bench")
    screen.until_text("[data-testid=offer]", "for Hip thrust")


def _own_phone(screen: Screen) -> None:
    run = _running(screen, "Machine pairs", 1010, logged=True)
    phones = screen.ask("POST", f"/api/runs/{run}/phones", {"people": ["ines"]})
    screen.open(phones[0]["path"])
    screen.until_text("[data-testid=now]", "Ines")


def _wall(screen: Screen) -> None:
    run = _running(screen, "Stretcher legs", 880)
    screen.open(screen.ask("POST", f"/api/runs/{run}/walls", {"names": "first_names"})["path"])
    screen.until_text("[data-testid=places]", "Tobin")


def _today(screen: Screen) -> None:
    screen.open("/")
    screen.until_text("[data-testid=today]", "Where the courses stand")
    screen.button("Run it")


def _class_log(screen: Screen) -> None:
    run = next(item for item in screen.ask("GET", "/api/runs") if item["recorded"])
    screen.open(f"/runs/{run['id']}/book")
    screen.one("[data-testid=hearts-beside] svg")


def _papers(screen: Screen) -> None:
    planned = next(item for item in screen.ask("GET", "/api/classes") if item["name"].startswith("Machine pairs"))
    screen.open(f"/classes/{planned['id']}/sheet")
    screen.press("Cards of people")
    screen.until_text("[data-testid=paper]", "last time")


def _progress(screen: Screen) -> None:
    screen.open("/people/tobin/progress?exercise=leg-press")
    screen.one("[data-testid=week-chart] svg path")
    screen.one("[data-testid=sets] td")


def _course(screen: Screen) -> None:
    course = next(item for item in screen.ask("GET", "/api/courses") if item["course"]["name"] == "Autumn hill legs")
    screen.open(f"/courses/{course['id']}")
    screen.until_text("[data-testid=course-picture]", "Gluteals")


def _next_loads(screen: Screen) -> None:
    course = next(item for item in screen.ask("GET", "/api/courses") if item["course"]["name"] == "Autumn hill legs")
    screen.open(f"/classes/{course['course']['bases'][0]['id']}/loads")
    screen.one("[data-testid=next-load]")


def _generated(screen: Screen) -> None:
    screen.open("/generate")
    screen.press("Generate three")
    screen.wait(lambda: len(screen.all("[data-testid=generated-class] canvas")) == 3, "three generated classes")


def _review(screen: Screen) -> None:
    screen.open_class("Machine pairs")
    screen.press("Review")
    screen.until_text("[data-testid=review]", "will queue")


VIEWS: list[tuple[str, tuple[int, int], str, Callable[[Screen], None]]] = [
    ("today", (1280, 800), "mill-day", _today),
    ("course", (1280, 800), "mill-day", _course),
    ("progress", (1280, 800), "mill-day", _progress),
    ("next-loads", (1280, 800), "mill-day", _next_loads),
    ("generated-classes", (1280, 800), "mill-day", _generated),
    ("review", (1280, 800), "mill-day", _review),
    ("class-log", (1280, 800), "mill-day", _class_log),
    ("papers", (1280, 800), "mill-day", _papers),
    ("score-stations", (1280, 800), "mill-day", _score),
    ("people-of-a-class", (1280, 800), "mill-day", _people_of_a_class),
    ("room", (1280, 800), "mill-day", _room),
    ("floor", (1280, 800), "mill-day", _floor),
    ("run-stations", (1280, 800), "mill-day", _run_stations),
    ("run-machines", (1280, 800), "mill-day", _run_machines),
    ("log-sets", (1280, 800), "mill-day", _log_sets),
    ("adjust", (1280, 800), "mill-day", _adjust),
    ("wall", (1280, 800), "mill-wall", _wall),
    ("run-phone", (390, 844), "mill-day", _run_own_pace),
    ("own-phone", (390, 844), "mill-day", _own_phone),
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
                screen.open("/classes")
                screen.script("localStorage.setItem('oaken-theme', arguments[0])", theme)
                show(screen)
                driver.execute_async_script("document.fonts.ready.then(arguments[0])")
                driver.save_screenshot(str(FOLDER / f"{name}.png"))
                print(f"took {name}.png")


if __name__ == "__main__":
    main(sys.argv[1:])
