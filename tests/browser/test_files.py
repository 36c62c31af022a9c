"""Files by hand: ten recordings dropped on a class at once, and a studio that moves from its file."""

from __future__ import annotations

import urllib.request
from datetime import UTC, datetime, timedelta
from pathlib import Path
from typing import Any

from screen import Screen
from selenium.webdriver.common.by import By
from serving import ask

DROP = """
    const [area, files] = arguments;
    const carried = new DataTransfer();
    for (const [name, text] of files) carried.items.add(new File([text], name));
    area.dispatchEvent(new DragEvent("drop", { bubbles: true, cancelable: true, dataTransfer: carried }));
"""
"""Drops files as a hand would from the desktop."""


def over(address: str, session: str) -> dict[str, Any]:
    """A class that everybody came to."""
    listed = ask(address, session, "GET", "/api/classes")
    planned = next(item for item in listed if item["name"].startswith("Machine pairs"))
    plan = ask(address, session, "GET", f"/api/classes/{planned['id']}")
    body = {"class_id": planned["id"], "revision": plan["revision"], "people": plan["plan"]["people"],
            "began_at": datetime(2026, 11, 24, 18, 30, tzinfo=UTC).isoformat()}  # fmt: skip
    run: dict[str, Any] = ask(address, session, "POST", "/api/runs/past", body)
    return run


def test_ten_recordings_are_dropped_at_once(screen: Screen, address: str, session: str) -> None:
    run = over(address, session)
    names = {item["id"]: item["name"] for item in ask(address, session, "GET", "/api/people/names")}
    began = datetime.fromisoformat(run["began_at"])
    times = [(began + timedelta(seconds=5 * at)).isoformat() for at in range(480)]
    rows = "\n".join(["time,bpm", *(f"{time},{90 + at % 60}" for at, time in enumerate(times))])
    files = [[f"2026-11-24 {names[key]}.csv", rows] for key in run["people"][:8]]
    files += [["activity_7719.csv", rows], ["shopping list.csv", "milk, eggs\n1,12"]]
    screen.open(f"/runs/{run['id']}/book?face=hearts")
    area = screen.one("[data-testid=drop-area]")
    screen.script(DROP, area, files)
    screen.until_text("[data-testid=looked]", "10 files, 8 ready to be kept. Nothing is kept yet.")
    assert not ask(address, session, "GET", f"/api/runs/{run['id']}/book")["hearts"]
    faulty = next(item for item in screen.all("[data-testid=hearts-in] li") if "shopping" in item.text)
    assert "▲" in faulty.text
    unknown = next(item for item in screen.all("[data-testid=hearts-in] li") if "7719" in item.text)
    # whose it is, is said by hand; somebody who has another file here is told
    choose(screen, unknown, names[run["people"][0]])
    screen.until_text("[data-testid=hearts-in]", f"{names[run['people'][0]]} has another file here")
    choose(screen, unknown, names[run["people"][9]])
    screen.until_text("[data-testid=looked]", "9 ready")
    screen.press("Keep 9 recordings")
    screen.until_text("[data-testid=looked]", "9 recordings kept.")
    hearts = ask(address, session, "GET", f"/api/runs/{run['id']}/book")["hearts"]
    assert {heart["person"] for heart in hearts} == {*run["people"][:8], run["people"][9]}
    ask(address, session, "DELETE", f"/api/runs/{run['id']}")


def choose(screen: Screen, row: Any, name: str) -> None:
    """Say whose a recording is."""
    select = row.find_element(By.TAG_NAME, "select")
    option = next(element for element in select.find_elements(By.TAG_NAME, "option") if element.text == name)
    option.click()


def test_a_studio_is_taken_out_and_in(screen: Screen, address: str, session: str, tmp_path: Path) -> None:
    screen.open("/studio")
    link = screen.one("[data-testid=moving] a[download]").get_attribute("href")
    request = urllib.request.Request(str(link), headers={"Cookie": f"sessionid={session}"})
    file = tmp_path / "mill.zip"
    with urllib.request.urlopen(request, timeout=60) as answer:
        file.write_bytes(answer.read())
    chooser = screen.one("input[aria-label='File of a studio']")
    half = tmp_path / "half.zip"
    half.write_bytes(file.read_bytes()[:-2000])
    chooser.send_keys(str(half))
    screen.until_text("[data-testid=moving] [role=alert]", "is no zip, or was cut off")
    chooser.send_keys(str(file))
    told = screen.until_text("[data-testid=inside]", "Every checksum is right")
    assert "12 people, 1 room" in told
    assert "gets an account anew: helper" in told
    before = [item["name"] for item in ask(address, session, "GET", "/api/classes")]
    screen.press("Import “Alder Mill”")
    screen.until_text("[data-testid=taken-in]", "“Alder Mill” is here.")
    screen.press("Work in it")
    screen.wait(lambda: len(screen.all("[aria-label='Studio to work in'] option")) == 2, "two studios to choose from")
    me = ask(address, session, "GET", "/api/me")
    assert len(me["studios"]) == 2
    assert me["studio"]["id"] == max(item["id"] for item in me["studios"])
    assert sorted(item["name"] for item in ask(address, session, "GET", "/api/classes")) == sorted(before)
    # back to where the other tests work
    first = min(item["id"] for item in me["studios"])
    ask(address, session, "POST", "/api/me/studio", {"studio": first})
