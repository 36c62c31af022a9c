"""What a person does at the screen, in the words of the screen; every step waits for a state and never for a time."""

from __future__ import annotations

import json
from collections.abc import Callable
from typing import Any, TypeVar

from places import ROOT
from selenium.common.exceptions import (
    ElementClickInterceptedException,
    NoSuchElementException,
    StaleElementReferenceException,
)
from selenium.webdriver import ActionChains, Chrome, Keys
from selenium.webdriver.common.by import By
from selenium.webdriver.remote.webelement import WebElement
from selenium.webdriver.support.ui import WebDriverWait
from serving import ask

Found = TypeVar("Found")
PATIENCE_S = 120
"""How long a state may take: a machine four times as slow with both cores busy still gets there."""

COMPUTES_S = 300
"""A search or a fit takes half a minute of a core that it has for itself, and several times that beside other work."""


class Screen:
    """One browser window on the application."""

    def __init__(self, driver: Chrome, address: str) -> None:
        self.driver = driver
        self.address = address
        self.session = ""

    def wait(self, state: Callable[[], Found], what: str, patience_s: float = PATIENCE_S) -> Found:
        """Wait until `state` gives something true, and give it back."""
        missing = (NoSuchElementException, StaleElementReferenceException, ElementClickInterceptedException)
        waiting = WebDriverWait(self.driver, patience_s, poll_frequency=0.1, ignored_exceptions=missing)
        return waiting.until(lambda _: state(), f"waited in vain for: {what}")

    def open(self, path: str) -> None:
        """Go to an address of the application."""
        self.driver.get(self.address + path)

    def all(self, css: str) -> list[WebElement]:
        """Every element that matches now."""
        return self.driver.find_elements(By.CSS_SELECTOR, css)

    def nth(self, css: str, place: int) -> WebElement:
        """The element at this place of all that match, once there are so many."""

        def there() -> WebElement | None:
            found = self.all(css)
            return found[place] if len(found) > place else None

        found: WebElement | None = self.wait(there, f"number {place + 1} of {css}")
        assert found is not None
        return found

    def click(self, element: WebElement) -> bool:
        """Press an element as a mouse does; gives whether the press reached it. What is drawn meanwhile may move it
        away from under the mouse, or it may lie under a bar that stays: then it is brought to the middle first."""
        self.script(
            "window.reached = false;"
            "arguments[0].addEventListener('click', () => { window.reached = true; }, {capture: true, once: true})",
            element,
        )
        try:
            element.click()
        except ElementClickInterceptedException:
            self.script("arguments[0].scrollIntoView({block: 'center'})", element)
            element.click()
        # another page knows nothing of it: then the press has led there
        return bool(self.script("return window.reached !== false"))

    def press_nth(self, css: str, place: int) -> None:
        """Press the element at this place, whichever it is when it is pressed."""
        self.wait(lambda: self.click(self.nth(css, place)), f"pressing number {place + 1} of {css}")

    def one(self, css: str) -> WebElement:
        """The first element that matches, once it is there."""
        return self.wait(lambda: self.driver.find_element(By.CSS_SELECTOR, css), css)

    def button(self, name: str) -> WebElement:
        """A button by its visible words or its label, once it can be pressed."""

        # in one go: asking each of a hundred buttons for its name would take seconds
        script = """
            return [...document.querySelectorAll('button, [role=tab]')].find((one) => {
              const label = one.getAttribute('aria-label') || one.innerText.trim();
              const meant = label === arguments[0]
                || (one.getAttribute('role') === 'tab' && label.startsWith(arguments[0] + ' '));
              return meant && !one.disabled && one.checkVisibility({visibilityProperty: true});
            }) ?? null"""
        found: WebElement = self.wait(lambda: self.driver.execute_script(script, name), f"the button {name!r}")
        return found

    def press(self, name: str) -> None:
        """Press a button by its name."""
        self.wait(lambda: self.click(self.button(name)), f"pressing {name!r}")

    def choose(self, css: str, words: str) -> None:
        """Press the entry of an open list that begins with these words."""

        script = """
            return [...document.querySelectorAll(arguments[0])].find((one) =>
              one.innerText.trim().startsWith(arguments[1]) && one.checkVisibility({visibilityProperty: true})) ?? null"""

        pressed = False

        def click() -> bool:
            nonlocal pressed
            entry: WebElement | None = self.driver.execute_script(script, css, words)
            if entry is None:
                return pressed
            entry.click()
            pressed = True
            # a menu closes with what is chosen from it: one that is still there has not taken the press
            return not self.driver.execute_script("return arguments[0].closest('[role=menu]') !== null", entry)

        self.wait(click, f"the entry {words!r}")

    def field(self, label: str) -> WebElement:
        """An input by its label."""
        script = """
            return [...document.querySelectorAll('input, textarea, select')].find((input) =>
              input.getAttribute('aria-label') === arguments[0]
              || [...(input.labels ?? [])].some((label) => {
                const words = label.cloneNode(true);
                words.querySelectorAll('select, input, textarea').forEach((one) => one.remove());
                return words.textContent.trim() === arguments[0];
              })) ?? null"""
        found: WebElement = self.wait(lambda: self.driver.execute_script(script, label), f"the field {label!r}")
        return found

    def type(self, label: str, value: str) -> None:
        """Replace what stands in a field, as a person would."""
        field = self.field(label)
        # what is still opening beside it may move it away from under a click
        self.script("arguments[0].focus()", field)
        field.send_keys(Keys.CONTROL, "a")
        field.send_keys(value)

    def select(self, label: str, words: str) -> None:
        """Choose the option that reads so in a select, by its label."""

        def chosen() -> bool:
            options = self.field(label).find_elements(By.TAG_NAME, "option")
            meant = next((option for option in options if option.text == words), None)
            if meant is not None:
                meant.click()
            return meant is not None

        self.wait(chosen, f"the option {words!r} of {label!r}")

    def keys(self, *keys: str) -> None:
        """Press keys where the focus is."""
        ActionChains(self.driver).send_keys(*keys).perform()

    def chord(self, modifier: str, key: str) -> None:
        """Press a key with a modifier held."""
        ActionChains(self.driver).key_down(modifier).send_keys(key).key_up(modifier).perform()

    def text(self, css: str, patience_s: float = PATIENCE_S) -> str:
        """The words of an element, once it is there; read in one go, so that a redraw cannot come between."""
        script = "const one = document.querySelector(arguments[0]); return one?.innerText ?? one?.textContent ?? null"
        words: str = self.wait(lambda: self.driver.execute_script(script, css), css, patience_s)
        return words

    def until_text(self, css: str, words: str, patience_s: float = PATIENCE_S) -> str:
        """Wait until an element says these words, and give all it says."""

        def says() -> str:
            found = self.text(css, patience_s)
            return found if words in found else ""

        return self.wait(says, f"{words!r} in {css}", patience_s)

    def script(self, script: str, *arguments: Any) -> Any:
        """Run a script in the page."""
        return self.driver.execute_script(script, *arguments)

    # ---- the words of the design screen ----

    @property
    def length(self) -> str:
        """The length of the class as the ledger shows it."""
        return self.text("[data-testid=length]")

    @property
    def exercises(self) -> list[str]:
        """The exercises of the selected block, from top to bottom."""
        script = "return [...document.querySelectorAll('[data-testid=slot]')].map((row) => row.dataset.exercise)"
        found: list[str] = self.driver.execute_script(script)
        return found

    def choose_slot(self, exercise: str) -> None:
        """Open the slot of an exercise by its row."""
        row = f"[data-testid=slot][data-exercise={exercise}] [data-slot]"
        self.one(row)
        # by keyboard: a row low on the page may lie under the hearts until it has the focus
        self.script("document.querySelector(arguments[0]).focus()", row)
        self.keys(Keys.ENTER)
        self.wait(lambda: self.one(row).get_attribute("aria-pressed") == "true", f"the slot of {exercise} to open")
        self.one("[data-testid=slot-bar]")

    def stave(self, name: str) -> str:
        """How the drawing of a stave describes itself."""
        return self.one(f"[data-testid=staves] [role=img][aria-label^='{name}:']").get_attribute("aria-label") or ""

    def open_class(self, name: str) -> None:
        """To the score of a class, by its address: of several that begin so, the one that was made first. The list
        shows so many at a time, and other tests make more."""
        found = [item["id"] for item in self.ask("GET", "/api/classes") if item["name"].startswith(name)]
        self.open(f"/classes/{min(found)}")
        self.one("[data-testid=readout]")

    def open_floor(self, name: str) -> None:
        """From the list of classes to the floor of one."""
        self.open_class(name)
        self.press("Floor")
        self.one("[data-testid=matrix] canvas")

    def enter(self, session: str) -> None:
        """Be signed in, as the browser's cookie says it."""
        self.session = session
        self.driver.execute_cdp_cmd(
            "Network.setCookie", {"url": self.address, "name": "sessionid", "value": session, "httpOnly": True}
        )

    def ask(self, method: str, path: str, body: object = None) -> Any:
        """The API as another device of the same account would call it."""
        return ask(self.address, self.session, method, path, body)

    def leave(self) -> None:
        """Be signed in no longer."""
        self.driver.execute_cdp_cmd("Network.clearBrowserCookies", {})

    def choose_unit(self, unit: str) -> None:
        """Choose a unit on the plan of a room, by keyboard."""
        self.one(f"[data-unit={unit}]")
        self.script("document.querySelector(`[data-unit='${arguments[0]}']`).focus()", unit)
        self.keys(Keys.ENTER)

    def open_figure(self, name: str) -> None:
        """Press a figure of the ledger, scrolled clear of the readout at the foot of the screen."""

        def clicked() -> bool:
            lines = self.all("[data-testid=ledger] button")
            line = next((line for line in lines if line.text.startswith(name)), None)
            if line is None:
                return False
            self.script("arguments[0].scrollIntoView({block: 'center'})", line)
            return self.click(line)

        self.wait(clicked, f"the figure {name!r}")

    def scrub_to(self, minute: int) -> None:
        """Move the scrub line to a full minute, by keyboard."""
        self.script("document.querySelector('[data-testid=scrub]').focus()")
        self.keys(Keys.HOME, *([Keys.PAGE_UP] * minute))
        slider = "[data-testid=scrub]"
        self.wait(lambda: self.one(slider).get_attribute("aria-valuenow") == str(60 * minute), f"minute {minute}")

    def cautions(self) -> str:
        """Everything the review says that the counted line of cautions opens; empty where nothing stands out."""
        if not self.all("[data-testid=cautions]"):
            return ""
        if not self.all("[data-testid=cautions] ul"):
            self.script("document.querySelector('[data-testid=cautions] button').click()")
        # assistants read a plain list in its place
        read = """const plain = document.querySelector('[data-testid=cautions] ul');
            if (plain) return plain.innerText;
            const list = document.querySelector('dialog[open] [data-testid=review]');
            if (!list) return null;
            const more = [...list.querySelectorAll('button')].find((one) => / more$/.test(one.innerText));
            if (more) { more.click(); return null; }
            return list.innerText;"""
        words: str = self.wait(lambda: self.script(read) or "", "the review")
        if not self.all("[data-testid=cautions] ul"):
            self.press("Close")
        return words

    def until_caution(self, words: str) -> str:
        """Wait until one of the cautions says these words; gives all they say."""
        return self.wait(
            lambda: found if words.lower() in (found := self.cautions()).lower() else "", f"{words!r} in the cautions"
        )

    def make_class(self) -> None:
        """A new class as it is proposed, from the list of classes."""
        self.open("/classes")
        self.press("New class")
        self.until_text("dialog", "in this order")
        self.select("Room", "Saw floor, Alder Mill")
        self.press("Make the class")

    @property
    def class_text(self) -> str:
        """What stands in the editor of the class as text."""
        return self.one("[data-testid=text-editor]").get_attribute("value") or ""

    def until_saved(self, revision: int) -> None:
        """Wait until the head says which revision was saved."""
        self.until_text("[data-testid=save-state]", f"Saved as revision {revision}")

    def make_beginner_version(self) -> str:
        """From the open class to its beginner version; gives what the dialog says of the rules."""
        self.press("Versions")
        self.press("Beginner version")
        rules = self.until_text("dialog", "one machine at a time")
        self.press("Make the beginner version")
        self.wait(lambda: "(beginner)" in (self.field("Name of the class").get_attribute("value") or ""), "the version")
        return rules


AXE = (ROOT / "web" / "node_modules" / "axe-core" / "axe.min.js").read_text(encoding="utf-8")


def serious_faults(screen: Screen) -> list[str]:
    """What axe-core finds against WCAG 2.2 A and AA on the page as it stands."""
    # at the foot of the page nothing lies under the readout, which otherwise floats over the ledger
    screen.script("window.scrollTo(0, document.body.scrollHeight)")
    screen.script(AXE)
    result = screen.driver.execute_async_script(
        """const done = arguments[arguments.length - 1];
        axe.run(document, {runOnly: ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa']})
          .then((found) => done(JSON.stringify(found.violations)), (fault) => done(JSON.stringify([{id: String(fault), nodes: []}])))"""
    )
    return [
        f"{fault['id']}: {node['target'][0]} {node['failureSummary']}"
        for fault in json.loads(result)
        for node in fault["nodes"] or [{"target": ["page"], "failureSummary": ""}]
    ]
