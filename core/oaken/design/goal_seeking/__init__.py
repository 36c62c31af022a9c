"""A figure of the ledger is to be somewhere: the plan's own changes that bring it there with the least harm."""

from oaken.design.goal_seeking.aimed import FIGURES, Aimed, AimedFigure, contradictions
from oaken.design.goal_seeking.curve import TradeAxis, TradeCurve, TradePoint, trade_off
from oaken.design.goal_seeking.reaching import Aiming, Caught, Reached, reach
from oaken.design.goal_seeking.search import QUICK, WHOLE, Thoroughness
from oaken.design.goal_seeking.to_slot import Fitting, fit_to_slot

__all__ = [
    "FIGURES",
    "QUICK",
    "WHOLE",
    "Aimed",
    "AimedFigure",
    "Aiming",
    "Caught",
    "Fitting",
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
