"""Keeping people: what adding, changing, importing and erasing somebody mean, without HTTP."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

from django.db import transaction
from django.utils import timezone
from oaken.basis.faults import Fault, FaultyInput, faults_in, faults_of
from oaken.basis.limits import most
from oaken.domain.people import Person as CorePerson
from oaken.domain.people.record import Record, SettingRow
from oaken.domain.people.roster import RosterRow
from oaken.exports.studio_file import KeptPerson
from oaken.physiology.body import body_of, fit_applies
from pydantic import ValidationError
from studio.documents import locked
from studio.models import Studio

from people.models import PLAIN_FIELDS, BodyReading, Lift, LiftGoal, Person, UnitSetting

_fault = faults_in("the person")

MOST_PEOPLE = most("roster.people")


def record_of(person: Person) -> Record:
    """What is written down about somebody."""
    lifts = list(person.lifts.all())
    return Record(
        person=person.to_core(),
        group=person.group,
        health_note=person.health_note,
        best_from={lift.exercise: lift.best_from for lift in lifts if lift.best_from},
        settings=[
            SettingRow(room=setting.room, unit=setting.unit, name=setting.name, value=setting.value)
            for setting in person.settings.all()
        ],
    )


def add(studio: Studio, record: Record) -> Person:
    """Keep somebody new. Raises FaultyInput where the id is taken or what is said of them contradicts itself."""
    with transaction.atomic():
        found = faults_with(studio, record)
        if studio.people.filter(key=record.person.id).exists():
            message = f"there is somebody with the id {record.person.id!r} already"
            found.append(_fault("id", message, "an id of its own"))
        if studio.people.count() >= MOST_PEOPLE:
            found.append(_fault("id", f"{MOST_PEOPLE} people are kept at most", "erase somebody who left"))
        if found:
            raise FaultyInput(found)
        person = Person.objects.create(studio=studio, key=record.person.id, **_columns(record))
        _fill(person, record)
        _read_today(person, record.person)
    return person


def put_back(studio: Studio, kept: KeptPerson) -> Person:
    """Keep somebody as they were kept in the file of a studio."""
    person = Person.objects.create(
        studio=studio,
        key=kept.record.person.id,
        **_columns(kept.record),
        load_school=kept.load_school,
        erased=kept.erased,
        revision=kept.revision,
    )
    _fill(person, kept.record)
    BodyReading.objects.bulk_create(BodyReading(person=person, **body.model_dump()) for body in kept.bodies)
    LiftGoal.objects.bulk_create(LiftGoal(person=person, **goal.model_dump()) for goal in kept.goals)
    return person


def change(studio: Studio, key: str, based_on: int, record: Record) -> Person:
    """Keep somebody changed. Raises StaleSave, and keeps nothing, when they were changed since.

    A calibration that was fitted with other body data no longer holds and is dropped.
    """
    found = faults_with(studio, record)
    if record.person.id != key:
        found.append(_fault("id", "a person keeps their id", f"given: {record.person.id!r}, kept: {key!r}"))
    if found:
        raise FaultyInput(found)
    record = _with_fit_that_applies(record)
    with transaction.atomic():
        person = locked(studio.people.all(), "person", based_on, key=key)
        for name, value in _columns(record).items():
            setattr(person, name, value)
        person.save()
        person.lifts.all().delete()
        person.settings.all().delete()
        _fill(person, record)
        _read_today(person, record.person)
    return person


def _read_today(person: Person, now: CorePerson) -> None:
    """Keep body mass and resting rate with today's date where they are not what was kept last."""
    last = person.body_readings.order_by("-on").first()
    if last is not None and (last.body_mass_kg, last.resting_bpm) == (now.body_mass_kg, now.resting_bpm):
        return
    BodyReading.objects.update_or_create(
        person=person,
        on=timezone.localdate(timezone=person.studio.zone),
        defaults={"body_mass_kg": now.body_mass_kg, "resting_bpm": now.resting_bpm},
    )


def _with_fit_that_applies(record: Record) -> Record:
    """The record without a calibration that was made with other body data."""
    fit = record.person.heart_fit
    if fit is None:
        return record
    body = body_of(record.person)
    if fit_applies(fit, body.max_bpm.value, body.vo2max.value):
        return record
    return record.model_copy(update={"person": record.person.model_copy(update={"heart_fit": None})})


