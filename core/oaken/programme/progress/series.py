"""One exercise of one person over the dates: session by session, with the line through what they say of the best."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass
from datetime import date
from math import exp, hypot, log
from typing import Literal

from oaken.basis.estimate import Estimate
from oaken.basis.words import in_kg
from oaken.physiology.strength import MovementCurve, RepCurve, any_movement, log_share
from oaken.programme.progress.evidence import Evidence, evidence_of
from oaken.programme.progress.own_curve import CurveSeen, OwnCurve, own_curve
from oaken.programme.progress.record import SetRecord
from oaken.programme.progress.trend import MIDDLE_80, Level, Observation, Trend, range_80, trend

FIRST_DAY = date(2000, 1, 3)
"""From which weeks are counted: a Monday."""


def week_of(on: date) -> float:
    """Weeks since the first day, parts of weeks included."""
    return (on - FIRST_DAY).days / 7


@dataclass(frozen=True, slots=True)
class Scheme:
    """What was planned of an exercise: on which units, how many sets, and the planned repetitions of each set. Two
    sessions of one scheme can be laid side by side."""

    units: tuple[str, ...]
    windows: tuple[tuple[int, int] | None, ...]

    @classmethod
    def of(cls, sets: Sequence[SetRecord]) -> Scheme:
        """The scheme of a session's sets."""
        by_part: dict[str, dict[int, tuple[int, int] | None]] = {}
        for each_set in sets:
            window = None if each_set.low is None or each_set.high is None else (each_set.low, each_set.high)
            own = by_part.get(each_set.part)
            if own is None:
                # what was planned and not written down is in the scheme as well
                own = by_part[each_set.part] = dict.fromkeys(range(1, each_set.sets + 1), window)
            own[each_set.number] = window
        windows = [own[number] for own in by_part.values() for number in sorted(own)]
        return cls(tuple(sorted({each_set.unit for each_set in sets if each_set.unit})), tuple(windows))

    @property
    def words(self) -> str:
        """How it is written: 3 × 8–10."""
        found: list[tuple[tuple[int, int] | None, int]] = []
        for window in self.windows:
            if found and found[-1][0] == window:
                found[-1] = (window, found[-1][1] + 1)
            else:
                found.append((window, 1))
        return ", ".join(f"{count} × {_window_words(window)}" for window, count in found)


def _window_words(window: tuple[int, int] | None) -> str:
    if window is None:
        return "by the clock"
    low, high = window
    return str(low) if low == high else f"{low}–{high}"


@dataclass(frozen=True, slots=True)
class Session:
    """What one person did of one exercise in one class. `best` is the set that says most of the best (None where none
    says anything), `evidence` what it says, `tired` whether it came behind sets that were stopped, `end_known`
    whether of any set it is known how much more would have
    gone. `volume_kg` is of the sets whose load is known (None where no load is), `without_load` how many sets are
    not in it because nobody knows theirs."""

    on: date
    run: int
    sets: tuple[SetRecord, ...]
    scheme: Scheme
    volume_kg: float | None
    without_load: int
    tension_s: float
    reps: int
    best: SetRecord | None
    evidence: Evidence | None
    tired: bool
    end_known: bool

    @property
    def heaviest_kg(self) -> float | None:
        """The heaviest load of the day."""
        return max((each_set.load_kg for each_set in self.sets if each_set.load_kg is not None), default=None)


def sessions_of(sets: Iterable[SetRecord], curve: RepCurve | None = None) -> list[Session]:
    """The sets of one person and one exercise, class by class in the order of time, whatever the order they come in;
    `curve` is the one by which they say something of the best (none: that of any movement)."""
    by_run: dict[tuple[date, int], list[SetRecord]] = {}
    for each_set in sets:
        by_run.setdefault((each_set.on, each_set.run), []).append(each_set)
    return [
        _session(on, run, _in_order(own), curve) for (on, run), own in sorted(by_run.items(), key=lambda item: item[0])
    ]


def _in_order(sets: list[SetRecord]) -> tuple[SetRecord, ...]:
    return tuple(sorted(sets, key=lambda each_set: (each_set.block, each_set.part, each_set.number, each_set.side)))


def _session(on: date, run: int, sets: tuple[SetRecord, ...], curve: RepCurve | None) -> Session:
    told = [
        (item, found, tired)
        for item, tired in _with_tiredness(sets)
        if (found := evidence_of(item, curve, tired=tired)) is not None
    ]
    best, evidence, tired = _strongest(told)
    volumes = [each_set.volume_kg for each_set in sets if each_set.volume_kg is not None]
    return Session(
        on=on,
        run=run,
        sets=sets,
        scheme=Scheme.of(sets),
        volume_kg=round(sum(volumes), 2) if volumes else None,
        without_load=len(sets) - len(volumes),
        tension_s=round(sum(each_set.tension_s for each_set in sets), 1),
        reps=sum(each_set.reps or 0 for each_set in sets),
        best=best,
        evidence=evidence,
        tired=tired,
        end_known=any(not found.at_least for _, found, _ in told),
    )


