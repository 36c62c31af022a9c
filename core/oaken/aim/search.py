"""Looks for changes that reach what is aimed at: each kind by itself, then several together from where one has come to.

Every kind is tried at its largest first; where that helps, the amount that serves best is looked for between. How much
is looked at is counted in classes, not in seconds, so that the answer is the same on every machine. What is promised is
the forecast itself.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field
from itertools import islice
from typing import Literal

from pydantic import BaseModel

from oaken.aim.aimed import FIGURES, Aimed, Figure, Seen, check_aimed, value_in
from oaken.aim.kinds import Pull, pulls_of
from oaken.class_file import ClassFile
from oaken.fit.edits import Attempt
from oaken.fit.to_slot import Effect, effect_of
from oaken.forecast import forecast
from oaken.plan import ClassPlan
from oaken.report import Caution, Forecast

Thoroughness = Literal["quick", "whole"]

MOST_AMOUNTS = 24
"""Amounts of one kind of change, from small to large, that may be looked at."""

LOOKED_AT: dict[Thoroughness, int] = {"quick": 20, "whole": 150}
"""Classes that are looked at: for a first proposal, and for all there is to find."""

USUAL_CROWD, LEAST_EFFORT = 14, 0.4
"""For more people fewer classes are looked at, down to this share of them: each takes longer."""

QUICK_KINDS = 7
"""Kinds of change that a first proposal is sought with: those that serve a figure most often."""

SINGLES = 12
"""Kinds whose best amount is looked for before several are tried together: those that promise most."""

WIDTH, DEEPEST = 5, 5
"""Classes from which the search goes on with one change more, and changes in one proposal at the most."""

SHOWN = 4
"""Proposals that are told."""

FINALISTS: dict[Thoroughness, int] = {"quick": 3, "whole": 8}
"""Proposals that are forecast as a whole."""

USUALLY: dict[Figure, tuple[str, ...]] = {
    "length": ("shorter_rest", "longer_rest", "fewer_sets", "more_sets", "fewer_rounds", "more_rounds", "longer_ends"),
    "chance_inside": ("shorter_rest", "fewer_sets", "shorter_ends", "fewer_rounds", "shorter_work", "fewer_reps"),
    "waiting": ("another_order", "spread_out", "longer_rest", "fewer_sets", "leave_out", "longer_round_rest"),
    "volume_load": ("heavier", "lighter", "more_reps", "fewer_reps", "more_sets", "fewer_sets", "more_sets_of_some"),
    "muscle": ("more_sets_of_some", "fewer_sets_of_some", "more_sets", "fewer_sets", "more_rounds", "longer_work"),
    "time_under_tension": ("more_sets", "fewer_sets", "more_rounds", "fewer_rounds", "longer_work", "more_reps"),
}
"""The kinds of change that serve a figure most often, for the first proposal (common practice, no source)."""

USUALLY_OTHERWISE = (
    "shorter_rest", "longer_rest", "longer_work", "shorter_work", "longer_round_rest", "shorter_round_rest",
    "longer_change", "shorter_change", "more_rounds", "fewer_rounds",
)  # fmt: skip

ORDER_MATTERS: frozenset[Figure] = frozenset(("waiting", "length", "chance_inside"))
"""Figures for which another rotation is looked for: that takes as long as a dozen other changes."""

EXACT = 0.03
"""Less than this away, as a share of ten times what counts as near, is exactly there."""

ORDER_COSTS = 40
"""Looking for a rotation counts as so many classes."""

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
class _State:
    """A changed class that was looked at: by which pulls, in words, how much harm, and all values that are wanted."""

    plan: ClassPlan
    pulls: tuple[Pull, ...]
    details: tuple[str, ...]
    harm: float
    values: tuple[float, ...]

    @property
    def ids(self) -> tuple[str, ...]:
        return tuple(one.id for one in self.pulls)


def reach(file: ClassFile, aimed: Aimed, limits: Sequence[Aimed] = (), thoroughness: Thoroughness = "whole") -> Aiming:
    """Changes that bring a figure where it is aimed at while the limits hold, the least harm first.

    The file must have been checked, and small enough to be tried many times over. Raises FaultyInput where something is
    aimed at that the class has not got, or that contradicts itself.
    """
    wanted = [aimed, *limits]
    check_aimed(file, wanted)
    search = _Search(file, wanted, thoroughness)
    before = search.start.values
    if search.score(search.start) == 0:
        return _told(aimed, before[0], True, [], [])
    search.run()
    right = _not_more_than_needed([one for one in search.found if search.score(one) == 0])
    told = forecast(file)
    proposals = search.verified(told, sorted(right, key=lambda one: (one.harm, len(one.pulls))))
    if not any(one.reached for one in proposals):
        nearer = [
            one
            for one in search.found
            if not search.broken(one.values) and aimed.miss(one.values[0]) < aimed.miss(before[0]) - 1e-9
        ]
        near = sorted(nearer, key=lambda one: (round(aimed.miss(one.values[0]) / aimed.near, 1), one.harm))
        proposals = search.verified(told, near)
        proposals.sort(key=lambda one: (aimed.miss(one.value), one.harm))
    return _told(aimed, before[0], False, proposals[:SHOWN], [] if right else search.caught())


def _not_more_than_needed(states: Sequence[_State]) -> list[_State]:
    """Without those that do more than another that gets there too with less harm."""
    return [
        one for one in states if not any(set(other.ids) < set(one.ids) and other.harm <= one.harm for other in states)
    ]


def _told(aimed: Aimed, before: float, already: bool, proposals: list[Reached], caught: list[Caught]) -> Aiming:
    return Aiming(
        wanted=aimed.words,
        unit=FIGURES[aimed.figure].unit,
        before=round(before, 2),
        reached_already=already,
        proposals=proposals,
        caught=caught,
    )


@dataclass
class _Search:
    """One class, its pulls, and everything that was looked at of it."""

    file: ClassFile
    wanted: list[Aimed]
    thoroughness: Thoroughness
    found: list[_State] = field(init=False, default_factory=list)
    looked: int = field(init=False, default=0)
    start: _State = field(init=False)
    reaches: dict[str, tuple[float, ...]] = field(init=False, default_factory=dict)

    def __post_init__(self) -> None:
        self.known = self.file.catalogue()
        plan = self.file.plan
        self.start = _State(plan, (), (), 0.0, self._values(plan))

    def run(self) -> None:
        """Every pull at its largest; between where that serves; then one change more from the best there is."""
        for pull in self._pulls():
            if self._is_over:
                return
            self._largest(self.start, pull)
        singles = sorted(self.found, key=lambda one: self._promise(self.start, one.ids[0]))
        for state in singles[:SINGLES]:
            if self._is_over or (self.thoroughness == "quick" and self._solved >= 1):
                return
            if self._serves(self.start, state.ids[0]):
                self._between(self.start, state.pulls[0])
        for depth in range(2, DEEPEST + 1):
            if self._solved >= SHOWN or self._is_over:
                return
            begun = [one for one in self.found if len(one.pulls) == depth - 1 and self.score(one) > 0]
            for state in self._apart(begun):
                others = [one for one in self.reaches if not self._undone(state, one)]
                others.sort(key=lambda one: self._promise(state, one))
                for name in others[:WIDTH]:
                    if self._is_over:
                        return
                    if self._serves(state, name):
                        self._between(state, self._by_id[name])

    # -- what serves ----------------------------------------------------------------------------------------------

    @property
    def _is_over(self) -> bool:
        crowd = len(self.file.plan.people)
        return self.looked >= LOOKED_AT[self.thoroughness] * max(LEAST_EFFORT, min(1.0, USUAL_CROWD / crowd))

    @property
    def _solved(self) -> int:
        """Different sets of kinds that reach what is wanted."""
        return len({frozenset(one.ids) for one in self.found if self.score(one) == 0})

    def _pulls(self) -> list[Pull]:
        """The pulls in the order in which they serve this figure most often."""
        figure = self.wanted[0].figure
        usual = USUALLY.get(figure, USUALLY_OTHERWISE)
        every = pulls_of(self.file)
        if not any(one.figure in ORDER_MATTERS for one in self.wanted):
            every = [one for one in every if one.id != "another_order"]
        self._by_id = {one.id: one for one in every}
        first = [self._by_id[name] for name in usual if name in self._by_id]
        if self.thoroughness == "quick":
            quick = [one for one in first if one.id != "another_order" or figure == "waiting"]
            return quick[:QUICK_KINDS]
        return [*first, *(one for one in every if one not in first)]

    def score(self, state: _State) -> float:
        """How far a class is from all that is wanted, in what counts as near of each; 0 where everything is there."""
        return self._score(state.values)

    def _exactly(self, state: _State) -> float:
        """The score, and of what is to be about a value also how exactly it is: near enough is not nearest."""
        aimed = self.wanted[0]
        off = abs(state.values[0] - aimed.value) / max(aimed.near, 1e-9) if aimed.want == "about" else 0.0
        return self.score(state) + 0.1 * min(1.0, off)

    def _score(self, values: Sequence[float]) -> float:
        aimed = self.wanted[0]
        total = aimed.miss(values[0]) / max(aimed.near, 1e-9)
        for limit, value, then in zip(self.wanted[1:], values[1:], self.start.values[1:], strict=True):
            # what did not hold before is no worse than it was
            over = limit.miss(value) - (limit.miss(then) if limit.miss(then) > 0 else 0.0)
            total += max(0.0, over) / max(limit.near, 1e-9)
        return total

    def broken(self, values: Sequence[float]) -> list[Aimed]:
        """The limits that do not hold, but for those that did not hold before and hold no worse."""
        return [
            limit
            for limit, value, then in zip(self.wanted[1:], values[1:], self.start.values[1:], strict=True)
            if limit.miss(value) > limit.miss(then) + 1e-9
        ]

    def _guess(self, state: _State, pull: str, share: float) -> list[float]:
        """Values after a pull is moved by a share of its largest amount: its effects by itself are added."""
        moved = self.reaches[pull]
        return [
            now + share * (then - was) for now, then, was in zip(state.values, moved, self.start.values, strict=True)
        ]

    def _promise(self, state: _State, pull: str) -> float:
        """The least score that a pull promises at any amount."""
        if pull not in self.reaches:
            return 1e9
        return min(self._score(self._guess(state, pull, share)) for share in (0.1, 0.25, 0.5, 0.75, 1.0))

    def _serves(self, state: _State, pull: str) -> bool:
        return self._promise(state, pull) < self.score(state) - 0.05

    def _undone(self, state: _State, pull: str) -> bool:
        return any(name == pull or _undo(name, pull) for name in state.ids)

    def _apart(self, states: Sequence[_State]) -> list[_State]:
        """The best classes to go on from, no two by the same kinds."""
        kept: dict[frozenset[str], _State] = {}
        for one in sorted(states, key=lambda one: (round(self.score(one), 1), one.harm)):
            kept.setdefault(frozenset(one.ids), one)
        return list(kept.values())[:WIDTH]

    # -- looking --------------------------------------------------------------------------------------------------

    def _amounts(self, state: _State, pull: Pull) -> list[Attempt]:
        if pull.id == "another_order":
            self.looked += ORDER_COSTS
        return list(islice(pull.tries(state.plan), MOST_AMOUNTS))

    def _look(self, state: _State, pull: Pull, attempt: Attempt) -> _State:
        self.looked += 1
        made = _State(
            attempt.plan,
            (*state.pulls, pull),
            (*state.details, attempt.detail),
            state.harm + pull.harm(attempt, self.file.plan, self.known),
            self._values(attempt.plan),
        )
        self.found.append(made)
        return made

    def _largest(self, state: _State, pull: Pull) -> None:
        attempts = self._amounts(state, pull)
        if attempts:
            self.reaches[pull.id] = self._look(state, pull, attempts[-1]).values

    def _between(self, state: _State, pull: Pull) -> None:
        """The amount that serves best: from the one that is guessed, towards the better side."""
        attempts = self._amounts(state, pull)
        if not attempts:
            return
        last = len(attempts) - 1
        shares = [(at + 1) / len(attempts) for at in range(len(attempts))]
        guessed = min(range(len(attempts)), key=lambda at: (self._score(self._guess(state, pull.id, shares[at])), at))
        scores: dict[int, float] = {}

        def at(place: int) -> float:
            if place not in scores and not self._is_over:
                scores[place] = self._exactly(self._look(state, pull, attempts[place]))
            return scores.get(place, 1e9)

        place, step = guessed, max(1, len(attempts) // 4)
        at(place)
        while step and not self._is_over:
            sides = [one for one in (place - step, place + step) if 0 <= one <= last]
            # where it is there already, only less of it may be better
            if scores.get(place, 1.0) < EXACT:
                sides = [one for one in sides if one < place]
            better = [one for one in sides if (at(one), one) < (scores.get(place, 1e9), place)]
            if better:
                place = min(better, key=lambda one: (scores[one], one))
            else:
                step //= 2

    def _values(self, plan: ClassPlan) -> tuple[float, ...]:
        seen = Seen(self.file.model_copy(update={"plan": plan}))
        values = [seen.value(one) for one in self.wanted]
        return tuple(0.0 if value is None else value for value in values)

    # -- what is told ---------------------------------------------------------------------------------------------

    def caught(self) -> list[Caught]:
        """Limits of which one alone keeps the figure from where it is aimed at."""
        told: dict[str, Caught] = {}
        for one in sorted(self.found, key=lambda each: (self.wanted[0].miss(each.values[0]), each.harm)):
            broken = self.broken(one.values)
            if len(broken) == 1 and self.wanted[0].miss(one.values[0]) < self.wanted[0].miss(self.start.values[0]):
                words = broken[0].words
                name = " + ".join(pull.name for pull in one.pulls)
                told.setdefault(words, Caught(limit=words, value=round(one.values[0], 2), name=name))
        return list(told.values())

    def verified(self, before: Forecast, states: Sequence[_State]) -> list[Reached]:
        """The best of each set of kinds forecast as a whole; what brings a clash is left out."""
        found: list[Reached] = []
        seen: set[frozenset[str]] = set()
        for state in states:
            if frozenset(state.ids) in seen or len(seen) >= FINALISTS[self.thoroughness]:
                continue
            seen.add(frozenset(state.ids))
            plan = ClassPlan.model_validate(state.plan.model_dump())
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
            found.append(
                Reached(
                    name=" + ".join(one.name for one in state.pulls),
                    detail="; ".join(state.details),
                    why="; ".join(dict.fromkeys(one.kind.why for one in state.pulls)),
                    harm=round(min(100.0, state.harm + NEW_CAUTION_HARM * len(new)), 1),
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


OPPOSITES = (("fewer_", "more_"), ("shorter_", "longer_"), ("no_", "add_"), ("easier_", "harder_"))


def _undo(one: str, other: str) -> bool:
    """Whether two kinds of change take back what the other does."""
    here, there = one.partition("@")[0], other.partition("@")[0]
    if {here, there} == {"lighter", "heavier"}:
        return True
    for less, more in OPPOSITES:
        for first, second in ((here, there), (there, here)):
            if first.startswith(less) and second.startswith(more) and first[len(less) :] == second[len(more) :]:
                return True
    return False


def _new_cautions(before: Forecast, after: Forecast) -> list[Caution]:
    """Clashes and cautions that are there after and were not before."""
    then = {(one.severity, one.message) for one in before.cautions}
    return [one for one in after.cautions if one.severity != "note" and (one.severity, one.message) not in then]
