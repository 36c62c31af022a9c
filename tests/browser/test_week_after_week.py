"""Week after week at the screen: today, typing in from paper, next time's loads, a person's progress, a course."""

from __future__ import annotations

from datetime import UTC, datetime, timedelta
from functools import partial
from pathlib import Path
from typing import Any

import pytest
from screen import Screen, serious_faults
from selenium.webdriver.common.keys import Keys


def course_of(screen: Screen) -> Any:
    """The demo's course."""
    return next(item for item in screen.ask("GET", "/api/courses") if item["course"]["name"] == "Autumn hill legs")


def new_course(screen: Screen, name: str) -> int:
    """A course of one's own, so that the demo's stays as it is."""
    body = {"template": "front-and-back", "name": name, "room": "saw-floor", "people": ["tobin", "ines", "wilma"],
            "starts": str(datetime.now(UTC).date() + timedelta(days=7)), "weeks": 4}  # fmt: skip
    return int(screen.ask("POST", "/api/courses/template", body)["id"])


def test_the_first_screen_says_what_is_next_and_what_it_needs(screen: Screen) -> None:
    screen.open("/")
    told = screen.until_text("[data-testid=today]", "Where the courses stand")
    assert "Autumn hill legs" in told
    assert "week 12 of 12" in told
    assert "the pre-class check" in screen.text("[data-testid=needs]")
    assert screen.button("Run it").is_enabled()
    assert "Sets still to log" in told
    assert not serious_faults(screen)


def test_a_class_is_typed_in_from_paper_with_the_keyboard_alone(screen: Screen) -> None:
    planned = next(item for item in screen.ask("GET", "/api/classes") if item["name"] == "Machine pairs, heavy week")
    body = {"class_id": planned["id"], "revision": planned["revision"], "people": ["tobin", "ines"],
            "began_at": (datetime.now(UTC) - timedelta(hours=30)).isoformat()}  # fmt: skip
    run = screen.ask("POST", "/api/runs/past", body)["id"]
    screen.open(f"/runs/{run}/book?face=type")
    screen.until_text("[data-testid=type-in]", "Planned")
    screen.select("Person", "Tobin Askrigg")
    rows = "[data-testid=type-in] tbody tr"
    first = screen.nth(rows, 0)
    screen.script("arguments[0].querySelector('input').focus()", first)
    screen.keys("72,5", Keys.ENTER, "9", Keys.ENTER)
    screen.wait(lambda: "72.5 kg × 9" in screen.nth(rows, 0).text, "the first set as it was typed")
    screen.keys("=")
    screen.wait(lambda: "not written" not in screen.nth(rows, 1).text, "the second one as planned")
    screen.keys("1000", Keys.ENTER, "9", Keys.ENTER)
    screen.wait(lambda: "1000 is no load" in screen.nth(rows, 2).text, "a load that cannot be")
    assert "not written" not in screen.nth(rows, 0).text
    screen.keys("/")
    screen.wait(
        lambda: not any("not written" in row.text for row in screen.all(rows)), "everything else as planned in one key"
    )
    log = screen.ask("GET", f"/api/runs/{run}/book")["log"]
    assert {item["written"] for item in log if item["person"] == "tobin"} == {"done", "as planned"}
    assert {item["written"] for item in log if item["person"] == "ines"} == {"not written"}


def test_a_table_of_sets_is_looked_at_first(screen: Screen, tmp_path: Path) -> None:
    run = next(item for item in screen.ask("GET", "/api/runs") if item["name"] == "Machine pairs, heavy week")["id"]
    row = next(item for item in screen.ask("GET", f"/api/runs/{run}/book")["log"] if item["planned_kg"])
    file = tmp_path / "sets.csv"
    set_ = f"{row['person']};{row['exercise']};{row['part']};{row['number']}"
    file.write_text(f"person;exercise;part;set;load_kg;reps\n{set_};61,5;7\n{set_};1000;7\n", encoding="utf-8")
    screen.open(f"/runs/{run}/book?face=table")
    screen.one("[data-testid=table-in]")
    screen.field("Table of sets").send_keys(str(file))
    told = screen.until_text("[data-testid=sets-preview]", "1 faulty")
    assert "line 3" in told
    assert "1000 kg cannot be" in told
    screen.press("Keep the 1 that are right")
    screen.until_text("[data-testid=kept]", "1 row kept")


