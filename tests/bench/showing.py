"""How a figure of the bench is printed."""

from __future__ import annotations


def show(name: str, value: float, unit: str, goal: float) -> None:
    """Print one figure."""
    print(f"{name}: {value:.1f} {unit} (goal ≤ {goal:g} {unit})")
