"""A second look before the doors open: what a careful colleague would say, and what mends it."""

from oaken.design.review.mending import Mended, mended
from oaken.design.review.remarks import History, Mend, PastClass, Remark, SecondLook, hard_before, second_look

__all__ = ["History", "Mend", "Mended", "PastClass", "Remark", "SecondLook", "hard_before", "mended", "second_look"]