def test_a_runs_page_tells_planned_against_lived(screen: Screen) -> None:
    screen.open("/book")
    screen.until_text("[data-testid=over-weeks]", "Session-RPE load")
    screen.choose("[data-testid=runs] a", "")
    screen.open(f"/runs/{next(one for one in screen.ask('GET', '/api/runs') if one['recorded'])['id']}/book")
    told = screen.until_text("[data-testid=planned-and-actual]", "Length")
    assert "Energy, gross" in told
    assert "mean error" in screen.text("[data-testid=hearts-beside]")
    assert not serious_faults(screen)


def moves(item: Any) -> bool:
    """Whether a proposal is another load than somebody works with, set by set where its sets differ."""
    loads = [each["load_kg"] for each in item["proposal"]["sets"]]
    apart = loads if len(set(loads)) > 1 else []
    now = (item["working_kg"], item["working_sets_kg"])
    return bool(loads) and now != (item["proposal"]["load_kg"], apart)


def test_next_loads_are_taken_one_by_one_and_for_all(screen: Screen) -> None:
    course = new_course(screen, "Loads")
    base = int(screen.ask("GET", f"/api/courses/{course}")["course"]["bases"][0]["id"])
    screen.open(f"/classes/{base}/loads")
    rows = "[data-testid=next-load]"
    screen.one(rows)
    before = screen.until_text("[data-testid=next-loads]", "proposal")
    assert "Take all" in before
    told = screen.ask("POST", f"/api/classes/{base}/next-loads", {"today": {}})
    open_ = [item for item in told if moves(item)]
    assert open_
    screen.press(f"Take all {len(open_)}")
    screen.until_text("[data-testid=taken]", f"{len(open_)} working load")
    screen.until_text("[data-testid=next-loads]", "nothing is open")
    working = screen.ask("GET", f"/api/people/{open_[0]['person']}")["record"]["person"]["working_kg"]
    assert working[open_[0]["exercise"]] == open_[0]["proposal"]["load_kg"]
    assert not serious_faults(screen)


def test_a_bad_night_makes_the_proposal_lighter(screen: Screen) -> None:
    course = new_course(screen, "Nights")
    base = int(screen.ask("GET", f"/api/courses/{course}")["course"]["bases"][0]["id"])
    screen.open(f"/classes/{base}/loads")
    screen.one("[data-testid=next-load]")
    screen.select("Today", "bad night")
    screen.until_text("[data-testid=next-loads]", "a bad night: one step lighter today")


def test_progress_of_a_person_is_drawn_and_stands_in_a_table(screen: Screen) -> None:
    screen.open("/people/tobin/progress")
    told = screen.until_text("[data-testid=exercise-panel]", "Estimated 1RM")
    assert "since" in screen.text("[data-testid=gain]")
    assert "Volume load" in told
    screen.press("Estimated 1RM as a table")
    table = screen.text("[data-testid=week-chart] table")
    assert "line through all days" in table
    assert "–" in table
    screen.until_text("[data-testid=beside]", "Beats it")
    screen.press("Set a goal" if "Set a goal" in screen.text("[data-testid=exercise-panel]") else "Change the goal")
    screen.press("Keep the goal")
    screen.until_text("[data-testid=goal]", "Goal")
    assert not serious_faults(screen)


def test_a_week_is_written_out_and_a_missed_one_moves(screen: Screen) -> None:
    course = new_course(screen, "Weeks")
    screen.open(f"/courses/{course}")
    screen.until_text("[data-testid=week-panel]", "Week 1")
    screen.press("Write out week 1")
    screen.until_text("[data-testid=written-out]", "made")
    states = screen.ask("GET", f"/api/courses/{course}/written")
    assert [state["week"] for state in states] == [1, 1]
    before = screen.text("[data-testid=week-panel]")
    screen.press("Missed: move it a week")
    screen.wait(lambda: screen.text("[data-testid=week-panel]") != before, "the week to move")
    screen.until_text("[data-testid=save-state]", "Not saved yet")
    screen.press("Save")
    screen.until_saved(2)
    assert screen.ask("GET", f"/api/courses/{course}")["course"]["pauses"] == [{"before": 1, "weeks": 1}]
    screen.until_text("[data-testid=week-panel]", "the course or its base changed since")
    screen.press("Write out again")
    screen.until_text("[data-testid=written-out]", "written anew")
    assert not serious_faults(screen)


