"""Looks at classes that changes make: each kind by itself, then those that are likely to serve together.

Every kind is looked at in its largest amount. What several do together is guessed from that, the likeliest is looked
at, and its amounts are guessed anew by how far it was off; then more is added to the nearest there is. How much is
looked at is counted in classes, not in seconds, so that the answer is the same on every machine.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from functools import cached_property
from itertools import islice

import numpy as np

from oaken.design.adjustments import Attempt
from oaken.design.goal_seeking.goals import FigureGoal, Seen, goal_of
from oaken.design.goal_seeking.guessed import Array, Guess, Guesses, Step
from oaken.design.goal_seeking.kinds import Adjustment, adjustments_of, usually
from oaken.forecast.report import GoalFigure
from oaken.plan import MOST_IN_CLASS, ClassPlan
from oaken.schedule.class_file import ClassFile


@dataclass(frozen=True, slots=True)
class Thoroughness:
    """How much is done for proposals: classes that are looked at, changes together, sets of changes that reach it after
    which no more are looked for, proposals that are forecast as a whole, those that are told, how many kinds of change
    (the most usual first) and which of them are tried (None: every one), and for how many people at most another
    rotation is had."""

    looked: int
    together: int
    enough: int
    finalists: int
    shown: int
    kinds: int | None = None
    rotations_up_to: int = MOST_IN_CLASS
    only: frozenset[str] | None = None


QUICK = Thoroughness(looked=20, kinds=7, together=2, enough=1, finalists=3, shown=4)
"""For a first proposal."""

WHOLE = Thoroughness(looked=150, together=5, enough=6, finalists=8, shown=4)
"""For all there is to find."""

MOST_AMOUNTS = 24
"""Amounts of one kind of change, from small to large, that may be looked at."""

USUAL_CROWD, LEAST_SHARE = 14, 0.4
"""For more people fewer classes are looked at, down to this share of them: each takes longer."""

SETTLED, MOST_LOOKS = 12, 4
"""Sets of changes whose amounts are looked for from one class, and looks at each."""

LESS_COST = 2.0
"""Points of cost that a lesser amount of what serves has to promise to be looked at."""

GOES_ON_FROM, PROBED_AGAIN = 2, 10
"""Nearest classes from which the search goes on, and adjustments that are probed there anew."""

MOST_DROPPED, LOOKED_AT_DROPPED, TOGETHER_DROPPED = 4, 2, 2
"""Limits that are left aside one by one to see which stands in the way, classes that are looked at for each, and
changes in each of those."""

MIDDLE_WEIGHS = 0.1
"""What the distance from the middle of what is wanted weighs while guessing."""

ORDER = "another_order"
ORDER_MATTERS: frozenset[GoalFigure] = frozenset(("waiting", "chance_inside"))
"""Figures for which another rotation of the class as it is is looked for longer: that takes as long as dozens of other
changes."""

ORDERS_LONGER_UP_TO = 16
"""People up to whom it is looked for longer."""

ORDER_COSTS, ORDER_AT_ONCE_COSTS = 40, 3
"""Looking for a rotation counts as so many classes, and having one at once."""


@dataclass(frozen=True)
class State:
    """A changed class that was looked at: by which adjustments, in words, its cost, and all values that are wanted."""

    plan: ClassPlan
    adjustments: tuple[Adjustment, ...]
    details: tuple[str, ...]
    cost: float
    values: tuple[float, ...]

    @property
    def ids(self) -> tuple[str, ...]:
        return tuple(adjustment.id for adjustment in self.adjustments)


@dataclass
class Search:
    """One class, its adjustments, and everything that was looked at of it; the first of `wanted` is the goal, the
    others are limits."""

    file: ClassFile
    wanted: list[FigureGoal]
    thoroughness: Thoroughness
    found: list[State] = field(init=False, default_factory=list)
    looked: int = field(init=False, default=0)
    start: State = field(init=False)
    _around_start: Guesses = field(init=False)
    _from_start: dict[str, list[Attempt]] = field(init=False, default_factory=dict)

    def __post_init__(self) -> None:
        self.known = self.file.catalogue()
        plan = self.file.plan
        self.start = State(plan, (), (), 0.0, self._values(plan))
        self._around_start = self._guesses(self.start)

    def run(self) -> None:
        """Every adjustment at its largest; then what is likely to serve together; then more from the nearest."""
        for adjustment in list(self._adjustments.values())[: self.thoroughness.kinds]:
            if self._is_over:
                return
            self._probe(self._around_start, self.start, adjustment)
        self._settle_best(self._around_start, self.start)
        for state in self._nearest():
            if self._solved or self._is_over:
                return
            more = self._guesses(state)
            for name in self._likeliest(state):
                self._probe(more, state, self._adjustments[name])
            self._settle_best(more, state)

    # -- what serves ----------------------------------------------------------------------------------------------

    @property
    def aimed(self) -> FigureGoal:
        """What is aimed at, without the limits."""
        return self.wanted[0]

    @property
    def _is_over(self) -> bool:
        crowd = len(self.file.plan.people)
        return self.looked >= self.thoroughness.looked * max(LEAST_SHARE, min(1.0, USUAL_CROWD / crowd))

    @property
    def _solved(self) -> set[frozenset[str]]:
        """Different sets of kinds that reach what is wanted."""
        return {frozenset(item.ids) for item in self.found if self.score(item) == 0}

    @property
    def _orders_longer(self) -> bool:
        """Whether another rotation of the class as it is is worth its time."""
        return self.aimed.figure in ORDER_MATTERS and len(self.file.plan.people) <= ORDERS_LONGER_UP_TO

    @cached_property
    def _adjustments(self) -> dict[str, Adjustment]:
        """The adjustments by id, in the order in which they serve this figure most often."""
        every = {
            adjustment.id: adjustment
            for adjustment in adjustments_of(self.file, orders_at_once=not self._orders_longer)
        }
        only = self.thoroughness.only
        if only is not None:
            every = {name: item for name, item in every.items() if item.kind.id in only}
        if len(self.file.plan.people) > self.thoroughness.rotations_up_to:
            every.pop(ORDER, None)
        first = {name: every[name] for name in usually(self.aimed.figure) if name in every}
        return first | every

    @cached_property
    def _closed(self) -> dict[str, frozenset[str]]:
        """For each adjustment those that do not go with it: itself, what takes it back, and the same of one block
        alone."""
        return {
            adjustment: frozenset(
                other
                for other in self._adjustments
                if adjustment == other or _undo(adjustment, other) or _same(adjustment, other)
            )
            for adjustment in self._adjustments
        }

    def score(self, state: State) -> float:
        """How far a class is from all that is wanted, in what counts as near of each; 0 where everything is there."""
        return float(self._scores(np.array([state.values]))[0])

    def _scores(self, values: Array, without: FigureGoal | None = None) -> Array:
        """The same of many classes (rows of values), one limit left aside where it is named."""
        total = self.aimed.misses(values[:, 0]) / max(self.aimed.near, 1e-9)
        for at, limit in enumerate(self.wanted[1:], start=1):
            if limit is not without:
                # what did not hold before is no worse than it was
                over = limit.misses(values[:, at]) - limit.miss(self.start.values[at])
                total = total + np.maximum(over, 0.0) / max(limit.near, 1e-9)
        return total

    def broken(self, values: Sequence[float]) -> list[FigureGoal]:
        """The limits that do not hold, but for those that did not hold before and hold no worse."""
        return [
            limit
            for limit, value, then in zip(self.wanted[1:], values[1:], self.start.values[1:], strict=True)
            if limit.miss(value) > limit.miss(then) + 1e-9
        ]

    def caught(self) -> list[tuple[FigureGoal, State]]:
        """Limits of which one alone keeps the figure from where it is aimed at, each with the nearest class without
        it: with each left aside, what is likeliest to serve is looked at."""
        for limit in self.wanted[1 : 1 + MOST_DROPPED]:
            free = replace(self._around_start, scores=self._guesses(self.start, limit).scores)
            for guess in free.together(self._closed, TOGETHER_DROPPED)[:LOOKED_AT_DROPPED]:
                self._all_of(self.start, guess.steps)
        told: dict[str, tuple[FigureGoal, State]] = {}
        for item in sorted(self.found, key=lambda each: (self.aimed.miss(each.values[0]), each.cost)):
            broken = self.broken(item.values)
            if len(broken) == 1 and self.aimed.miss(item.values[0]) < self.aimed.miss(self.start.values[0]):
                told.setdefault(broken[0].words, (broken[0], item))
        return list(told.values())

    # -- guessing -------------------------------------------------------------------------------------------------

    def _guesses(self, state: State, without: FigureGoal | None = None) -> Guesses:
        """Guesses around a class: of how far it is from all that is wanted, the middle of what is wanted first."""
        aimed = self.aimed

        def scores(values: Array) -> Array:
            off = np.abs(values[:, 0] - aimed.value) / max(aimed.near, 1e-9) if aimed.want == "about" else 0.0
            return self._scores(values, without) + MIDDLE_WEIGHS * np.minimum(off, 1.0)

        near = [
            max(item.near, goal_of(item.figure).near, 1e-3 * value, 1e-6)
            for item, value in zip(self.wanted, self.start.values, strict=True)
        ]
        return Guesses(np.array(state.values), np.array(near), scores)

    def _nearest(self) -> list[State]:
        """The nearest classes that can be changed further, no two by the same adjustments."""
        kept: dict[frozenset[str], State] = {}
        for each_item in sorted(self.found, key=lambda item: (round(self.score(item), 1), item.cost)):
            if len(each_item.adjustments) < self.thoroughness.together:
                kept.setdefault(frozenset(each_item.ids), each_item)
        return list(kept.values())[:GOES_ON_FROM]

    def _likeliest(self, state: State) -> list[str]:
        """The adjustments that promise most of a class, by what they did at the start."""
        guesses = self._around_start
        free = [name for name in guesses.seen if not any(name in self._closed[taken] for taken in state.ids)]
        free = [name for name in free if name != ORDER]
        return sorted(free, key=lambda name: guesses.promise(name, state.values))[:PROBED_AGAIN]

    def _settle_best(self, guesses: Guesses, state: State) -> None:
        """Look at what is likely to serve, the likeliest first, until enough of it does."""
        most, settled = self.thoroughness.together - len(state.adjustments), 0
        for guess in guesses.together(self._closed, most, state.ids):
            solved = self._solved
            if self._is_over or len(solved) >= self.thoroughness.enough or settled >= SETTLED:
                return
            kinds = {*state.ids, *(adjustment for adjustment, _ in guess.steps)}
            # where less is enough, more is not looked at
            if not any(item < kinds for item in solved):
                settled += 1
                self._settle(guesses, state, guess)

    def _settle(self, guesses: Guesses, state: State, guess: Guess) -> None:
        """The amounts of some adjustments together that serve best, guessed anew after each look: first those that
        serve, then lesser ones that still do."""
        tried: set[tuple[Step, ...]] = set()
        best, cost = self.score(state), float("inf")
        for _ in range(MOST_LOOKS):
            if self._is_over or (guess.cost > cost - LESS_COST if best == 0 else guess.score >= best):
                return
            tried.add(guess.steps)
            made = self._all_of(state, guess.steps)
            if made is None:
                return
            if len(guess.steps) == 1:
                guesses.learn(*guess.steps[0], made.values)
            if self.score(made) <= best:
                best = self.score(made)
                cost = guess.cost if best == 0 else cost
            amounts = guesses.best_amounts(
                [adjustment for adjustment, _ in guess.steps], guesses.off(guess.steps, made.values)
            )
            other = next((amount for amount in amounts if amount.steps not in tried), None)
            if other is None:
                return
            guess = other

    # -- looking --------------------------------------------------------------------------------------------------

    def _amounts(self, state: State, adjustment: Adjustment) -> list[Attempt]:
        if state is self.start and adjustment.id in self._from_start:
            return self._from_start[adjustment.id]
        if adjustment.id == ORDER:
            longer = self._orders_longer and state is self.start
            self.looked += ORDER_COSTS if longer else ORDER_AT_ONCE_COSTS
        attempts = list(islice(adjustment.tries(state.plan), MOST_AMOUNTS))
        if state is self.start:
            self._from_start[adjustment.id] = attempts
        return attempts

    def _probe(self, guesses: Guesses, state: State, adjustment: Adjustment) -> None:
        """Look at a adjustment's largest amount by itself."""
        attempts = self._amounts(state, adjustment)
        if attempts:
            guesses.amounts[adjustment.id] = len(attempts)
            guesses.costs[adjustment.id] = adjustment.cost(attempts[-1], self.file.plan, self.known)
            guesses.learn(adjustment.id, 1.0, self._seen(self._moved(state, adjustment, attempts[-1])).values)

    def _all_of(self, state: State, steps: Sequence[Step]) -> State | None:
        """A class after several adjustments, each in its share of what is possible then; None where one is not."""
        made = state
        for name, share in sorted(steps, key=lambda step: step[0] == ORDER):
            adjustment = self._adjustments[name]
            attempts = self._amounts(made, adjustment)
            if not attempts:
                return None
            made = self._moved(made, adjustment, attempts[max(0, round(share * len(attempts)) - 1)])
        return self._seen(made)

    def _moved(self, state: State, adjustment: Adjustment, attempt: Attempt) -> State:
        """A class after one adjustment more, not looked at yet."""
        return State(
            attempt.plan,
            (*state.adjustments, adjustment),
            (*state.details, attempt.detail),
            state.cost + adjustment.cost(attempt, self.file.plan, self.known),
            (),
        )

    def _seen(self, state: State) -> State:
        self.looked += 1
        made = replace(state, values=self._values(state.plan))
        self.found.append(made)
        return made

    def _values(self, plan: ClassPlan) -> tuple[float, ...]:
        seen = Seen(self.file.model_copy(update={"plan": plan}))
        values = [seen.value(item) for item in self.wanted]
        return tuple(0.0 if value is None else value for value in values)


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
