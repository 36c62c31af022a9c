"""A figure of the ledger is to be somewhere: the plan's own changes that bring it there with the least harm."""

from oaken.aim.aimed import FIGURES, Aimed, AimedFigure, contradictions
from oaken.aim.curve import TradeAxis, TradeCurve, TradePoint, trade_off
from oaken.aim.search import Aiming, Caught, Reached, Thoroughness, reach

__all__ = [
    "FIGURES",
    "Aimed",
    "AimedFigure",
    "Aiming",
    "Caught",
    "Reached",
    "Thoroughness",
    "TradeAxis",
    "TradeCurve",
    "TradePoint",
    "contradictions",
    "reach",
    "trade_off",
]
