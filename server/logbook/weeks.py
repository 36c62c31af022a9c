"""The class over time, week by week: what was held, what it came to, and how far the plan was off."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field
from datetime import date, timedelta
from statistics import fmean

from django.db.models import QuerySet
from oaken.basis.days import monday_of
from oaken.forecast.report import figures
from oaken.physiology import training_load
from oaken.session import PlannedAndActual
from studio.models import Studio

from logbook.models import Attendance, Run

OF_WEEKS = {figure.id: figure.week for figure in figures().values() if figure.week}
"""The figures of people that the weeks are drawn from, as they were computed when a class ended: of some a week has the
sum over its classes, of the others the mean."""

FORECAST = ("length", "energy", "heart_mean", "session_effort")
"""Of these it is told how far the forecast was off."""


@dataclass(frozen=True, slots=True)
class HeldClass:
    """A class that was held: planned length and what it took (s), who was planned and came, and its figures, the mean
    of those who came. `blocks` are name, planned and actual seconds."""

    run: int
    name: str
    on: date
    class_id: int
    planned_s: float
    actual_s: float
    planned_people: int
    came: int
    figures: dict[str, float]
    blocks: list[tuple[str, float, float]]
    off: dict[str, float]


@dataclass(slots=True)
class HeldWeek:
    """A week: its Monday, its classes, and for one person who came to all of them what they came to. `rise` is how much
    the load is above the weeks before (None where that cannot be said), `steep` whether that is a steep rise."""

    monday: date
    classes: list[HeldClass] = field(default_factory=list)
    figures: dict[str, float] = field(default_factory=dict)
    rise: float | None = None
    steep: bool = False


@dataclass(frozen=True, slots=True)
class BlockOver:
    """A block by name: how much longer than planned it was, on average and in how many of the classes that had it."""

    name: str
    mean_s: float
    classes: int
    longer: int


def held_classes(studio: Studio, runs: QuerySet[Run] | None = None) -> list[HeldClass]:
    """Classes that are over, the oldest first."""
    chosen = studio.runs.all() if runs is None else runs
    over = chosen.filter(ended_at__isnull=False, began_at__isnull=False)
    own: dict[int, list[dict[str, float]]] = {}
    for run, kept in Attendance.objects.filter(run__in=over).values_list("run_id", "figures"):
        own.setdefault(run, []).append(kept)
    zone = studio.zone
    rows = over.order_by("began_at", "pk").values_list(
        "pk", "saved_as__document__name", "began_at", "saved_as__planned_class", "figures", "saved_as__document__people"
    )
    found = []
    for run, name, began, planned_class, kept_rows, people in rows:
        compared = [PlannedAndActual.model_validate(row) for row in kept_rows]
        length = next((row for row in compared if row.id == "length"), None)
        if length is None or began is None:
            continue
        came = own.get(run, [])
        found.append(
            HeldClass(
                run=run,
                name=str(name),
                on=began.astimezone(zone).date(),
                class_id=planned_class,
                planned_s=length.planned,
                actual_s=length.actual,
                planned_people=len(people or []),
                came=len(came),
                figures=_means(came),
                blocks=[(row.name, row.planned, row.actual) for row in compared if row.id == "block"],
                off=_off(compared),
            )
        )
    return found


def _means(came: Sequence[dict[str, float]]) -> dict[str, float]:
    found = {}
    for name in OF_WEEKS:
        values = [item[name] for item in came if name in item]
        if values:
            found[name] = round(fmean(values), 2)
    return found


def _off(compared: Sequence[PlannedAndActual]) -> dict[str, float]:
    """How far the plan was off, figure by figure, as a share of what actually was."""
    return {row.id: round(row.planned / row.actual - 1, 4) for row in compared if row.actual > 0 and row.id in FORECAST}


def by_week(classes: Sequence[HeldClass]) -> list[HeldWeek]:
    """The classes week by week, weeks in which nothing was held among them."""
    if not classes:
        return []
    first, last = monday_of(classes[0].on), monday_of(classes[-1].on)
    weeks = [HeldWeek(first + timedelta(weeks=number)) for number in range((last - first).days // 7 + 1)]
    for planned_class in classes:
        weeks[(monday_of(planned_class.on) - first).days // 7].classes.append(planned_class)
    loads: list[float] = []
    for week in weeks:
        for name in OF_WEEKS:
            values = [planned_class.figures[name] for planned_class in week.classes if name in planned_class.figures]
            if values:
                week.figures[name] = round(sum(values) if OF_WEEKS[name] == "sum" else fmean(values), 2)
        loads.append(week.figures.get("session_effort", 0.0))
        week.rise = training_load.rise(loads)
        week.steep = week.rise is not None and week.rise > training_load.STEEP_RISE
    return weeks


def overruns(classes: Sequence[HeldClass]) -> list[BlockOver]:
    """Blocks by name, those that overrun most first."""
    found: dict[str, list[float]] = {}
    for planned_class in classes:
        for name, planned, actual in planned_class.blocks:
            if actual > 0:
                found.setdefault(name, []).append(actual - planned)
    told = [
        BlockOver(name, round(fmean(over), 1), len(over), sum(1 for each in over if each > 0))
        for name, over in found.items()
    ]
    return sorted(told, key=lambda item: -item.mean_s)
