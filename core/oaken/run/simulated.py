"""What happens in a class, simulated: a stand-in for instructors and people, for the demo and for trying things out.

The same file and seed always give the same. How often things happen is invented.
"""

from __future__ import annotations

from datetime import datetime, timedelta
from typing import Any

import numpy as np

from oaken.class_file import ClassFile
from oaken.run.clock import course_of
from oaken.run.events import AsPlanned, Began, Ended, Event, Noted, Paused, Resumed, SetDone, TimeAdded
from oaken.run.sheet import Sheet, SheetSet, sheet_of

PAUSES, MORE_TIMES = 2, 2
DIFFERS, FORGOTTEN = 0.18, 0.06
"""Shares of the loaded sets that went otherwise than planned, and that nobody wrote down."""

NOTES = ("more chalk next time", "the bench by the window is slow to set", "start the circuit a minute earlier")


def simulated_events(
    file: ClassFile, began_at: datetime, seed: int, until_s: float | None = None, device: str = "simulated"
) -> list[Event]:
    """What happens from the beginning to the end, or until a second: pauses, time added, sets written down, a note.
    The file must have been checked (`read_class`)."""
    chance = np.random.default_rng(seed)
    course = course_of(file, [], began_at)
    sheet = sheet_of(file, course.era, [])
    stops = until_s if until_s is not None else sheet.length_s
    made: list[Event] = []

    def happen(kind: type[Any], second: float, **fields: Any) -> None:
        moment = began_at + timedelta(seconds=second)
        made.append(kind(id=f"{device}-{seed}-{len(made)}", happened_at=moment, device=device, **fields))

    happen(Began, 0.0)
    late = 0.0
    for at in sorted(chance.uniform(60, stops - 60, PAUSES).tolist()):
        length = float(chance.uniform(10, 45))
        happen(Paused, at + late)
        happen(Resumed, at + late + length)
        late += length
    for at in sorted(chance.uniform(60, stops - 60, MORE_TIMES).tolist()):
        happen(TimeAdded, at + late, seconds=15)
    _write_down(sheet, stops, late, chance, happen)
    if until_s is None:
        over = sheet.length_s + late + 15 * MORE_TIMES + float(chance.uniform(5, 60))
        happen(Ended, over)
        happen(Noted, over + 120, words=NOTES[seed % len(NOTES)])
    return made


def _write_down(sheet: Sheet, stops: float, late: float, chance: np.random.Generator, happen: Any) -> None:
    """Every person's loaded sets one by one where they differed; the rest of a block as planned, when it is over."""
    for block in sheet.blocks:
        if block.end_s > stops:
            continue
        for person in sheet.people:
            own = [one for one in person.sets if sheet.blocks[sheet.parts[one.part].block].id == block.id]
            forgets = chance.random() < FORGOTTEN
            for one in own:
                if one.kg and one.reps and chance.random() < DIFFERS:
                    happen(SetDone, one.start_s + one.seconds + late + 20, **_otherwise(sheet, person.id, one, chance))
            if not forgets:
                happen(AsPlanned, block.end_s + late + 5, person=person.id, block=block.id)


def _otherwise(sheet: Sheet, person: str, one: SheetSet, chance: np.random.Generator) -> dict[str, Any]:
    """A set that went otherwise: a step lighter or heavier, some repetitions fewer or more."""
    loads = sheet.units[one.unit].loads_kg if one.unit >= 0 else []
    load = one.kg[0]
    near = [kg for kg in loads if abs(kg - load) < 0.12 * load]
    fewer = int(chance.integers(-3, 3))
    failed = bool(fewer < -1)
    return {
        "person": person,
        "part": sheet.parts[one.part].id,
        "number": one.number,
        "load_kg": float(chance.choice(near)) if near else load,
        "reps": max(1, one.reps[0] + fewer) if len(one.reps) == 1 else None,
        "parts": tuple(max(1, reps + min(0, fewer)) for reps in one.reps) if len(one.reps) > 1 else (),
        "to_failure": failed,
        "form": "poor" if failed and chance.random() < 0.3 else None,
        "reps_left": None if failed else int(chance.integers(0, 4)),
        "note": "",
    }
