"""The whole studio as one file of open formats: read row by row, so that a studio of any size takes little memory."""

from __future__ import annotations

import logging
from collections.abc import Iterator, Mapping
from datetime import datetime
from typing import IO, Any, cast

import orjson
from logbook.models import Run
from oaken.exports.studio_file import (
    ClassHead,
    CourseHead,
    House,
    KeptAttendance,
    KeptBody,
    KeptCourse,
    KeptGoal,
    KeptHeart,
    KeptPerson,
    KeptRead,
    KeptRevision,
    KeptRoom,
    RunHead,
    StudioWriter,
    Works,
)
from oaken.programme.course import Course as CoreCourse
from people.keeping import record_of
from people.models import Person
from planning.models import Course, PlannedClass
from pydantic import BaseModel, ValidationError
from studio.models import OwnEntry, Studio
from studio.permissions import Role

from moving.sets_table import write_sets

logger = logging.getLogger("oaken.moving")

ROWS = 2000
"""Rows that are read at a time."""


def _own(kind: str, entry: OwnEntry) -> bytes:
    # older readers know nothing of a decision: it is written only where there is one
    decided = {"decided": entry.decided} if entry.decided else {}
    return orjson.dumps({kind: entry.document, "retired": entry.retired, **decided}) + b"\n"


def export_studio(studio: Studio, target: IO[bytes], made_at: datetime) -> None:
    """Write everything that is kept of a studio, but for passwords, the passes of walls and belts, and the addresses of
    calendars, which belong to this installation."""
    classes = _numbered(studio.classes.order_by("pk").values_list("pk", flat=True))
    courses = _numbered(studio.courses.order_by("pk").values_list("pk", flat=True))
    with StudioWriter(target, studio.name, made_at) as file:
        file.write("studio.json", [_house(studio).model_dump_json(indent=1).encode()])
        file.write("rooms.jsonl", _lines(_rooms(studio)))
        for kind, path in (("exercise", "own-exercises.jsonl"), ("equipment", "own-equipment.jsonl")):
            entries = studio.own_entries.filter(kind=kind).order_by("pk")
            file.write(path, (_own(kind, entry) for entry in entries))
        file.write("people.jsonl", _lines(_people(studio)))
        for pk, number in courses.items():
            file.write(f"courses/{number}.jsonl", _lines(_course(studio.courses.get(pk=pk), classes)))
        for pk, number in classes.items():
            file.write(f"classes/{number}.jsonl", _lines(_class(studio.classes.get(pk=pk), courses)))
        for number, pk in enumerate(studio.runs.order_by("pk").values_list("pk", flat=True), 1):
            _run(file, number, Run.objects.select_related("saved_as").get(pk=pk), classes)


def _numbered(keys: Any) -> dict[int, int]:
    return {pk: number for number, pk in enumerate(keys, 1)}


def _lines(records: Iterator[BaseModel]) -> Iterator[bytes]:
    for record in records:
        yield record.model_dump_json().encode() + b"\n"


def _house(studio: Studio) -> House:
    return House(
        name=studio.name,
        time_zone=studio.time_zone,
        house_rules=studio.rules,
        load_rules=studio.load_rules,
        revision=studio.revision,
        works=[
            Works(user=member.user.get_username(), role=cast(Role, member.role))
            for member in studio.members.select_related("user")
        ],
    )


def _rooms(studio: Studio) -> Iterator[KeptRoom]:
    for room in studio.rooms.order_by("pk").prefetch_related("units", "zones"):
        yield KeptRoom(room=room.to_core(), revision=room.revision, retired=room.retired)


def _people(studio: Studio) -> Iterator[KeptPerson]:
    parts = ("lifts", "settings", "body_readings", "lift_goals")
    everybody = Person.objects.filter(studio=studio).order_by("pk").prefetch_related(*parts)
    for person in everybody.iterator(chunk_size=100):
        yield KeptPerson(
            record=record_of(person),
            load_school=person.load_school,
            erased=person.erased,
            revision=person.revision,
            bodies=[
                KeptBody(
                    on=body_reading.on, body_mass_kg=body_reading.body_mass_kg, resting_bpm=body_reading.resting_bpm
                )
                for body_reading in person.body_readings.all()
            ],
            goals=[
                KeptGoal(exercise=lift_goal.exercise, best_kg=lift_goal.best_kg, by=lift_goal.by)
                for lift_goal in person.lift_goals.all()
            ],
        )


def _course(course: Course, classes: Mapping[int, int]) -> Iterator[BaseModel]:
    yield CourseHead(archived=course.archived, created_at=course.created_at)
    for revision in course.revisions.order_by("number").iterator(chunk_size=50):
        document = {**revision.document, "bases": [_base(base, classes) for base in revision.document["bases"]]}
        # a base is called by the number of its class here, so the changes and meetings that name it are too
        ids = {old["id"]: new["id"] for old, new in zip(revision.document["bases"], document["bases"], strict=True)}
        yield KeptCourse(
            number=revision.number,
            saved_at=revision.saved_at,
            course=CoreCourse.model_validate(renumbered(document, ids)),
        )


