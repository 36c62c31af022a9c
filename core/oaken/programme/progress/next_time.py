"""Next time's loads, set by set: what holds back, what each set's own window says, and always a reason.

A proposal moves nothing by itself. All rules are common practice, no source.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field
from datetime import date
from typing import Literal

from pydantic import BaseModel, ConfigDict

from oaken.basis.words import in_kg
from oaken.domain.room import Hardware
from oaken.physiology.strength.reps_at_load import share_for
from oaken.programme.progress.load_rules import LoadRules, School
from oaken.programme.progress.load_steps import SAME_KG, LoadSteps
from oaken.programme.progress.progression import (
    STALLED_AFTER,
    ProgressionDecision,
    by_method,
    eased,
    far_short,
    held_back,
    stalled,
    stepped_down,
)
from oaken.programme.progress.record import SetRecord
from oaken.programme.progress.scheme_done import SchemeDone, Window, lowest_of
from oaken.programme.progress.series import Session, sessions_of

Today = Literal["as usual", "bad night", "back after illness"]
Does = Literal["add", "repeat", "reduce"]

FIRST_TIME = 0.75
"""A first time begins with this share of what the window stands for."""

SAME_WINDOW_DAYS = 42
"""So long a class whose windows are nearer to the next one's counts before a later one."""


@dataclass(frozen=True, slots=True)
class Standing:
    """What is known of one person and one exercise before the next class: its sessions, what the unit holds (None: any
    load), whether it is a big lift, the best and the working load where they are known, the windows of repetitions
    that the next class plans set by set (None for a set by time; empty where nothing is planned), and how somebody is
    today."""

    sessions: Sequence[Session]
    today: date
    hardware: Hardware | None
    big: bool
    best_kg: float | None = None
    working_kg: float | None = None
    windows: tuple[Window | None, ...] = ()
    is_today: Today = "as usual"
    rules: LoadRules = field(default_factory=LoadRules)
    school: School | None = None

    @property
    def method(self) -> School:
        """The progression method that holds for this person and lift."""
        return self.school or self.rules.school_of(big=self.big)

    @property
    def steps(self) -> LoadSteps:
        """The loads that can be set."""
        return LoadSteps(self.hardware, self.big, self.rules)


class ProposedSet(BaseModel):
    """One set of the next class: its number from 1, the planned repetitions (None: by time), the load it had (kg; None
    where there was no such set), the load that is proposed, and the repetitions to aim at where they differ."""

    model_config = ConfigDict(json_schema_serialization_defaults_required=True)

    number: int
    low: int | None
    high: int | None
    before_kg: float | None
    load_kg: float
    aim: int | None = None


class LoadProposal(BaseModel):
    """Loads for next time: what to do, the heaviest load before and the heaviest proposed (kg; None where nothing can
    be told), the same set by set, the repetitions to aim at on each set, the method, the reason in words, and the sets
    it rests on."""

    model_config = ConfigDict(json_schema_serialization_defaults_required=True)

    do: Literal["add", "repeat", "reduce", "begin", "nothing"]
    before_kg: float | None
    load_kg: float | None
    sets: list[ProposedSet] = []
    reps: list[int]
    school: School
    reason: str
    rests_on: list[str]


def key_window(windows: Sequence[Window | None]) -> Window | None:
    """The window of the heaviest sets of a scheme, which is the one of the fewest repetitions; None where none is
    counted."""
    return min((window for window in windows if window is not None), default=None)


def propose(standing: Standing) -> LoadProposal:
    """What to put on next time. Never above what the unit holds or the studio allows; never more than the rules say."""
    if standing.steps.all_too_heavy:
        most = standing.rules.heaviest_kg or 0.0
        return _unknown(standing, f"the lightest load of the unit is above the {in_kg(most)} that the studio allows")
    session = _like_the_next(standing) or _last_loaded(standing.sessions)
    if session is None:
        return _begin(standing)
    done = SchemeDone.of(session, standing.windows)
    return _written(_decided(done, session, standing), done, standing)


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


def _decided(done: SchemeDone, session: Session, standing: Standing) -> ProgressionDecision:
    """What the session says, by what comes before every method and then by the method."""
    earlier = [item for item in standing.sessions if (item.on, item.run) < (session.on, session.run)]
    loaded = [item for item in reversed(earlier) if any(own.load_kg for own in item.sets)]
    before = [SchemeDone.of(item, standing.windows) for item in loaded[: STALLED_AFTER - 1]]
    last = next((item for item in before if item.heaviest.reps), None)
    away = (standing.today - standing.sessions[-1].on).days
    return (
        held_back(done, last, away, standing.is_today, standing.steps)
        or far_short(done, standing.steps)
        or stepped_down(done, standing.steps)
        or stalled(done, before, standing.steps)
        or eased(
            by_method(done, last, session, away, standing.method, standing.best_kg, standing.steps),
            done,
            before,
            standing.steps,
        )
    )


