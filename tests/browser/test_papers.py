"""From the run sheet's page to PDF: each paper comes as a file, on the paper that was chosen."""

from __future__ import annotations

from screen import Screen

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


def test_every_paper_of_a_class_is_kept_as_pdf(screen: Screen) -> None:
    screen.open_class("Machine pairs")
    number = screen.driver.current_url.rsplit("/classes/", 1)[1].split("/")[0].split("?")[0]
    screen.open(f"/classes/{number}/sheet")
    screen.button("Station cards")
    screen.script(CAUGHT)
    names = [
        "Run sheet",
        "Before the start",
        "Cards of people",
        "Station cards",
        "Machine cards",
        "Poster of the rotation",
    ]
    names.append("Log sheet")
    for name in names:
        screen.press(name)
        screen.wait(lambda: len(_kept(screen)) == names.index(name) + 1, f"the file of {name}")  # noqa: B023
    assert _kept(screen) == [[f"Machine pairs, heavy week, {name.lower()}.pdf", "%PDF-"] for name in names]
    assert not screen.all("[role=alert]")
    # the paper that was chosen is remembered on this device
    screen.script(
        "const one = document.querySelector('select'); one.value = 'letter';"
        "one.dispatchEvent(new Event('change', {bubbles: true}))"
    )
    screen.wait(
        lambda: screen.script("return localStorage.getItem('oaken-paper')") == "letter", "the choice to be kept"
    )


def _kept(screen: Screen) -> list[list[str]]:
    """The files that were kept so far: name and first letters of each."""
    found: list[list[str]] = screen.script("return window.caught")
    return found
