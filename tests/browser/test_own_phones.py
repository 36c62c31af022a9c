"""Somebody's own phone in the middle of a class: shown, pressed, without a connection, and revoked."""

from __future__ import annotations

import os
from datetime import datetime
from pathlib import Path
from typing import Any

from browser import chromium
from followed_runs import followed
from screen import Screen, serious_faults
from serving import Server, ask, signed_in, with_demo

DONE = "footer button.h-24"
"""The one large press of a phone; which set it is of hangs on how long all this takes."""


def test_a_phone_moves_its_person_on_keeps_a_press_without_the_server_and_is_revoked(tmp_path: Path) -> None:
    with_demo(tmp_path, dict(os.environ))
    server = Server(tmp_path, dict(os.environ))
    try:
        session = signed_in(server.address)
        run, sheet = followed(server.address, session)

        def sets() -> list[Any]:
            said = ask(server.address, session, "GET", f"/api/runs/{run}/events")["events"]
            gone = {event["event"] for event in said if event["kind"] == "withdrawn"}
            return [event for event in said if event["kind"] == "set_done" and event["id"] not in gone]

        first = sheet["people"][0]
        doing = f"[data-testid=now-{first['id']}] .text-base"
        with chromium() as driver, chromium(390, 844) as small:
            screen, phone = Screen(driver, server.address), Screen(small, server.address)
            screen.enter(session)
            screen.open(f"/runs/{run}")
            screen.press("Own phones")
            screen.press("Make one for everybody")
            screen.press(f"Show the code of {first['name']}")
            screen.until_text("dialog", "/phone/")
            assert serious_faults(screen) == []
            path = screen.script("return new URL(document.querySelector('dialog a').href).pathname")
            screen.press("Back to the list")
            assert serious_faults(screen) == []
            screen.press("Close")

            phone.open(path)
            begins = phone.text("[data-testid=now] .text-4xl")
            screen.until_text(doing, begins)
            assert serious_faults(phone) == []
            others = [person["name"].split()[0] for person in sheet["people"][1:]]
            assert not [name for name in others if name in phone.text("body")]
            phone.press_nth(DONE, 0)
            # known at once on the instructor's screen, and on the phone itself
            screen.wait(lambda: begins not in screen.text(doing), "the first one to have moved on")
            phone.wait(lambda: begins not in phone.text("[data-testid=now]"), "what comes next on the phone")
            assert [(event["person"], event["by"]) for event in sets()] == [(first["id"], "own phone")]
            # it was no press after all
            phone.press("Take back what was pressed last")
            screen.wait(lambda: not sets(), "the press to be taken back")
            small_ones = phone.script(
                "return [...document.querySelectorAll('button')].filter((one) => one.offsetHeight < 44)"
                ".map((one) => one.textContent)"
            )
            assert small_ones == []

            server.kill()
            phone.press_nth(DONE, 0)
            phone.until_text("[role=status]", "kept here and sent")
            server.start()
            back = datetime.now().astimezone()
            found = screen.wait(sets, "the set on the server")
            assert [event["person"] for event in found] == [first["id"]]
            # it counts when it was pressed, not when there was a connection again
            assert datetime.fromisoformat(found[0]["happened_at"].replace("Z", "+00:00")) < back
            phone.wait(lambda: not phone.all("[role=status]"), "the connection to be back")

            ask(server.address, session, "DELETE", f"/api/runs/{run}/phones")
            phone.until_text("[role=alert]", "shows nothing")
    finally:
        server.stop()
