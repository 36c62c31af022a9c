"""The main job: what a class takes, does and costs, from its timeline; and the same as a table of text."""

from oaken.forecast.build import chance_inside, forecast
from oaken.forecast.in_short import Brief, brief
from oaken.forecast.levers import Lever, levers_of
from oaken.forecast.likely import likely_figures

__all__ = [
    "Brief",
    "Lever",
    "brief",
    "chance_inside",
    "forecast",
    "levers_of",
    "likely_figures",
]
