"""Who begins where in a clocked circuit, so that loads seldom change: a shortest way round (OR-Tools CP-SAT)."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import TYPE_CHECKING

from oaken.basis.lazily import when_used
from oaken.plan import CircuitBlock, Station
from oaken.schedule.timeline import Circumstances, load_kg, station_bout
from oaken.schedule.timeline.circuit import rotation_of
from oaken.schedule.timeline.schedule import own_use, uses_of

if TYPE_CHECKING:
    from ortools.sat.python import cp_model
else:
    cp_model = when_used("ortools.sat.python.cp_model")

EFFORT = 1.0
"""Deterministic time of the search (solver's units)."""


@dataclass(frozen=True, slots=True)
class Circle:
    """Who begins where (people's ids by station, then those who begin with a breather), and what it costs.

    `changes` are load changes in one round, `before` those of the circle as it stands; `proven` says that no circle
    has fewer.
    """

    seats: list[list[str]]
    changes: int
    before: int
    turns: int
    proven: bool


def best_circle(block: CircuitBlock, around: Circumstances) -> Circle:
    """The order round the circle with the fewest load changes at its stations.

    Whoever follows a person round comes to every station straight after them, so one order serves all stations.
    Groups that share places stay as they were formed; only their order changes.
    """
    rotation, _ = rotation_of(block, around)
    seats: list[list[int]] = [[] for _ in range(rotation.turns)]
    for person, begins in enumerate(rotation.begins):
        seats[begins].append(person)
    for here in seats:
        here.sort(key=lambda person: rotation.lanes[person])
    loads = _loads(block, around)

    def cost(first: int, second: int) -> int:
        """Load changes when the group of seat `second` comes to the stations after that of `first`."""
        pairs = zip(seats[first], seats[second], strict=False)
        return sum(
            load is not None and other is not None and load != other
            for a, b in pairs
            for load, other in zip(loads[a], loads[b], strict=True)
        )

    order, proven = _shortest_way_round(len(seats), cost)
    # at a station the group of the seat before comes next: the circle is entered against the order of the seats
    arranged = [seats[seat] for seat in reversed(order)]
    before = sum(cost(seat, seat - 1) for seat in range(len(seats)))
    after = sum(cost(order[at], order[(at + 1) % len(order)]) for at in range(len(order)))
    ids = [[around.people[person].id for person in here] for here in arranged]
    if after >= before:
        ids, after = [[around.people[person].id for person in here] for here in seats], before
    return Circle(ids, after, before, rotation.turns, proven)


def _loads(block: CircuitBlock, around: Circumstances) -> list[list[float | None]]:
    """The load of every person at every station; None where none is meant or known, or changing it costs nothing."""
    uses = uses_of(block, around)
    found = []
    for person in around.people:
        own: list[float | None] = []
        for index in range(len(block.stations)):
            use = uses[own_use(uses, index, person, around)]
            assert isinstance(use.part, Station)
            bout = station_bout(use.part, use.exercise, block.work_s)
            kind = around.catalogue.equipment[use.exercise.equipment]
            kg = load_kg(bout, person, use.exercise)
            own.append(None if kg is None or not kind.load_change_s else around.room.settable(kind.id, kg))
        found.append(own)
    return found


def _shortest_way_round(size: int, cost: Callable[[int, int], int]) -> tuple[list[int], bool]:
    """The order of all seats with the least sum of costs between neighbours, the last and the first included."""
    if size < 3:
        return list(range(size)), True
    model = cp_model.CpModel()
    arcs: list[cp_model.ArcT] = []
    total: list[cp_model.LinearExprT] = []
    follows: dict[tuple[int, int], cp_model.BoolVarT] = {}
    for here in range(size):
        for there in range(size):
            if here != there:
                literal = follows[here, there] = model.new_bool_var("")
                arcs.append((here, there, literal))
                total.append(literal * cost(here, there))
                model.add_hint(literal, there == (here - 1) % size)
    model.add_circuit(arcs)
    model.minimize(sum(total))
    solver = cp_model.CpSolver()
    solver.parameters.num_workers = 1
    solver.parameters.random_seed = 7
    solver.parameters.max_deterministic_time = EFFORT
    status = solver.solve(model)
    if status not in (cp_model.OPTIMAL, cp_model.FEASIBLE):
        return [(-at) % size for at in range(size)], False
    order = [0]
    while len(order) < size:
        order.append(
            next(there for there in range(size) if there != order[-1] and solver.value(follows[order[-1], there]))
        )
    return order, status == cp_model.OPTIMAL
