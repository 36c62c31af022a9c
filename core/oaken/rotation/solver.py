"""The best rotation: shortest first, then least waiting, then fewest load changes and shortest walks (OR-Tools CP-SAT).

One search thread, fixed seeds and limits in the solver's own deterministic time: the same problem always gets the
same answer, unless it is cancelled.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, field, replace
from random import Random

from ortools.sat.python import cp_model

from oaken.rotation.heuristic import quick_rotation
from oaken.rotation.model import CHANGE_WEIGHS_DS, Goal, RotationModel
from oaken.rotation.problem import RotationProblem, least_length

GOALS: tuple[Goal, ...] = ("length", "waiting", "changes")

EFFORT: dict[Goal, float] = {"length": 0.15, "waiting": 0.05, "changes": 0.05}
"""Deterministic time given to each goal (solver's units; 0.1 is some seconds of one core here)."""

SMALL = 80
"""Up to this many visits the whole rotation is searched for the least waiting; above, a few people at a time."""

ROUNDS, AT_A_TIME, ROUND_EFFORT, PATIENCE = 60, 3, 0.01, 8
"""How often, for how many people at a time and how long a shorter wait is looked for, and how often in vain."""


@dataclass(frozen=True, slots=True)
class Answer:
    """The best rotation found so far and what is known of it; times in tenths of a second.

    `starts` has the start of every operation, and is empty where no rotation keeps all constraints: `possible` is then
    False. No rotation can be shorter than `bound_ds`. `proven` are the goals of which no better value exists, given
    the ones before.
    """

    starts: tuple[int, ...]
    length_ds: int
    bound_ds: int
    waiting_ds: int
    load_changes: int
    walking_ds: int
    proven: frozenset[Goal] = frozenset()
    possible: bool = True

    @property
    def gap(self) -> float:
        """How far above the bound the length is, as a fraction of the bound."""
        return (self.length_ds - self.bound_ds) / self.bound_ds if self.bound_ds else 0.0

    @property
    def rank(self) -> tuple[int, int, int]:
        """What is compared: length, waiting, then load changes and walks."""
        return (self.length_ds, self.waiting_ds, self.load_changes * CHANGE_WEIGHS_DS + self.walking_ds)


def answer_of(problem: RotationProblem, starts: Sequence[int], bound_ds: int) -> Answer:
    """What is known of a rotation that was found in some way."""
    length, waiting = problem.length_ds(starts), problem.waiting_ds(starts)
    proven: set[Goal] = set()
    if length <= bound_ds:
        proven.add("length")
        if waiting == 0:
            proven.add("waiting")
    return Answer(
        tuple(starts),
        length,
        bound_ds,
        waiting,
        problem.load_changes(starts),
        problem.walking_ds(starts),
        frozenset(proven),
    )


@dataclass(slots=True)
class Search:
    """A search that can be watched and cancelled from another thread: `best` is usable at any moment."""

    problem: RotationProblem
    effort: float = 1.0
    begun_with: Sequence[int] | None = None
    on_better: Callable[[Goal, Answer], None] = lambda goal, answer: None
    goals: Sequence[Goal] = GOALS
    best: Answer = field(init=False)
    goal: Goal = field(init=False, default="length")
    cancelled: bool = field(init=False, default=False)
    _solver: cp_model.CpSolver | None = field(init=False, default=None)

    def __post_init__(self) -> None:
        bound = least_length(self.problem).ds
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

    def run(self) -> Answer:
        """Search to the end or to the limits; the best answer."""
        self.on_better("length", self.best)
        if not self.in_time or ("length" in self.goals and "length" not in self.best.proven):
            self._shorten()
        if self.best.possible and self.in_time:
            if "waiting" in self.goals:
                self._wait_less()
            if "changes" in self.goals:
                self._change_less()
        return self.best

    def _shorten(self) -> None:
        self.goal = "length"
        problem, best = self.problem, self.best
        horizon = best.length_ds if self.in_time else problem.limit_ds
        assert horizon is not None
        if horizon < best.bound_ds:
            self.best = replace(best, possible=False)
            return
        model = RotationModel(problem, horizon, best.starts)
        model.shortest(best.bound_ds, best.length_ds)
        status, solver = self._solve("length", model, EFFORT["length"])
        if status == cp_model.INFEASIBLE:
            self.best = replace(best, possible=False)
        elif status != cp_model.UNKNOWN or not self.cancelled:
            bound = max(best.bound_ds, round(solver.best_objective_bound))
            self.best = replace(self.best, bound_ds=max(bound, self.best.bound_ds))
            if self.best.length_ds <= self.best.bound_ds:
                self.best = replace(self.best, proven=self.best.proven | {"length"})

    def _wait_less(self) -> None:
        if "waiting" in self.best.proven or self.cancelled:
            return
        self.goal = "waiting"
        if self.best.waiting_ds and len(self.problem.visits) <= SMALL:
            model = RotationModel(self.problem, self.best.length_ds, self.best.starts)
            model.least_waiting()
            status, _ = self._solve("waiting", model, EFFORT["waiting"])
            if status == cp_model.OPTIMAL:
                self._prove("waiting")
                return
        chosen = Random(7)
        since = 0
        for _ in range(round(ROUNDS * self.effort)):
            if self.cancelled or not self.best.waiting_ds or since > PATIENCE:
                break
            before = self.best.waiting_ds
            actors = set(chosen.sample(range(self.problem.actors), min(AT_A_TIME, self.problem.actors)))
            free = [number for number, visit in enumerate(self.problem.visits) if visit.actor in actors]
            model = RotationModel(self.problem, self.best.length_ds, self.best.starts, free)
            model.least_waiting()
            self._solve("waiting", model, ROUND_EFFORT)
            since = 0 if self.best.waiting_ds < before else since + 1
        if not self.best.waiting_ds:
            self._prove("waiting")

    def _change_less(self) -> None:
        if self.cancelled:
            return
        self.goal = "changes"
        if self.best.rank[2] == 0:
            self._prove("changes")
            return
        model = RotationModel(self.problem, self.best.length_ds, self.best.starts)
        ends = self.problem.ends_ds(self.best.starts)
        model.no_later_in_sum(sum(ends[actor] for actor in model.actors))
        if model.fewest_changes():
            status, _ = self._solve("changes", model, EFFORT["changes"])
            if status == cp_model.OPTIMAL:
                self._prove("changes")

    def _prove(self, goal: Goal) -> None:
        # a goal is only settled on top of the ones before it
        before = GOALS[: GOALS.index(goal)]
        if self.best.proven.issuperset(before):
            self.best = replace(self.best, proven=self.best.proven | {goal})

    def _solve(
        self, goal: Goal, model: RotationModel, effort: float
    ) -> tuple[cp_model.CpSolverStatus, cp_model.CpSolver]:
        solver = cp_model.CpSolver()
        solver.parameters.num_workers = 1
        solver.parameters.random_seed = 7
        solver.parameters.symmetry_level = 0  # what breaks symmetries also drops the rotation to begin with
        solver.parameters.max_deterministic_time = effort * self.effort
        self._solver = solver
        if self.cancelled:
            return cp_model.UNKNOWN, solver
        if model.impossible:
            return cp_model.INFEASIBLE, solver
        status = solver.solve(model.cp, _Watch(self, model, goal))
        self._solver = None
        return status, solver

    def _found(self, goal: Goal, starts: list[int], bound_ds: int) -> None:
        found = answer_of(self.problem, starts, max(bound_ds, self.best.bound_ds))
        if found.rank < self.best.rank or (goal == "length" and not self.in_time):
            self.best = replace(found, proven=self.best.proven | found.proven)
            self.on_better(goal, self.best)


class _Watch(cp_model.CpSolverSolutionCallback):
    """Hands every better rotation on as it is found."""

    def __init__(self, search: Search, model: RotationModel, goal: Goal) -> None:
        super().__init__()
        self.search, self.model, self.goal = search, model, goal

    def on_solution_callback(self) -> None:
        bound = round(self.best_objective_bound) if self.goal == "length" else 0
        starts = [self.value(start) for start in self.model.starts]
        self.search._found(self.goal, starts, bound)
        if self.search.cancelled:
            self.stop_search()
