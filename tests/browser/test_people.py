"""The people: signing in, somebody new, a roster file, a recording that changes the forecast, the pre-class check."""

from __future__ import annotations

from functools import partial
from pathlib import Path

from screen import COMPUTES_S, Screen, serious_faults
from selenium.webdriver.common.keys import Keys
from serving import signed_in


def open_people(screen: Screen, name: str) -> None:
    """From the list of classes to the people of one."""
    screen.open_class(name)
    screen.press("People")
    screen.one("[data-testid=hearts]")


def choose_person(screen: Screen, name: str) -> str:
    """Choose somebody in the ranking; gives what is told of them."""
    screen.choose("[data-testid=ranking] li button", name)
    return screen.until_text("[data-testid=one-person]", "Energy, gross")


def give_file(screen: Screen, label: str, path: Path) -> None:
    """Choose a file in a file field."""
    screen.field(label).send_keys(str(path))


def test_nobody_sees_anything_before_signing_in(screen: Screen) -> None:
    screen.leave()
    screen.open("/people/tobin")
    screen.one("[data-testid=sign-in]")
    assert "Tobin" not in screen.text("body")
    screen.type("Name", "ranger")
    screen.type("Password", "wrong")
    screen.press("Sign in")
    screen.until_text("[role=alert]", "do not belong together")
    screen.type("Password", "mill-by-the-weir")
    screen.press("Sign in")
    screen.until_text("h1", "Tobin Askrigg")
    screen.open("/studio")
    screen.press("Sign out")
    screen.one("[data-testid=sign-in]")


def test_somebody_new_is_added_and_every_figure_says_how_it_was_reached(screen: Screen) -> None:
    screen.open("/people")
    screen.one("[data-testid=roster]")
    screen.press("Person")
    screen.type("Name", "Una Larchside")
    screen.type("Age (years)", "400")
    screen.type("Body mass (kg)", "61")
    screen.press("Add, and write down the rest")
    screen.until_text("dialog [role=alert]", "at most 100")
    screen.type("Age (years)", "40")
    screen.press("Add, and write down the rest")
    screen.until_text("h1", "Una Larchside")
    screen.until_text("[data-testid=heart-estimates]", "180")
    # the formula is chosen, and opens how it was reached
    screen.select("Formula", "Nes")
    screen.until_text("[data-testid=heart-estimates]", "185")
    screen.choose("[data-testid=heart-estimates] button", "Maximum")
    told = screen.until_text("dialog", "211 − 0.64 × age")
    assert "Nes et al. 2013" in told
    assert "Tanaka 180" in told
    screen.press("Close")
    # both unit systems speak of the same body
    screen.press("lb · in")
    screen.wait(lambda: screen.field("Body mass").get_attribute("value") == "134.48", "pounds")
    screen.press("kg · cm")
    # out of range says what would be right and changes nothing
    screen.type("Resting rate", "20")
    screen.until_text("[data-testid=person]", "30 to 110 bpm")
    screen.type("Resting rate", "58")
    # medication turns heart rates into effort
    screen.script(
        "[...document.querySelectorAll('label')].find((one) => one.textContent.startsWith('heart medication')).click()"
    )
    screen.until_text("[data-testid=person]", "Effort in place of heart rate")
    # a best from a set
    screen.select("Exercise to add", "Leg press")
    screen.press("Best from a set")
    screen.type("Load", "100")
    screen.type("Repetitions done", "10")
    screen.press("Estimate")
    best = screen.until_text("[data-testid=best]", "133.3 kg")
    assert "125.0–134.8 by all five formulas" in best
    screen.press("Use it")
    screen.until_text("[data-testid=lifts]", "100 kg × 10 (Epley)")
    screen.press("Save")
    screen.until_text("[data-testid=save-state]", "Saved")
    screen.open("/people/una-larchside")
    screen.until_text("[data-testid=lifts]", "Leg press")
    assert screen.field("Resting rate").get_attribute("value") == "58"
    # and gone again
    screen.press("Erase …")
    screen.press("Erase for good")
    screen.one("[data-testid=roster]")
    screen.wait(lambda: "Una" not in screen.text("[data-testid=roster]"), "Una to be gone")


