"""A class as it happens: an append-only list of events, folded into a clock, an actual timeline and a log of sets.

`events` says what can happen, `clock` where the class stands at a moment that is handed in, `face` what the clock shows
and calls, `floor` where people at their own pace are by what was pressed, `actual` writes out the real steps and what
is still to come, `log` what was done of what was planned, `now` who does what at a moment and what next, `log_file`
is the open format, `sets_file` the log as a table, `sheet` what a device needs to run the class without the server,
`live_adjustments` what can be done in the middle and what it does, `own_phone` what somebody's own phone shows.
"""

from oaken.session.actual import Actual, actual_class
from oaken.session.beside import PlannedAndActual, planned_and_actual
from oaken.session.clock import RunState, circumstances, marks, replay_events
from oaken.session.events import Event, in_order, standing
from oaken.session.face import ClockFace, Cue, cues, face_of
from oaken.session.hearts import Expected, HeartNow, expected_hearts, heart_now, on_axis
from oaken.session.live_adjustments import Ask, Offer, offers
from oaken.session.log import LogRow, log_of, stretches_of
from oaken.session.log_file import json_schema, read_log, write_log
from oaken.session.now import PersonNow, Spot, people_now
from oaken.session.sets_file import SetRow, read_sets, write_sets
from oaken.session.sheet import Sheet, changing, sheet_of, sheets_of
from oaken.session.simulated import simulated_events

__all__ = [
    "Actual",
    "Ask",
    "ClockFace",
    "Cue",
    "Event",
    "Expected",
    "HeartNow",
    "LogRow",
    "Offer",
    "PersonNow",
    "PlannedAndActual",
    "RunState",
    "SetRow",
    "Sheet",
    "Spot",
    "actual_class",
    "changing",
    "circumstances",
    "cues",
    "expected_hearts",
    "face_of",
    "heart_now",
    "in_order",
    "json_schema",
    "log_of",
    "marks",
    "offers",
    "on_axis",
    "people_now",
    "planned_and_actual",
    "read_log",
    "read_sets",
    "replay_events",
    "sheet_of",
    "sheets_of",
    "simulated_events",
    "standing",
    "stretches_of",
    "write_log",
    "write_sets",
]
