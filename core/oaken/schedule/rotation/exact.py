"""A block of sets as it really runs, in the terms of OR-Tools CP-SAT: who follows whom where, and what it costs.

Where `model.py` charges set-up, load change and the longest walk to everybody, here they are what they are after the
one who was there before. A solution is carried out by the dispatcher in the order of its starts.
"""

from __future__ import annotations

import itertools
from collections import defaultdict
from collections.abc import Iterator, Sequence
from typing import TYPE_CHECKING, NamedTuple

from oaken.basis.lazily import when_used
from oaken.schedule.rotation.least import least_visits
from oaken.schedule.rotation.work import Carried, SharedWork, tenths

if TYPE_CHECKING:
    from ortools.sat.python import cp_model
else:
    cp_model = when_used("ortools.sat.python.cp_model")

MOST_SETS = 26
"""Up to this many sets a block is solved as it is."""

EFFORT = 5.0
"""Deterministic time of that (solver's units; 0.1 is half a second of one core here)."""


class Exact(NamedTuple):
    """What was found: the start of every stint (empty where nothing was), what no order is shorter than, and whether it
    was proven that none keeps the horizon."""

    starts: tuple[int, ...]
    bound_ds: int
    impossible: bool = False


def solve_exactly(work: SharedWork, known: Sequence[Carried], horizon_ds: int, least_ds: int, effort: float) -> Exact:
    """The shortest order of a whole block, no longer than `horizon_ds`; `known` is some order to begin with.

    `least_ds` is a bound that is known already; `effort` is a share of `EFFORT`.
    """
    if horizon_ds < least_ds:
        return Exact((), least_ds, impossible=True)
    model = ExactModel(work, horizon_ds, known)
    if model.impossible:
        return Exact((), least_ds, impossible=True)
    model.cp.minimize(model.length(least_ds))
    solver = cp_model.CpSolver()
    solver.parameters.num_workers = 1
    solver.parameters.random_seed = 7
    solver.parameters.max_deterministic_time = EFFORT * effort
    status = solver.solve(model.cp)
    if status == cp_model.INFEASIBLE:
        return Exact((), least_ds, impossible=True)
    found = status in (cp_model.OPTIMAL, cp_model.FEASIBLE)
    starts = tuple(solver.value(start) for start in model.starts) if found else ()
    return Exact(starts, max(least_ds, round(solver.best_objective_bound)))


