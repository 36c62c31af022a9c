"""Dates of classes as iCalendar (RFC 5545): written with their time zone, and read to make classes of."""

from oaken.exports.calendar.reading import DatesRead, read_calendar
from oaken.exports.calendar.writing import Dated, write_calendar

__all__ = ["Dated", "DatesRead", "read_calendar", "write_calendar"]
