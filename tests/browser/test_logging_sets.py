"""Sets as they are really done, logged in the class: drops, help, far fewer than planned, and what nobody planned."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterator
from datetime import UTC, datetime, timedelta
from typing import Any

import pytest
from screen import Screen, serious_faults


@pytest.fixture
def run(screen: Screen) -> Iterator[int]:
    """A class that has reached its sets, open at the log of the first person."""
    classes = screen.ask("GET", "/api/classes")
    planned = next(item for item in classes if item["name"].startswith("Machine pairs"))
    number: int = screen.ask("POST", "/api/runs", {"class_id": planned["id"], "revision": planned["revision"]})["id"]
    block = screen.ask("GET", f"/api/runs/{number}/live")["sheets"][0]["blocks"][1]["id"]
    now = datetime.now(UTC)
    send(screen, number, "began", now - timedelta(seconds=5))
    send(screen, number, "went_on", now - timedelta(seconds=4), block=block, second=0)
    screen.open(f"/runs/{number}")
    screen.press("Log sets")
    screen.until_text("main", "differs")
    yield number
    send(screen, number, "ended", datetime.now(UTC))


def send(screen: Screen, run: int, kind: str, at: datetime, **fields: Any) -> None:
    event = {"id": f"{kind}-{run}", "kind": kind, "happened_at": at.isoformat(), **fields}
    screen.ask("POST", f"/api/runs/{run}/events", {"events": [event]})


def logged(screen: Screen, run: int, count: int = 1) -> list[dict[str, Any]]:
    """The sets on the server, once there are so many."""

    def told() -> list[dict[str, Any]]:
        events = screen.ask("GET", f"/api/runs/{run}/events")["events"]
        found = [event for event in events if event["kind"] == "set_done"]
        return found if len(found) >= count else []

    found: list[dict[str, Any]] = screen.wait(told, f"{count} sets on the server")
    return found


def press_what_begins(screen: Screen, words: str) -> str:
    """Press the one of the one-press choices that begins so; what it said."""
    buttons = "[aria-label='In one press'] button"

    def there() -> str:
        return next((button.text for button in screen.all(buttons) if button.text.startswith(words)), "")

    said = screen.wait(there, f"a button that begins with {words!r}")
    screen.choose(buttons, said)
    return said


def in_the_book(screen: Screen, run: int) -> str:
    """The log of the first person on the run's page, set by set."""
    screen.open(f"/runs/{run}/book")
    screen.until_text("main", "The log, set by set")
    screen.script("document.querySelector('details').open = true")
    return screen.text("details[open]")


def test_a_drop_set_is_logged_in_two_presses_and_stands_in_the_book_and_the_table(screen: Screen, run: int) -> None:
    screen.press("Set 1 of Leg press differs")
    assert not serious_faults(screen)
    said = press_what_begins(screen, "drop: ")
    (event,) = logged(screen, run)
    first, drop = event["parts"]
    assert said == f"drop: {first} + {drop['reps']} with {drop['load_kg']:g} kg"
    assert drop["load_kg"] < event["load_kg"]
    words = f"{event['load_kg']:g} kg × {first} + {drop['load_kg']:g} kg × {drop['reps']}"
    screen.until_text("main", words)
    assert words in in_the_book(screen, run)
    table = screen.script("return fetch(arguments[0]).then((answer) => answer.text())", f"/api/runs/{run}/sets.csv")
    (row,) = [row for row in csv.DictReader(io.StringIO(table)) if row["written"] == "done"]
    assert row["load_kg"] == f"{event['load_kg']:g}+{drop['load_kg']:g}"
    assert row["reps"] == f"{first}+{drop['reps']}"


def test_repetitions_that_were_helped_are_counted_and_say_so(screen: Screen, run: int) -> None:
    screen.press("Set 1 of Leg press differs")
    press_what_begins(screen, "last 2 helped")
    (event,) = logged(screen, run)
    assert (event["helped"], event["helped_reps"]) == (True, 2)
    screen.until_text("main", f"× {event['reps']}, 2 helped")
    # said otherwise afterwards: three of them, and it went only part of the way
    screen.press("Correct set 1 of Leg press")
    screen.press("more helped")
    screen.press("not all the way")
    screen.press("Keep")
    screen.until_text("main", f"× {event['reps']}, 3 helped, partial range")
    assert logged(screen, run, 2)[-1]["helped_reps"] == 3


