"""Endpoints of what happened: classes held, recordings, calibration, everything about somebody, erasure."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Any, Literal

from django.db.models import Count, Max, QuerySet
from django.http import HttpRequest
from django.shortcuts import get_object_or_404
from ninja import Router, Status
from oaken.basis.faults import Faults
from oaken.domain.people import HeartFit
from oaken.heart_data.calibration import Compared
from oaken.heart_data.recordings import person_named, read_recording
from people.models import Person
from pydantic import BaseModel, ConfigDict, Field
from studio.access import Number, RowId, member, needs, studio_of
from studio.files import FILE_BODY, received
from studio.turns import long_work

from logbook import keeping, retiring
from logbook.models import ReadBeforeStart, Recording
from logbook.runs_api import name_of

router = Router(tags=["logbook"])


Words = Annotated[str, Field(max_length=200)]
Offset = Annotated[float, Field(ge=-7200, le=7200)]


class RecordingLooked(BaseModel):
    """What a recording holds, before it is kept: how many readings over how many minutes, when it began by its own
    clock, and whose it is by the file's name (None: nobody who came is meant for sure)."""

    source: str
    readings: int
    minutes: float
    start: datetime | None
    person: str | None
    recorded: bool


class Simulated(BaseModel):
    """Whose class is to be recorded by a simulated belt."""

    person: Annotated[str, Field(max_length=60)]


class RecordingKept(BaseModel):
    """A recording that was kept: how many readings over how many minutes."""

    id: int
    source: str
    readings: int
    minutes: float


class RecordingOver(BaseModel):
    """How well a recording is forecast: today, and by the usual heart (mean error and bias in bpm, and its curve)."""

    now: Compared
    usual_error_bpm: float
    usual_bias_bpm: float
    usual: list[float]


class RecordingOut(BaseModel):
    """A recording over its class: forecast by the heart as it is known today, and how the usual one would have done.

    `over` is None where an earlier version did not keep what the class was held with.
    """

    id: int
    class_name: str
    began_at: datetime
    source: str
    minutes: float
    over: RecordingOver | None


class Calibration(BaseModel):
    """What the recordings say of a heart, whether that is better than the usual one, and why."""

    fit: HeartFit
    better: bool
    used: bool
    why: str


class Fit(BaseModel):
    """Whether a calibration is to be used or only looked at."""

    use: bool = True


class Attended(BaseModel):
    """How often somebody came, when last, and how many recordings there are of them."""

    person: str
    classes: int
    last: datetime | None
    recordings: int


class NotRetired(BaseModel):
    """What was retired is to be chosen again."""

    retired: Literal[False]


class EntryRemoval(BaseModel):
    """What became of an entry that was to be taken out, and the first few things that still name it."""

    outcome: retiring.Outcome
    named_by: list[str]


class Decision(BaseModel):
    """One item of the pre-class check, and what was decided; `person` is an id, empty for the class."""

    model_config = ConfigDict(extra="forbid")

    item: Annotated[str, Field(max_length=120)]
    person: Annotated[str, Field(max_length=60)] = ""
    message: Annotated[str, Field(max_length=500)]
    decision: Literal["goes", "eased", "not_today", "read"]


class Read(BaseModel):
    """Everything that was read before a class, item by item."""

    revision: Number
    items: Annotated[list[Decision], Field(max_length=400)]


class ReadOut(BaseModel):
    """Who read what before a class, and when."""

    by: str
    at: datetime
    revision: int
    items: list[Decision]


@router.post(
    "/runs/{run_id}/recordings",
    response={201: RecordingKept, 422: Faults},
    auth=needs("run_classes"),
    openapi_extra=FILE_BODY,
)
@long_work
def add_recording(
    request: HttpRequest, run_id: RowId, person: Words, name: Words, offset_s: Offset | None = None
) -> Status[RecordingKept]:
    """Keep a recorded heart rate (CSV, TCX, GPX, FIT) of somebody who came. `offset_s` is when its first reading was
    made, in seconds since the class began; without it the clock of the file counts, or where it fits."""
    run = get_object_or_404(studio_of(request).runs, pk=run_id)
    series = read_recording(received(request, "recording.bytes"), name)
    return Status(201, _recording_kept(keeping.record(run, person, series, offset_s)))


