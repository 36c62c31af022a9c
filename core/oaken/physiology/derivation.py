"""How the demand of an exercise's working phase was derived, step by step."""

from __future__ import annotations

from pydantic import BaseModel

from oaken.basis.words import in_kg
from oaken.domain.catalogue import Catalogue, Exercise
from oaken.physiology.demand import pressor_share, work_met, work_phase_met
from oaken.physiology.metabolic import uptake


class Derivation(BaseModel):
    """From the activity table to the working phase of one exercise. METs are multiples of 3.5 mL/kg/min.

    `phase_met` is the table value freed of its rests, `work_met` that scaled by the working muscle mass;
    `at_usual_setting` is said where a metabolic equation knows the machine or the way: it is then the demand, and the
    table stands beside it. `pressor_percent` is what straining adds to the heart's answer, in percent of its reserve,
    at a middle load.
    """

    code: str
    activity: str
    table_met: float
    duty_percent: float
    rest_met: float
    phase_met: float
    muscle_mass: str
    factor: float
    work_met: float
    pressor_percent: float
    formula: str
    source: str
    at_usual_setting: str = ""


def derivation_of(exercise: Exercise, catalogue: Catalogue) -> Derivation:
    """MET_work = rest + (phase − rest) × factor, with phase = (table − (1 − d)·rest) ÷ d (Ainsworth 2011)."""
    activity = catalogue.activities[exercise.activity]
    mass = catalogue.muscle_mass[exercise.muscle_mass]
    phase = work_phase_met(activity.met, activity.duty, activity.rest_met)
    working = work_met(exercise, None, catalogue)
    return Derivation(
        code=activity.code,
        activity=activity.name,
        table_met=activity.met,
        duty_percent=round(activity.duty * 100),
        rest_met=activity.rest_met,
        phase_met=round(phase, 1),
        muscle_mass=mass.name,
        factor=mass.factor,
        work_met=round(working, 1),
        pressor_percent=round(pressor_share(exercise, None) * 100),
        formula=f"({activity.met:g} − {1 - activity.duty:.2g} × {activity.rest_met:g}) ÷ {activity.duty:g} = "
        f"{phase:.1f}; "
        f"{activity.rest_met:g} + ({phase:.1f} − {activity.rest_met:g}) × {mass.factor:g} = {working:.1f} MET",
        source="2011 Compendium of Physical Activities, Ainsworth et al. (from memory); duty cycle and muscle-mass "
        "factor: common practice, no source",
        at_usual_setting=_at_usual_setting(exercise),
    )


SHOWN_AT_KG = 70.0


def _at_usual_setting(exercise: Exercise) -> str:
    """The equation's demand at the exercise's own setting, in words; empty where no equation applies."""
    at = exercise.equation
    if at is None:
        return ""
    settings = {
        "walk": f"{at.speed_m_per_min * 0.06:.1f} km/h, {at.grade * 100:.0f} %",
        "run": f"{at.speed_m_per_min * 0.06:.1f} km/h, {at.grade * 100:.0f} %",
        "leg_cycle": f"{at.power_w:.0f} W",
        "arm_cycle": f"{at.power_w:.0f} W",
        "row": f"{at.power_w:.0f} W",
        "step": f"{at.step_rate_per_min:.0f} steps/min of {at.height_m * 100:.0f} cm",
    }
    found = uptake(at, SHOWN_AT_KG)
    source = "mechanics, at an efficiency of 20 %" if at.kind == "row" else "ACSM metabolic equations, from memory"
    return (
        f"by equation at the usual setting ({settings[at.kind]}): {found:.1f} mL/kg/min at {in_kg(SHOWN_AT_KG)}, "
        f"{found / 3.5:.1f} MET ({source}); another setting has its own demand"
    )
