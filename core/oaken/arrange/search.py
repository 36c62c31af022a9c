"""The best rotation of a block: heuristics at once, then climbing on the exact schedule and CP-SAT, best first."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field
from random import Random
from typing import Literal

from oaken.arrange.trial import Floor, Trial, Ways
from oaken.rotation.heuristic import in_ways, quick_rotation
from oaken.rotation.problem import TENTHS, Bound, least_length
from oaken.rotation.solver import GOALS, Answer, Search
from oaken.timeline.lineup import Lineup

Phase = Literal["quick", "climbing", "solving", "settling", "done"]
CLIMBS = 300_000
"""Sets that are placed while climbing: a block of 300 sets is carried out a thousand times."""

PATIENCE = 0.4
"""Share of the climb after which it ends if nothing better was found."""


@dataclass(slots=True)
class BlockSearch:
    """A search for the best rotation of a block that can be watched and cancelled from another thread.

    `best` is usable at any moment; `before` is how the block stands now. Deterministic unless it is cancelled.
    """

    lineup: Lineup
    effort: float = 1.0
    on_better: Callable[[BlockSearch], None] = lambda search: None
    floor: Floor = field(init=False)
    before: Trial = field(init=False)
    best: Trial = field(init=False)
    bound: Bound = field(init=False)
    phase: Phase = field(init=False, default="quick")
    possible: bool = field(init=False, default=True)
    cancelled: bool = field(init=False, default=False)
    _search: Search | None = field(init=False, default=None)

    def __post_init__(self) -> None:
        self.floor = Floor(self.lineup)
        self.before = self.floor.as_it_stands()
        self.best = self.before
        self.bound = least_length(self.floor.block_problem.problem, surely=True)

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
        """Whether no rotation can be shorter by a second or more."""
        return self.best.length_s - self.bound_s < 1.0

    def cancel(self) -> None:
        """Stop soon; `best` stays what it is."""
        self.cancelled = True
        search = self._search
        if search is not None:
            search.cancel()

    def at_once(self) -> Trial:
        """What can be had in a moment: as it stands, first come first served, and the quick heuristic."""
        self._try(self.floor.in_ways(self.lineup.ways()))
        self._try(self.floor.in_starts(quick_rotation(self.floor.block_problem.problem)))
        return self.best

    def run(self) -> Trial:
        """Search to the end or to the limits; the best rotation."""
        self.at_once()
        self._climb(self.best.ways, 0.5)
        if not self.cancelled:
            self._solve()
        if not self.cancelled and not self.proven:
            self.phase = "settling"
            self._climb(self.best.ways, 0.5)
        self.phase = "done"
        self.on_better(self)
        return self.best

    def _try(self, trial: Trial) -> bool:
        if trial.rank >= self.best.rank:
            return False
        # what counts is what a plan that keeps this rotation will show
        kept = self.floor.kept(trial.rotation)
        if kept.rank >= self.best.rank:
            return False
        self.best = kept
        self.on_better(self)
        return True

    def _climb(self, ways: Ways, share: float) -> None:
        """Change the order of somebody's visits as long as the exact schedule gets better."""
        if self.phase == "quick":
            self.phase = "climbing"
        sets = max(1, sum(len(visit) for own in self.lineup.tasks for visit in own))
        tries = max(20, round(CLIMBS * self.effort * share / sets))
        chance = Random(7)
        here = self.floor.in_ways(ways)
        self._try(here)
        since = 0
        for _ in range(tries):
            if self.cancelled or since > tries * PATIENCE:
                break
            trial = self.floor.in_ways(self._neighbour(here.ways, chance))
            since += 1
            if trial.rank < here.rank:
                here, since = trial, 0
                self._try(here)

    def _neighbour(self, ways: Ways, chance: Random) -> list[list[int]]:
        """The same ways but for one change: two companies change places, or one goes another way."""
        companies = self.lineup.companies
        found = [list(way) for way in ways]
        kind = chance.random()
        one = chance.randrange(len(companies))
        first = companies[one][0]
        if kind < 0.5 and len(companies) > 1:
            other = companies[(one + chance.randrange(1, len(companies))) % len(companies)][0]
            new = {one: list(ways[other]), self._company_of(other): list(ways[first])}
        else:
            way = list(ways[first])
            here, there = chance.randrange(len(way)), chance.randrange(len(way))
            if kind < 0.8:
                way[here], way[there] = way[there], way[here]
            else:
                way = way[here:] + way[:here]
            new = {one: way}
        for company, way in new.items():
            allowed = self.lineup.in_stages(way)
            for person in companies[company]:
                found[person] = allowed
        return found

    def _company_of(self, person: int) -> int:
        return next(number for number, company in enumerate(self.lineup.companies) if person in company)

    def _solve(self) -> None:
        """CP-SAT on the charged problem, begun from the best so far; each better order is carried out exactly."""
        self.phase = "solving"
        problem = self.floor.block_problem.problem
        visit_of = {(visit.actor, visit.station): index for index, visit in enumerate(problem.visits)}
        ways = [
            [visit_of[number, station] for station in self.best.ways[company[0]] if (number, station) in visit_of]
            for number, company in enumerate(self.lineup.companies)
        ]
        begin = min((in_ways(problem, ways), quick_rotation(problem)), key=problem.length_ds)
        # a shorter charged rotation is of no use where the exact one cannot be shortened any more
        goals = GOALS[1:] if self.proven else GOALS
        search = Search(problem, self.effort, begin, self._solved, goals)
        self._search = search
        if self.cancelled:
            return
        answer = search.run()
        self._search = None
        # what the solver proves holds for the charged problem; for the block only where nothing charged can be saved
        if answer.bound_ds > self.bound.ds and problem.exact:
            self.bound = Bound(answer.bound_ds)
        self.possible = answer.possible or self._in_time()

    def _in_time(self) -> bool:
        limit = self.lineup.block.within_s
        return limit is None or self.best.length_s <= limit

    def _solved(self, goal: str, answer: Answer) -> None:
        if answer.starts:
            self._try(self.floor.in_starts(answer.starts))
