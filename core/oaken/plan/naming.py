"""Which exercises a document names, whatever its version: read from the JSON, so that nothing has to be valid."""

from __future__ import annotations

from typing import Any

EXERCISE_FIELDS = ("exercise", "other", "rest_doing")
"""Fields of a plan, a house rule and an exchange that hold the id of an exercise."""


def exercises_named(document: Any) -> set[str]:
    """The ids of all exercises that a plan, or any part of it, names."""
    found: set[str] = set()
    waiting = [document]
    while waiting:
        here = waiting.pop()
        if isinstance(here, dict):
            found.update(here[name] for name in EXERCISE_FIELDS if isinstance(here.get(name), str))
            waiting.extend(here.values())
        elif isinstance(here, list):
            waiting.extend(here)
    return found
