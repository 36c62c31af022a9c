"""Writes dates of classes as iCalendar: local times with their time zone, so that a class stays at its hour when clocks
change."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import UTC, datetime, time, timedelta
from zoneinfo import ZoneInfo

from icalendar import Calendar, Event

from oaken.plan import Repeats

PRODUCT = "-//Oaken Circuit//Group leg classes//EN"


@dataclass(frozen=True, slots=True)
class Dated:
    """A class in a calendar.

    `uid` stays the same for as long as it is the same class; `starts` is where the studio is, without a zone;
    `revision` and `changed_at` say which state of it this is. A `cancelled` one stays listed as such.
    """

    uid: str
    name: str
    starts: datetime
    minutes: float
    place: str
    words: str
    revision: int
    changed_at: datetime
    repeats: Repeats | None = None
    cancelled: bool = False


def write_calendar(name: str, zone: ZoneInfo, dates: Sequence[Dated]) -> bytes:
    """A calendar of these dates in one time zone, whose changes of clocks are told for as far as the dates go."""
    calendar = Calendar()
    calendar.add("prodid", PRODUCT)
    calendar.add("version", "2.0")
    calendar.add("method", "PUBLISH")
    calendar.add("name", name)
    calendar.add("x-wr-calname", name)
    calendar.add("refresh-interval", timedelta(hours=6), parameters={"value": "DURATION"})
    for date in sorted(dates, key=lambda each: (each.starts, each.uid)):
        calendar.add_component(_event(date, zone))
    if dates and zone.key != "UTC":
        first = min(date.starts.date() for date in dates)
        last = max(date.repeats.until if date.repeats else date.starts.date() for date in dates)
        calendar.add_missing_timezones(first_date=first, last_date=last + timedelta(days=366))
    return bytes(calendar.to_ical())


def _event(one: Dated, zone: ZoneInfo) -> Event:
    event = Event()
    start = one.starts.replace(tzinfo=zone)
    event.add("uid", one.uid)
    event.add("dtstamp", one.changed_at.astimezone(UTC))
    event.add("last-modified", one.changed_at.astimezone(UTC))
    event.add("sequence", one.revision + one.cancelled)
    event.add("summary", one.name)
    event.add("dtstart", start)
    event.add("dtend", (start.astimezone(UTC) + timedelta(minutes=one.minutes)).astimezone(zone))
    event.add("location", one.place)
    event.add("description", one.words)
    event.add("status", "CANCELLED" if one.cancelled else "CONFIRMED")
    if one.repeats is not None:
        # the last moment of the last day where the studio is; with a zone the rule counts in UTC
        until = datetime.combine(one.repeats.until, time(23, 59, 59), zone).astimezone(UTC)
        event.add("rrule", {"freq": "weekly", "interval": one.repeats.every_weeks, "until": until})
        without = [datetime.combine(day, one.starts.time(), zone) for day in one.repeats.without]
        if without:
            event.add("exdate", without)
    return event