@router.post("/runs/{run_id}/recordings/look", response={200: RecordingLooked, 422: Faults}, openapi_extra=FILE_BODY)
@long_work
def look_at_recording(request: HttpRequest, run_id: RowId, name: Words) -> RecordingLooked:
    """What a recording holds, and whose it seems to be; nothing is kept."""
    run = get_object_or_404(studio_of(request).runs, pk=run_id)
    series = read_recording(received(request, "recording.bytes"), name)
    came = dict(run.attendances.values_list("person__key", "person__name"))
    person = person_named(name, came)
    return RecordingLooked(
        source=series.source,
        readings=series.bpm.size,
        minutes=round(series.length_s / 60, 1),
        start=series.start,
        person=person,
        recorded=person is not None and run.recordings.filter(person__key=person).exists(),
    )


@router.post("/runs/{run_id}/simulated", response={201: RecordingKept, 422: Faults})
@long_work
def simulate_recording(request: HttpRequest, run_id: RowId, given: Simulated) -> Status[RecordingKept]:
    """Record somebody with a simulated belt."""
    run = get_object_or_404(studio_of(request).runs, pk=run_id)
    return Status(201, _recording_kept(keeping.simulate(run, [given.person])[0]))


@router.get("/people/{key}/recordings", response=list[RecordingOut])
@long_work
def list_recordings(request: HttpRequest, key: str) -> list[RecordingOut]:
    """A person's recordings with how well each is forecast, the newest first."""
    person = _person(request, key)
    recordings = keeping.recordings_of(person)
    laid = {item.recording.pk: item for item, _ in keeping.met(person, recordings)}
    return [
        RecordingOut(
            id=recording.pk,
            class_name=name_of(recording.run),
            began_at=recording.run.began_at or recording.run.opened_at,
            source=recording.source,
            minutes=round(recording.series().length_s / 60, 1),
            over=_over(laid[recording.pk]) if recording.pk in laid else None,
        )
        for recording in reversed(recordings)
    ]


def _over(one: keeping.Met) -> RecordingOver:
    return RecordingOver(
        now=one.now,
        usual_error_bpm=one.usual.error_bpm,
        usual_bias_bpm=one.usual.bias_bpm,
        usual=one.usual.forecast,
    )


@router.delete("/people/{key}/recordings/{recording_id}", response={204: None})
def delete_recording(request: HttpRequest, key: str, recording_id: RowId) -> Status[None]:
    """Delete a recording."""
    get_object_or_404(_person(request, key).recordings, pk=recording_id).delete()
    return Status(204, None)


@router.post("/people/{key}/calibration", response={200: Calibration, 422: Faults})
@long_work
def calibrate_person(request: HttpRequest, key: str, given: Fit) -> Calibration:
    """Fit the person's heart to their recordings; with `use` the next forecast uses it where it is better than the
    usual one."""
    person = _person(request, key)
    found = keeping.use_calibration(person) if given.use else keeping.calibrated(person)
    return Calibration(fit=found.fit, better=found.better, used=given.use and found.better, why=found.why)


@router.delete("/people/{key}/calibration", response={204: None})
def forget_calibration(request: HttpRequest, key: str) -> Status[None]:
    """Go back to the usual heart."""
    person = _person(request, key)
    person.heart_fit = None
    person.revision += 1
    person.save(update_fields=["heart_fit", "revision"])
    return Status(204, None)


@router.get("/attendance", response=list[Attended])
def list_attendance(request: HttpRequest) -> list[Attended]:
    """How often everybody came."""
    people = _here(request).annotate(
        classes=Count("attendances", distinct=True),
        last=Max("attendances__run__began_at"),
        recorded=Count("recordings", distinct=True),
    )
    return [
        Attended(
            person=each_person.key, classes=each_person.classes, last=each_person.last, recordings=each_person.recorded
        )
        for each_person in people
    ]


