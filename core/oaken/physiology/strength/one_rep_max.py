"""One-repetition maximum from a set to failure, by seven formulas."""

from __future__ import annotations

from collections.abc import Callable
from math import exp
from typing import Literal

from oaken.basis.estimate import Estimate
from oaken.basis.words import in_kg

BestFormula = Literal["epley", "brzycki", "lombardi", "wathen", "oconner", "mayhew", "lander"]

RELIABLE_REPS = 12
"""Above about this many repetitions every formula goes astray (common practice, no source)."""

MOST_REPS = 30


def epley_kg(load_kg: float, reps: float) -> float:
    """w·(1 + r ÷ 30) (Epley 1985). 100 kg × 10 → 133.3."""
    return load_kg * (1 + reps / 30)


def brzycki_kg(load_kg: float, reps: float) -> float:
    """36·w ÷ (37 − r), for fewer than 37 repetitions (Brzycki 1993). 100 kg × 10 → 133.3."""
    return 36 * load_kg / (37 - reps)


def lombardi_kg(load_kg: float, reps: float) -> float:
    """w·r^0.10 (Lombardi 1989). 100 kg × 10 → 125.9."""
    return float(load_kg * reps**0.10)


def wathen_kg(load_kg: float, reps: float) -> float:
    """100·w ÷ (48.8 + 53.8·e^(−0.075·r)) (Wathen 1994). 100 kg × 10 → 134.7."""
    return 100 * load_kg / (48.8 + 53.8 * exp(-0.075 * reps))


def oconner_kg(load_kg: float, reps: float) -> float:
    """w·(1 + 0.025·r) (O'Conner 1989). 100 kg × 10 → 125.0."""
    return load_kg * (1 + 0.025 * reps)


def mayhew_kg(load_kg: float, reps: float) -> float:
    """100·w ÷ (52.2 + 41.9·e^(−0.055·r)) (Mayhew 1992). 100 kg × 10 → 130.9."""
    return 100 * load_kg / (52.2 + 41.9 * exp(-0.055 * reps))


def lander_kg(load_kg: float, reps: float) -> float:
    """100·w ÷ (101.3 − 2.67123·r), for fewer than 37 repetitions (Lander 1985). 100 kg × 10 → 134.1."""
    return 100 * load_kg / (101.3 - 2.67123 * reps)


FORMULAS: dict[BestFormula, tuple[str, Callable[[float, float], float]]] = {
    "epley": ("Epley", epley_kg),
    "brzycki": ("Brzycki", brzycki_kg),
    "lombardi": ("Lombardi", lombardi_kg),
    "wathen": ("Wathen", wathen_kg),
    "oconner": ("O’Conner", oconner_kg),
    "mayhew": ("Mayhew", mayhew_kg),
    "lander": ("Lander", lander_kg),
}


def best_kg(formula: BestFormula, load_kg: float, reps: float) -> float:
    """The best by one formula; a tested single is its own best, whatever a formula says."""
    return load_kg if reps <= 1 else FORMULAS[formula][1](load_kg, reps)


def best_from_set(load_kg: float, reps: int, formula: BestFormula = "epley", in_reserve: int = 0) -> Estimate:
    """The best that a set points to, with all seven formulas as its range.

    `reps` were done and `in_reserve` more would have gone. Raises ValueError for a load that is no load, or for a set
    longer than MOST_REPS. Above RELIABLE_REPS the note warns.
    """
    if not 0 < load_kg <= 900:
        raise ValueError("the load of a set is more than 0 and at most 900 kg")
    whole = reps + in_reserve
    if reps < 1 or in_reserve < 0 or whole > MOST_REPS:
        raise ValueError(f"a set that tells a best has 1 to {MOST_REPS} repetitions, those in reserve included")
    found = {name: best_kg(name, load_kg, whole) for name in FORMULAS}
    others = ", ".join(f"{FORMULAS[name][0]} {kg:.5g}" for name, kg in found.items() if name != formula)
    done = f"{in_kg(load_kg)} × {reps}" + (f", {in_reserve} in reserve" if in_reserve else "")
    note = ""
    if whole > RELIABLE_REPS:
        note = f"more than {RELIABLE_REPS} repetitions: every formula goes astray here; test with a heavier set"
    return Estimate.between(
        found[formula],
        min(found.values()),
        max(found.values()),
        "kg",
        f"best.{formula}",
        [done, f"by other formulas: {others} kg"],
        note,
    )