def test_far_fewer_than_planned_is_one_press_behind_differs(screen: Screen, run: int) -> None:
    screen.press("Set 2 of Leg press differs")
    screen.press("5 repetitions")
    (event,) = logged(screen, run)
    assert (event["number"], event["reps"]) == (2, 5)
    screen.until_text("main", "× 5")


def test_a_drop_can_be_said_part_by_part_with_belt_and_rest(screen: Screen, run: int) -> None:
    screen.press("Set 1 of Leg press differs")
    screen.press("a part: a drop, or on after a pause")
    screen.press("less part 2")
    screen.press("more helped in part 2")
    screen.press("Rest before it, belt, feet")
    screen.press("more s rest before it")
    screen.press("belt")
    screen.press("Keep")
    (event,) = logged(screen, run)
    first, second = event["parts"]
    assert second["reps"] == first - 1
    assert second["helped_reps"] == 1
    assert second["load_kg"] < event["load_kg"]
    assert (event["rest_s"], event["set_up"]["aids"]) == (15, ["belt"])
    screen.until_text("main", f"× {second['reps']}, 1 helped, after 15 s, belt")


def test_an_exercise_that_was_not_planned_is_added_with_a_load_where_it_has_none_of_its_own(
    screen: Screen, run: int
) -> None:
    screen.press("another exercise")
    screen.type("Exercise that was not planned", "Plank")
    load = screen.one("[aria-label='load, typed']")
    load.click()
    load.send_keys("10")
    screen.press("12 repetitions")
    (event,) = logged(screen, run)
    assert (event["part"], event["exercise"], event["load_kg"], event["reps"]) == ("unplanned.plank", "plank", 10, 12)
    assert "10 kg × 12" in screen.until_text("[aria-label='Not planned']", "Plank")
    assert "10 kg × 12" in in_the_book(screen, run)


def test_a_decision_is_asked_on_the_floor_and_its_answer_stands_in_the_book(screen: Screen) -> None:
    base = next(item for item in screen.ask("GET", "/api/classes") if item["name"].startswith("Machine pairs"))
    plan = screen.ask("GET", f"/api/classes/{base['id']}")["plan"]
    block = next(item for item in plan["blocks"] if item["kind"] == "sets")
    group = next(item for item in block["groups"] if item["slots"][0]["exercise"] == "leg-press")
    decision = {"when": "twelve easy", "then": "add a plate"}
    slot = {**group["slots"][0], "decisions": [decision], "others": []}
    made = {**plan, "name": "Asked on the floor", "people": ["tobin", "ines"], "together": [], "apart": [],
            "newcomers": [], "starts": "", "repeats": None,
            "blocks": [{**block, "rotation": None, "groups": [{**group, "slots": [slot]}]}]}  # fmt: skip
    class_id = screen.ask("POST", "/api/classes", {"plan": made})["id"]
    run = screen.ask("POST", "/api/runs", {"class_id": class_id, "revision": 1})["id"]
    send(screen, run, "began", datetime.now(UTC) - timedelta(seconds=5))
    screen.open(f"/runs/{run}")
    screen.press("Log sets")
    screen.until_text("[aria-label='Decisions on Leg press']", "add a plate")
    before = float(screen.ask("GET", f"/api/runs/{run}/live")["sheets"][0]["people"][0]["sets"][0]["kg"][0])
    screen.press("twelve easy: yes")
    screen.until_text("main", "yes, before set 1")
    assert not serious_faults(screen)
    screen.press("Set 1 of Leg press as decided")
    (event,) = logged(screen, run)
    assert event["load_kg"] > before
    screen.open(f"/runs/{run}/book")
    screen.until_text("main", "Leg press, before set 1: twelve easy? yes, add a plate")
    send(screen, run, "ended", datetime.now(UTC))