def _with_tiredness(sets: Sequence[SetRecord]) -> Iterator[tuple[SetRecord, bool]]:
    """Each set, and whether sets of its part that were stopped as planned came before it: then it is the open last
    one. The sets are in their order."""
    stopped: dict[tuple[str, str], int] = {}
    for each_set in sets:
        at = (each_set.part, each_set.side)
        yield each_set, stopped.get(at, each_set.number) < each_set.number
        if each_set.ended == "stopped":
            stopped.setdefault(at, each_set.number)


_Told = tuple[SetRecord, Evidence, bool]


def _strongest(told: Sequence[_Told]) -> _Told | tuple[None, None, bool]:
    """The set that says most, what it says, and whether it was a tired one: of those whose end is known the best one,
    unless one that only says “at least” says more even as it stands; where no end is known, the best of those."""
    if not told:
        return None, None, False
    known = _known_ends(told)
    if not known:
        return max(told, key=lambda one: one[1].meant_kg)
    strongest = max(known, key=lambda one: one[1].meant_kg)
    beyond = [one for one in told if one[1].at_least and one[1].kg > strongest[1].meant_kg]
    return max(beyond, key=lambda one: one[1].kg) if beyond else strongest


def _known_ends(told: Sequence[_Told]) -> list[_Told]:
    """The sets that went to their end, and of those of which it was told how much was left the first at the heaviest
    load: whoever is off by one now and then would be strongest where they told most."""
    left = [one for one in told if one[0].ended == "left" and not one[1].at_least]
    heaviest = max((one[0].load_kg or 0.0 for one in left), default=0.0)
    return [
        *(one for one in told if one[0].ended == "failed" and not one[1].at_least),
        *[one for one in left if one[0].load_kg == heaviest][:1],
    ]


@dataclass(frozen=True, slots=True)
class Series:
    """An exercise over the dates: its sessions, the line through them (None where nothing says anything of the best),
    which sessions the line has seen (`seen[i]` is the place in `sessions` of the line's point i), the usual curve of
    the movement, and this person's own."""

    sessions: tuple[Session, ...]
    line: Trend | None
    seen: tuple[int, ...]
    usual: MovementCurve
    curve: OwnCurve

    def level_at(self, session: int) -> Level | None:
        """Where the line stands at a session; None where that session says nothing."""
        if self.line is None or session not in self.seen:
            return None
        return self.line.levels[self.seen.index(session)]

    def best(self, place: int | None = None) -> Estimate | None:
        """The estimated best at a point of the line (the last one), with the range that holds a tested best in eight of
        ten: the line's own, the person's own curve and the formulas'."""
        if self.line is None:
            return None
        at = len(self.seen) - 1 if place is None else place
        level = self.line.levels[at]
        session = self.sessions[self.seen[at]]
        assert session.evidence is not None
        assert session.best is not None
        assert session.best.load_kg is not None
        middle, low, high = range_80(level.mean, self.unsure(at, level.deviation))
        said = f"{in_kg(session.best.load_kg)} × {session.evidence.reps}"
        return Estimate.between(
            middle,
            low,
            high,
            "kg",
            "progress.best",
            [f"a line through {len(self.seen)} sessions", f"the last one says {said}", self.curve_words],
            "; ".join(self._notes(session.evidence)),
        )

    def unsure(self, at: int, deviation: float) -> float:
        """How far a best at a point of the line may be off (one standard deviation, as a share): the line itself, the
        person's curve, and what all of their last sets leave open: an easy day behind one that went to its end takes
        nothing of what that one told."""
        evidence = self.sessions[self.seen[at]].evidence
        assert evidence is not None
        last = [self.sessions[place].evidence for place in self.seen[max(0, at + 1 - LAST_TOLD) : at + 1]]
        common = min(told.common for told in last if told is not None)
        floor = LEAST_UNSURE * min(1.0, (evidence.reps - 1) / (LEAST_UNSURE_FROM - 1))
        return max(hypot(deviation, self.curve.unsure[at], common), floor)

    @property
    def curve_words(self) -> str:
        """The person's own curve: at which share of the best they do ten."""
        ten = exp(float(log_share(TEN, self.curve.curve)))
        usual = exp(float(log_share(TEN, self.usual.usual)))
        return f"ten repetitions at {100 * ten:.0f} % of the best (usual of this movement: {100 * usual:.0f} %)"

    def _notes(self, evidence: Evidence) -> Iterator[str]:
        if evidence.weak:
            yield "above twelve repetitions: weak evidence"
        loads = [session.best.load_kg for place in self.seen if (session := self.sessions[place]).best]
        known = [load for load in loads if load]
        if len(known) >= SAME_LOAD_SESSIONS and max(known) < LOADS_APART * min(known):
            yield "always near one load: a set to its end a tenth off tells more than weeks at this one"