def _last_loaded(sessions: Sequence[Session]) -> Session | None:
    """The last session with a load and counted repetitions, or else with a load."""
    counted = (
        session for session in reversed(sessions) if any(own.load_kg and own.reps is not None for own in session.sets)
    )
    loaded = (session for session in reversed(sessions) if any(own.load_kg for own in session.sets))
    return next(counted, None) or next(loaded, None)


def _like_the_next(standing: Standing) -> Session | None:
    """The session to judge by: the one whose planned windows ask for shares of the best nearest to the next one's, the
    later of two; never one that lies too long ago or before one that went badly."""
    wanted = [window for window in standing.windows if window is not None]
    if not wanted:
        return None
    found: tuple[float, Session] | None = None
    for session in reversed(standing.sessions):
        if (standing.today - session.on).days > SAME_WINDOW_DAYS:
            break
        planned = _planned_windows(session)
        if planned:
            apart = sum(min(windows_apart(window, own) for own in planned) for window in wanted) / len(wanted)
            if found is None or apart < found[0]:
                found = (apart, session)
        if any(own.poor or own.helped or _below(own) for own in session.sets):
            break
    return found and found[1]


def _planned_windows(session: Session) -> set[Window]:
    """The windows of repetitions that the counted sets with a load were planned with."""
    return {
        (own.low, own.high)
        for own in session.sets
        if own.load_kg and own.reps is not None and own.low is not None and own.high is not None
    }


def _below(item: SetRecord) -> bool:
    if item.reps is None or item.low is None or item.high is None:
        return False
    return item.reps < lowest_of((item.low, item.high))


def windows_apart(one: Window, other: Window) -> float:
    """How far two windows of repetitions are apart in the share of the best they ask for; 0 only for the same one."""
    return abs(_share_of(one) - _share_of(other)) + (one != other) * 1e-6


def _share_of(window: Window) -> float:
    return share_for(sum(window) / 2)


def _unknown(standing: Standing, reason: str) -> LoadProposal:
    return LoadProposal(
        do="nothing", before_kg=None, load_kg=None, reps=[], school=standing.method, reason=reason, rests_on=[]
    )


def _begin(standing: Standing) -> LoadProposal:
    windows = standing.windows or (None,)
    if standing.working_kg is not None:
        reason, rests_on = "nothing was logged yet: the working load as it is known", ["working load"]
        loads = [standing.steps.nearest(standing.working_kg)] * len(windows)
    elif standing.best_kg is not None:
        low, high = key_window(windows) or (8, 12)
        reason = f"a first time: three quarters of what {low}–{high} repetitions stand for"
        rests_on = [f"best {in_kg(standing.best_kg)}"]
        asked = [share_for(sum(window or (low, high)) / 2) * FIRST_TIME * standing.best_kg for window in windows]
        loads = [standing.steps.nearest(kg) for kg in asked]
    else:
        return _unknown(standing, "neither a best nor a set is known: begin light and write it down")
    sets = [
        ProposedSet(number=number, low=window and window[0], high=window and window[1], before_kg=None, load_kg=kg)
        for number, (window, kg) in enumerate(zip(windows, loads, strict=True), 1)
    ]
    return LoadProposal(
        do="begin",
        before_kg=None,
        load_kg=max(loads),
        sets=sets,
        reps=[],
        school=standing.method,
        reason=reason,
        rests_on=rests_on,
    )


@dataclass(frozen=True, slots=True)
class _Step:
    """One set of the last scheme, with what is decided for it."""

    window: Window | None
    before_kg: float
    load_kg: float
    aim: int | None


def _written(decision: ProgressionDecision, done: SchemeDone, standing: Standing) -> LoadProposal:
    """The decision set by set, for the sets that are planned next."""
    steps = _steps_of(decision, done)
    planned = standing.windows or done.windows
    sets, others = _for_planned(planned, steps, decision, done, standing)
    kept = [item.model_copy(update={"load_kg": standing.steps.nearest(item.load_kg)}) for item in sets]
    reason = decision.reason
    if others and len(others) == len([window for window in planned if window is not None]):
        by_table = _by_table(done, standing)
        reason = f"{reason}; {by_table}" if decision.do == "reduce" else by_table
    if done.weaker_side:
        reason += f"; the {done.weaker_side} side is the weaker one and leads"
    capped = any(after.load_kg < before.load_kg - SAME_KG for before, after in zip(sets, kept, strict=True))
    if standing.rules.heaviest_kg is not None and capped:
        reason += f"; the studio allows {in_kg(standing.rules.heaviest_kg)} at most"
    before, load = done.heaviest.kg, max(item.load_kg for item in kept)
    does = _does(decision.do, kept, done) if not others else _compared(load, before)
    if does == "repeat" and not others and abs(load - before) > 0.01:
        reason = f"{reason}; {in_kg(load)} is what comes nearest here"
    aims = [item.aim for item in kept]
    return LoadProposal(
        do=does,
        before_kg=before,
        load_kg=round(load, 3),
        sets=[item.model_copy(update={"load_kg": round(item.load_kg, 3)}) for item in kept],
        reps=[aim for aim in aims if aim is not None] if None not in aims else [],
        school=standing.method,
        reason=reason,
        rests_on=[_in_words(done)],
    )


