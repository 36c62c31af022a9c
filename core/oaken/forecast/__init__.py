"""The main job: what a class takes, does and costs, from its timeline; and the same as a table of text."""

from oaken.forecast.build import chance_inside, forecast
from oaken.forecast.in_short import Brief, brief

__all__ = [
    "Brief",
    "brief",
    "chance_inside",
    "forecast",
]
