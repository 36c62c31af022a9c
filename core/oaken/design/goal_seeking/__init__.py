"""A figure of the ledger is to be somewhere: the plan's own changes that bring it there with the lowest cost."""

from oaken.design.goal_seeking.curve import TradeAxis, TradeCurve, TradePoint, trade_off
from oaken.design.goal_seeking.goals import FigureGoal, contradictions
from oaken.design.goal_seeking.reaching import Caught, GoalSearch, Reached, reach
from oaken.design.goal_seeking.search import QUICK, WHOLE, Thoroughness
from oaken.design.goal_seeking.to_slot import Fitting, fit_to_slot

__all__ = [
    "QUICK",
    "WHOLE",
    "Caught",
    "FigureGoal",
    "Fitting",
    "GoalSearch",
    "Reached",
    "Thoroughness",
    "TradeAxis",
    "TradeCurve",
    "TradePoint",
    "contradictions",
    "fit_to_slot",
    "reach",
    "trade_off",
]
