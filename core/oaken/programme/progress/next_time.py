"""Next time's load: named schools, what holds back, and always a reason. A proposal moves nothing by itself."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field
from datetime import date
from functools import cache
from math import floor
from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field

from oaken.basis.data_files import shipped_json
from oaken.basis.words import in_kg
from oaken.domain.people import Closed
from oaken.domain.room import Hardware, settable_kg
from oaken.physiology.strength.reps_at_load import share_for
from oaken.programme.progress.record import SetRecord
from oaken.programme.progress.series import Session, sessions_of

School = Literal["every-set", "last-set", "repetitions-first", "consolidate"]
Today = Literal["as usual", "bad night", "back after illness"]

LONG_AWAY_DAYS, SOME_TIME_AWAY_DAYS = 21, 14
"""From this many days away the load is lighter; from that many it is not raised (common practice, no source)."""

AFTER_AWAY = 0.90
"""What is left of the load after weeks away or illness (common practice, no source)."""

FAR_OVER = 4
"""Repetitions over the top at which an open last set stands for two steps (common practice, no source)."""

LARGE_STEP = 0.10
"""A step of more than this share needs two repetitions over the top in every set (common practice, no source)."""

FIRST_TIME = 0.75
"""A first time begins with this share of what the window stands for (common practice, no source)."""

NARROWEST = 2
"""A window that is one number reaches this many repetitions down: 3 × 10 holds down to 8."""


class SchoolInWords(BaseModel):
    """A school: its id, its name, and why people follow it."""

    model_config = ConfigDict(frozen=True, extra="forbid")

    id: School
    name: str
    reason: str


class LoadRules(Closed):
    """How a house raises loads: the school, the steps of big and of small lifts in kg, and what is never gone over:
    `most_step_share` in one step (unless the unit's own smallest step is larger), `heaviest_kg` altogether."""

    school: School = "every-set"
    step_big_kg: Annotated[float, Field(gt=0, le=20)] = 5.0
    step_small_kg: Annotated[float, Field(gt=0, le=10)] = 2.5
    most_step_share: Annotated[float, Field(gt=0, le=0.5)] = 0.10
    heaviest_kg: Annotated[float, Field(gt=0, le=900)] | None = None


@cache
def schools() -> dict[str, SchoolInWords]:
    """Every school by id, from the data file beside this module."""
    raw = shipped_json("oaken.programme.progress", "schools.json")
    return {item["id"]: SchoolInWords.model_validate(item) for item in raw["schools"]}


@dataclass(frozen=True, slots=True)
class Standing:
    """What is known of one person and one exercise before the next class: its sessions, what the unit holds (None: any
    load), whether it is a big lift, the best and the working load where they are known, the window that the next class
    plans, and how somebody is today."""

    sessions: Sequence[Session]
    today: date
    hardware: Hardware | None
    big: bool
    best_kg: float | None = None
    working_kg: float | None = None
    window: tuple[int, int] | None = None
    is_today: Today = "as usual"
    rules: LoadRules = field(default_factory=LoadRules)
    school: School | None = None


class LoadProposal(BaseModel):
    """A load for next time: what to do, the load before and the one proposed (kg; None where nothing can be told), the
    repetitions to aim at on each set, the school, the reason in words, and the sets it rests on."""

    model_config = ConfigDict(json_schema_serialization_defaults_required=True)

    do: Literal["add", "repeat", "reduce", "begin", "nothing"]
    before_kg: float | None
    load_kg: float | None
    reps: list[int]
    school: School
    reason: str
    rests_on: list[str]


def propose(standing: Standing) -> LoadProposal:
    """What to put on next time. Never above what the unit holds or the studio allows; never more than the rules say."""
    school = standing.school or standing.rules.school
    most = standing.rules.heaviest_kg
    if standing.hardware is not None and most is not None and settable_kg(standing.hardware)[0] > most + 1e-6:
        reason = f"the lightest load of the unit is above the {in_kg(most)} that the studio allows"
        return LoadProposal(
            do="nothing", before_kg=None, load_kg=None, reps=[], school=school, reason=reason, rests_on=[]
        )
    session = _like_the_next(standing) or _last_loaded(standing.sessions)
    if session is None:
        return _begin(standing)
    judged = _Judged.of(session, standing)
    made = _held_back(judged, standing) or _other_window(judged, standing) or _by_school(judged, standing)
    return _within_house(made, judged, standing)


def propose_after(
    hardware: Hardware | None,
    load_kg: float,
    reps: Sequence[int],
    window: tuple[int, int],
    today: date,
    *,
    poor: bool,
    big: bool,
    rules: LoadRules,
) -> LoadProposal:
    """What sets that were done today say for the next time, whoever did them: all at one load, all that were planned.
    Raises ValueError for no sets."""
    if not reps:
        raise ValueError("no sets were done")
    sets = [
        SetRecord(
            on=today,
            run=0,
            person="",
            exercise="",
            block="",
            part="",
            number=number,
            side="",
            unit="",
            load_kg=load_kg,
            reps=count,
            seconds=None,
            volume_kg=load_kg * count,
            tension_s=0.0,
            low=window[0],
            high=window[1],
            sets=len(reps),
            planned_kg=load_kg,
            ended="stopped",
            reps_left=None,
            pauses=False,
            helped=False,
            poor=poor,
            as_planned=False,
        )
        for number, count in enumerate(reps, 1)
    ]
    return propose(Standing(sessions=sessions_of(sets), today=today, hardware=hardware, big=big, rules=rules))


@dataclass(frozen=True, slots=True)
class _Judged:
    """The last session as the rules read it: the load most sets were done with, the sets in their order, the window,
    whether all that was planned was done, and when
    the exercise was done last (`on`)."""

    load_kg: float
    sets: tuple[SetRecord, ...]
    reps: tuple[int, ...]
    low: int | None
    high: int | None
    planned: tuple[int, int] | None
    complete: bool
    on: date
    before: Session | None

    @classmethod
    def of(cls, session: Session, standing: Standing) -> _Judged:
        """A session with what came before it."""
        loaded = [each_set for each_set in session.sets if each_set.load_kg and each_set.reps is not None]
        loaded = loaded or [each_set for each_set in session.sets if each_set.load_kg]
        loads = [item.load_kg for item in loaded if item.load_kg is not None]
        # the load of the day: the one most sets were done with, the heavier of two
        load = max(set(loads), key=lambda kg: (loads.count(kg), kg))
        own = tuple(item for item in loaded if item.load_kg == load)
        planned = next((item for item in own if item.low is not None and item.high is not None), None)
        window = (planned.low, planned.high) if planned is not None else standing.window
        low, high = window if window is not None else (None, None)
        as_planned = None if low is None or high is None else (low, high)
        if low is not None and low == high:
            low = max(1, low - NARROWEST)
        numbers = {(each_set.part, each_set.number) for each_set in session.sets}
        wanted = {each_set.part: each_set.sets for each_set in session.sets}
        earlier = [
            each_session
            for each_session in standing.sessions
            if (each_session.on, each_session.run) < (session.on, session.run)
        ]
        return cls(
            load_kg=load,
            sets=own,
            reps=tuple(item.reps for item in own if item.reps is not None),
            low=low,
            high=high,
            planned=as_planned,
            complete=len(numbers) >= sum(wanted.values()),
            on=standing.sessions[-1].on,
            before=_last_loaded(earlier),
        )

    @property
    def would_have_gone(self) -> int:
        """Repetitions that would have gone in the hardest set of which that is known, those that were left among
        them."""
        told = [
            each_set.reps + each_set.reps_left
            for each_set in self.sets
            if each_set.reps is not None and each_set.reps_left is not None
        ]
        return min(told) if told else min(self.reps)

    @property
    def rests_on(self) -> list[str]:
        """The sets in words, those alike together."""
        reps = ", ".join(_count_words(each_set) for each_set in self.sets)
        day = self.sets[0].on
        return [f"{in_kg(self.load_kg)} × {reps} on {day.day} {day:%b %Y}"]


def _count_words(one: SetRecord) -> str:
    told = "–" if one.reps is None else str(one.reps)
    extra = [
        f"{one.reps_left} left" if one.reps_left is not None else "",
        "to failure" if one.ended == "failed" else "",
        "helped" if one.helped else "",
        "poor form" if one.poor else "",
        "as planned" if one.as_planned else "",
    ]
    words = " ".join(filter(None, extra))
    return f"{told} ({words})" if words else told


def _last_loaded(sessions: Sequence[Session]) -> Session | None:
    """The last session with a load and counted repetitions, or else with a load."""
    counted = (
        session for session in reversed(sessions) if any(own.load_kg and own.reps is not None for own in session.sets)
    )
    loaded = (session for session in reversed(sessions) if any(own.load_kg for own in session.sets))
    return next(counted, None) or next(loaded, None)


def _nothing(school: School, reason: str) -> LoadProposal:
    return LoadProposal(do="nothing", before_kg=None, load_kg=None, reps=[], school=school, reason=reason, rests_on=[])


SAME_WINDOW_DAYS = 42
"""So long a class whose window is nearer to the next one's counts before a later one (common practice, no source)."""


def _like_the_next(standing: Standing) -> Session | None:
    """The session to judge by: the one whose planned window asks for a share of the best nearest to the next one's, the
    later of two; never one that lies too long ago or before one that went badly."""
    if standing.window is None:
        return None
    found: tuple[float, Session] | None = None
    for session in reversed(standing.sessions):
        if (standing.today - session.on).days > SAME_WINDOW_DAYS:
            break
        window = _planned_window(session)
        if window is not None:
            apart = windows_apart(window, standing.window)
            if found is None or apart < found[0]:
                found = (apart, session)
        if any(own.poor or own.helped or _below(own) for own in session.sets):
            break
    return found and found[1]


def _planned_window(session: Session) -> tuple[int, int] | None:
    """The repetitions that the counted sets with a load were planned as; None where none was."""
    for own in session.sets:
        if own.load_kg and own.reps is not None and own.low is not None and own.high is not None:
            return own.low, own.high
    return None


def _below(one: SetRecord) -> bool:
    return (
        one.reps is not None and one.low is not None and one.reps < one.low - (NARROWEST if one.low == one.high else 0)
    )


def windows_apart(one: tuple[int, int], other: tuple[int, int]) -> float:
    """How far two windows of repetitions are apart in the share of the best they ask for; 0 only for the same one."""
    return abs(_share_of(one) - _share_of(other)) + (one != other) * 1e-6


def _share_of(window: tuple[int, int]) -> float:
    return share_for(sum(window) / 2)


def _other_window(judged: _Judged, standing: Standing) -> LoadProposal | None:
    """The load of another window by the usual training-load table, never more than a step up; None where the next class
    plans what was done."""
    if standing.window is None or judged.planned is None or judged.planned == standing.window:
        return None
    (low, high), (was_low, was_high) = standing.window, judged.planned
    share = _share_of(standing.window) / _share_of(judged.planned)
    reason = f"planned are {low}–{high} instead of {was_low}–{was_high}: by the usual table, then see"
    load = judged.load_kg
    most = load * (1 + standing.rules.most_step_share)
    wanted = min(load * share, most)
    if standing.hardware is None:
        kg = round(wanted, 1)
    else:
        loads = settable_kg(standing.hardware)
        allowed = [load for load in loads if load <= most + 1e-6] or [loads[0]]
        kg = min(allowed, key=lambda item: (abs(item - wanted), item))
    do: Literal["add", "repeat", "reduce"] = "repeat" if abs(kg - load) < 0.01 else "add" if kg > load else "reduce"
    return _proposal(do, judged, standing, kg, reason)


def _begin(standing: Standing) -> LoadProposal:
    school = standing.school or standing.rules.school
    if standing.working_kg is not None:
        kg = _nearest_within(standing, standing.working_kg)
        reason = "nothing was logged yet: the working load as it is known"
        return LoadProposal(
            do="begin", before_kg=None, load_kg=kg, reps=[], school=school, reason=reason, rests_on=["working load"]
        )
    if standing.best_kg is None:
        reason = "neither a best nor a set is known: begin light and write it down"
        return LoadProposal(
            do="nothing", before_kg=None, load_kg=None, reps=[], school=school, reason=reason, rests_on=[]
        )
    low, high = standing.window or (8, 12)
    kg = _nearest_within(standing, standing.best_kg * share_for((low + high) / 2) * FIRST_TIME)
    reason = f"a first time: three quarters of what {low}–{high} repetitions stand for"
    return LoadProposal(
        do="begin",
        before_kg=None,
        load_kg=kg,
        reps=[],
        school=school,
        reason=reason,
        rests_on=[f"best {in_kg(standing.best_kg)}"],
    )


def _held_back(judged: _Judged, standing: Standing) -> LoadProposal | None:
    """What comes before every school: absence, illness, a bad night, poor form, help, sets that are missing."""
    away = (standing.today - judged.on).days
    if standing.is_today == "back after illness":
        if away >= SOME_TIME_AWAY_DAYS // 2 + 3:
            return _lighter_by(judged, standing, AFTER_AWAY, "back after illness: a tenth less, then see")
        return _same(judged, standing, "still coming back after illness: the same again")
    if away >= LONG_AWAY_DAYS:
        return _lighter_by(judged, standing, AFTER_AWAY, f"{away // 7} weeks away: a tenth less")
    if standing.is_today == "bad night":
        return _step_down(judged, standing, "a bad night: one step lighter today")
    if any(each_set.poor for each_set in judged.sets):
        again = judged.before is not None and any(
            each_set.poor for each_set in judged.before.sets if each_set.load_kg == judged.load_kg
        )
        if again:
            return _step_down(judged, standing, "form was poor twice at this load: one step lighter")
        return _same(judged, standing, "form was poor: repeat to consolidate")
    if any(each_set.helped for each_set in judged.sets):
        return _same(judged, standing, "a set was helped: the same again without help")
    if judged.high is None or judged.low is None or not judged.reps:
        return _same(judged, standing, "no repetitions were planned or counted: nothing to judge by")
    if judged.reps[0] < judged.low:
        # waiting with this doubled the failures in what was tried
        return _step_down(judged, standing, f"the first set ended at {judged.reps[0]}, below {judged.low}")
    if not judged.complete:
        return _same(judged, standing, "not every planned set was done: the same again")
    return None


def _by_school(judged: _Judged, standing: Standing) -> LoadProposal:
    school = standing.school or standing.rules.school
    low, high = judged.low, judged.high
    assert low is not None
    assert high is not None
    away = (standing.today - judged.on).days
    every, last = min(judged.reps) >= high, judged.sets[-1]
    if school == "last-set":
        reached = judged.reps[-1] + (last.reps_left or 0)
        if judged.reps[-1] >= high and away < SOME_TIME_AWAY_DAYS:
            far = reached >= high + FAR_OVER and last.ended != "stopped"
            return _step_up(
                judged, standing, 2 if far else 1, f"the last set reached {judged.reps[-1]}, the top is {high}"
            )
    elif every and away < SOME_TIME_AWAY_DAYS:
        if school != "consolidate" or _top_before(judged):
            twice = " twice" if school == "consolidate" else ""
            return _step_up(judged, standing, 1, f"every set reached the top ({high}){twice}")
        return _same(judged, standing, f"every set reached the top ({high}) once: once more to consolidate")
    if every and away >= SOME_TIME_AWAY_DAYS:
        return _same(judged, standing, f"the top was reached, but that was {away} days ago: the same again")
    short = [reps for reps in judged.reps if reps < low]
    if short:
        return _same(judged, standing, f"a later set ended at {min(short)}, below {low}: the same again")
    if school == "repetitions-first":
        aim = [min(high, reps + 1) for reps in judged.reps]
        return _same(judged, standing, f"inside {low}–{high}: a repetition more on each set", aim)
    return _same(judged, standing, f"inside {low}–{high}: the same load, more repetitions")


def _top_before(judged: _Judged) -> bool:
    """Whether the session before reached the top as well, with this load or more."""
    if judged.before is None or judged.high is None:
        return False
    reps = [
        each_set.reps
        for each_set in judged.before.sets
        if each_set.load_kg and each_set.load_kg >= judged.load_kg - 1e-6
    ]
    return bool(reps) and all(rep is not None and rep >= judged.high for rep in reps)


def _same(judged: _Judged, standing: Standing, reason: str, aim: list[int] | None = None) -> LoadProposal:
    return _proposal("repeat", judged, standing, _nearest_within(standing, judged.load_kg), reason, aim)


def _step_kg(standing: Standing) -> float:
    return standing.rules.step_big_kg if standing.big else standing.rules.step_small_kg


def _step_up(judged: _Judged, standing: Standing, steps: int, reason: str) -> LoadProposal:
    """One or two steps more: the load that can be set and comes nearest, at least the next one there is."""
    load = judged.load_kg
    if standing.hardware is None:
        found = load + steps * _step_kg(standing)
        smallest = load + _step_kg(standing)
    else:
        heavier = [kg for kg in settable_kg(standing.hardware) if kg > load + 1e-6]
        if not heavier:
            return _same(judged, standing, f"{reason}, but the unit holds no more: add repetitions", _more(judged))
        smallest = heavier[0]
        found = min(heavier, key=lambda kg: (abs(kg - load - steps * _step_kg(standing)), kg))
    most = load * (1 + standing.rules.most_step_share)
    if found > max(most, smallest) + 1e-6:
        found = max((kg for kg in _between(standing, load, most)), default=smallest)
    large = smallest > load * (1 + LARGE_STEP) + 1e-6
    if large and judged.high is not None and judged.would_have_gone < judged.high + 2:
        share = round((smallest / load - 1) * 100)
        return _same(
            judged,
            standing,
            f"{reason}, but the next step is {share} % more: first two repetitions over the top",
            _more(judged),
        )
    return _proposal("add", judged, standing, found, reason)


def _more(judged: _Judged) -> list[int]:
    return [reps + 1 for reps in judged.reps]


def _between(standing: Standing, above: float, most: float) -> list[float]:
    if standing.hardware is None:
        return [most]
    return [kg for kg in settable_kg(standing.hardware) if above + 1e-6 < kg <= most + 1e-6]


def _step_down(judged: _Judged, standing: Standing, reason: str) -> LoadProposal:
    load = judged.load_kg
    if standing.hardware is None:
        return _proposal("reduce", judged, standing, max(0.0, load - _step_kg(standing)), reason)
    lighter = [kg for kg in settable_kg(standing.hardware) if kg < load - 1e-6]
    if not lighter:
        return _same(judged, standing, f"{reason}; the unit holds no less: an easier variant")
    found = min(lighter, key=lambda kg: (abs(kg - load + _step_kg(standing)), -kg))
    return _proposal("reduce", judged, standing, found, reason)


def _lighter_by(judged: _Judged, standing: Standing, share: float, reason: str) -> LoadProposal:
    wanted = judged.load_kg * share
    if standing.hardware is None:
        return _proposal("reduce", judged, standing, round(wanted, 1), reason)
    loads = settable_kg(standing.hardware)
    found = max((kg for kg in loads if kg <= wanted + 1e-6), default=loads[0])
    if found >= judged.load_kg - 1e-6:
        return _same(judged, standing, f"{reason}; the unit holds no less: an easier variant")
    return _proposal("reduce", judged, standing, found, reason)


def _proposal(
    do: Literal["add", "repeat", "reduce"],
    judged: _Judged,
    standing: Standing,
    load_kg: float,
    reason: str,
    aim: list[int] | None = None,
) -> LoadProposal:
    if do == "repeat" and abs(load_kg - judged.load_kg) > 0.01:
        reason = f"{reason}; {in_kg(load_kg)} is what comes nearest here"
    return LoadProposal(
        do=do,
        before_kg=judged.load_kg,
        load_kg=round(load_kg, 3),
        reps=aim or [],
        school=standing.school or standing.rules.school,
        reason=reason,
        rests_on=judged.rests_on,
    )


def _nearest_within(standing: Standing, kg: float) -> float:
    """The load that can be set and comes nearest, not above what the studio allows; the lighter of two."""
    most = standing.rules.heaviest_kg
    if standing.hardware is None:
        # never rounded up over what is allowed
        return round(kg, 3) if most is None or kg < most else floor(most * 1000) / 1000
    loads = settable_kg(standing.hardware)
    allowed = [load for load in loads if most is None or load <= most + 1e-6] or [loads[0]]
    return min(allowed, key=lambda item: (abs(item - kg), item))


def _within_house(made: LoadProposal, judged: _Judged, standing: Standing) -> LoadProposal:
    """The proposal, unless it goes over the heaviest load of the studio."""
    most = standing.rules.heaviest_kg
    if made.load_kg is None or most is None or made.load_kg <= most + 1e-6:
        return made
    kg = _nearest_within(standing, most)
    return made.model_copy(
        update={
            "do": "repeat" if abs(kg - judged.load_kg) < 1e-6 else "reduce" if kg < judged.load_kg else "add",
            "load_kg": kg,
            "reason": f"{made.reason}; the studio allows {in_kg(most)} at most",
        }
    )
