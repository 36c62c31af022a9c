"""Golden cases of runs: sheets, events and moments with what the core makes of them, held up to the interface as well.

`tools/generated.py` writes them to `runs.json`; pytest holds the core to them, vitest the interface.
"""

from __future__ import annotations

from collections.abc import Iterator
from datetime import UTC, datetime, timedelta
from typing import Any

from oaken.schedule.class_file import ClassFile, check_class
from oaken.schedule.class_file.reading import load_class
from oaken.session import RunState, face_of, log_of, people_now, replay_events, sheets_of
from oaken.session.events import event_of
from places import ROOT

BEGAN = datetime(2026, 11, 24, 18, 30, tzinfo=UTC)
MOMENTS = (-5, 0, 30.5, 62, 95, 121.25, 200, 333, 610, 900, 1500, 5000)


def a_class(name: str, people: int) -> ClassFile:
    """One of the examples with its first people."""
    file = load_class(ROOT / "examples" / f"{name}.json")
    plan = file.plan.model_copy(
        update={"people": file.plan.people[:people], "together": [], "apart": [], "instead": []}
    )
    return check_class(file.model_copy(update={"plan": plan}))


def _events(file: ClassFile) -> dict[str, list[tuple[float, str, dict[str, Any]]]]:
    """Lists of what happens, each at seconds since 18:30."""
    first, second = file.plan.people[:2]
    opening, then = file.plan.blocks[0].id, file.plan.blocks[1].id
    unit = next(unit.id for unit in file.room.units if not unit.out_of_order)
    began: tuple[float, str, dict[str, Any]] = (0.0, "began", {})
    return {
        "nothing happened": [],
        "it runs": [began],
        "pause, time, ready": [
            began, (20, "paused", {}), (35.5, "resumed", {}), (60, "time_added", {"seconds": 15}),
            (100, "waits_for_ready", {}), (400, "resumed", {}), (450, "time_added", {"seconds": 30, "device": "one"}),
            (450.6, "time_added", {"seconds": 30, "device": "other"}), (470, "time_added", {"seconds": 30}),
        ],
        "two hands at once": [
            began, *((at, kind, {"device": device, "saw": {"state": state, "block": opening, "second": at}, **more})
                     for at, kind, device, state, more in (
                         (20, "paused", "one", "runs", {}), (20.15, "resumed", "other", "paused", {}),
                         (30, "resumed", "other", "paused", {}), (31.9, "paused", "one", "runs", {}),
                         (40, "went_on", "one", "runs", {"block": then, "second": 5, "way": "on"}),
                         (40.8, "went_on", "other", "runs", {"block": then, "second": 60, "way": "on"}),
                         (41.5, "went_on", "one", "runs", {"block": then, "second": 30, "way": "on"}),
                         (42, "went_on", "other", "runs", {"block": opening, "second": 30, "way": "back"}),
                         (60, "time_added", "one", "runs", {"seconds": 15}),
                         (61.9, "time_added", "other", "runs", {"seconds": 15}),
                         (63.9, "time_added", "other", "runs", {"seconds": 15}),
                         (70, "waits_for_ready", "one", "runs", {}), (71, "waits_for_ready", "other", "runs", {}),
                         (200, "resumed", "one", "waits for ready", {}),
                         (200.2, "paused", "other", "runs", {}), (203, "paused", "other", "runs", {}),
                     )),
        ],
        "on and back": [
            began, (50, "went_on", {"block": then, "second": 12}), (90, "went_on", {"block": opening, "second": 5}),
            (100, "paused", {}), (110, "went_on", {"block": then}), (130, "resumed", {}),
            (140, "went_on", {"block": "gone"}),
        ],
        "moved one by one": [
            began, (10, "went_on", {"block": then}),
            (40, "moved_on", {"person": first, "block": then, "second": 100}),
            (60, "moved_on", {"person": second, "block": then, "second": 4}),
            (70, "moved_on", {"person": first, "block": opening, "second": 4}),
            (200, "moved_on", {"person": first, "block": then, "second": 5000}), (320, "went_on", {"block": then}),
        ],
        "late, gone, stopped": [
            (-20, "came", {"person": first}), began, (90, "left", {"person": second}),
            (100, "came", {"person": second}), (110, "stopped_for", {"person": first, "words": "dizzy"}),
            (600, "came", {"person": first}),
        ],
        "a machine is lost and found": [
            began, (25, "unit_lost", {"unit": unit}), (300, "unit_back", {"unit": unit}),
            (310, "unit_lost", {"unit": unit}), (311, "withdrawn", {"event": "7"}),
        ],
        "another exercise, and withdrawals": [
            began, (30, "paused", {}), (40, "withdrawn", {"event": "1"}), (50, "paused", {}),
            (52, "withdrawn", {"event": "3"}), (53, "withdrawn", {"event": "4"}), (90, "resumed", {}),
            (800, "ended", {}), (900, "paused", {}),
        ],
    }  # fmt: skip


