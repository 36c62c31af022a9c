"""A rotation as a problem of its own: who has to be where for how long, and what must never happen at once.

Nothing here knows of exercises: actors (a person, or a company that goes round as one) make visits to stations. In a
visit every member has a strand of operations, each on one place of a resource. Times are whole tenths of a second, so
that the solver, the bounds and the replay count with the same numbers.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import NamedTuple

TENTHS = 10
"""Units of time in a second."""


class Operation(NamedTuple):
    """A stretch on one place of a resource (None: on the floor), and the least pause before the member's next one."""

    resource: str | None
    length_ds: int
    gap_ds: int = 0


@dataclass(frozen=True, slots=True)
class Visit:
    """One actor at one station: the operations of every member in order, and what is held from first to last."""

    actor: int
    station: int
    strands: tuple[tuple[Operation, ...], ...]
    holds: tuple[str, ...] = ()

    @property
    def alone_ds(self) -> int:
        """How long it takes if nobody is in the way, without the pause after it."""
        return max(sum(op.length_ds + op.gap_ds for op in own) - own[-1].gap_ds for own in self.strands)

    @property
    def rest_ds(self) -> int:
        """The least pause before the actor's next visit."""
        return max(own[-1].gap_ds for own in self.strands)


class OperationAt(NamedTuple):
    """Where a operation stands: its visit, the member and the place in the strand."""

    visit: int
    member: int
    place: int


@dataclass(frozen=True)
class RotationProblem:
    """All visits that have to be made.

    `capacity` says how many places a resource has; `release_ds[a]` when actor a may begin; `before` names pairs of
    stations of which everybody visits the first sooner. `limit_ds` is the time that must not be passed, if there is
    one. A solution is the start of every operation, in the order of `operations`.
    """

    visits: tuple[Visit, ...]
    capacity: dict[str, int]
    release_ds: tuple[int, ...]
    before: tuple[tuple[int, int], ...] = ()
    limit_ds: int | None = None

    def __post_init__(self) -> None:
        for visit in self.visits:
            named = [op.resource for own in visit.strands for op in own if op.resource is not None]
            for resource in [*named, *visit.holds]:
                if self.capacity.get(resource, 0) < 1:
                    raise ValueError(f"nothing can be done on {resource!r}: it has no place")
            if not all(visit.strands):
                raise ValueError("every member of a visit has a operation")

    @property
    def actors(self) -> int:
        """How many actors there are."""
        return len(self.release_ds)

    @cached_property
    def operations(self) -> list[OperationAt]:
        """Every operation, visit after visit and strand after strand."""
        return [
            OperationAt(number, member, place)
            for number, visit in enumerate(self.visits)
            for member, own in enumerate(visit.strands)
            for place in range(len(own))
        ]

    @cached_property
    def of_visit(self) -> list[list[list[int]]]:
        """Indices in `operations` of every visit, strand by strand."""
        found: list[list[list[int]]] = [[[] for _ in visit.strands] for visit in self.visits]
        for index, at in enumerate(self.operations):
            found[at.visit][at.member].append(index)
        return found

    @cached_property
    def of_actor(self) -> list[list[int]]:
        """Indices of the visits of every actor."""
        found: list[list[int]] = [[] for _ in self.release_ds]
        for index, visit in enumerate(self.visits):
            found[visit.actor].append(index)
        return found

    @cached_property
    def precedences(self) -> list[tuple[int, int]]:
        """Pairs of visits of one actor of which the first comes sooner."""
        at = {(visit.actor, visit.station): index for index, visit in enumerate(self.visits)}
        return [
            (at[actor, first], at[actor, second])
            for first, second in self.before
            for actor in range(self.actors)
            if (actor, first) in at and (actor, second) in at
        ]

    def operation(self, index: int) -> Operation:
        """The operation at an index of `operations`."""
        at = self.operations[index]
        return self.visits[at.visit].strands[at.member][at.place]

    def own_ds(self, actor: int) -> int:
        """How long an actor takes alone: all visits with the least pauses between them."""
        mine = [self.visits[index] for index in self.of_actor[actor]]
        return sum(visit.alone_ds + visit.rest_ds for visit in mine) - max((visit.rest_ds for visit in mine), default=0)

    def span_of(self, visit: int, starts: Sequence[int]) -> tuple[int, int]:
        """When a visit begins and ends."""
        strands = self.of_visit[visit]
        return (
            min(starts[own[0]] for own in strands),
            max(starts[own[-1]] + self.operation(own[-1]).length_ds for own in strands),
        )

    def ends_ds(self, starts: Sequence[int]) -> list[int]:
        """When every actor is done."""
        ends = list(self.release_ds)
        for index, visit in enumerate(self.visits):
            ends[visit.actor] = max(ends[visit.actor], self.span_of(index, starts)[1])
        return ends

    def length_ds(self, starts: Sequence[int]) -> int:
        """When the last actor is done."""
        ends = self.ends_ds(starts)
        return max((ends[actor] for actor in range(self.actors) if self.of_actor[actor]), default=0)

    def waiting_ds(self, starts: Sequence[int]) -> int:
        """Everybody's time between release and end, less what each would take alone."""
        ends = self.ends_ds(starts)
        return sum(
            max(0, ends[actor] - self.release_ds[actor] - self.own_ds(actor))
            for actor, mine in enumerate(self.of_actor)
            if mine
        )


class Bound(NamedTuple):
    """A time below which no rotation can end, and what it comes from: an actor's own time or a resource's demand."""

    ds: int
    actor: int | None = None
    resource: str | None = None


def shop_bound(problem: RotationProblem) -> Bound:
    """The larger of the longest own time and, for every resource, its demand ÷ its places.

    To a resource's demand belongs what must pass before its first use and after its last one.
    """
    best = Bound(0)
    for actor, mine in enumerate(problem.of_actor):
        if mine:
            own = problem.release_ds[actor] + problem.own_ds(actor)
            if own > best.ds:
                best = Bound(own, actor=actor)
    demand: dict[str, int] = defaultdict(int)
    head: dict[str, int] = {}
    tail: dict[str, int] = {}

    def use(name: str, seconds: int, begin: int, rest: int) -> None:
        demand[name] += seconds
        head[name] = min(head.get(name, 1 << 60), begin)
        tail[name] = min(tail.get(name, 1 << 60), rest)

    for visit in problem.visits:
        release = problem.release_ds[visit.actor]
        for own_steps in visit.strands:
            before, left = 0, sum(op.length_ds + op.gap_ds for op in own_steps)
            for op in own_steps:
                left -= op.length_ds + op.gap_ds
                if op.resource is not None and op.resource not in visit.holds:
                    after = left + op.gap_ds - own_steps[-1].gap_ds if left else 0
                    use(op.resource, op.length_ds, release + before, max(after, 0))
                before += op.length_ds + op.gap_ds
        for name in visit.holds:
            use(name, visit.alone_ds, release, 0)
    for name, total in demand.items():
        needed = head[name] + -(-total // problem.capacity[name]) + tail[name]
        if needed > best.ds:
            best = Bound(needed, resource=name)
    return best
