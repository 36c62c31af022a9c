"""A studio out of its file: looked at without anything kept, or kept as a studio of its own, whole or not at all."""

from __future__ import annotations

from collections.abc import Iterator
from datetime import timedelta
from typing import IO, Any, Literal
from zoneinfo import available_timezones

import orjson
from django.contrib.auth.models import User
from django.db import DataError, IntegrityError, transaction
from django.utils import timezone
from logbook.models import Attendance, LiveHeart, ReadBeforeStart, Recording, Run, RunEvent
from logbook.runs import materialise_missing
from logbook.sets import put_back as put_sets_back
from oaken.basis.faults import FaultyInput, faults_of
from oaken.basis.limits import in_words, most
from oaken.domain.catalogue import EquipmentKind, Exercise
from oaken.exports.studio_file import (
    ClassHead,
    CourseHead,
    Decided,
    House,
    KeptCourse,
    KeptEquipment,
    KeptExercise,
    KeptHeart,
    KeptPerson,
    KeptRevision,
    KeptRoom,
    RunHead,
    StudioReader,
    faulty_studio,
)
from oaken.plan import ClassPlan
from oaken.plan.older_versions import OLDEST, upgraded
from oaken.schedule.class_file import FORMAT as CLASS_FORMAT
from oaken.schedule.class_file import read_class
from oaken.session.events import Event
from oaken.session.log_file import EVENTS
from people.keeping import put_back
from planning.keeping import facts_of
from planning.models import Course, CourseRevision, PlannedClass, Revision
from pydantic import BaseModel, ValidationError
from studio.models import Member, OwnEntry, Studio
from studio.own import house_catalogue
from studio.rooms import create_room

from moving.sets_table import read_sets
from moving.studio_export import ROWS, renumbered

LEFT_BEHIND = timedelta(hours=6)
"""A studio that has been arriving for so long was cut off: it is taken away when the next one comes."""

CAPS = {"classes": "studio.classes", "courses": "studio.courses", "runs": "studio.runs"}
SMALL = {"people.jsonl": "roster.people", "rooms.jsonl": "studio.rooms"}


AS_IT_WAS = {
    *("rebuilt", "opened_at", "began_at", "ended_at", "people_count", "kcal_total", "figures", "unwritten", "projected")
}
"""What of a run's head is kept under the same name."""


class Inside(BaseModel):
    """What stands in the file of a studio: nothing of it is kept."""

    name: str
    made_at: str
    people: int
    rooms: int
    classes: int
    courses: int
    runs: int
    works: list[str]


def look(source: IO[bytes]) -> Inside:
    """What a file holds, once every checksum in it is right. Raises FaultyInput for anything else."""
    reader = _reader(source)
    reader.check()
    house = reader.whole("studio.json", House)
    return Inside(
        name=house.name,
        made_at=reader.manifest.made_at.isoformat(),
        people=sum(not record.erased for _, record in reader.records("people.jsonl", None, KeptPerson)),
        rooms=sum(1 for _ in reader.lines("rooms.jsonl")),
        classes=len(reader.paths("classes", ".jsonl")),
        courses=len(reader.paths("courses", ".jsonl")),
        runs=len(reader.paths("runs", ".json")),
        works=[work.user for work in house.works],
    )


def import_studio(source: IO[bytes], user: User) -> Studio:
    """Keep the studio of a file as a new one, in which `user` is an instructor.

    Nobody sees it before it is whole; where anything is faulty nothing of it stays. Others can write in between: it is
    kept part by part.
    """
    reader = _reader(source)
    reader.check()
    for cut_off in Studio.objects.filter(arriving_since__lt=timezone.now() - LEFT_BEHIND):
        cut_off.delete()
    house = reader.whole("studio.json", House)
    if house.time_zone not in available_timezones():
        raise faulty_studio(f"{house.time_zone!r} is no time zone", "a name like Europe/Berlin", "studio.json")
    studio = Studio.objects.create(
        name=house.name,
        time_zone=house.time_zone,
        house_rules=[rule.model_dump(mode="json", exclude_none=True) for rule in house.house_rules],
        load_rules=house.load_rules,
        revision=house.revision,
        arriving_since=timezone.now(),
    )
    try:
        _Arriving(reader, studio).keep()
    except BaseException as error:
        studio.delete()
        if isinstance(error, IntegrityError | DataError | OverflowError):
            raise faulty_studio(f"contradicts itself ({error})", "the file as it was made") from error
        raise
    with transaction.atomic():
        Member.objects.create(studio=studio, user=user, role="instructor")
        studio.arriving_since = None
        studio.save(update_fields=["arriving_since"])
    return studio


def _reader(source: IO[bytes]) -> StudioReader:
    reader = StudioReader(source)
    for folder, bound in CAPS.items():
        there = len(reader.paths(folder, ".json" if folder == "runs" else ".jsonl"))
        if there > most(bound):
            raise faulty_studio(f"holds {there:,} {folder}", in_words(bound))
    for path, bound in SMALL.items():
        if sum(1 for _ in reader.lines(path)) > most(bound):
            raise faulty_studio("has too many lines", in_words(bound), path)
    return reader


