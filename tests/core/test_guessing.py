"""What several changes are likely to do together: against every combination computed one by one, and what a caution is
known again by."""

from __future__ import annotations

from itertools import combinations, product
from math import exp, log

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from making import circuit, class_file, group, person, room, sets
from oaken.design.goal_seeking.guessed import COST_WEIGHS, Array, Guesses
from oaken.forecast import forecast
from oaken.forecast.report import Caution
from oaken.schedule.class_file import ClassFile

NAMES = ("a", "b", "c", "d")
START, WANTED, LIMIT = 100.0, 130.0, 60.0


def scores(values: Array) -> Array:
    """About 130, while a second figure stays at or below 60; both counted in units of one."""
    missed = np.abs(values[:, 0] - WANTED)
    return np.asarray(missed + np.maximum(0.0, values[:, 1] - LIMIT))


def around(effects: dict[str, tuple[float, float]], amounts: dict[str, int], costs: dict[str, float]) -> Guesses:
    """Guesses for adjustments that scale two figures, each seen once in its largest amount."""
    guesses = Guesses(np.array([START, 55.0]), np.array([1.0, 1.0]), scores, dict(amounts), dict(costs))
    for name, (first, second) in effects.items():
        guesses.learn(name, 1.0, [START * first, 55.0 * second])
    return guesses


def by_hand(effects: dict[str, tuple[float, float]], steps: tuple[tuple[str, float], ...]) -> tuple[float, float]:
    """The same guess written out: logarithms of a figure and five of what counts as near, in proportion to the share."""
    found = []
    for at, start in enumerate((START, 55.0)):
        moved = sum(share * (log(start * effects[name][at] + 5) - log(start + 5)) for name, share in steps)
        found.append(exp(log(start + 5) + moved) - 5)
    return found[0], found[1]


factors = st.floats(0.7, 1.4)


@settings(max_examples=40)
@given(
    st.tuples(*[st.tuples(factors, factors)] * 4),
    st.tuples(*[st.integers(1, 4)] * 4),
    st.tuples(*[st.floats(1, 60)] * 4),
)
def test_the_likeliest_set_is_that_of_every_combination(
    moves: tuple[tuple[float, float], ...], counts: tuple[int, ...], costs: tuple[float, ...]
) -> None:
    effects, amounts = dict(zip(NAMES, moves, strict=True)), dict(zip(NAMES, counts, strict=True))
    cost = dict(zip(NAMES, costs, strict=True))
    apart = {name: frozenset({name}) for name in NAMES} | {"a": frozenset("ab"), "b": frozenset("ab")}
    told = around(effects, amounts, cost).together(apart, 2)
    assert len({frozenset(name for name, _ in item.steps) for item in told}) == len(told)
    assert all({name for name, _ in item.steps} != {"a", "b"} for item in told)

    keys = []
    for many in (1, 2):
        for names in combinations(NAMES, many):
            if set(names) == {"a", "b"}:
                continue
            for places in product(*(range(1, amounts[name] + 1) for name in names)):
                steps = tuple((name, at / amounts[name]) for name, at in zip(names, places, strict=True))
                first, second = by_hand(effects, steps)
                score = abs(first - WANTED) + max(0.0, second - LIMIT)
                keys.append(score + COST_WEIGHS * sum(cost[name] * share**0.5 for name, share in steps))
    assert told[0].score + COST_WEIGHS * told[0].cost == pytest.approx(min(keys), abs=1e-6)


def test_amounts_are_guessed_anew_by_how_far_the_guess_was_off() -> None:
    guesses = around({"a": (1.4, 1.0)}, {"a": 20}, {"a": 10.0})
    first = next(guesses.best_amounts(["a"], np.zeros(2)))
    assert by_hand({"a": (1.4, 1.0)}, first.steps)[0] == pytest.approx(WANTED, abs=1.5)
    # the class was looked at and came out lower than guessed: more is tried
    off = guesses.off(first.steps, [WANTED - 8, 55.0])
    again = next(guesses.best_amounts(["a"], off))
    assert again.steps[0][1] > first.steps[0][1]
    # what was seen between is guessed along the line through it
    guesses.learn("a", 0.5, [START * 1.05, 55.0])
    assert float(np.exp(guesses.move([("a", 0.5)]))[0]) == pytest.approx((START * 1.05 + 5) / (START + 5))


def queueing(reps: int, machine: str = "leg-press") -> ClassFile:
    return class_file(
        sets(group(3, 30, {"exercise": machine, "reps": reps})),
        room=room({"leg-press": 1, "hip-thrust": 1}),
        people=[person(at) for at in range(1, 6)],
        slot_min=60,
    )


def test_a_caution_is_known_again_by_its_gist() -> None:
    def waits(file: ClassFile) -> Caution:
        (found,) = [caution for caution in forecast(file).cautions if caution.about == "waiting"]
        return found

    short, long = waits(queueing(10)), waits(queueing(14))
    assert short.message != long.message
    # another number of minutes, or another machine, is still the waiting of that block
    assert short.fingerprint == long.fingerprint == waits(queueing(10, "hip-thrust")).fingerprint
    assert forecast(queueing(14)).cautions_beyond(forecast(queueing(10))) == []
    none = class_file(circuit(["plank", "bodyweight-squat"], rounds=1), people=[person(1), person(2)], slot_min=10)
    assert waits(queueing(10)) in forecast(queueing(10)).cautions_beyond(forecast(none))
