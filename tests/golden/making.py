"""Golden cases of what an edit does to a part of a plan: computed by the core, held up to the interface as well.

`tools/generated.py` writes them to `edits.json`; pytest holds the core to them, vitest the interface.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from oaken.domain.catalogue import Exercise, catalogue
from oaken.domain.prescription.schemes import reshaped
from oaken.domain.room import Room
from oaken.plan import AnyPart, CircuitBlock, Leg, Slot, Station
from oaken.plan.changes import refit, with_rest
from pydantic import ValidationError

SLOTS: dict[str, dict[str, Any]] = {
    "a ramp and working sets": {
        "exercise": "leg-press",
        "sets": [
            {"times": 1, "segments": [{"reps": 6, "load": {"share_of_best": 0.5}}], "rest_s": 60},
            {"times": 3, "segments": [{"reps": 6, "load": {"share_of_best": 0.75}}], "rest_s": 60},
        ],
    },
    "falling sets": {
        "exercise": "leg-press",
        "sets": [
            {"segments": [{"reps": reps, "load": {"share_of_best": share}}], "rest_s": 90}
            for reps, share in ((8, 0.7), (6, 0.75), (4, 0.8))
        ],
    },
    "a drop on the last set": {
        "exercise": "leg-extension",
        "sets": [
            {"times": 2, "segments": [{"reps": 10, "load": {"share_of_best": 0.6}}], "rest_s": 60},
            {
                "segments": [
                    {"reps": 10, "load": {"share_of_best": 0.6}},
                    {"reps": 8, "to_failure": True, "change": {"percent": -20}},
                ],
                "rest_s": 60,
            },
        ],
    },
    "a loaded slot": {
        "exercise": "leg-press",
        "sets": [
            {
                "times": 3,
                "rest_s": 60,
                "segments": [{"reps": 10, "load": {"share_of_best": 0.7}, "tempo": [3, 1, 1, 0]}],
            }
        ],
    },
    "a slot with drops": {
        "exercise": "leg-extension",
        "sets": [
            {"times": 2, "rest_s": 60, "segments": [{"reps": 12, "load": {"share_of_best": 0.6}}]},
            {
                "times": 1,
                "rest_s": 90,
                "segments": [
                    {"reps": 12, "load": {"share_of_best": 0.6}},
                    {"reps": 8, "to_failure": True, "change": {"percent": -20}},
                ],
            },
        ],
    },
    "a carry": {
        "exercise": "walking-lunge",
        "sets": [{"times": 3, "rest_s": 45, "segments": [{"metres": 20, "sides": "in_all"}]}],
    },
    "a hold on each side": {
        "exercise": "quadriceps-stretch",
        "sets": [{"times": 1, "segments": [{"seconds": 20, "sides": "each_side"}]}],
    },
}
STATIONS: dict[str, dict[str, Any]] = {
    "an unloaded station": {"exercise": "bodyweight-squat"},
    "a loaded station": {"exercise": "leg-press", "load": {"share_of_best": 0.5}, "tempo": [3, 1, 1, 0]},
    "a machine at a setting": {"exercise": "treadmill-walk", "setting": {"incline_percent": 6, "speed_kmh": 5}},
}
LEGS: dict[str, dict[str, Any]] = {
    "a leg of swings": {
        "exercise": "kettlebell-swing",
        "turn": {"reps": 12, "load": {"share_of_best": 0.5}},
        "turns": 8,
        "rest_s": 30,
    }
}
OTHERS = ("leg-press", "bodyweight-squat", "dumbbell-step-up", "plank", "quadriceps-stretch", "walking-lunge")
WORK_S = (5, 10, 20, 30, 40, 45, 60, 90, 120, 180)
WALKS = [[3.0, 0.0], [0.0, 4.5], [3.0, 4.0]]
TURNS_S = (5, 10, 15, 20, 30, 45, 60)


def cases() -> dict[str, Any]:
    """Every golden case: what it is, what is given, and what the core makes of it."""
    known = catalogue().exercises
    parts: list[tuple[str, AnyPart]] = [
        *((name, Slot.model_validate({"id": "x", **slot})) for name, slot in SLOTS.items()),
        *((name, Station.model_validate({"id": "x", **station})) for name, station in STATIONS.items()),
        *((name, Leg.model_validate({"id": "x", **leg})) for name, leg in LEGS.items()),
    ]
    slots = [(name, part) for name, part in parts if isinstance(part, Slot)]
    return {
        "another exercise": [
            {
                "what": f"{name} becomes {other}",
                "part": _plain(part),
                "exercise": _told(known[other]),
                "gives": _plain(refit(part, known[other])),
            }
            for name, part in parts
            for other in OTHERS
            if other != part.exercise
        ],
        "so many sets": [
            {
                "what": f"{name}, {sets} sets",
                "part": _plain(slot),
                "sets": sets,
                "gives": _plain(slot.model_copy(update={"sets": reshaped(slot.sets, sets)})),
            }
            for name, slot in slots
            for sets in (1, 2, 4, 6)
        ],
        "another rest": [
            {
                "what": f"{name}, rest {rest_s} s",
                "part": _plain(slot),
                "rest_s": rest_s,
                "gives": _plain(with_rest(slot, _always(rest_s))),
            }
            for name, slot in slots
            for rest_s in (0, 75)
        ],
        "turns": [
            {"work_s": work_s, "turns": [turn for turn in TURNS_S if _divides(work_s, turn)]} for work_s in WORK_S
        ],
        "walks": [{"from": [0, 0], "to": to, "seconds": _walk_s(to)} for to in WALKS],
    }


def _always(rest_s: int) -> Callable[[int], int]:
    return lambda _: rest_s


def _plain(part: Slot | Station | Leg) -> dict[str, Any]:
    return part.model_dump(mode="json", exclude_none=True)


def _told(exercise: Exercise) -> dict[str, Any]:
    """What the interface reads of an exercise when it takes the place of another."""
    told = {name: getattr(exercise, name) for name in ("id", "takes_load", "sides", "speed_m_per_s")}
    return {name: value for name, value in told.items() if value is not None}


def _divides(work_s: int, turn_s: int) -> bool:
    try:
        CircuitBlock.model_validate(
            {
                "kind": "circuit",
                "name": "x",
                "work_s": work_s,
                "change_s": 0,
                "rounds": 1,
                "turn_s": turn_s,
                "stations": [{"exercise": "plank"}],
            }
        )
    except ValidationError:
        return False
    return True


def _walk_s(to: list[float]) -> float:
    units = [
        {"id": f"u{number}", "kind": "mat", "name": "Mat", "x_m": x, "y_m": y}
        for number, (x, y) in enumerate(((0.0, 0.0), to))
    ]
    return round(Room.model_validate({"id": "r", "name": "R", "units": units}).walk_s(0, 1), 6)
