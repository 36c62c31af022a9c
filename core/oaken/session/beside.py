"""After the end: every figure of the plan beside that of the class as it actually was."""

from __future__ import annotations

from typing import Any

from pydantic import BaseModel, ConfigDict, model_validator

from oaken.basis.estimate import Estimate
from oaken.forecast import forecast
from oaken.forecast.report import Forecast, figures
from oaken.schedule.class_file import ClassFile
from oaken.session.actual import Actual


class PlannedAndActual(BaseModel):
    """A figure as it was planned and as it actually was, with its unit; `of_bodies` ones are for instructors.

    `id` is that of the registry, or “block” where it is the time of a block. Earlier releases kept neither, and called
    what happened “lived”: their rows are read by the names they had.
    """

    model_config = ConfigDict(json_schema_serialization_defaults_required=True)

    id: str
    name: str
    unit: str
    planned: float
    actual: float
    of_bodies: bool

    @model_validator(mode="before")
    @classmethod
    def _as_earlier_releases_kept_it(cls, row: Any) -> Any:
        if not isinstance(row, dict) or "lived" not in row:
            return row
        known = {figure.kept_as: figure for figure in figures().values() if figure.kept_as}.get(row["name"])
        named = {"id": "block"} if known is None else {"id": known.id, "name": known.label}
        return {**{key: value for key, value in row.items() if key != "lived"}, **named, "actual": row["lived"]}


def planned_and_actual(file: ClassFile, real: Actual, predicted: Forecast | None = None) -> list[PlannedAndActual]:
    """The figures in the order in which they are read: the length, each block's time, densities, waiting, hearts,
    energy. A block that was gone through twice counts both times. `predicted` is the forecast of the actual class,
    where it is known already."""
    planned, actual = forecast(file), predicted or forecast(real.file, real.timeline)
    rows = [_row("length", planned.length, actual.length)]
    spent: dict[str, float] = {}
    for block in actual.blocks:
        # the second going through a block has a number behind its id
        origin = block.id.rsplit(".", 1)[0] if block.id.rsplit(".", 1)[-1].isdigit() else block.id
        spent[origin] = spent.get(origin, 0.0) + block.end_s - block.start_s
    for block in planned.blocks:
        seconds = round(block.end_s - block.start_s, 3), round(spent.get(block.id, 0.0), 3)
        rows.append(
            PlannedAndActual(
                id="block", name=block.name, unit="s", planned=seconds[0], actual=seconds[1], of_bodies=False
            )
        )
    for figure in figures().values():
        if figure.compared:
            then, now = getattr(planned.figures, figure.id), getattr(actual.figures, figure.id)
            if then is not None and now is not None:
                rows.append(_row(figure.id, then, now))
    return rows


def _row(name: str, planned: Estimate, actual: Estimate) -> PlannedAndActual:
    figure = figures()[name]
    return PlannedAndActual(
        id=name,
        name=figure.label,
        unit=figure.unit,
        planned=round(planned.value, 3),
        actual=round(actual.value, 3),
        of_bodies=figure.about_bodies,
    )