class ExactModel:
    """Start, place and follower of every stint as variables; ends no later than `horizon_ds`. `known` is how it was
    carried out so far.
    """

    def __init__(self, work: SharedWork, horizon_ds: int, known: Sequence[Carried]) -> None:
        self.work, self.horizon_ds, self.known = work, horizon_ds, known
        self.cp = cp_model.CpModel()
        self.impossible = False
        self.on_lane: dict[tuple[int, int], cp_model.IntVar] = {}
        self._prepared: list[list[cp_model.LinearExprT]] = [[] for _ in work.stints]
        self.starts = [self._start(index) for index in range(len(work.stints))]
        if self.impossible:
            return
        self._nobody_at_once_on_a_place()
        self._everybody_one_after_the_other()
        self.prepared = [cp_model.LinearExpr.sum(costs) for costs in self._prepared]
        self.ends = [self.cp.new_int_var(0, horizon_ds, "") for _ in work.stints]
        for index, (start, end) in enumerate(zip(self.starts, self.ends, strict=True)):
            self.cp.add(end == start + self.prepared[index] + work.stints[index].length_ds)
        self._after_one_another()
        self._through_the_gates()
        self.person_ends = self._person_ends()

    def _start(self, index: int) -> cp_model.IntVar:
        stint = self.work.stints[index]
        release = self.work.release_ds(stint.person)
        latest = self.horizon_ds - stint.length_ds
        if latest < release:
            self.impossible = True
            latest = release
        start = self.cp.new_int_var(release, latest, "")
        self.cp.add_hint(start, min(max(self.known[index].start_ds, release), latest))
        return start

    # who follows whom on a place

    def _nobody_at_once_on_a_place(self) -> None:
        on: dict[str, list[int]] = defaultdict(list)
        for index, stint in enumerate(self.work.stints):
            if self.work.stock.get(stint.kind):
                on[stint.kind].append(index)
        self._follows: list[tuple[int, int, cp_model.IntVar]] = []
        for kind, mine in on.items():
            lanes = self.work.stock[kind]
            for index in mine:
                if len(lanes) > 1:
                    for lane in range(len(lanes)):
                        here = self.on_lane[index, lane] = self.cp.new_bool_var("")
                        self.cp.add_hint(here, self.known[index].lane == lane)
                    self.cp.add_exactly_one(self.on_lane[index, lane] for lane in range(len(lanes)))
            for lane, unit in enumerate(lanes):
                self._row(unit, lane, mine, len(lanes) > 1)

    def _row(self, unit: int, lane: int, mine: list[int], optional: bool) -> None:
        """Who follows whom on one place, as a circle through a mark for its beginning and end."""
        known = self.known
        order = sorted((index for index in mine if known[index].lane == lane), key=lambda index: known[index].start_ds)
        node = {index: place for place, index in enumerate(mine, 1)}
        following = dict(itertools.pairwise([-1, *order, -1]))
        arcs: list[cp_model.ArcT] = []

        def arc(here: int, there: int) -> None:
            literal = self.cp.new_bool_var("")
            self.cp.add_hint(literal, following.get(here) == there)
            arcs.append((node.get(here, 0), node.get(there, 0), literal))
            if there >= 0:
                self._prepared[there].append(self._preparing(here, there, unit) * literal)
                if here >= 0:
                    self._follows.append((here, there, literal))

        for index in mine:
            arc(-1, index)
            arc(index, -1)
            for other in mine:
                if other != index and self._may_follow(index, other):
                    arc(index, other)
            if optional:
                arcs.append((node[index], node[index], self.on_lane[index, lane].negated()))
        if optional:
            arcs.append((0, 0, self.cp.new_bool_var("")))
        self.cp.add_circuit(arcs)

    def _may_follow(self, here: int, there: int) -> bool:
        """Whether one may come straight after the other: within a visit, stints keep their order."""
        one, other = self.work.stints[here], self.work.stints[there]
        return (one.person, one.station) != (other.person, other.station) or here < there

    def _preparing(self, here: int, there: int, unit: int) -> int:
        """Set-up and load change of a stint that comes after another one on a unit (-1: it is the first)."""
        task = self.work.stints[there].first
        set_up, change = self.work.order.own_times.get(unit, (None, None))
        seconds = 0.0
        before = self.work.stints[here] if here >= 0 else None
        if before is None or before.person != self.work.stints[there].person:
            seconds += task.set_up_s if set_up is None else set_up
        if task.load_change_s and (before is None or before.last.leaves != task.load):
            seconds += task.load_change_s if change is None else change
        return tenths(seconds)

    # everybody's own way

    def _everybody_one_after_the_other(self) -> None:
        work = self.work
        self._own_rows: list[tuple[int, int, cp_model.IntVar | bool]] = []
        stations: dict[int, list[int]] = defaultdict(list)
        for person, station in work.of_visit:
            stations[person].append(station)
        for person, mine in stations.items():
            for station in mine:
                inside = work.of_visit[person, station]
                self._settle(inside[0], None, True)
                for here, there in itertools.pairwise(inside):
                    self._own_rows.append((here, there, True))
                    self._settle(there, here, True)
            self._way(person, mine)

    def _way(self, person: int, mine: list[int]) -> None:
        """The order of somebody's visits."""
        work = self.work
        first = {station: work.of_visit[person, station][0] for station in mine}
        last = {station: work.of_visit[person, station][-1] for station in mine}
        order = sorted(mine, key=lambda station: self.known[first[station]].start_ds)
        if len(mine) == 1:
            return
        following = dict(itertools.pairwise([-1, *order, -1]))
        later = {pair for pair in work.before if pair[0] in first and pair[1] in first}
        node = {station: place for place, station in enumerate(mine, 1)}
        arcs: list[cp_model.ArcT] = []
        for here, there in itertools.permutations([-1, *mine], 2):
            if (there, here) in later:
                continue
            literal = self.cp.new_bool_var("")
            self.cp.add_hint(literal, following.get(here) == there)
            arcs.append((node.get(here, 0), node.get(there, 0), literal))
            if here >= 0 and there >= 0:
                self._own_rows.append((last[here], first[there], literal))
                self._settle(first[there], last[here], literal)
        self.cp.add_circuit(arcs)
        for early, late in later:
            self.cp.add(self.starts[first[late]] >= self.starts[last[early]] + work.stints[last[early]].length_ds)

    def _settle(self, index: int, before: int | None, when: cp_model.IntVar | bool) -> None:
        """On the floor one settles down once, and stays where the next thing is on the floor too."""
        stint = self.work.stints[index]
        if self.work.stock.get(stint.kind):
            return
        within = before is not None and self.work.stints[before].station == stint.station
        first = self.work.of_visit[stint.person, stint.station][0] == index
        seconds = tenths(stint.first.set_up_s)
        if before is None:
            self._prepared[index].append(seconds)
        elif self.work.stints[before].kind == stint.kind:
            self._prepared[index].append(-seconds * when if first else 0)
        elif within:
            self._prepared[index].append(seconds)

    def _after_one_another(self) -> None:
        for here, there, literal in self._follows:
            self.cp.add(self.starts[there] >= self.ends[here]).only_enforce_if(literal)
        for here, there, when in self._own_rows:
            rest = self.work.stints[here].rest_ds
            gap = self.cp.add(self.starts[there] >= self.ends[here] + rest)
            if when is not True:
                gap.only_enforce_if(when)
            for walk, where in self._walks(here, there):
                if walk > rest:
                    given = [*where] if when is True else [*where, when]
                    longer = self.cp.add(self.starts[there] >= self.ends[here] + walk)
                    if given:
                        longer.only_enforce_if(given)

    def _walks(self, here: int, there: int) -> Iterator[tuple[int, list[cp_model.IntVar]]]:
        """The ways between the places on which two stints may be, and the choices that make each the one to go."""
        for from_unit, from_choice in self._places(here):
            for to_unit, to_choice in self._places(there):
                walk = tenths(self.work.walk_s(from_unit, to_unit))
                yield walk, [*from_choice, *to_choice]

    def _places(self, index: int) -> list[tuple[int, list[cp_model.IntVar]]]:
        units = self.work.stock.get(self.work.stints[index].kind) or []
        if not units:
            return [(-1, [])]
        if len(units) == 1:
            return [(units[0], [])]
        return [(unit, [self.on_lane[index, lane]]) for lane, unit in enumerate(units)]

    def _through_the_gates(self) -> None:
        gates = self.work.order.gates
        if not gates:
            return
        firsts: dict[int, list[int]] = defaultdict(list)
        lasts: dict[int, list[int]] = defaultdict(list)
        for (person, station), mine in self.work.of_visit.items():
            number = self.work.visit(person, station)
            firsts[number].append(mine[0])
            lasts[number].append(mine[-1])
        least = least_visits(self.work)
        through: dict[str, list[cp_model.IntervalVar]] = defaultdict(list)
        for number, names in gates.items():
            if number not in firsts:
                continue
            begin = self.cp.new_int_var(0, self.horizon_ds, "")
            end = self.cp.new_int_var(0, self.horizon_ds, "")
            for index in firsts[number]:
                self.cp.add(begin <= self.starts[index])
            for index in lasts[number]:
                self.cp.add(end >= self.ends[index])
            size = self.cp.new_int_var(min(least[number], self.horizon_ds), self.horizon_ds, "")
            held = self.cp.new_interval_var(begin, size, end, "")
            for name in names:
                through[name].append(held)
        for name, intervals in through.items():
            width = self.work.order.width[name]
            if width == 1:
                self.cp.add_no_overlap(intervals)
            elif len(intervals) > width:
                self.cp.add_cumulative(intervals, [1] * len(intervals), width)

    def _person_ends(self) -> list[cp_model.IntVar]:
        """The last end of everybody who does anything."""
        found = []
        lasts: dict[int, list[int]] = defaultdict(list)
        for (person, _), mine in self.work.of_visit.items():
            lasts[person].append(mine[-1])
        for mine in lasts.values():
            end = self.cp.new_int_var(0, self.horizon_ds, "")
            for index in mine:
                self.cp.add(end >= self.ends[index])
            found.append(end)
        return found

    def length(self, least_ds: int = 0) -> cp_model.IntVar:
        """The last end of all."""
        length = self.cp.new_int_var(min(least_ds, self.horizon_ds), self.horizon_ds, "")
        for end in self.person_ends:
            self.cp.add(length >= end)
        return length
