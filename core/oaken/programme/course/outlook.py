"""Every week of a course in figures, and what should be looked at before it begins."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from datetime import date, datetime, timedelta
from typing import Literal

from pydantic import BaseModel, ConfigDict

from oaken.basis.faults import Fault, FaultyInput
from oaken.domain.catalogue import Catalogue
from oaken.forecast import Brief, brief
from oaken.physiology import training_load
from oaken.plan import ClassPlan, Slot
from oaken.plan.blocks import SetsBlock
from oaken.plan.changes import LighterWeek, SetScheme, SetTest, takes_scheme
from oaken.programme.course.document import Course
from oaken.programme.course.weeks import CourseClass, changes_in, classes_of, monday_in, plan_of_week
from oaken.programme.course.words import change_words
from oaken.schedule.class_file import ClassFile

HARD_SETS = 6
"""From so many sets on a muscle had a hard day (common practice, no source)."""

DAYS_BETWEEN = 2
"""Days from one hard day of a muscle to the next (common practice, no source: 48 hours)."""

FEW_SETS, MANY_SETS = 6, 20
"""Sets of a muscle in a week below which little is to be expected, and above which few recover (common practice, no
source)."""

WEEKS_WITHOUT_LIGHTER = 6
"""Weeks of work after which most schools put a lighter one (common practice, no source)."""


class ClassOutlook(BaseModel):
    """One class of the course: when, its base, how it differs in words, and its figures (None where it is faulty)."""

    model_config = ConfigDict(json_schema_serialization_defaults_required=True)

    week: int
    meeting: str
    base: str
    on: date
    time: str
    changes: list[str]
    figures: Brief | None


class WeekOutlook(BaseModel):
    """One week: its Monday, its name, whether it is dropped, and the sums of its classes: sets by muscle, and training
    load three ways (AU)."""

    model_config = ConfigDict(json_schema_serialization_defaults_required=True)

    week: int
    monday: date
    name: str
    dropped: bool
    lighter: bool
    classes: list[ClassOutlook]
    sets: dict[str, float]
    session_effort: float
    impulse: float
    zone_sum: float
    vigorous_min: float
    kcal: float


class CourseNotice(BaseModel):
    """Something to look at: in which weeks, and whether it has to be mended."""

    model_config = ConfigDict(json_schema_serialization_defaults_required=True)

    weeks: list[int]
    severity: Literal["fault", "caution", "note"]
    message: str


class CourseOutlook(BaseModel):
    """The whole course. `changes` are the words of each change of the course, in its order."""

    model_config = ConfigDict(json_schema_serialization_defaults_required=True)

    weeks: list[WeekOutlook]
    changes: list[str]
    notices: list[CourseNotice]


FileOf = Callable[[ClassPlan], ClassFile]
"""A plan with its room and people, checked. Raises FaultyInput."""


def outlook(course: Course, plans: Mapping[str, ClassPlan], file_of: FileOf, catalogue: Catalogue) -> CourseOutlook:
    """Every week of a course forecast. What cannot be forecast is among the notices, with its week."""
    notices: list[CourseNotice] = []
    weeks = []
    for number in range(1, course.weeks + 1):
        classes = [
            _class(course, planned_class, plans, file_of, catalogue, notices)
            for planned_class in classes_of(course, number)
        ]
        weeks.append(_week(course, number, classes))
    notices += _hard_days(weeks, catalogue)
    notices += _sets_a_week(weeks, catalogue)
    notices += _rises(weeks)
    notices += _lighter_weeks(weeks)
    notices += _stay_as_heavy(course, plans, catalogue)
    notices += _schemes(course, plans, catalogue)
    notices += _tests(course)
    notices += _over_slots(weeks)
    words = [change_words(change.change, catalogue) for change in course.changes]
    return CourseOutlook(weeks=weeks, changes=words, notices=_once(notices))


def _once(notices: Sequence[CourseNotice]) -> list[CourseNotice]:
    """What is said of several weeks is said once; the gravest first."""
    weeks: dict[tuple[str, str], list[int]] = {}
    for notice in notices:
        known = weeks.setdefault((notice.severity, notice.message), [])
        known += [week for week in notice.weeks if week not in known]
    made = [
        CourseNotice.model_validate({"weeks": sorted(found), "severity": severity, "message": message})
        for (severity, message), found in weeks.items()
    ]
    return sorted(made, key=lambda item: (_GRAVE[item.severity], item.weeks[0]))


_GRAVE = {"fault": 0, "caution": 1, "note": 2}


def _class(
    course: Course,
    one: CourseClass,
    plans: Mapping[str, ClassPlan],
    file_of: FileOf,
    catalogue: Catalogue,
    notices: list[CourseNotice],
) -> ClassOutlook:
    figures: Brief | None = None
    try:
        figures = brief(file_of(plan_of_week(course, one, plans, catalogue)))
    except FaultyInput as error:
        notices += [
            CourseNotice(weeks=[one.week], severity="fault", message=_words(fault)) for fault in error.faults[:3]
        ]
    return ClassOutlook(
        week=one.week,
        meeting=one.meeting,
        base=one.base,
        on=one.on,
        time=one.time,
        changes=[change_words(change, catalogue) for change in changes_in(course, one.base, one.week)],
        figures=figures,
    )


def _words(fault: Fault) -> str:
    return f"{fault.place}: {fault.message}"


def _week(course: Course, number: int, classes: Sequence[ClassOutlook]) -> WeekOutlook:
    known = [planned_class.figures for planned_class in classes if planned_class.figures is not None]
    sets: dict[str, float] = {}
    for each in known:
        for muscle, count in each.sets.items():
            sets[muscle] = round(sets.get(muscle, 0.0) + count, 1)
    bases = {planned_class.base for planned_class in classes}
    lighter = bool(bases) and all(
        any(isinstance(change, LighterWeek) for change in changes_in(course, base, number)) for base in bases
    )
    return WeekOutlook(
        week=number,
        monday=monday_in(course, number),
        name=course.names.get(number, ""),
        dropped=number in course.dropped,
        lighter=lighter,
        classes=list(classes),
        sets=sets,
        session_effort=round(sum(each.session_effort for each in known), 1),
        impulse=round(sum(each.impulse for each in known), 1),
        zone_sum=round(sum(each.zone_sum for each in known), 1),
        vigorous_min=round(sum(each.vigorous_min for each in known), 1),
        kcal=round(sum(each.kcal for each in known), 1),
    )


def _muscle(catalogue: Catalogue, muscle: str) -> str:
    known = catalogue.muscles.get(muscle)
    return muscle if known is None else str(getattr(known, "name", known)).lower()


def _hard_days(weeks: Sequence[WeekOutlook], catalogue: Catalogue) -> list[CourseNotice]:
    """Hard days of one muscle with too little between them."""
    last: dict[str, ClassOutlook] = {}
    near: dict[tuple[int, str], list[str]] = {}
    for item in (each for week in weeks for each in week.classes):
        hard = [muscle for muscle, sets in (item.figures.sets if item.figures else {}).items() if sets >= HARD_SETS]
        for muscle in hard:
            before = last.get(muscle)
            if before is not None and (item.on - before.on) < timedelta(days=DAYS_BETWEEN):
                days = f"{before.on:%a} and {item.on:%a}" if item.on != before.on else f"{item.on:%a} twice"
                near.setdefault((item.week, days), []).append(_muscle(catalogue, muscle))
            last[muscle] = item
    return [
        CourseNotice(
            weeks=[week],
            severity="caution",
            message=f"hard days of {', '.join(muscles)} without a day between them: {days}",
        )
        for (week, days), muscles in near.items()
    ]


def _sets_a_week(weeks: Sequence[WeekOutlook], catalogue: Catalogue) -> list[CourseNotice]:
    found = []
    for week in weeks:
        many = [
            f"{_muscle(catalogue, each_set)} {sets:.0f}" for each_set, sets in week.sets.items() if sets > MANY_SETS
        ]
        if many:
            message = f"more than {MANY_SETS} sets a muscle: {', '.join(many)}"
            found.append(CourseNotice(weeks=[week.week], severity="note", message=message))
    usual = {muscle for week in weeks for muscle, sets in week.sets.items() if sets >= FEW_SETS}
    for muscle in sorted(usual):
        gaps = [week.week for week in weeks if week.classes and week.sets.get(muscle, 0) == 0]
        run = next((gap for gap in gaps if gap + 1 in gaps), None)
        if run is not None:
            message = f"two weeks without anything for {_muscle(catalogue, muscle)}"
            found.append(CourseNotice(weeks=[run, run + 1], severity="note", message=message))
    return found


def _rises(weeks: Sequence[WeekOutlook]) -> list[CourseNotice]:
    """Steep rises of the weekly load over the four weeks before."""
    found = []
    loads = [week.session_effort for week in weeks]
    for place, week in enumerate(weeks):
        steep = training_load.rise(loads[: place + 1])
        if steep is not None and steep > training_load.STEEP_RISE:
            message = f"load {steep:.0%} above the weeks before (session-RPE load {week.session_effort:.0f} AU)"
            found.append(CourseNotice(weeks=[week.week], severity="caution", message=message))
    return found


def _lighter_weeks(weeks: Sequence[WeekOutlook]) -> list[CourseNotice]:
    run = 0
    for week in weeks:
        run = 0 if week.lighter or week.dropped or not week.classes else run + 1
        if run > WEEKS_WITHOUT_LIGHTER:
            message = f"{run} weeks without a lighter one"
            return [CourseNotice(weeks=[week.week], severity="note", message=message)]
    return []


SKIPPED = {
    "uneven": "no set is like another",
    "unloaded": "no load",
    "not counted": "held or timed",
}
"""Why a scheme leaves an exercise as it is."""


def _schemes(course: Course, plans: Mapping[str, ClassPlan], catalogue: Catalogue) -> list[CourseNotice]:
    """Schemes that touch nothing of a base class, and what the others leave as it is."""
    found = []
    for change in course.changes:
        scheme = change.change
        if not isinstance(scheme, SetScheme):
            continue
        for base in course.bases:
            plan = plans.get(base.id)
            if plan is None or (change.bases and base.id not in change.bases):
                continue
            slots = [slot for _, block in plan.of_kind(SetsBlock) for slot in block.parts if isinstance(slot, Slot)]
            taken = [(slot, takes_scheme(slot, scheme, catalogue)) for slot in slots]
            words = change_words(scheme, catalogue)
            weeks = list(change.weeks)
            if not any(what == "changed" for _, what in taken):
                message = f"{words} changes nothing in “{base.name}”: no exercise there takes a load in even sets"
                found.append(CourseNotice(weeks=weeks, severity="caution", message=message))
                continue
            left = [
                f"{catalogue.exercises[slot.exercise].name.lower()} ({SKIPPED[what]})"
                for slot, what in taken
                if what in SKIPPED and catalogue.exercises[slot.exercise].is_work
            ]
            if left:
                message = f"schemes leave in “{base.name}” as planned: {', '.join(left)}"
                found.append(CourseNotice(weeks=weeks, severity="note", message=message))
    return found


def _stay_as_heavy(course: Course, plans: Mapping[str, ClassPlan], catalogue: Catalogue) -> list[CourseNotice]:
    """What a lighter week leaves as heavy: loads that follow somebody's progress, and those by perceived effort."""
    found = []
    for change in course.changes:
        if not isinstance(change.change, LighterWeek) or change.change.load_factor == 1:
            continue
        for base in course.bases:
            plan = plans.get(base.id)
            if plan is None or (change.bases and base.id not in change.bases):
                continue
            left = dict.fromkeys(
                catalogue.exercises[part.exercise].name.lower()
                for part in plan.parts()
                if isinstance(part, Slot)
                and catalogue.exercises[part.exercise].takes_load
                and catalogue.exercises[part.exercise].is_work
                and all(item.load is None or item.load.effort for run in part.sets for item in run.segments)
            )
            if left:
                names = ", ".join(left)
                message = "a lighter week leaves loads that follow progress or perceived effort as they are in "
                message += f"“{base.name}”: take some off on the day ({names})"
                found.append(CourseNotice(weeks=list(change.weeks), severity="note", message=message))
    return found


