"""A course in its weeks: which class is held when, how it differs from its base, and weeks that are missed."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date, timedelta

from oaken.basis.days import monday_of
from oaken.basis.faults import FaultyInput, faults_in
from oaken.domain.catalogue import Catalogue
from oaken.plan import ClassPlan, settled
from oaken.plan.changes import Change, apply
from oaken.programme.course.document import Course, Meeting, Pause

_fault = faults_in("the course")


@dataclass(frozen=True, slots=True)
class CourseClass:
    """One class of a course: its week (from 1), the meeting it is, its base, and its day."""

    week: int
    meeting: str
    base: str
    on: date
    time: str


def monday_in(course: Course, week: int) -> date:
    """The Monday of a week of the course, with all pauses before it."""
    paused = sum(pause.weeks for pause in course.pauses if pause.before <= week)
    return monday_of(course.starts) + timedelta(weeks=week - 1 + paused)


def meets_in(course: Course, meeting: Meeting, week: int) -> bool:
    """Whether a class is held in a week."""
    if week in course.dropped or (meeting.weeks and week not in meeting.weeks):
        return False
    return not any(left.week == week and left.meeting == meeting.id for left in course.left_out)


def classes_of(course: Course, week: int | None = None) -> list[CourseClass]:
    """Every class of the course (or of one week) in the order of time."""
    found = []
    for number in range(1, course.weeks + 1) if week is None else [week]:
        monday = monday_in(course, number)
        for meeting in course.meetings:
            if meets_in(course, meeting, number):
                on = monday + timedelta(days=meeting.weekday)
                found.append(CourseClass(number, meeting.id, meeting.base, on, meeting.time))
    return sorted(found, key=lambda item: (item.on, item.time, item.meeting))


def changes_in(course: Course, base: str, week: int) -> list[Change]:
    """The changes to a base class in a week, in the order of the course."""
    return [
        change.change
        for change in course.changes
        if week in change.weeks and (not change.bases or base in change.bases)
    ]


def plan_of_week(course: Course, one: CourseClass, plans: Mapping[str, ClassPlan], catalogue: Catalogue) -> ClassPlan:
    """The class of a week: its base with that week's changes, dated. Raises FaultyInput where a base is missing, or a
    change speaks of what its base has not got, each with its week."""
    base = plans.get(one.base)
    named = next(each.name for each in course.bases if each.id == one.base)
    if base is None:
        message = f"the base class “{named}” is not there any more"
        raise FaultyInput([_fault(f"bases.{one.base}", message, "another base class, or the course without it")])
    plan = base
    for change in changes_in(course, one.base, one.week):
        try:
            plan = apply(plan, change, catalogue)
        except FaultyInput as error:
            place = f"week {one.week}, “{named}”"
            raise FaultyInput([fault.model_copy(update={"place": place}) for fault in error.faults]) from error
    title = f"{course.name}, week {one.week}: {named}"[:120]
    dated = plan.model_copy(update={"name": title, "starts": f"{one.on.isoformat()} {one.time}"})
    return settled(ClassPlan.model_validate(dated.model_dump()), catalogue)


def move_week(course: Course, week: int, by: int = 1) -> Course:
    """The course in which a week that is missed is made up for later: it and all that follow are so many weeks later.
    Raises FaultyInput for a week the course has not got."""
    _check_week(course, week)
    kept = [pause for pause in course.pauses if pause.before != week]
    before = sum(pause.weeks for pause in course.pauses if pause.before == week)
    pauses = sorted([*kept, Pause(before=week, weeks=before + by)], key=lambda pause: pause.before)
    return _valid(course, pauses=pauses)


def drop_week(course: Course, week: int) -> Course:
    """The course without a week that is missed: the others stay where they are. Raises FaultyInput for a week the
    course has not got, or its last one that is left."""
    _check_week(course, week)
    dropped = sorted({*course.dropped, week})
    if len(dropped) >= course.weeks:
        raise FaultyInput([_fault("dropped", "every week would be dropped", "at least one that stays")])
    return _valid(course, dropped=dropped)


def _check_week(course: Course, week: int) -> None:
    if not 1 <= week <= course.weeks:
        raise FaultyInput([_fault("week", f"the course has no week {week}", f"1 to {course.weeks}")])


def _valid(course: Course, **update: object) -> Course:
    return Course.model_validate({**course.model_dump(), **{name: _plain(value) for name, value in update.items()}})


def _plain(value: object) -> object:
    return (
        [item.model_dump() if isinstance(item, Pause) else item for item in value] if isinstance(value, list) else value
    )
