"""What a scheme that was done says for next time: what comes before every progression method, then the methods.

Each set is judged by its own window, the heaviest sets govern, a miss in a scheme whose sets build on one another holds
all of it, and what reached nothing is never a success. All of it is common practice, no source.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Literal

from oaken.physiology.strength.reps_at_load import share_for
from oaken.programme.progress.load_rules import School
from oaken.programme.progress.load_steps import SAME_KG, LoadSteps
from oaken.programme.progress.record import SetRecord
from oaken.programme.progress.scheme_done import SchemeDone, SetGroup
from oaken.programme.progress.series import Session

LONG_AWAY_DAYS, SOME_TIME_AWAY_DAYS, SHORTLY_AWAY_DAYS = 21, 14, 10
"""From this many days away the load is lighter; from that many it is not raised; after illness it is lighter from the
last."""

AFTER_AWAY = 0.90
"""What is left of the load after weeks away or illness."""

FAR_OVER = 3
"""Repetitions beyond the top, told or reached in an open set, from which they say how large the step is."""

LARGE_STEP, SMALL_STEP = 0.10, 0.05
"""A step of more than the first share needs two repetitions over the top in every set; with nothing left in reserve no
step is larger than the second."""

STALLED_AFTER = 3
"""So many classes in a row with a set short at the same loads, and they are lowered."""

OVER_FIRST = 2
"""The repetitions over the top that come before a large step."""

FAR_SHORT, MOST_OFF = 0.60, 0.75
"""Below this share of its window a first set goes lighter by the usual table, at most to that share of the load."""


NOTHING_SHARE = 1.05
"""A load that could not be lifted once counts as this share of the best."""


@dataclass(frozen=True, slots=True)
class ProgressionDecision:
    """What to do and why; `loads` gives the next load (kg) of a set of a group that was meant at this load, `aims` the
    repetitions to aim at on a set like this one."""

    do: Literal["add", "repeat", "reduce"]
    reason: str
    loads: Callable[[SetGroup, float], float]
    aims: Callable[[SetRecord], int | None] | None = None


def held_back(
    done: SchemeDone, last: SchemeDone | None, away_days: int, is_today: str, steps: LoadSteps
) -> ProgressionDecision | None:
    """What comes before every method: absence, illness, a bad night, poor form, a range cut short, another
    set-up, help, nothing to judge by."""
    if is_today == "back after illness":
        if away_days >= SHORTLY_AWAY_DAYS:
            return _lighter_by(done, AFTER_AWAY, "back after illness: a tenth less, then see", steps)
        return same("still coming back after illness: the same again", steps)
    if away_days >= LONG_AWAY_DAYS:
        return _lighter_by(done, AFTER_AWAY, f"{away_days // 7} weeks away: a tenth less", steps)
    if is_today == "bad night":
        return _step_down(done, done.groups, "a bad night: one step lighter today", steps)
    sets = [item for group in done.groups for item in group.sets]
    if any(item.poor for item in sets):
        if last is not None and any(
            item.poor and item.load_kg == done.heaviest.kg for group in last.groups for item in group.sets
        ):
            return _step_down(done, done.groups, "form was poor twice at this load: one step lighter", steps)
        return same("form was poor: repeat to consolidate", steps)
    short = [str(group.place_of(item)) for group in done.groups for item in group.sets if item.cut_short]
    if short:
        which = f"set {short[0]}" if len(short) == 1 else f"sets {', '.join(short)}"
        return same(f"the range was cut short in {which}: the same again, all the way", steps)
    set_ups = {item.set_up for item in sets}
    if last is not None and not set_ups & {item.set_up for group in last.groups for item in group.sets}:
        was = " / ".join(sorted(filter(None, set_ups))) or "the exercise’s own"
        return same(f"the set-up was another one than before ({was}): the same again to compare like with like", steps)
    helped = [str(group.place_of(item)) for group in done.groups for item in group.sets if item.helped]
    if helped:
        which = f"set {helped[0]} was" if len(helped) == 1 else f"sets {', '.join(helped)} were"
        return same(f"{which} helped: the same again without help", steps)
    if any(group.window is None or not group.reps for group in done.working):
        return same("no repetitions were planned or counted: nothing to judge by", steps)
    return None


def far_short(done: SchemeDone, steps: LoadSteps) -> ProgressionDecision | None:
    """A first set that ended far below its window was too heavy by more than a step: lighter by the usual table."""
    # in a ladder the later sets are heavy on purpose
    for group in dict.fromkeys((done.working[0],) if done.is_ladder else (done.working[0], done.heaviest)):
        first, low = group.reps[0], group.window[0] if group.window else 0
        # the end of a ramp may fall short: that is where it was to be found
        if first >= FAR_SHORT * low or group.own:
            continue
        reached = share_for(first) if first else NOTHING_SHARE
        share = max(MOST_OFF, share_for((low + group.high) / 2) / reached)
        reason = f"set {group.place_of(group.judging[0])} ended at {first} of {low}: lighter by the usual table"
        alone = group is done.heaviest and not done.is_ladder
        return _lighter_by(done, share, reason, steps, (group,) if alone else None)
    return None


def stepped_down(done: SchemeDone, steps: LoadSteps) -> ProgressionDecision | None:
    """Every set of the heaviest ones below its window (of a ladder: every set at all): a step lighter at once. Waiting
    with it doubled the failures in what was tried."""
    judged = done.working if done.is_ladder else (done.heaviest,)
    if not all(group.all_short and not group.own for group in judged):
        return None
    counts = [str(reps) for group in judged for reps in group.reps]
    low = done.heaviest.low
    if len(counts) == 1:
        reason = f"set {done.heaviest.places[0]} ended at {counts[0]}, below {low}: one step lighter"
    elif done.is_ladder:
        reason = f"every set ended below its repetitions ({', '.join(counts)}): one step lighter"
    else:
        reason = f"every set ended below {low} ({', '.join(counts)}): one step lighter"
    return _step_down(done, done.groups if done.is_ladder else (done.heaviest,), reason, steps)


def stalled(done: SchemeDone, before: Sequence[SchemeDone], steps: LoadSteps) -> ProgressionDecision | None:
    """The third class in a row in which these loads were missed: a step lighter, and up again from there."""
    row = (done, *before[: STALLED_AFTER - 1])
    if len(row) < STALLED_AFTER or not all(
        item.heaviest.kg == done.heaviest.kg and item.windows == done.windows and _short_of(item) for item in row
    ):
        return None
    reason = f"short at these loads in {STALLED_AFTER} classes in a row: one step lighter, and up again"
    return _step_down(done, done.groups, reason, steps)


def eased(
    decision: ProgressionDecision, done: SchemeDone, before: Sequence[SchemeDone], steps: LoadSteps
) -> ProgressionDecision:
    """The decision with a step less for the lighter sets behind a top set that were short at one load for the third
    class in a row: they are judged by themselves."""
    row = (done, *before[: STALLED_AFTER - 1])
    if done.is_ladder or len(row) < STALLED_AFTER or any(item.windows != done.windows for item in row):
        return decision
    stuck = []
    for place, group in enumerate(done.groups):
        own = [item.groups[place] for item in row]
        if group is not done.heaviest and all(each.kg == group.kg and _is_short(each) for each in own):
            stuck.append(group)
    if not stuck or decision.do == "reduce":
        return decision
    sets = ", ".join(str(group.places[0]) for group in stuck)

    def loads(group: SetGroup, kg: float) -> float:
        if any(group is item for item in stuck):
            lighter = steps.down(kg)
            return steps.nearest(kg) if lighter is None else lighter
        return decision.loads(group, kg)

    reason = f"{decision.reason}; from set {sets} on short in {STALLED_AFTER} classes in a row: one step lighter there"
    return ProgressionDecision(decision.do, reason, loads, decision.aims)


def _short_of(done: SchemeDone) -> bool:
    """Whether a set that judges ended short: of its window, or of its number where the scheme gives one."""
    return any(_is_short(group) for group in (done.working if done.is_ladder else (done.heaviest,)))


def _is_short(group: SetGroup) -> bool:
    return group.window is not None and bool(group.reps) and min(group.reps) < group.window[0]


def by_method(
    done: SchemeDone,
    last: SchemeDone | None,
    session: Session,
    away_days: int,
    method: School,
    best_kg: float | None,
    steps: LoadSteps,
) -> ProgressionDecision:
    """What the progression method says of a scheme that was done without anything that holds back."""
    nothing = _nothing_lifted(done)
    if nothing is not None:
        return same(f"set {nothing} reached nothing: the same again", steps)
    if not done.complete:
        return same("not every planned set was done: the same again", steps)
    if method == "percentage":
        # sets that were stopped as planned say “at least”: by them alone loads would fall from class to class
        known = session.evidence is not None and session.end_known
        best = session.evidence.meant_kg if session.evidence is not None and known else best_kg
        if best is not None:
            return _by_percentage(done, best, away_days, steps)
    if method == "reserve" and done.heaviest.spare is not None:
        return _by_reserve(done, away_days, steps)
    if not _reached(done, method):
        return _missed(done, method, steps)
    if away_days >= SOME_TIME_AWAY_DAYS:
        return same(f"the top was reached, but that was {away_days} days ago: the same again", steps)
    if method == "consolidate" and not _reached_before(done, last):
        return same(f"{_reached_words(done, method)} once: once more to consolidate", steps)
    twice = " twice" if method == "consolidate" else ""
    return _raised(done, f"{_reached_words(done, method)}{twice}", method, steps)


def same(reason: str, steps: LoadSteps, aims: Callable[[SetRecord], int | None] | None = None) -> ProgressionDecision:
    """The same loads again, or those that come nearest."""
    return ProgressionDecision("repeat", reason, lambda _, kg: steps.nearest(kg), aims)


def _nothing_lifted(done: SchemeDone) -> int | None:
    """The first set that reached nothing, by its place."""
    return next((group.place_of(item) for group in done.groups for item in group.sets if item.reps == 0), None)


def _enough(group: SetGroup) -> bool:
    """Whether a group reached its top, or left so much in reserve inside its window that it would have."""
    inside = min(group.reps) >= group.low and not group.nothing_lifted
    return group.at_top or (inside and group.spare is not None and group.spare >= FAR_OVER)


def _reached(done: SchemeDone, method: School) -> bool:
    if done.is_ladder:
        return all(_enough(group) for group in done.working)
    if method == "last-set":
        return done.heaviest.reps[-1] >= done.heaviest.high or _enough(done.heaviest)
    return _enough(done.heaviest)


def _reached_before(done: SchemeDone, last: SchemeDone | None) -> bool:
    """Whether the session before reached the top as well, with these loads or more."""
    if last is None or last.heaviest.kg < done.heaviest.kg - SAME_KG or not last.heaviest.reps:
        return False
    if done.is_ladder:
        return last.is_ladder and all(group.window is not None and _enough(group) for group in last.working)
    return min(last.heaviest.reps) >= done.heaviest.high


def _reached_words(done: SchemeDone, method: School) -> str:
    group = done.heaviest
    if done.is_ladder:
        return f"every set reached its repetitions ({', '.join(str(item.high) for item in done.working)})"
    if not group.at_top and group.spare is not None and group.spare >= FAR_OVER:
        least = min(group.reps)
        return f"{least} repetitions with {group.high + group.spare - least} left go beyond the top ({group.high})"
    if method == "last-set":
        return f"the last set reached {group.reps[-1]}, the top is {group.high}"
    if len(done.working) > 1:
        which = f"set {group.places[0]}" if len(group.judging) == 1 else "every one of the heaviest sets"
        return f"{which} reached the top ({group.high})"
    return f"every set reached the top ({group.high})"


def _missed(done: SchemeDone, method: School, steps: LoadSteps) -> ProgressionDecision:
    """The same loads: which set it is that asks for it, or what is still to gain."""
    judged = done.working if done.is_ladder else (done.heaviest,)
    for group in judged:
        bound = group.high if done.is_ladder else group.low
        for item, reps in zip(group.judging, group.reps, strict=True):
            if reps < bound:
                if done.is_ladder:
                    return same(f"set {group.place_of(item)} ended at {reps} of {bound}: all loads stay", steps)
                return same(f"set {group.place_of(item)} ended at {reps}, below {bound}: the same again", steps)
    low, high = done.heaviest.low, done.heaviest.high
    inside = f"inside {low}–{high}" if low < high else f"below {high}"
    if method == "repetitions-first":
        return same(f"{inside}: a repetition more on each set", steps, _one_more)
    return same(f"{inside}: the same load, more repetitions", steps)


def _one_more(item: SetRecord) -> int | None:
    return None if item.reps is None else min(item.high or item.reps + 1, item.reps + 1)


def _over_the_top(item: SetRecord) -> int | None:
    return None if item.reps is None else item.reps + 1


def _raised(done: SchemeDone, reason: str, method: School, steps: LoadSteps) -> ProgressionDecision:
    """A step more on the heaviest sets, on every set of a ladder, and on lighter ones that reached their own top."""
    group = done.heaviest
    smallest = steps.smallest_up(group.kg)
    if smallest is None:
        return same(f"{reason}, but the unit holds no more: add repetitions", steps, _over_the_top)
    spare = _spare(group, method)
    share = smallest / group.kg - 1
    if spare is not None and spare <= 0:
        if share > SMALL_STEP + SAME_KG:
            words = f"{reason} with nothing left, and the next step is {round(share * 100)} % more"
            return same(f"{words}: the same again", steps)
        return _up(done, smallest - group.kg, f"{reason} with nothing left: the smallest step", steps)
    if share > LARGE_STEP + SAME_KG and _would_have_gone(group) < group.high + OVER_FIRST:
        words = f"{reason}, but the next step is {round(share * 100)} % more"
        return same(f"{words}: first two repetitions over the top", steps, _over_the_top)
    # a step takes no more than the repetitions down to the low end, and those that were left, stand for
    beyond = max(0, min(group.reps) - group.high if spare is None else spare)
    room = share_for(group.low) / share_for(group.high + beyond) - 1
    by_kg = min(steps.step_kg, max(smallest - group.kg, group.kg * room))
    if spare is not None and spare >= FAR_OVER:
        # whoever told what is left means to leave some; an open set is meant to end at the top
        told = any(item.reps_left is not None for item in group.judging)
        meant = steps.rules.reserve if told else 0
        by_kg = max(steps.step_kg, group.kg * (share_for(group.high + meant) / share_for(group.high + spare) - 1))
        if group.at_top:
            reason = f"{reason} {f'with {spare} left' if told else f'and an open one {spare} more'}"
    return _up(done, by_kg, reason, steps)


def _spare(group: SetGroup, method: School) -> int | None:
    """Repetitions beyond the top that were left; by the last set alone where that is the one that decides."""
    last = group.judging[-1]
    if method == "last-set" and last.reps is not None and last.ended != "stopped":
        return last.reps + (last.reps_left or 0) - group.high
    return group.spare


def _would_have_gone(group: SetGroup) -> int:
    """Repetitions that would have gone in the hardest set of which that is known, those that were left among them."""
    return min(group.reps) if group.spare is None else group.high + group.spare


def _up(done: SchemeDone, by_kg: float, reason: str, steps: LoadSteps) -> ProgressionDecision:
    """So much more on the heaviest sets; the others follow as each of them was done."""
    top = done.heaviest
    higher = steps.up(top.kg, by_kg)
    assert higher is not None
    said = []
    for group in done.working:
        if group is top or done.is_ladder or group.window is None:
            continue
        if not _enough(group):
            at = next((item for item in group.judging if (item.reps or 0) < group.high), group.judging[0])
            said.append(f"set {group.place_of(at)} ended at {at.reps} of {group.high}, so that load stays")
    if said:
        reason = f"{reason}; {'; '.join(said)}"

    def loads(group: SetGroup, kg: float) -> float:
        if group.leads_up:
            return min(steps.at_most(kg * higher / top.kg), higher)
        if group is not top and not done.is_ladder and (group.window is None or not _enough(group)):
            lighter = steps.down(kg) if group.window is not None and group.all_short else None
            return steps.nearest(kg) if lighter is None else lighter
        step = steps.up(kg, higher - top.kg)
        # one large step in a scheme is left out rather than taken
        large = (
            group is not top and step is not None and step > kg * (1 + max(LARGE_STEP, higher / top.kg - 1)) + SAME_KG
        )
        return steps.nearest(kg) if step is None or large else step

    return ProgressionDecision("add", reason, loads)


def _step_down(done: SchemeDone, groups: Sequence[SetGroup], reason: str, steps: LoadSteps) -> ProgressionDecision:
    """One step less for these groups; no other set stays heavier than the heaviest ones."""
    lighter = steps.down(done.heaviest.kg)
    if lighter is None:
        return same(f"{reason}; the unit holds no less: an easier variant", steps)

    def loads(group: SetGroup, kg: float) -> float:
        if not any(group is item for item in groups):
            return min(steps.nearest(kg), lighter)
        less = steps.down(kg)
        return steps.nearest(kg) if less is None else less

    return ProgressionDecision("reduce", reason, loads)


def _lighter_by(
    done: SchemeDone, share: float, reason: str, steps: LoadSteps, groups: Sequence[SetGroup] | None = None
) -> ProgressionDecision:
    """This share of the load for these groups (None: all)."""
    lighter = steps.at_most(done.heaviest.kg * share)
    if lighter >= done.heaviest.kg - SAME_KG:
        return same(f"{reason}; the unit holds no less: an easier variant", steps)

    def loads(group: SetGroup, kg: float) -> float:
        if groups is not None and not any(group is item for item in groups):
            return min(steps.nearest(kg), lighter)
        return steps.at_most(kg * share)

    return ProgressionDecision("reduce", reason, loads)


def _by_share(done: SchemeDone, share: float, reason: str, steps: LoadSteps) -> ProgressionDecision:
    """Every load times a share, as near as it can be set; a rise is at least the smallest step."""
    top = done.heaviest.kg
    most = top * (1 + steps.rules.most_step_share)
    wanted = steps.nearest(max(top * MOST_OFF, min(top * share, most)), most)
    smallest = steps.smallest_up(top)
    if share > 1 + SAME_KG and wanted <= top + SAME_KG and smallest is not None and smallest <= most + SAME_KG:
        wanted = smallest
    if abs(wanted - top) < SAME_KG:
        return same(f"{reason}: the same again", steps)
    if wanted < top:
        return _lighter_by(done, max(MOST_OFF, share), reason, steps)
    return ProgressionDecision(
        "add", reason, lambda _, kg: steps.nearest(kg * wanted / top, kg * (1 + steps.rules.most_step_share))
    )


def _by_reserve(done: SchemeDone, away_days: int, steps: LoadSteps) -> ProgressionDecision:
    """The load that leaves as many repetitions as are meant to be left, by the usual table."""
    group, meant = done.heaviest, steps.rules.reserve
    assert group.spare is not None
    would = max(1, group.high + group.spare)
    left = would - min(group.reps)
    share = share_for(group.high + meant) / share_for(would)
    reason = f"{min(group.reps)} repetitions with {left} left, {group.high} with {meant} left are meant"
    if share > 1 and away_days >= SOME_TIME_AWAY_DAYS:
        return same(f"{reason}, but that was {away_days} days ago: the same again", steps)
    if share > 1 and done.is_ladder and not all(_enough(item) for item in done.working):
        return _missed(done, "reserve", steps)
    return _by_share(done, share, reason, steps)


def _by_percentage(done: SchemeDone, best_kg: float, away_days: int, steps: LoadSteps) -> ProgressionDecision:
    """Shares of the one-repetition maximum that the last class says, for each set its own, with what is meant to be
    left in reserve."""
    meant, rules = steps.rules.reserve, steps.rules
    reason = f"by the share of the estimated 1RM of {round(best_kg, 1):g} kg that leaves {meant} in reserve"
    late = away_days >= SOME_TIME_AWAY_DAYS

    def loads(group: SetGroup, kg: float) -> float:
        if group.leads_up or group.window is None:
            return steps.nearest(kg)
        most = kg if late else kg * (1 + rules.most_step_share)
        wanted = best_kg * share_for(group.high + meant)
        return steps.nearest(max(kg * MOST_OFF, min(wanted, most)), most)

    top = done.heaviest
    now = loads(top, top.kg)
    do: Literal["add", "repeat", "reduce"] = (
        "repeat" if abs(now - top.kg) < SAME_KG else "add" if now > top.kg else "reduce"
    )
    return ProgressionDecision(do, reason, loads)
