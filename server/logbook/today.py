"""What is next, what it still needs, what is not written down yet, and where the courses stand."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, datetime, timedelta

from django.utils import timezone
from oaken.basis.words import counted
from oaken.plan import ClassPlan, SetsBlock
from oaken.programme.course import classes_of
from oaken.programme.course.weeks import monday_in
from people.models import UnitSetting
from planning import courses
from planning import keeping as plans
from studio.models import MachineUnit, Studio
from studio.own import house_catalogue

from logbook import progress
from logbook.calendar import CalendarEntry, entries
from logbook.models import ReadBeforeStart, Run

AHEAD_DAYS, BACK_DAYS, SHOWN = 21, 21, 6
"""How far is looked ahead and back, and how much of each is shown."""


@dataclass(frozen=True, slots=True)
class OpenTask:
    """Something a class still needs: what (an id), in words, and whether it is done."""

    what: str
    words: str
    done: bool


@dataclass(frozen=True, slots=True)
class Next:
    """A class that comes next, and what it still needs."""

    entry: CalendarEntry
    needs: list[OpenTask]


@dataclass(frozen=True, slots=True)
class CourseStands:
    """Where a course stands: its week now (0 before it begins, None when it is over), its weeks, how many of its
    classes so far were held, and its next day."""

    id: int
    name: str
    week: int | None
    weeks: int
    name_of_week: str
    held: int
    planned_so_far: int
    next_on: date | None


@dataclass(frozen=True, slots=True)
class Day:
    """Today."""

    today: date
    next: list[Next]
    running: list[CalendarEntry]
    to_write: list[CalendarEntry]
    courses: list[CourseStands]


def day(studio: Studio, now: datetime, *, health: bool) -> Day:
    """Today as it stands. `health` is whether the reader may know of the pre-class check."""
    today = timezone.localtime(now, studio.zone).date()
    around = entries(studio, today - timedelta(days=BACK_DAYS), today + timedelta(days=AHEAD_DAYS))
    coming = [item for item in around if item.state == "planned" and item.on >= today][:SHOWN]
    held = [item for item in reversed(around) if item.state == "held" and item.unwritten][:SHOWN]
    running = [item for item in reversed(around) if item.state in ("running", "ready")][:SHOWN]
    first = [Next(item, needs_of(studio, item, today, health=health)) for item in coming[:1]]
    rest = [Next(item, []) for item in coming[1:]]
    return Day(today, [*first, *rest], running, held, _courses(studio, today))


def needs_of(studio: Studio, entry: CalendarEntry, today: date, *, health: bool) -> list[OpenTask]:
    """What a class still needs before its doors open."""
    revision = studio.classes.get(pk=entry.class_id).revisions.latest("number")
    plan = plans.plan_of(revision)
    spare = plan.slot_min * 60 - revision.length_s
    fits = f"{abs(spare) / 60:.0f} min over its class length" if spare < -1 else "fits its class length"
    found = [OpenTask("slot", fits, spare >= -1)]
    ordered = _rotation_chosen(plan)
    if ordered is not None:
        found.append(OpenTask("rotation", "an order of visits" if ordered else "no order of visits is chosen", ordered))
    cards = _cards(studio, plan)
    if cards is not None:
        found.append(cards)
    if entry.clashes:
        found.append(OpenTask("clash", f"the room is taken at that time: {', '.join(entry.clashes)}", False))
    if health:
        read = ReadBeforeStart.objects.filter(planned_class=entry.class_id, revision=revision.number, at__date=today)
        done = read.exists()
        found.append(OpenTask("start", "the pre-class check is read" if done else "the pre-class check", done))
        found.append(_loads(studio, plan, today))
    return found


def _rotation_chosen(plan: ClassPlan) -> bool | None:
    """Whether the blocks of sets with several groups have an order of visits; None where none needs one."""
    needing = [block for _, block in plan.of_kind(SetsBlock) if len(block.groups) > 1 and len(plan.people) > 1]
    return all(block.rotation is not None for block in needing) if needing else None


def _cards(studio: Studio, plan: ClassPlan) -> OpenTask | None:
    """Whether everybody's card says how they set the machines of the class; None where none has anything to set."""
    known = house_catalogue(studio).exercises
    kinds = {known[part.exercise].equipment for _, part in plan.placed() if part.exercise in known}
    units = {
        key: kind
        for key, kind, settings in MachineUnit.objects.filter(
            room__studio=studio, room__key=plan.room, kind__in=kinds
        ).values_list("key", "kind", "settings")
        if settings
    }
    wanted = set(units.values())
    if not wanted:
        return None
    told: dict[str, set[str]] = {}
    rows = UnitSetting.objects.filter(person__studio=studio, person__key__in=plan.people, room=plan.room)
    for person, unit in rows.values_list("person__key", "unit"):
        if unit in units:
            told.setdefault(person, set()).add(units[unit])
    lacking = [person for person in plan.people if wanted - told.get(person, set())]
    if not lacking:
        return OpenTask("cards", "everybody’s settings are on their cards", True)
    return OpenTask("cards", f"settings of {counted(len(lacking), 'person', 'people')} are not on their cards", False)


def _loads(studio: Studio, plan: ClassPlan, today: date) -> OpenTask:
    kept = studio.rooms.prefetch_related("units", "zones").get(key=plan.room)
    told = progress.next_loads(studio, plan, plan.room_of(kept.to_core()), today, {})
    open_ = [item for item in told if item.moves and not item.plan_says]
    words = f"{counted(len(open_), 'load')} for next time to look at" if open_ else "next time’s loads are settled"
    return OpenTask("loads", words, not open_)


def _courses(studio: Studio, today: date) -> list[CourseStands]:
    held = set(
        Run.objects.filter(studio=studio, ended_at__isnull=False, saved_as__planned_class__course__isnull=False)
        .values_list(
            "saved_as__planned_class__course",
            "saved_as__planned_class__course_week",
            "saved_as__planned_class__course_meeting",
        )
        .distinct()
    )
    found = []
    for revision in courses.newest(studio).filter(course__archived=False):
        course = courses.course_of(revision)
        dated = classes_of(course)
        so_far = [item for item in dated if item.on < today]
        begun = [week for week in range(1, course.weeks + 1) if monday_in(course, week) <= today]
        over = today > monday_in(course, course.weeks) + timedelta(days=6)
        week = None if over else begun[-1] if begun else 0
        found.append(
            CourseStands(
                id=revision.course_id,
                name=course.name,
                week=week,
                weeks=course.weeks,
                name_of_week=course.names.get(week or 0, ""),
                held=sum(1 for item in so_far if (revision.course_id, item.week, item.meeting) in held),
                planned_so_far=len(so_far),
                next_on=next((item.on for item in dated if item.on >= today), None),
            )
        )
    return found
