"""A class as it happens: an append-only list of events, folded into a clock, a lived timeline and a log of sets.

`events` says what can happen, `clock` where the class stands at a moment that is handed in, `lived` writes out the real
steps and what is still to come, `log` what was done of what was planned, `now` who does what at a moment and what
next, `log_file` is the open format, `sets_file` the log as a table, `sheet` what a device needs to run the class
without the server, `spot` what can be done in the middle and what it does.
"""

from oaken.session.beside import FigureBeside, planned_and_lived
from oaken.session.clock import ClockFace, Course, Cue, course_of, cues, face_of, marks
from oaken.session.events import Event, in_order, standing
from oaken.session.hearts import Expected, HeartNow, expected_hearts, heart_now
from oaken.session.lived import Lived, lived
from oaken.session.log import LogRow, log_of, stretches_of
from oaken.session.log_file import json_schema, read_log, write_log
from oaken.session.now import PersonNow, Spot, people_now
from oaken.session.sets_file import SetRow, read_sets, write_sets
from oaken.session.sheet import Sheet, changing, sheet_of, sheets_of
from oaken.session.simulated import simulated_events
from oaken.session.spot import Ask, Offer, offers

__all__ = [
    "Ask",
    "ClockFace",
    "Course",
    "Cue",
    "Event",
    "Expected",
    "FigureBeside",
    "HeartNow",
    "Lived",
    "LogRow",
    "Offer",
    "PersonNow",
    "SetRow",
    "Sheet",
    "Spot",
    "changing",
    "course_of",
    "cues",
    "expected_hearts",
    "face_of",
    "heart_now",
    "in_order",
    "json_schema",
    "lived",
    "log_of",
    "marks",
    "offers",
    "people_now",
    "planned_and_lived",
    "read_log",
    "read_sets",
    "sheet_of",
    "sheets_of",
    "simulated_events",
    "standing",
    "stretches_of",
    "write_log",
    "write_sets",
]