def _steps_of(decision: ProgressionDecision, done: SchemeDone) -> list[_Step]:
    """Every set of the last scheme once, left and right together."""
    found: list[_Step] = []
    for group in done.groups:
        for place in dict.fromkeys(group.places):
            item = next(own for own, at in zip(group.sets, group.places, strict=True) if at == place)
            meant = item.load_kg if group.own and item.load_kg is not None else group.kg
            aim = decision.aims(item) if decision.aims is not None else None
            found.append(_Step(group.window, meant, decision.loads(group, meant), aim))
    return found


def _for_planned(
    planned: Sequence[Window | None],
    steps: Sequence[_Step],
    decision: ProgressionDecision,
    done: SchemeDone,
    standing: Standing,
) -> tuple[list[ProposedSet], list[Window]]:
    """The planned sets with their loads, and the windows among them that the last scheme did not have: those go by the
    usual training-load table, never more than a step up."""
    by_window: dict[Window | None, list[_Step]] = {}
    for step in steps:
        by_window.setdefault(step.window, []).append(step)
    met: dict[Window | None, int] = {}
    sets, others = [], []
    for number, window in enumerate(planned, 1):
        alike = by_window.get(window, [])
        low, high = window or (None, None)
        if alike:
            step = alike[min(met.get(window, 0), len(alike) - 1)]
            met[window] = met.get(window, 0) + 1
            sets.append(
                ProposedSet(
                    number=number,
                    low=low,
                    high=high,
                    before_kg=step.before_kg,
                    load_kg=step.load_kg,
                    aim=step.aim,
                )
            )
            continue
        governing, then = done.heaviest, decision.loads(done.heaviest, done.heaviest.kg)
        if window is None or governing.window is None:
            sets.append(ProposedSet(number=number, low=low, high=high, before_kg=None, load_kg=then))
            continue
        others.append(window)
        # beside sets that go up it goes up with them; alone it is no step of its own
        base = then if any(known in by_window for known in planned if known is not None) else min(governing.kg, then)
        most = base * (1 + standing.rules.most_step_share)
        kg = standing.steps.nearest(min(base * _share_of(window) / _share_of(governing.window), most), most)
        if standing.hardware is None:
            kg = round(kg, 1)
        sets.append(ProposedSet(number=number, low=low, high=high, before_kg=None, load_kg=kg))
    return sets, others


def _by_table(done: SchemeDone, standing: Standing) -> str:
    was = done.heaviest.window
    assert was is not None
    planned = dict.fromkeys(_span(window) for window in standing.windows if window is not None)
    return f"planned are {', '.join(planned)} instead of {_span(was)}: by the usual table, then see"


def _span(window: Window) -> str:
    low, high = window
    return f"{low}–{high}" if low < high else str(low)


def _compared(load_kg: float, before_kg: float) -> Does:
    return "repeat" if abs(load_kg - before_kg) < 0.01 else "add" if load_kg > before_kg else "reduce"


def _does(decided: Does, sets: Sequence[ProposedSet], done: SchemeDone) -> Does:
    """What was decided, unless the loads that can be set say otherwise: a rise that the studio forbids is none."""
    if decided == "repeat":
        return "repeat"
    apart = [item.load_kg - (done.heaviest.kg if item.before_kg is None else item.before_kg) for item in sets]
    if any(kg > 0.01 for kg in apart):
        return "add"
    return "reduce" if any(kg < -0.01 for kg in apart) else "repeat"


def _in_words(done: SchemeDone) -> str:
    """The sets it rests on, those at one load together."""
    runs: list[tuple[float | None, list[str]]] = []
    for group in done.groups:
        for item in group.sets:
            if not runs or runs[-1][0] != item.load_kg:
                runs.append((item.load_kg, []))
            runs[-1][1].append(_count_words(item))
    day = done.groups[0].sets[0].on
    told = "; ".join(f"{in_kg(kg or 0.0)} × {', '.join(counts)}" for kg, counts in runs)
    return f"{told} on {day.day} {day:%b %Y}"


def _count_words(item: SetRecord) -> str:
    told = "–" if item.reps is None else str(item.reps)
    extra = [
        f"{item.reps_left} left" if item.reps_left is not None else "",
        "to failure" if item.ended == "failed" else "",
        "helped" if item.helped else "",
        f"{item.helped_reps} more helped" if item.helped_reps else "",
        item.set_up,
        "poor form" if item.poor else "",
        "as planned" if item.as_planned else "",
    ]
    words = " ".join(filter(None, extra))
    return f"{told} ({words})" if words else told
