"""The shortest rotation (OR-Tools CP-SAT).

One search thread, fixed seeds and limits in the solver's own deterministic time: the same problem always gets the
same answer, unless it is cancelled.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, field, replace
from typing import TYPE_CHECKING

from oaken.basis.lazily import when_used
from oaken.schedule.rotation.heuristic import quick_rotation
from oaken.schedule.rotation.model import RotationModel
from oaken.schedule.rotation.problem import RotationProblem, shop_bound

if TYPE_CHECKING:
    from ortools.sat.python import cp_model
else:
    cp_model = when_used("ortools.sat.python.cp_model")

EFFORT = 1.2
"""Deterministic time (solver's units; 0.1 is half a second of one core here)."""


@dataclass(frozen=True, slots=True)
class RotationAnswer:
    """The best rotation found so far and what is known of it; times in tenths of a second.

    `starts` has the start of every operation. `possible` is False where no rotation keeps the limit. No rotation can be
    shorter than `bound_ds`.
    """

    starts: tuple[int, ...]
    length_ds: int
    bound_ds: int
    waiting_ds: int
    possible: bool = True

    @property
    def proven(self) -> bool:
        """Whether no rotation is shorter."""
        return self.length_ds <= self.bound_ds

    @property
    def gap(self) -> float:
        """How far above the bound the length is, as a fraction of the bound."""
        return (self.length_ds - self.bound_ds) / self.bound_ds if self.bound_ds else 0.0


def answer_of(problem: RotationProblem, starts: Sequence[int], bound_ds: int) -> RotationAnswer:
    """What is known of a rotation that was found in some way."""
    return RotationAnswer(tuple(starts), problem.length_ds(starts), bound_ds, problem.waiting_ds(starts))


@dataclass(slots=True)
class RotationSearch:
    """A search that can be watched and cancelled from another thread: `best` is usable at any moment."""

    problem: RotationProblem
    effort: float = 1.0
    begun_with: Sequence[int] | None = None
    on_better: Callable[[RotationAnswer], None] = lambda answer: None
    best: RotationAnswer = field(init=False)
    cancelled: bool = field(init=False, default=False)
    _solver: cp_model.CpSolver | None = field(init=False, default=None)

    def __post_init__(self) -> None:
        bound = shop_bound(self.problem).ds
        starts = quick_rotation(self.problem) if self.begun_with is None else self.begun_with
        self.best = answer_of(self.problem, starts, bound)

    @property
    def in_time(self) -> bool:
        """Whether the best keeps the limit."""
        limit = self.problem.limit_ds
        return limit is None or self.best.length_ds <= limit

    def cancel(self) -> None:
        """Stop soon; `best` stays what it is."""
        self.cancelled = True
        solver = self._solver
        if solver is not None:
            solver.stop_search()

    def run(self) -> RotationAnswer:
        """Search to the end or to the limits; the best answer. What is proven already is not looked for."""
        self.on_better(self.best)
        if not self.in_time or not self.best.proven:
            self._shorten()
        return self.best

    def _shorten(self) -> None:
        problem, best = self.problem, self.best
        horizon = best.length_ds if self.in_time else problem.limit_ds
        assert horizon is not None
        if horizon < best.bound_ds:
            self.best = replace(best, possible=False)
            return
        model = RotationModel(problem, horizon, best.starts)
        model.shortest(best.bound_ds, best.length_ds)
        status, bound = self._solve(model)
        if status == cp_model.INFEASIBLE:
            self.best = replace(best, possible=False)
        elif status != cp_model.UNKNOWN or not self.cancelled:
            self.best = replace(self.best, bound_ds=max(bound, self.best.bound_ds))

    def _solve(self, model: RotationModel) -> tuple[cp_model.CpSolverStatus, int]:
        solver = cp_model.CpSolver()
        solver.parameters.num_workers = 1
        solver.parameters.random_seed = 7
        solver.parameters.symmetry_level = 0  # what breaks symmetries also drops the rotation to begin with
        solver.parameters.max_deterministic_time = EFFORT * self.effort
        self._solver = solver
        if self.cancelled:
            return cp_model.UNKNOWN, 0
        if model.impossible:
            return cp_model.INFEASIBLE, 0
        status = solver.solve(model.cp, _watch(self, model))
        self._solver = None
        return status, 0 if status == cp_model.INFEASIBLE else round(solver.best_objective_bound)

    def _found(self, starts: list[int], bound_ds: int) -> None:
        found = answer_of(self.problem, starts, max(bound_ds, self.best.bound_ds))
        if (found.length_ds, found.waiting_ds) < (self.best.length_ds, self.best.waiting_ds) or not self.in_time:
            self.best = found
            self.on_better(self.best)


def _watch(search: RotationSearch, model: RotationModel) -> cp_model.CpSolverSolutionCallback:
    """What hands every better rotation on as it is found."""

    class Watch(cp_model.CpSolverSolutionCallback):
        def on_solution_callback(self) -> None:
            search._found([self.value(start) for start in model.starts], round(self.best_objective_bound))
            if search.cancelled:
                self.stop_search()

    return Watch()
