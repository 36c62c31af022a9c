"""From the page of papers to print and to PDF: each is looked at first, and comes as a file on the paper that was chosen."""

from __future__ import annotations

import base64
import io

from pypdf import PdfReader
from screen import Screen
from serving import ask

CAUGHT = """
    window.caught = [];
    const made = URL.createObjectURL;
    let last = null;
    URL.createObjectURL = (blob) => ((last = blob), made.call(URL, blob));
    HTMLAnchorElement.prototype.click = function () {
      const name = this.download;
      void last.slice(0, 5).text().then((text) => window.caught.push([name, text]));
    };
"""
"""Notes every file that would be kept: its name and its first letters. What a blob holds may not be fetched here."""

SEEN = {
    "Run sheet": "Stand ready",
    "Pre-class check": "Stop at once",
    "Cards of people": "1 Marit Fernhollow",
    "Station cards": "A1",
    "Machine cards": "load change",
    "Poster of the rotation": "Everybody's way",
    "Log sheet": "a tick is “as planned”",
}
"""What can be read on each paper."""


def printed(screen: Screen) -> PdfReader:
    """What the browser's own printing gives."""
    told = screen.driver.execute_cdp_cmd("Page.printToPDF", {"preferCSSPageSize": True})
    return PdfReader(io.BytesIO(base64.b64decode(told["data"])))


def number_of(screen: Screen, name: str) -> str:
    screen.open_class(name)
    return str(screen.driver.current_url.rsplit("/classes/", 1)[1].split("/")[0].split("?")[0])


def test_every_paper_of_a_class_is_looked_at_and_kept_as_pdf(screen: Screen) -> None:
    screen.open(f"/classes/{number_of(screen, 'Machine pairs')}/sheet")
    screen.script(CAUGHT)
    for at, (name, words) in enumerate(SEEN.items(), 1):
        screen.press(name)
        screen.until_text("[data-testid=paper]", words)
        screen.press("PDF")
        screen.wait(lambda: len(_kept(screen)) == at, f"the file of {name}")  # noqa: B023
    assert _kept(screen) == [[f"Machine pairs, heavy week, {name.lower()}.pdf", "%PDF-"] for name in SEEN]
    assert not screen.all("[role=alert]")
    # the paper that was chosen is remembered on this device
    screen.script(
        "const one = document.querySelector('select[aria-label=Paper]'); one.value = 'letter';"
        "one.dispatchEvent(new Event('change', {bubbles: true}))"
    )
    screen.wait(
        lambda: screen.script("return localStorage.getItem('oaken-paper')") == "letter", "the choice to be kept"
    )


def test_what_the_browser_prints_is_the_paper_alone(screen: Screen) -> None:
    screen.open(f"/classes/{number_of(screen, 'Machine pairs')}/sheet")
    screen.until_text("[data-testid=paper]", "Stand ready")
    assert screen.one("[data-testid=paper] img").get_attribute("alt").startswith("Code that opens http")
    words = " ".join(page.extract_text() for page in printed(screen).pages)
    assert "Stand ready" in words
    assert "Back to the class" not in words
    assert "Catalogue" not in words
    screen.press("Poster of the rotation")
    screen.until_text("[data-testid=paper]", "Everybody's way")
    page = printed(screen).pages[0]
    assert page.mediabox.width > page.mediabox.height


def test_the_code_on_a_run_sheet_opens_the_run_of_the_class(screen: Screen, address: str, session: str) -> None:
    # a class of which no other test leaves a run under way
    number = number_of(screen, "Scree and stairs")
    screen.open(f"/classes/{number}/run")
    screen.wait(lambda: "/runs/" in screen.driver.current_url, "the run")
    run = int(screen.driver.current_url.rsplit("/runs/", 1)[1])
    screen.driver.get("about:blank")
    # a second look finds the same one
    screen.open(f"/classes/{number}/run")
    screen.wait(lambda: screen.driver.current_url.endswith(f"/runs/{run}"), "the same run")
    screen.driver.get("about:blank")
    ask(address, session, "DELETE", f"/api/runs/{run}")


def _kept(screen: Screen) -> list[list[str]]:
    """The files that were kept so far: name and first letters of each."""
    found: list[list[str]] = screen.script("return window.caught")
    return found