def test_a_roster_file_shows_each_faulty_row_and_keeps_the_rest_when_told(screen: Screen, tmp_path: Path) -> None:
    path = tmp_path / "team.csv"
    path.write_text(
        "name,age,mass_lb,group\nIvo Stonebeck,37,176,night team\nBroken Row,37,heavy,night team\n", "utf-8"
    )
    screen.open("/people")
    screen.press("Import CSV")
    give_file(screen, "CSV file", path)
    preview = screen.until_text("dialog", "1 faulty row")
    assert "line 3" in preview
    assert "'heavy' is no number" in preview
    screen.press("Keep the 1 that are right")
    screen.until_text("dialog", "1 person added, 0 changed; left out: lines 3")
    screen.press("Close")
    screen.until_text("[data-testid=roster]", "Ivo Stonebeck")
    screen.select("Group", "night team")
    screen.wait(lambda: len(screen.all("[data-testid=roster] tbody tr")) == 1, "one row")
    assert "80 kg" in screen.text("[data-testid=roster]")
    path.write_bytes(b"\xff\xd8\xff no table")
    screen.press("Import CSV")
    give_file(screen, "CSV file", path)
    screen.until_text("dialog [role=alert]", "no UTF-8 text")
    screen.press("Close")
    screen.open("/people/ivo-stonebeck")
    screen.press("Erase …")
    screen.press("Erase for good")
    screen.one("[data-testid=roster]")


def test_a_recording_is_imported_and_the_forecast_changes(screen: Screen, tmp_path: Path) -> None:
    open_people(screen, "Machine pairs")
    before = choose_person(screen, "6 Davin")
    assert "usual heart, nothing fitted" in before
    usual = screen.script(
        "return fetch('/api/classes').then((one) => one.json())"
        ".then((all) => fetch(`/api/classes/${all.find((one) => one.name.startsWith('Machine pairs')).id}`))"
        ".then((one) => one.json())"
        ".then((one) => fetch('/api/forecast', {method: 'POST', headers: {'Content-Type': 'application/json',"
        " 'X-CSRFToken': /csrftoken=([^;]+)/.exec(document.cookie)[1]}, body: JSON.stringify({plan: one.plan})}))"
        ".then((one) => one.json()).then((told) => told.people[5].bpm)"
    )
    path = tmp_path / "davin.csv"
    rows = [f"{at * 5},{50 + (bpm - 50) * 1.25:.0f}" for at, bpm in enumerate(usual)]
    path.write_text("\n".join(["seconds,bpm", *rows]), "utf-8")
    screen.press("Log as held")
    screen.press("Log it")
    screen.until_text("dialog", "Logged: 12 people")
    screen.press("Close")
    screen.open("/people/davin")
    screen.one("[data-testid=recordings] li svg[role=img]")
    for _ in range(3):  # what the demo recorded is another heart
        count = len(screen.all("[data-testid=recordings] li svg[role=img]"))
        screen.script("document.querySelector(\"[data-testid=recordings] li button[aria-label^='Delete']\").click()")
        screen.wait(
            partial(lambda before: len(screen.all("[data-testid=recordings] li svg[role=img]")) < before, count),
            "one less",
        )
    screen.press("Recording")
    screen.one("dialog select")
    give_file(screen, "Recording file", path)
    screen.wait(lambda: not screen.all("dialog"), "the dialog to close")
    told = screen.until_text("[data-testid=recordings]", "off by")
    assert "· CSV ·" in told
    screen.press("Fit the heart")
    screen.until_text("[data-testid=own-heart-fit]", "last forecast missed by", COMPUTES_S)
    open_people(screen, "Machine pairs")
    after = choose_person(screen, "6 Davin")
    assert "own heart from recordings" in after

    def mean(words: str) -> int:
        return int(words.split("Mean heart rate ")[1].split(" bpm")[0])

    assert mean(after) > mean(before) + 3


