"""Rooms, people, classes and house rules are kept in one way: nobody overwrites what they have not seen."""

from __future__ import annotations

from collections.abc import Callable
from copy import deepcopy
from typing import Any

import pytest

Send = Callable[..., Any]


def a_room(send: Send) -> tuple[str, int, dict[str, Any]]:
    found = send("GET", "/api/rooms/saw-floor")[1]
    return "/api/rooms/saw-floor", found["revision"], {"room": found["room"]}


def a_person(send: Send) -> tuple[str, int, dict[str, Any]]:
    found = send("GET", "/api/people/tobin")[1]
    return "/api/people/tobin", found["revision"], {"record": found["record"]}


def a_class(send: Send) -> tuple[str, int, dict[str, Any]]:
    path = f"/api/classes/{send('GET', '/api/classes')[1][0]['id']}"
    found = send("GET", path)[1]
    return path, found["revision"], {"plan": found["plan"]}


def the_rules(send: Send) -> tuple[str, int, dict[str, Any]]:
    found = send("GET", "/api/house-rules")[1]
    return "/api/house-rules", found["revision"], {"rules": found["rules"]}


def renamed(document: dict[str, Any], word: str) -> dict[str, Any]:
    """The document with another name in it."""
    found = deepcopy(document)
    if "rules" in found:
        found["rules"] = [*found["rules"], {"id": word, "say": f"{word} was here"}]
    elif "record" in found:
        found["record"]["group"] = word
    else:
        next(iter(found.values()))["name"] = word
    return found


@pytest.mark.parametrize("document", [a_room, a_person, a_class, the_rules])
def test_whoever_saves_what_somebody_else_changed_meanwhile_gets_that_and_keeps_nothing(
    send: Send, document: Callable[[Send], tuple[str, int, dict[str, Any]]]
) -> None:
    path, revision, as_read = document(send)
    theirs, mine = renamed(as_read, "Theirs"), renamed(as_read, "Mine")
    status, kept = send("PUT", path, {"based_on": revision, **theirs})
    assert (status, kept["revision"]) == (200, revision + 1)
    status, refused = send("PUT", path, {"based_on": revision, **mine})
    assert status == 409
    assert set(refused) == {"message", "latest"}
    assert refused["message"].endswith(f"was saved elsewhere in the meantime (revision {revision + 1}).")
    assert refused["latest"] == kept
    assert document(send)[1:] == (revision + 1, document(send)[2])
    assert "Mine" not in str(document(send)[2])
    assert send("PUT", path, {"based_on": revision + 1, **mine})[0] == 200
    assert "Mine" in str(document(send)[2])
