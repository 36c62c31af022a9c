"""Keeping what is known of hearts and people: recordings, calibration, everything about somebody, erasure."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import asdict, dataclass
from typing import Any

from django.db import transaction
from oaken.basis.faults import FaultyInput, faults_in
from oaken.domain.people.record import Record
from oaken.exports.activities import Activity, LapsAt, activities_of
from oaken.forecast.report import HEART_FIGURES
from oaken.heart_data.calibration import (
    Calibrated,
    Compared,
    RecordedPath,
    calibrate,
    compared,
    recorded_by_belt,
    recorded_path,
)
from oaken.heart_data.recordings import HeartSeries
from oaken.physiology.body import body_of
from oaken.programme.progress import heart_at_work
from oaken.schedule.class_file import ClassFile
from oaken.schedule.timeline import Timeline
from oaken.session import actual_class, replay_events
from people.keeping import record_of
from people.models import Person
from planning.models import PlannedClass, Revision

from logbook import runs
from logbook.erasure import STAYS, remember, renamed, without_name, without_person
from logbook.models import ReadBeforeStart, Recording, Run, RunEvent

_fault = faults_in("the class that was held")

NEAR_S = 2 * 3600
"""A recording that says it began further than this from the class has another clock: it is laid where it fits."""


Taken = tuple[ClassFile, Timeline | None]
"""A class with the steps that were actual."""


def record(run: Run, key: str, series: HeartSeries, offset_s: float | None, actual: Taken | None = None) -> Recording:
    """Keep a recording of somebody who came; one they had of that class is replaced. `lived` is the class as it was
    actual, where that is known already.

    Raises FaultyInput, and keeps nothing, where they did not come or the recording does not overlap the class.
    """
    person = run.studio.people.filter(key=key, attendances__run=run).first()
    if person is None:
        raise FaultyInput([_fault("person", f"{key!r} did not come to this class", "somebody who came")])
    if offset_s is None and series.start is not None:
        apart = (series.start - (run.began_at or run.opened_at)).total_seconds()
        offset_s = apart if abs(apart) < NEAR_S else None
    file, timeline = actual or runs.actual_timeline(run)
    path = recorded_path(file, key, series, offset_s, timeline)
    kept, _ = Recording.objects.update_or_create(
        run=run,
        person=person,
        defaults={
            "source": series.source,
            "start": series.start,
            "offset_s": offset_s,
            "seconds": series.seconds.round(2).tolist(),
            "bpm": series.bpm.round(1).tolist(),
            "at_work": asdict(heart_at_work(path)),
        },
    )
    return kept


def simulate(run: Run, keys: Sequence[str]) -> list[Recording]:
    """Record a class of these people with simulated belts."""
    file, timeline = runs.actual_timeline(run)
    found = []
    for key in keys:
        series, put_on_s = recorded_by_belt(file, key, run.pk or 0, run.began_at, timeline)
        found.append(record(run, key, series, put_on_s, (file, timeline)))
    return found


@dataclass(frozen=True)
class Met:
    """A recording laid over its class: what the heart as it is known today, and the usual one, would have shown."""

    recording: Recording
    now: Compared
    usual: Compared


def met(person: Person, recordings: Sequence[Recording]) -> list[tuple[Met, RecordedPath]]:
    """Every recording of a person whose class is known, with how well it is forecast."""
    core = person.to_core()
    own = body_of(core).likely
    usual = body_of(core.model_copy(update={"heart_fit": None})).likely
    found = []
    for recording in recordings:
        if recording.run.file is None:
            continue
        file, timeline = runs.actual_timeline(recording.run)
        taken = recorded_path(file, person.key, recording.series(), recording.offset_s, timeline)
        found.append((Met(recording, compared(taken, own), compared(taken, usual)), taken))
    return found


def hearts_beside(run: Run) -> list[tuple[Recording, Compared]]:
    """Every recording of a run beside what the heart as it is known today would have shown."""
    found = []
    recordings = list(run.recordings.select_related("person"))
    if not recordings:
        return []
    file, timeline = runs.actual_timeline(run)
    for recording in recordings:
        own = body_of(recording.person.to_core()).likely
        path = recorded_path(file, recording.person.key, recording.series(), recording.offset_s, timeline)
        found.append((recording, compared(path, own)))
    return found


def activities(run: Run, laps: LapsAt = "blocks") -> dict[str, Activity]:
    """What everybody who came did in a run that is over, by id; nobody's where it is not. Raises FaultyInput where an
    earlier version did not keep what it was held with."""
    if run.began_at is None or run.ended_at is None:
        return {}
    file = runs.file_of(run)
    events = [event for _, event in runs.events_of(run)]
    run_state = replay_events(file, events, run.ended_at)
    real = actual_class(file, run_state)
    hearts = {}
    for recording in run.recordings.select_related("person"):
        key, series, offset_s = recording.person.key, recording.series(), recording.offset_s
        if offset_s is None:
            offset_s = recorded_path(real.file, key, series, None, real.timeline).offset_s
        hearts[key] = (series, offset_s)
    came = set(run.attendances.values_list("person__key", flat=True))
    found = activities_of(file, events, run_state, run.began_at, hearts, laps)
    return {key: item for key, item in found.items() if key in came}


def recordings_of(person: Person) -> list[Recording]:
    """A person's recordings, the oldest first."""
    return list(person.recordings.select_related("run__saved_as"))


def calibrated(person: Person) -> Calibrated:
    """What a person's recordings say of their heart. Raises FaultyInput where there are none, or too little in them."""
    recordings = recordings_of(person)
    if not recordings:
        raise FaultyInput([_fault("recordings", "there is no recording to learn from", "a recording of a class")])
    return calibrate(person.to_core(), [taken for _, taken in met(person, recordings)])


