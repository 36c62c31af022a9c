"""Runs: opening one, keeping its events, reading them back, and what they come to when the class ends."""

from __future__ import annotations

import hashlib
import logging
from collections.abc import Callable, Collection, Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from threading import Lock
from typing import Any
from uuid import uuid4

import orjson
from cachetools import LRUCache
from django.db import DatabaseError, transaction
from django.utils import timezone
from oaken.basis.faults import FaultyInput, faults_from, faults_in
from oaken.basis.limits import in_words, most
from oaken.forecast import forecast
from oaken.forecast.report import Figures
from oaken.schedule.class_file import ClassFile, read_class
from oaken.schedule.timeline import Timeline
from oaken.session import (
    Actual,
    Event,
    RunState,
    Sheet,
    actual_class,
    changing,
    planned_and_actual,
    replay_events,
    sheets_of,
    simulated_events,
    standing,
)
from oaken.session.events import UNPLANNED, Began, Ended, Left, Paused, SetDone, Withdrawn, event_of
from oaken.session.simulated import Bests
from planning import keeping as plans
from planning.models import PlannedClass
from pydantic import ValidationError
from studio.models import Studio

from logbook import sets
from logbook.clock import hold_to_steady_clock, now_of
from logbook.erasure import without_erased
from logbook.models import Attendance, Run, RunEvent

_fault = faults_in("the class that was held")
logger = logging.getLogger("oaken.logbook")

AHEAD_S = 2.0
"""A device's clock that is set right by the server's can still be so far ahead; what is further counts as now."""


@dataclass(frozen=True)
class Refused:
    """An event that cannot be kept, and why."""

    id: str
    message: str


@dataclass(frozen=True)
class Kept:
    """What became of a batch: the ids that are on disk now, also those that were before, what was refused, and the
    moments of those that came from a clock that is ahead and count as now."""

    ids: list[str]
    refused: list[Refused]
    clamped: dict[str, datetime]


def open_run(studio: Studio, planned: PlannedClass, revision: int) -> Run:
    """Get a saved class ready to be run: from now on neither room nor people change under it."""
    kept = planned.revisions.get(number=revision)
    with transaction.atomic():
        if studio.runs.count() >= most("studio.runs"):
            raise FaultyInput([plans.too_many("runs", "studio.runs")])
        file = plans.class_file_of(studio, plans.plan_of(kept))
        return Run.objects.create(studio=studio, saved_as=kept, file=file.model_dump(mode="json", exclude_none=True))


def hold(studio: Studio, planned: PlannedClass, revision: int, began_at: datetime, came: Sequence[str]) -> Run:
    """Keep that a class was held as planned, and who of its people came: a run whose events are its beginning, its end,
    and who was not there. Raises FaultyInput for somebody who is not in it."""
    plan = plans.plan_of(planned.revisions.get(number=revision))
    strangers = [name for name in came if name not in plan.people]
    if strangers or not came:
        message = f"{strangers[0]!r} is not in this class" if strangers else "nobody came"
        raise FaultyInput([_fault("people", message, "people of the class")])
    with transaction.atomic():
        run = open_run(studio, planned, revision)
        run.opened_at = began_at
        run.save(update_fields=["opened_at"])
        length_s = replay_events(file_of(run), [], began_at).era.timeline.length_s
        happened: list[Event] = [Began(id=_new_id(), happened_at=began_at)]
        happened += [
            Left(id=_new_id(), happened_at=began_at, person=each_person)
            for each_person in plan.people
            if each_person not in came
        ]
        happened += [Ended(id=_new_id(), happened_at=began_at + timedelta(seconds=length_s))]
        _keep(run, happened)
        settle(run)
    return run


def simulate(
    studio: Studio,
    planned: PlannedClass,
    began_at: datetime,
    seed: int,
    until_s: float | None = None,
    bests: Bests | None = None,
    absent: Collection[str] = (),
) -> Run:
    """A run with everything that happens in it simulated, to its end or until a second, where it is paused; with
    `bests` people do what they can that day, `absent` ones are not there."""
    run = open_run(studio, planned, planned.revisions.latest("number").number)
    Run.objects.filter(pk=run.pk).update(opened_at=began_at)
    happened = simulated_events(file_of(run), began_at, seed, until_s, bests=bests, absent=absent)
    if until_s is not None:
        moment = began_at + timedelta(seconds=until_s + 60)
        happened.append(Paused(id=_new_id(), happened_at=moment, device="simulated"))
    _keep(run, happened)
    run.refresh_from_db()
    settle(run)
    return run


