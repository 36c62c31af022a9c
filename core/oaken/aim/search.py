"""Looks for changes that reach what is aimed at: each kind by itself, then two together where their effects add up.

The search is over the changes that fit to slot knows, in amounts from small to large; its effort is counted in classes
looked at, not in seconds, so that the answer is the same on every machine. What is promised is the forecast itself.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from itertools import islice

from pydantic import BaseModel

from oaken.aim.aimed import FIGURES, Aimed, Seen, check_aimed, value_in
from oaken.class_file import ClassFile
from oaken.fit.edits import ADDITIONS, CUTS, Attempt, Tries
from oaken.fit.to_slot import Effect, effect_of, harm_of, kinds
from oaken.forecast import forecast
from oaken.plan import ClassPlan
from oaken.report import Caution, Forecast

KINDS: dict[str, Tries] = CUTS | ADDITIONS

MOST_AMOUNTS = 7
"""Amounts of one kind of change that are looked at."""

MOST_PAIRS = 24
"""Pairs of changes that are looked at, those that promise most first."""

SHOWN = 4
"""Proposals that are told."""

FINALISTS = 8
"""Proposals that are forecast as a whole."""

NEW_CAUTION_HARM = 15.0
"""What a caution that was not there before adds to the harm (common practice, no source)."""


class Reached(BaseModel):
    """A proposal: its changes in words, what the figure is then, how each other goal stands, and what it costs. With
    `reached` False it is the nearest that can be had."""

    name: str
    detail: str
    why: str
    harm: float
    value: float
    reached: bool
    kept: list[str]
    broken: list[str]
    new_cautions: list[str]
    effect: Effect
    plan: ClassPlan


class Caught(BaseModel):
    """A limit that stands in the way: without it the figure would come to `value`."""

    limit: str
    value: float
    name: str


class Aiming(BaseModel):
    """What came of aiming: the figure before, proposals with the least harm first (where none reaches it, the nearest),
    and which limits stand in the way."""

    wanted: str
    unit: str
    before: float
    reached_already: bool
    proposals: list[Reached]
    caught: list[Caught]


@dataclass(frozen=True)
class _Step:
    """A change that was looked at: which kinds, in words, how much harm, and the values of everything wanted."""

    kinds: tuple[str, ...]
    attempt: Attempt
    detail: str
    harm: float
    values: tuple[float, ...]


def reach(file: ClassFile, aimed: Aimed, limits: Sequence[Aimed] = ()) -> Aiming:
    """Changes that bring a figure where it is aimed at while the limits hold, the least harm first.

    The file must have been checked, and small enough to be tried many times over. Raises FaultyInput where something is
    aimed at that the class has not got, or that contradicts itself.
    """
    wanted = [aimed, *limits]
    check_aimed(file, wanted)
    search = _Search(file, wanted)
    before = search.start
    if aimed.miss(before[0]) == 0 and not search.broken(before):
        return _told(aimed, before[0], True, [], [])
    found = search.singles()
    found += search.pairs(found)
    right = [one for one in found if aimed.miss(one.values[0]) == 0 and not search.broken(one.values)]
    told = forecast(file)
    proposals = search.verified(told, sorted(right, key=lambda one: one.harm))
    if not proposals:
        held = [one for one in found if not search.broken(one.values)]
        nearer = [one for one in held if aimed.miss(one.values[0]) < aimed.miss(before[0]) - 1e-9]
        near = sorted(nearer, key=lambda one: (aimed.miss(one.values[0]), one.harm))
        proposals = search.verified(told, near)
        proposals.sort(key=lambda one: (aimed.miss(one.value), one.harm))
    return _told(aimed, before[0], False, proposals[:SHOWN], search.caught(found) if not right else [])


def _told(aimed: Aimed, before: float, already: bool, proposals: list[Reached], caught: list[Caught]) -> Aiming:
    return Aiming(
        wanted=aimed.words,
        unit=FIGURES[aimed.figure].unit,
        before=round(before, 2),
        reached_already=already,
        proposals=proposals,
        caught=caught,
    )


class _Search:
    """One class, and everything that was looked at of it."""

    def __init__(self, file: ClassFile, wanted: Sequence[Aimed]) -> None:
        self.file, self.wanted = file, list(wanted)
        self.known, self.room = file.catalogue(), file.room_today
        self.start = self._values(file.plan)

    def broken(self, values: Sequence[float]) -> list[Aimed]:
        """The limits that do not hold, but for those that did not hold before and hold no worse."""
        return [
            limit
            for limit, value, then in zip(self.wanted[1:], values[1:], self.start[1:], strict=True)
            if limit.miss(value) > 0 and limit.miss(value) >= limit.miss(then) - 1e-9
            if limit.miss(then) == 0 or limit.miss(value) > limit.miss(then) + 1e-9
        ]

    def singles(self) -> list[_Step]:
        """Every kind of change that moves the figure the right way, in all its amounts."""
        found: list[_Step] = []
        for kind, tries in KINDS.items():
            attempts = list(islice(tries(self.file.plan, self.known, self.room), MOST_AMOUNTS))
            if not attempts:
                continue
            largest = self._step((kind,), attempts[-1], attempts[-1].detail, self._harm(kind, attempts[-1]))
            if not self._helps(largest.values):
                continue
            others = [self._step((kind,), one, one.detail, self._harm(kind, one)) for one in attempts[:-1]]
            found += [*others, largest]
        return found

    def pairs(self, singles: Sequence[_Step]) -> list[_Step]:
        """Two kinds together, where their effects by themselves add up to what is wanted; and kinds that mend a limit
        that another breaks."""
        aimed = self.wanted[0]
        guessed: list[tuple[float, float, _Step, _Step]] = []
        for one in singles:
            for other in singles:
                if one.kinds >= other.kinds or _undo(one.kinds[0], other.kinds[0]):
                    continue
                values = [a + b - s for a, b, s in zip(one.values, other.values, self.start, strict=True)]
                miss = aimed.miss(values[0]) / max(aimed.near, 1e-9)
                beyond = zip(self.wanted[1:], values[1:], strict=True)
                over = sum(limit.miss(value) / max(limit.near, 1e-9) for limit, value in beyond)
                guessed.append((miss + over, one.harm + other.harm, one, other))
        guessed.sort(key=lambda each: (round(each[0], 1), each[1]))
        found: list[_Step] = []
        for _, harm, one, other in guessed[:MOST_PAIRS]:
            both = self._after(one, other)
            if both is not None:
                found.append(self._step((*one.kinds, *other.kinds), both, f"{one.detail}; {other.detail}", harm))
        return found

    def _after(self, one: _Step, other: _Step) -> Attempt | None:
        """The other change made to the class that one change has made already."""
        tries: Iterator[Attempt] = KINDS[other.kinds[0]](one.attempt.plan, self.known, self.room)
        return next((each for each in islice(tries, MOST_AMOUNTS) if each.detail == other.detail), None)

    def caught(self, found: Sequence[_Step]) -> list[Caught]:
        """Limits of which one alone keeps the figure from where it is aimed at."""
        told: dict[str, Caught] = {}
        for one in sorted(found, key=lambda each: (self.wanted[0].miss(each.values[0]), each.harm)):
            broken = self.broken(one.values)
            if len(broken) == 1 and self.wanted[0].miss(one.values[0]) < self.wanted[0].miss(self.start[0]):
                name = " + ".join(kinds()[kind].name for kind in one.kinds)
                words = broken[0].words
                told.setdefault(words, Caught(limit=words, value=round(one.values[0], 2), name=name))
        return list(told.values())

    def verified(self, before: Forecast, steps: Sequence[_Step]) -> list[Reached]:
        """The best of each kind forecast as a whole; what brings a clash, or does not keep its promise, is left out."""
        found: list[Reached] = []
        seen: set[tuple[str, ...]] = set()
        for step in steps:
            if step.kinds in seen or len(seen) >= FINALISTS:
                continue
            seen.add(step.kinds)
            plan = ClassPlan.model_validate(step.attempt.plan.model_dump())
            file = self.file.model_copy(update={"plan": plan})
            after = forecast(file)
            new = _new_cautions(before, after)
            if any(one.severity == "clash" for one in new):
                continue
            values = [value_in(after, one, file) for one in self.wanted]
            if values[0] is None:
                continue
            beyond = list(zip(self.wanted[1:], values[1:], strict=True))
            kept = [limit.words for limit, value in beyond if not limit.miss(value or 0.0)]
            broken = [limit.words for limit, value in beyond if limit.miss(value or 0.0)]
            named = [kinds()[kind] for kind in step.kinds]
            found.append(
                Reached(
                    name=" + ".join(one.name for one in named),
                    detail=step.detail,
                    why="; ".join(one.why for one in named),
                    harm=round(min(100.0, step.harm + NEW_CAUTION_HARM * len(new)), 1),
                    value=round(values[0], 2),
                    reached=self.wanted[0].miss(values[0]) == 0 and not broken,
                    kept=kept,
                    broken=broken,
                    new_cautions=[one.message for one in new],
                    effect=effect_of(before, after),
                    plan=plan,
                )
            )
        return sorted(found, key=lambda one: (not one.reached, one.harm))

    def _values(self, plan: ClassPlan) -> tuple[float, ...]:
        seen = Seen(self.file.model_copy(update={"plan": plan}))
        values = [seen.value(one) for one in self.wanted]
        return tuple(0.0 if value is None else value for value in values)

    def _step(self, of: tuple[str, ...], attempt: Attempt, detail: str, harm: float) -> _Step:
        return _Step(of, attempt, detail, harm, self._values(attempt.plan))

    def _helps(self, values: Sequence[float]) -> bool:
        """Whether a change moves the figure, or a limit that does not hold, the right way at all."""
        aimed = self.wanted[0]
        towards = (aimed.value - self.start[0]) * (values[0] - self.start[0])
        mends = any(
            limit.miss(then) > 0 and limit.miss(value) < limit.miss(then)
            for limit, value, then in zip(self.wanted[1:], values[1:], self.start[1:], strict=True)
        )
        room = any(
            abs(value - then) > limit.near / 4
            for limit, value, then in zip(self.wanted[1:], values[1:], self.start[1:], strict=True)
        )
        return (towards > 0 and abs(values[0] - self.start[0]) > aimed.near / 8) or mends or room

    def _harm(self, kind: str, attempt: Attempt) -> float:
        return harm_of(kind, attempt, self.file.plan, self.known)


OPPOSITES = (("fewer_", "more_"), ("shorter_", "longer_"), ("no_", "add_"))


def _undo(one: str, other: str) -> bool:
    """Whether two kinds of change take back what the other does."""
    return any({one, other} == {f"{less}{thing}", f"{more}{thing}"} for less, more in OPPOSITES for thing in THINGS)


THINGS = {kind.partition("_")[2] for kind in KINDS}


def _new_cautions(before: Forecast, after: Forecast) -> list[Caution]:
    """Clashes and cautions that are there after and were not before."""
    then = {(one.severity, one.message) for one in before.cautions}
    return [one for one in after.cautions if one.severity != "note" and (one.severity, one.message) not in then]
