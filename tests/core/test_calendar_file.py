"""Dates as iCalendar: read back by a parser of another house, with the hour kept when clocks change; foreign files."""

from __future__ import annotations

from datetime import UTC, date, datetime, timedelta
from zoneinfo import ZoneInfo

import pytest
from hypothesis import given
from hypothesis import strategies as st
from ical.calendar_stream import IcsCalendarStream
from ical.event import EventStatus
from oaken.basis.faults import FaultyInput
from oaken.exports.calendar import Dated, DatesRead, read_calendar, write_calendar
from oaken.plan import Repeats, occasions

BERLIN = ZoneInfo("Europe/Berlin")
SAVED = datetime(2026, 9, 1, 12, tzinfo=UTC)


def dated(starts: datetime, repeats: Repeats | None = None, **more: object) -> Dated:
    told: dict[str, object] = {
        "uid": "one@mill.invalid", "name": "Hill legs", "minutes": 50.0, "place": "Saw floor, Alder Mill",
        "words": "12 people", "revision": 3, "changed_at": SAVED, **more,
    }  # fmt: skip
    return Dated(starts=starts, repeats=repeats, **told)  # type: ignore[arg-type]


def held(content: bytes, zone: ZoneInfo) -> list[tuple[datetime, timedelta]]:
    """Every time of a calendar by the independent parser, with how long it is."""
    calendar = IcsCalendarStream.calendar_from_ics(content.decode())
    return [
        (item.start, item.end - item.start) for item in calendar.timeline_tz(zone) if isinstance(item.start, datetime)
    ]


def test_a_class_stays_at_its_hour_when_clocks_change() -> None:
    """Clocks go back in Berlin on 25 October 2026: 18:30 is 16:30 UTC before and 17:30 UTC after."""
    repeats = Repeats(until=date(2026, 11, 10), without=(date(2026, 11, 3),))
    told = held(write_calendar("Alder Mill", BERLIN, [dated(datetime(2026, 10, 20, 18, 30), repeats)]), BERLIN)
    assert [start.astimezone(UTC).isoformat()[:16] for start, _ in told] == [
        "2026-10-20T16:30", "2026-10-27T17:30", "2026-11-10T17:30",
    ]  # fmt: skip
    assert {start.astimezone(BERLIN).strftime("%H:%M") for start, _ in told} == {"18:30"}
    assert {length for _, length in told} == {timedelta(minutes=50)}


def test_lines_are_as_the_standard_wants_them() -> None:
    """RFC 5545: CRLF, at most 75 octets a line, text escaped, a zone for every TZID (3.1, 3.3.11, 3.6.5)."""
    long = dated(datetime(2026, 10, 20, 18, 30), name="Legs; hills, “stairs” – " + "ö" * 80, words="a\nb")
    text = write_calendar("Alder Mill", BERLIN, [long])
    lines = text.split(b"\r\n")
    assert text.endswith(b"END:VCALENDAR\r\n")
    assert all(len(line) <= 75 and b"\n" not in line for line in lines)
    assert b"SUMMARY:Legs\\; hills\\, " in text
    assert text.count(b"BEGIN:VTIMEZONE") == 1
    assert b"TZID:Europe/Berlin" in text
    (event,) = IcsCalendarStream.calendar_from_ics(text.decode()).events
    assert (event.summary, event.description) == (long.name, "a\nb")
    assert (event.uid, event.sequence) == ("one@mill.invalid", 3)


def test_a_class_that_was_cancelled_stays_listed_as_such() -> None:
    content = write_calendar("x", BERLIN, [dated(datetime(2026, 12, 1, 18, 30), cancelled=True)])
    (event,) = IcsCalendarStream.calendar_from_ics(content.decode()).events
    assert (event.status, event.sequence) == (EventStatus.CANCELLED, 4)
    (read,) = read_calendar(content, BERLIN)
    assert read.faults[0].message == "was cancelled"


def test_a_studio_without_a_zone_counts_in_utc() -> None:
    content = write_calendar("x", ZoneInfo("UTC"), [dated(datetime(2026, 12, 1, 18, 30))])
    assert b"VTIMEZONE" not in content
    assert b"DTSTART:20261201T183000Z" in content
    assert write_calendar("empty", BERLIN, []).count(b"VEVENT") == 0


ZONES = ["UTC", "Europe/Berlin", "America/St_Johns", "Asia/Kathmandu", "Australia/Lord_Howe", "Pacific/Apia"]


