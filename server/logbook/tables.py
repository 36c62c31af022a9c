"""The rows of every table that goes out, and what the two that come back change."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from datetime import date, datetime, timedelta
from typing import Literal, TypeVar

from django.db import transaction
from django.db.models import QuerySet
from oaken.basis.estimate import Estimate
from oaken.basis.faults import Fault, FaultyInput, faults_in
from oaken.basis.limits import in_words, most
from oaken.exports.tables import LiftCell, SettingCell, TableRow, read_lifts, read_settings
from oaken.forecast import forecast
from oaken.forecast.report import Figures, figures_of_people
from oaken.physiology.strength import curve_of
from oaken.programme.progress import SetRecord, series_of
from people.models import Lift, Person, UnitSetting
from planning import keeping as plans
from planning.models import PlannedClass
from studio.models import MachineUnit, Studio
from studio.own import house_catalogue

from logbook.models import DoneSet, Recording, Run
from logbook.runs_api import name_of
from logbook.sets import records_of

_fault = faults_in("the table")
ROWS = 2000
EARLIEST = date(2000, 1, 1)

Row = Sequence[object]


@dataclass(frozen=True)
class TableAsked:
    """What of a studio goes out: from one day to another (both count), of everybody or one person."""

    studio: Studio
    since: date
    until: date
    person: str = ""

    def runs(self) -> QuerySet[Run]:
        """The classes that were held in that time."""
        zone = self.studio.zone
        from_, to = (datetime.combine(day, datetime.min.time(), zone) for day in (self.since, self.until + ONE_DAY))
        held = self.studio.runs.filter(began_at__gte=from_, began_at__lt=to, ended_at__isnull=False)
        return held.select_related("saved_as").order_by("began_at", "pk")

    def people(self) -> QuerySet[Person]:
        """Whom it is about, those who were erased left out."""
        everybody = self.studio.people.filter(erased=False).order_by("name", "pk")
        return everybody.filter(key=self.person) if self.person else everybody

    def day(self, run: Run) -> date:
        """The day of a class where the studio is."""
        return (run.began_at or run.opened_at).astimezone(self.studio.zone).date()


ONE_DAY = timedelta(days=1)


def sets(asked: TableAsked) -> Iterator[Row]:
    """Every set that was done."""
    names = _exercise_names(asked.studio)
    rows = DoneSet.objects.filter(run__in=asked.runs(), person__in=asked.people()).order_by("on", "run_id", "pk")
    told = rows.values_list(
        "on", "run_id", "person__key", "person__name", "exercise", "part", "number", "side", "unit", "load_kg", "reps",
        "seconds", "volume_kg", "tension_s", "planned_kg", "low", "high", "ended", "reps_left", "helped", "poor",
        "as_planned", "helped_reps", "rest_s", "set_up", "in_parts",
    )  # fmt: skip
    for row in told.iterator(chunk_size=ROWS):
        yield [*row[:5], names.get(row[4], row[4]), *row[5:]]


def attendance(asked: TableAsked) -> Iterator[Row]:
    """Everybody who came to a class."""
    people = set(asked.people().values_list("pk", flat=True))
    for run in asked.runs().iterator(chunk_size=50):
        room = str((run.file or {}).get("plan", {}).get("room", ""))
        for pk, key, name in run.attendances.order_by("person__name").values_list(
            "person", "person__key", "person__name"
        ):
            if pk in people:
                yield [asked.day(run), run.began_at, run.ended_at, run.pk, name_of(run), room, key, name]


def figures(asked: TableAsked) -> Iterator[Row]:
    """What a class came to for everybody, figure by figure."""
    figure_units = {figure.id: figure.unit for figure in figures_of_people()}
    people = set(asked.people().values_list("pk", flat=True))
    for run in asked.runs().iterator(chunk_size=50):
        told = run.attendances.order_by("person__name").values_list("person", "person__key", "person__name", "figures")
        for pk, key, name, own in told:
            for figure, value in own.items() if pk in people else ():
                yield [asked.day(run), run.pk, name_of(run), key, name, figure, value, figure_units.get(figure, "")]


def hearts(asked: TableAsked) -> Iterator[Row]:
    """Every reading of every recording."""
    rows = Recording.objects.filter(run__in=asked.runs(), person__in=asked.people())
    for row in rows.select_related("run", "person").order_by("run__began_at", "pk").iterator(chunk_size=20):
        head = [asked.day(row.run), row.run_id, row.person.key, row.person.name, row.source]
        for second, bpm in zip(row.seconds, row.bpm, strict=True):
            yield [*head, second, row.offset_s, bpm]


def loads(asked: TableAsked) -> Iterator[Row]:
    """What everybody lifts."""
    names = _exercise_names(asked.studio)
    rows = Lift.objects.filter(person__in=asked.people()).order_by("person__name", "person__pk", "exercise")
    for key, name, exercise, best, source, working, sets in rows.values_list(
        "person__key", "person__name", "exercise", "best_kg", "best_from", "working_kg", "working_sets_kg"
    ).iterator(chunk_size=ROWS):
        by_set = "/".join(f"{kg:g}" for kg in sets)
        yield [key, name, exercise, names.get(exercise, exercise), best, source, working, by_set]


def settings(asked: TableAsked) -> Iterator[Row]:
    """How everybody sets the units."""
    rows = UnitSetting.objects.filter(person__in=asked.people()).order_by("person__name", "person__pk", "room", "unit")
    told = rows.values_list("person__key", "person__name", "room", "unit", "name", "value")
    yield from told.iterator(chunk_size=ROWS)


def progress(asked: TableAsked) -> Iterator[Row]:
    """Every exercise of everybody, day by day, with the best that the line said then."""
    names = _exercise_names(asked.studio)
    known = house_catalogue(asked.studio).exercises
    for person in asked.people():
        by: dict[str, list[SetRecord]] = {}
        for record in records_of(person):
            by.setdefault(record.exercise, []).append(record)
        for exercise in sorted(by):
            series = series_of(by[exercise], curve_of(known.get(exercise)))
            for at, session in enumerate(series.sessions):
                if not asked.since <= session.on <= asked.until:
                    continue
                best = series.best(series.seen.index(at)) if at in series.seen else None
                yield [
                    session.on, session.run, person.key, person.name, exercise, names.get(exercise, exercise),
                    len(session.sets), session.reps, session.heaviest_kg, session.volume_kg,
                    session.without_load, session.tension_s,
                    *((best.value, best.low, best.high) if best else (None, None, None)),
                ]  # fmt: skip


def forecasts(asked: TableAsked) -> Iterator[Row]:
    """Every figure of every class that is planned in that time, by today's room and people. Raises FaultyInput where
    there are more classes than are forecast at once."""
    planned = []
    for planned_class in asked.studio.classes.filter(archived=False).exclude(facts={}).order_by("pk"):
        if any(asked.since <= each.on <= asked.until for each in plans.occasions_of(planned_class.facts)):
            planned.append(planned_class)
    if len(planned) > most("tables.forecasts"):
        message = f"there are {len(planned)} classes from {asked.since} to {asked.until}"
        raise FaultyInput([_fault("until", message, in_words("tables.forecasts"))])
    return _forecasts(asked, planned)


def _forecasts(asked: TableAsked, planned: Sequence[PlannedClass]) -> Iterator[Row]:
    chosen = set(asked.people().values_list("key", flat=True)) if asked.person else None
    for item in planned:
        revision = item.revisions.latest("number")
        file = plans.class_file_of(asked.studio, plans.plan_of(revision))
        predicted = forecast(file)
        head = [item.pk, file.plan.name, file.plan.starts, revision.number]
        if chosen is None:
            yield from _figures([*head, "", ""], predicted.figures)
        for person in predicted.people:
            if chosen is None or person.id in chosen:
                yield from _figures([*head, person.id, person.name], person.figures)


def _figures(head: list[object], told: Figures) -> Iterator[Row]:
    for name in Figures.model_fields:
        one: Estimate | None = getattr(told, name)
        if one is not None:
            yield [*head, name, one.value, one.low, one.high, one.unit, one.method]


TABLES: dict[str, Callable[[TableAsked], Iterator[Row]]] = {
    "sets": sets,
    "attendance": attendance,
    "figures": figures,
    "hearts": hearts,
    "loads": loads,
    "settings": settings,
    "progress": progress,
    "forecasts": forecasts,
}
"""How the rows of each table are found, by its id in the dictionary."""


def _exercise_names(studio: Studio) -> Mapping[str, str]:
    return {key: exercise.name for key, exercise in house_catalogue(studio).exercises.items()}


# ---- what comes back ------------------------------------------------------------------------------------------------

Outcome = Literal["new", "changes", "clears", "the same", "says nothing", "faulty"]


@dataclass(frozen=True, slots=True)
class RowOutcome:
    """A row of a table that comes back, and what it does."""

    line: int
    who: str
    what: str
    outcome: Outcome
    faults: list[Fault]


def take_lifts(studio: Studio, content: bytes, *, keep: bool, only_right: bool) -> tuple[list[RowOutcome], int]:
    """Look at a table of loads or keep it, all or (`only_right`) what is right; and how many rows changed something."""
    here = {person.key: person for person in studio.people.filter(erased=False).prefetch_related("lifts")}
    rows = read_lifts(content, {key: item.name for key, item in here.items()}, _exercise_names(studio))
    known = {(key, lift.exercise): lift for key, item in here.items() for lift in item.lifts.all()}

    def outcome(cell: LiftCell) -> Outcome:
        lift = known.get((cell.person, cell.exercise))
        if lift is None:
            return "the same" if cell.best_kg is None and cell.working_kg is None else "new"
        changed = _lift_with(lift, cell)
        if changed == (lift.best_kg, lift.best_from, lift.working_kg, lift.working_sets_kg):
            return "the same"
        return "clears" if cell.cleared else "changes"

    def put(cell: LiftCell) -> None:
        person = here[cell.person]
        lift = known.get((cell.person, cell.exercise)) or Lift(person=person, exercise=cell.exercise)
        lift.best_kg, lift.best_from, lift.working_kg, lift.working_sets_kg = _lift_with(lift, cell)
        if lift.best_kg is None and lift.working_kg is None:
            lift.delete()
        else:
            lift.save()

    return _take(studio, rows, outcome, put, keep=keep, only_right=only_right)


def _lift_with(lift: Lift, cell: LiftCell) -> tuple[float | None, str, float | None, list[float]]:
    best = None if "best" in cell.cleared else lift.best_kg if cell.best_kg is None else cell.best_kg
    working = None if "working" in cell.cleared else lift.working_kg if cell.working_kg is None else cell.working_kg
    source = "" if "best_from" in cell.cleared or best is None else lift.best_from
    # loads set by set go with the heaviest of them, and not with another working load
    stays = working is not None and working == lift.working_kg and "working_sets" not in cell.cleared
    sets = list(cell.working_sets_kg) or (lift.working_sets_kg if stays else [])
    return best, source if cell.best_from is None or best is None else cell.best_from, working, sets


def take_settings(studio: Studio, content: bytes, *, keep: bool, only_right: bool) -> tuple[list[RowOutcome], int]:
    """Look at a table of settings or keep it, in the same way."""
    here = {person.key: person for person in studio.people.filter(erased=False).prefetch_related("settings")}
    units = {
        (room, unit): list(settings)
        for room, unit, settings in MachineUnit.objects.filter(room__studio=studio, room__retired=False).values_list(
            "room__key", "key", "settings"
        )
    }
    rows = read_settings(content, {key: item.name for key, item in here.items()}, units)
    known = {
        (key, setting.room, setting.unit, setting.name): setting
        for key, who in here.items()
        for setting in who.settings.all()
    }

    def outcome(cell: SettingCell) -> Outcome:
        there = known.get((cell.person, cell.room, cell.unit, cell.setting))
        if there is None:
            return "the same" if cell.value is None else "new"
        return "clears" if cell.value is None else "the same" if there.value == cell.value else "changes"

    def put(cell: SettingCell) -> None:
        there = known.get((cell.person, cell.room, cell.unit, cell.setting))
        if cell.value is None:
            if there is not None:
                there.delete()
            return
        one = there or UnitSetting(person=here[cell.person], room=cell.room, unit=cell.unit, name=cell.setting)
        one.value = cell.value
        one.save()

    return _take(studio, rows, outcome, put, keep=keep, only_right=only_right)


Cell = TypeVar("Cell", LiftCell, SettingCell)


def _take(
    studio: Studio,
    rows: Sequence[TableRow[Cell]],
    outcome: Callable[[Cell], Outcome],
    put: Callable[[Cell], None],
    *,
    keep: bool,
    only_right: bool,
) -> tuple[list[RowOutcome], int]:
    told = [
        RowOutcome(
            row.line,
            row.who,
            row.what,
            "faulty" if row.faults else "says nothing" if row.says is None else outcome(row.says),
            row.faults,
        )
        for row in rows
    ]
    if not keep:
        return told, 0
    faults = [fault for row in rows for fault in row.faults]
    if faults and not only_right:
        raise FaultyInput(faults)
    changing = [
        row.says
        for row, each_row in zip(rows, told, strict=True)
        if row.says is not None and each_row.outcome in ("new", "changes", "clears")
    ]
    with transaction.atomic():
        for cell in changing:
            put(cell)
        for person in studio.people.filter(key__in={cell.person for cell in changing}):
            person.revision += 1
            person.save(update_fields=["revision"])
    return told, len(changing)
