"""The best rotation of a block: good orders at once, made better by many small changes, and solved where that can be.

A block of up to `exact.MOST_SETS` sets is solved as it is, every set-up and load change in it; a larger one with all
that others may cost charged to everybody, where that can still tell something. Shortest first, then the least waiting:
the mean and the longest wait of one person count alike.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass, field, replace
from random import Random
from typing import Literal

from oaken.schedule.arrange.trial import Floor, Trial
from oaken.schedule.rotation.anneal import Annealing
from oaken.schedule.rotation.exact import MOST_SETS, solve_exactly
from oaken.schedule.rotation.greedy import FIRST, Weights, any_weights, greedy_order, near
from oaken.schedule.rotation.heuristic import in_ways, quick_rotation
from oaken.schedule.rotation.least import Least, least_length
from oaken.schedule.rotation.problem import TENTHS, shop_bound
from oaken.schedule.rotation.serial import Laid
from oaken.schedule.rotation.solver import RotationAnswer, RotationSearch
from oaken.schedule.timeline.lineup import Lineup

Phase = Literal["quick", "climbing", "solving", "settling", "done"]

PLACED = 30_000, 1_000_000, 600_000
"""Sets that are placed, at effort 1, in making orders, in making them shorter, and in making people wait less."""

MOST_TRIES_A_STINT = 40
"""More changes than this for every stint of a small block find nothing new."""

KEPT = 8
"""Orders that are kept of those that were made."""

BEGUN_WITH, FIRST_SHARE = 4, 0.1
"""So many of them are made shorter for this share of the tries; with the best one it goes on."""

CHUNK = 100
"""Changes between two looks at what has been found so far."""


@dataclass(slots=True)
class BlockSearch:
    """A search for the best rotation of a block that can be watched and cancelled from another thread.

    `best` is usable at any moment; `before` is how the block stands now. Deterministic unless it is cancelled. With
    `within_s` a block that is no longer than that need not be shorter: then only waiting counts.
    """

    lineup: Lineup
    effort: float = 1.0
    within_s: float | None = None
    on_better: Callable[[BlockSearch], None] = lambda search: None
    floor: Floor = field(init=False)
    before: Trial = field(init=False)
    best: Trial = field(init=False)
    bound: Least = field(init=False)
    phase: Phase = field(init=False, default="quick")
    cancelled: bool = field(init=False, default=False)
    _search: RotationSearch | None = field(init=False, default=None)

    def __post_init__(self) -> None:
        self.floor = Floor(self.lineup)
        self.before = self.floor.as_it_stands()
        self.best = self.before
        self.bound = least_length(self.floor.work)

    @property
    def bound_s(self) -> float:
        """A time that no rotation of this block can be shorter than."""
        return self.bound.ds / TENTHS

    @property
    def gap(self) -> float:
        """How far the best is above the bound, as a fraction of it."""
        return max(0.0, self.best.length_s / self.bound_s - 1) if self.bound.ds else 0.0

    @property
    def proven(self) -> bool:
        """Whether no rotation can be shorter by a second or more; never where a machine is missing altogether."""
        return not self.missing and self.best.length_s - self.bound_s < 1.0

    @property
    def missing(self) -> list[str]:
        """Kinds of equipment that somebody needs and of which no unit works: nobody can wait for one."""
        return self.lineup.missing

    @property
    def missing_names(self) -> list[str]:
        """The same as people call it."""
        known = self.lineup.around.catalogue.equipment
        return [known[kind].name.lower() if kind in known else kind for kind in self.missing]

    @property
    def _reached(self) -> bool:
        """Whether the best need not be shorter: nothing is, or it is as long as it may be."""
        return self.best.length_s - max(self.bound_s, self.within_s or 0.0) < 1.0

    def _rank(self, trial: Trial) -> tuple[int, int, float]:
        length, waits, others = trial.rank
        return max(length, round(self.within_s or 0.0)), waits, others

    @property
    def _over(self) -> bool:
        """Whether there is nothing left to look for."""
        return self.cancelled or (self._reached and self.best.waiting_s < 1.0)

    def cancel(self) -> None:
        """Stop soon; `best` stays what it is."""
        self.cancelled = True
        search = self._search
        if search is not None:
            search.cancel()

    def at_once(self) -> Trial:
        """What can be had in a moment: as it stands, first come first served, and one order made set by set."""
        self._try(self.floor.in_ways(self.lineup.ways()))
        self._keep(greedy_order(self.floor.serial, FIRST, Random(7)))
        return self.best

    def run(self) -> Trial:
        """Search to the end or to the limits; the best rotation."""
        self.at_once()
        small = self.floor.work.sets <= MOST_SETS
        if not self._over and not self._reached and small:
            self.phase = "solving"
            self._solve_exactly()
        if not self._over and not self._reached:
            self.phase = "climbing"
            self._shorten()
        if not self._over and not self._reached and not small:
            self.phase = "solving"
            self._solve_charged()
        if not self._over:
            self.phase = "settling"
            self._wait_less()
        self.phase = "done"
        self.on_better(self)
        return self.best

    def _try(self, trial: Trial) -> bool:
        if self._rank(trial) >= self._rank(self.best):
            return False
        # what counts is what a plan that keeps this rotation will show
        kept = self.floor.kept(trial.rotation)
        if self._rank(kept) >= self._rank(self.best):
            return False
        self.best = kept
        self.on_better(self)
        return True

    def _keep(self, laid: Laid) -> None:
        """Carry an order out as a plan would, where it may be better than the best."""
        if laid.length_ds / TENTHS <= max(self.best.length_s, self.within_s or 0.0) + 1.0:
            self._try(self.floor.in_stints(laid.starts))

    def _tries(self, placed: int, least: int) -> int:
        stints = max(1, len(self.floor.work.stints))
        most = MOST_TRIES_A_STINT * stints
        return max(least, round(self.effort * min(most, placed / stints)))

    def _shorten(self) -> None:
        chance = Random(7)
        kept: list[tuple[Laid, Weights]] = []
        for laid, weights in self._made(kept, chance):
            kept.append((laid, weights))
            kept.sort(key=lambda item: item[0].rank)
            del kept[KEPT:]
            self._keep(kept[0][0])
            if self._over or self._reached:
                return
        tries = self._tries(PLACED[1], 200)
        begun = [
            Annealing(self.floor.serial, laid, max(20, round(FIRST_SHARE * tries)), chance)
            for laid, _ in kept[:BEGUN_WITH]
        ]
        for item in begun:
            self._go_on(item)
        best = min(begun, key=lambda item: item.best.rank)
        self._go_on(Annealing(self.floor.serial, best.best, tries, chance))

    def _made(self, kept: list[tuple[Laid, Weights]], chance: Random) -> Iterator[tuple[Laid, Weights]]:
        """Orders made set by set, more and more often with weights like those that were good."""
        makes = self._tries(PLACED[0], 10)
        for number in range(makes):
            weights = FIRST if not number else any_weights(chance)
            if number > makes // 5 and number % 2:
                weights = near(kept[chance.randrange(min(3, len(kept)))][1], chance)
            yield greedy_order(self.floor.serial, weights, chance), weights

    def _go_on(self, annealing: Annealing) -> None:
        """Anneal to the end, carrying out what is found from time to time."""
        while annealing.tried < annealing.tries and not self.cancelled:
            self._keep(annealing.some(CHUNK))
            if annealing.limit_ds is None and self._reached:
                return
            if self._over:
                return

    def _wait_less(self) -> None:
        """Less waiting in a block that gets no longer."""
        starts = [stint.start_ds for stint in self.floor.carried(self.best)]
        begun = self.floor.serial.lay(sorted(range(len(starts)), key=lambda stint: (starts[stint], stint)))
        limit = round(max(self.best.length_s, self.within_s or 0.0) * TENTHS)
        self._go_on(Annealing(self.floor.serial, begun, self._tries(PLACED[2], 200), Random(7), limit))

    def _solve_exactly(self) -> None:
        """CP-SAT on the block as it is; what it proves is proven of the block."""
        known = self.floor.carried(self.best)
        horizon = int(self.best.length_s * TENTHS) + 2
        found = solve_exactly(self.floor.work, known, horizon, self.bound.ds, max(0.6, self.effort))
        if found.starts:
            self._try(self.floor.in_stints(found.starts))
        if found.bound_ds > self.bound.ds:
            self.bound = Least(found.bound_ds)

    def _solve_charged(self) -> None:
        """CP-SAT on the charged problem, begun from the best so far; each better order is carried out exactly."""
        problem = replace(self.floor.block_problem.problem, limit_ds=None)
        if shop_bound(problem).ds / TENTHS >= self.best.length_s - 1.0 and not self.floor.charged_exactly:
            return  # with everything charged it cannot be as short as it is
        visit_of = {(visit.actor, visit.station): index for index, visit in enumerate(problem.visits)}
        ways = [
            [visit_of[number, station] for station in self.best.ways[company[0]] if (number, station) in visit_of]
            for number, company in enumerate(self.lineup.companies)
        ]
        begin = min((in_ways(problem, ways), quick_rotation(problem)), key=problem.length_ds)
        search = RotationSearch(problem, self.effort, begin, self._solved)
        self._search = search
        if self.cancelled:
            return
        answer = search.run()
        self._search = None
        # what the solver proves holds for the charged problem; for the block only where nothing charged can be saved
        if answer.bound_ds > self.bound.ds and self.floor.charged_exactly:
            self.bound = Least(answer.bound_ds)

    def _solved(self, answer: RotationAnswer) -> None:
        self._try(self.floor.in_starts(answer.starts))
