"""What each reader is told of a run, by named fields: who may read of health everything, other members nothing that was
written of anybody's state, the wall the clock and the places, and somebody's own phone only that something happened."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any, Literal

from oaken.basis.names import first_name
from oaken.session import Event, Sheet
from oaken.session.sheet import SheetFloor
from studio.models import Member

Reader = Literal["with_health", "without_health", "wall", "own_phone"]
"""Members with and without the permission to read of health, the wall of a class, and the phone of somebody in it."""
Names = Literal["numbers", "first_names"]

COMMON = ("id", "kind", "happened_at", "received_at", "device")
"""The fields of any event that everybody may read."""

A_SET = ("person", "part", "number", "unit")

TOLD_THE_WALL: dict[str, tuple[str, ...]] = {
    "began": ("follows",),
    "paused": ("saw",),
    "resumed": ("saw",),
    "waits_for_ready": ("saw",),
    "time_added": ("seconds", "saw"),
    "went_on": ("block", "second", "way", "saw"),
    "moved_on": ("person", "block", "second"),
    "tagged": ("person", "block"),
    "came": ("person",),
    "left": ("person",),
    "unit_lost": ("unit",),
    "unit_back": ("unit",),
    "changed": (),
    "ended": (),
    "withdrawn": ("event",),
    "set_started": A_SET,
    "took_another": A_SET,
    "set_skipped": A_SET,
    # that a set is over says where everybody is; what was lifted in it is nobody's business there
    "set_done": A_SET,
}
"""What of every event the wall is told: the clock and the places."""

TOLD_WITHOUT_HEALTH = {
    **TOLD_THE_WALL,
    "unit_lost": ("unit", "changes"),
    "set_done": (
        "person", "part", "number", "exercise", "unit", "side", "load_kg", "reps", "parts", "seconds", "to_failure",
        "helped", "helped_reps", "reps_left", "range_of_motion", "form", "rest_s", "set_up",
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
    hears of people by their `numbers` only, and somebody's own phone of none: it asks for their own way."""
    if reader == "own_phone":
        return []
    found = []
    for number, event in events:
        document = event.model_dump(mode="json", exclude_none=True)
        if reader == "with_health":
            found.append({"seq": number, **document})
            continue
        kind = "left" if event.kind == "stopped_for" else event.kind
        told = TOLD_THE_WALL if reader == "wall" else TOLD_WITHOUT_HEALTH
        if reader == "without_health" and event.kind == "noted" and "person" not in document:
            fields: tuple[str, ...] | None = ("words",)
        else:
            fields = told.get(kind)
        if fields is None:
            continue
        named = {name: document[name] for name in (*COMMON, *fields) if name in document}
        by = {"by": event.by} if reader == "without_health" else {}
        if reader == "wall" and "person" in named:
            named["person"] = (numbers or {}).get(named["person"], "")
        found.append({"seq": number, **named, "kind": kind, **by})
    return found


def for_the_wall(sheets: Sequence[Sheet], names: Names) -> list[Sheet]:
    """Sheets without loads and sets, with numbers or first names: of loads only which are the same."""
    codes: dict[float, float] = {}

    def coded(loads: list[float | None]) -> list[float | None]:
        return [None if load is None else codes.setdefault(load, float(len(codes))) for load in loads]

    def without_loads(floor: SheetFloor) -> SheetFloor:
        tasks = [own.model_copy(update={"load": coded(own.load), "leaves": coded(own.leaves)}) for own in floor.tasks]
        return floor.model_copy(update={"tasks": tasks})

    return [
        sheet.model_copy(
            update={
                "blocks": [
                    block if block.floor is None else block.model_copy(update={"floor": without_loads(block.floor)})
                    for block in sheet.blocks
                ],
                "people": [
                    person.model_copy(
                        update={"sets": [], "name": _called(person.name, names), "id": str(person.number)}
                    )
                    for person in sheet.people
                ],
            }
        )
        for sheet in sheets
    ]


def _called(name: str, names: Names) -> str:
    return "" if names == "numbers" else first_name(name)
