"""The largest of everything that is allowed, and the next larger one that is not."""

from __future__ import annotations

import struct
from collections.abc import Callable
from typing import Any

from making import circuit, class_document, group, person, room, sets
from oaken.basis.faults import FaultyInput
from oaken.basis.limits import most
from oaken.design.goal_seeking import fit_to_slot
from oaken.domain.catalogue import OwnEntries, catalogue
from oaken.domain.people.roster import read_roster
from oaken.domain.room.hardware import Plates, settable_kg
from oaken.forecast import forecast
from oaken.heart_data.recordings import HeartSeries, cleaned, read_recording
from oaken.plan.notation import FaultyText, read_slot
from oaken.plan.notation import read_class as read_text
from oaken.schedule.arrange.replay import replay_class, runs_for
from oaken.schedule.arrange.what_if import Scene, one_more, repaired, without_unit
from oaken.schedule.class_file import ClassFile, check_search, read_class

MACHINES = ("leg-press", "kettlebell", "hip-thrust", "lying-leg-curl", "seated-leg-curl", "leg-extension")
LIFTS = ("leg-press", "goblet-squat", "hip-thrust", "lying-leg-curl", "seated-leg-curl", "leg-extension")


def crowded(people: int, groups: int, slots: int, times: int, places: int = 3) -> dict[str, Any]:
    """A class of sets as a document: everybody does everything, each set with a load of its own."""
    chosen = [
        group(
            times,
            0,
            *[
                {"exercise": LIFTS[at % len(LIFTS)], "reps": 3, "tempo": [1, 0, 1, 0], "load": {"share_of_best": 0.5}}
                for at in range(slots)
            ],
        )
        for _ in range(groups)
    ]
    where = room({kind: places for kind in MACHINES})
    return class_document(sets(*chosen), people=people, room=where)


def told(call: Callable[[], Any]) -> str:
    """What a call comes to: a refusal in its words."""
    try:
        call()
    except (FaultyInput, FaultyText) as fault:
        return str(fault)[:300]
    return "fine"


def of_sets() -> str:
    file = read_class(crowded(60, 5, 5, 4))
    return f"{len(forecast(file).model_dump_json())} bytes"


def of_stations() -> str:
    block = circuit(["bodyweight-squat"] * 20, work_s=20, change_s=5, rounds=5)
    return f"{len(forecast(read_class(class_document(block, people=60))).model_dump_json())} bytes"


def searched() -> ClassFile:
    return check_search(read_class(crowded(25, 5, 4, 4)))


def scene() -> Scene:
    file = searched()
    return Scene(file.plan, file.room, {person.id: person for person in file.people}, file.catalogue())


def machine_taken() -> str:
    at_hand = scene()
    plan, parts = without_unit(at_hand, "leg-press-1")
    return f"{len(parts)} parts, {0 if parts else len(repaired(at_hand, plan))} ways"