def _new_id() -> str:
    return uuid4().hex


def file_of(run: Run) -> ClassFile:
    """The class with everything it was held with. Raises FaultyInput where an earlier version did not keep it."""
    if run.file is None:
        message = "was not kept with its room and people by an earlier version"
        raise FaultyInput([_fault("class", message, "a class that was logged since")])
    return read_class(run.file)


def people_of(run: int) -> list[str]:
    """The people of a run's plan in its order; nobody where there is no such run."""
    found: list[str] | None = Run.objects.filter(pk=run).values_list("file__plan__people", flat=True).first()
    return found or []


def events_of(run: Run) -> list[tuple[int, Event]]:
    """What happened in a run, with the number under which each was kept."""
    return events_since(run.pk, 0)


def events_since(run: int, after: int) -> list[tuple[int, Event]]:
    """What was kept of a run behind a number."""
    return [(row.pk, _read(row)) for row in RunEvent.objects.filter(run=run, pk__gt=after).order_by("pk")]


def _read(row: RunEvent) -> Event:
    return event_of({**row.body, "received_at": row.received_at})


def append(run: Run, batch: Sequence[Any], by: str) -> Kept:
    """Keep a batch of events in one transaction; what was kept before counts as kept. When this returns they are on
    disk. A faulty event is refused by itself: the others of its batch are kept."""
    now = now_of(run.pk)
    good: list[Event] = []
    refused: list[Refused] = []
    clamped: dict[str, datetime] = {}
    for given in batch:
        try:
            event = event_of(given)
        except ValidationError as error:
            told = FaultyInput(faults_from(error.errors(), given))
            refused.append(Refused(str(given.get("id", ""))[:60] if isinstance(given, dict) else "", str(told)))
            continue
        latest = now + timedelta(seconds=AHEAD_S)
        moment = now if event.happened_at > latest else event.happened_at
        if moment != event.happened_at:
            clamped[event.id] = moment
        good.append(event.model_copy(update={"happened_at": moment, "by": by, "received_at": None}))
    good = without_erased(run, _that_say_what_was_done(run, good, refused))
    with transaction.atomic():
        if run.events.count() + len(good) > most("run.events"):
            raise FaultyInput([_fault("events", "there are as many events as can be kept", in_words("run.events"))])
        good, fresh = _told_apart(run, good, refused)
        _keep(run, fresh)
    for event in good:
        if isinstance(event, Began):
            hold_to_steady_clock(run, event.happened_at)
    if _changes_what_it_came_to(run, fresh):
        follow_up(run, settle)
    return Kept([event.id for event in good], refused, clamped)


CHANGING = ("changed", "unit_lost", "unit_back", "withdrawn")
"""The kinds of events that what is planned hangs on."""

_parts: LRUCache[tuple[int, datetime], frozenset[str]] = LRUCache(maxsize=64)
_parts_lock = Lock()


def _that_say_what_was_done(run: Run, events: list[Event], refused: list[Refused]) -> list[Event]:
    """The events of a batch without the sets of which nobody could tell what was done: a set belongs to a part that
    some plan of this run had, or names an exercise of the catalogue that was not planned."""
    sets = [event for event in events if isinstance(event, SetDone)]
    strange = {event.part for event in sets} - _planned_parts(run) if sets else set()
    if not strange or run.file is None:
        return events
    file = file_of(run)
    known = file.catalogue().exercises
    # a plan that changed while the class ran may have had it
    rows = RunEvent.objects.filter(run=run, kind__in=CHANGING).order_by("pk")
    changes = [*(_read(row) for row in rows), *(event for event in events if event.kind in CHANGING)]
    if changes:
        run_state = replay_events(file, changes, max(event.happened_at for event in changes))
        strange -= {slot.id for era in run_state.eras for slot in era.timeline.slots}
    kept: list[Event] = []
    for event in events:
        named = isinstance(event, SetDone) and event.exercise in known and event.part == f"{UNPLANNED}{event.exercise}"
        if isinstance(event, SetDone) and event.part in strange and not named:
            message = f"part: {event.part!r} is not in this class (name the exercise where it was not planned)"
            refused.append(Refused(event.id, message))
        else:
            kept.append(event)
    return kept


