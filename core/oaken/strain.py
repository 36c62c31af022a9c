"""What each step of a path demands of one body, as columns over the steps."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from oaken.catalogue import Catalogue, Exercise
from oaken.people import Person
from oaken.physiology.demand import pressor_share, work_met
from oaken.physiology.heart_rate import (
    Floats,
    HeartProfile,
    ReserveCurve,
    Stretches,
    reserve_curve,
    uptake_reserve_share,
)
from oaken.physiology.metabolic import uptake
from oaken.timeline import Bout, Doing, Step, Timeline


@dataclass(frozen=True, slots=True)
class Strain:
    """Columns over the steps of one person's path.

    `met` is the demand by activity table, `equation_met` the same with the metabolic equations where a station has
    one, `pressor` the heart's extra answer to straining as a share of its reserve, `work` whether the step counts as
    work in the densities.
    """

    start_s: Floats
    end_s: Floats
    block: npt.NDArray[np.int64]
    doing: npt.NDArray[np.int64]
    met: Floats
    equation_met: Floats
    pressor: Floats
    work: npt.NDArray[np.bool_]
    stretches: Stretches

    @property
    def minutes(self) -> Floats:
        """Length of each step in minutes."""
        return (self.end_s - self.start_s) / 60

    def reserve(self, profile: HeartProfile) -> ReserveCurve:
        """The heart-rate curve of a heart under this strain."""
        demand = uptake_reserve_share(self.met, profile.vo2max) + self.pressor
        return reserve_curve(self.stretches, demand, profile)


Known = dict[tuple[str, float | None], tuple[float, float]]
"""Demand by table and pressor share of exercises at shares of best, computed once for a whole class."""


def strain_of(path: list[Step], timeline: Timeline, person: Person, catalogue: Catalogue, known: Known) -> Strain:
    """The demand columns of one person's path; `known` is looked up and filled."""
    recovery = catalogue.recovery_met
    idle = {
        Doing.CHANGE: recovery["moving_between_machines"],
        Doing.REST: recovery["between_sets"],
        Doing.WAIT: recovery["between_sets"],
        Doing.FINISHED: recovery["standing"],
        Doing.BREATHER: recovery["on_the_clock"],
    }
    # the few different demands of a path, and which of them each step has
    demands = [(idle.get(doing, 0.0), idle.get(doing, 0.0), 0.0, False) for doing in Doing]
    places: dict[tuple[int, int], int] = {}
    of_step = []
    for step in path:
        if step.bout is None:
            if step.active is None:
                of_step.append(int(step.doing))
                continue
            key = (-1, id(step.active))
        else:
            key = (step.slot, id(step.bout))
        place = places.get(key)
        if place is None:
            place = places[key] = len(demands)
            if step.bout is not None:
                exercise = timeline.slots[step.slot].exercise
                demands.append((*_working(exercise, step.bout, person, catalogue, known), exercise.is_work))
            else:
                assert step.active is not None
                demands.append((*_working(step.active, None, person, catalogue, known), False))
        of_step.append(place)
    met, equation_met, pressor, work = np.array(demands, dtype=np.float64)[of_step].T
    start_s = np.array([step.start_s for step in path])
    end_s = np.array([step.end_s for step in path])
    return Strain(
        start_s=start_s,
        end_s=end_s,
        block=np.array([step.block for step in path]),
        doing=np.array([step.doing for step in path]),
        met=met,
        equation_met=equation_met,
        pressor=pressor,
        work=work.astype(np.bool_),
        stretches=Stretches.cut(start_s, end_s),
    )


def _working(
    exercise: Exercise, bout: Bout | None, person: Person, catalogue: Catalogue, known: Known
) -> tuple[float, float, float]:
    """Demand by table, demand by equation where there is one, and pressor share, of one exercise at one load.

    At a machine setting of the instructor's own the equation is the demand: the table does not know the setting.
    """
    share = bout.loads.share(person.bests_kg.get(exercise.id)) if bout is not None and exercise.takes_load else None
    key = (exercise.id, share)
    if key not in known:
        known[key] = work_met(exercise, share, catalogue), pressor_share(exercise, share)
    met, pressor = known[key]
    if bout is not None and bout.setting is not None:
        at_setting = uptake(bout.setting, person.body_mass_kg) / 3.5
        return at_setting, at_setting, pressor
    equation = uptake(exercise.equation, person.body_mass_kg) / 3.5 if exercise.equation else met
    return met, equation, pressor
