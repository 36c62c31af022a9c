"""The calendar: what is planned when and where, what was held, and what stands in each other's way."""

from __future__ import annotations

from dataclasses import dataclass, field
from datetime import date, datetime, timedelta

from oaken.plan import minutes_of
from planning import keeping as plans
from planning.models import PlannedClass
from studio.models import Studio

from logbook.models import Run

MOST_DAYS = 400
"""So many days are asked for at once, at most."""


@dataclass(slots=True)
class CalendarEntry:
    """A class on a day: planned, running, or held. `clashes` are the names of what is in the same room at the same
    time. `run` is the run that was made of it; one that was held on a day nobody planned has its own entry."""

    class_id: int
    name: str
    on: date
    time: str
    length_s: float
    room: str
    people: int
    course: int | None
    week: int | None
    state: str
    run: int | None = None
    came: int | None = None
    unwritten: int | None = None
    clashes: list[str] = field(default_factory=list)

    @property
    def from_min(self) -> int:
        """When it begins, in minutes of its day."""
        return minutes_of(self.time)

    @property
    def to_min(self) -> float:
        """When it ends, in minutes of its day."""
        return self.from_min + self.length_s / 60


def entries(studio: Studio, since: date, until: date) -> list[CalendarEntry]:
    """Everything from one day to another (both count), in the order of time."""
    found: list[CalendarEntry] = []
    by_class: dict[tuple[int, date], CalendarEntry] = {}
    rows = PlannedClass.objects.filter(studio=studio, archived=False).exclude(facts={})
    for pk, facts, course, week in rows.values_list("pk", "facts", "course_id", "course_week"):
        for occasion in plans.occasions_of(facts):
            if since <= occasion.on <= until:
                length = facts.get("length_s") or facts["slot_min"] * 60
                entry = CalendarEntry(
                    pk, facts["name"], occasion.on, occasion.time, length, facts["room"], len(facts["people"]), course,
                    week, "planned",
                )  # fmt: skip
                found.append(entry)
                by_class[pk, occasion.on] = entry
    _with_runs(studio, since, until, found, by_class)
    found.sort(key=lambda item: (item.on, item.time, item.name))
    _mark_clashes(found)
    return found


def _with_runs(
    studio: Studio,
    since: date,
    until: date,
    found: list[CalendarEntry],
    by_class: dict[tuple[int, date], CalendarEntry],
) -> None:
    zone = studio.zone
    from_, to = (datetime.combine(day, datetime.min.time(), zone) for day in (since, until + timedelta(days=1)))
    runs = Run.objects.filter(studio=studio, opened_at__gte=from_ - timedelta(days=1), opened_at__lt=to)
    rows = runs.order_by("opened_at").values_list(
        "pk", "saved_as__planned_class", "saved_as__planned_class__facts", "saved_as__planned_class__course",
        "saved_as__planned_class__course_week", "opened_at", "began_at", "ended_at", "people_count", "unwritten",
    )  # fmt: skip
    for pk, planned, facts, course, week, opened, began, ended, came, unwritten in rows:
        moment = (began or opened).astimezone(zone)
        if not since <= moment.date() <= until:
            continue
        state = "held" if ended else "running" if began else "ready"
        entry = by_class.get((planned, moment.date()))
        if entry is None or entry.run is not None:
            length = (ended - began).total_seconds() if ended and began else facts.get("length_s") or 3600.0
            entry = CalendarEntry(
                planned, facts.get("name", "class"), moment.date(), f"{moment:%H:%M}", length, facts.get("room", ""),
                len(facts.get("people") or []), course, week, state,
            )  # fmt: skip
            found.append(entry)
            by_class[planned, moment.date()] = entry
        entry.state, entry.run = state, pk
        entry.came, entry.unwritten = (came, unwritten) if ended else (None, None)


def _mark_clashes(found: list[CalendarEntry]) -> None:
    """Two classes that are still to come in one room at once."""
    for place, item in enumerate(found):
        for other in found[place + 1 :]:
            if other.on != item.on:
                break
            if other.room != item.room or "held" in (item.state, other.state) or other.class_id == item.class_id:
                continue
            if other.from_min < item.to_min and item.from_min < other.to_min:
                item.clashes.append(other.name)
                other.clashes.append(item.name)
