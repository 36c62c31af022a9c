"""What each reader is told of a run, by named fields: who may read of health everything, other members nothing that was
written of anybody's state, the wall the clock and the places."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any, Literal

from oaken.basis.names import first_name
from oaken.session import Event, Sheet
from studio.models import Member

Reader = Literal["with_health", "without_health", "wall"]
"""Members with and without the permission to read of health, and the wall of a class."""
Names = Literal["numbers", "first_names"]

OF_THE_CLOCK = {
    "began", "paused", "resumed", "time_added", "went_on", "moved_on", "waits_for_ready", "came", "left", "unit_lost",
    "unit_back", "ended", "withdrawn",
}  # fmt: skip
COMMON = ("id", "kind", "happened_at", "received_at", "device")
"""The fields of any event that everybody may read."""

TOLD_TO_ALL = {
    "paused": ("saw",),
    "resumed": ("saw",),
    "waits_for_ready": ("saw",),
    "time_added": ("seconds", "saw"),
    "went_on": ("block", "second", "way", "saw"),
    "moved_on": ("person", "block", "second"),
    "came": ("person",),
    "left": ("person",),
    "unit_lost": ("unit",),
    "unit_back": ("unit",),
    "withdrawn": ("event",),
}
TOLD_WITHOUT_HEALTH = {
    **TOLD_TO_ALL,
    "set_done": (
        "person", "part", "number", "exercise", "unit", "side", "load_kg", "reps", "parts", "seconds", "to_failure",
        "helped", "reps_left", "form",
    ),
    "as_planned": ("person", "part", "block", "number"),
    "changed": ("change",),
}  # fmt: skip


def reader_of(member: Member) -> Reader:
    """What kind of reader a member of the studio is."""
    return "with_health" if member.may("read_health") else "without_health"


def numbers_of(people: Sequence[str]) -> dict[str, str]:
    """What the wall calls people by: their places in the plan."""
    return {name: str(number) for number, name in enumerate(people, 1)}


def events_visible_to(
    events: Sequence[tuple[int, Event]], reader: Reader, numbers: dict[str, str] | None = None
) -> list[dict[str, Any]]:
    """Events as somebody may read them. A stop is told to whoever may not read why as somebody having left; the wall
    hears of people by their `numbers` only."""
    found = []
    for number, event in events:
        document = event.model_dump(mode="json", exclude_none=True)
        if reader == "with_health":
            found.append({"seq": number, **document})
            continue
        kind = "left" if event.kind == "stopped_for" else event.kind
        if reader == "without_health" and event.kind == "noted" and "person" not in document:
            fields: tuple[str, ...] = ("words",)
        elif kind == "changed" and reader == "wall":
            fields = ()
        elif kind in OF_THE_CLOCK or (reader == "without_health" and kind in TOLD_WITHOUT_HEALTH):
            fields = TOLD_WITHOUT_HEALTH.get(kind, ())
        else:
            continue
        named = {name: document[name] for name in (*COMMON, *fields) if name in document}
        by = {"by": event.by} if reader == "without_health" else {}
        if reader == "wall" and "person" in named:
            named["person"] = (numbers or {}).get(named["person"], "")
        found.append({"seq": number, **named, "kind": kind, **by})
    return found


def for_the_wall(sheets: Sequence[Sheet], names: Names) -> list[Sheet]:
    """Sheets without loads and sets, with numbers or first names."""
    return [
        sheet.model_copy(
            update={
                "people": [
                    person.model_copy(
                        update={"sets": [], "name": _called(person.name, names), "id": str(person.number)}
                    )
                    for person in sheet.people
                ]
            }
        )
        for sheet in sheets
    ]


def _called(name: str, names: Names) -> str:
    return "" if names == "numbers" else first_name(name)
