"""Runs at people's own pace for browser tests: begun on another device, and over when a test is."""

from __future__ import annotations

from datetime import UTC, datetime, timedelta
from typing import Any

from screen import Screen
from serving import ask


def followed(
    address: str, session: str, since_s: float = 2.0, name: str = "Machine pairs", kind: str = "sets"
) -> tuple[int, dict[str, Any]]:
    """A run that follows its people and has been in its first block of a kind for so long; its number and sheet."""
    planned = next(item for item in ask(address, session, "GET", "/api/classes") if item["name"].startswith(name))
    run = ask(address, session, "POST", "/api/runs", {"class_id": planned["id"], "revision": planned["revision"]})
    sheet: dict[str, Any] = ask(address, session, "GET", f"/api/runs/{run['id']}/live")["sheets"][0]
    block = next(block for block in sheet["blocks"] if block["kind"] == kind)
    now = datetime.now(UTC)
    events = [
        {"id": "other-1", "kind": "began", "follows": "people", "device": "other",
         "happened_at": (now - timedelta(seconds=since_s + 1)).isoformat()},
        {"id": "other-2", "kind": "went_on", "device": "other", "block": block["id"], "second": 0,
         "happened_at": (now - timedelta(seconds=since_s)).isoformat()},
    ]  # fmt: skip
    ask(address, session, "POST", f"/api/runs/{run['id']}/events", {"events": events})
    return run["id"], sheet


def ends(screen: Screen, run: int) -> None:
    """The class is over: nothing is left under way for other tests."""
    event = {"id": "over", "kind": "ended", "happened_at": datetime.now(UTC).isoformat()}
    screen.ask("POST", f"/api/runs/{run}/events", {"events": [event]})
