"""The sets of a session as a scheme: what was planned of each, which of them judge, and which load governs.

Sets that were planned alike are judged together by their own window of repetitions. The group with the heaviest load
governs, because the lighter ones follow from it. All rules here are common practice, no source.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from itertools import groupby, pairwise

from oaken.physiology.strength.reps_at_load import share_for
from oaken.programme.progress.record import SetRecord
from oaken.programme.progress.series import Session

Window = tuple[int, int]
"""The fewest and the most repetitions that were planned of a set."""

MUCH_LIGHTER = 0.10
"""A set that is more than this share lighter than its group's load does not judge it."""

LEADS_UP_SHARE = 0.85
"""Sets before the heaviest ones that ask for less than this share of what those ask for only lead up to them."""

TOLERANCE_REPS, TOLERANCE_SHARE = 2, 0.25
"""A window that is one number reaches down by a quarter of it, at most by two repetitions: 3 × 10 holds down to 8, a
set of 4 down to 3."""


def lowest_of(window: Window) -> int:
    """The fewest repetitions with which a set of this window is still done."""
    low, high = window
    return low if low < high else low - min(TOLERANCE_REPS, int(low * TOLERANCE_SHARE))


@dataclass(frozen=True, slots=True)
class SetGroup:
    """Sets in a row that were planned with one window (None: none was, or nothing was counted).

    `kg` is the load they are judged at; `judging` are those of them that count, without the much lighter ones. `own`
    says that each set is meant to have a load of its own, as in a ramp. `places` are their places in the session from
    1; `leads_up` marks a warm-up of the heavier sets behind it.
    """

    window: Window | None
    kg: float
    sets: tuple[SetRecord, ...]
    places: tuple[int, ...]
    judging: tuple[SetRecord, ...]
    own: bool
    leads_up: bool = False

    @property
    def low(self) -> int:
        """The fewest repetitions that are still inside. Asked only of groups with a window."""
        assert self.window is not None
        return lowest_of(self.window)

    @property
    def high(self) -> int:
        """The top of the window. Asked only of groups with a window."""
        assert self.window is not None
        return self.window[1]

    @property
    def reps(self) -> tuple[int, ...]:
        """The repetitions of the sets that judge."""
        return tuple(item.reps for item in self.judging if item.reps is not None)

    @property
    def nothing_lifted(self) -> bool:
        """Whether a set of it reached nothing: that is never a success."""
        return any(item.reps == 0 for item in self.sets)

    @property
    def at_top(self) -> bool:
        """Whether every set that judges reached the top of the window, what was left in reserve not counted."""
        return not self.nothing_lifted and bool(self.reps) and min(self.reps) >= self.high

    @property
    def all_short(self) -> bool:
        """Whether no set that judges came into the window."""
        return bool(self.reps) and max(self.reps) < self.low

    @property
    def spare(self) -> int | None:
        """Repetitions beyond the top that the hardest set of which it is known would still have allowed: those that
        were left are told, a set to failure had none but those over the top. None where no set tells."""
        told = [
            item.reps + (item.reps_left or 0) - self.high
            for item in self.judging
            if item.reps is not None and (item.reps_left is not None or item.ended == "failed")
        ]
        return min(told) if told else None

    @property
    def asks_kg(self) -> float:
        """The one-repetition maximum that this load and these repetitions stand for, by the usual table."""
        reps = self.high if self.window is not None else max(self.reps, default=1)
        return self.kg / share_for(max(1, reps))

    def place_of(self, item: SetRecord) -> int:
        """Which set of the session this is, counted from 1."""
        return self.places[self.sets.index(item)]