class _Arriving:
    """One studio on its way in: what was a number in the file, and what it is here."""

    def __init__(self, reader: StudioReader, studio: Studio) -> None:
        self.reader, self.studio = reader, studio
        self.people: dict[str, int] = {}
        self.courses: dict[int, Course] = {}
        self.classes: dict[int, PlannedClass] = {}
        self.revisions: dict[tuple[int, int], int] = {}

    def keep(self) -> None:
        self._own_entries()
        with transaction.atomic():
            self._rooms_and_people()
        for path in self.reader.paths("courses", ".jsonl"):
            head = self.reader.head(path, CourseHead)
            self.courses[_number(path)] = Course.objects.create(
                studio=self.studio, archived=head.archived, created_at=head.created_at
            )
        for path in self.reader.paths("classes", ".jsonl"):
            with transaction.atomic():
                self._class(path)
        for path in self.reader.paths("courses", ".jsonl"):
            with transaction.atomic():
                self._course(path)
        for path in self.reader.paths("runs", ".json"):
            with transaction.atomic():
                self._run(path)
        materialise_missing(self.studio)

    def _own_entries(self) -> None:
        documents: list[tuple[Literal["exercise", "equipment"], Exercise | EquipmentKind, bool, Decided]] = []
        if self.reader.has("own-exercises.jsonl"):
            kept = self.reader.records("own-exercises.jsonl", None, KeptExercise)
            documents += [("exercise", item.exercise, item.retired, item.decided) for _, item in kept]
        if self.reader.has("own-equipment.jsonl"):
            kinds = self.reader.records("own-equipment.jsonl", None, KeptEquipment)
            documents += [("equipment", kind.equipment, kind.retired, kind.decided) for _, kind in kinds]
        if len(documents) > most("own.entries"):
            raise faulty_studio(f"holds {len(documents)} own entries", in_words("own.entries"))
        OwnEntry.objects.bulk_create(
            OwnEntry(
                studio=self.studio,
                kind=kind,
                key=each_document.id,
                document=each_document.model_dump(mode="json", exclude_none=kind == "exercise"),
                retired=retired,
                decided=decided,
            )
            for kind, each_document, retired, decided in documents
        )
        try:
            house_catalogue(self.studio)
        except ValueError as error:
            raise faulty_studio(
                f"holds entries that do not fit the catalogue: {error}", "entries that fit it"
            ) from error

    def _rooms_and_people(self) -> None:
        for number, kept in self.reader.records("rooms.jsonl", None, KeptRoom):
            try:
                room = create_room(self.studio, kept.room)
            except FaultyInput as error:
                raise _at(error, "rooms.jsonl", number) from error
            room.revision, room.retired = kept.revision, kept.retired
            room.save(update_fields=["revision", "retired"])
        for _, person in self.reader.records("people.jsonl", None, KeptPerson):
            row = put_back(self.studio, person)
            self.people[row.key] = row.pk

    def _class(self, path: str) -> None:
        head = self.reader.head(path, ClassHead)
        if head.course is not None and head.course not in self.courses:
            raise faulty_studio(f"there is no course {head.course}", "a course of this file", f"{path}, line 1")
        planned = PlannedClass.objects.create(
            studio=self.studio,
            key=head.key,
            created_at=head.created_at,
            archived=head.archived,
            accepted=head.accepted,
            course=None if head.course is None else self.courses[head.course],
            course_week=head.course_week,
            course_meeting=head.course_meeting,
            written_revision=head.written_revision,
            written_from=head.written_from,
        )
        newest: Revision | None = None
        for number, kept in self.reader.records(path, ClassHead, KeptRevision):
            plan = _plan_in(kept, path, number)
            newest = Revision.objects.create(
                planned_class=planned,
                number=kept.number,
                saved_at=kept.saved_at,
                format=kept.format,
                document=kept.plan,
                length_s=kept.length_s,
                kcal_each=kept.kcal_each,
                outline=kept.outline,
            )
            self.revisions[_number(path), kept.number] = newest.pk
            facts = facts_of(plan, kept.length_s)
        if newest is None:
            raise faulty_studio("is a class without a plan", "at least one revision", path)
        planned.facts = facts
        planned.save(update_fields=["facts"])
        ReadBeforeStart.objects.bulk_create(
            ReadBeforeStart(
                planned_class=planned, revision=item.revision, by_name=item.by, at=item.at, items=item.items
            )
            for item in head.read
        )
        self.classes[_number(path)] = planned

    def _course(self, path: str) -> None:
        row = self.courses[_number(path)]
        for _, kept in self.reader.records(path, CourseHead, KeptCourse):
            document = kept.course.model_dump(mode="json")
            ids = {base["id"]: self._class_here(base["id"]) for base in document["bases"]}
            bases = [{**base, "id": ids[base["id"]]} for base in document["bases"]]
            CourseRevision.objects.create(
                course=row,
                number=kept.number,
                saved_at=kept.saved_at,
                document={**renumbered(document, ids), "bases": bases},
            )
        if not row.revisions.exists():
            raise faulty_studio("is a course without a plan", "at least one revision", path)

    def _class_here(self, base: str) -> str:
        planned = self.classes.get(int(base)) if base.isdigit() else None
        return base if planned is None else str(planned.pk)

    def _run(self, path: str) -> None:
        head = self.reader.whole(path, RunHead)
        saved_as = self.revisions.get((head.of_class, head.revision))
        if saved_as is None:
            message = f"there is no revision {head.revision} of class {head.of_class}"
            raise faulty_studio(message, "a class of this file", path)
        log = path.replace(".json", ".log.jsonl")
        if not self.reader.has(log):
            raise faulty_studio("has no run log", log, path)
        run = Run.objects.create(
            studio=self.studio,
            saved_as_id=saved_as,
            file=self._file_of(log, head),
            **head.model_dump(include=AS_IT_WAS),
        )
        RunEvent.objects.bulk_create(self._events(log, run), batch_size=ROWS)
        Attendance.objects.bulk_create(
            Attendance(run=run, person_id=self._person(item.person, path), figures=item.figures) for item in head.came
        )
        hearts, sets = path.replace(".json", ".hearts.jsonl"), path.replace(".json", ".sets.csv")
        if self.reader.has(hearts):
            self._hearts(hearts, run)
        if self.reader.has(sets):
            put_sets_back(run, self._sets(sets))

    def _file_of(self, log: str, head: RunHead) -> dict[str, Any] | None:
        for _, line in self.reader.lines(log):
            document = _json(line, log, 1)
            if not head.known and document is None:
                return None
            try:
                file = read_class(document)
            except FaultyInput as error:
                raise _at(error, log, 1) from error
            newest = isinstance(document, dict) and document.get("format") == CLASS_FORMAT
            kept: dict[str, Any] = document if newest else file.model_dump(mode="json", exclude_none=True)
            return kept
        raise faulty_studio("is empty", "a class file, then events", log)

    def _events(self, log: str, run: Run) -> Iterator[RunEvent]:
        for number, line in self.reader.lines(log):
            if number > most("run.events") + 1:
                raise faulty_studio("has too many events", in_words("run.events"), log)
            if number > 1 and line:
                event = _event(line, log, number)
                yield RunEvent(
                    run=run,
                    event_id=event.id,
                    received_at=event.received_at or event.happened_at,
                    kind=event.kind,
                    body=event.model_dump(mode="json", exclude={"received_at"}, exclude_none=True),
                )

    def _hearts(self, path: str, run: Run) -> None:
        for number, record in self.reader.records(path, None, KeptHeart):
            person = self._person(record.person, f"{path}, line {number}")
            if len(record.seconds) != len(record.bpm):
                raise faulty_studio("has more seconds than rates, or fewer", "as many", f"{path}, line {number}")
            if record.kind == "belt":
                if record.start is None:
                    raise faulty_studio("does not say when it was read", "a start", f"{path}, line {number}")
                LiveHeart.objects.create(
                    run=run, person_id=person, first_at=record.start, seconds=record.seconds, bpm=record.bpm
                )
            else:
                Recording.objects.create(
                    run=run,
                    person_id=person,
                    **record.model_dump(include={"source", "start", "offset_s", "seconds", "bpm", "at_work"}),
                )

    def _sets(self, path: str) -> Iterator[tuple[int, dict[str, Any]]]:
        for person, values in read_sets(self.reader, path):
            yield self._person(person, path), values

    def _person(self, key: str, place: str) -> int:
        if key not in self.people:
            raise faulty_studio(f"there is nobody {key[:60]!r}", "somebody of this file", place)
        return self.people[key]


