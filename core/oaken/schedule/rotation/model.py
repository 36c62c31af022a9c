"""A rotation in the terms of OR-Tools CP-SAT: intervals for visits and for all they use."""

from __future__ import annotations

import itertools
from collections import defaultdict
from collections.abc import Sequence
from typing import TYPE_CHECKING

from oaken.basis.lazily import when_used
from oaken.schedule.rotation.problem import RotationProblem

if TYPE_CHECKING:
    from ortools.sat.python import cp_model
else:
    cp_model = when_used("ortools.sat.python.cp_model")


class RotationModel:
    """The start of every operation as a variable; ends no later than `horizon_ds`; begun with `known`, a rotation."""

    def __init__(self, problem: RotationProblem, horizon_ds: int, known: Sequence[int]) -> None:
        self.problem = problem
        self.horizon_ds = horizon_ds
        self.known = known
        self.cp = cp_model.CpModel()
        self.starts: list[cp_model.IntVar] = []
        self.impossible = False
        for index, at in enumerate(problem.operations):
            visit = problem.visits[at.visit]
            own = visit.strands[at.member]
            earliest = problem.release_ds[visit.actor] + sum(s.length_ds + s.gap_ds for s in own[: at.place])
            latest = horizon_ds - sum(s.length_ds + s.gap_ds for s in own[at.place :]) + own[-1].gap_ds
            self.impossible = self.impossible or latest < earliest
            start = self.cp.new_int_var(min(earliest, latest), latest, "")
            self.cp.add_hint(start, min(max(known[index], min(earliest, latest)), latest))
            self.starts.append(start)
        self.actors = [actor for actor, mine in enumerate(problem.of_actor) if mine]
        self.windows = [self._window(number) for number in range(len(problem.visits))]
        self._strands_in_order()
        self._everybody_at_one_station()
        self._nothing_over_its_capacity()
        for first, second in problem.precedences:
            self.cp.add(self.windows[second][0] >= self.windows[first][1] + problem.visits[first].rest_ds)
        self.ends = self._ends()

    def _window(self, number: int) -> tuple[cp_model.LinearExprT, cp_model.LinearExprT]:
        """When a visit begins and ends: of one strand, at its own operations; of several, around all of them."""
        strands = self.problem.of_visit[number]
        last = [(self.starts[own[-1]], self.problem.operation(own[-1]).length_ds) for own in strands]
        if len(strands) == 1:
            return self.starts[strands[0][0]], last[0][0] + last[0][1]
        begin = self.cp.new_int_var(0, self.horizon_ds, "")
        end = self.cp.new_int_var(0, self.horizon_ds, "")
        first, until = self.problem.span_of(number, self.known)
        self.cp.add_hint(begin, min(first, self.horizon_ds))
        self.cp.add_hint(end, min(until, self.horizon_ds))
        for own, (start, length) in zip(strands, last, strict=True):
            self.cp.add(begin <= self.starts[own[0]])
            self.cp.add(end >= start + length)
        return begin, end

    def _strands_in_order(self) -> None:
        for strands in self.problem.of_visit:
            for own in strands:
                for here, there in itertools.pairwise(own):
                    op = self.problem.operation(here)
                    self.cp.add(self.starts[there] >= self.starts[here] + op.length_ds + op.gap_ds)

    def _everybody_at_one_station(self) -> None:
        for actor in self.actors:
            mine = self.problem.of_actor[actor]
            if len(mine) > 1:
                self.cp.add_no_overlap(self._around(number, self.problem.visits[number].rest_ds) for number in mine)

    def _around(self, number: int, rest: int = 0) -> cp_model.IntervalVar:
        """A visit as an interval, with the pause after it."""
        begin, end = self.windows[number]
        visit = self.problem.visits[number]
        if len(visit.strands) == 1 and len(visit.strands[0]) == 1:
            return self.cp.new_fixed_size_interval_var(begin, visit.strands[0][0].length_ds + rest, "")
        size = self.cp.new_int_var(0, self.horizon_ds + rest, "")
        first, until = self.problem.span_of(number, self.known)
        self.cp.add_hint(size, until - first + rest)
        return self.cp.new_interval_var(begin, size, end + rest, "")

    def _nothing_over_its_capacity(self) -> None:
        on: dict[str, list[cp_model.IntervalVar]] = defaultdict(list)
        for number, visit in enumerate(self.problem.visits):
            for name in visit.holds:
                on[name].append(self._around(number))
            private: dict[str, list[cp_model.IntervalVar]] = defaultdict(list)
            for index in (index for own in self.problem.of_visit[number] for index in own):
                op = self.problem.operation(index)
                if op.resource is not None:
                    taken = self.cp.new_fixed_size_interval_var(self.starts[index], op.length_ds, "")
                    (private if op.resource in visit.holds else on)[op.resource].append(taken)
            for intervals in private.values():
                if len(visit.strands) > 1:
                    self.cp.add_no_overlap(intervals)
        for resource, intervals in on.items():
            places = self.problem.capacity[resource]
            if places == 1:
                self.cp.add_no_overlap(intervals)
            elif len(intervals) > places:
                self.cp.add_cumulative(intervals, [1] * len(intervals), places)

    def _ends(self) -> dict[int, cp_model.IntVar]:
        ends = {}
        known = self.problem.ends_ds(self.known)
        for actor in self.actors:
            least = min(self.problem.release_ds[actor] + self.problem.own_ds(actor), self.horizon_ds)
            end = ends[actor] = self.cp.new_int_var(least, self.horizon_ds, "")
            for number in self.problem.of_actor[actor]:
                self.cp.add(end >= self.windows[number][1])
            self.cp.add_hint(end, min(known[actor], self.horizon_ds))
        return ends

    def shortest(self, bound_ds: int, known_ds: int) -> None:
        """The last end as early as can be."""
        length = self.cp.new_int_var(min(bound_ds, self.horizon_ds), self.horizon_ds, "")
        self.cp.add_hint(length, min(known_ds, self.horizon_ds))
        for end in self.ends.values():
            self.cp.add(length >= end)
        self.cp.minimize(length)
