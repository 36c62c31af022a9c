"""A class in a handful of figures, for pictures of many classes: the likely course of it only, without ranges."""

from __future__ import annotations

from threading import RLock

import numpy as np
from cachetools import LRUCache, cached
from pydantic import BaseModel, ConfigDict

from oaken.forecast.build import LIKELY_EVERY_S
from oaken.forecast.workload import carry_out, hearts_under
from oaken.physiology import energy, training_load
from oaken.physiology.body import body_of
from oaken.schedule.class_file import ClassFile
from oaken.schedule.timeline import Doing, Timeline


class Brief(BaseModel):
    """A class in short: its length (s), and for one person, the mean of the class: share of time in work (%), session
    effort, impulse and zone sum (units), minutes vigorous or more, energy (kcal), volume load (kg), waiting (s), and
    sets by prime muscle (id → sets). Hearts count those to whom heart figures apply."""

    model_config = ConfigDict(json_schema_serialization_defaults_required=True)

    length_s: float
    slot_s: float
    work_share: float
    session_effort: float
    impulse: float
    zone_sum: float
    vigorous_min: float
    kcal: float
    volume_kg: float
    waiting_s: float
    sets: dict[str, float]


def brief(file: ClassFile) -> Brief:
    """The class in short. The file must have been checked (`read_class`). What was asked before is remembered."""
    plan = file.plan.model_copy(update={"name": "class", "starts": "", "note": ""})
    return _brief(file.model_copy(update={"plan": plan, "house_rules": []}))


KEPT = 400


@cached(LRUCache(maxsize=KEPT), key=lambda file: file.model_dump_json(), lock=RLock())
def _brief(file: ClassFile) -> Brief:
    people = file.participants
    carried = carry_out(file)
    workload, timeline = carried.workload, carried.timeline
    bodies = [body_of(person, carried.warmth).likely for person in people]
    (hearts,) = hearts_under(workload, people, [(bodies, LIKELY_EVERY_S)], timeline.length_s)
    beating = np.array([not person.heart_medication for person in people])
    minutes = timeline.length_s / 60
    ratings = [training_load.expected_rating(share) for share in hearts.working_reserve.tolist()]
    effort = np.array([training_load.session_effort(rating, minutes) for rating in ratings])
    per_met = np.array([energy.kcal_per_min(1.0, person.body_mass_kg) for person in people])
    gross = workload.per_person(workload.met * workload.minutes) * per_met
    work_s = float(np.mean([done.dense_s for done in workload.done]))

    def of_hearts(column: object) -> float:
        values = np.asarray(column)[beating]
        return round(float(values.mean()), 2) if values.size else 0.0

    return Brief(
        length_s=round(timeline.length_s, 1),
        slot_s=file.plan.slot_min * 60.0,
        work_share=round(100 * work_s / timeline.length_s, 1) if timeline.length_s else 0.0,
        session_effort=of_hearts(effort),
        impulse=of_hearts(hearts.impulse),
        zone_sum=of_hearts(hearts.zone_sum),
        vigorous_min=of_hearts(hearts.vigorous_min),
        kcal=round(float(np.mean(gross)), 1),
        volume_kg=round(float(np.mean([done.volume_kg for done in workload.done])), 1),
        waiting_s=round(float(np.mean([done.waiting_s for done in workload.done])), 1),
        sets=_sets(timeline),
    )


def _sets(timeline: Timeline) -> dict[str, float]:
    """Sets of one person by the muscle that moves them, the mean of the class."""
    found: dict[str, float] = {}
    for passage in timeline.passages:
        for path in passage.layout.paths:
            for step in path:
                if step.doing is not Doing.WORK or not step.opens_set:
                    continue
                exercise = timeline.slots[step.slot + passage.first_slot].exercise
                if exercise.is_work and exercise.loads_muscle:
                    for muscle in exercise.prime:
                        found[muscle] = found.get(muscle, 0.0) + 1
    crowd = timeline.crowd
    return {muscle: round(count / crowd, 1) for muscle, count in sorted(found.items())}