def _number(path: str) -> int:
    return int(path.partition("/")[2].partition(".")[0])


def _plan_in(kept: KeptRevision, path: str, number: int) -> dict[str, Any]:
    """The plan's document in today's form. Raises FaultyInput where it is no plan."""
    document: dict[str, Any] = upgraded(kept.plan) if kept.format == OLDEST else kept.plan
    try:
        ClassPlan.model_validate(document)
    except ValidationError as error:
        raise _at(FaultyInput(faults_of(error, document)), path, number) from error
    return document


def _event(line: bytes, path: str, number: int) -> Event:
    try:
        return EVENTS.validate_json(line)
    except ValidationError as error:
        raise _at(FaultyInput(faults_of(error, _json(line, path, number))), path, number) from error


def _json(line: bytes, path: str, number: int) -> Any:
    try:
        return orjson.loads(line)
    except orjson.JSONDecodeError as error:
        raise faulty_studio(f"is no JSON: {error.msg}", "JSON", f"{path}, line {number}") from error


def _at(error: FaultyInput, path: str, number: int) -> FaultyInput:
    """The same faults, at a line of a file inside."""
    place = f"{path}, line {number}"
    return FaultyInput([fault.model_copy(update={"place": f"{place}, {fault.place}"}) for fault in error.faults])
