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
    Walking, set-up, load changes and changes of side are what makes classes overrun, so each is counted.
    """

    work_s: float = 0.0
    tension_s: float = 0.0
    waiting_s: float = 0.0
    walking_s: float = 0.0
    set_up_s: float = 0.0
    load_change_s: float = 0.0
    change_of_side_s: float = 0.0
    sets: int = 0
    reps: float = 0.0
    volume_kg: float = 0.0
    lifting_j: float = 0.0
    prime_s: defaultdict[str, float] = field(default_factory=lambda: defaultdict(float))
    helping_s: defaultdict[str, float] = field(default_factory=lambda: defaultdict(float))
    prime_in_block_s: defaultdict[tuple[str, int], float] = field(default_factory=lambda: defaultdict(float))
    unknown_loads: set[str] = field(default_factory=set)


def waiting_s(path: list[Step]) -> float:
    """Seconds a path spends waiting for machines."""
    return sum(step.end_s - step.start_s for step in path if step.doing is Doing.WAIT)


def work_done(path: list[Step], slots: list[SlotUse], person: Person, depth: float = 1.0) -> WorkDone:
    """Count one person's path. `depth` is the share of the full way that squats go, for the mechanical work."""
    done = WorkDone(waiting_s=waiting_s(path))
    for step in path:
        bout = step.bout
        if bout is None:
            if step.doing is Doing.CHANGE and step.slot >= 0:
                done.set_up_s += step.set_up_s
                done.load_change_s += step.load_change_s
                done.walking_s += step.end_s - step.start_s - step.set_up_s - step.load_change_s
            continue
        exercise = slots[step.slot].exercise
        if not exercise.is_work:
            continue
        done.work_s += step.end_s - step.start_s
        done.sets += step.opens_set
        done.change_of_side_s += bout.change_of_side_s
        if not exercise.loads_muscle:
            continue
        tension = bout.effort_s
        done.tension_s += tension
        for muscle in exercise.prime:
            done.prime_s[muscle] += tension
            done.prime_in_block_s[muscle, step.block] += tension
        for muscle in exercise.helping:
            done.helping_s[muscle] += tension
        kg = load_kg(bout, person, exercise)
        if kg is None and bout.meant_load and exercise.takes_load:
            done.unknown_loads.add(exercise.id)
        done.reps += bout.reps
        done.volume_kg += bout.reps * (kg or 0.0)
        lifted = (kg or 0.0) + exercise.body_mass_share * person.body_mass_kg
        way = exercise.displacement_m * bout.range_share * (depth if exercise.pattern == "squat" else 1.0)
        done.lifting_j += bout.reps * lifted * GRAVITY_M_PER_S2 * way
    return done
