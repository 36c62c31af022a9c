"""Reads iCalendar files of other programs: each event as a day, a time and how it repeats, or why it is not one."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field, replace
from datetime import date, datetime, timedelta
from typing import Any
from zoneinfo import ZoneInfo

from icalendar import Calendar
from icalendar.cal import Component
from icalendar.error import BrokenCalendarProperty

from oaken.basis.faults import Fault, FaultyInput, faults_in
from oaken.basis.limits import in_words, most
from oaken.basis.text_files import Unreadable, decoded
from oaken.plan import Repeats
from oaken.plan.dates import MOST_DATES

LONGEST_NAME = 120
WEEKDAYS = ("MO", "TU", "WE", "TH", "FR", "SA", "SU")
MOST_WEEKS_APART = 4
EARLIEST, LATEST = 2000, 2099


@dataclass(frozen=True, slots=True)
class DatesRead:
    """What one event of a calendar says: its place in the file, its name, its first day and time where the studio is,
    how long it is in minutes (None: it does not say), and how it repeats. `notes` say what was read otherwise than it
    stands there; with `faults` it is no date of a class."""

    event: int
    name: str
    starts: datetime | None = None
    minutes: float | None = None
    repeats: Repeats | None = None
    notes: tuple[str, ...] = ()
    faults: tuple[Fault, ...] = ()

    @property
    def said(self) -> str:
        """When it is, as a plan says it."""
        return "" if self.starts is None else f"{self.starts:%Y-%m-%d %H:%M}"


@dataclass(slots=True)
class _Series:
    """An event with what other events of the file say of single days of it."""

    event: int
    master: Component
    moved: list[Component] = field(default_factory=list)


class _NoDate(Exception):
    """Why an event is no date of a class, and what would be."""

    def __init__(self, field: str, message: str, right: str) -> None:
        super().__init__(message)
        self.field, self.message, self.right = field, message, right


def read_calendar(content: bytes, zone: ZoneInfo) -> list[DatesRead]:
    """Every event of an iCalendar file, in the order of the file. Times of other zones are turned into the studio's.

    Weekly rules are read, with their exceptions; a day that was moved is left out of its series and stands for itself,
    one that was cancelled is left out. Raises FaultyInput where the file is none, is too large, or holds no event.
    """
    fault = faults_in("the file")
    if len(content) > most("calendar.bytes"):
        raise FaultyInput([fault("file", f"is {len(content) / 1e6:.1f} MB large", in_words("calendar.bytes"))])
    try:
        text = decoded(content)
        if "BEGIN:VCALENDAR" not in text.upper():
            raise FaultyInput([fault("file", "is no iCalendar file", "a file that begins with BEGIN:VCALENDAR")])
        if text.upper().count("BEGIN:VEVENT") > most("calendar.events"):
            raise FaultyInput([fault("file", "holds too many events", in_words("calendar.events"))])
        components = [item for each in Calendar.from_ical(text, multiple=True) for item in each.walk("VEVENT")]
    except Unreadable as error:
        raise FaultyInput([fault("file", str(error), error.right)]) from error
    except (ValueError, IndexError, KeyError, TypeError) as error:
        raise FaultyInput([fault("file", f"cannot be read: {str(error)[:200]}", "a whole iCalendar file")]) from error
    if not components:
        raise FaultyInput([fault("file", "holds no event", "at least one VEVENT")])
    found: list[DatesRead] = []
    for series in _series(components):
        found += _read(series, zone)
    return found


def _series(components: Sequence[Component]) -> list[_Series]:
    """Events by their id: the one that repeats, and those that speak of one day of it."""
    by_id: dict[str, _Series] = {}
    found: list[_Series] = []
    for number, component in enumerate(components, 1):
        if component.get("recurrence-id") is None:
            series = _Series(number, component)
            by_id.setdefault(str(component.get("uid", f"event {number}")), series)
            found.append(series)
    for number, each_component in enumerate(components, 1):
        if each_component.get("recurrence-id") is not None:
            known = by_id.get(str(each_component.get("uid", "")))
            if known is None:
                found.append(_Series(number, each_component))
            else:
                known.moved.append(each_component)
    return found


def _read(series: _Series, zone: ZoneInfo) -> Iterable[DatesRead]:
    """An event as one date or several: a rule with several weekdays is a class on each of them."""
    one = series.master
    name = " ".join(str(one.get("summary") or "").split())[:LONGEST_NAME] or "(no name)"
    blank = DatesRead(series.event, name)
    try:
        if str(one.get("status", "")).upper() == "CANCELLED":
            raise _NoDate("status", "was cancelled", "an event that is held")
        notes: list[str] = []
        starts = _local(one, "dtstart", zone, notes)
        minutes = _minutes(one, starts, zone)
        read = replace(blank, starts=starts, minutes=minutes, notes=tuple(notes))
        if one.get("rdate") is not None:
            raise _NoDate("rdate", "lists its days one by one", "a rule by weeks, or single events")
        if one.get("rrule") is None:
            return [read]
        rules = one["rrule"]
        if isinstance(rules, list):
            raise _NoDate("rrule", "has several rules", "one rule by weeks")
        without = _left_out(one, series.moved, zone)
        repeated = [replace(read, starts=first, repeats=rule) for first, rule in _weekly(rules, starts, without, zone)]
    except (_NoDate, BrokenCalendarProperty) as error:
        why = error if isinstance(error, _NoDate) else _NoDate("event", f"cannot be read: {error}"[:200], "RFC 5545")
        fault = faults_in(f"event {series.event} “{name}”", f"events.{series.event}.")
        return [replace(blank, faults=(fault(why.field, why.message, why.right),))]
    moved = [part for other in series.moved if _is_held(other) for part in _read(_Series(series.event, other), zone)]
    return [*repeated, *(replace(each, notes=(*each.notes, "a day of a series that was moved")) for each in moved)]


def _is_held(one: Component) -> bool:
    return str(one.get("status", "")).upper() != "CANCELLED"


def _moment(value: Any, field: str) -> date | datetime:
    found = getattr(value, "dt", None)
    if not isinstance(found, date):
        raise _NoDate(field, "says no day", "a date and a time")
    if not EARLIEST <= found.year <= LATEST:
        raise _NoDate(field, f"is in the year {found.year}", f"{EARLIEST} to {LATEST}")
    return found


def _at_home(moment: datetime, zone: ZoneInfo) -> datetime:
    """The time where the studio is, without a zone."""
    return moment if moment.tzinfo is None else moment.astimezone(zone).replace(tzinfo=None)


def _local(one: Component, field: str, zone: ZoneInfo, notes: list[str]) -> datetime:
    if one.get(field) is None:
        raise _NoDate(field, "is missing", "a date and a time")
    moment = _moment(one[field], field)
    if not isinstance(moment, datetime):
        raise _NoDate(field, "is a whole day, without a time", "a date and a time")
    here = _at_home(moment, zone)
    if moment.tzinfo is not None and moment.replace(tzinfo=None) != here:
        said = one[field].params.get("TZID", "UTC")
        notes.append(f"{moment:%H:%M} in {said} is {here:%H:%M} here")
    if here.second or here.microsecond:
        notes.append("its seconds are left out")
    return here.replace(second=0, microsecond=0)


def _minutes(one: Component, starts: datetime, zone: ZoneInfo) -> float | None:
    if one.get("dtend") is not None:
        end = _moment(one["dtend"], "dtend")
        if isinstance(end, datetime):
            return max(0.0, (_at_home(end, zone) - starts).total_seconds() / 60) or None
        return None
    length = getattr(one.get("duration"), "dt", None)
    return length.total_seconds() / 60 if isinstance(length, timedelta) and length > timedelta(0) else None


def _left_out(one: Component, moved: Sequence[Component], zone: ZoneInfo) -> set[date]:
    """Days of a series that are not held as the rule says: left out, cancelled, or moved."""
    listed = one.get("exdate") or []
    days: set[date] = set()
    for each in listed if isinstance(listed, list) else [listed]:
        for value in each.dts:
            moment = _moment(value, "exdate")
            days.add(_at_home(moment, zone).date() if isinstance(moment, datetime) else moment)
    for other in moved:
        moment = _moment(other["recurrence-id"], "recurrence-id")
        days.add(_at_home(moment, zone).date() if isinstance(moment, datetime) else moment)
    return days


def _weekly(rule: Any, starts: datetime, without: set[date], zone: ZoneInfo) -> list[tuple[datetime, Repeats]]:
    """A rule by weeks as one repetition a weekday."""
    told = {str(name).upper(): value for name, value in rule.items()}
    every = _first(told, "FREQ")
    if every != "WEEKLY":
        raise _NoDate("rrule", f"repeats {str(every or 'in no way').lower()}", "weekly, or single events")
    odd = sorted(set(told) - {"FREQ", "INTERVAL", "UNTIL", "COUNT", "BYDAY", "WKST"})
    if odd:
        raise _NoDate("rrule", f"has {odd[0]} in its rule", "a rule of weeks, weekdays, and an end")
    apart = int(_first(told, "INTERVAL") or 1)
    if not 1 <= apart <= MOST_WEEKS_APART:
        raise _NoDate("rrule", f"repeats every {apart} weeks", f"every 1 to {MOST_WEEKS_APART} weeks")
    days = [str(item).upper() for item in told.get("BYDAY") or [WEEKDAYS[starts.weekday()]]]
    if any(day not in WEEKDAYS for day in days):
        raise _NoDate("rrule", "names a weekday of a month", "days of the week")
    monday = starts - timedelta(days=starts.weekday())
    firsts = sorted(monday + timedelta(days=WEEKDAYS.index(day)) for day in set(days))
    firsts = [first if first >= starts else first + timedelta(weeks=apart) for first in firsts]
    until = _until(told, firsts, apart, zone)
    found = []
    for first in sorted(firsts):
        if first.date() > until:
            continue
        own = (day for day in without if first.date() <= day <= until and day.weekday() == first.weekday())
        left_out = tuple(sorted(own))
        found.append((first, Repeats(every_weeks=apart, until=until, without=left_out[:MOST_DATES])))
    if not found:
        raise _NoDate("rrule", "ends before it begins", "a rule with at least one day")
    return found


def _until(told: dict[str, Any], firsts: Sequence[datetime], apart: int, zone: ZoneInfo) -> date:
    """The last day of a rule; one without an end goes on for a year."""
    until = _first(told, "UNTIL")
    if until is not None:
        return _at_home(until, zone).date() if isinstance(until, datetime) else until
    count = _first(told, "COUNT")
    if count is None:
        return min(firsts).date() + timedelta(days=364)
    number = int(count)
    if not 1 <= number <= MOST_DATES * len(firsts):
        raise _NoDate("rrule", f"repeats {number} times", f"at most {MOST_DATES} times a weekday")
    turns = sorted(first + timedelta(weeks=apart * turn) for first in firsts for turn in range(number))
    return turns[number - 1].date()


def _first(told: dict[str, Any], name: str) -> Any:
    value = told.get(name)
    return value[0] if isinstance(value, list) and value else value
