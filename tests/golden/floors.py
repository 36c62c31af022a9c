"""Golden cases of classes that follow their people: what was pressed, and where everybody is by it, held up to the
interface as well.

`tools/generated.py` writes them to `floors.json`. What is pressed is drawn at random, sense and nonsense alike: both
sides have to make the same of it. Of every moment the visit itself is told too, from which both dispatch to the last
digit.
"""

from __future__ import annotations

from datetime import timedelta
from random import Random
from typing import Any

from golden.running import BEGAN, a_class
from oaken.plan import RelayBlock, SetsBlock
from oaken.schedule.class_file import ClassFile, check_class
from oaken.schedule.rotation.rolling import Placement
from oaken.session import face_of, people_now, replay_events, sheets_of
from oaken.session.clock import RunState
from oaken.session.events import event_of
from oaken.session.floor import floor_at

RUNS, PRESSES = 2, 50


def _classes() -> list[ClassFile]:
    plain = a_class("machine-pairs", 5)
    people = plain.plan.people
    held = [
        block.model_copy(update={"sharing": "hold"}) if isinstance(block, SetsBlock) else block
        for block in plain.plan.blocks
    ]
    wishing = {"blocks": held, "together": [people[:2]], "apart": [(people[2], people[3])]}
    return [
        plain,
        check_class(plain.model_copy(update={"plan": plain.plan.model_copy(update=wishing)})),
        a_class("long-carry", 4),
    ]


def _pressed(file: ClassFile, seed: int) -> list[dict[str, Any]]:
    """What is pressed in a class from its beginning on, by somebody who mostly knows what they see."""
    chance = Random(seed)
    own = [(number, block) for number, block in enumerate(file.plan.blocks) if isinstance(block, SetsBlock)]
    block = own[seed % len(own)][1]
    units = [unit.id for unit in file.room.units if not unit.out_of_order]
    found: list[dict[str, Any]] = [
        {"kind": "began", "follows": "people", "at": 0.0},
        {"kind": "went_on", "block": block.id, "second": float(chance.choice((0, 0, 137))), "at": 4.0},
    ]
    at = 5.0
    for _ in range(PRESSES):
        at += chance.choice((0.25, 3, 9.5, 20, 41.125))
        now = replay_events(file, _events(found), BEGAN + timedelta(seconds=at))
        stands = {item.person: item for item in people_now(file, now)}
        person = chance.choice(file.plan.people)
        here = stands[person].here
        part = here.part if here is not None and chance.random() < 0.85 else chance.choice(block.parts).id
        number = stands[person].set_number if chance.random() < 0.85 else chance.randint(1, 5)
        a_set = {"person": person, "part": part, "number": max(1, number)}
        unit = {} if here is None or here.unit is None else {"unit": here.unit}
        kind = chance.choices(
            ("set_done", "set_started", "took_another", "set_skipped", "moved_on", "left", "came", "unit_lost",
             "unit_back", "paused", "resumed", "time_added", "changed", "went_on"),
            (60, 12, 5, 4, 3, 1, 2, 1.5, 1.5, 2, 6, 1.5, 0.6, 0.5),
        )[0]  # fmt: skip
        fields: dict[str, Any] = {}
        if kind in ("set_done", "set_started", "took_another", "set_skipped"):
            fields = {**a_set, **unit}
        elif kind in ("left", "came"):
            fields = {"person": person}
        elif kind == "moved_on":
            fields = {"person": person, "block": block.id, "second": float(chance.randint(0, 900))}
        elif kind in ("unit_lost", "unit_back"):
            fields = {"unit": chance.choice(units)}
        elif kind == "time_added":
            fields = {"seconds": 20.0}
        elif kind == "changed":
            fields = {"change": {"do": "swap_exercise", "slot": part, "exercise": "wall-sit"}}
        elif kind == "went_on":
            fields = {"block": block.id, "second": 61.5}
        found.append({"kind": kind, "at": at, **fields})
    return found


def _tagged(file: ClassFile) -> list[dict[str, Any]]:
    """Tags of a relay, in time, late, forgotten, twice and of nobody's team."""
    relay = next(block for block in file.plan.blocks if isinstance(block, RelayBlock))
    first, last = file.plan.people[0], file.plan.people[-1]
    tags = [
        (31.5, first),
        (62.25, last),
        (63.0, first),
        (170.0, first),
        (171.5, last),
        (172.0, "nobody"),
        (300.0, last),
    ]
    return [
        {"kind": "began", "follows": "people", "at": 0.0},
        {"kind": "went_on", "block": relay.id, "second": 0.0, "at": 1.0},
        *({"kind": "tagged", "block": relay.id, "person": who, "at": at} for at, who in tags),
    ]


