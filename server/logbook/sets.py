"""The sets of the weeks: written out from the events of a run, and read back as the core knows them."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, fields
from datetime import date, timedelta
from typing import Any, NamedTuple

from django.db import connection
from django.db.models import CharField, IntegerField, Max, Q, QuerySet
from django.db.models.functions import Cast
from oaken.domain.prescription import each_set
from oaken.plan import AnyPart, Slot, Station
from oaken.programme.progress import (
    SAME_WINDOW_DAYS,
    TARGET_DAYS,
    Session,
    SetRecord,
    SetTarget,
    planned_set_up,
    sessions_of,
    set_records,
    set_targets,
    windows_apart,
)
from oaken.schedule.class_file import ClassFile
from oaken.schedule.timeline.schedule import own_part
from oaken.session import Event, RunState, circumstances, log_of
from people.models import Person
from studio.models import Studio

from logbook.models import DoneSet, Run

VERSION = 4
"""By which rules sets are written out; a run that was written out by others is written out anew."""

FIELDS = [field.name for field in fields(SetRecord) if field.name not in ("run", "person")]
IN_ORDER = [field.name if field.name != "run" else "run_id" for field in fields(SetRecord) if field.name != "person"]
"""The columns in the order of a record's fields, but for the person, who stands behind the run."""


def materialise(run: Run, file: ClassFile, events: Sequence[Event], run_state: RunState) -> None:
    """Write out the sets of a run, in place of those that were."""
    run.done_sets.all().delete()
    run.projected, run.unwritten = VERSION, 0
    if run.began_at is None or run.ended_at is None:
        return
    keys = {key: pk for key, pk in run.studio.people.values_list("key", "pk")}
    on = run.began_at.astimezone(run.studio.zone).date()
    records = set_records(file, events, run_state, on, run.pk)
    away = {person for person, since, until in run_state.away if since <= 1.0 and until is None}
    # what the class did not get to is not missing
    run.unwritten = sum(
        row.written == "not written"
        and row.person not in away
        and (row.era < len(run_state.eras) - 1 or (row.start_s or 0.0) < run_state.second)
        for row in log_of(file, events, run_state)
    )
    DoneSet.objects.bulk_create(
        DoneSet(run=run, person_id=keys[record.person], **{name: getattr(record, name) for name in FIELDS})
        for record in records
        if record.person in keys
    )


def put_back(run: Run, rows: Iterable[tuple[int, Mapping[str, Any]]]) -> None:
    """Keep sets as they were written out elsewhere: each a person's number and the fields. A year has 300,000 of them,
    which the ORM would turn into SQL one by one for longer than all the rest takes."""
    told = DoneSet._meta
    fields: list[Any] = [told.get_field(name) for name in ("run", "person", *FIELDS)]
    columns = ", ".join(connection.ops.quote_name(field.column) for field in fields)
    table, marks = connection.ops.quote_name(told.db_table), ", ".join(["%s"] * len(fields))
    written = [(run.pk, person, *(_plain(values[name]) for name in FIELDS)) for person, values in rows]
    with connection.cursor() as cursor:
        cursor.executemany(f"INSERT INTO {table} ({columns}) VALUES ({marks})", written)


def _plain(value: Any) -> Any:
    return value.isoformat() if isinstance(value, date) else value


def records_of(person: Person, exercise: str | None = None) -> list[SetRecord]:
    """The sets of a person, in no order; of one exercise where it is named."""
    found = DoneSet.objects.filter(person=person)
    if exercise is not None:
        found = found.filter(exercise=exercise)
    return [record for _, record in _read(found, {person.pk: person.key})]


MARKS = ("pauses", "helped", "poor", "as_planned")
"""The columns of a record that are true or not: four beside each other."""

_MARKED = slice(IN_ORDER.index(MARKS[0]) - 2, IN_ORDER.index(MARKS[-1]) - 1)
"""Where they stand behind the day and the run."""


