"""A class file as everybody lives it: the timeline, and what it demands of each."""

from __future__ import annotations

from dataclasses import dataclass

from oaken.class_file import ClassFile
from oaken.physiology.heart_rate import DRIFT_PER_HOUR
from oaken.physiology.heat import Heat, drift_per_hour, heat_of
from oaken.strain import Strain, strain_of
from oaken.timeline import Circumstances, Timeline, timeline_in

PARALLEL_DEPTH, FULL_DEPTH = 1.0, 1.15
"""Way of a squat to parallel as in the catalogue, and of a full one (common practice, no source)."""


@dataclass(frozen=True, slots=True)
class Lived:
    """A class carried out as expected: circumstances, timeline, strain, and the air's part in it (None: not known)."""

    circumstances: Circumstances
    timeline: Timeline
    strain: Strain
    heat: Heat | None

    @property
    def drift_per_hour(self) -> float:
        """Slow rise of the heart rate in this air, a share of the demand per hour."""
        return DRIFT_PER_HOUR if self.heat is None else drift_per_hour(self.heat.wbgt.value)


def lived(file: ClassFile) -> Lived:
    """Carry a class out as expected. The file must have been checked (`read_class`)."""
    known, plan = file.catalogue(), file.plan
    circumstances = Circumstances.of(file.room_today, file.participants, known, plan.wishes())
    timeline = timeline_in(plan, circumstances)
    depth = FULL_DEPTH if plan.school("squat-depth", known) == "full" else PARALLEL_DEPTH
    heat = None if plan.air is None else heat_of(plan.air)
    return Lived(circumstances, timeline, strain_of(timeline, circumstances, depth), heat)