def own_entries() -> str:
    like = catalogue().exercises["leg-press"].model_dump(mode="json")
    words = ["".join(chr(97 + number // 26**place % 26) for place in range(4)) for number in range(most("own.entries"))]
    own = OwnEntries.model_validate(
        {
            "exercises": [
                {**like, "id": f"own-{word}", "name": f"Own {word}", "aliases": [f"mine {word}"]} for word in words
            ]
        }
    )
    return f"{len(catalogue().with_own(own).exercises)} exercises"


def fit_file(frames: int) -> bytes:
    """A FIT file of data messages that hold nothing: one byte each."""
    definition = struct.pack("<BBBHB", 0x40, 0, 0, 20, 0)
    data = definition + b"\x00" * frames
    head = struct.pack("<BBHI4s", 14, 0x10, 2132, len(data), b".FIT")
    head += struct.pack("<H", 0)
    return head + data + struct.pack("<H", _crc(data, _crc(head)))


_CRC = (0x0000, 0xCC01, 0xD801, 0x1400, 0xF001, 0x3C00, 0x2800, 0xE401,
        0xA001, 0x6C00, 0x7800, 0xB401, 0x5000, 0x9C01, 0x8801, 0x4400)  # fmt: skip


def _crc(data: bytes, crc: int = 0) -> int:
    for byte in data:
        for nibble in (byte & 0xF, byte >> 4):
            crc = ((crc >> 4) & 0x0FFF) ^ _CRC[crc & 0xF] ^ _CRC[nibble]
    return crc


def tcx(readings: int) -> bytes:
    points = "".join(
        f"<Trackpoint><Time>2026-11-24T{19 + s // 3600 % 4:02d}:{s // 60 % 60:02d}:{s % 60:02d}Z</Time>"
        f"<HeartRateBpm><Value>{90 + s % 60}</Value></HeartRateBpm></Trackpoint>"
        for s in range(readings)
    )
    return f"<TrainingCenterDatabase><Track>{points}</Track></TrainingCenterDatabase>".encode()


def roster(rows: int) -> bytes:
    lines = [f"Person {n},{20 + n % 50},{60 + n % 40},knee,140" for n in range(rows)]
    return "\n".join(["name,age,mass_kg,careful,best leg-press kg", *lines]).encode()


ALLOWED: dict[str, Callable[[], Any]] = {
    "forecast of the largest class of sets, with its JSON": of_sets,
    "forecast of the largest class of stations, with its JSON": of_stations,
    "fit of the largest class that is searched": lambda: len(fit_to_slot(searched()).proposals),
    "as many replays as the largest class that is searched gets": lambda: replay_class(
        searched().plan, scene().around, runs_for(searched().plan)
    ).at(0.5),
    "machine taken in the largest class that is searched": machine_taken,
    "one machine more in the largest class that is searched": lambda: len(one_more(scene())),
    "60,000 readings within 30 s": lambda: (
        cleaned(
            HeartSeries.of([n / 2000 for n in range(60_000)], [100.0 + n % 7 for n in range(60_000)], None, "CSV")
        ).bpm.size
    ),
    "12 h of readings, one a second": lambda: (
        cleaned(
            HeartSeries.of([float(n) for n in range(43_200)], [100.0 + n % 7 for n in range(43_200)], None, "CSV")
        ).bpm.size
    ),
    "a TCX file of 43,200 readings": lambda: read_recording(tcx(43_200)).bpm.size,
    "a FIT file with the most frames": lambda: told(lambda: read_recording(fit_file(most("recording.frames") - 10))),
    "the longest text, a fault a line": lambda: told(
        lambda: read_text("block A: sets\n" + "lexg prexss 3 x 5\n" * 3000, catalogue())
    ),
    "the longest text of longest lines": lambda: told(
        lambda: read_text("block A: sets\n" + ("lexg " * 799 + "\n") * 14, catalogue())
    ),
    "the longest line": lambda: told(lambda: read_slot("leg press 3 x " + "5 + " * 990, catalogue())),
    "a class with a fault in every place": lambda: told(
        lambda: read_class(crowded(60, 20, 12, 1) | {"room": {"id": "room", "name": "R", "units": []}, "people": []})
    ),
    "the most own entries": own_entries,
    "twelve odd plates in forty pairs": lambda: len(
        settable_kg(Plates(bar_kg=20, plates=tuple({"kg": 1.37 * (at + 1) / 1.9, "pairs": 40} for at in range(12))))
    ),
    "the largest roster": lambda: len(read_roster(roster(most("roster.people"))).rows),
    "the most people, as they are read": lambda: len(read_class(crowded(60, 1, 1, 1)).people),
}
"""What is allowed and as large as can be; each has to stay within the bounds of a request."""

REFUSED: dict[str, tuple[Callable[[], Any], str]] = {
    "a class of too many bouts": (lambda: read_class(crowded(60, 20, 12, 30)), "at most 6,000 bouts"),
    "a class that takes a person too long": (
        lambda: read_class(class_document(*[circuit(["bodyweight-squat"] * 10, work_s=3600, change_s=0, rounds=1)])),
        "at most 8 h",
    ),
    "a class that keeps one machine too long": (
        lambda: read_class(
            class_document(
                sets(*[group(4, 0, {"exercise": "leg-press", "seconds": 250}) for _ in range(4)]),
                people=60,
                room=room({"leg-press": 1}),
            )
        ),
        "at most 12 h",
    ),
    "a class too large to be searched": (lambda: check_search(read_class(crowded(60, 5, 4, 4))), "at most 2,000 bouts"),
    "a text that is too long": (lambda: read_text("x\n" * 40_000, catalogue()), "at most 60,000 characters"),
    "a line that is too long": (lambda: read_slot("leg press " * 500, catalogue()), "at most 4,000 characters"),
    "too many readings": (
        lambda: HeartSeries.of([float(n) for n in range(60_001)], [100.0] * 60_001, None, "CSV"),
        "at most 60,000",
    ),
    "a recording that runs too long": (lambda: HeartSeries.of([0.0, 50_000.0], [90.0, 90.0], None, "CSV"), "at most 12 h"),
    "a file that is too large": (lambda: read_recording(b"x" * 8_000_001), "at most 8 MB"),
    "a FIT file of too many frames": (lambda: read_recording(fit_file(200_000)), "at most 120,000 frames"),
    "a roster that is too long": (lambda: read_roster(roster(2001)), "at most 2,000 rows"),
    "too many people in a class": (lambda: read_class(crowded(61, 1, 1, 1)), "at most 60"),
    "somebody with too many bests": (
        lambda: read_class(
            class_document(circuit(["bodyweight-squat"], work_s=20, change_s=5, rounds=1), people=[
                person(1, bests_kg={f"lift-{n}": 50 for n in range(301)})])
        ),
        "at most 300",
    ),
}  # fmt: skip
"""What is too large, and what the refusal says would be right."""