def use_calibration(person: Person) -> Calibrated:
    """Fit and keep, where the fit forecasts better than the usual heart; otherwise the usual heart stays."""
    found = calibrated(person)
    if found.better:
        person.heart_fit = found.fit.model_dump(mode="json")
        person.revision += 1
        person.save(update_fields=["heart_fit", "revision"])
    return found


SETS_TOLD = (
    *("on", "exercise", "number", "side", "load_kg", "reps", "seconds", "ended", "reps_left", "helped", "poor"),
    *("helped_reps", "rest_s", "set_up", "in_parts"),
)
"""Of every set that somebody did."""


def everything_about(person: Person) -> dict[str, Any]:
    """Everything that is kept on one person, as JSON: record, attendance, recordings, plans, and what was read."""
    own: Record = record_of(person)
    classes = [
        {"class": revision.planned_class_id, "revision": revision.number, "name": revision.document["name"]}
        for revision in Revision.objects.filter(planned_class__studio=person.studio)
        if person.key in revision.document["people"]
    ]
    return {
        "record": own.model_dump(mode="json"),
        "attended": [
            {
                "class": attendance.run.saved_as.planned_class_id,
                "began_at": (attendance.run.began_at or attendance.run.opened_at).isoformat(),
                "as_known_then": _in_file(attendance.run.file, person.key),
            }
            for attendance in person.attendances.select_related("run__saved_as")
        ],
        "recordings": [
            {
                "began_at": (recording.run.began_at or recording.run.opened_at).isoformat(),
                "source": recording.source,
                "offset_s": recording.offset_s,
                "seconds": recording.seconds,
                "bpm": recording.bpm,
            }
            for recording in recordings_of(person)
        ],
        "in_plans": classes,
        "figures_of_classes": [
            {"class": attendance.run.saved_as.planned_class_id, "figures": attendance.figures}
            for attendance in person.attendances.select_related("run__saved_as")
            if attendance.figures
        ],
        "sets": [
            {name: str(value) if name == "on" else value for name, value in zip(SETS_TOLD, row, strict=True)}
            for row in person.done_sets.values_list(*SETS_TOLD)
        ],
        "body_readings": [
            {
                "on": str(body_reading.on),
                "body_mass_kg": body_reading.body_mass_kg,
                "resting_bpm": body_reading.resting_bpm,
            }
            for body_reading in person.body_readings.all()
        ],
        "goals": [
            {"exercise": lift_goal.exercise, "best_kg": lift_goal.best_kg, "by": str(lift_goal.by)}
            for lift_goal in person.lift_goals.all()
        ],
        "load_school": person.load_school,
        "in_runs": [
            event.body
            for event in RunEvent.objects.filter(run__studio=person.studio)
            if event.body.get("person") == person.key
        ],
        "read_pre_class_check": [
            {"class": each_object.planned_class_id, "at": each_object.at.isoformat(), **item}
            for each_object in ReadBeforeStart.objects.filter(planned_class__studio=person.studio)
            for item in each_object.items
            if item.get("person") == person.key
        ],
    }


def erase(person: Person) -> None:
    """Erase somebody: a nameless stand-in with their body mass, level and bests takes their place in past classes, so
    that the totals of classes stay whole. Everything else is deleted, also out of saved plans and records."""
    studio = person.studio
    gone = person.key
    with transaction.atomic():
        number = 1
        while studio.people.filter(key=f"gone-{number}").exists():
            number += 1
        stand_in = f"gone-{number}"
        person.recordings.all().delete()
        person.live_hearts.all().delete()
        person.settings.all().delete()
        person.body_readings.all().delete()
        person.lift_goals.all().delete()
        person.done_sets.all().delete()
        for attendance in person.attendances.all():
            attendance.figures = {name: kg for name, kg in attendance.figures.items() if name not in HEART_FIGURES}
            attendance.save(update_fields=["figures"])
        person.lifts.update(best_from="")
        plain = Person(studio=studio, key=stand_in, name="Somebody who left", age=40, erased=True)
        for field in Person._meta.concrete_fields:
            if field.name not in ("id", "studio", *STAYS):
                setattr(person, field.name, getattr(plain, field.name))
        person.save()
        remember(studio, gone, stand_in)
        # the one thing that ever changes a kept revision: an id that names somebody who asked to be forgotten
        for revision in Revision.objects.filter(planned_class__studio=studio):
            document = renamed(revision.document, gone, stand_in)
            if document != revision.document:
                Revision.objects.filter(pk=revision.pk).update(document=document)
        for planned in studio.classes.all():
            facts = renamed(planned.facts, gone, stand_in)
            if facts != planned.facts:
                PlannedClass.objects.filter(pk=planned.pk).update(facts=facts)
        for run in Run.objects.filter(studio=studio):
            file = None if run.file is None else without_person(run.file, gone, stand_in)
            if file != run.file:
                Run.objects.filter(pk=run.pk).update(file=file)
        for event in RunEvent.objects.filter(run__studio=studio):
            body = without_name(event.body, gone, stand_in)
            if body != event.body:
                RunEvent.objects.filter(pk=event.pk).update(body=body)
        for read in ReadBeforeStart.objects.filter(planned_class__studio=studio):
            kept = [item for item in read.items if item.get("person") != gone]
            if len(kept) < len(read.items):
                ReadBeforeStart.objects.filter(pk=read.pk).update(items=kept)


def _in_file(file: dict[str, Any] | None, key: str) -> dict[str, Any] | None:
    return next((item for item in (file or {"people": []})["people"] if item["id"] == key), None)