def _read(rows: QuerySet[DoneSet], people: Mapping[int, str]) -> Iterator[tuple[str, SetRecord]]:
    """Rows as the core knows them, each with its person's key. There are thousands of them at a time: they are read
    without the ORM's turning of every value, and without the driver's."""
    plain = {f"{name}_": Cast(name, IntegerField()) for name in MARKS}
    named = [{"on": "on_"}.get(name, f"{name}_" if name in MARKS else name) for name in IN_ORDER]
    asked = rows.order_by().annotate(on_=Cast("on", CharField()), **plain).values_list("person_id", *named)
    sql, given = asked.query.get_compiler(connection=connection).as_sql()
    days: dict[str, date] = {}
    with connection.cursor() as cursor:
        cursor.execute(sql, given)
        for person, on, run, *rest in cursor.fetchall():
            day = days.get(on)
            if day is None:
                day = days[on] = date.fromisoformat(str(on))
            key = people[person]
            marks = map(bool, rest[_MARKED])
            values: list[Any] = [day, run, key, *rest[: _MARKED.start], *marks, *rest[_MARKED.stop :]]
            yield key, SetRecord(*values)


LOOK_BACK_DAYS = (9, 35, 180, 36_500)
"""How far is looked back for the last sessions: a little first, further only for those who were not there."""

Pair = tuple[str, str]
"""Somebody and an exercise."""

Window = tuple[int, int]
"""The fewest and the most repetitions that were planned."""


def last_sessions(
    studio: Studio, windows: Mapping[Pair, Window | None], today: date, sessions: int = 3
) -> dict[Pair, list[Session]]:
    """The last sessions of everybody in an exercise, the oldest first, and before them the one whose window comes
    nearest to the one that is given; some queries for many people at once."""
    found: dict[Pair, list[Session]] = {}
    missing = set(windows)
    people = dict(studio.people.filter(key__in={person for person, _ in missing}).values_list("pk", "key"))
    until = today + timedelta(days=1)
    for days in LOOK_BACK_DAYS:
        if not missing:
            break
        since = max(date(1900, 1, 1), today - timedelta(days=days))
        rows = DoneSet.objects.filter(
            person_id__in=[pk for pk, key in people.items() if any(key == person for person, _ in missing)],
            exercise__in={exercise for _, exercise in missing},
            on__gte=since,
            on__lte=until,
        )
        for pair, own in _sessions(rows, people).items():
            if pair in missing:
                found[pair] = own[-sessions:]
        missing = {pair for pair in missing if len(found.get(pair, [])) < sessions}
    for pair, own in _nearest_before(windows, found, people, today).items():
        found[pair] = [*own, *found[pair]]
    return found


def planned_windows(part: object) -> tuple[Window | None, ...]:
    """The planned repetitions set by set; none where nothing is planned in sets."""
    return tuple(run.segments[0].window for run in each_set(part.sets)) if isinstance(part, Slot) else ()


def planned_set_ups(part: AnyPart, rounds: int) -> tuple[str, ...]:
    """The planned set-up set by set, as records have it."""
    if isinstance(part, Slot):
        return tuple(planned_set_up(run.segments[0]) for run in each_set(part.sets))
    return (planned_set_up(part if isinstance(part, Station) else part.turn),) * rounds


LOGGED = (
    *("run_id", "block", "part", "number", "load_kg", "reps", "seconds"),
    *("low", "high", "helped", "poor", "as_planned", "set_up"),
)


class _Logged(NamedTuple):
    """What is asked of a set for a target: there are tens of thousands of them at a time."""

    on: date
    run: int
    block: str
    part: str
    number: int
    load_kg: float | None
    reps: int | None
    seconds: float | None
    low: int | None
    high: int | None
    helped: bool
    poor: bool
    as_planned: bool
    set_up: str


@dataclass(frozen=True, slots=True)
class PartTargets:
    """What somebody is to reach in the sets of one part of a class, with the exercise they do there."""

    person: str
    part: str
    exercise: str
    sets: list[SetTarget]