def _events(found: list[dict[str, Any]], of: str = "") -> list[Any]:
    return [
        event_of(
            {
                "id": f"{of}{number:03}",
                "happened_at": BEGAN + timedelta(seconds=item["at"]),
                **{name: value for name, value in item.items() if name != "at"},
            }
        )
        for number, item in enumerate(found)
    ]


def _placed(own: list[Placement], now: float) -> list[list[Any]]:
    """What is under way, the sets around it and the last one: enough to tell two answers apart."""
    at = next((at for at, item in enumerate(own) if now < item.end_s or item.held), len(own))
    chosen = sorted({place for place in (at - 2, at - 1, at, at + 1, len(own) - 1) if 0 <= place < len(own)})
    return [
        [
            place, f"{own[place].task.id[0]} {own[place].task.id[1]}", own[place].unit, own[place].set_up_from_s,
            own[place].work_from_s, own[place].end_s, own[place].known, own[place].held, own[place].cut,
        ]
        for place in chosen
    ]  # fmt: skip


def _visit(run_state: RunState) -> dict[str, Any] | None:
    """The visit itself, where it had one plan."""
    floor = run_state.floor
    if floor is None or len(floor.plans) > 1:
        return None
    return {
        "block": floor.block,
        "from_s": floor.from_s,
        "absent": sorted(floor.absent),
        "done_before": sorted(f"{person} {part} {number}" for person, (part, number) in floor.done_before),
        "now_s": floor.now_s,
        "presses": [
            {
                "at_s": press.at_s,
                "how": press.how,
                "person": press.person,
                "set": f"{press.set_id[0]} {press.set_id[1]}",
                "unit": press.unit,
                "second": press.second,
            }
            for press in floor.presses
        ],
        "pauses": floor.pauses,
    }


def _said(file: ClassFile, run_state: RunState) -> dict[str, Any]:
    face = face_of(run_state)
    floor = run_state.floor
    return {
        "state": run_state.state,
        "second": run_state.second,
        "left_s": face.left_s,
        "ends_in_s": face.ends_in_s,
        "calls": [[left, cue.call] for left, cue in face.calls],
        "after": run_state.changed_by,
        "visit": _visit(run_state),
        "placed": None if floor is None else [_placed(own, floor.now_s) for own in floor_at(floor).placed],
        "people": [
            {
                "doing": int(item.doing),
                "here": None if item.here is None else [item.here.part, item.here.unit],
                "next": None if item.next is None else [item.next.part, item.next.unit],
                "left_s": item.left_s,
                "next_in_s": item.next_in_s,
                "set": item.set_number if floor is not None and item.here is not None else 0,
                "known": item.known,
                "held": item.held,
                "behind_s": item.behind_s,
            }
            for item in people_now(file, run_state)
        ],
    }


def floor_cases() -> list[dict[str, Any]]:
    """Every class with what was pressed in several runs of it, and what everybody does at some moments."""
    found = []
    for number, file in enumerate(_classes()):
        runs = []
        sheets: dict[tuple[str, ...], Any] = {}
        relays = any(isinstance(block, RelayBlock) for block in file.plan.blocks)
        for seed in range(RUNS + relays):
            pressed = _pressed(file, 10 * number + seed) if seed < RUNS else _tagged(file)
            events = _events(pressed, f"{seed}-")
            last = pressed[-1]["at"]
            end = replay_events(file, events, BEGAN + timedelta(seconds=last + 4000))
            for sheet in sheets_of(file, end):
                sheets[tuple(sheet.after)] = sheet.model_dump(mode="json")
            moments = [last * share for share in (0.2, 0.5, 0.8)] + [last + 1, last + 75, last + 700]
            at = []
            for moment in (round(moment, 3) for moment in moments):
                run_state = replay_events(file, events, BEGAN + timedelta(seconds=moment))
                at.append({"moment": moment, "gives": _said(file, run_state)})
            runs.append(
                {
                    "events": [event.model_dump(mode="json", exclude_none=True) for event in events],
                    "at": at,
                }
            )
        found.append({"class": f"{file.plan.name} {number}", "sheets": list(sheets.values()), "runs": runs})
    return found