def _said(run_state: RunState, file: ClassFile) -> dict[str, Any]:
    face = face_of(run_state)
    return {
        "state": run_state.state,
        "now_s": round(run_state.now_s, 6),
        "second": round(run_state.second, 6),
        "block": face.block,
        "left_s": round(face.left_s, 6),
        "ends_in_s": round(face.ends_in_s, 6),
        "calls": [[round(left, 6), cue.call, cue.words] for left, cue in face.calls],
        "people": [
            {
                "id": item.person,
                "away": item.away,
                "doing": int(item.doing),
                "here": None if item.here is None else [item.here.part, item.here.unit],
                "left_s": round(item.left_s, 3),
                "next": None if item.next is None else [item.next.part, item.next.unit],
                "next_in_s": None if item.next_in_s is None else round(item.next_in_s, 3),
            }
            for item in people_now(file, run_state)
        ],
    }


def run_cases() -> list[dict[str, Any]]:
    """Every class with every list of events, at every moment."""
    found = []
    for file in (a_class("stretcher-legs", 3), a_class("machine-pairs", 4)):
        cases = []
        sheets: dict[tuple[str, ...], Any] = {}
        for what, happened in _events(file).items():
            events = [
                event_of({"id": str(number), "kind": kind, "happened_at": BEGAN + timedelta(seconds=at), **more})
                for number, (at, kind, more) in enumerate(happened)
            ]
            for sheet in sheets_of(file, replay_events(file, events, BEGAN + timedelta(hours=2))):
                sheets[tuple(sheet.after)] = sheet.model_dump(mode="json")
            courses = {moment: replay_events(file, events, BEGAN + timedelta(seconds=moment)) for moment in MOMENTS}
            cases.append(
                {
                    "what": what,
                    "events": [event.model_dump(mode="json", exclude_none=True) for event in events],
                    # what happened later than a moment is not known at it
                    "at": [{"moment": at, "gives": _said(run_state, file)} for at, run_state in courses.items()],
                }
            )
        logs = list(_logs(file, sheets))
        found.append({"class": file.plan.name, "sheets": list(sheets.values()), "cases": cases, "logs": logs})
    return found


def _logs(file: ClassFile, sheets: dict[tuple[str, ...], Any]) -> Iterator[dict[str, Any]]:
    """What was written down, and the log that it makes; the sheets that it takes are added to `sheets`."""
    first, second = file.plan.people[:2]
    plain = replay_events(file, [], BEGAN)
    row = next(row for row in log_of(file, [], plain) if row.person == first)
    done = {"person": first, "part": row.part, "number": row.number, "reps": 9}
    block = file.plan.blocks[-1].id
    lists: list[list[tuple[float, str, dict[str, Any]]]] = [
        [],
        [(5, "set_done", done), (6, "set_done", {**done, "reps": 8}), (7, "set_done", {**done, "number": 300})],
        [(5, "as_planned", {"person": second}), (6, "as_planned", {"block": block})],
        [(5, "as_planned", {}), (6, "set_done", done), (7, "withdrawn", {"event": "1"})],
        [(5, "as_planned", {"part": row.part}), (6, "set_done", {**done, "side": "left"}),
         (7, "set_done", {**done, "side": "right"})],
        [(5, "as_planned", {"person": first, "part": row.part, "number": row.number})],
        [(5, "as_planned", {"part": row.part, "number": row.number + 1})],
    ]  # fmt: skip
    part = file.plan.blocks[-1].parts[0] if file.plan.blocks[-1].OWN_PACE else file.plan.blocks[1].parts[0]
    other = "wall-sit" if part.exercise != "wall-sit" else "bodyweight-squat"
    own = [row for row in log_of(file, [], plain) if row.person == first and row.part == part.id]
    swapped = {"change": {"do": "swap_exercise", "slot": part.id, "exercise": other}}
    begins = (own[-1].start_s or 0.0) + 1
    one = {"person": first, "part": part.id, "number": 1, "reps": 13, "load_kg": 100}
    lists += [
        [(begins, "set_done", one), (begins + 1, "changed", swapped), (begins + 60, "set_done", {**one, "number": 2})],
        [(begins, "as_planned", {"person": first}), (begins + 1, "changed", swapped)],
        [(begins, "changed", swapped), (begins + 5, "set_done", {**one, "exercise": part.exercise}),
         (begins + 9, "as_planned", {"block": file.plan.blocks[1].id})],
        [(begins, "changed", swapped), (begins + 5, "as_planned", {"person": first, "part": part.id, "number": 1}),
         (begins + 6, "set_done", {**one, "part": "unplanned.back-squat", "exercise": "back-squat"})],
    ]  # fmt: skip
    for at_list, happened in enumerate(lists):
        # sheets are known by the events that led to them: no two lists have the same ids for these
        changes = any(kind == "changed" for _, kind, _ in happened)
        events = [
            event_of(
                {
                    "id": f"l{at_list}-{number}" if changes else str(number),
                    "kind": kind,
                    "happened_at": BEGAN + timedelta(seconds=at),
                    **more,
                }
            )
            for number, (at, kind, more) in enumerate([(0.0, "began", {}), *happened])
        ]
        run_state = replay_events(file, events, BEGAN + timedelta(hours=2))
        rows = log_of(file, events, run_state)
        for sheet in sheets_of(file, run_state):
            sheets[tuple(sheet.after)] = sheet.model_dump(mode="json")
        yield {
            "events": [event.model_dump(mode="json", exclude_none=True) for event in events],
            "gives": [
                {
                    "person": row.person, "part": row.part, "number": row.number, "written": row.written,
                    "exercise": row.exercise,
                    "done": [done.id for done in row.done],
                }
                for row in rows
            ],
        }  # fmt: skip
