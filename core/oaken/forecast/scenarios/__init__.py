"""For the doubtful: the same class in other circumstances, side by side."""

from oaken.forecast.scenarios.sides import Side, SideBlock, Sides, sides_of

__all__ = ["Side", "SideBlock", "Sides", "sides_of"]
