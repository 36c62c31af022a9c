"""Checks rotations on its own terms: it shares no code with what makes them."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Sequence
from typing import Any

import simpy
from oaken.schedule.rotation.problem import RotationProblem


def faults_of(problem: RotationProblem, starts: Sequence[int]) -> list[str]:
    """Every constraint that a solution breaks, in words; second by second (tenths), not by intervals."""
    found: list[str] = []
    operations = []
    index = 0
    for number, visit in enumerate(problem.visits):
        for member, strand in enumerate(visit.strands):
            earliest = None
            for op in strand:
                start = starts[index]
                operations.append((number, member, op, start, start + op.length_ds))
                if earliest is not None and start < earliest:
                    found.append(f"visit {number}: a operation begins before the pause after the one before has passed")
                earliest = start + op.length_ds + op.gap_ds
                index += 1
    if index != len(starts):
        found.append("as many starts as operations")
    spans: dict[int, tuple[int, int]] = {}
    for number, visit in enumerate(problem.visits):
        mine = [(start, end) for at, _, _, start, end in operations if at == number]
        spans[number] = (min(start for start, _ in mine), max(end for _, end in mine))
        if spans[number][0] < problem.release_ds[visit.actor]:
            found.append(f"visit {number} begins before its actor may")
    for item in range(len(problem.visits)):
        for other in range(item + 1, len(problem.visits)):
            if problem.visits[item].actor != problem.visits[other].actor:
                continue
            first, second = sorted((item, other), key=lambda number: spans[number])
            pause = max(strand[-1].gap_ds for strand in problem.visits[first].strands)
            if spans[second][0] < spans[first][1] + pause:
                found.append(f"actor {problem.visits[item].actor} is at two stations, or did not rest between them")
            stations = (problem.visits[first].station, problem.visits[second].station)
            if stations[::-1] in problem.before:
                found.append(f"station {stations[0]} before {stations[1]}")
    taken: dict[str, dict[int, int]] = defaultdict(lambda: defaultdict(int))
    for number, visit in enumerate(problem.visits):
        for name in visit.holds:
            for tenth in range(*spans[number]):
                taken[name][tenth] += 1
        private: dict[str, dict[int, int]] = defaultdict(lambda: defaultdict(int))
        for at, _, op, start, end in operations:
            if at == number and op.resource is not None:
                uses = private if op.resource in visit.holds else taken
                for tenth in range(start, end):
                    uses[op.resource][tenth] += 1
        if any(count > 1 for held in private.values() for count in held.values()):
            found.append(f"visit {number}: two members are on the one place it holds")
    for name, used in taken.items():
        if max(used.values(), default=0) > problem.capacity[name]:
            found.append(f"{name} is over its capacity")
    return found


def replayed_length(problem: RotationProblem, starts: Sequence[int]) -> int:
    """The length of a solution gone through in SimPy, where everybody asks for their place at the planned moment.

    Raises AssertionError where somebody has to wait for one.
    """
    world = simpy.Environment()
    places = {name: simpy.Resource(world, capacity=count) for name, count in problem.capacity.items()}
    ends: list[float] = []

    def live(op: Any, start: int, held: bool) -> Any:
        yield world.timeout(start)
        if op.resource is None or held:
            yield world.timeout(op.length_ds)
        else:
            with places[op.resource].request() as place:
                # whoever leaves in this same moment has left first
                yield world.timeout(0)
                yield place
                assert world.now == start, f"{op.resource} is not free at {start}"
                yield world.timeout(op.length_ds)
        ends.append(world.now)

    index = 0
    for visit in problem.visits:
        for strand in visit.strands:
            for op in strand:
                world.process(live(op, starts[index], op.resource in visit.holds))
                index += 1
    world.run()
    return int(max(ends, default=0))