@given(
    st.datetimes(datetime(2020, 1, 1), datetime(2035, 1, 1)).map(
        lambda datetime: datetime.replace(second=0, microsecond=0)
    ),
    st.sampled_from(ZONES),
    st.integers(1, 4),
    st.integers(0, 12),
    st.sets(st.integers(0, 12), max_size=4),
)
def test_dates_go_out_and_come_in_as_they_were(
    starts: datetime, zone_name: str, apart: int, turns: int, without: set[int]
) -> None:
    zone = ZoneInfo(zone_name)
    starts = starts.replace(hour=max(4, starts.hour))  # no class is held in the hour that clocks skip
    days = [starts.date() + timedelta(weeks=apart * turn) for turn in sorted(without) if turn <= turns]
    repeats = Repeats(every_weeks=apart, until=starts.date() + timedelta(weeks=apart * turns), without=tuple(days))
    content = write_calendar("x", zone, [dated(starts, repeats)])
    (read,) = read_calendar(content, zone)
    assert (read.starts, read.repeats, read.minutes, read.notes) == (starts, repeats, 50.0, ())
    ours = [f"{occasion.on} {occasion.time}" for occasion in occasions(read.said, repeats)]
    theirs = [f"{start.astimezone(zone):%Y-%m-%d %H:%M}" for start, _ in held(content, zone)]
    assert theirs == ours


# ---- foreign files -------------------------------------------------------------------------------------------------


def event(*lines: str) -> str:
    return "\r\n".join(["BEGIN:VEVENT", "UID:a@b", "SUMMARY:Legs", *lines, "END:VEVENT"])


def file(*events: str) -> bytes:
    return "\r\n".join(["BEGIN:VCALENDAR", "VERSION:2.0", "PRODID:-//x//y//EN", *events, "END:VCALENDAR", ""]).encode()


def only(*lines: str, zone: ZoneInfo = BERLIN) -> DatesRead:
    (read,) = read_calendar(file(event(*lines)), zone)
    return read


@pytest.mark.parametrize(
    ("lines", "said", "repeats"),
    [
        (("DTSTART:20261201T183000",), "2026-12-01 18:30", None),
        (("DTSTART:20261201T173000Z",), "2026-12-01 18:30", None),
        (("DTSTART;TZID=America/New_York:20261201T123000",), "2026-12-01 18:30", None),
        (
            ("DTSTART;TZID=Europe/Berlin:20261201T183000", "RRULE:FREQ=WEEKLY;COUNT=3"),
            "2026-12-01 18:30",
            Repeats(until=date(2026, 12, 15)),
        ),
        (
            ("DTSTART:20261201T183000", "RRULE:FREQ=WEEKLY;INTERVAL=2;UNTIL=20270101"),
            "2026-12-01 18:30",
            Repeats(every_weeks=2, until=date(2027, 1, 1)),
        ),
        (
            ("DTSTART:20261201T183000", "RRULE:FREQ=WEEKLY"),
            "2026-12-01 18:30",
            Repeats(until=date(2026, 12, 1) + timedelta(days=364)),
        ),
        (
            ("DTSTART:20261201T183000", "RRULE:FREQ=WEEKLY;COUNT=4", "EXDATE:20261208T183000,20261215T183000"),
            "2026-12-01 18:30",
            Repeats(until=date(2026, 12, 22), without=(date(2026, 12, 8), date(2026, 12, 15))),
        ),
    ],
)
def test_what_other_programs_write_is_read(lines: tuple[str, ...], said: str, repeats: Repeats | None) -> None:
    read = only(*lines)
    assert (read.said, read.repeats, read.faults) == (said, repeats, ())


def test_a_rule_of_two_weekdays_is_a_class_on_each() -> None:
    lines = ("DTSTART:20261201T183000", "DURATION:PT45M", "RRULE:FREQ=WEEKLY;BYDAY=TU,TH;COUNT=5")
    tuesday, thursday = read_calendar(file(event(*lines)), BERLIN)
    assert (tuesday.said, thursday.said) == ("2026-12-01 18:30", "2026-12-03 18:30")
    both = sorted(occasion.on for read in (tuesday, thursday) for occasion in occasions(read.said, read.repeats))
    assert both == [date(2026, 12, day) for day in (1, 3, 8, 10, 15)]
    assert tuesday.minutes == 45


