"""Time, tension and volume, counted from a person's path."""

from __future__ import annotations

from collections import defaultdict
from dataclasses import dataclass, field

from oaken.people import Person
from oaken.physiology.energy import GRAVITY_M_PER_S2
from oaken.timeline import Doing, SlotUse, Step, load_kg


@dataclass(slots=True)
class WorkDone:
    """What one person does in a class.

    `work_s` counts everything but stretching, `tension_s` the seconds of muscles under load, `lifting_j` the
    mechanical work of lifting load and body. `unknown_loads` names exercises whose load could not be told.
    """

    work_s: float = 0.0
    tension_s: float = 0.0
    waiting_s: float = 0.0
    sets: int = 0
    reps: int = 0
    volume_kg: float = 0.0
    lifting_j: float = 0.0
    prime_s: defaultdict[str, float] = field(default_factory=lambda: defaultdict(float))
    helping_s: defaultdict[str, float] = field(default_factory=lambda: defaultdict(float))
    unknown_loads: set[str] = field(default_factory=set)


def waiting_s(path: list[Step]) -> float:
    """Seconds a path spends waiting for machines."""
    return sum(step.end_s - step.start_s for step in path if step.doing is Doing.WAIT)


def work_done(path: list[Step], slots: list[SlotUse], person: Person) -> WorkDone:
    """Count one person's path."""
    done = WorkDone(waiting_s=waiting_s(path))
    for step in path:
        if step.segment is None:
            continue
        segment, exercise = step.segment, slots[step.slot].exercise
        if not exercise.is_work:
            continue
        done.work_s += step.end_s - step.start_s
        done.sets += step.opens_set
        if not exercise.loads_muscle:
            continue
        tension = segment.effort_s()
        done.tension_s += tension
        for muscle in exercise.prime:
            done.prime_s[muscle] += tension
        for muscle in exercise.helping:
            done.helping_s[muscle] += tension
        reps = segment.total_reps()
        kg = load_kg(segment.load, person, exercise)
        if kg is None and segment.load is not None and exercise.takes_load:
            done.unknown_loads.add(exercise.id)
        done.reps += reps
        done.volume_kg += reps * (kg or 0.0)
        lifted = (kg or 0.0) + exercise.body_mass_share * person.body_mass_kg
        done.lifting_j += reps * lifted * GRAVITY_M_PER_S2 * exercise.displacement_m
    return done
