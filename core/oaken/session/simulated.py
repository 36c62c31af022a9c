"""What happens in a class, simulated: a stand-in for instructors and people, for the demo and for trying things out.

The same file and seed always give the same. How often things happen is invented.
"""

from __future__ import annotations

from collections.abc import Collection, Mapping
from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import Any

import numpy as np

from oaken.plan import Slot
from oaken.schedule.class_file import ClassFile
from oaken.session.clock import replay_events
from oaken.session.events import AsPlanned, Began, Ended, Event, Left, Noted, Paused, Resumed, SetDone, TimeAdded
from oaken.session.sheet import Sheet, SheetSet, sheet_of

PAUSES, MORE_TIMES = 2, 2
DIFFERS, FORGOTTEN = 0.18, 0.06
"""Shares of the loaded sets that went otherwise than planned, and that nobody wrote down."""

DAY_FORM, TIRED, TELLS_LEFT, MOST_TOLD = 0.02, 0.02, 0.6, 5
"""How much people differ from day to day, how much less each further set holds (shares of the best), how often
somebody tells what was left, and up to how many they can tell (invented)."""

NOTES = ("more chalk next time", "the bench by the window is slow to set", "start the circuit a minute earlier")


Bests = Mapping[str, Mapping[str, float]]
"""What people could lift once on a day, by person and exercise, in kg."""


def simulated_events(
    file: ClassFile,
    began_at: datetime,
    seed: int,
    until_s: float | None = None,
    device: str = "simulated",
    bests: Bests | None = None,
    absent: Collection[str] = (),
) -> list[Event]:
    """What happens from the beginning to the end, or until a second: pauses, time added, sets written down, a note.
    The file must have been checked (`read_class`).

    With `bests` people do in every loaded set what they can that day: up to the top of its window, fewer where it is
    too heavy, and now and then they tell what was left. `absent` people are ticked off at the beginning.
    """
    chance = np.random.default_rng(seed)
    run_state = replay_events(file, [], began_at)
    sheet = sheet_of(file, run_state.era, [])
    stops = until_s if until_s is not None else sheet.length_s
    made: list[Event] = []

    def happen(kind: type[Any], second: float, **fields: Any) -> None:
        moment = began_at + timedelta(seconds=second)
        made.append(kind(id=f"{device}-{seed}-{len(made)}", happened_at=moment, device=device, **fields))

    happen(Began, 0.0)
    for person in absent:
        happen(Left, 1.0, person=person)
    late = 0.0
    for at in sorted(chance.uniform(60, stops - 60, PAUSES).tolist()):
        length = float(chance.uniform(10, 45))
        happen(Paused, at + late)
        happen(Resumed, at + late + length)
        late += length
    for at in sorted(chance.uniform(60, stops - 60, MORE_TIMES).tolist()):
        happen(TimeAdded, at + late, seconds=15)
    _write_down(_Floor(sheet, _windows(file), bests, frozenset(absent)), stops, late, chance, happen)
    if until_s is None:
        over = sheet.length_s + late + 15 * MORE_TIMES + float(chance.uniform(5, 60))
        happen(Ended, over)
        happen(Noted, over + 120, words=NOTES[seed % len(NOTES)])
    return made


@dataclass(frozen=True, slots=True)
class _Floor:
    """What a simulated class knows: its sheet, the window of repetitions of each part, and who can do what today."""

    sheet: Sheet
    windows: Mapping[str, tuple[int, int]]
    bests: Bests | None
    absent: frozenset[str]


def _windows(file: ClassFile) -> dict[str, tuple[int, int]]:
    """The planned repetitions of every slot that counts them."""
    found = {}
    for _, part in file.plan.placed():
        window = part.sets[0].segments[0].window if isinstance(part, Slot) else None
        if window is not None:
            found[part.id] = window
    return found


def _write_down(floor: _Floor, stops: float, late: float, chance: np.random.Generator, happen: Any) -> None:
    """Every person's loaded sets one by one where they differed, or all of them where it is known what they can; the
    rest of a block as planned, when it is over."""
    sheet = floor.sheet
    for block in sheet.blocks:
        if block.end_s > stops:
            continue
        for person in sheet.people:
            if person.id in floor.absent:
                continue
            own = [
                each_set for each_set in person.sets if sheet.blocks[sheet.parts[each_set.part].block].id == block.id
            ]
            forgets = chance.random() < FORGOTTEN
            form = float(chance.normal(1.0, DAY_FORM))
            for item in own:
                second = item.start_s + item.seconds + late + 20
                part = sheet.parts[item.part]
                best = (floor.bests or {}).get(person.id, {}).get(part.exercise)
                if item.kg and len(item.reps) == 1 and best is not None and part.id in floor.windows:
                    told = _can(item, best * form, floor.windows[part.id], chance)
                    happen(SetDone, second, person=person.id, part=part.id, number=item.number, **told)
                elif item.kg and item.reps and chance.random() < DIFFERS:
                    happen(SetDone, second, **_otherwise(sheet, person.id, item, chance))
            if not forgets:
                happen(AsPlanned, block.end_s + late + 5, person=person.id, block=block.id)


def _can(one: SheetSet, best: float, window: tuple[int, int], chance: np.random.Generator) -> dict[str, Any]:
    """A set as somebody with this best does it: by the usual relation of repetitions and load (Epley 1985, from
    memory), every further set a little tired."""
    load = one.kg[0]
    most = max(1, int(30 * (best * (1 - TIRED * (one.number - 1)) / load - 1))) if load > 0 else window[1]
    reps = min(window[1], most)
    left = most - reps
    failed = most < window[1]
    return {
        "load_kg": load,
        "reps": reps,
        "to_failure": failed,
        "reps_left": left if not failed and left <= MOST_TOLD and chance.random() < TELLS_LEFT else None,
        "form": "poor" if most < window[0] and chance.random() < 0.3 else None,
    }


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
