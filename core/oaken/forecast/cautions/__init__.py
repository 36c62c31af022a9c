"""What can go wrong in a planned class, with the reason and a safer choice.

Cautions inform; they never clear anybody to train. Stop signs, local rules and licensed practice come first.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from oaken.forecast.cautions.dose import dose_cautions
from oaken.forecast.cautions.house import house_cautions
from oaken.forecast.cautions.in_order import Work, works_of
from oaken.forecast.cautions.order import order_cautions
from oaken.forecast.cautions.people import people_cautions
from oaken.forecast.cautions.room import room_cautions
from oaken.forecast.cautions.warmth import heat_cautions
from oaken.forecast.report import Caution, PersonForecast
from oaken.physiology.heat import Heat
from oaken.plan import ClassPlan, HouseRule
from oaken.schedule.arrange.collisions import Conflict
from oaken.schedule.timeline import Circumstances, Timeline

__all__ = ["STOP_SIGNS", "Work", "cautions_of", "works_of"]

STOP_SIGNS = (
    "Stop at chest discomfort, dizziness, faintness, unusual breathlessness or sharp pain. "
    "These figures are estimates for planning and clear nobody to train: studio rules and medical advice come first."
)


def cautions_of(
    plan: ClassPlan,
    around: Circumstances,
    timeline: Timeline,
    forecasts: list[PersonForecast],
    unknown_loads: list[set[str]],
    at_maximum: list[dict[str, float]],
    heat: Heat | None,
    rules: Sequence[HouseRule],
    conflicts: Mapping[int, Sequence[Conflict]],
) -> list[Caution]:
    """Every caution of the class, clashes first. `at_maximum` names the exercises that ask of somebody more than they
    can take up, with the longest stretch in seconds; `conflicts` say why a block cannot be had in its time."""
    room, people, catalogue = around.room, around.people, around.catalogue
    found = [
        *room_cautions(plan, around, timeline, conflicts),
        *order_cautions(plan, room, catalogue),
        *dose_cautions(plan, catalogue),
        *heat_cautions(heat),
        *house_cautions(rules, plan, people, heat, catalogue),
        *people_cautions(plan, room, people, forecasts, unknown_loads, at_maximum, catalogue),
    ]
    order = {"clash": 0, "caution": 1, "note": 2}
    return sorted(found, key=lambda caution: order[caution.severity])
