"""Keeping courses: saving, forecasting, writing weeks out as classes, and what becomes of them afterwards."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, datetime
from typing import Any

from django.db import IntegrityError, transaction
from django.db.models import F, OuterRef, QuerySet, Subquery
from oaken.basis.faults import FaultyInput, faults_in
from oaken.basis.limits import most
from oaken.design.generator import Lately
from oaken.domain.catalogue import Catalogue
from oaken.domain.people import Person
from oaken.domain.room import Room
from oaken.plan import ClassPlan
from oaken.programme.course import (
    FORMAT,
    Base,
    Course,
    CourseFile,
    CourseOutlook,
    change_words,
    classes_of,
    outlook,
    plan_of_week,
    read_course,
    template,
)
from oaken.schedule.class_file import FORMAT as CLASS_FORMAT
from oaken.schedule.class_file import ClassFile, check_class
from people.models import core_people
from studio.documents import StaleSave
from studio.models import Studio
from studio.own import house_catalogue, own_entries

from planning import keeping
from planning.models import Course as CourseRow
from planning.models import CourseRevision, PlannedClass, Revision

_fault = faults_in("the course")


def course_of(revision: CourseRevision) -> Course:
    """The course of a revision."""
    return Course.model_validate(revision.document)


def newest(studio: Studio) -> QuerySet[CourseRevision]:
    """The newest revision of every course, the one saved last first."""
    last = CourseRevision.objects.filter(course=OuterRef("course")).order_by("-number")
    own = CourseRevision.objects.filter(course__studio=studio)
    return own.filter(pk=Subquery(last.values("pk")[:1])).order_by(F("saved_at").desc(), "-pk")


def base_plans(studio: Studio, course: Course) -> dict[str, Revision]:
    """The newest revision of every base class that is there."""
    ids = [int(base.id) for base in course.bases if base.id.isdigit()]
    found = keeping.latest_revisions(studio).filter(planned_class__in=ids)
    return {str(revision.planned_class_id): revision for revision in found}


def create(studio: Studio, course: Course) -> CourseRevision:
    """Keep a new course. Raises FaultyInput where a base class is not there."""
    _check_bases(studio, course)
    with transaction.atomic():
        if studio.courses.count() >= most("studio.courses"):
            raise FaultyInput([keeping.too_many("courses", "studio.courses")])
        row = CourseRow.objects.create(studio=studio)
        return CourseRevision.objects.create(course=row, number=1, document=course.model_dump(mode="json"))


def save(row: CourseRow, based_on: int, course: Course) -> CourseRevision:
    """Keep a new revision made from revision `based_on`. Raises StaleSave, and keeps nothing, when a newer one exists;
    FaultyInput where a base class that the revision before did not name is not there."""
    latest = row.revisions.latest("number")
    if latest.number != based_on:
        raise StaleSave("course", latest, latest.number)
    known = {base.id for base in course_of(latest).bases}
    _check_bases(row.studio, course, known)
    try:
        with transaction.atomic():
            if latest.number >= most("class.revisions"):
                raise FaultyInput([keeping.too_many("revisions", "class.revisions")])
            return CourseRevision.objects.create(
                course=row, number=based_on + 1, document=course.model_dump(mode="json")
            )
    except IntegrityError as error:
        latest = row.revisions.latest("number")
        raise StaleSave("course", latest, latest.number) from error


def _check_bases(studio: Studio, course: Course, known: set[str] | None = None) -> None:
    there = base_plans(studio, course)
    missing = [base for base in course.bases if base.id not in there and base.id not in (known or set())]
    if missing:
        message = f"the base class “{missing[0].name}” ({missing[0].id}) is not there"
        raise FaultyInput([_fault("bases", message, "classes of this studio")])


def outlook_of(studio: Studio, course: Course) -> CourseOutlook:
    """Every week of a course in figures, saved or not."""
    catalogue = house_catalogue(studio)
    plans = {base: keeping.plan_of(revision) for base, revision in base_plans(studio, course).items()}
    rooms: dict[str, Room] = {}
    people: dict[tuple[str, ...], list[Person]] = {}
    own, rules = own_entries(studio), studio.rules

    def file_of(plan: ClassPlan) -> ClassFile:
        if plan.room not in rooms:
            kept = studio.rooms.filter(key=plan.room).prefetch_related("units", "zones").first()
            if kept is None:
                raise FaultyInput([_fault("room", f"there is no room {plan.room!r}", "a room of this studio")])
            rooms[plan.room] = kept.to_core()
        crowd = tuple(plan.people)
        if crowd not in people:
            people[crowd] = core_people(studio, crowd)
        return check_class(
            ClassFile(
                format=CLASS_FORMAT, plan=plan, room=rooms[plan.room], people=people[crowd], own=own, house_rules=rules
            )
        )

    return outlook(course, plans, file_of, catalogue)


@dataclass(frozen=True, slots=True)
class WrittenClass:
    """What became of one class of a week that was written out: made, written anew, unchanged, or kept as it was changed
    by hand; and its number."""

    id: int
    name: str
    outcome: str


def materialise(row: CourseRow, week: int) -> list[WrittenClass]:
    """Make the classes of a week, or bring those that were made to what the course and its bases say now. What was
    changed by hand stays. All of the week or nothing of it.

    Raises FaultyInput for a week the course has not got, one in which nothing is held, a base that is missing, or a
    class that is faulty.
    """
    course = course_of(row.revisions.latest("number"))
    if not 1 <= week <= course.weeks:
        raise FaultyInput([_fault("week", f"the course has no week {week}", f"1 to {course.weeks}")])
    wanted = classes_of(course, week)
    if not wanted:
        raise FaultyInput([_fault("week", f"nothing is held in week {week}", "a week that is not dropped")])
    studio = row.studio
    catalogue = house_catalogue(studio)
    bases = base_plans(studio, course)
    plans = {base: keeping.plan_of(revision) for base, revision in bases.items()}
    made: list[WrittenClass] = []
    with transaction.atomic():
        for item in wanted:
            plan = plan_of_week(course, item, plans, catalogue)
            there = row.classes.filter(course_week=week, course_meeting=item.meeting).first()
            if there is None:
                revision = keeping.create(studio, plan)
                outcome = "made"
            else:
                latest = there.revisions.latest("number")
                if latest.number != there.written_revision:
                    made.append(WrittenClass(there.pk, latest.document["name"], "kept: it was changed by hand"))
                    continue
                if keeping.plan_of(latest) == plan:
                    made.append(WrittenClass(there.pk, plan.name, "unchanged"))
                    continue
                revision = keeping.save(there, latest.number, plan)
                outcome = "written anew"
            PlannedClass.objects.filter(pk=revision.planned_class_id).update(
                course=row,
                course_week=week,
                course_meeting=item.meeting,
                written_revision=revision.number,
                written_from=bases[item.base].number,
            )
            made.append(WrittenClass(revision.planned_class_id, plan.name, outcome))
    return made


@dataclass(frozen=True, slots=True)
class WeekState:
    """A class of a course that was written out: by hand changed since, or behind what the course says now."""

    id: int
    week: int
    meeting: str
    on: date | None
    by_hand: bool
    behind: bool


def written(row: CourseRow) -> list[WeekState]:
    """Every class of a course that was written out, and how it stands to the course as it is now."""
    course = course_of(row.revisions.latest("number"))
    catalogue = house_catalogue(row.studio)
    plans = {base: keeping.plan_of(revision) for base, revision in base_plans(row.studio, course).items()}
    dated = {(planned_class.week, planned_class.meeting): planned_class for planned_class in classes_of(course)}
    latest = {
        latest_revision.planned_class_id: latest_revision
        for latest_revision in keeping.latest_revisions(row.studio).filter(planned_class__course=row)
    }
    found = []
    for planned in row.classes.order_by("course_week", "pk"):
        revision = latest[planned.pk]
        week = planned.course_week or 0
        one = dated.get((week, planned.course_meeting))
        try:
            behind = one is not None and plan_of_week(course, one, plans, catalogue) != keeping.plan_of(revision)
        except FaultyInput:
            behind = True
        by_hand = revision.number != planned.written_revision
        starts = str(revision.document.get("starts", ""))[:10]
        on = date.fromisoformat(starts) if len(starts) == 10 and starts[4] == "-" else None
        found.append(WeekState(planned.pk, week, planned.course_meeting, on, by_hand, behind and not by_hand))
    return found


@dataclass(frozen=True, slots=True)
class CourseStep:
    """One revision in the history of a course, and what changed from the one before."""

    revision: int
    saved_at: datetime
    changes: list[str]


def history(row: CourseRow) -> list[CourseStep]:
    """Every revision of a course, the newest first."""
    catalogue = house_catalogue(row.studio)
    steps: list[CourseStep] = []
    before: Course | None = None
    for revision in row.revisions.order_by("number"):
        course = course_of(revision)
        told = ["first saved"] if before is None else differences(before, course, catalogue)
        steps.append(CourseStep(revision.number, revision.saved_at, told or ["saved again unchanged"]))
        before = course
    return steps[::-1]


def differences(before: Course, after: Course, catalogue: Catalogue) -> list[str]:
    """What changed from one course to another, in words."""
    found = []
    for name, words in (("name", "name"), ("starts", "first day"), ("weeks", "weeks"), ("note", "note")):
        then, now = getattr(before, name), getattr(after, name)
        if then != now:
            found.append(f"{words}: {now}" if name != "note" else "another note")
    for name, words in (("bases", "base classes"), ("meetings", "days and times"), ("names", "names of weeks")):
        if getattr(before, name) != getattr(after, name):
            found.append(f"other {words}")
    for each_change in after.changes:
        if each_change not in before.changes:
            found.append(f"weeks {_weeks(each_change.weeks)}: {change_words(each_change.change, catalogue)}")
    for item in before.changes:
        if item not in after.changes:
            found.append(f"weeks {_weeks(item.weeks)}: no more {change_words(item.change, catalogue)}")
    for week in sorted(set(after.dropped) ^ set(before.dropped)):
        found.append(f"week {week} {'dropped' if week in after.dropped else 'held after all'}")
    if before.pauses != after.pauses:
        found.append("weeks moved")
    if before.left_out != after.left_out:
        found.append("classes left out")
    return found


def _weeks(weeks: Sequence[int]) -> str:
    return ", ".join(map(str, weeks))


def make_template(studio: Studio, kind: str, room: str, crowd: Sequence[str], name: str, starts: date, time: str,
                  weeks: int, *, generated: bool = False, lately: Sequence[Lately] = ()) -> CourseRevision:  # fmt: skip
    """Make a course of a school with its base classes, all of it or nothing; generated ones differ from what was done
    `lately`. Raises FaultyInput for a room or somebody that is not there."""
    kept = studio.rooms.filter(key=room).prefetch_related("units", "zones").first()
    if kept is None:
        raise FaultyInput([_fault("room", f"there is no room {room!r}", "a room of this studio")])
    people = core_people(studio, crowd)
    by_id = {person.id: person for person in people}
    missing = [item for item in crowd if item not in by_id]
    if missing:
        raise FaultyInput([_fault("people", f"nobody has the id {missing[0]!r}", "somebody of the roster")])
    made = template(
        kind, kept.to_core(), [by_id[item] for item in crowd], house_catalogue(studio), name=name, starts=starts,
        time=time, weeks=weeks, generated=generated, lately=lately,
    )  # fmt: skip
    with transaction.atomic():
        ids = {base: str(keeping.create(studio, plan).planned_class_id) for base, plan in made.plans.items()}
        return create(studio, _renamed(made.course, ids))


def _renamed(course: Course, ids: dict[str, str]) -> Course:
    """The course with other ids of its base classes."""
    document: dict[str, Any] = course.model_dump()
    document["bases"] = [Base(id=ids[base.id], name=base.name).model_dump() for base in course.bases]
    for meeting in document["meetings"]:
        meeting["base"] = ids[meeting["base"]]
    for change in document["changes"]:
        change["bases"] = [ids[base] for base in change["bases"]]
    return Course.model_validate(document)


def file_of(row: CourseRow) -> CourseFile:
    """The course with its base classes as a file. Raises FaultyInput where one is missing."""
    course = course_of(row.revisions.latest("number"))
    plans = {base: keeping.plan_of(revision) for base, revision in base_plans(row.studio, course).items()}
    missing = [base.name for base in course.bases if base.id not in plans]
    if missing:
        raise FaultyInput([_fault("bases", f"the base class “{missing[0]}” is not there any more", "another one")])
    return CourseFile(format=FORMAT, course=course, classes=plans)


def bring_in(studio: Studio, document: Any) -> CourseRevision:
    """Keep the course of a course file with its base classes, all of it or nothing. Its room and people must exist
    here."""
    file = read_course(document)
    with transaction.atomic():
        ids = {base: str(keeping.create(studio, plan).planned_class_id) for base, plan in file.classes.items()}
        return create(studio, _renamed(file.course, ids))
