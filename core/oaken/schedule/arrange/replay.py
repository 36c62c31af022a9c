"""A block replayed many times with people as they are: no set, change or walk takes exactly what was planned."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from functools import partial

import numpy as np
import numpy.typing as npt

from oaken.basis.limits import most
from oaken.plan import Block, ClassPlan, SetsBlock
from oaken.schedule.rotation.self_paced import Placed, Task, dispatch
from oaken.schedule.timeline import BlockAt, Circumstances, Outlook, block_length
from oaken.schedule.timeline.lineup import Lineup, flat, line_up
from oaken.schedule.timeline.sets import Walks, turns_of
from oaken.schedule.timeline.size import bouts_in

Floats = npt.NDArray[np.float64]

PERSON_SPREAD = 0.08
"""Spread of a person's own pace around the planned one (standard deviation; with SET_SPREAD about 12 % in all; common
practice says 10 to 15 %)."""

SET_SPREAD = 0.09
"""Spread of one set around the person's pace."""

CHANGE_SPREAD = 0.15
"""Spread of set-up, load changes and walks."""

FASTEST, SLOWEST = 0.6, 1.7
"""What no pace goes beyond."""


LOW, HIGH = 0.1, 0.9
"""Shares of the replays between which lie eight of ten."""


def middle_and_ends(lengths_s: Floats) -> tuple[float, float, float]:
    """Low, middle and high of the lengths of all replays, in seconds."""
    low, middle, high = np.quantile(lengths_s, (LOW, 0.5, HIGH)).tolist()
    return low, middle, high


@dataclass(frozen=True, slots=True)
class BlockReplay:
    """What came of all replays of a block. Waits are means over the replays, in seconds.

    `used_share` is how much of the block each unit of the room was in use, `waited_for_s` how long people stood
    before it (both by unit; several places of a unit count as one).
    """

    length_s: Floats
    waits_s: Floats
    waits_high_s: Floats
    used_share: dict[int, float] = field(default_factory=dict)
    waited_for_s: dict[int, float] = field(default_factory=dict)

    @property
    def range_s(self) -> tuple[float, float, float]:
        """Low, middle and high of the block's lengths over the replays."""
        return middle_and_ends(self.length_s)

    @property
    def bottleneck(self) -> int | None:
        """The unit that people wait for longest; where nobody waits, the one used most; None without units."""
        if any(seconds >= 1 for seconds in self.waited_for_s.values()):
            return max(self.waited_for_s, key=lambda unit: (self.waited_for_s[unit], -unit))
        return max(self.used_share, key=lambda unit: (self.used_share[unit], -unit), default=None)


@dataclass(frozen=True, slots=True)
class ClassReplay:
    """What came of all replays of a class: its lengths (s, sorted), and those of its blocks of sets by index."""

    length_s: Floats
    blocks: dict[int, BlockReplay]

    def chance_over(self, slot_s: float) -> float:
        """Share of the replays that ended after the slot."""
        return float((self.length_s > slot_s).mean())

    @property
    def range_s(self) -> tuple[float, float, float]:
        """The same of the class."""
        return middle_and_ends(self.length_s)

    def at(self, share: float) -> float:
        """The length that this share of the replays stays below."""
        return float(np.quantile(self.length_s, share))


MOST_RUNS, LEAST_RUNS = 200, 20


