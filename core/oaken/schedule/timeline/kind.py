"""What the time axis has to know of a kind of block."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Generic, TypeVar

from oaken.domain.catalogue import Catalogue
from oaken.plan import AnyPart
from oaken.plan.blocks import BlockBase
from oaken.schedule.timeline.bouts import Outlook, SlotTime
from oaken.schedule.timeline.schedule import Circumstances, Schedule
from oaken.schedule.timeline.steps import BlockSpan

AnyBlock = TypeVar("AnyBlock", bound=BlockBase)


@dataclass(frozen=True, slots=True)
class BlockLength:
    """How long a block is, and how long everybody waits in it, in seconds."""

    length_s: float
    waits_s: tuple[float, ...]

    @classmethod
    def without_waits(cls, length_s: float, crowd: int) -> BlockLength:
        """A block in which nobody waits for anybody."""
        return cls(length_s, (0.0,) * crowd)


@dataclass(frozen=True, slots=True)
class TimeKind(Generic[AnyBlock]):
    """One kind of block on the time axis.

    `lay_out` writes everybody's steps into a schedule, `length` says the same length without them. `part_time` is how
    long one person is with a part, alone on it. `bouts` counts what one person does, and `own_s` the seconds that
    takes alone and without waiting: both are known before anything is laid out. `shares_machines` says whether people
    may wait for one another's machines.
    """

    lay_out: Callable[[Schedule, AnyBlock], BlockSpan]
    length: Callable[[AnyBlock, Circumstances, Outlook], BlockLength]
    part_time: Callable[[AnyPart, AnyBlock, Catalogue, Outlook], SlotTime]
    bouts: Callable[[AnyBlock], int]
    own_s: Callable[[AnyBlock, Catalogue], float]
    shares_machines: bool = False
