"""What an instructor sees and presses first: a class of one's own, the figures, cautions, ratios, the text, a phone."""

from __future__ import annotations

from functools import partial

from browser import chromium
from screen import Screen, serious_faults
from selenium.webdriver import ActionChains, Keys
from test_writing_and_fitting import paste

PLACE = "const one = document.querySelector(arguments[0]).getBoundingClientRect(); return [one.top, one.bottom]"
FIGURES = [
    "Work ÷ total",
    "Load ÷ minute",
    "Sets ÷ minute",
    "Mean heart rate",
    "Highest heart rate",
    "Vigorous or more",
    "Energy, gross",
]


def test_a_newcomers_own_class_takes_few_presses(screen: Screen) -> None:
    presses = 0

    def press(name: str) -> None:
        nonlocal presses
        presses += 1
        screen.press(name)

    def typed(label: str, value: str) -> None:
        nonlocal presses
        presses += 1
        screen.type(label, value)

    screen.open("/classes")
    press("New class")
    screen.until_text("dialog", "12 people, in this order")
    typed("Name", "My first evening")
    screen.select("Room", "Saw floor, Alder Mill")
    presses += 1
    screen.select("Group", "stretcher team")
    press("These alone")
    presses += 1
    screen.wait(lambda: "12 people, in this order" not in screen.text("dialog"), "the team alone")
    screen.select("Level", "All levels")
    screen.select("Group", "All groups")
    presses += 2
    press("All of these")
    screen.until_text("dialog", "12 people, in this order")
    screen.script("[...document.querySelectorAll('dialog input[type=radio]')].at(0).click()")
    presses += 1
    assert not serious_faults(screen)
    press("Make the class")
    screen.until_saved(1)
    assert screen.field("Name of the class").get_attribute("value") == "My first evening"
    assert int(screen.length.split(":")[0]) in range(34, 46)
    assert "breather" not in screen.cautions()
    # one exercise is changed for another, a round is taken out, and it is saved
    kept = screen.exercises
    screen.choose_slot(kept[-1])
    press("Other exercise")
    typed("Search exercises", "dead bug")
    screen.keys(Keys.ENTER)
    presses += 2
    screen.wait(lambda: screen.exercises[-1] == "dead-bug", "the other exercise")
    press("Save")
    screen.until_saved(2)
    assert presses <= 25


def test_what_the_work_is_about_is_seen_without_scrolling(screen: Screen) -> None:
    screen.open_class("Stretcher legs")
    tall = screen.script("return window.innerHeight")
    foot = screen.script(PLACE, "[data-testid=readout]")[0]
    for name in FIGURES:
        bottom = screen.script(
            """const line = [...document.querySelectorAll('[data-testid=ledger] button')]
                .find((one) => one.innerText.startsWith(arguments[0]));
            return line.getBoundingClientRect().bottom;""",
            name,
        )
        assert bottom <= min(tall, foot), name
    assert screen.script(PLACE, "[data-testid=cautions]")[1] <= foot
    # a counted line, which opens the one list of advice: seven lines at most at first, the weightiest first
    assert "cautions" in screen.text("[data-testid=cautions]")
    screen.press_nth("[data-testid=cautions] button", 0)
    screen.one("[data-testid=review] li")
    assert len(screen.all("[data-testid=review] li")) <= 7
    screen.press("Close")
    words = screen.cautions()
    assert "to change" in words
    lines = [line for line in words.splitlines() if line.startswith(("1 ", "no."))]
    assert len(lines) == len(set(lines))


def test_the_last_stave_is_not_cut_by_the_hearts(screen: Screen) -> None:
    screen.open_class("Machine pairs")
    hearts = screen.script(PLACE, "[data-testid=score] svg[aria-label^='Heart rate']")[0]
    seen = """return [...document.querySelectorAll('[data-testid=staves] [data-row]')]
        .filter((one) => one.style.opacity !== '0').map((one) => one.getBoundingClientRect())
        .filter((one) => one.top < arguments[0] - 1 && one.bottom > arguments[0] + 3).length"""
    screen.wait(lambda: screen.script("return document.querySelectorAll('[data-row]').length > 4"), "the staves")
    screen.wait(lambda: screen.script(seen, hearts) == 0, "whole staves alone")
    screen.script("window.scrollBy(0, 37)")
    hearts = screen.script(PLACE, "[data-testid=score] svg[aria-label^='Heart rate']")[0]
    screen.wait(lambda: screen.script(seen, hearts) == 0, "whole staves alone after scrolling")


def test_work_to_rest_is_set_as_a_ratio(screen: Screen) -> None:
    screen.open_class("Stretcher legs")
    ratio = screen.field("Work to rest")
    assert ratio.text.splitlines()[0].strip() == "2:1"

    def figures() -> list[str | None]:
        return [screen.field(name).get_attribute("value") for name in ("Work", "Change")]

    def choose(group: str, words: str) -> None:
        script = """const [select, group, words] = arguments;
            const of = [...select.querySelectorAll('optgroup')].find((one) => one.label === group);
            select.value = [...of.children].find((one) => one.text.startsWith(words)).value;
            select.dispatchEvent(new Event('change', { bubbles: true }));"""
        screen.script(script, screen.field("Work to rest"), group, words)

    assert figures() == ["40", "20"]
    choose("keeping the interval", "1:1")
    screen.wait(lambda: figures() == ["30", "30"], "a minute at 1:1")
    choose("keeping the work", "1:2")
    screen.wait(lambda: figures() == ["30", "60"], "the same work at 1:2")
    choose("keeping the change", "2:1")
    screen.wait(lambda: figures() == ["120", "60"], "the same change at 2:1")


