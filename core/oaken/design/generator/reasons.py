"""Why each exercise of a generated class is there."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from pydantic import BaseModel

from oaken.basis.words import counted
from oaken.design.generator.fitted import FittedPart
from oaken.design.generator.pool import Choice, Pool, load_is_known
from oaken.design.generator.request import LONG_AGO_WEEKS, choosing
from oaken.design.generator.weighed import Weighed
from oaken.plan import ClassPlan
from oaken.schedule.timeline.schedule import NO_EQUIPMENT


class Reason(BaseModel):
    """An exercise of the main part (by the part's id), and what speaks for it, the weightiest first."""

    part: str
    exercise: str
    name: str
    because: list[str]


def reasons_of(
    plan: ClassPlan, parts: Sequence[FittedPart], pool: Pool, target: Mapping[str, float], figures: Weighed
) -> list[Reason]:
    """The reasons of every exercise in the order of the plan."""
    chosen = {item.exercise.id: item for part in parts for item in part.chosen}
    held = {muscle.muscle: muscle.share for muscle in figures.muscles}
    main = plan.main_part()
    found = []
    for place, part in plan.placed():
        choice = chosen.get(part.exercise)
        if choice is None or not main[int(place[1])]:
            continue
        because = list(_because(choice, pool, target, held))
        found.append(Reason(part=part.id, exercise=part.exercise, name=choice.exercise.name, because=because))
    return found


def _because(choice: Choice, pool: Pool, target: Mapping[str, float], held: Mapping[str, float]) -> list[str]:
    exercise, known = choice.exercise, pool.known
    found = []
    if exercise.id in pool.class_request.pinned:
        found.append("you asked to keep it")
    if exercise.id in choosing().breath.exercises:
        found.append("for the breath: the heart works while the legs change")
    for muscle in exercise.prime if exercise.loads_muscle else ():
        share = target.get(muscle, 0.0)
        if share:
            name = known.muscles[muscle].name.lower()
            found.append(f"{name}: {100 * share:.0f} % of the tension wanted, {100 * held.get(muscle, 0):.0f} % here")
    if exercise.equipment == NO_EQUIPMENT:
        found.append("on the floor, without a machine")
    else:
        kind = known.equipment[exercise.equipment].name.lower()
        found.append(f"{counted(choice.places, 'place')} ({kind})")
    lately = [item.weeks for item in pool.class_request.lately if item.exercise == exercise.id]
    if pool.class_request.lately and (not lately or min(lately) >= LONG_AGO_WEEKS):
        found.append(f"not done for {min(lately)} weeks" if lately else "not done in the last weeks")
    for other, people in choice.instead.items():
        name = known.exercises[other].name.lower()
        found.append(f"{name} instead for {counted(len(people), 'person', 'people')}: kinder or easier")
    for other, people in choice.shared.items():
        name = known.exercises[other].name.lower()
        found.append(f"{name} for {counted(len(people), 'person', 'people')}: shared out, so that nobody queues")
    if exercise.takes_load and not load_is_known(choice, pool.crowd):
        found.append("loads by how many repetitions are left: few know their best here")
    return found
