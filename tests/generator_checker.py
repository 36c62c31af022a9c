"""Whether a class holds every hard rule of a generated class, from the plan, the room, the people and the tables alone: shares
nothing with what chooses and arranges."""

from __future__ import annotations

import json
from collections import Counter
from functools import cache

from oaken.forecast import forecast
from oaken.forecast.report import Forecast
from oaken.plan import ClassPlan
from oaken.schedule.class_file import ClassFile, check_class
from places import ROOT

WORK = 0


@cache
def grades() -> dict[str, dict[str, int]]:
    """How much each exercise asks of each condition."""
    table = json.loads((ROOT / "core/oaken/domain/people/conditions/care.json").read_text(encoding="utf-8"))
    return {
        condition: {name: grade["asks"] for grade in care["groups"] for name in grade["exercises"]}
        for condition, care in table["conditions"].items()
    }


def done_by(plan: ClassPlan, exercise: str, person: str, level: str) -> str:
    """What somebody does where an exercise stands."""
    for item in plan.instead:
        if item.exercise == exercise and (person in item.people or item.level == level):
            return item.other
    return exercise


def faults_of(file: ClassFile, plan: ClassPlan) -> tuple[list[str], Forecast]:
    """Every hard rule that is broken, in words, and the forecast they were read from."""
    whole = check_class(file.model_copy(update={"plan": plan}))
    told, known = forecast(whole), whole.catalogue()
    found = []
    if plan.blocks[0].purpose != "warm_up" or plan.blocks[-1].purpose != "cool_down" or len(plan.blocks) < 3:
        found.append("it is not complete from warm-up to cool-down")
    if told.length.value > plan.slot_min * 60 + 0.5:
        found.append(f"it ends {told.length.value - plan.slot_min * 60:.0f} s after its slot")
    for _, part in plan.placed():
        for person in whole.participants:
            name = done_by(plan, part.exercise, person.id, person.level)
            exercise = known.exercises[name]
            if exercise.is_work:
                worst = max((grades()[item].get(name, 3) for item in person.careful), default=0)
                if worst >= 2:
                    found.append(f"{name} asks for care with {person.id}")
            if exercise.equipment != "none" and not any(unit.kind == exercise.equipment for unit in whole.room.units):
                found.append(f"{name} has no equipment here")
    # who works on which unit at once, read second by second from everybody's steps
    ends: list[tuple[float, int, int]] = []
    for each_person in told.people:
        path = each_person.path
        for at, (start, doing, unit) in enumerate(zip(path.start_s, path.doing, path.unit, strict=True)):
            stop = path.start_s[at + 1] if at + 1 < len(path.start_s) else told.length.value
            if doing == WORK and unit >= 0:
                ends += [(start + 0.01, 1, unit), (stop - 0.01, -1, unit)]
    each = {block.turn_s: 2 for block in plan.blocks if block.kind == "circuit" and block.turn_s}
    on: Counter[int] = Counter()
    for _, change, unit in sorted(ends):
        on[unit] += change
        if on[unit] > whole.room.units[unit].places * (2 if each else 1):
            found.append(f"too many at once on {whole.room.units[unit].name}")
            break
    return found, told