def runs_for(plan: ClassPlan) -> int:
    """How often a class is replayed: a large one less often, so that all replays together stay within their bound."""
    return max(LEAST_RUNS, min(MOST_RUNS, most("replay.bouts") // max(1, bouts_in(plan))))


def replay_class(plan: ClassPlan, around: Circumstances, runs: int = MOST_RUNS, seed: int = 1) -> ClassReplay:
    """Replay a whole class. The same seed gives the same replays.

    Blocks of sets are replayed set by set; what is on the clock takes what it takes; everything else that people do
    together goes at one pace for all.
    """
    total = np.zeros(runs)
    blocks: dict[int, BlockReplay] = {}
    for index, block in enumerate(plan.blocks):
        chance = np.random.default_rng([seed, index])
        if isinstance(block, SetsBlock):
            blocks[index] = replay_block(line_up(block, around, Outlook.EXPECTED), runs, chance)
            total += blocks[index].length_s
        else:
            total += _together(block, around, runs, chance)
        if index < len(plan.blocks) - 1:
            total += block.move_on_s * _pace(chance, CHANGE_SPREAD, runs)
    return ClassReplay(np.sort(total), blocks)


def _together(block: Block, around: Circumstances, runs: int, chance: np.random.Generator) -> Floats:
    """Length of a block that everybody goes through at once: between its shortest and longest, most often expected."""
    low, likely, high = (
        block_length(BlockAt.of(block, around, outlook)).length_s
        for outlook in (Outlook.SHORTEST, Outlook.EXPECTED, Outlook.LONGEST)
    )
    if high - low < 1e-6:
        return np.full(runs, likely)
    return chance.triangular(min(low, likely), likely, max(high, likely), runs)


def replay_block(lineup: Lineup, runs: int, chance: np.random.Generator) -> BlockReplay:
    """Replay a block of sets; people keep to the order that was chosen, or to first come, first served."""
    ways, order = turns_of(lineup)
    tasks, visits = flat(ways, lineup)
    if order.gates:
        order = replace(order, visits=visits)
    walks = Walks(lineup.around.room)
    counted = [len(own) for own in tasks]
    paced = [[_paced_s(lineup, task) for task in own] for own in tasks]
    crowd = len(tasks)
    lengths, waits = np.zeros(runs), np.zeros((runs, crowd))
    used: dict[int, float] = {}
    waited: dict[int, float] = {}
    for run in range(runs):
        own_pace = _pace(chance, PERSON_SPREAD, crowd).tolist()
        set_pace = _pace(chance, SET_SPREAD, sum(counted)).tolist()
        change_pace = _pace(chance, CHANGE_SPREAD, sum(counted)).tolist()
        walk_pace = float(_pace(chance, CHANGE_SPREAD, 1)[0])
        at = 0
        actual: list[list[Task]] = []
        for person, own in enumerate(tasks):
            pace = own_pace[person]
            actual.append(
                [
                    Task(
                        task.kind,
                        task.work_s + moving * (pace * set_pace[at + index] - 1),
                        task.rest_s,
                        task.set_up_s * change_pace[at + index],
                        task.load_change_s * change_pace[at + index],
                        task.load,
                        task.leaves,
                        task.keeps,
                        task.tag,
                    )
                    for index, (task, moving) in enumerate(zip(own, paced[person], strict=True))
                ]
            )
            at += len(own)
        placed = dispatch(actual, lineup.stock, partial(_walk_s, walks, walk_pace), order)
        lengths[run] = max((own[-1].end_s for own in placed if own), default=0.0)
        for person, moves in enumerate(placed):
            waits[run, person] = sum(move.set_up_from_s - move.rested_s for move in moves)
        _count_units(placed, used, waited)
    total = max(float(lengths.sum()), 1e-9)
    places = {index: unit.places for index, unit in enumerate(lineup.around.room.units)}
    return BlockReplay(
        lengths,
        waits.mean(axis=0),
        np.quantile(waits, 0.9, axis=0),
        {unit: seconds / total / max(places[unit], 1) for unit, seconds in sorted(used.items())},
        {unit: seconds / runs for unit, seconds in sorted(waited.items())},
    )


def _walk_s(walks: Walks, pace: float, here: int, there: int) -> float:
    return walks.seconds(here, there) * pace


def _paced_s(lineup: Lineup, task: Task) -> float:
    """Seconds of a set that go at the person's own pace: what is counted, not what is timed."""
    bouts = lineup.sets[task.tag].done.bouts
    return sum(bout.effort_s for bout in bouts if bout.segment.seconds is None)


def _count_units(placed: Sequence[Sequence[Placed]], used: dict[int, float], waited: dict[int, float]) -> None:
    for moves in placed:
        for move in moves:
            if move.unit >= 0:
                used[move.unit] = used.get(move.unit, 0.0) + move.end_s - move.set_up_from_s
                waited[move.unit] = waited.get(move.unit, 0.0) + move.set_up_from_s - move.rested_s


def _pace(chance: np.random.Generator, spread: float, size: int) -> Floats:
    return np.clip(chance.normal(1.0, spread, size), FASTEST, SLOWEST)
