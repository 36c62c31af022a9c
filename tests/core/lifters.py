"""Invented lifters whose repetitions follow curves of other forms than the product's, with published averages.

Each movement is done 80 % and 60 % of the best for as many repetitions as published on the average (from memory: Hoeger
et al. 1990, Shimano et al. 2006; those of calf raise, hip thrust and hinge are invented); a person does some more or
fewer, a movement and form as a whole too.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from datetime import timedelta
from typing import Any, Literal

import numpy as np
from logbooks import START, done
from oaken.programme.progress import SetRecord

REPS_AT_80_AND_60 = {
    "leg-press": (15, 34), "back-squat": (12, 30), "leg-extension": (9, 15), "lying-leg-curl": (6, 11),
    "standing-calf-raise": (14, 32), "hip-thrust": (11, 24), "romanian-deadlift": (10, 21), "chest-press": (10, 20),
}  # fmt: skip
FORMS = ("power", "exponential", "straight pieces")
Ending = Literal["failure", "open", "reserve", "stopped"]
Window = tuple[int, int]
DAY_FORM, SET_BY_SET, LOAD_OFF = 0.025, 0.02, 0.02
"""Day to day, each further set, and how far the load is from the one that was meant, as shares (invented)."""


def most_at(form: str, movement: str) -> Callable[[float], float]:
    """The most repetitions (whole or not) at a share of the best, for the average lifter."""
    at_80, at_60 = REPS_AT_80_AND_60[movement]
    if form == "power":
        power = np.log((at_60 - 1) / (at_80 - 1)) / np.log(2)
        return lambda share: 1 + (at_80 - 1) * (max(0.0, 1 - share) / 0.2) ** power
    if form == "exponential":
        power = np.log((at_60 - 1) / (at_80 - 1)) / np.log(np.log(0.6) / np.log(0.8))
        return lambda share: 1 + (at_80 - 1) * (max(0.0, -np.log(share)) / -np.log(0.8)) ** power
    shares, counts = [0.3, 0.6, 0.8, 0.9, 1.0], [at_60 * 2.2, at_60, at_80, 1 + (at_80 - 1) * 0.48, 1]
    return lambda share: float(np.interp(share, shares, counts))


def lifter(
    movement: str, form: str, ending: Ending, days: int, windows: Sequence[Window], seed: int, off: float = 0.0
) -> tuple[list[SetRecord], float]:
    """Three sets a week for so many weeks, each week in the next window, and the true best. `off` is by how much (as a
    logarithm) this movement's average is from the published one."""
    chance = np.random.default_rng(seed)
    more = float(np.exp(chance.normal(0, 0.2) + off))
    best, average = float(chance.uniform(50, 180)), most_at(form, movement)
    shares = np.linspace(0.3, 1, 400)
    counts = np.array([1 + (average(share) - 1) * more for share in shares])
    habit, sets = int(chance.integers(0, 5)), []
    for day in range(days):
        low, high = windows[day % len(windows)]
        today = best * float(np.exp(chance.normal(0, DAY_FORM)))
        wanted = chance.integers(low, high + 1) + (0 if ending in ("failure", "open") else 2)
        share = shares[np.argmin(abs(counts - wanted - 0.5))] * float(np.exp(chance.normal(0, LOAD_OFF)))
        load = max(2.5, round(best * share / 2.5) * 2.5)
        for number in (1, 2, 3):
            most = int(1 + (average(load / (today * (1 - SET_BY_SET * (number - 1)))) - 1) * more)
            if most < 1:
                continue
            told = _told(ending, most, low, high, number, habit, chance)
            on = START + timedelta(days=7 * day)
            sets.append(done(load, told.pop("reps"), number, on=on, run=day, low=low, high=high, **told))
    return sets, best


def _told(
    ending: Ending, most: int, low: int, high: int, number: int, habit: int, chance: np.random.Generator
) -> dict[str, Any]:
    if ending == "failure" or (ending == "open" and number == 3):
        return {"reps": most, "ended": "failed"}
    if ending == "open":
        return {"reps": min(most, low), "ended": "stopped"}
    if ending == "reserve":
        left = most - min(most, low)
        return {"reps": most - left, "ended": "left", "reps_left": max(0, left + int(chance.choice([-1, 0, 0, 1])))}
    return {"reps": min(high, max(1, most - habit - int(chance.integers(0, 2)))), "ended": "stopped"}


def steadily(share_a_week: float, ending: Ending, a_week: int, seed: int, weeks: int = 12) -> list[SetRecord]:
    """Weeks of sets at the loads of which about eight (stopped: eleven) repetitions go, of a best that grows so much a
    week; the movement is one that nobody knows."""
    chance = np.random.default_rng(seed)
    more, best = float(np.exp(chance.normal(0, 0.2))), float(chance.uniform(50, 160))

    def count(share: float) -> float:
        return 1 + 14 * more * float(max(0.0, (1 - share) / 0.25) ** 0.9)

    shares = np.linspace(0.4, 1, 300)
    wanted = 11 if ending == "stopped" else 8
    share = shares[np.argmin(abs(np.array([count(one) for one in shares]) - wanted - 0.5))]
    sets = []
    for session in range(weeks * a_week):
        true = best * (1 + share_a_week * session / a_week)
        today, load = true * float(np.exp(chance.normal(0, DAY_FORM))), round(true * share / 2.5) * 2.5
        on = START + timedelta(days=7 * session // a_week)
        for number in (1, 2, 3):
            most = max(1, int(count(load / (today * (1 - SET_BY_SET * (number - 1))))))
            told = _told(ending, most, 8, 8, number, 8 if ending == "stopped" else 0, chance)
            told["reps"] = min(8, most) if ending == "stopped" else told["reps"]
            sets.append(done(load, told.pop("reps"), number, on=on, run=session, low=8, high=8, **told))
    return sets