IN_EDITOR = """const root = document.querySelector('[data-testid=text-editor]').shadowRoot;
    return [...root.querySelectorAll(arguments[0])].map((one) => one.innerText)"""


def test_the_text_is_typed_in_an_editor_that_underlines_completes_and_folds(screen: Screen) -> None:
    screen.open_class("Machine pairs")
    screen.press("Edit as text")
    screen.until_text("[data-testid=text-state]", "Reads as")
    paste(
        screen,
        "class Typed\nslot 45 min\npeople marit\n\nblock Warm-up: together, then 30\nbike until 105 bpm\n\n"
        "block Legs: sets, then 60\nhack squat 3x10, @135 lb, rest 60-90\nsquats 5 x 5\n",
    )
    screen.until_text("[data-testid=text-state]", "say which")
    screen.wait(lambda: screen.script(IN_EDITOR, ".cm-lintRange-error") == ["squats"], "the word underlined")
    screen.press("goblet squat")
    state = screen.until_text("[data-testid=text-state]", "Reads as 2 blocks, 3 exercises")
    assert "135 lb are 61.2 kg" in state
    assert "expected to take 5 to 10 min" in state
    # names are completed while they are typed
    screen.script("document.querySelector('[data-testid=text-editor]').shadowRoot.querySelector('.cm-content').focus()")
    screen.chord(Keys.CONTROL, Keys.END)
    screen.keys("pendu")
    screen.wait(lambda: "pendulum squat" in screen.script(IN_EDITOR, ".cm-completionLabel"), "the completion")
    # the cheat sheet begins with what can stand where the cursor is
    assert "where you are" in screen.text("dialog section h4")
    screen.keys(Keys.ESCAPE)
    # a block folds to the line that opens it
    before = len(screen.script(IN_EDITOR, ".cm-line"))
    fold = screen.script(
        """const root = document.querySelector('[data-testid=text-editor]').shadowRoot;
        return [...root.querySelectorAll('.cm-foldGutter span[title]')]
            .find((one) => getComputedStyle(one).visibility === 'visible');"""
    )
    ActionChains(screen.driver).click(fold).perform()
    screen.wait(lambda: len(screen.script(IN_EDITOR, ".cm-line")) < before, "the folded block")
    assert not serious_faults(screen)


def test_who_where_and_when_are_changed_on_the_screen(screen: Screen) -> None:
    screen.open_class("Machine pairs")
    screen.press("class details")
    screen.until_text("dialog", "12 people, in this order")
    screen.press("Without Jory Penhallick")
    screen.until_text("dialog", "11 people, in this order")
    first = screen.text("dialog ol li").splitlines()
    assert first[0].startswith("1")
    screen.script(
        """const date = [...document.querySelectorAll('dialog input[type=date]')][0];
        const set = Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, 'value').set;
        set.call(date, '2026-12-01'); date.dispatchEvent(new Event('input', { bubbles: true }));"""
    )
    screen.select("Aim", "strength: sets and loads lead")
    assert not serious_faults(screen)
    screen.keys(Keys.ESCAPE)
    screen.until_text("main", "Tue 1 Dec, 18:00")
    screen.until_text("main", "11 people · strength")
    screen.press("Undo")


def _holds(screen: Screen, label: str, value: str) -> bool:
    return screen.field(label).get_attribute("value") == value


def test_a_slot_is_edited_on_a_phone_and_its_tokens_have_numbers(address: str, session: str) -> None:
    with chromium(390, 844, phone=True) as driver:
        screen = Screen(driver, address)
        screen.enter(session)
        screen.open_class("Machine pairs")
        assert screen.script("return document.documentElement.scrollWidth") <= 390
        # three minutes at a time: what is drawn is wide enough for its number
        screen.wait(
            lambda: screen.script(
                "return [...document.querySelectorAll('button[aria-pressed=true]')].some((one) => one.innerText === '3 min')"
            ),
            "three minutes shown",
        )
        screen.choose_slot("leg-press")
        for label, value in (("Sets", "4"), ("Repetitions", "8"), ("Load", "75"), ("Rest", "90")):
            screen.type(label, value)
            screen.wait(partial(_holds, screen, label, value), label)
        screen.type("Note", "knees out")
        screen.wait(
            lambda: (
                screen.field("Line of Leg press").get_attribute("value")
                == 'leg press 4 x 8, @75%, 3-0-1, rest 90, "knees out"'
            ),
            "the line to follow the figures",
        )
        tops = screen.script(
            """return [...document.querySelectorAll('[data-testid=block-bar] .btn-square')]
            .map((one) => Math.round(one.getBoundingClientRect().top))"""
        )
        assert len(set(tops)) == 1
        assert screen.script("return document.documentElement.scrollWidth") <= 390


def test_many_hearts_are_a_middle_a_band_and_strips(screen: Screen) -> None:
    screen.open_class("Machine pairs")
    screen.press("People")
    hearts = screen.one("[data-testid=hearts]")
    assert "the middle, the half around it and the range of all" in (hearts.get_attribute("aria-label") or "")
    strips = screen.all("[data-testid=strips] button")
    assert len(strips) == 11  # one takes heart medication
    drawn = len(hearts.find_elements("css selector", "path"))
    ActionChains(screen.driver).click(strips[3]).perform()
    screen.wait(lambda: len(screen.all("[data-testid=hearts] path")) == drawn + 2, "the chosen heart with its range")
    assert not serious_faults(screen)