def test_a_broken_recording_says_why_and_changes_nothing(screen: Screen, tmp_path: Path) -> None:
    screen.open("/people/jory")
    screen.one("[data-testid=recordings] li svg[role=img]")
    count = len(screen.all("[data-testid=recordings] li svg[role=img]"))
    screen.press("Recording")
    screen.one("dialog select")
    for name, content, says in (
        ("broken.tcx", b"<TrainingCenterDatabase><Lap>", "broken XML"),
        ("cut.fit", b"\x0e\x20\x68\x06\xff\xff\xff\x7f.FIT\x00\x00", "cut off FIT"),
        ("large.csv", b"seconds,bpm\n" + b"1,80\n" * 2_000_000, "at most 8 MB"),
    ):
        path = tmp_path / name
        path.write_bytes(content)
        give_file(screen, "Recording file", path)
        screen.until_text("dialog [role=alert]", says)
    screen.press("Or record it with a simulated belt")
    screen.wait(lambda: not screen.all("dialog"), "the dialog to close")
    assert len(screen.all("[data-testid=recordings] li svg[role=img]")) == count


def test_the_pre_class_check_is_read_item_by_item(screen: Screen) -> None:
    open_people(screen, "Long carry")
    screen.press("Pre-class check")
    first = screen.until_text("[data-testid=go-item]", "1 of ")
    assert "open" in first
    items = int(first.split("1 of ")[1].split()[0])
    assert items > 4
    for at in range(1, items + 1):
        told = screen.until_text("[data-testid=go-item]", f"{at} of {items}")
        assert "Safer:" in told
        names = [item.text for item in screen.all("[data-testid=go-item] button")]
        choice = "Not today" if at == 1 else "Goes with the safer choice" if at == 2 else "Goes"
        screen.press(choice if choice in names else "Read")
    end = screen.until_text("[data-testid=go-end]", f"All {items} items read")
    assert "Not today: " in end
    assert "chest discomfort" in end
    assert "not medical advice" in screen.text("dialog")
    screen.press("Keep what was read")
    screen.until_text("[data-testid=go-end]", "Kept: read by ranger")
    screen.press("Review the plan")
    screen.until_text("[data-testid=review]", "worth a word before the doors open")
    screen.press("Close")
    screen.press("Pre-class check")
    screen.until_text("dialog", "Last read by ranger")


def test_a_warm_room_makes_a_milder_class_and_undo_brings_the_old_one_back(screen: Screen) -> None:
    open_people(screen, "Scree and stairs")
    screen.press("Air")
    screen.type("Temperature", "33")
    screen.type("Relative humidity", "60")
    screen.until_text("[data-testid=heat]", "Reconsider a hard class")
    screen.choose("[data-testid=heat] button", "Heat index")
    screen.until_text("dialog:last-of-type", "Rothfusz")
    screen.keys(Keys.ESCAPE)
    screen.press("Use it and make a milder class")
    screen.until_text("[data-testid=air]", "heat index")
    screen.press("Score")
    screen.until_caution("warm room")
    longer = screen.length
    screen.press("Undo")
    screen.wait(lambda: screen.length != longer and "warm room" not in screen.cautions().lower(), "as before")


def test_loads_are_shown_as_they_are_set(screen: Screen) -> None:
    open_people(screen, "Machine pairs")
    screen.press("Loads")
    told = screen.until_text("[data-testid=loads]", "warm-up, 15 times")
    assert "bar 35 kg, a side: 20" in told
    assert screen.all("[data-testid=loads] svg[aria-label*='a side']")
    screen.press("2 Tobin")
    screen.wait(lambda: screen.text("[data-testid=loads]") != told, "other loads")


