"""From an empty studio to a class that runs: at most ten minutes and sixty presses, and no page without a next step."""

from __future__ import annotations

import os
import time
from collections.abc import Iterator
from pathlib import Path

import pytest
from browser import chromium
from screen import Screen, serious_faults
from serving import serving
from warm import manage

MOST_PRESSES, MOST_S = 60, 600


class Counting(Screen):
    """A screen that counts what a newcomer does: every press, every field that is filled."""

    presses = 0

    def press(self, name: str) -> None:
        self.presses += 1
        super().press(name)

    def type(self, label: str, value: str) -> None:
        self.presses += 1
        super().type(label, value)

    def follow(self, words: str) -> None:
        """Press a link by its words."""
        self.presses += 1

        def there() -> bool:
            return bool(
                self.script(
                    "const link = [...document.querySelectorAll('a')].find(one => one.textContent.trim() === arguments[0]);"
                    "if (link) link.click(); return Boolean(link);",
                    words,
                )
            )

        self.wait(there, f"a link {words!r}")


@pytest.fixture
def empty(tmp_path: Path) -> Iterator[Counting]:
    """An installation without anybody, on a server of its own."""
    manage(tmp_path, "migrate", "--verbosity", "0", check=True)
    with serving(tmp_path, dict(os.environ), demo=False) as (address, _), chromium() as driver:
        yield Counting(driver, address)


def test_from_nothing_to_a_class_that_runs(empty: Counting) -> None:
    began = time.monotonic()
    screen = empty
    screen.open("/")
    screen.type("What your studio is called", "The loft")
    screen.type("Your name, to sign in with", "keeper")
    screen.type("A password of at least eight signs", "above-the-old-saw")
    screen.press("Begin")
    screen.until_text("[data-testid=next-step]", "Say what stands in the room")
    screen.follow("Say what stands in the room")
    for name, count in (
        ("Leg press", 2),
        ("Lying leg curl", 2),
        ("Mat", 12),
        ("Band", 10),
        ("Dumbbell pair", 10),
        ("Bike", 4),
    ):
        screen.type(name, str(count))
    screen.press("Make the room")
    screen.until_text("[data-testid=room]", "11 units")
    assert serious_faults(screen) == []
    screen.follow("Say who comes")
    screen.type("Beginners", "4")
    screen.type("Standard", "6")
    screen.type("Advanced", "2")
    screen.press("Add 12 people")
    screen.press("Generate three")
    screen.wait(lambda: len(screen.all("[data-testid=generated-class]")) == 3, "three generated classes")
    screen.press("Use this class")
    screen.one("[data-testid=ledger]")
    screen.press("Run")
    screen.press("Start")
    screen.until_text("body", "Pause")
    assert screen.presses <= MOST_PRESSES
    assert time.monotonic() - began <= MOST_S


@pytest.mark.parametrize(
    "page", ["/", "/classes", "/generate", "/rooms", "/people", "/courses", "/book", "/calendar", "/compare"]
)
def test_no_page_of_an_empty_studio_is_a_dead_end(begun: Counting, page: str) -> None:
    begun.open(page)
    main = begun.wait(
        lambda: begun.script(
            "const main = document.querySelector('main');"
            "if (!main || main.querySelector('.skeleton')) return null;"
            "return {words: main.innerText.trim(), ways: main.querySelectorAll('a[href], button:not([disabled])').length};"
        ),
        "the page is there",
    )
    assert main["words"]
    assert main["ways"] >= 1, main["words"]


@pytest.fixture(scope="module")
def begun(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Counting]:
    """A studio with its first account and nothing else."""
    data = tmp_path_factory.mktemp("begun")
    manage(data, "migrate", "--verbosity", "0", check=True)
    with serving(data, dict(os.environ), demo=False) as (address, _), chromium() as driver:
        screen = Counting(driver, address)
        screen.open("/")
        screen.type("What your studio is called", "The loft")
        screen.type("Your name, to sign in with", "keeper")
        screen.type("A password of at least eight signs", "above-the-old-saw")
        screen.press("Begin")
        screen.until_text("[data-testid=next-step]", "Say what stands in the room")
        yield screen
