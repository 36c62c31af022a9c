"""Problems of rotation, by hand and by chance."""

from __future__ import annotations

from random import Random
from typing import Any

from hypothesis import strategies as st
from oaken.schedule.rotation.problem import Operation, RotationProblem, Visit


def open_shop(lengths: list[list[int]]) -> RotationProblem:
    """Everybody at every machine once, in any order: `lengths[actor][machine]` in tenths of a second."""
    machines = len(lengths[0])
    visits = [
        Visit(actor, machine, ((Operation(f"m{machine}", row[machine]),),))
        for actor, row in enumerate(lengths)
        for machine in range(machines)
        if row[machine]
    ]
    return RotationProblem(tuple(visits), {f"m{machine}": 1 for machine in range(machines)}, (0,) * len(lengths))


class Random31:
    """The multiplicative congruential generator of the benchmark problems: 16807 modulo 2^31 − 1.

    E. Taillard, Benchmarks for basic scheduling problems, EJOR 64 (1993), who has it from P. Bratley, B. Fox and
    L. Schrage, A guide to simulation (1983).
    """

    def __init__(self, seed: int) -> None:
        self.seed = seed

    def between(self, low: int, high: int) -> int:
        """A whole number from low to high."""
        above = self.seed // 127773
        self.seed = 16807 * (self.seed % 127773) - 2836 * above
        if self.seed < 0:
            self.seed += 2147483647
        return low + int(self.seed / 2147483647 * (high - low + 1))


def published_shop(size: int, time_seed: int, machine_seed: int) -> list[list[int]]:
    """An open shop of Taillard (1993): times from 1 to 99 by job and machine, from its two seeds."""
    times, machines = Random31(time_seed), Random31(machine_seed)
    drawn = [[times.between(1, 99) for _ in range(size)] for _ in range(size)]
    shop = [[0] * size for _ in range(size)]
    for job in range(size):
        order = list(range(size))
        for place in range(size):
            other = machines.between(place + 1, size) - 1
            order[place], order[other] = order[other], order[place]
        for place, machine in enumerate(order):
            shop[job][machine] = drawn[job][place]
    return shop


TAILLARD = {
    5: [
        (527556884, 1343124817, 300), (1046824493, 1973406531, 262), (1165033492, 86711717, 323),
        (476292817, 24463110, 310), (1181363416, 606981348, 326), (897739730, 513119113, 312),
        (577107303, 2046387124, 303), (1714191910, 1928475945, 300), (1813128617, 2091141708, 353),
        (808919936, 183753764, 326),
    ],
    10: [
        (1344106948, 1868311537, 637), (425990073, 1111853152, 588), (666128954, 1750328066, 598),
        (442723456, 1369177184, 577), (2033800800, 1344077538, 640), (964467313, 1735817385, 538),
        (1004528509, 967002400, 616), (1667495107, 818777384, 595), (1806968543, 1561913259, 595),
        (938376228, 344628625, 596),
    ],
}  # fmt: skip
"""Open shops of 5 and of 10 jobs and machines: seed of the times, seed of the machines, and the optimum.

E. Taillard, Benchmarks for basic scheduling problems, EJOR 64 (1993), 278–285, and the optima that were proven since;
from memory. That a search proves an optimum equal to one remembered confirms the seeds and it.
"""


def unequal_stations(people: int, stations: int, seed: int = 1) -> RotationProblem:
    """People on unequal stations: every station takes its own time, a little more or less for everybody."""
    chance = Random(seed)
    base = [chance.randint(400, 1000) for _ in range(stations)]
    return open_shop([[length + 10 * chance.randint(-8, 8) for length in base] for _ in range(people)])


operations = st.builds(
    Operation,
    resource=st.sampled_from(["a", "a", "b", "c", None]),
    length_ds=st.integers(1, 30),
    gap_ds=st.integers(0, 12),
)
strands = st.lists(operations, min_size=1, max_size=3).map(tuple)


@st.composite
def problems(draw: st.DrawFn) -> RotationProblem:
    """Small problems with companies, held machines, releases and orders."""
    actors, stations = draw(st.integers(1, 4)), draw(st.integers(1, 3))
    visits: list[Any] = []
    for actor in range(actors):
        members = draw(st.sampled_from([1, 1, 1, 2]))
        for station in range(stations):
            own = tuple(draw(strands) for _ in range(members))
            used = sorted({op.resource for strand in own for op in strand if op.resource})
            holds = tuple(used) if draw(st.sampled_from([False, False, True])) else ()
            visits.append(Visit(actor, station, own, holds))
    before = ((0, 1),) if stations > 1 and draw(st.booleans()) else ()
    return RotationProblem(
        tuple(visits),
        {"a": draw(st.integers(1, 2)), "b": 1, "c": draw(st.integers(1, 3))},
        tuple(draw(st.integers(0, 20)) for _ in range(actors)),
        before,
    )