def test_a_working_load_is_worked_out_for_the_machine_there_is(screen: Screen) -> None:
    screen.open("/people/tobin")
    screen.until_text("[data-testid=lifts]", "Hip thrust")
    row = "[...document.querySelectorAll('[data-testid=lifts] tr')].find((one) => one.textContent.startsWith('Hip thrust'))"
    screen.script(f"[...{row}.querySelectorAll('button')].find((one) => one.textContent === 'work out').click()")
    screen.press("some in reserve")
    screen.press("Work it out")
    told = screen.until_text("[data-testid=worked-out]", "75 % of the best")
    assert "bar 25 kg, a side: 20 + 5 + 2.5" in told
    screen.press("Drops, pyramid")
    screen.press("Work it out")
    told = screen.until_text("[data-testid=worked-out]", "change of")
    assert told.count("bar 25") == 3
    screen.press("Next time")
    screen.type("Load of the sets", "85")
    screen.type("Repetitions, set by set", "8, 8, 8")
    screen.press("What next?")
    screen.until_text("[data-testid=worked-out]", "Add a step: 90 kg")
    screen.press("Work with 90 kg")
    screen.wait(lambda: screen.field("Working load of Hip thrust").get_attribute("value") == "90", "the working load")
    screen.press("Undo")
    screen.until_text("[data-testid=save-state]", "Saved")


def test_effort_takes_the_place_of_heart_rate(screen: Screen) -> None:
    open_people(screen, "Machine pairs")
    told = choose_person(screen, "7 Petra")
    assert "by effort in place of heart rate" in told
    assert "bpm" not in screen.text("[data-testid=targets]")
    assert "effort" in screen.text("[data-testid=targets]")


def test_house_rules_are_written_and_seen(screen: Screen) -> None:
    screen.open("/studio")
    screen.one("[data-testid=studio-rules] li")
    screen.type("Rule", "spotter at every box")
    screen.select("Holds for", "beginners")
    screen.press("Add the rule")
    screen.until_text("[data-testid=studio-rules]", "spotter at every box")
    screen.open_class("Machine pairs")
    screen.until_caution("house rule: spotter at every box")
    screen.open("/studio")
    screen.press("Remove: spotter at every box")
    screen.wait(lambda: "spotter" not in screen.text("[data-testid=studio-rules]"), "the rule to be gone")


def test_an_assistant_runs_and_logs_and_reads_no_health(screen: Screen) -> None:
    screen.enter(signed_in(screen.address, "helper"))
    screen.open("/classes")
    screen.one("[data-testid=classes]")
    assert "People" not in screen.text("header")
    screen.open_class("Machine pairs")
    assert screen.length == "57:37"
    assert "asks for care" not in screen.cautions()
    assert "Heart and energy figures are for instructors" in screen.text("[data-testid=ledger]")
    screen.until_text("[data-testid=save-state]", "Saving is for instructors")
    screen.press("Log as held")
    screen.press("Log it")
    screen.until_text("dialog", "Logged: 12 people")


def test_people_can_be_read_and_used_by_everybody(screen: Screen) -> None:
    screen.open("/people")
    screen.one("[data-testid=roster]")
    assert serious_faults(screen) == []
    screen.open("/people/oskar")
    screen.one("[data-testid=recordings] li svg[role=img]")
    assert serious_faults(screen) == []
    open_people(screen, "Machine pairs")
    choose_person(screen, "4 Oskar")
    assert serious_faults(screen) == []
    screen.press("Pre-class check")
    screen.one("[data-testid=go-item]")
    assert serious_faults(screen) == []
    screen.open("/studio")
    screen.one("[data-testid=studio-rules] li")
    assert serious_faults(screen) == []


def test_a_person_who_does_not_exist_says_so_and_leads_back(screen: Screen) -> None:
    screen.open("/people/nobody")
    screen.until_text("main", "This person cannot be opened")
    screen.one("main a[href='/people']").click()
    screen.one("[data-testid=roster]")
