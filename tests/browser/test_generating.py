"""A class from an aim: three generated classes, one exercise kept, another three, one taken and changed like any other."""

from __future__ import annotations

from screen import Screen, serious_faults


def three(screen: Screen) -> None:
    screen.wait(
        lambda: len(screen.all("[data-testid=generated-class] canvas")) == 3, "three generated classes are drawn"
    )


def names(screen: Screen) -> list[str]:
    return [item.text for item in screen.all("[data-testid=generated-class] h2")]


def test_three_classes_are_generated_and_one_is_taken(screen: Screen) -> None:
    screen.open("/classes")
    screen.one("a[href='/generate']").click()
    # what is asked for in words goes into the form
    screen.type("In a few words", "back day, 8, 50 min, blue moon")
    screen.press("Fill in")
    told = screen.until_text("[data-testid=asked]", "is not understood")
    assert "8 people" in told
    screen.wait(
        lambda: (
            screen.script("return document.querySelector('input[name=day]:checked').parentElement.innerText") == "Back"
        ),
        "the day",
    )
    screen.press("Generate three")
    three(screen)
    first = names(screen)
    # load and waiting are seen before one is taken
    card = screen.text("[data-testid=generated-class]")
    assert "With load" in card
    assert "Longest wait" in card
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
