"""A class at people's own pace that is followed from what is pressed: two devices, the wall, and the server away."""

from __future__ import annotations

import os
from collections.abc import Iterator
from pathlib import Path

import pytest
from browser import chromium
from followed_runs import ends, followed
from screen import Screen, serious_faults
from serving import Server, ask, signed_in, with_demo


@pytest.fixture
def server(tmp_path: Path) -> Iterator[Server]:
    """A server of this test's own, with the demo."""
    with_demo(tmp_path, dict(os.environ))
    found = Server(tmp_path, dict(os.environ))
    yield found
    found.stop()


def row(person: str) -> str:
    return f"[data-testid=now-{person}]"


def test_one_press_moves_a_person_on_everywhere(screen: Screen, address: str) -> None:
    run, sheet = followed(address, screen.session)
    first = sheet["people"][0]
    path = screen.ask("POST", f"/api/runs/{run}/walls", {"names": "first_names"})["path"]
    screen.open(f"/runs/{run}")
    doing = f"{row(first['id'])} .text-base"
    begins = screen.text(doing).removeprefix("sets up ").split(",")[0]
    with chromium() as driver, chromium() as third:
        other, wall = Screen(driver, address), Screen(third, address)
        other.enter(screen.session)
        other.open(f"/runs/{run}")
        wall.open(path)
        wall.until_text("[data-testid=machine-wall]", "over in")
        assert serious_faults(wall) == []
        screen.press(f"Set 1 of {first['name']} is done")
        # known now on every screen: the first one is on the way to what comes next
        screen.wait(lambda: begins not in screen.text(doing), "the first one to have left the machine")
        other.wait(lambda: begins not in other.text(doing), "the same on the other device")
        said = screen.ask("GET", f"/api/runs/{run}/events")["events"]
        done = [event for event in said if event["kind"] == "set_done"]
        assert [(event["person"], event["number"]) for event in done] == [(first["id"], 1)]
        # what was taken first on the other device is shown here
        second = sheet["people"][1]
        other.script(f"document.querySelector('{row(second['id'])} button').click()")
        other.until_text("dialog", "took another first")
        other.script("document.querySelector('[aria-label=\"Took another machine first\"] button').click()")
        taken = screen.wait(
            lambda: [event for event in screen.ask("GET", f"/api/runs/{run}/events")["events"]
                     if event["kind"] == "took_another"], "what was taken",
        )[0]  # fmt: skip
        name = next(part["name"] for part in sheet["parts"] if part["id"] == taken["part"])
        screen.until_text(row(second["id"]), name)
    ends(screen, run)


def test_machine_by_machine_with_what_can_be_done(screen: Screen, address: str) -> None:
    run, _ = followed(address, screen.session, 60.0)
    screen.open(f"/runs/{run}")
    screen.until_text("[data-testid=block-end]", "over in")
    screen.press("Machines")
    screen.until_text("[aria-label='Machines now']", "Leg press")
    assert serious_faults(screen) == []
    busy = screen.script(
        "return [...document.querySelectorAll('[aria-label=\"Machines now\"] li')]"
        ".findIndex((one) => one.querySelectorAll('button').length > 1)"
    )
    screen.script(
        f"document.querySelectorAll('[aria-label=\"Machines now\"] li')[{busy}].querySelector('button').click()"
    )
    screen.until_text("dialog", "is done")
    screen.until_text("dialog", "cannot be used any more")
    assert serious_faults(screen) == []
    screen.script("document.querySelector('dialog .btn-primary').click()")
    screen.wait(
        lambda: [event for event in screen.ask("GET", f"/api/runs/{run}/events")["events"]
                 if event["kind"] == "set_done"], "the set",
    )  # fmt: skip
    small = screen.script(
        "return [...document.querySelectorAll('main button, header button, footer button')]"
        ".filter((one) => one.offsetHeight && one.offsetHeight < 44).map((one) => one.textContent)"
    )
    assert small == []
    ends(screen, run)


def test_a_machine_is_lost_without_the_server_and_no_set_is_done_again(server: Server) -> None:
    session = signed_in(server.address)
    run, sheet = followed(server.address, session)
    first = sheet["people"][0]
    with chromium() as driver:
        screen = Screen(driver, server.address)
        screen.enter(session)
        screen.open(f"/runs/{run}")
        screen.press(f"Set 1 of {first['name']} is done")
        screen.wait(lambda: "set_done" in [item["kind"] for item in ask(server.address, session, "GET",
                    f"/api/runs/{run}/events")["events"]], "the set on the server")  # fmt: skip
        server.kill()
        screen.until_text("[data-testid=reach]", "Offline")
        screen.press("Adjust")
        screen.press("A machine is out")
        screen.press("Hip thrust bench")
        screen.press("Machines")
        screen.until_text("[aria-label='Machines now']", "out")
        screen.press("People")
        people = screen.text("[aria-label='People now']")
        # who would have gone there goes elsewhere, and what is done stays done
        assert "Hip thrust" not in people
        assert "set 1 of 3" not in screen.text(row(first["id"])) or "Lying" in screen.text(row(first["id"]))
        server.start()
        screen.wait(lambda: "unit_lost" in [item["kind"] for item in ask(server.address, session, "GET",
                    f"/api/runs/{run}/events")["events"]], "the loss on the server")  # fmt: skip
        screen.until_text("[aria-label='People now']", "set")


def test_a_tag_begins_the_next_turn_of_a_team(screen: Screen, address: str) -> None:
    run, sheet = followed(address, screen.session, 12.0, "Long carry", "relay")
    team = next(block for block in sheet["blocks"] if block["teams"])["teams"][0]
    screen.open(f"/runs/{run}")
    first, second = (sheet["people"][place] for place in team[:2])
    screen.until_text("[data-testid=team-1] .text-lg", f"{first['number']} ")
    screen.script("document.querySelector('[data-testid=team-1] button').click()")
    screen.until_text("[data-testid=team-1] .text-lg", f"{second['number']} ")
    screen.wait(
        lambda: [event for event in screen.ask("GET", f"/api/runs/{run}/events")["events"]
                 if event["kind"] == "tagged"], "the tag on the server",
    )  # fmt: skip
    assert serious_faults(screen) == []
    ends(screen, run)
