"""From what is written to what is done: segments with everything known but the person.

Shortest, expected and longest are three outlooks on the same plan: they differ in the pace of what is not on the
clock, in where in a range of repetitions people end, and in whether the sets for the able are done.
"""

from __future__ import annotations

from dataclasses import dataclass
from enum import Enum

from oaken.domain.catalogue import EquationSetting, EquipmentKind, Exercise
from oaken.domain.prescription import Load, Manner, Segment, SetRun, Sides, Tempo, each_set
from oaken.physiology.metabolic import FASTEST_WALK_M_PER_MIN
from oaken.physiology.strength import load_meant

CHANGE_OF_SIDE_S = 5.0
"""Seconds to change sides within a set (common practice, no source)."""

FAILURE_SPREAD = 0.20
"""How far from the expected count a set to failure ends, ± 20 % (common practice, no source)."""

PACE_SPREAD = 0.12
"""How much faster or slower than planned people repeat, set up, change loads and move on (common practice: 10–15 %)."""


@dataclass(frozen=True, slots=True)
class _View:
    pace: float
    reach: int


class Outlook(Enum):
    """How a class may go: `pace` stretches what is not on the clock, `reach` is -1, 0 or 1 within ranges."""

    SHORTEST = _View(1 - PACE_SPREAD, -1)
    EXPECTED = _View(1.0, 0)
    LONGEST = _View(1 + PACE_SPREAD, 1)

    @property
    def pace(self) -> float:
        """Factor on the seconds of everything that is not on the clock."""
        return self.value.pace

    @property
    def reach(self) -> int:
        """Which end of a range: -1 low, 0 middle, 1 high."""
        return self.value.reach


@dataclass(frozen=True, slots=True)
class LoadPath:
    """A load and what has been added to it: kilograms = load × factor + extra."""

    load: Load | None = None
    factor: float = 1.0
    extra_kg: float = 0.0

    @classmethod
    def of(cls, load: Load | None, reps: float | None, bar_kg: float = 0.0) -> LoadPath:
        """The beginning of a path: what is meant by effort as a share, plates a side with the bar they are on."""
        if load is None:
            return cls()
        return cls(load_meant(load, reps), 1.0, bar_kg if load.a_side_kg is not None else 0.0)

    def changed(self, segment: Segment, step_kg: float, bar_kg: float = 0.0) -> LoadPath:
        """The load after a segment's own load or change."""
        if segment.load is not None:
            return LoadPath.of(segment.load, count_at_most(segment), bar_kg)
        change = segment.change
        if change is None:
            return self
        if change.percent is not None:
            share = 1 + change.percent / 100
            return LoadPath(self.load, self.factor * share, self.extra_kg * share)
        return LoadPath(self.load, self.factor, self.extra_kg + (change.kg or (change.steps or 0) * step_kg))

    def kg(self, best_kg: float | None) -> float | None:
        """Kilograms for a person with this best; None when nothing can be told."""
        base = None if self.load is None else self.load.kg(best_kg)
        return None if base is None else max(0.0, base * self.factor + self.extra_kg)

    def share(self, best_kg: float | None) -> float | None:
        """Share of the person's best; None when nothing can be told."""
        if self.load is None:
            return None
        if self.extra_kg == 0 and self.load.share_of_best is not None:
            return self.load.share_of_best * self.factor
        kg = self.kg(best_kg)
        return kg / best_kg if kg is not None and best_kg else None