def _tests(course: Course) -> list[CourseNotice]:
    """Weeks that are named a test and hold none."""
    testing = {week for change in course.changes if isinstance(change.change, SetTest) for week in change.weeks}
    return [
        CourseNotice(weeks=[week], severity="note", message="the week is named a test, but nothing is tested in it")
        for week, name in sorted(course.names.items())
        if "test" in name.lower().split() and week not in testing
    ]


def _over_slots(weeks: Sequence[WeekOutlook]) -> list[CourseNotice]:
    """Classes that are longer than their slot, and two at the same time."""
    found = []
    for week in weeks:
        begins: dict[datetime, str] = {}
        for planned_class in week.classes:
            if planned_class.figures and planned_class.figures.length_s > planned_class.figures.slot_s + 1:
                over = (planned_class.figures.length_s - planned_class.figures.slot_s) / 60
                message = f"{planned_class.on:%a}: {over:.0f} min over its class length"
                found.append(CourseNotice(weeks=[week.week], severity="caution", message=message))
            moment = datetime.fromisoformat(f"{planned_class.on} {planned_class.time}")
            if moment in begins:
                message = f"two classes at the same time on {planned_class.on:%a} {planned_class.time}"
                found.append(CourseNotice(weeks=[week.week], severity="caution", message=message))
            begins[moment] = planned_class.meeting
    return found
