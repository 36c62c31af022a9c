"""Endpoints of the people: the roster, one person, and the roster as a file."""

from __future__ import annotations

from typing import Annotated

from django.db import transaction
from django.db.models import QuerySet
from django.http import HttpRequest
from django.shortcuts import get_object_or_404
from django.utils import timezone
from ninja import Router, Status
from oaken.basis.estimate import Estimate
from oaken.basis.faults import Fault, Faults, FaultyInput
from oaken.design.first_class import FirstPeople, first_people
from oaken.domain.people import Person as CorePerson
from oaken.domain.people.conditions import CarefulAbout, conditions
from oaken.domain.people.record import Record
from oaken.domain.people.roster import RosterRow, fresh_id, read_roster, write_roster
from oaken.domain.people.screening import ScreeningState, screening_state
from oaken.physiology.body import body_of
from oaken.physiology.strength.one_rep_max import BestFormula, best_from_set
from pydantic import BaseModel, Field
from studio.access import Number, needs, studio_of
from studio.documents import Stale, StaleSave
from studio.files import FILE_BODY, received

from people import keeping
from people.models import Person

router = Router(tags=["people"], auth=needs("read_health"))


class RosterLine(BaseModel):
    """One line of the roster: the person as the computation knows them, their group, and how their screening stands."""

    person: CorePerson
    group: str
    screening: ScreeningState


class NameLine(BaseModel):
    """What everybody who works here may know of a person."""

    id: str
    name: str


class PersonOut(BaseModel):
    """What is written down about a person, the number of its state, and what follows from it: the heart, and how the
    screening stands today."""

    record: Record
    revision: int
    rest_bpm: Estimate
    max_bpm: Estimate
    vo2max: Estimate
    screening: ScreeningState


class PersonSave(BaseModel):
    """A person to keep, and the state it was made from."""

    based_on: Number
    record: Record


class RosterPreview(BaseModel):
    """What a file would do: rows that are right (`new` or changing somebody who is here), and faulty ones."""

    rows: list[RosterRow]
    new: list[int]
    changing: list[int]
    faulty: list[int]


class RosterKept(BaseModel):
    """What a file did: how many were added and changed, and which lines were left out."""

    added: int
    changed: int
    left_out: list[int]


class LastSet(BaseModel):
    """A set to failure or near it."""

    load_kg: Annotated[float, Field(gt=0, le=900)]
    reps: Annotated[int, Field(ge=1, le=100)]
    in_reserve: Annotated[int, Field(ge=0, le=20)] = 0
    formula: BestFormula = "epley"


class FileText(BaseModel):
    """A file as text."""

    name: str
    text: str


@router.get("/people", response=list[CorePerson])
def list_people(request: HttpRequest) -> list[CorePerson]:
    """Everybody, with what the computation knows of them."""
    return [line.person for line in _roster(request)]


@router.get("/people/roster", response=list[RosterLine])
def read_roster_lines(request: HttpRequest) -> list[RosterLine]:
    """Everybody with their group."""
    return _roster(request)


@router.get("/people/names", response=list[NameLine], auth=needs("run_classes"))
def list_names(request: HttpRequest) -> list[NameLine]:
    """Everybody's name."""
    return [NameLine(id=key, name=name) for key, name in _here(request).values_list("key", "name")]


@router.get("/conditions", response=list[CarefulAbout])
def list_conditions(request: HttpRequest) -> list[CarefulAbout]:
    """What people may have to be careful about."""
    return list(conditions().values())


@router.post("/people", response={201: PersonOut, 422: Faults})
def add_person(request: HttpRequest, record: Record) -> Status[PersonOut]:
    """Keep somebody new; with the id “new” one is made of the name."""
    if record.person.id == "new":
        taken = studio_of(request).people.values_list("key", flat=True)
        own = record.person.model_copy(update={"id": fresh_id(record.person.name, taken)})
        record = record.model_copy(update={"person": own})
    return Status(201, _out(keeping.add(studio_of(request), record)))


@router.post("/people/crowd", response={201: list[CorePerson], 422: Faults})
def add_crowd(request: HttpRequest, told: FirstPeople) -> Status[list[CorePerson]]:
    """Keep as many people of each level as are told, before anybody has a name; all of them or nobody."""
    studio = studio_of(request)
    with transaction.atomic():
        taken = set(studio.people.values_list("key", flat=True))
        made = [keeping.add(studio, first_person) for first_person in first_people(told, taken)]
    return Status(201, [keeping.record_of(item).person for item in made])