def targets_of(studio: Studio, file: ClassFile, before: date) -> list[PartTargets]:
    """What everybody of a class is to reach in their sets, in the order of people and parts: what they did of the same
    scheme before this day, each in the exercise that they do there. In one query."""
    around = circumstances(file, file.plan)
    planned = [
        (getattr(file.plan.blocks[int(path[1])], "rounds", 1), part)
        for path, part in file.plan.placed()
        if isinstance(part, Slot | Station)
    ]
    parts = [
        (person.id, part.id, own.exercise, planned_windows(own) or (None,) * rounds, planned_set_ups(own, rounds))
        for person in file.participants
        for rounds, part in planned
        for own in (own_part(part, person, around),)
    ]
    people = dict(studio.people.filter(key__in=file.plan.people, erased=False).values_list("pk", "key"))
    windows_of = [window for *_, windows, _ in parts for window in windows]
    same = Q(
        low__in={window[0] for window in windows_of if window}, high__in={window[1] for window in windows_of if window}
    )
    rows = DoneSet.objects.filter(
        same | Q(low__isnull=True) if None in windows_of else same,
        person_id__in=people,
        exercise__in={exercise for _, _, exercise, *_ in parts},
        on__gte=before - timedelta(days=TARGET_DAYS),
        on__lt=before,
    )
    records: dict[Pair, list[_Logged]] = {}
    days: dict[str, date] = {}
    told = rows.order_by().annotate(on_=Cast("on", CharField())).values_list("person_id", "exercise", "on_", *LOGGED)
    for person, exercise, on, *rest in told.iterator(chunk_size=5000):
        day = days.get(on) or days.setdefault(on, date.fromisoformat(on))
        records.setdefault((people[person], exercise), []).append(_Logged(day, *rest))
    return [
        PartTargets(person, part, exercise, found)
        for person, part, exercise, windows, set_ups in parts
        if (found := set_targets(records.get((person, exercise), []), windows, set_ups))
    ]


def _sessions(rows: QuerySet[DoneSet], people: Mapping[int, str]) -> dict[Pair, list[Session]]:
    of_pair: dict[Pair, list[SetRecord]] = {}
    for key, record in _read(rows, people):
        of_pair.setdefault((key, record.exercise), []).append(record)
    return {pair: sessions_of(records) for pair, records in of_pair.items()}


def _nearest_before(
    windows: Mapping[Pair, Window | None],
    found: Mapping[Pair, list[Session]],
    people: Mapping[int, str],
    today: date,
) -> dict[Pair, list[Session]]:
    """Earlier sessions than those found, whose window comes nearer to the one that is given than any of theirs."""
    lasts = (
        DoneSet.objects.filter(
            person_id__in=people,
            exercise__in={exercise for _, exercise in windows},
            on__gte=today - timedelta(days=SAME_WINDOW_DAYS),
            on__lte=today,
            low__isnull=False,
            high__isnull=False,
            load_kg__gt=0,
        )
        .order_by()
        .values_list("person_id", "exercise", "low", "high")
        .annotate(last=Max("on"))
    )
    nearest: dict[Pair, tuple[float, date]] = {}  # how far apart, and when last
    for person, exercise, low, high, on in lasts:
        pair = (people[person], exercise)
        wanted = windows.get(pair)
        if wanted is not None:
            apart = windows_apart((low, high), wanted)
            before = nearest.get(pair)
            if before is None or apart < before[0] or (apart == before[0] and on > before[1]):
                nearest[pair] = (apart, on)
    older = {pair: on for pair, (_, on) in nearest.items() if pair in found and on < found[pair][0].on}
    if not older:
        return {}
    rows = DoneSet.objects.filter(
        person_id__in=people, exercise__in={exercise for _, exercise in older}, on__in=set(older.values())
    )
    return {
        pair: [item for item in own if item.on == older[pair]]
        for pair, own in _sessions(rows, people).items()
        if pair in older
    }
