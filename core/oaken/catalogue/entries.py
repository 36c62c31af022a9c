"""What the catalogue's data files hold, one model a kind of entry."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field

from oaken.prescription.tempo import Tempo

Nature = Literal["resistance", "body_weight", "rhythmic", "mobility"]


class Entry(BaseModel):
    """Anything in the catalogue: frozen, and closed to fields nobody knows."""

    model_config = ConfigDict(frozen=True, extra="forbid")


class NamedEntry(Entry):
    """A muscle."""

    id: str
    name: str


class EquipmentKind(NamedEntry):
    """A kind of equipment with the seconds it costs to set it up and to change its load."""

    set_up_s: Annotated[float, Field(ge=0, le=300)]
    load_change_s: Annotated[float, Field(ge=0, le=300)]


class MuscleMassClass(NamedEntry):
    """How much muscle works, as a factor on the oxygen cost above recovery."""

    factor: Annotated[float, Field(gt=0, le=1)]


class Activity(Entry):
    """A row of the activity table.

    `met` averages work and rest. `duty` is the share of working time the value stands for and `rest_met` the demand
    between efforts: with both, the demand of the working phase alone can be derived.
    """

    code: str
    name: str
    met: Annotated[float, Field(gt=0, le=25)]
    duty: Annotated[float, Field(gt=0, le=1)]
    rest_met: Annotated[float, Field(gt=0, le=5)]


class EquationSetting(Entry):
    """The machine setting or cadence with which a metabolic equation can cross-check the activity table."""

    kind: Literal["walk", "run", "leg_cycle", "step"]
    speed_m_per_min: float = 0.0
    grade: float = 0.0
    power_w: float = 0.0
    step_rate_per_min: float = 0.0
    height_m: float = 0.0


class Exercise(NamedEntry):
    """An exercise of the catalogue.

    `nature` decides the heart's answer: static effort in resistance work drives it above the oxygen cost.
    `displacement_m` is the height through which the load (and `body_mass_share` of the body) is lifted each rep.
    """

    equipment: str
    pattern: str
    prime: list[str]
    helping: list[str]
    sides: Literal["two_sided", "one_sided"]
    nature: Nature
    muscle_mass: str
    activity: str
    tempo: Tempo
    displacement_m: Annotated[float, Field(ge=0, le=2)]
    body_mass_share: Annotated[float, Field(ge=0, le=1)]
    takes_load: bool
    equation: EquationSetting | None = None

    @property
    def loads_muscle(self) -> bool:
        """Whether its seconds count as time under tension."""
        return self.nature in ("resistance", "body_weight")

    @property
    def is_work(self) -> bool:
        """Whether its seconds count as work in the densities: stretching does not."""
        return self.nature != "mobility"
