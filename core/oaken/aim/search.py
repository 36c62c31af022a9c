"""Looks for changes that reach what is aimed at: each kind by itself, then several together from where one has come to.

Every kind is tried at its largest first; where that helps, the amount that serves best is looked for between. How much
is looked at is counted in classes, not in seconds, so that the answer is the same on every machine. What is promised is
the forecast itself.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from itertools import islice
from typing import Literal

import numpy as np
from pydantic import BaseModel

from oaken.aim.aimed import FIGURES, Aimed, Figure, Seen, check_aimed, value_in
from oaken.aim.guessed import Array, Guess, Guesses, Step
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

DEEPEST, QUICK_TOGETHER = 5, 2
"""Changes in one proposal at the most, and in a first one."""

SETTLED, MOST_LOOKS = 12, 4
"""Sets of changes whose amounts are looked for from one class, and looks at each."""

ENOUGH = 6
"""Sets of changes that reach what is wanted after which no more are looked for."""

GOES_ON_FROM, PROBED_AGAIN = 2, 10
"""Nearest classes from which the search goes on, and pulls that are probed there anew."""

MOST_DROPPED, LOOKED_AT_DROPPED = 4, 2
"""Limits that are left aside one by one to see which stands in the way, and classes that are looked at for each."""

MIDDLE_WEIGHS = 0.1
"""What the distance from the middle of what is wanted weighs while guessing."""

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
"""Figures for which another rotation of the class as it is is looked for longer: that takes as long as dozens of other
changes."""

ORDER_COSTS, ORDER_AT_ONCE_COSTS = 40, 3
"""Looking for a rotation counts as so many classes, and having one at once."""

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
    _by_id: dict[str, Pull] = field(init=False, default_factory=dict)

    _around_start: Guesses = field(init=False)

    def __post_init__(self) -> None:
        self.known = self.file.catalogue()
        plan = self.file.plan
        self.start = _State(plan, (), (), 0.0, self._values(plan))
        self._around_start = self._guesses(self.start)

    def run(self) -> None:
        """Every pull at its largest; then what is likely to serve together; then more from the nearest there is."""
        guesses = self._around_start
        for pull in self._pulls():
            if self._is_over:
                return
            self._probe(guesses, self.start, pull)
        self._settle_best(guesses, self.start)
        if self.thoroughness == "quick":
            return
        for state in self._nearest():
            if self._solved or self._is_over:
                return
            more = self._guesses(state)
            for name in self._likeliest(guesses, state):
                self._probe(more, state, self._by_id[name])
            self._settle_best(more, state)

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
        every = pulls_of(self.file, orders_at_once=figure not in ORDER_MATTERS)
        self._by_id = {one.id: one for one in every}
        first = [self._by_id[name] for name in usual if name in self._by_id]
        if self.thoroughness == "quick":
            quick = [one for one in first if one.id != "another_order" or figure == "waiting"]
            return quick[:QUICK_KINDS]
        return [*first, *(one for one in every if one not in first)]

    def score(self, state: _State) -> float:
        """How far a class is from all that is wanted, in what counts as near of each; 0 where everything is there."""
        return self._score(state.values)

    def _score(self, values: Sequence[float]) -> float:
        return float(self._scores(np.array([values]))[0])

    def _scores(self, values: Array, without: Aimed | None = None) -> Array:
        """How far classes (rows of values) are from all that is wanted, one limit left aside where it is named."""
        total = self.wanted[0].misses(values[:, 0]) / max(self.wanted[0].near, 1e-9)
        for at, limit in enumerate(self.wanted[1:], start=1):
            if limit is not without:
                # what did not hold before is no worse than it was
                over = limit.misses(values[:, at]) - limit.miss(self.start.values[at])
                total = total + np.maximum(over, 0.0) / max(limit.near, 1e-9)
        return total

    def broken(self, values: Sequence[float]) -> list[Aimed]:
        """The limits that do not hold, but for those that did not hold before and hold no worse."""
        return [
            limit
            for limit, value, then in zip(self.wanted[1:], values[1:], self.start.values[1:], strict=True)
            if limit.miss(value) > limit.miss(then) + 1e-9
        ]

    def _guesses(self, state: _State, without: Aimed | None = None) -> Guesses:
        """Guesses around a class: of how far it is from all that is wanted, the middle of what is wanted first."""
        aimed = self.wanted[0]

        def scores(values: Array) -> Array:
            off = np.abs(values[:, 0] - aimed.value) / max(aimed.near, 1e-9) if aimed.want == "about" else 0.0
            return self._scores(values, without) + MIDDLE_WEIGHS * np.minimum(off, 1.0)

        near = np.array(
            [
                max(one.near, FIGURES[one.figure].near, 1e-3 * value, 1e-6)
                for one, value in zip(self.wanted, self.start.values, strict=True)
            ]
        )
        return Guesses(np.array(state.values), near, scores)

    def _apart(self) -> dict[str, frozenset[str]]:
        """For each pull those that do not go with it: itself, what takes it back, and the same of one block alone."""
        return {
            one: frozenset(other for other in self._by_id if one == other or _undo(one, other) or _same(one, other))
            for one in self._by_id
        }

    def _nearest(self) -> list[_State]:
        """The nearest classes that can be changed further, no two by the same pulls."""
        kept: dict[frozenset[str], _State] = {}
        for one in sorted(self.found, key=lambda one: (round(self.score(one), 1), one.harm)):
            if len(one.pulls) < DEEPEST:
                kept.setdefault(frozenset(one.ids), one)
        return list(kept.values())[:GOES_ON_FROM]

    def _likeliest(self, guesses: Guesses, state: _State) -> list[str]:
        """The pulls that promise most of a class, by what they did at the start."""
        apart = self._apart()
        free = [name for name in guesses.seen if not any(name in apart[taken] for taken in state.ids)]
        free = [name for name in free if name != "another_order"]
        return sorted(free, key=lambda name: guesses.promise(name, state.values))[:PROBED_AGAIN]

    # -- looking --------------------------------------------------------------------------------------------------

    def _amounts(self, state: _State, pull: Pull) -> list[Attempt]:
        if pull.id == "another_order":
            longer = self.wanted[0].figure in ORDER_MATTERS and state is self.start
            self.looked += ORDER_COSTS if longer else ORDER_AT_ONCE_COSTS
        return list(islice(pull.tries(state.plan), MOST_AMOUNTS))

    def _look(self, state: _State, pull: Pull, attempt: Attempt) -> _State:
        return self._seen(self._moved(state, pull, attempt))

    def _moved(self, state: _State, pull: Pull, attempt: Attempt) -> _State:
        """A class after one pull more, not looked at yet."""
        return _State(
            attempt.plan,
            (*state.pulls, pull),
            (*state.details, attempt.detail),
            state.harm + pull.harm(attempt, self.file.plan, self.known),
            (),
        )

    def _seen(self, state: _State) -> _State:
        self.looked += 1
        made = replace(state, values=self._values(state.plan))
        self.found.append(made)
        return made

    def _probe(self, guesses: Guesses, state: _State, pull: Pull) -> None:
        """Look at a pull's largest amount by itself."""
        attempts = self._amounts(state, pull)
        if attempts:
            values = self._look(state, pull, attempts[-1]).values
            guesses.amounts[pull.id] = len(attempts)
            guesses.harms[pull.id] = pull.harm(attempts[-1], self.file.plan, self.known)
            guesses.learn(pull.id, 1.0, values)

    def _settle_best(self, guesses: Guesses, state: _State) -> None:
        """Look at what is likely to serve, the likeliest first, until enough of it does."""
        quick = self.thoroughness == "quick"
        most = QUICK_TOGETHER if quick else DEEPEST - len(state.pulls)
        for guess in guesses.together(self._apart(), most, state.ids)[:SETTLED]:
            if self._is_over or self._solved >= (1 if quick else ENOUGH):
                return
            self._settle(guesses, state, guess)

    def _settle(self, guesses: Guesses, state: _State, guess: Guess) -> None:
        """The amounts of some pulls together that serve best, guessed anew after each look."""
        tried: set[tuple[Step, ...]] = set()
        best = self.score(state)
        for _ in range(MOST_LOOKS):
            if self._is_over or guess.score >= best:
                return
            tried.add(guess.steps)
            made = self._all_of(state, guess.steps)
            if made is None:
                return
            if len(guess.steps) == 1:
                guesses.learn(*guess.steps[0], made.values)
            best = min(best, self.score(made))
            if best == 0:
                return
            off = guesses.off(guess.steps, made.values)
            amounts = guesses.best_amounts([pull for pull, _ in guess.steps], off)
            other = next((one for one in amounts if one.steps not in tried), None)
            if other is None:
                return
            guess = other

    def _all_of(self, state: _State, steps: Sequence[Step]) -> _State | None:
        """A class after several pulls, each in its share of what is possible then; None where one is not."""
        made = state
        for name, share in sorted(steps, key=lambda step: step[0] == "another_order"):
            pull = self._by_id[name]
            attempts = self._amounts(made, pull)
            if not attempts:
                return None
            attempt = attempts[max(0, round(share * len(attempts)) - 1)]
            made = self._moved(made, pull, attempt)
        return self._seen(made)

    def _values(self, plan: ClassPlan) -> tuple[float, ...]:
        seen = Seen(self.file.model_copy(update={"plan": plan}))
        values = [seen.value(one) for one in self.wanted]
        return tuple(0.0 if value is None else value for value in values)

    # -- what is told ---------------------------------------------------------------------------------------------

    def caught(self) -> list[Caught]:
        """Limits of which one alone keeps the figure from where it is aimed at: with each left aside, what is likeliest
        to serve is looked at."""
        for limit in self.wanted[1 : 1 + MOST_DROPPED]:
            free = replace(self._around_start, scores=self._guesses(self.start, limit).scores)
            for guess in free.together(self._apart(), QUICK_TOGETHER)[:LOOKED_AT_DROPPED]:
                self._all_of(self.start, guess.steps)
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


def _same(one: str, other: str) -> bool:
    """Whether one is the other on a block alone."""
    (here, _, at), (there, _, place) = one.partition("@"), other.partition("@")
    return here == there and not (at and place)


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
