"""Work, tension and volume, counted from a person's steps."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass, field, fields

from oaken.domain.people import Person
from oaken.domain.room import Hardware, Unit, nearest_kg
from oaken.physiology.energy import GRAVITY_M_PER_S2
from oaken.schedule.timeline import Doing, SlotUse, Step, load_kg


@dataclass(slots=True)
class WorkDone:
    """What one person does in a block or a class.

    `work_s` and `sets` count everything but stretching, `dense_s` and `dense_sets` what of it counts in the densities;
    `tension_s` are the seconds of muscles under load, `lifting_j` is the mechanical work of lifting load and body.
    `unknown_loads` names exercises whose load could not be told, `loaded_reps` are the repetitions of what takes a load
    and `known_reps` those of them whose load is known.
    Walking, set-up, load changes and changes of side are what makes classes overrun, so each is counted.
    """

    work_s: float = 0.0
    dense_s: float = 0.0
    tension_s: float = 0.0
    waiting_s: float = 0.0
    walking_s: float = 0.0
    set_up_s: float = 0.0
    load_change_s: float = 0.0
    change_of_side_s: float = 0.0
    sets: int = 0
    dense_sets: int = 0
    reps: float = 0.0
    volume_kg: float = 0.0
    loaded_reps: float = 0.0
    known_reps: float = 0.0
    lifting_j: float = 0.0
    prime_s: dict[str, float] = field(default_factory=dict)
    helping_s: dict[str, float] = field(default_factory=dict)
    unknown_loads: frozenset[str] = frozenset()

    @classmethod
    def sum(cls, parts: Sequence[WorkDone]) -> WorkDone:
        """All parts together."""
        total = cls()
        for name in _PLAIN:
            setattr(total, name, sum(getattr(part, name) for part in parts))
        for name in ("prime_s", "helping_s"):
            muscles: dict[str, float] = getattr(total, name)
            for part in parts:
                for muscle, seconds in getattr(part, name).items():
                    muscles[muscle] = muscles.get(muscle, 0.0) + seconds
        total.unknown_loads = frozenset().union(*(part.unknown_loads for part in parts))
        return total


_PLAIN = [field.name for field in fields(WorkDone) if field.type in ("float", "int")]


def work_done(
    path: Sequence[Step], slots: Sequence[SlotUse], person: Person, units: Sequence[Unit], depth: float = 1.0
) -> WorkDone:
    """Count what one person does in their steps, wherever these stand on the axis: all but the seconds that the steps
    themselves take (`work_s`, `waiting_s`, `walking_s`), and what counts in the densities, which `workload_of` adds.

    Loads are those that are really set on the unit (`units` are the room's, which steps name by number). `depth` is the
    share of the full way that squats go, for the mechanical work.
    """
    done = WorkDone()
    unknown = set()
    # a set is done again and again: what one bout is worth is counted once
    times: Counter[tuple[int, int, int]] = Counter()
    bouts = {}
    for step in path:
        bout = step.bout
        if bout is None:
            if step.doing is Doing.CHANGE and step.slot >= 0:
                done.set_up_s += step.set_up_s
                done.load_change_s += step.load_change_s
            continue
        if not slots[step.slot].exercise.is_work:
            continue
        done.sets += step.opens_set
        key = (step.slot, id(bout), step.unit)
        times[key] += 1
        bouts[key] = bout
    for key, count in times.items():
        bout, exercise = bouts[key], slots[key[0]].exercise
        done.change_of_side_s += count * bout.change_of_side_s
        if not exercise.loads_muscle:
            continue
        tension = count * bout.effort_s
        done.tension_s += tension
        for muscle in exercise.prime:
            done.prime_s[muscle] = done.prime_s.get(muscle, 0.0) + tension
        for muscle in exercise.helping:
            done.helping_s[muscle] = done.helping_s.get(muscle, 0.0) + tension
        kg = _as_set(load_kg(bout, person, exercise), units[key[2]].hardware if key[2] >= 0 else None)
        if kg is None and bout.meant_load and exercise.takes_load:
            unknown.add(exercise.id)
        reps = count * bout.reps
        done.reps += reps
        done.volume_kg += reps * (kg or 0.0)
        if exercise.takes_load:
            done.loaded_reps += reps
            done.known_reps += 0.0 if kg is None else reps
        lifted = (kg or 0.0) + exercise.body_mass_share * person.body_mass_kg
        way = exercise.displacement_m * bout.range_share * (depth if exercise.pattern == "squat" else 1.0)
        done.lifting_j += reps * lifted * GRAVITY_M_PER_S2 * way
    done.unknown_loads = frozenset(unknown)
    return done


def _as_set(kg: float | None, hardware: Hardware | None) -> float | None:
    return kg if kg is None or hardware is None else nearest_kg(hardware, kg)
