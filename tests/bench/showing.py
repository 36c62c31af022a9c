"""How a figure of the bench is measured and printed."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any


def show(name: str, value: float, unit: str, goal: float) -> None:
    """Print one figure."""
    print(f"{name}: {value:.1f} {unit} (goal ≤ {goal:g} {unit})")


def milliseconds(benchmark: Any, work: Callable[[], Any], rounds: int = 20) -> tuple[Any, float]:
    """The result of the work and its median time."""
    result = benchmark.pedantic(work, rounds=rounds, warmup_rounds=3)
    return result, benchmark.stats.stats.median * 1000
