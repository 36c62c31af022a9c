"""The kinds of change: why each costs, and how much for each aim."""

from __future__ import annotations

from functools import cache

from pydantic import BaseModel, ConfigDict

from oaken.basis.data_files import shipped_json
from oaken.design.adjustments.edits import Attempt
from oaken.domain.catalogue import Catalogue
from oaken.plan import Aim, ClassPlan

REST_SCHOOL = {"short": 0.5, "quality": 1.3}
"""How the chosen school of rests weighs a change of rests."""


class Kind(BaseModel):
    """A kind of change: why it costs, and how much for each aim."""

    model_config = ConfigDict(frozen=True, extra="forbid")

    id: str
    name: str
    why: str
    weights: dict[Aim, float]


@cache
def kinds() -> dict[str, Kind]:
    """Every kind of change by id, from the data file beside this module."""
    raw = shipped_json("oaken.design.adjustments", "weights.json")
    return {row["id"]: Kind.model_validate(row) for row in raw["kinds"]}


def cost_of(kind: Kind, trial: Attempt, plan: ClassPlan, known: Catalogue) -> float:
    """Weight for the class's aim × the share that changes, 0 to 100."""
    weight = kind.weights[plan.aim]
    if kind.id in ("shorter_rest", "longer_rest"):
        school = REST_SCHOOL[plan.school("rest", known)]
        weight *= school if kind.id == "shorter_rest" else 1 / school
    return float(min(100.0, weight * min(1.0, trial.share) ** 0.5))