def _planned_parts(run: Run) -> frozenset[str]:
    """The parts of the plan that a run began with; none where an earlier version did not keep it."""
    with _parts_lock:
        # a number can mean another run once a copy of the database was put back
        known = _parts.get((run.pk, run.opened_at))
    if known is None:
        known = frozenset() if run.file is None else frozenset(part.id for part in file_of(run).plan.parts())
        with _parts_lock:
            _parts[run.pk, run.opened_at] = known
    return known


def _told_apart(run: Run, events: list[Event], refused: list[Refused]) -> tuple[list[Event], list[Event]]:
    """The events that count as kept, and those of them that were not kept before. An id that was used for something
    else is refused: nobody could tell afterwards which of the two happened."""
    known = dict(run.events.filter(event_id__in=[event.id for event in events]).values_list("event_id", "body"))
    good, fresh = [], []
    for event in events:
        body = _body(event)
        before = known.get(event.id)
        if before is None:
            known[event.id] = body
            fresh.append(event)
        elif not _says_the_same(before, body):
            refused.append(Refused(event.id, "id: something else was kept under this id"))
            continue
        good.append(event)
    return good, fresh


def _says_the_same(before: dict[str, Any], body: dict[str, Any]) -> bool:
    """Whether an event that was sent again is the one that was kept: whoever sends it, and though a moment that was
    ahead counted as the moment it came."""
    apart = {"happened_at", "by"}
    same = {key: value for key, value in before.items() if key not in apart} == {
        key: value for key, value in body.items() if key not in apart
    }
    return same and str(before["happened_at"]) <= str(body["happened_at"])


NOTHING_COMES_OF = ("noted", "decided", "effort_told", "waits_for_ready")
"""Kinds of events that change nothing of what a class came to."""

ENDS = ("began", "ended", "withdrawn")
"""Kinds of events that decide, while a class runs, when it began and whether it is over."""


def _changes_what_it_came_to(run: Run, events: list[Event]) -> bool:
    """Whether what is worked out of a run may be otherwise after these events."""
    gone = [event.event for event in events if isinstance(event, Withdrawn)]
    kinds: set[str] = {event.kind for event in events if not isinstance(event, Withdrawn)}
    kinds |= set(run.events.filter(event_id__in=gone).values_list("kind", flat=True))
    if run.ended_at is None:
        return bool(kinds & set(ENDS))
    return bool(kinds - set(NOTHING_COMES_OF))


def follow_up(run: Run, act: Callable[[Run], None]) -> None:
    """What follows from events that are on disk already: they are acknowledged, whatever becomes of this."""
    try:
        act(run)
    except (DatabaseError, FaultyInput, ArithmeticError, LookupError, ValueError):
        logger.exception("run %d: %s failed; it is done when it changes next", run.pk, act.__name__)


def _keep(run: Run, events: Sequence[Event]) -> None:
    now = timezone.now()
    RunEvent.objects.bulk_create(
        (
            RunEvent(
                run=run,
                event_id=event.id,
                received_at=now,
                kind=event.kind,
                body=_body(event),
            )
            for event in events
        ),
        ignore_conflicts=True,
    )


def _body(event: Event) -> dict[str, Any]:
    return event.model_dump(mode="json", exclude={"received_at"}, exclude_none=True)


SETTLED = ["began_at", "ended_at", "people_count", "kcal_total", "figures", "unwritten", "projected"]
"""What is worked out from the events of a run."""