@dataclass(frozen=True, slots=True, eq=False)
class Bout:
    """One segment as it is done: its seconds and counts in one outlook.

    `work_s` runs from the first repetition to the last with the change of side in it, `effort_s` is without it,
    `reps` counts both sides. `lead_s` are the seconds to change the load before it begins, within the set.
    `range_share` is the part of the full way that its repetitions go. `setting` is the machine's or the way's, where a
    metabolic equation knows it: then the equation at that setting is the demand. With `effort` how hard it shall be is
    the demand of rhythmic work. `number` is the set of its slot from 1; 0 where sets have no loads of their own.
    """

    work_s: float
    effort_s: float
    change_of_side_s: float
    lead_s: float
    pause_after_s: float
    reps: float
    range_share: float
    loads: LoadPath
    setting: EquationSetting | None
    segment: Segment
    number: int = 0

    def stretched(self, by: float, done: float) -> Bout:
        """The same at another pace: every second times `by`, with the share `done` of its repetitions."""
        # written out: this is done for every set of a class whenever it is forecast anew, and `replace` is slow
        return Bout(
            self.work_s * by,
            self.effort_s * by,
            self.change_of_side_s * by,
            self.lead_s * by,
            self.pause_after_s * by,
            self.reps * done,
            self.range_share,
            self.loads,
            self.setting,
            self.segment,
            self.number,
        )

    @property
    def meant_load(self) -> bool:
        """Whether a load is meant at all."""
        return self.loads.load is not None


@dataclass(frozen=True, slots=True, eq=False)
class DoneSet:
    """One set as it is done, with the rest that follows it. Its length has in it the seconds in which the plates go
    back, `strip_s`."""

    bouts: tuple[Bout, ...]
    rest_s: float
    rest_doing: str | None
    length_s: float
    strip_s: float = 0.0


def count_at_most(segment: Segment) -> float | None:
    """The repetitions that a load has to be right for: the upper end of a range; None where none are counted."""
    return None if segment.reps is None else float(segment.reps_to or segment.reps)


def within(low: float, high: float | None, outlook: Outlook) -> float:
    """Where in a range an outlook ends: at its low end, in its middle, at its high end."""
    return low if high is None else (low, (low + high) / 2, high)[outlook.reach + 1]


def bouts_of(
    runs: list[SetRun], exercise: Exercise, kind: EquipmentKind, outlook: Outlook, bar_kg: float = 0.0
) -> list[DoneSet]:
    """Every set of a slot as it is done; what is for the able is left out of the shortest outlook. `bar_kg` is the
    bar or carriage of the unit, for plates that are said a side."""
    found = []
    opening = LoadPath()
    # where the plan changes the load from set to set, it begins from the one load that somebody works with
    numbered = all(run.segments[0].change is None for run in runs)
    for number, run in enumerate(each_set(runs), 1):
        if run.if_able and outlook is Outlook.SHORTEST:
            continue
        bouts = []
        now = opening
        for place, segment in enumerate(run.segments):
            if segment.if_able and outlook is Outlook.SHORTEST:
                continue
            before = now
            now = now.changed(segment, kind.step_kg, bar_kg)
            if place == 0:
                opening = now
            lead = kind.load_change_s * outlook.pace if place > 0 and now != before else 0.0
            bouts.append(bout_of(segment, exercise, now, outlook, lead, number if numbered else 0))
        length = sum(bout.lead_s + bout.work_s + bout.pause_after_s for bout in bouts)
        rest = within(run.rest_s, run.rest_to_s, outlook)
        found.append(DoneSet(tuple(bouts), max(rest, length) if run.helper else rest, run.rest_doing, length))
    return found


