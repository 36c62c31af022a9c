"""What several changes together are likely to do: the effects that each was seen to have by itself, added up.

A figure's change is added as the change of its logarithm, since most changes scale a figure; a figure near nothing adds
as it is. Guesses order what is looked at, and nothing else: what is told has been forecast.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]
Step = tuple[str, float]
"""A adjustment by its id, and which share of its largest amount (over 0, to 1)."""

MOST_SHARES = 8
"""Amounts of a adjustment that are guessed at, evenly from small to large."""

FINE = 24
"""The same where one or two adjustments are settled."""

BEAM = 200
"""Sets of changes that are built upon with one change more."""

ALIKE = 3
"""Sets of the same adjustments in other amounts among them."""

COST_WEIGHS = 0.01
"""What a point of cost weighs beside what counts as near of a figure."""


class Guess(NamedTuple):
    """Changes that are likely to serve: each adjustment with its share, the score, and the cost."""

    steps: tuple[Step, ...]
    score: float
    cost: float


@dataclass
class Guesses:
    """Effects of adjustments around one class.

    `start` are its values in units of the figures, `near` what counts as near of each. `scores` gives for an array of
    values (classes × figures) how far each class is from what is wanted.
    """

    start: Array
    near: Array
    scores: Callable[[Array], Array]
    amounts: dict[str, int] = field(default_factory=dict)
    costs: dict[str, float] = field(default_factory=dict)
    seen: dict[str, dict[float, Array]] = field(default_factory=dict)

    def learn(self, adjustment: str, share: float, values: Sequence[float]) -> None:
        """A class was looked at that differs from the start by this alone."""
        self.seen.setdefault(adjustment, {0.0: np.zeros_like(self.start)})[share] = self._of(values) - self._of(
            self.start
        )

    def move(self, steps: Sequence[Step]) -> Array:
        """What the steps change together, in logarithms."""
        return sum((self._effect(adjustment, share) for adjustment, share in steps), np.zeros_like(self.start))

    def off(self, steps: Sequence[Step], values: Sequence[float]) -> Array:
        """How far from what was guessed the values of a class that was looked at are, in logarithms."""
        return self._of(values) - self._of(self.start) - self.move(steps)

    def promise(self, adjustment: str, values: Sequence[float]) -> float:
        """The least score that one adjustment promises of another class with such values."""
        moves = np.array([self._effect(adjustment, share) for share in self.shares(adjustment)])
        return float(self._scored(moves + self._of(values) - self._of(self.start)).min())

    def best_amounts(self, adjustments: Sequence[str], off: Array) -> Iterator[Guess]:
        """The same adjustments in all amounts, the likeliest first, when the guess is off by so much."""
        shares = [self.shares(adjustment, FINE if len(adjustments) < 3 else MOST_SHARES) for adjustment in adjustments]
        sizes = [len(share) for share in shares]
        places = np.indices(sizes).reshape(len(adjustments), -1)
        moves, costs = np.tile(off, (places.shape[1], 1)), np.zeros(places.shape[1])
        for adjustment, each, place in zip(adjustments, shares, places, strict=True):
            moves += np.array([self._effect(adjustment, share) for share in each])[place]
            costs += np.array([self._cost(adjustment, share) for share in each])[place]
        scores = self._scored(moves)
        for at in np.argsort(scores + COST_WEIGHS * costs, kind="stable"):
            steps = tuple(
                (adjustment, each[place[at]])
                for adjustment, each, place in zip(adjustments, shares, places, strict=True)
            )
            yield Guess(steps, float(scores[at]), float(costs[at]))

    def together(self, apart: Mapping[str, frozenset[str]], most: int, taken: Sequence[str] = ()) -> list[Guess]:
        """Up to `most` changes together, the likeliest set of adjustments first and each set once.

        `apart` names for each adjustment those that do not go with it; `taken` those that are in the class already.
        """
        options = [(adjustment, share) for adjustment in self.seen for share in self.shares(adjustment)]
        options = [option for option in options if not any(option[0] in apart[other] for other in taken)]
        if not options:
            return []
        moves = np.array([self._effect(*option) for option in options])
        costs = np.array([self._cost(*option) for option in options])
        names = list(dict.fromkeys(adjustment for adjustment, _ in options))
        place = {name: at for at, name in enumerate(names)}
        of = np.array([place[adjustment] for adjustment, _ in options])
        closed = np.array([[other in apart[name] for other in names] for name in names])
        chosen = np.arange(len(options))[:, np.newaxis]
        found: dict[tuple[int, ...], tuple[float, Guess]] = {}
        for depth in range(1, most + 1):
            moved, cost = moves[chosen].sum(axis=1), costs[chosen].sum(axis=1)
            scores = self._scored(moved)
            keys = scores + COST_WEIGHS * cost
            kept: dict[tuple[int, ...], int] = {}
            beam: list[int] = []
            for at in np.argsort(keys, kind="stable"):
                adjustments = tuple(sorted(of[chosen[at]]))
                kept[adjustments] = kept.get(adjustments, 0) + 1
                if kept[adjustments] == 1:
                    steps = tuple(options[item] for item in sorted(chosen[at]))
                    found.setdefault(adjustments, (float(keys[at]), Guess(steps, float(scores[at]), float(cost[at]))))
                if depth == 1 or kept[adjustments] <= ALIKE:
                    beam.append(int(at))
                if depth > 1 and len(beam) >= BEAM:
                    break
            if depth < most:
                chosen = _one_more(chosen[beam], of, closed)
                if not len(chosen):
                    break
        return [guess for _, guess in sorted(found.values(), key=lambda item: item[0])]

    def shares(self, adjustment: str, most: int = MOST_SHARES) -> list[float]:
        """The amounts of a adjustment that are guessed at, as shares of its largest."""
        amounts = self.amounts[adjustment]
        return [at / amounts for at in sorted({round(item) for item in np.linspace(1, amounts, min(amounts, most))})]

    def _effect(self, adjustment: str, share: float) -> Array:
        known = self.seen[adjustment]
        shares = sorted(known)
        columns = np.array([known[share] for share in shares])
        return np.array([np.interp(share, shares, column) for column in columns.T])

    def _cost(self, adjustment: str, share: float) -> float:
        return float(self.costs[adjustment] * share**0.5)

    def _of(self, values: Sequence[float] | Array) -> Array:
        return np.log(np.maximum(np.asarray(values, dtype=np.float64), 0.0) + self._least)

    @property
    def _least(self) -> Array:
        return 5 * self.near

    def _scored(self, moves: Array) -> Array:
        return self.scores(np.exp(self._of(self.start) + moves) - self._least)


def _one_more(chosen: NDArray[np.int64], of: NDArray[np.int64], closed: NDArray[np.bool_]) -> NDArray[np.int64]:
    """Each set of options with one option more that goes with all of it; each set once."""
    free = np.logical_not(np.any(closed[of[chosen]], axis=1, keepdims=True)[:, 0, of])
    rows, columns = np.nonzero(free)
    return np.unique(np.sort(np.concatenate([chosen[rows], columns[:, np.newaxis]], axis=1), axis=1), axis=0)
