"""A target beside every set: what somebody did in it last time at the same scheme, and the best they did in it.

The same scheme is the same planned repetitions set by set, whenever that was: heavy sets are not laid beside light ones
of the week before.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from datetime import date
from itertools import groupby
from typing import Protocol

from pydantic import BaseModel, ConfigDict

from oaken.basis.words import in_kg
from oaken.programme.progress.scheme_done import Window

TARGET_DAYS = 84
"""How far is looked back for the same scheme."""

LESS_PER_REPETITION = 30
"""Sets at different loads are compared by load × (1 + repetitions ÷ 30) (Epley 1985, from memory)."""


class Logged(Protocol):
    """What is asked of a set that was done: the fields of a `SetRecord` of these names."""

    @property
    def on(self) -> date: ...
    @property
    def run(self) -> int: ...
    @property
    def block(self) -> str: ...
    @property
    def part(self) -> str: ...
    @property
    def number(self) -> int: ...
    @property
    def load_kg(self) -> float | None: ...
    @property
    def reps(self) -> int | None: ...
    @property
    def seconds(self) -> float | None: ...
    @property
    def low(self) -> int | None: ...
    @property
    def high(self) -> int | None: ...
    @property
    def helped(self) -> bool: ...
    @property
    def poor(self) -> bool: ...
    @property
    def as_planned(self) -> bool: ...
    @property
    def set_up(self) -> str: ...


class SetBefore(BaseModel):
    """A set as it was done on a day: load (kg), repetitions, seconds; None where it was not said."""

    model_config = ConfigDict(frozen=True, json_schema_serialization_defaults_required=True)

    on: date
    load_kg: float | None
    reps: int | None
    seconds: float | None

    @property
    def worth(self) -> float:
        """What sets of one window are compared by: more is better."""
        if self.reps is not None:
            return (self.load_kg or 1.0) * (1 + self.reps / LESS_PER_REPETITION)
        return self.load_kg or self.seconds or 0.0

    @property
    def words(self) -> str:
        """How it is written: 60 kg × 12."""
        count = f"{self.reps}" if self.reps is not None else "" if self.seconds is None else f"{self.seconds:.0f} s"
        return " × ".join(filter(None, ["" if not self.load_kg else in_kg(self.load_kg), count]))


class SetTarget(BaseModel):
    """What is to be reached in a set: what it was last time, and the best there was before where that is more."""

    model_config = ConfigDict(frozen=True, json_schema_serialization_defaults_required=True)

    number: int
    last: SetBefore
    best: SetBefore | None = None

    @property
    def words(self) -> str:
        """Last time and what is to beat, in a few words: 60 kg × 12, best 65 kg × 12."""
        return self.last.words if self.best is None else f"{self.last.words}, best {self.best.words}"


def set_targets(
    records: Iterable[Logged], planned: Sequence[Window | None], set_ups: Sequence[str] = ()
) -> list[SetTarget]:
    """The targets of the planned sets of one person and exercise, in the order of their numbers; none for a set that
    was never done at this scheme and with this set-up (`set_ups` of the planned sets; empty: any). Sets that were
    helped, cut short or of poor form set none."""
    by_set: dict[int, list[SetBefore]] = {}
    ordered = sorted(records, key=lambda item: (item.on, item.run, item.block, item.part, item.number))
    for _, own in groupby(ordered, key=lambda item: (item.on, item.run, item.block, item.part)):
        sets = list(own)
        if not _same_scheme(sets, planned):
            continue
        for number, alike in groupby(sets, key=lambda item: item.number):
            wanted = set_ups[number - 1] if number <= len(set_ups) else None
            told = [found for item in alike if wanted in (None, item.set_up) and (found := _before(item)) is not None]
            if told:
                # of left and right the weaker side
                by_set.setdefault(number, []).append(min(told, key=lambda item: item.worth))
    return [_target(number, days) for number, days in sorted(by_set.items()) if number <= len(planned)]


def _same_scheme(sets: Sequence[Logged], planned: Sequence[Window | None]) -> bool:
    """Whether the sets of a part were planned as these are, as far as both go."""
    windows = {item.number: None if item.low is None or item.high is None else (item.low, item.high) for item in sets}
    return all(window == planned[number - 1] for number, window in windows.items() if number <= len(planned))


def _before(item: Logged) -> SetBefore | None:
    """What a set says; None where it says nothing but that the clock ran."""
    by_clock = item.reps is None and not item.load_kg and item.as_planned
    if by_clock or item.helped or item.poor:
        return None
    seconds = None if item.seconds is None or item.reps is not None else round(item.seconds, 1)
    return SetBefore(on=item.on, load_kg=item.load_kg, reps=item.reps, seconds=seconds)


def _target(number: int, days: Sequence[SetBefore]) -> SetTarget:
    last, best = days[-1], max(days, key=lambda item: item.worth)
    return SetTarget(number=number, last=last, best=best if best.worth > last.worth + 1e-9 else None)
