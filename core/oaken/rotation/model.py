"""A rotation in the terms of OR-Tools CP-SAT: intervals for visits and for all they use, and a goal."""

from __future__ import annotations

import itertools
from collections import defaultdict
from collections.abc import Collection, Sequence
from typing import Literal

from ortools.sat.python import cp_model

from oaken.rotation.problem import RotationProblem

Goal = Literal["length", "waiting", "changes"]

MOST_ARCS = 12_000
"""Above this many pairs of neighbours, load changes and walks are left as they are."""

CHANGE_WEIGHS_DS = 300
"""A load change weighs as much as walking for half a minute (common practice, no source)."""


class RotationModel:
    """The start of every operation as a variable, or fixed where its visit is not among `free`; ends no later than
    `horizon_ds`. `known` is a rotation to begin with. A goal keeps what was added before.
    """

    def __init__(
        self, problem: RotationProblem, horizon_ds: int, known: Sequence[int], free: Collection[int] | None = None
    ) -> None:
        self.problem = problem
        self.horizon_ds = horizon_ds
        self.known = known
        self.cp = cp_model.CpModel()
        self.free = set(range(len(problem.visits)) if free is None else free)
        self.starts: list[cp_model.LinearExprT] = list(known)
        self.impossible = False
        for index, at in enumerate(problem.operations):
            if at.visit not in self.free:
                continue
            visit = problem.visits[at.visit]
            own = visit.strands[at.member]
            earliest = problem.release_ds[visit.actor] + sum(s.length_ds + s.gap_ds for s in own[: at.place])
            latest = horizon_ds - sum(s.length_ds + s.gap_ds for s in own[at.place :]) + own[-1].gap_ds
            self.impossible = self.impossible or latest < earliest
            start = self.cp.new_int_var(min(earliest, latest), latest, "")
            self.cp.add_hint(start, min(max(known[index], min(earliest, latest)), latest))
            self.starts[index] = start
        self.actors = sorted({problem.visits[index].actor for index in self.free})
        self.windows = {number: self._window(number) for actor in self.actors for number in problem.of_actor[actor]}
        self._strands_in_order()
        self._everybody_at_one_station()
        self._nothing_over_its_capacity()
        for first, second in problem.precedences:
            if first in self.windows:
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
        for number in sorted(self.free):
            for own in self.problem.of_visit[number]:
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
        begin, end = self.windows[number] if number in self.windows else self._window(number)
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

    def least_waiting(self) -> None:
        """Everybody's last end as early as can be, in sum."""
        self.cp.minimize(sum(self.ends.values()))

    def no_later_in_sum(self, sum_ds: int) -> None:
        """Keep the sum of everybody's last ends."""
        self.cp.add(sum(self.ends.values()) <= sum_ds)

    def fewest_changes(self) -> bool:
        """As few load changes as can be on resources of one place, and the shortest walks; False where the order of
        neighbours costs nothing, or there are too many of them."""
        rows = [*self._rows_of_resources(), *self._rows_of_actors()]
        if not rows or sum(len(row) ** 2 for row, _ in rows) > MOST_ARCS:
            return False
        self.cp.minimize(sum(self._row(nodes, prices) for nodes, prices in rows))
        return True

    def _rows_of_resources(self) -> list[tuple[list[_Node], dict[tuple[int, int], int]]]:
        problem = self.problem
        on: dict[str, list[int]] = defaultdict(list)
        for index in range(len(problem.operations)):
            op = problem.operation(index)
            if op.resource is not None and op.load is not None and problem.capacity[op.resource] == 1:
                on[op.resource].append(index)
        rows = []
        for mine in on.values():
            if len({problem.operation(index).load for index in mine}) > 1:
                nodes = [
                    (self.starts[index], self.starts[index] + problem.operation(index).length_ds) for index in mine
                ]
                loads = [problem.operation(index).load for index in mine]
                prices = {
                    (here, there): CHANGE_WEIGHS_DS
                    for here in range(len(mine))
                    for there in range(len(mine))
                    if loads[here] != loads[there]
                }
                rows.append((nodes, prices))
        return rows

    def _rows_of_actors(self) -> list[tuple[list[_Node], dict[tuple[int, int], int]]]:
        problem = self.problem
        if not any(problem.walk_ds.values()):
            return []
        rows = []
        for mine in problem.of_actor:
            if len(mine) > 1:
                at = [problem.visits[number].station for number in mine]
                prices = {
                    (here, there): problem.walk_ds.get((at[here], at[there]), 0)
                    for here in range(len(mine))
                    for there in range(len(mine))
                }
                rows.append(([self.windows[number] for number in mine], prices))
        return rows

    def _row(self, nodes: list[_Node], prices: dict[tuple[int, int], int]) -> cp_model.LinearExprT:
        """Who follows whom in a row, as a circle through a mark for its beginning; the price of all neighbours."""
        arcs: list[cp_model.ArcT] = []
        total: list[cp_model.LinearExprT] = []
        for here, (_, end) in enumerate(nodes):
            arcs.append((0, here + 1, self.cp.new_bool_var("")))
            arcs.append((here + 1, 0, self.cp.new_bool_var("")))
            for there, (begin, _) in enumerate(nodes):
                if here == there:
                    continue
                follows = self.cp.new_bool_var("")
                arcs.append((here + 1, there + 1, follows))
                self.cp.add(begin >= end).only_enforce_if(follows)
                price = prices.get((here, there), 0)
                if price:
                    total.append(follows * price)
        self.cp.add_circuit(arcs)
        return sum(total)


_Node = tuple[cp_model.LinearExprT, cp_model.LinearExprT]
