"""Tempo: the seconds of the four phases of one repetition."""

from __future__ import annotations

from typing import Annotated, NamedTuple

from pydantic import AfterValidator, Field

Phase = Annotated[float, Field(ge=0, le=30), AfterValidator(lambda value: round(value, 2))]


class Tempo(NamedTuple):
    """Seconds of one repetition: lowering – pause at the bottom – lifting – pause at the top.

    >>> Tempo(4, 0, 2, 0).rep_s
    6
    """

    lowering_s: Phase
    bottom_s: Phase
    lifting_s: Phase
    top_s: Phase = 0

    @property
    def rep_s(self) -> float:
        """Seconds of one repetition."""
        return self.lowering_s + self.bottom_s + self.lifting_s + self.top_s
