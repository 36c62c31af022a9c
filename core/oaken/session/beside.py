"""After the end: every figure of the plan beside that of the class as it was lived."""

from __future__ import annotations

from collections.abc import Callable

from pydantic import BaseModel, ConfigDict

from oaken.basis.estimate import Estimate
from oaken.forecast import forecast
from oaken.forecast.report import Figures, Forecast
from oaken.schedule.class_file import ClassFile
from oaken.session.lived import Lived


class FigureBeside(BaseModel):
    """A figure as it was planned and as it was lived, with its unit; `of_bodies` ones are for instructors."""

    model_config = ConfigDict(json_schema_serialization_defaults_required=True)

    name: str
    unit: str
    planned: float
    lived: float
    of_bodies: bool


Read = Callable[[Figures], Estimate | None]

FIGURES: tuple[tuple[str, str, bool, Read], ...] = (
    ("Share of time in work", "%", False, lambda figures: figures.work_share),
    ("Sets a minute each", "/min", False, lambda figures: figures.sets_per_minute),
    ("Load a minute each", "kg/min", False, lambda figures: figures.load_per_minute),
    ("Waiting each", "s", False, lambda figures: figures.waiting),
    ("Impulse each", "units", True, lambda figures: figures.impulse),
    ("Zone sum each", "units", True, lambda figures: figures.zone_sum),
    ("Session effort each", "units", True, lambda figures: figures.session_effort),
    ("Vigorous or more each", "min", True, lambda figures: figures.vigorous_or_more),
    ("Mean heart rate", "bpm", True, lambda figures: figures.heart_mean),
    ("Highest heart rate", "bpm", True, lambda figures: figures.heart_peak),
    ("Energy each", "kcal", True, lambda figures: figures.energy),
)


def planned_and_lived(file: ClassFile, real: Lived, told: Forecast | None = None) -> list[FigureBeside]:
    """The figures in the order in which they are read: the length, each block's time, densities, waiting, hearts,
    energy. A block that was gone through twice counts both times. `told` is the forecast of the lived class, where it
    is known already."""
    planned, lived = forecast(file), told or forecast(real.file, real.timeline)
    rows = [_row("Length of the class", "s", planned.length.value, lived.length.value)]
    spent: dict[str, float] = {}
    for block in lived.blocks:
        # the second going through a block has a number behind its id
        origin = block.id.rsplit(".", 1)[0] if block.id.rsplit(".", 1)[-1].isdigit() else block.id
        spent[origin] = spent.get(origin, 0.0) + block.end_s - block.start_s
    for block in planned.blocks:
        rows.append(_row(block.name, "s", block.end_s - block.start_s, spent.get(block.id, 0.0)))
    for name, unit, of_bodies, read in FIGURES:
        then, now = read(planned.figures), read(lived.figures)
        if then is not None and now is not None:
            rows.append(_row(name, unit, then.value, now.value, of_bodies=of_bodies))
    return rows


def _row(name: str, unit: str, planned: float, lived: float, *, of_bodies: bool = False) -> FigureBeside:
    return FigureBeside(name=name, unit=unit, planned=round(planned, 3), lived=round(lived, 3), of_bodies=of_bodies)
