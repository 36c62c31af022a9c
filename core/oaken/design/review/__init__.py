"""The review of a class before it is held: what a careful colleague would say, and what mends it."""

from oaken.design.review.advice import Advice, AdviceList, advise
from oaken.design.review.mending import Mended, mended
from oaken.design.review.remarks import History, Mend, PastClass, Remark, Review, hard_before, review

__all__ = [
    "Advice",
    "AdviceList",
    "History",
    "Mend",
    "Mended",
    "PastClass",
    "Remark",
    "Review",
    "advise",
    "hard_before",
    "mended",
    "review",
]