def test_an_edit_of_a_course_is_redrawn_undone_and_kept(screen: Screen) -> None:
    course = new_course(screen, "Edits")
    screen.open(f"/courses/{course}")
    screen.until_text("[data-testid=week-changes]", "4 × 6–8")
    screen.type("Sets", "6")
    screen.press("Add")
    screen.until_text("[data-testid=course-picture]", "6 × 6–8")
    screen.chord(Keys.CONTROL, "z")
    screen.wait(lambda: "6 × 6–8" not in screen.text("[data-testid=course-picture]"), "the edit to be undone")


def test_a_block_is_left_out_in_a_week(screen: Screen) -> None:
    course = new_course(screen, "Blocks")
    screen.open(f"/courses/{course}")
    screen.until_text("[data-testid=week-panel]", "Week 1")
    screen.select("Change", "a block left out")
    screen.select("Block", "Cool-down")
    screen.press("Add")
    screen.until_text("[data-testid=week-changes]", "without")
    screen.until_text("[data-testid=course-picture]", "without")


def test_a_week_is_made_a_test_of_the_main_lifts(screen: Screen) -> None:
    course = new_course(screen, "Tests")
    screen.open(f"/courses/{course}")
    screen.until_text("[data-testid=week-panel]", "Week 1")
    screen.select("Change", "test of the main lifts")
    screen.press("Add")
    screen.until_text("[data-testid=week-changes]", "test: last set of the main lifts to failure")
    screen.press("Save")
    screen.until_saved(2)
    kept = screen.ask("GET", f"/api/courses/{course}")["course"]["changes"]
    assert {"do": "test_sets", "sets_before": 1} in [item["change"] for item in kept]


def test_days_of_a_course_are_changed_and_a_class_of_the_studio_becomes_a_base(screen: Screen) -> None:
    course = new_course(screen, "Days")
    screen.open(f"/courses/{course}")
    screen.until_text("[data-testid=week-panel]", "Week 1")
    screen.press("Days")
    screen.select("Day of class 1", "Saturday")
    screen.select("Add", "Long carry, week 5")
    screen.press("As a base class")
    screen.until_text("dialog", "Base classes")
    screen.press("Another class a week")
    screen.select("Class 3", "Long carry, week 5")
    screen.press("Close")
    picture = screen.until_text("[data-testid=course-picture]", "Long carry, week 5")
    assert "Sat" in picture
    screen.press("Save")
    screen.until_saved(2)
    kept = screen.ask("GET", f"/api/courses/{course}")["course"]
    assert (len(kept["bases"]), len(kept["meetings"]), kept["meetings"][0]["weekday"]) == (3, 3, 5)


@pytest.mark.parametrize("page", ["/calendar", "/courses", "/book"])
def test_pages_of_the_weeks_can_be_used_by_everybody(page: str, screen: Screen) -> None:
    screen.open(page)
    screen.one("h1")
    assert not serious_faults(screen)


def test_the_weeks_fit_a_phone(address: str, session: str) -> None:
    from browser import chromium

    with chromium(390, 844, phone=True) as driver:
        phone = Screen(driver, address)
        phone.enter(session)
        course = course_of(phone)["id"]
        for path, there in (
            ("/", "[data-testid=needs]"), ("/people/tobin/progress", "[data-testid=exercise-panel]"),
            (f"/courses/{course}", "[data-testid=course-picture]"), ("/calendar", "[data-testid=calendar]"),
            ("/book", "[data-testid=over-weeks]"),
        ):  # fmt: skip
            phone.open(path)
            phone.one(there)
            phone.wait(
                partial(lambda here: here.script("return document.documentElement.scrollWidth") <= 390, phone), path
            )
