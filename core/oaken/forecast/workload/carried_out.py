"""A class carried out: its timeline, and what that demands of everybody."""

from __future__ import annotations

from dataclasses import dataclass

from oaken.forecast.workload.columns import Workload, workload_of
from oaken.physiology.heart_rate import COOL, Warmth
from oaken.physiology.heat import Heat, heat_of, warmth_of
from oaken.schedule.class_file import ClassFile
from oaken.schedule.timeline import BlockAt, Circumstances, Timeline, blocks_at, timeline_at

PARALLEL_DEPTH, FULL_DEPTH = 1.0, 1.15
"""Way of a squat to parallel as in the catalogue, and of a full one (common practice, no source)."""


@dataclass(frozen=True, slots=True)
class CarriedOut:
    """A class carried out, as planned or as it actually was: its blocks in their circumstances, the timeline, what that
    demands of everybody, and the air's part in it (`heat` is None where nobody said what the air is like)."""

    circumstances: Circumstances
    blocks: list[BlockAt]
    timeline: Timeline
    workload: Workload
    heat: Heat | None
    warmth: Warmth


def carry_out(file: ClassFile, timeline: Timeline | None = None) -> CarriedOut:
    """Carry a class out: as the plan expects, or in the actual steps. The file must have been checked
    (`read_class`); `timeline` has a path for each of the people of the plan, in their order."""
    known, plan = file.catalogue(), file.plan
    circumstances = Circumstances.of(file.room_today, file.participants, known, plan.wishes())
    blocks = blocks_at(plan.blocks, circumstances)
    if timeline is None:
        timeline = timeline_at(plan, blocks)
    depth = FULL_DEPTH if plan.school("squat-depth", known) == "full" else PARALLEL_DEPTH
    heat = None if plan.air is None else heat_of(plan.air)
    warmth = COOL if plan.air is None else warmth_of(plan.air)
    counted = plan.main_part() if plan.school("density", known) == "main" else None
    workload = workload_of(timeline, circumstances, depth, counted)
    return CarriedOut(circumstances, blocks, timeline, workload, heat, warmth)
