"""A plan read from first to last, as the advice on order reads it."""

from __future__ import annotations

from dataclasses import dataclass

from oaken.domain.catalogue import Catalogue, Exercise
from oaken.domain.prescription import Segment
from oaken.forecast.report import Caution, Fix, Severity
from oaken.physiology.strength import load_meant
from oaken.plan import ClassPlan, Leg, Slot, Station
from oaken.plan.changes import Change
from oaken.schedule.timeline.bouts import count_at_most

REAL_WORK = ("resistance", "body_weight")


@dataclass(frozen=True, slots=True)
class Work:
    """One slot of the plan in its order: where it stands and what is done there."""

    block: int
    group: int
    part: Slot | Station | Leg
    exercise: Exercise

    @property
    def id(self) -> str:
        """The slot's id."""
        return self.part.id

    @property
    def rank(self) -> int:
        """Place of the exercise in the usual order."""
        return usual_rank(self.exercise)

    def shares(self) -> list[float]:
        """Every share of best that is prescribed here, said as such or by effort."""
        if isinstance(self.part, Slot):
            found = [share_in(segment) for run in self.part.sets for segment in run.segments]
        elif isinstance(self.part, Leg):
            found = [share_in(self.part.turn)]
        else:
            found = [load_meant(self.part.load, None).share_of_best] if self.part.load else []
        return [share for share in found if share is not None]


def usual_rank(exercise: Exercise) -> int:
    """Place in the usual order: free compound, supported compound, one leg, single joint, calf, core, rest."""
    if exercise.nature not in REAL_WORK:
        return 9
    if exercise.muscle_mass == "two_leg_compound":
        return 1 if "supported" in exercise.tags or exercise.nature == "body_weight" else 0
    return {"one_leg_compound": 2, "single_joint": 3, "calf": 4, "floor_core": 5}.get(exercise.muscle_mass, 9)


def share_in(segment: Segment) -> float | None:
    """The share of best that a part of a set is done with; None where that cannot be told from the plan."""
    return load_meant(segment.load, count_at_most(segment)).share_of_best if segment.load else None


def works_of(plan: ClassPlan, catalogue: Catalogue) -> list[Work]:
    """Every slot in the order of the plan."""
    return [
        Work(int(path[1]), int(path[3]) if path[2] == "groups" else -1, part, catalogue.exercises[part.exercise])
        for path, part in plan.placed()
    ]


def caution_at(
    severity: Severity, work: Work, message: str, safer: str, label: str = "", change: Change | None = None
) -> Caution:
    """A caution on one slot, with its safer choice and, where there is one, the change that makes it."""
    fix = Fix(label=label, change=change) if change is not None else None
    return Caution(
        severity=severity, block=work.block, slots=[work.id], people=[], message=message, safer=safer, fix=fix
    )
