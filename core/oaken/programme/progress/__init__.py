"""Whether it got better, person by person and exercise by exercise, and what to put on next time.

`record` is one set freed of its class; `evidence` what a set says of a best, `trend` the line through all sessions,
`series` an exercise over the dates, `beside` the same scheme on two days and left against right, `goal` a goal with a
date, `next_time` the loads of the next class, with `scheme_done` for what each set was planned as, `progression` for
the methods, `load_rules` and `load_steps` for what the studio and the unit allow; `targets` what is to be reached in a
set, `hearts` the heart at the same work.
Nobody is compared with anybody else.
"""

from oaken.programme.progress.beside import Beside, Sides, beside, left_and_right, why_not_comparable
from oaken.programme.progress.evidence import Evidence, evidence_of, why_no_evidence
from oaken.programme.progress.goal import Goal, Prospect, prospect
from oaken.programme.progress.hearts import HeartAtWork, heart_at_work
from oaken.programme.progress.load_rules import LoadRules, School, SchoolInWords, schools
from oaken.programme.progress.next_time import (
    SAME_WINDOW_DAYS,
    LoadProposal,
    ProposedSet,
    Standing,
    Today,
    key_window,
    propose,
    propose_after,
    windows_apart,
)
from oaken.programme.progress.record import SetRecord, planned_set_up, set_records
from oaken.programme.progress.series import Gain, Scheme, Series, Session, gain_since, series_of, sessions_of, week_of
from oaken.programme.progress.targets import TARGET_DAYS, SetBefore, SetTarget, set_targets
from oaken.programme.progress.trend import Level, Observation, Trend, trend

__all__ = [
    "SAME_WINDOW_DAYS",
    "TARGET_DAYS",
    "Beside",
    "Evidence",
    "Gain",
    "Goal",
    "HeartAtWork",
    "Level",
    "LoadProposal",
    "LoadRules",
    "Observation",
    "ProposedSet",
    "Prospect",
    "Scheme",
    "School",
    "SchoolInWords",
    "Series",
    "Session",
    "SetBefore",
    "SetRecord",
    "SetTarget",
    "Sides",
    "Standing",
    "Today",
    "Trend",
    "beside",
    "evidence_of",
    "gain_since",
    "heart_at_work",
    "key_window",
    "left_and_right",
    "planned_set_up",
    "propose",
    "propose_after",
    "prospect",
    "schools",
    "series_of",
    "sessions_of",
    "set_records",
    "set_targets",
    "trend",
    "week_of",
    "why_no_evidence",
    "why_not_comparable",
    "windows_apart",
]
