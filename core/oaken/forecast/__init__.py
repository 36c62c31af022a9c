"""The main job: what a class takes, does and costs, from its timeline; and the same as a table of text."""

from oaken.forecast.build import chance_inside, forecast

__all__ = [
    "chance_inside",
    "forecast",
]