def settle(run: Run) -> None:
    """Work out from its events when the class began and ended, who came, what it came to for everybody and for the
    class, and write out its sets for the weeks; a class that is not over (any more) has none of it. What an earlier
    version kept too little of stays as it is."""
    if run.file is None:
        return
    events = [event for _, event in events_of(run)]
    counting = standing(events)
    began = next((event.happened_at for event in counting if isinstance(event, Began)), None)
    ended = next((event.happened_at for event in counting if isinstance(event, Ended)), None)
    run.began_at = began
    run.ended_at = ended if began is not None else None
    run.people_count, run.kcal_total, run.figures = 0, 0.0, []
    came: dict[str, dict[str, float]] = {}
    file = file_of(run)
    run_state = replay_events(file, events, run.ended_at or run.opened_at)
    if run.ended_at is not None:
        real = actual_class(file, run_state)
        predicted = forecast(real.file, real.timeline)
        there = {name for name in file.plan.people if _was_there(run_state, name)}
        came = {person.id: figures_of(person.figures) for person in predicted.people if person.id in there}
        run.people_count = len(came)
        run.kcal_total = round(sum(person.figures.energy.value for person in predicted.people if person.id in came), 1)
        run.figures = [row.model_dump(mode="json") for row in planned_and_actual(file, real, predicted)]
    with transaction.atomic():
        sets.materialise(run, file, events, run_state)
        run.save(update_fields=SETTLED)
        run.attendances.all().delete()
        people = run.studio.people.filter(key__in=came)
        Attendance.objects.bulk_create(
            Attendance(run=run, person=each_person, figures=came[each_person.key]) for each_person in people
        )


def figures_of(figures: Figures) -> dict[str, float]:
    """Every figure of somebody by name, without ranges: what the weeks are drawn from. A sum that is known in part only
    is left out: the weeks, the tables and a person's page would take it for the whole."""
    found = {name: getattr(figures, name) for name in Figures.model_fields}
    return {name: round(item.value, 3) for name, item in found.items() if item is not None and not item.partly}


def materialise_missing(studio: Studio | None = None) -> int:
    """Settle every class that is over and whose sets were written out by other rules, or never; how many those were."""
    waiting = Run.objects.filter(ended_at__isnull=False, file__isnull=False).exclude(projected=sets.VERSION)
    done = 0
    for run in waiting if studio is None else waiting.filter(studio=studio):
        follow_up(run, settle)
        done += 1
    return done


CAME_FROM_S = 60.0
"""Who was there for so long came; whoever left sooner was ticked off a moment after the class began."""


def _was_there(run_state: RunState, person: str) -> bool:
    away = sum(
        min(run_state.now_s, run_state.now_s if until is None else until) - since
        for who, since, until in run_state.away
        if who == person
    )
    return run_state.now_s - away >= min(CAME_FROM_S, run_state.now_s / 2)


def actual_of(run: Run, now: datetime | None = None) -> tuple[ClassFile, RunState, Actual]:
    """The class file, how the class went up to now (its end, where it is over), and the class as it actually was.
    Raises FaultyInput where an earlier version did not keep the file."""
    file = file_of(run)
    events = [event for _, event in events_of(run)]
    run_state = replay_events(file, events, run.ended_at or now or now_of(run.pk))
    return file, run_state, actual_class(file, run_state)


def actual_timeline(run: Run) -> tuple[ClassFile, Timeline | None]:
    """What recordings are laid over: the class as it actually was once it is over."""
    if run.ended_at is None:
        return file_of(run), None
    _, _, real = actual_of(run)
    return real.file, real.timeline


_known: LRUCache[tuple[object, ...], list[Sheet]] = LRUCache(maxsize=24)
_known_lock = Lock()


def sheets(run: Run, events: Sequence[Event]) -> list[Sheet]:
    """The sheet of every plan the run has had, kept in memory by what they follow from: the file and the changes."""
    state = hashlib.sha256(orjson.dumps(run.file)).hexdigest()
    key = (run.pk, state, *(event.id for event in changing(list(events))))
    with _known_lock:
        known = _known.get(key)
    if known is None:
        file = file_of(run)
        last = max((event.happened_at for event in events), default=run.opened_at)
        known = sheets_of(file, replay_events(file, events, last))
        with _known_lock:
            _known[key] = known
    return known
