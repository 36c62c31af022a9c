"""Endpoints of what happened: classes held, recordings, calibration, everything about somebody, erasure."""

from __future__ import annotations

from datetime import UTC, datetime
from typing import Annotated, Any, Literal

from django.db.models import Count, Max, QuerySet
from django.http import HttpRequest
from django.shortcuts import get_object_or_404
from ninja import Router, Status
from oaken.basis.faults import Faults
from oaken.calibration import Compared
from oaken.people import HeartFit
from oaken.plan import MOST_IN_CLASS
from oaken.recordings import read_recording
from people.api import file_content
from people.models import Person
from pydantic import AfterValidator, BaseModel, ConfigDict, Field
from studio.access import Number, RowId, assistants_too, member, studio_of
from studio.models import Member
from studio.turns import long_work

from logbook import keeping, retiring
from logbook.models import Held, ReadBeforeStart, Recording

router = Router(tags=["logbook"])


def _of_this_age(moment: datetime) -> datetime:
    if moment.tzinfo is None:
        moment = moment.replace(tzinfo=UTC)
    if not 2000 <= moment.year < 2100:
        raise ValueError("a class is held between the years 2000 and 2100")
    return moment


ClassMoment = Annotated[datetime, AfterValidator(_of_this_age)]


class ClassHeldIn(BaseModel):
    """A class that was held, when it began, and who came (None: everybody in it)."""

    class_id: RowId
    revision: Number
    began_at: ClassMoment
    people: Annotated[list[str], Field(max_length=MOST_IN_CLASS)] | None = None


class HeldOut(BaseModel):
    """A class that was held. `recorded` are the people of whom there is a recording. Energy is for instructors."""

    id: int
    class_id: RowId
    revision: int
    name: str
    began_at: datetime
    people: list[str]
    recorded: list[str]
    people_count: int
    kcal_total: float | None


class RecordingFile(BaseModel):
    """A recording as a file (CSV, TCX, FIT) in base64. `offset_s` is when its first reading was made, in seconds since
    the class began; None takes the clock of the file, or looks for where it fits."""

    person: Annotated[str, Field(max_length=60)]
    name: Annotated[str, Field(max_length=200)]
    content: Annotated[str, Field(max_length=11_000_000)]
    offset_s: Annotated[float, Field(ge=-7200, le=7200)] | None = None


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
    """One item of the list before the start, and what was decided; `person` is an id, empty for the class."""

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


@router.post("/held", response={201: HeldOut, 422: Faults}, auth=assistants_too)
def hold_class(request: HttpRequest, given: ClassHeldIn) -> Status[HeldOut]:
    """Log that a class was held."""
    planned = get_object_or_404(studio_of(request).classes, pk=given.class_id)
    kept = get_object_or_404(planned.revisions, number=given.revision)
    came = given.people if given.people is not None else list(kept.document["people"])
    held = keeping.hold(studio_of(request), planned, given.revision, given.began_at, came)
    return Status(201, _held(held, member(request)))


@router.get("/held", response=list[HeldOut], auth=assistants_too)
def list_held(request: HttpRequest) -> list[HeldOut]:
    """Classes that were held, the last one first."""
    held = studio_of(request).held.select_related("saved_as").defer("file")
    return [_held(one, member(request)) for one in held.prefetch_related("attendances__person", "recordings__person")]


@router.delete("/held/{held_id}", response={204: None})
def forget_held(request: HttpRequest, held_id: RowId) -> Status[None]:
    """Take a class out of the log, with its recordings."""
    get_object_or_404(studio_of(request).held, pk=held_id).delete()
    return Status(204, None)


@router.post("/held/{held_id}/recordings", response={201: RecordingKept, 422: Faults}, auth=assistants_too)
@long_work
def add_recording(request: HttpRequest, held_id: RowId, file: RecordingFile) -> Status[RecordingKept]:
    """Keep a recorded heart rate of somebody who came."""
    held = get_object_or_404(studio_of(request).held, pk=held_id)
    series = read_recording(file_content(file.content), file.name)
    return Status(201, _recording_kept(keeping.record(held, file.person, series, file.offset_s)))


@router.post("/held/{held_id}/simulated", response={201: RecordingKept, 422: Faults})
@long_work
def simulate_recording(request: HttpRequest, held_id: RowId, given: Simulated) -> Status[RecordingKept]:
    """Record somebody with a simulated belt."""
    held = get_object_or_404(studio_of(request).held, pk=held_id)
    return Status(201, _recording_kept(keeping.simulate(held, given.person)))


@router.get("/people/{key}/recordings", response=list[RecordingOut])
@long_work
def list_recordings(request: HttpRequest, key: str) -> list[RecordingOut]:
    """A person's recordings with how well each is forecast, the newest first."""
    person = _person(request, key)
    recordings = keeping.recordings_of(person)
    laid = {one.recording.pk: one for one, _ in keeping.met(person, recordings)}
    return [
        RecordingOut(
            id=recording.pk,
            class_name=_name(recording.held),
            began_at=recording.held.began_at,
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
        last=Max("attendances__held__began_at"),
        recorded=Count("recordings", distinct=True),
    )
    return [Attended(person=one.key, classes=one.classes, last=one.last, recordings=one.recorded) for one in people]


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
    return [_read(one) for one in planned.read_before_start.select_related("by")[:20]]


def _here(request: HttpRequest) -> QuerySet[Person]:
    return Person.objects.filter(studio=studio_of(request), erased=False)


def _person(request: HttpRequest, key: str) -> Person:
    return get_object_or_404(_here(request), key=key)


def _name(held: Held) -> str:
    return str(held.saved_as.document["name"])


def _held(held: Held, reader: Member) -> HeldOut:
    return HeldOut(
        id=held.pk,
        class_id=held.saved_as.planned_class_id,
        revision=held.saved_as.number,
        name=_name(held),
        began_at=held.began_at,
        people=[one.person.key for one in held.attendances.all()],
        recorded=[one.person.key for one in held.recordings.all()],
        people_count=held.people_count,
        kcal_total=held.kcal_total if reader.is_instructor else None,
    )


def _recording_kept(kept: Recording) -> RecordingKept:
    series = kept.series()
    return RecordingKept(
        id=kept.pk, source=kept.source, readings=series.bpm.size, minutes=round(series.length_s / 60, 1)
    )


def _read(one: ReadBeforeStart) -> ReadOut:
    by = "" if one.by is None else one.by.get_username()
    return ReadOut(by=by, at=one.at, revision=one.revision, items=[Decision(**item) for item in one.items])
