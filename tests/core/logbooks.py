"""Hand-made sets and simulated histories: what the weeks of one person and one exercise may look like."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from datetime import date, timedelta
from typing import Any

import numpy as np
from oaken.physiology.strength.one_rep_max import FORMULAS, BestFormula
from oaken.programme.progress import SetRecord

START = date(2026, 1, 5)
FIVE: tuple[BestFormula, ...] = ("epley", "brzycki", "lombardi", "wathen", "oconner")
"""The truth of an invented history comes from one of these: none of them is the product's own curve."""


def done(load_kg: float | None, reps: int | None, number: int = 1, **told: Any) -> SetRecord:
    """One set of 8–10 on the leg press, as planned unless something else is told."""
    fields: dict[str, Any] = {
        "on": START, "run": 1, "person": "ada", "exercise": "leg-press", "block": "b", "part": "p", "number": number,
        "side": "", "unit": "press-1", "load_kg": load_kg, "reps": reps, "seconds": None,
        "volume_kg": None if load_kg is None else load_kg * (reps or 0), "tension_s": 4.0 * (reps or 0), "low": 8, "high": 10, "sets": 3,
        "planned_kg": load_kg, "ended": "stopped", "reps_left": None, "pauses": False, "helped": False, "poor": False,
        "as_planned": False,
    }  # fmt: skip
    return SetRecord(**{**fields, **told})


def a_day(load_kg: float, reps: Sequence[int], on: date = START, run: int = 1, **told: Any) -> list[SetRecord]:
    """The sets of one day at one load, as many as were planned."""
    fields = {"sets": len(reps), **told}
    return [done(load_kg, count, number, on=on, run=run, **fields) for number, count in enumerate(reps, 1)]


@dataclass(frozen=True)
class History:
    """A simulated history: its sets, and the true best at each session."""

    sets: list[SetRecord]
    truth: list[float]
    on: list[date]


Path = Callable[[int], float]
KINDS: dict[str, Path] = {
    "level": lambda week: 1.0,
    "steady": lambda week: 1.0 + 0.005 * week,
    "fast, then level": lambda week: 1.0 + 0.01 * min(week, 6),
    "level, then steady": lambda week: 1.0 + 0.008 * max(0, week - 6),
    "ill in the middle": lambda week: 1.0 + 0.005 * week - (0.05 if 5 <= week < 8 else 0.0),
}
"""Five kinds of history: the true best by week, as a share of the first."""

IN_RESERVE = 3
DAY_FORM, OWN_CURVE = 0.025, 0.15
"""What was tried: day form scatters by 2.5 %, repetitions at a load are 15 % more or less than anybody's (invented)."""


def simulated(kind: str, seed: int, weeks: int = 12, reps: int = 8, ended: str = "failed", a_week: int = 2) -> History:
    """Some times a week three sets at a load that follows the true best; whole repetitions; how the sets ended as wanted.

    The truth comes from one of the five formulas, drawn for each person, and a curve of their own.
    """
    chance = np.random.default_rng(seed)
    formula = FORMULAS[FIVE[chance.integers(len(FIVE))]][1]
    own = float(np.exp(chance.normal(0, OWN_CURVE)))
    best = float(chance.uniform(60, 160))
    sets: list[SetRecord] = []
    truth: list[float] = []
    days: list[date] = []
    for session in range(a_week * weeks):
        week = session // a_week
        on = START + timedelta(days=7 * week + 2 * (session % a_week))
        true = best * KINDS[kind](week)
        today = true * float(np.exp(chance.normal(0, DAY_FORM)))
        # who stops where it is planned, or tells what is left, works with some in reserve
        meant = reps if ended in ("failed", "last open") else reps + IN_RESERVE
        load = round(true * 100 / formula(100, meant) / 2.5) * 2.5
        counts = [_most(formula, own, today * (1 - 0.03 * number), load) for number in range(3)]
        for number, most in enumerate(counts, 1):
            told = _ended(ended, most, reps, number)
            sets.append(done(load, told.pop("reps"), number, on=on, run=session, low=reps, high=reps, **told))
        truth.append(true)
        days.append(on)
    return History(sets, truth, days)


def _most(formula: Callable[[float, float], float], own: float, best: float, load: float) -> int:
    """The most whole repetitions at a load, for somebody with this best and curve."""
    most = 0
    while most < 40 and formula(load, max(1.0, (most + 1) / own)) <= best:
        most += 1
    return most


def _ended(ended: str, most: int, reps: int, number: int) -> dict[str, Any]:
    if ended == "failed" or (ended == "last open" and number == 3):
        return {"reps": max(1, most), "ended": "failed"}
    if ended == "left":
        stop = min(max(1, most), reps)
        return {"reps": stop, "ended": "left", "reps_left": max(0, most - stop)}
    return {"reps": min(max(1, most), reps), "ended": "stopped"}


def without(sets: list[SetRecord], place: int) -> list[SetRecord]:
    """The sets without one of them."""
    return [each_set for at, each_set in enumerate(sets) if at != place]


def later(sets: list[SetRecord], days: int) -> list[SetRecord]:
    """The same sets some days later, in another class."""
    return [replace(each_set, on=each_set.on + timedelta(days=days), run=each_set.run + 1000) for each_set in sets]