def test_a_day_that_was_moved_or_cancelled_is_left_out_of_its_series() -> None:
    series = event("DTSTART:20261201T183000", "RRULE:FREQ=WEEKLY;COUNT=4")
    moved = event("RECURRENCE-ID:20261208T183000", "DTSTART:20261209T190000")
    gone = event("RECURRENCE-ID:20261215T183000", "DTSTART:20261215T183000", "STATUS:CANCELLED")
    weekly, single = read_calendar(file(series, moved, gone), BERLIN)
    assert [occasion.on.day for occasion in occasions(weekly.said, weekly.repeats)] == [1, 22]
    assert (single.said, single.notes) == ("2026-12-09 19:00", ("a day of a series that was moved",))


def test_a_time_of_another_zone_says_what_it_was() -> None:
    assert only("DTSTART;TZID=America/New_York:20261201T123000").notes == ("12:30 in America/New_York is 18:30 here",)


@pytest.mark.parametrize(
    ("lines", "field", "message"),
    [
        (("DTSTART;VALUE=DATE:20261201",), "dtstart", "is a whole day"),
        ((), "dtstart", "is missing"),
        (("DTSTART:19011201T183000",), "dtstart", "is in the year 1901"),
        (("DTSTART:20261201T183000", "RRULE:FREQ=DAILY"), "rrule", "repeats daily"),
        (("DTSTART:20261201T183000", "RRULE:FREQ=MONTHLY;BYDAY=1TU"), "rrule", "repeats monthly"),
        (("DTSTART:20261201T183000", "RRULE:FREQ=WEEKLY;INTERVAL=9"), "rrule", "every 9 weeks"),
        (("DTSTART:20261201T183000", "RRULE:FREQ=WEEKLY;BYMONTH=1"), "rrule", "BYMONTH"),
        (("DTSTART:20261201T183000", "RRULE:FREQ=WEEKLY;COUNT=9999"), "rrule", "repeats 9999 times"),
        (("DTSTART:20261201T183000", "RRULE:FREQ=WEEKLY;UNTIL=20200101T000000Z"), "rrule", "ends before it begins"),
        (("DTSTART:20261201T183000", "RDATE:20261203T183000"), "rdate", "one by one"),
        (("DTSTART:20261201T183000", "STATUS:CANCELLED"), "status", "was cancelled"),
    ],
)
def test_what_is_no_date_of_a_class_says_why(lines: tuple[str, ...], field: str, message: str) -> None:
    read = only(*lines)
    (fault,) = read.faults
    assert (fault.field, fault.place) == (field, "event 1 “Legs”")
    assert message in fault.message
    assert fault.right
    assert read.starts is None


@pytest.mark.parametrize(
    ("content", "said"),
    [
        (b"", "no iCalendar file"),
        (b"seconds,bpm\n1,80\n", "no iCalendar file"),
        (b"\xff\xfe\x00", "no UTF"),
        (file(), "holds no event"),
        (b"BEGIN:VCALENDAR\r\nBEGIN:VEVENT\r\nDTSTART:20261201T183000\r\n", "cannot be read|holds no event"),
        (file(*([event("DTSTART:20261201T183000")] * 2001)), "too many events"),
        (b"BEGIN:VCALENDAR" + b"x" * 2_000_000, "MB large"),
    ],
)
def test_what_is_no_calendar_is_told(content: bytes, said: str) -> None:
    with pytest.raises(FaultyInput, match=said):
        read_calendar(content, BERLIN)


LINES = st.sampled_from(
    ["DTSTART:20261201T183000", "DTSTART:", "DTSTART;TZID=Moon/Crater:20261201T183000", "RRULE:FREQ=WEEKLY;COUNT=x",
     "RRULE:", "EXDATE:20261201", "EXDATE:yesterday", "DURATION:-PT5M", "DTEND:20200101T000000", "RECURRENCE-ID:1",
     "SUMMARY;X=1:", "RRULE:FREQ=WEEKLY;BYDAY=XX", "RRULE:FREQ=WEEKLY;INTERVAL=0", "DTSTART:99991231T235959Z", " folded"]
)  # fmt: skip


@given(st.lists(LINES, max_size=6), st.text(max_size=30))
def test_no_event_breaks_the_reader(lines: list[str], noise: str) -> None:
    content = file(event(*lines, noise.replace("\x00", "")))
    try:
        found = read_calendar(content, BERLIN)
    except FaultyInput as error:
        found = []
        told = str(error)
        assert told
    assert all(item.starts is not None or item.faults for item in found)
