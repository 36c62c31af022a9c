"""A class from an aim: three generated classes, one exercise kept, another three, one taken and changed like any other."""

from __future__ import annotations

from screen import Screen, serious_faults


def three(screen: Screen) -> None:
    screen.wait(
        lambda: len(screen.all("[data-testid=generated-class] canvas")) == 3, "three generated classes are drawn"
    )


def names(screen: Screen) -> list[str]:
    return [item.text for item in screen.all("[data-testid=generated-class] h2")]


def test_three_sketches_and_one_is_taken(screen: Screen) -> None:
    screen.open("/classes")
    screen.one("a[href='/generate']").click()
    screen.press("Generate three")
    three(screen)
    first = names(screen)
    assert len(set(first)) == 3
    assert serious_faults(screen) == []
    screen.script("document.querySelectorAll('[data-testid=generated-class] details').forEach(one => one.open = true)")
    reasons = screen.text("[data-testid=generated-class]")
    assert "of the tension wanted" in reasons
    kept = screen.one("[data-testid=generated-class] button[aria-label^='Keep ']").get_attribute("aria-label") or ""
    screen.press(kept)
    screen.until_text("[data-testid=generated-classes]", "To be kept:")
    screen.press("Generate again")
    three(screen)
    screen.wait(
        lambda: kept.removeprefix("Keep ") in screen.script("return document.body.textContent"), "what is kept is there"
    )
    screen.press("Another three")
    screen.wait(
        lambda: len(screen.all("[data-testid=generated-class]")) == 3 and names(screen) != first, "three others"
    )
    three(screen)
    screen.press("Use this class")
    screen.one("[data-testid=ledger]")
    assert "Warm-up" in screen.one("[role=tablist]").text
    # the class that was taken can still say why
    screen.press("Review")
    screen.one("[data-testid=reasons] summary").click()
    assert "of the tension wanted" in screen.text("[data-testid=reasons]")


def test_what_stands_in_the_way_is_told_in_words(screen: Screen) -> None:
    screen.open("/generate")
    screen.type("Class length", "5")
    screen.press("Generate three")
    told = screen.until_text("[data-testid=in-the-way]", "too short")
    assert "5 min are too short for warm-up, work and cool-down" in told
