"""Next loads of a scheme whose sets differ: logged by hand, proposed set by set, changed, taken, and worked with."""

from __future__ import annotations

from datetime import UTC, datetime, timedelta
from typing import Any

from screen import Screen, serious_faults
from selenium.webdriver.common.keys import Keys

LIFT = "leg-press"
ROWS = "[data-testid=type-in] tbody tr"


def falling_class(screen: Screen, name: str, reps: tuple[int, ...] = (12, 10, 8, 6)) -> int:
    """A class of one exercise whose sets fall in repetitions, without a load in it, for two people."""
    base = next(item for item in screen.ask("GET", "/api/classes") if item["name"].startswith("Machine pairs"))
    plan = screen.ask("GET", f"/api/classes/{base['id']}")["plan"]
    block = next(item for item in plan["blocks"] if item["kind"] == "sets")
    group = block["groups"][0]
    slot = next(item for item in group["slots"] if item["exercise"] == LIFT)
    run = {**slot["sets"][0], "times": 1, "rest_s": 90}
    segment = {**run["segments"][0], "reps_to": None, "load": None, "change": None, "to_failure": False}
    slot = {**slot, "sets": [{**run, "segments": [{**segment, "reps": count}]} for count in reps]}
    blocks = [{**block, "rotation": None, "groups": [{**group, "slots": [slot]}]}]
    made = {**plan, "name": name, "blocks": blocks, "people": ["tobin", "ines"], "together": [], "apart": [],
            "newcomers": [], "starts": "", "repeats": None}  # fmt: skip
    return int(screen.ask("POST", "/api/classes", {"plan": made})["id"])


def held(screen: Screen, class_id: int) -> int:
    """The class as one that was held two days ago, to be typed in."""
    began = (datetime.now(UTC) - timedelta(days=2)).isoformat()
    body: dict[str, Any] = {"class_id": class_id, "revision": 1, "began_at": began, "people": ["tobin", "ines"]}
    return int(screen.ask("POST", "/api/runs/past", body)["id"])


def type_in(screen: Screen, run: int, *sets: tuple[str, str]) -> None:
    """Type the loads and repetitions of Tobin's sets, by keyboard."""
    screen.open(f"/runs/{run}/book?face=type")
    screen.until_text("[data-testid=type-in]", "Planned")
    screen.select("Person", "Tobin Askrigg")
    screen.script("arguments[0].querySelector('input').focus()", screen.nth(ROWS, 0))
    for place, (kg, reps) in enumerate(sets):
        screen.keys(kg, Keys.ENTER, reps, Keys.ENTER)

        # behind the last set the next person is shown
        def written(count: int = place + 1) -> bool:
            log = screen.ask("GET", f"/api/runs/{run}/book")["log"]
            return len([row for row in log if row["person"] == "tobin" and row["written"] == "done"]) == count

        screen.wait(written, f"set {place + 1} in the log")


def test_a_falling_scheme_goes_up_as_a_whole_and_each_load_can_be_set(screen: Screen) -> None:
    class_id = falling_class(screen, "Falling twelve to six")
    type_in(screen, held(screen, class_id), ("60", "12"), ("65", "10"), ("70", "8"), ("75", "6"))
    screen.open(f"/classes/{class_id}/loads")
    told = screen.until_text("[data-testid=next-load]", "▲ add")
    assert "every set reached its repetitions (12, 10, 8, 6)" in told
    assert "60 kg × 12; 65 kg × 10; 70 kg × 8; 75 kg × 6" in told
    chosen = (
        "return [...document.querySelectorAll('[aria-label=\"Next loads of Leg press\"]')[0].querySelectorAll('select')]"
        ".map((each) => Number(each.value))"
    )
    proposed = screen.script(chosen)
    assert len(proposed) == 4
    assert all(kg > was for kg, was in zip(proposed, (60, 65, 70, 75), strict=True))
    # the last set stays where it was
    screen.select("Set 4 of Leg press", "75 kg")
    assert not serious_faults(screen)
    screen.script("document.querySelector('[data-testid=next-load] .btn-primary').click()")
    screen.until_text("[data-testid=taken]", "1 working load")
    screen.until_text("[data-testid=next-load]", "works with it")
    person = screen.ask("GET", "/api/people/tobin")["record"]["person"]
    taken = [*proposed[:3], 75]
    assert person["working_sets_kg"][LIFT] == taken
    assert person["working_kg"][LIFT] == max(taken)
    screen.open("/people/tobin")
    screen.until_text("[data-testid=lifts]", "set by set " + " / ".join(f"{kg:g} kg" for kg in taken))


def test_a_miss_holds_the_whole_scheme_and_is_named(screen: Screen) -> None:
    class_id = falling_class(screen, "Falling with a miss")
    type_in(screen, held(screen, class_id), ("60", "12"), ("65", "10"), ("70", "7"), ("75", "6"))
    screen.open(f"/classes/{class_id}/loads")
    told = screen.until_text("[data-testid=next-load]", "= repeat")
    assert "set 3 ended at 7 of 8: all loads stay" in told


def test_a_set_says_what_is_to_be_reached_in_it(screen: Screen) -> None:
    class_id = falling_class(screen, "Falling with targets")
    type_in(screen, held(screen, class_id), ("60", "12"), ("65", "10"), ("70", "8"), ("75", "6"))
    run = screen.ask("POST", "/api/runs", {"class_id": class_id, "revision": 1})["id"]
    began = {"id": "b", "kind": "began", "follows": "people", "happened_at": datetime.now(UTC).isoformat()}
    screen.ask("POST", f"/api/runs/{run}/events", {"events": [began]})
    screen.open(f"/runs/{run}")
    screen.press("Log sets")
    told = screen.until_text("main", "last 75 kg × 6")
    assert all(f"last {kg} kg × {reps}" in told for kg, reps in ((60, 12), (65, 10), (70, 8)))
    screen.press("People")
    screen.choose("[aria-label='People now'] li button", "1")
    screen.until_text("dialog[open]", "last 60 kg × 12")
    screen.ask("POST", f"/api/runs/{run}/events", {"events": [{**began, "id": "e", "kind": "ended"}]})
