"""A second look before the doors open: what a careful colleague would say, and what mends it."""

from oaken.design.review.mending import Mended, mended
from oaken.design.review.remarks import History, Mend, PastClass, Remark, Review, hard_before, review

__all__ = ["History", "Mend", "Mended", "PastClass", "Remark", "Review", "hard_before", "mended", "review"]