@dataclass(frozen=True, slots=True)
class SchemeDone:
    """A session as the rules read it: its groups in their order, which of them governs (`heaviest`), whether all that
    was planned was done, and the side that leads where left and right had loads of their own (`weaker_side`)."""

    groups: tuple[SetGroup, ...]
    heaviest: SetGroup
    complete: bool
    weaker_side: str

    @classmethod
    def of(cls, session: Session, planned: Sequence[Window | None] = ()) -> SchemeDone:
        """A session with a load; sets without a window of their own are judged by the `planned` ones in their order.
        Raises ValueError where no set has a load."""
        loaded = [item for item in session.sets if item.load_kg]
        counted = [item for item in loaded if item.reps is not None] or loaded
        if not counted:
            raise ValueError("no set has a load")
        sets, weaker = _weaker_side(counted)
        numbers = list(dict.fromkeys((item.part, item.number) for item in session.sets))
        places = [numbers.index((item.part, item.number)) + 1 for item in sets]
        windows = [_window(item, place, planned) for item, place in zip(sets, places, strict=True)]
        groups = []
        for window, own in groupby(range(len(sets)), key=lambda index: windows[index]):
            these = list(own)
            groups.append(_group(window, [sets[index] for index in these], [places[index] for index in these]))
        heaviest = max(groups, key=lambda group: group.kg)
        at = groups.index(heaviest)
        marked = tuple(
            replace(group, leads_up=place < at and group.asks_kg < LEADS_UP_SHARE * heaviest.asks_kg)
            for place, group in enumerate(groups)
        )
        wanted = {item.part: item.sets for item in session.sets}
        return cls(marked, marked[at], len(numbers) >= sum(wanted.values()), weaker)

    @property
    def working(self) -> tuple[SetGroup, ...]:
        """The groups that are no warm-up."""
        return tuple(group for group in self.groups if not group.leads_up)

    @property
    def is_ladder(self) -> bool:
        """Whether every set is a step of one scheme: three or more windows of one set each, or loads that rise while
        the repetitions fall. Any miss then counts for all of it."""
        work = self.working
        if len(work) < 2:
            return False
        if len(work) >= 3 and all(len(set(group.places)) == 1 for group in work):
            return True
        return all(here.kg < there.kg and _falls(here, there) for here, there in pairwise(work))

    @property
    def windows(self) -> tuple[Window | None, ...]:
        """What was planned of each set, in their order."""
        return tuple(group.window for group in self.groups for _ in dict.fromkeys(group.places))


def _falls(here: SetGroup, there: SetGroup) -> bool:
    return here.window is not None and there.window is not None and here.window > there.window


def _window(item: SetRecord, place: int, planned: Sequence[Window | None]) -> Window | None:
    if item.low is not None and item.high is not None:
        return item.low, item.high
    if item.reps is None or not planned:
        return None
    return planned[min(place, len(planned)) - 1]


def _weaker_side(sets: Sequence[SetRecord]) -> tuple[list[SetRecord], str]:
    """Where left and right were done with loads of their own the weaker side leads: only its sets judge, and it is
    named."""
    heaviest = {
        side: max(item.load_kg or 0.0 for item in sets if item.side == side) for side in {item.side for item in sets}
    }
    sides = {side: kg for side, kg in heaviest.items() if side}
    if len(sides) < 2 or len(set(sides.values())) < 2:
        return list(sets), ""
    weaker = min(sides, key=lambda side: sides[side])
    return [item for item in sets if item.side in ("", weaker)], weaker


def _group(window: Window | None, sets: Sequence[SetRecord], places: Sequence[int]) -> SetGroup:
    loads = [item.load_kg for item in sets if item.load_kg is not None]
    own = _meant_to_differ(sets, loads)
    # where all were meant alike it is the load of most sets, the heavier of two
    kg = max(loads) if own else max(set(loads), key=lambda item: (loads.count(item), item))
    judging = tuple(
        item
        for item in sets
        if item.load_kg is not None
        and item.reps is not None
        and (kg * (1 - MUCH_LIGHTER) - 1e-6 <= item.load_kg <= (kg + 1e-6 if not own else 1e9))
    )
    return SetGroup(window, kg, tuple(sets), tuple(places), judging, own)


def _meant_to_differ(sets: Sequence[SetRecord], loads: Sequence[float]) -> bool:
    """Whether each set has a load of its own on purpose: so it was planned, or each of three or more is heavier than
    the one before, or each lighter."""
    if any(item.side for item in sets):
        return False
    if len({item.planned_kg for item in sets}) > 1:
        return True
    steps = [there - here for here, there in pairwise(loads)]
    return len(loads) >= 3 and (min(steps) > 0 or max(steps) < 0)
