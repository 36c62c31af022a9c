"""What a machine sees: who comes when, with which load, and when the load has to be changed for them."""

from __future__ import annotations

from collections.abc import Mapping

from pydantic import BaseModel

from oaken.domain.people import Person
from oaken.domain.room import Room, load_to_set
from oaken.schedule.timeline import Doing, Timeline, load_kg


class Turn(BaseModel):
    """One set on a unit: who (number in the class), from setting up to the last repetition, and with which load (kg).

    `changes_load` says whether somebody with another load was on that place before; the first load is put on, too.
    """

    number: int
    slot: str
    exercise: str
    from_s: float
    work_from_s: float
    end_s: float
    load_kg: float | None
    changes_load: bool


class Queue(BaseModel):
    """Everybody's turns on one unit in the order of time, and how often its load is changed."""

    unit: str
    turns: list[Turn]
    load_changes: int


def queues_of(timeline: Timeline, people: list[Person], room: Room, usual_steps_kg: Mapping[str, float]) -> list[Queue]:
    """The queue of every unit that somebody uses, in the order of the room; loads as the unit can really hold them, or
    rounded to the usual step of its kind of equipment where its own steps are not known."""
    turns: dict[int, list[tuple[int, Turn]]] = {}
    for person, (who, path) in enumerate(zip(people, timeline.paths, strict=True)):
        set_up_from: float | None = None
        for step in path:
            if step.doing is Doing.CHANGE and step.unit >= 0 and (step.set_up_s or step.load_change_s):
                set_up_from = step.start_s if set_up_from is None else set_up_from
                continue
            if step.doing is Doing.WORK and step.unit >= 0 and step.bout is not None and step.opens_set:
                slot = timeline.slots[step.slot]
                kg = load_kg(step.bout, who, slot.exercise)
                turn = Turn(
                    number=person + 1,
                    slot=slot.id,
                    exercise=slot.exercise.name,
                    from_s=round(step.start_s if set_up_from is None else set_up_from, 1),
                    work_from_s=round(step.start_s, 1),
                    end_s=round(step.end_s, 1),
                    load_kg=_as_read(room, slot.exercise.equipment, kg, usual_steps_kg),
                    changes_load=False,
                )
                turns.setdefault(step.unit, []).append((step.lane, turn))
            elif step.doing is Doing.WORK and step.unit in turns and turns[step.unit][-1][1].number == person + 1:
                lane, last = turns[step.unit][-1]
                turns[step.unit][-1] = (lane, last.model_copy(update={"end_s": round(step.end_s, 1)}))
            set_up_from = None
    return [Queue(unit=room.units[unit].id, **_in_order(mine)) for unit, mine in sorted(turns.items())]


def _as_read(room: Room, kind: str, kg: float | None, usual_steps_kg: Mapping[str, float]) -> float | None:
    if kg is None:
        return None
    if any(unit.kind == kind and unit.hardware is not None for unit in room.units):
        return room.settable(kind, kg)
    return load_to_set(None, kg, usual_steps_kg.get(kind, 0.0))


def _in_order(mine: list[tuple[int, Turn]]) -> dict[str, object]:
    on: dict[int, float | None] = {}
    found = []
    for lane, turn in sorted(mine, key=lambda item: (item[1].from_s, item[1].number)):
        changes = turn.load_kg is not None and on.get(lane) != turn.load_kg
        on[lane] = turn.load_kg if turn.load_kg is not None else on.get(lane)
        found.append(turn.model_copy(update={"changes_load": changes}))
    return {"turns": found, "load_changes": sum(turn.changes_load for turn in found)}