def bout_of(
    segment: Segment, exercise: Exercise, loads: LoadPath, outlook: Outlook, lead_s: float = 0.0, number: int = 0
) -> Bout:
    """One segment as it is done in one outlook, in the set of this number of its slot (0: in none)."""
    sides: Sides = segment.sides or ("each_side" if exercise.one_sided else "both")
    times = 2 if sides == "each_side" else 1
    rep_s = rep_seconds(segment, exercise)
    ending = 1 + FAILURE_SPREAD * outlook.reach if segment.to_failure else 1.0
    if segment.reps is not None:
        count = segment.reps * ending if segment.reps_to is None else within(segment.reps, segment.reps_to, outlook)
        effort = count * rep_s * times * outlook.pace
        reps = count * times
    elif segment.metres is not None:
        effort = segment.metres / speed_of(segment, exercise) * times * outlook.pace
        reps = 0.0 if exercise.is_static else float(int(effort // rep_s))
    else:
        assert segment.seconds is not None
        seconds = within(segment.seconds, segment.seconds_to, outlook)
        if segment.seconds_to is None:
            seconds *= ending
        effort = seconds * times
        still = segment.hold or exercise.is_static
        reps = 0.0 if still else float(int(seconds // rep_s) * times)
    # what the sides share is done in turn, repetition by repetition
    side_s = CHANGE_OF_SIDE_S if sides == "each_side" and not exercise.alternates else 0.0
    return Bout(
        work_s=effort + side_s,
        effort_s=effort,
        change_of_side_s=side_s,
        lead_s=lead_s,
        pause_after_s=float(segment.pause_after_s),
        reps=reps,
        range_share=_range_share(segment),
        loads=loads,
        setting=set_equation(segment, exercise),
        segment=segment,
        number=number,
    )


def rep_seconds(manner: Manner, exercise: Exercise) -> float:
    """Seconds of one repetition: the tempo, the pause held on each, and half the way for partial ones."""
    tempo: Tempo = manner.tempo or exercise.tempo
    moving = tempo.lowering_s + tempo.lifting_s
    return moving * _range_share(manner) + tempo.bottom_s + tempo.top_s + manner.held_s


def _range_share(manner: Manner) -> float:
    """The part of the full way that the repetitions go, on average."""
    return 0.5 if manner.partial else 0.75 if manner.alternating else 1.0


def speed_of(manner: Manner, exercise: Exercise) -> float:
    """Metres a second: as set, or as the catalogue says."""
    if manner.setting is not None and manner.setting.speed_kmh is not None:
        return manner.setting.speed_kmh / 3.6
    assert exercise.speed_m_per_s is not None
    return exercise.speed_m_per_s


def set_equation(manner: Manner, exercise: Exercise) -> EquationSetting | None:
    """The metabolic equation at the setting that will be used, the exercise's own where none was chosen; None where no
    equation applies.

    A treadmill set faster than a walk is run, and a run set slower than a jog is walked (134 m/min parts them).
    """
    equation = exercise.equation
    if equation is None:
        return None
    at = equation.with_setting(manner.setting)
    if at.kind in ("walk", "run"):
        kind = "run" if at.speed_m_per_min > FASTEST_WALK_M_PER_MIN else "walk"
        return at.model_copy(update={"kind": kind})
    return at


@dataclass(frozen=True, slots=True)
class SlotTime:
    """How long one person is with a slot, in one outlook: work with its changes of side, and everything around it."""

    work_s: float
    change_of_side_s: float
    load_change_s: float
    set_up_s: float
    rest_s: float

    @property
    def total_s(self) -> float:
        """All of it, the rest after the last set included."""
        return self.work_s + self.load_change_s + self.set_up_s + self.rest_s


def slot_time(runs: list[SetRun], exercise: Exercise, kind: EquipmentKind, outlook: Outlook) -> SlotTime:
    """Seconds of one slot for one person who sets up once and has the unit alone; walking is not in it.

    With a load, one load change before the first set and one wherever the load changes from set to set.
    """
    sets = bouts_of(runs, exercise, kind, outlook)
    bouts = [bout for done in sets for bout in done.bouts]
    openings = [done.bouts[0].loads for done in sets]
    closings = [done.bouts[-1].loads for done in sets]
    between = sum(here != there for here, there in zip(closings, openings[1:], strict=False))
    meant = exercise.takes_load and bool(openings) and openings[0].load is not None
    return SlotTime(
        work_s=sum(bout.work_s for bout in bouts),
        change_of_side_s=sum(bout.change_of_side_s for bout in bouts),
        load_change_s=sum(bout.lead_s for bout in bouts)
        + (kind.load_change_s * outlook.pace * (meant + between) if exercise.takes_load else 0.0),
        set_up_s=kind.set_up_s * outlook.pace,
        rest_s=sum(done.rest_s for done in sets) + sum(bout.pause_after_s for bout in bouts),
    )