def _base(base: dict[str, Any], classes: Mapping[int, int]) -> dict[str, Any]:
    """A base class that is not there any more keeps a name that no class has."""
    key = str(base["id"])
    there = classes.get(int(key)) if key.isdigit() else None
    return {**base, "id": str(there) if there else f"gone-{key.removeprefix('gone-')}"}


def renumbered(course: dict[str, Any], ids: Mapping[str, str]) -> dict[str, Any]:
    """A course's document whose meetings and changes name its bases by other ids."""
    meetings = [{**item, "base": ids.get(item["base"], item["base"])} for item in course["meetings"]]
    changes = [{**item, "bases": [ids.get(base, base) for base in item.get("bases", ())]} for item in course["changes"]]
    return {**course, "meetings": meetings, "changes": changes}


def _class(planned: PlannedClass, courses: Mapping[int, int]) -> Iterator[BaseModel]:
    yield ClassHead(
        key=planned.key,
        archived=planned.archived,
        created_at=planned.created_at,
        course=None if planned.course_id is None else courses[planned.course_id],
        course_week=planned.course_week,
        course_meeting=planned.course_meeting,
        written_revision=planned.written_revision,
        written_from=planned.written_from,
        read=[
            KeptRead(
                revision=item.revision,
                by=item.by_name if item.by is None else item.by.get_username(),
                at=item.at,
                items=item.items,
            )
            for item in planned.read_pre_class_check.select_related("by").order_by("pk")
        ],
        accepted=planned.accepted,
    )
    for each_revision in planned.revisions.order_by("number").iterator(chunk_size=50):
        yield KeptRevision(
            number=each_revision.number,
            saved_at=each_revision.saved_at,
            format="oaken-class/1" if each_revision.format == "oaken-class/1" else "oaken-class/2",
            plan=each_revision.document,
            length_s=each_revision.length_s,
            kcal_each=each_revision.kcal_each,
            outline=each_revision.outline,
        )


def _run(file: StudioWriter, number: int, run: Run, classes: Mapping[int, int]) -> None:
    head = RunHead(
        of_class=classes[run.saved_as.planned_class_id],
        revision=run.saved_as.number,
        known=run.file is not None,
        rebuilt=run.rebuilt,
        opened_at=run.opened_at,
        began_at=run.began_at,
        ended_at=run.ended_at,
        people_count=run.people_count,
        kcal_total=run.kcal_total,
        figures=run.figures,
        unwritten=run.unwritten,
        projected=run.projected,
        came=[
            KeptAttendance(person=key, figures=figures)
            for key, figures in run.attendances.order_by("pk").values_list("person__key", "figures")
        ],
    )
    file.write(f"runs/{number}.json", [head.model_dump_json(indent=1).encode()])
    file.write(f"runs/{number}.log.jsonl", _log(run))
    if run.recordings.exists() or run.live_hearts.exists():
        file.write(f"runs/{number}.hearts.jsonl", _lines(_hearts(run)))
    if run.done_sets.exists():
        file.write(f"runs/{number}.sets.csv", write_sets(run, ROWS))


def _log(run: Run) -> Iterator[bytes]:
    """The run log: the class it was held with, then every event with when the server had it."""
    yield orjson.dumps(run.file) + b"\n"
    rows = run.events.order_by("pk").values_list("body", "received_at")
    for body, received_at in rows.iterator(chunk_size=ROWS):
        yield orjson.dumps({**body, "received_at": received_at}) + b"\n"


def _hearts(run: Run) -> Iterator[KeptHeart]:
    """What was recorded in a run. A reading that an earlier version kept and that can be none is left out: it must not
    keep everything else in."""
    for number, fields in _kept_hearts(run):
        try:
            yield KeptHeart(**fields)
        except ValidationError as error:
            logger.warning("a recording of run %d (%d) was left out: %s", run.pk, number, error.errors()[0]["msg"])


def _kept_hearts(run: Run) -> Iterator[tuple[int, dict[str, Any]]]:
    for recording in run.recordings.select_related("person").order_by("pk"):
        told = {
            "source": recording.source,
            "start": recording.start,
            "offset_s": recording.offset_s,
            "at_work": recording.at_work,
        }
        yield (
            recording.pk,
            {
                "person": recording.person.key,
                "kind": "recording",
                "seconds": recording.seconds,
                "bpm": recording.bpm,
                **told,
            },
        )
    for live_heart in run.live_hearts.select_related("person").order_by("pk").iterator(chunk_size=ROWS):
        told = {"start": live_heart.first_at, "seconds": live_heart.seconds, "bpm": live_heart.bpm}
        yield live_heart.pk, {"person": live_heart.person.key, "kind": "belt", **told}