@router.get("/people/{key}/everything", response=dict[str, Any])
def tell_everything(request: HttpRequest, key: str) -> dict[str, Any]:
    """Everything that is kept on one person."""
    return keeping.everything_about(_person(request, key))


@router.delete("/people/{key}/everything", response={204: None})
def erase_person(request: HttpRequest, key: str) -> Status[None]:
    """Erase somebody; the totals of past classes stay."""
    keeping.erase(_person(request, key))
    return Status(204, None)


@router.delete("/own/exercises/{key}", response={200: EntryRemoval, 422: Faults})
def take_out_exercise(request: HttpRequest, key: str) -> EntryRemoval:
    """Take out an exercise that was added here: deleted where nothing names it, otherwise retired."""
    return EntryRemoval(**vars(retiring.take_out_exercise(studio_of(request), key)))


@router.delete("/own/equipment/{key}", response={200: EntryRemoval, 422: Faults})
def take_out_equipment(request: HttpRequest, key: str) -> EntryRemoval:
    """Take out an equipment kind that was added here: deleted where nothing names it, otherwise retired."""
    return EntryRemoval(**vars(retiring.take_out_equipment(studio_of(request), key)))


@router.delete("/own/rooms/{key}", response={200: EntryRemoval, 422: Faults})
def take_out_room(request: HttpRequest, key: str) -> EntryRemoval:
    """Take out a room: deleted where no class of any time names it, otherwise retired."""
    get_object_or_404(studio_of(request).rooms, key=key)
    return EntryRemoval(**vars(retiring.take_out_room(studio_of(request), key)))


@router.put("/own/{kind}/{key}/retired", response={204: None, 422: Faults})
def bring_back(
    request: HttpRequest, kind: Literal["exercises", "equipment", "rooms"], key: str, given: NotRetired
) -> Status[None]:
    """Let a retired exercise, equipment kind or room be chosen again."""
    if kind == "rooms":
        get_object_or_404(studio_of(request).rooms, key=key)
        retiring.bring_back_room(studio_of(request), key)
    else:
        retiring.bring_back_entry(studio_of(request), "exercise" if kind == "exercises" else "equipment", key)
    return Status(204, None)


@router.post("/classes/{class_id}/read", response={201: ReadOut, 422: Faults})
def keep_read(request: HttpRequest, class_id: RowId, given: Read) -> Status[ReadOut]:
    """Keep what was read and decided before a class."""
    planned = get_object_or_404(studio_of(request).classes, pk=class_id)
    get_object_or_404(planned.revisions, number=given.revision)
    read = ReadBeforeStart.objects.create(
        planned_class=planned,
        revision=given.revision,
        by=member(request).user,
        items=[item.model_dump() for item in given.items],
    )
    return Status(201, _read(read))


@router.get("/classes/{class_id}/read", response=list[ReadOut])
def list_read(request: HttpRequest, class_id: RowId) -> list[ReadOut]:
    """What was read before this class, the last time first."""
    planned = get_object_or_404(studio_of(request).classes, pk=class_id)
    return [_read(item) for item in planned.read_pre_class_check.select_related("by")[:20]]


def _here(request: HttpRequest) -> QuerySet[Person]:
    return Person.objects.filter(studio=studio_of(request), erased=False)


def _person(request: HttpRequest, key: str) -> Person:
    return get_object_or_404(_here(request), key=key)


def _recording_kept(kept: Recording) -> RecordingKept:
    series = kept.series()
    return RecordingKept(
        id=kept.pk, source=kept.source, readings=series.bpm.size, minutes=round(series.length_s / 60, 1)
    )


def _read(one: ReadBeforeStart) -> ReadOut:
    by = one.by_name if one.by is None else one.by.get_username()
    return ReadOut(by=by, at=one.at, revision=one.revision, items=[Decision(**item) for item in one.items])