def keep_many(studio: Studio, rows: Sequence[RosterRow]) -> None:
    """Keep everybody of a roster file, all or nobody; faulty rows are passed over.

    Of somebody who is here already only what the row has a word for changes: an empty cell, or a column that the file
    does not have, leaves what was written down. Raises FaultyInput where the two contradict each other, or where there
    would be too many people. Everything is read at once and written at once, so that others wait for a moment only.
    """
    with transaction.atomic():
        here = {person.key: person for person in studio.people.prefetch_related("lifts", "settings")}
        added: dict[str, tuple[Person, Record]] = {}
        changed: dict[str, tuple[Person, Record]] = {}
        for row in rows:
            if row.person is None:
                continue
            key = row.person.id
            kept = here.get(key)
            if kept is not None and kept.erased:
                raise FaultyInput([_in_line(row, f"the id {key!r} belonged to somebody who was erased")])
            if kept is None:
                record = Record(person=row.person, group=row.group)
                added[key] = (Person(studio=studio, key=key, **_columns(record)), record)
                continue
            record = _with_fit_that_applies(_changed_by(row, record_of(kept)))
            for name, value in _columns(record).items():
                setattr(kept, name, value)
            kept.revision += 1
            changed[key] = (kept, record)
        if len(here) + len(added) > MOST_PEOPLE:
            right = f"{MOST_PEOPLE} people are kept at most, {len(here)} are here"
            raise FaultyInput([_fault("id", f"{len(added)} more are too many", right)])
        Person.objects.bulk_create(person for person, _ in added.values())
        Person.objects.bulk_update([person for person, _ in changed.values()], [*COLUMNS, "revision"], batch_size=40)
        Lift.objects.filter(person__in=[person.pk for person, _ in changed.values()]).delete()
        both = [*added.values(), *changed.values()]
        Lift.objects.bulk_create([lift for person, record in both for lift in _lifts(person, record)])


def _changed_by(row: RosterRow, before: Record) -> Record:
    """What is written down about somebody, with what their row has a word for."""
    assert row.person is not None
    told = row.person.model_dump(include=set(row.given))
    bests = {lift: kg for lift, kg in before.person.bests_kg.items() if lift not in row.cleared} | row.person.bests_kg
    document = {**before.person.model_dump(), **told, "bests_kg": bests}
    try:
        own = CorePerson.model_validate(document)
    except ValidationError as error:
        place = {"place": f"line {row.line}"}
        raise FaultyInput([fault.model_copy(update=place) for fault in faults_of(error, document)]) from error
    group = "" if "group" in row.cleared else row.group or before.group
    return before.model_copy(update={"person": own, "group": group})


def _in_line(row: RosterRow, message: str) -> Fault:
    return Fault(path="id", place=f"line {row.line}", field="id", message=message, right="another id")


def faults_with(studio: Studio, record: Record) -> list[Fault]:
    """What the record alone cannot know: whether units exist, and that every number belongs to something."""
    found = []
    units = {
        (room.key, unit.key): set(unit.settings)
        for room in studio.rooms.prefetch_related("units")
        for unit in room.units.all()
    }
    for index, row in enumerate(record.settings):
        if row.name not in units.get((row.room, row.unit), {row.name}):
            message = f"{row.unit!r} has no {row.name} to set"
            found.append(_fault(f"settings.{index}", message, "a setting of that unit"))
    twice = [(row.room, row.unit, row.name) for row in record.settings]
    if len(set(twice)) < len(twice):
        found.append(_fault("settings", "the same setting stands twice", "each setting once"))
    return found


COLUMNS = (*PLAIN_FIELDS, "sex", "group", "health_note")
"""The columns of a person that a record fills."""


def _columns(record: Record) -> dict[str, Any]:
    person = record.person.model_dump(mode="json")
    plain = {name: person[name] for name in PLAIN_FIELDS}
    return {**plain, "sex": person["sex"] or "", "group": record.group, "health_note": record.health_note}


def _lifts(person: Person, record: Record) -> list[Lift]:
    bests: Mapping[str, float] = record.person.bests_kg
    return [
        Lift(
            person=person,
            exercise=exercise,
            best_kg=bests.get(exercise),
            best_from=record.best_from.get(exercise, "")[:120] if exercise in bests else "",
            working_kg=record.person.working_kg.get(exercise),
            working_sets_kg=list(record.person.working_sets_kg.get(exercise, ())),
        )
        for exercise in sorted({*bests, *record.person.working_kg})
    ]


def _fill(person: Person, record: Record) -> None:
    Lift.objects.bulk_create(_lifts(person, record))
    UnitSetting.objects.bulk_create(UnitSetting(person=person, **row.model_dump()) for row in record.settings)