@router.post("/people/roster/preview", response={200: RosterPreview, 422: Faults}, openapi_extra=FILE_BODY)
def preview_roster(request: HttpRequest) -> RosterPreview:
    """What a roster file (CSV) would do; nothing is kept."""
    return _preview(request)


@router.post("/people/roster", response={200: RosterKept, 422: Faults}, openapi_extra=FILE_BODY)
def import_roster(request: HttpRequest, only_right: bool = False) -> RosterKept:
    """Keep the people of a roster file: all of them, or nobody; with `only_right` faulty rows are left out."""
    preview = _preview(request)
    if preview.faulty and not only_right:
        raise FaultyInput([fault for row in preview.rows for fault in row.faults])
    keeping.keep_many(studio_of(request), preview.rows)
    return RosterKept(added=len(preview.new), changed=len(preview.changing), left_out=preview.faulty)


@router.get("/people/roster/file", response=FileText)
def export_roster(request: HttpRequest, pounds: bool = False) -> FileText:
    """The roster as CSV, in kilograms and centimetres or in pounds and inches."""
    people = [(line.person, line.group) for line in _roster(request)]
    return FileText(name="roster.csv", text=write_roster(people, pounds=pounds))


@router.get("/people/{key}", response=PersonOut)
def read_person(request: HttpRequest, key: str) -> PersonOut:
    """A person to work on."""
    return _out(_person(request, key))


@router.put("/people/{key}", response={200: PersonOut, 409: Stale[PersonOut], 422: Faults})
def put_person(request: HttpRequest, key: str, given: PersonSave) -> Status[PersonOut] | Status[Stale[PersonOut]]:
    """Keep a changed person; 409 with the newest state when it was made from an older."""
    _person(request, key)
    try:
        return Status(200, _out(keeping.change(studio_of(request), key, given.based_on, given.record)))
    except StaleSave as stale:
        return Status(409, Stale[PersonOut](message=str(stale), latest=_out(stale.latest)))


@router.post("/bodies", response=PersonOut)
def read_body(request: HttpRequest, record: Record) -> PersonOut:
    """The heart that follows from what is written down, before it is kept."""
    return _body(record, 0)


@router.post("/best", response={200: Estimate, 422: Faults})
def estimate_best(request: HttpRequest, done: LastSet) -> Estimate:
    """The one-repetition maximum that a set points to."""
    try:
        return best_from_set(done.load_kg, done.reps, done.formula, done.in_reserve)
    except ValueError as error:
        raise FaultyInput(
            [Fault(path="set", place="the set", field="set", message=str(error), right="a set to failure or near it")]
        ) from error


def _here(request: HttpRequest) -> QuerySet[Person]:
    return studio_of(request).people.filter(erased=False)


def _person(request: HttpRequest, key: str) -> Person:
    return get_object_or_404(_here(request).prefetch_related("lifts", "settings"), key=key)


def _roster(request: HttpRequest) -> list[RosterLine]:
    people = _here(request).prefetch_related("lifts")
    today = timezone.localdate()
    return [
        RosterLine(person=core, group=person.group, screening=screening_state(core.screening, today))
        for person, core in ((person, person.to_core()) for person in people)
    ]


def _out(person: Person) -> PersonOut:
    return _body(keeping.record_of(person), person.revision)


def _body(record: Record, revision: int) -> PersonOut:
    body = body_of(record.person)
    return PersonOut(
        record=record,
        revision=revision,
        rest_bpm=body.rest_bpm,
        max_bpm=body.max_bpm,
        vo2max=body.vo2max,
        screening=screening_state(record.person.screening, timezone.localdate()),
    )


def _preview(request: HttpRequest) -> RosterPreview:
    here = set(_here(request).values_list("key", flat=True))
    rows = read_roster(received(request, "table.bytes"), studio_of(request).people.values_list("key", flat=True)).rows
    return RosterPreview(
        rows=rows,
        new=[row.line for row in rows if row.person is not None and row.person.id not in here],
        changing=[row.line for row in rows if row.person is not None and row.person.id in here],
        faulty=[row.line for row in rows if row.person is None],
    )