TEN = 10
LEAST_UNSURE, LEAST_UNSURE_FROM = 0.03, 5
"""No curve is exactly somebody's own: so much of a best stays unsure however much was lifted, from so many repetitions
on (from trials in invented worlds; no source)."""

LAST_TOLD = 8
"""So many sessions back one that went to its end still tells where the line is."""

SAME_LOAD_SESSIONS, LOADS_APART = 3, 1.1
"""From so many sessions on whose loads lie within a tenth, another load would tell most."""


def best_at(series: Series, week: float) -> tuple[float, float] | None:
    """Mean and deviation of the logarithm of a tested best at a week to come; None where nothing is known."""
    if series.line is None:
        return None
    mean, deviation = series.line.at(week)
    return mean, series.unsure(len(series.seen) - 1, deviation)


def series_of(sets: Iterable[SetRecord], usual: MovementCurve | None = None) -> Series:
    """Everything of one person and one exercise, whose kind of movement has a `usual` curve. The order of the sets does
    not matter."""
    own, usual = list(sets), usual or any_movement()
    curve = own_curve([_seen(session) for session in sessions_of(own, usual.usual) if session.evidence], usual)
    sessions = sessions_of(own, curve.curve)
    seen = [place for place, session in enumerate(sessions) if session.evidence is not None]
    points = []
    for place in seen:
        evidence = sessions[place].evidence
        assert evidence is not None
        # a set that only says “at least” and still says more than one whose end is known counts as it stands
        value = evidence.kg if evidence.at_least and sessions[place].end_known else evidence.meant_kg
        points.append(Observation(week_of(sessions[place].on), log(value), evidence.scatter, evidence.at_least))
    return Series(tuple(sessions), trend(points), tuple(seen), usual, curve)


def _seen(session: Session) -> CurveSeen:
    assert session.best is not None
    assert session.evidence is not None
    stands = session.evidence.at_least and session.end_known
    return CurveSeen(week_of(session.on), session.best, session.tired, stands)


Verdict = Literal["better", "worse", "not told apart"]


@dataclass(frozen=True, slots=True)
class Gain:
    """How much the best has grown from one point of the line to its end, as a share with its range that holds eight of
    ten; `verdict` is “better” or “worse” only where a range wide enough for a look every week lies on one side, and
    “worse” only where a later session tells how far it could have gone. `from_at_least`: the earlier sets only say “at
    least”."""

    since: date
    share: float
    low: float
    high: float
    verdict: Verdict
    from_at_least: bool


WEEKLY_LOOKS = 2.4
"""Standard deviations beyond which a gain is called one. Who looks every week for twelve and calls a gain where eight
of ten lie above nothing finds one in a third of histories without; with the constant boundary for ten to twelve looks
(Pocock 1977, from memory: 2.3 for one in twenty) it is one in twenty."""


def gain_since(series: Series, since: date) -> Gain | None:
    """The gain from the last session at or before a day (or else the first one) to now; None where there are not
    two."""
    if series.line is None or len(series.seen) < 2:
        return None
    week = week_of(since)
    before = [at for at, level in enumerate(series.line.levels) if level.week <= week]
    at = before[-1] if before else 0
    if at == len(series.seen) - 1:
        return None
    level = series.line.levels[at]
    # where loads and repetitions are others, what is not known of the person's curve is in the difference too
    apart = hypot(level.gain_deviation, series.curve.apart[at])
    low, high = level.gain_to_last - MIDDLE_80 * apart, level.gain_to_last + MIDDLE_80 * apart
    later = [series.sessions[place] for place in series.seen[at + 1 :]]
    went_to_the_end = any(item.evidence is not None and not item.evidence.at_least for item in later)
    sure = WEEKLY_LOOKS * apart
    verdict: Verdict = "not told apart"
    if level.gain_to_last > sure:
        verdict = "better"
    elif level.gain_to_last < -sure and went_to_the_end:
        verdict = "worse"
    earlier = series.sessions[series.seen[at]]
    at_least = earlier.evidence is not None and earlier.evidence.at_least
    return Gain(earlier.on, level.gain_to_last, low, high, verdict, at_least)
