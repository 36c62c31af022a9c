"""The forecast as assistants get it: when and where things happen, with which loads, and nothing of anybody's body.

Every field is named here; what is added to a forecast later reaches nobody who may not read it until it is named, too.
Energy is computed from body mass, so it goes with the bodies. Fields that stay empty have the type `None`: they are
there so that screens read both forecasts alike.
"""

from __future__ import annotations

from typing import Any

from pydantic import BaseModel, ConfigDict, create_model

from oaken.basis.estimate import Estimate
from oaken.domain.people import Level
from oaken.forecast.report.registry import figures_of_people
from oaken.forecast.report.shape import (
    BlockForecast,
    Caution,
    Figures,
    Forecast,
    MuscleShare,
    Overheads,
    PathColumns,
    PersonForecast,
    SlotReport,
)
from oaken.physiology.heat import Heat


class Open(BaseModel):
    """What assistants get: every field is always there."""

    model_config = ConfigDict(json_schema_serialization_defaults_required=True)


def _open_fields() -> dict[str, Any]:
    """The figures of time and load as they are; those about bodies are never there."""
    return {
        figure.id: (None, None) if figure.about_bodies else (Figures.model_fields[figure.id].annotation, ...)
        for figure in figures_of_people()
    }


OpenFigures = create_model(
    "OpenFigures",
    __base__=Open,
    __doc__="The figures of time and load; those of hearts and energy are for instructors.",
    **_open_fields(),
)


class OpenPerson(Open):
    """One person's way through the class."""

    id: str
    number: int
    name: str
    level: Level
    path: PathColumns
    figures: OpenFigures
    rest_bpm: None = None
    max_bpm: None = None
    vo2max: None = None
    fitted: None = None
    heart_applies: None = None
    workload: None = None
    targets: None = None
    bpm: None = None
    bpm_low: None = None
    bpm_high: None = None
    kcal: None = None
    minutes_by_class: None = None


class OpenBlock(Open):
    """A block on the time axis."""

    id: str
    name: str
    kind: str
    start_s: float
    end_s: float
    shortest_s: float
    longest_s: float
    bound_s: float
    turns: int
    breathers: int
    work_share: float
    waiting_s: float
    kcal: None = None


class OpenForecast(Open):
    """A forecast without anything of anybody's body, heart or care."""

    length: Estimate
    slot_s: int
    chance_inside: Estimate
    overheads: Overheads
    sample_s: int
    kcal_sample_s: int
    figures: OpenFigures
    blocks: list[OpenBlock]
    slots: list[SlotReport]
    people: list[OpenPerson]
    muscles: list[MuscleShare]
    cautions: list[Caution]
    stop_signs: str
    heat: Heat | None
    class_names: list[str]
    class_limits: list[float]
    class_energy: None = None
    band: None = None
    kcal: None = None
    kcal_low: None = None
    kcal_high: None = None
    minutes_by_class: None = None


OPEN_SUBJECTS = ("plan", "waiting", "warmth", "house")
"""What cautions may be about that assistants read, unless they are marked as telling of somebody's health."""


def for_assistants(predicted: Forecast) -> OpenForecast:
    """What assistants may read of a forecast."""
    return OpenForecast(
        length=predicted.length,
        slot_s=predicted.slot_s,
        chance_inside=predicted.chance_inside,
        overheads=predicted.overheads,
        sample_s=predicted.sample_s,
        kcal_sample_s=predicted.kcal_sample_s,
        figures=_figures(predicted.figures),
        blocks=[_block(block) for block in predicted.blocks],
        slots=predicted.slots,
        people=[_person(person) for person in predicted.people],
        muscles=predicted.muscles,
        cautions=[caution for caution in predicted.cautions if caution.about in OPEN_SUBJECTS and not caution.health],
        stop_signs=predicted.stop_signs,
        heat=predicted.heat,
        class_names=predicted.class_names,
        class_limits=predicted.class_limits,
    )


def _figures(told: Figures) -> BaseModel:
    shown = {figure.id: getattr(told, figure.id) for figure in figures_of_people() if not figure.about_bodies}
    open_figures: BaseModel = OpenFigures(**shown)
    return open_figures


def _person(person: PersonForecast) -> OpenPerson:
    return OpenPerson(
        id=person.id,
        number=person.number,
        name=person.name,
        level=person.level,
        path=person.path,
        figures=_figures(person.figures),
    )


def _block(block: BlockForecast) -> OpenBlock:
    return OpenBlock(
        id=block.id,
        name=block.name,
        kind=block.kind,
        start_s=block.start_s,
        end_s=block.end_s,
        shortest_s=block.shortest_s,
        longest_s=block.longest_s,
        bound_s=block.bound_s,
        turns=block.turns,
        breathers=block.breathers,
        work_share=block.work_share,
        waiting_s=block.waiting_s,
    )
