"""Chooses the exercises of a class: one yes or no for each, exchanged until no exchange is better, then improved or
proven best by an optimiser (CP-SAT)."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Collection, Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from itertools import combinations
from math import ceil, floor
from random import Random
from typing import TYPE_CHECKING, NamedTuple

import numpy as np

from oaken.basis.lazily import when_used
from oaken.design.generator.pool import Choice, Pool, load_is_known
from oaken.design.generator.request import Character, choosing
from oaken.design.generator.weighed import is_main_lift
from oaken.domain.catalogue import Exercise
from oaken.forecast.cautions.in_order import usual_rank
from oaken.physiology.heart_rate import Floats
from oaken.schedule.timeline.schedule import NO_EQUIPMENT

if TYPE_CHECKING:
    from ortools.sat.python import cp_model
else:
    cp_model = when_used("ortools.sat.python.cp_model")


SCALE = 1000
USUAL, WEIGHS = 10, 10
"""The tension of a usual set, and what a hundredth of a cost counts: both are whole numbers to the optimiser."""

EFFORT = 0.02
"""Deterministic effort of one solve (the solver's own unit)."""

LOOSENED = ("nothing", "what other generated classes have", "how often a movement comes")
"""What is given up, step by step, where nothing can be chosen otherwise."""

MIDDLE_MET = 4.5
"""About what lifting asks of a body, in MET (common practice, no source)."""

LARGE_UNLOADED = 1.6
"""A compound movement without load costs so many times what a small one does."""

ALIKE = 2
"""Of exercises that do the same on the same equipment, so many are looked at."""


@dataclass(frozen=True)
class Needs:
    """What is to be chosen: how many exercises; how many people are at each at once (`abreast`, of stations) or how
    many seconds everybody's turns at one take (`turn_s`) of those that there are (`time_s`); how long muscles are under
    tension in each (`tension`, in tenths of what is usual; without it alike); how many are for the breath; whether what
    asks more of the body is preferred (`push` a MET, below 0 what asks less); how many are to be large, so that each
    group begins with one (`heads`); and what other generated classes have, which is to be there only in part."""

    count: int
    character: Character
    target: Mapping[str, float]
    breath: tuple[int, int] = (0, 0)
    abreast: int = 0
    turn_s: Mapping[str, float] = field(default_factory=dict)
    time_s: float = 0.0
    used: float = 1.0
    tension: Mapping[str, int] = field(default_factory=dict)
    unlike: Sequence[Collection[str]] = ()
    taken: Collection[str] = ()
    pinned: Sequence[str] = ()
    seed: int = 7
    push: float = 0.0
    heads: int = 0


@dataclass(frozen=True)
class Chosen:
    """The exercises, what had to be given up for them (an index into LOOSENED), and the share of tension that is not
    where it was wanted, 0 to 1."""

    choices: list[Choice]
    loosened: int
    off_target_share: float


class Rule(NamedTuple):
    """So much of each exercise (by its place among the candidates) adds up to no more than `most`."""

    each: dict[int, float]
    most: float


def choose(pool: Pool, needs: Needs) -> Chosen | None:
    """The exercises that come nearest to the muscles that are wanted at the lowest cost; None where none can be had."""
    candidates = [choice for name, choice in pool.choices.items() if name not in needs.taken]
    if len(candidates) < needs.count:
        return None
    cost = {candidate.exercise.id: _cost(candidate, pool, needs) for candidate in candidates}
    candidates = _worth_a_look(candidates, cost, needs)
    for loosened in range(len(LOOSENED)):
        rules = list(_rules(candidates, pool, needs, loosened))
        choice = _Choice(candidates, [cost[candidate.exercise.id] for candidate in candidates], rules, needs)
        found = choice.best()
        if found is not None:
            return Chosen([candidates[at] for at in found], loosened, choice.off_target_share(found))
    return None


@dataclass
class _Choice:
    """The yes or no of every candidate as numbers: exactly `count` of them, within the rules, at the least weight."""

    candidates: Sequence[Choice]
    cost: Sequence[float]
    rules: Sequence[Rule]
    needs: Needs

    def __post_init__(self) -> None:
        held = [_tension_in(candidate.exercise, self.needs) for candidate in self.candidates]
        names = sorted({*self.needs.target, *(muscle for item in held for muscle in item)})
        self.share = np.array([round(SCALE * self.needs.target.get(name, 0.0)) for name in names])
        self.tension = np.array([[item.get(muscle, 0) for muscle in names] for item in held])
        self.against = np.array([round(100 * WEIGHS * item) for item in self.cost], dtype=np.float64)
        self.pinned = {at for at, candidate in enumerate(self.candidates) if candidate.exercise.id in self.needs.pinned}
        # a percent of tension off target is counted at two muscles, and a set has about two prime muscles
        self.weight = max(
            1, round(choosing().costs.muscle * 100 * WEIGHS / (2 * SCALE / 100 * 2 * USUAL * self.needs.count))
        )
        self.rows = np.zeros((len(self.rules), len(self.candidates)))
        for row, rule in enumerate(self.rules):
            for at, amount in rule.each.items():
                self.rows[row, at] = amount
        self.most = np.array([rule.most for rule in self.rules])

    def best(self) -> list[int] | None:
        """The places of the chosen candidates; None where the rules leave none."""
        begun = self._exchanged()
        model = cp_model.CpModel()
        take = [model.new_bool_var(candidate.exercise.id) for candidate in self.candidates]
        model.add(sum(take) == self.needs.count)
        for at in self.pinned:
            model.add(take[at] == 1)
        for rule in self.rules:
            model.add(sum(round(amount) * take[at] for at, amount in rule.each.items()) <= floor(rule.most))
        off_target_share: list[cp_model.LinearExpr] = []
        every = sum(int(amount) * here for here, amount in zip(take, self.tension.sum(axis=1), strict=True))
        for column, share in enumerate(self.share.tolist()):
            off = model.new_int_var(0, SCALE * 100 * USUAL * self.needs.count, f"off {column}")
            held = sum(int(amount) * here for here, amount in zip(take, self.tension[:, column], strict=True) if amount)
            model.add(off >= SCALE * held - share * every)
            model.add(off >= share * every - SCALE * held)
            off_target_share.append(off)
        model.minimize(
            cp_model.LinearExpr.sum([self.weight * off for off in off_target_share])
            + cp_model.LinearExpr.weighted_sum(take, [int(item) for item in self.against])
        )
        for at, here in enumerate(take):
            model.add_hint(here, at in begun)
        solver = cp_model.CpSolver()
        solver.parameters.num_workers = 1
        solver.parameters.random_seed = self.needs.seed
        solver.parameters.max_deterministic_time = EFFORT
        solver.parameters.relative_gap_limit = 0.02
        if solver.solve(model) not in (cp_model.OPTIMAL, cp_model.FEASIBLE):
            return None
        return [at for at, here in enumerate(take) if solver.value(here)]

    def off_target_share(self, chosen: Sequence[int]) -> float:
        """The share of tension that is not where it is wanted, 0 to 1."""
        held = self.tension[list(chosen)].sum(axis=0)
        return float(np.abs(held / max(1, held.sum()) - self.share / SCALE).sum() / 2)

    def _exchanged(self) -> set[int]:
        """A good choice at once: the cheapest, then exchanges of one for another while they help."""
        order = sorted(range(len(self.candidates)), key=lambda at: (at not in self.pinned, self.cost[at]))
        chosen = order[: self.needs.count]
        for _ in range(20 * self.needs.count):
            held = self.tension[chosen].sum(axis=0)
            used = self.rows[:, chosen].sum(axis=1)
            now = self._weights(held[None], used[None], np.array([self.against[chosen].sum()]))[0]
            best = (now - 1e-6, -1, -1)
            for out in chosen:
                if out in self.pinned:
                    continue
                weights = self._weights(
                    held - self.tension[out] + self.tension,
                    used - self.rows[:, out] + self.rows.T,
                    self.against[chosen].sum() - self.against[out] + self.against,
                )
                weights[chosen] = np.inf
                into = int(weights.argmin())
                if weights[into] < best[0]:
                    best = (float(weights[into]), out, into)
            if best[1] < 0:
                break
            chosen[chosen.index(best[1])] = best[2]
        return set(chosen)

    def _weights(self, held: Floats, used: Floats, against: Floats) -> Floats:
        off_target_share = np.abs(SCALE * held - self.share * held.sum(axis=1, keepdims=True)).sum(axis=1)
        broken = np.maximum(0.0, used - self.most).sum(axis=1)
        return np.asarray(self.weight * off_target_share + against + BROKEN * broken)


BROKEN = 1e6
"""What a broken rule weighs against exchanges."""


def _rules(candidates: Sequence[Choice], pool: Pool, needs: Needs, loosened: int) -> Iterator[Rule]:
    """Everything that has to hold; `loosened` says what is given up."""
    limits = choosing()
    yield from _places(candidates, pool, needs)
    yield from _no_twins(candidates, needs.pinned)
    names = [candidate.exercise.id for candidate in candidates]
    pinned = [at for at, name in enumerate(names) if name in needs.pinned]

    def of(at_all: Iterator[int] | Sequence[int], most: int) -> Rule:
        each = dict.fromkeys(at_all, 1.0)
        return Rule(each, max(most, sum(at in each for at in pinned)))

    by_pattern: dict[str, list[int]] = defaultdict(list)
    for at, candidate in enumerate(candidates):
        by_pattern[candidate.exercise.pattern].append(at)
    if loosened < 2:
        for pattern, ats in by_pattern.items():
            yield of(ats, max(1, ceil(limits.patterns.get(pattern, 0.2) * needs.count)))
    breath = [at for at, name in enumerate(names) if name in limits.breath.exercises]
    least, most = needs.breath
    if breath:
        yield of(breath, most)
        yield Rule(dict.fromkeys(breath, -1.0), -min(least, len(breath)))
    large = [at for at, candidate in enumerate(candidates) if usual_rank(candidate.exercise) <= 2]
    if loosened < 2 and needs.heads:
        yield Rule(dict.fromkeys(large, -1.0), -min(needs.heads, len(large)))
    bent = [at for at, candidate in enumerate(candidates) if "back" in candidate.exercise.tags]
    yield of(bent, max(1, needs.count // 3))
    if loosened < 1:
        for other in needs.unlike:
            shared = [at for at, name in enumerate(names) if name in other and name not in needs.pinned]
            # of the smaller of the two, what is pinned counted along
            most_shared = floor(limits.most_shared * min(needs.count, len(other)))
            yield Rule(dict.fromkeys(shared, 1.0), max(0, most_shared - len(set(needs.pinned) & set(other))))


def _places(candidates: Sequence[Choice], pool: Pool, needs: Needs) -> Iterator[Rule]:
    """Places of each kind: for all who are there at once, and kept back for those who do something else."""
    wanted: dict[str, dict[int, float]] = defaultdict(lambda: defaultdict(float))
    of_mass: dict[tuple[str, float], dict[int, float]] = defaultdict(lambda: defaultdict(float))
    for at, candidate in enumerate(candidates):
        kind = candidate.exercise.equipment
        if needs.abreast:
            wanted[kind][at] += needs.abreast
            for name, others in candidate.instead.items():
                other = pool.known.exercises[name].equipment
                if other not in (kind, NO_EQUIPMENT):
                    wanted[other][at] += min(needs.abreast, len(others))
        else:
            turn_s = round(needs.turn_s[candidate.exercise.id])
            wanted[kind][at] += turn_s * (pool.crowd - candidate.others)
            for mass, people in candidate.masses.items():
                of_mass[kind, mass][at] += turn_s * people
            for name, others in candidate.instead.items():
                wanted[pool.known.exercises[name].equipment][at] += turn_s * len(others)
    for (kind, mass), each in of_mass.items():
        yield Rule(each, len(pool.room.working_at(kind, mass)) * needs.time_s * needs.used)
    for kind, each in wanted.items():
        places = pool.places(kind)
        if kind == NO_EQUIPMENT and pool.overfull:
            # told as what stands in the way: the floor is too small for any class of so many
            continue
        if not needs.abreast:
            yield Rule(each, places * needs.time_s * (needs.used if kind != NO_EQUIPMENT else 1.0))
        elif kind != NO_EQUIPMENT or pool.floor_places < pool.crowd:
            yield Rule(each, places)


def _no_twins(candidates: Sequence[Choice], pinned: Collection[str]) -> Iterator[Rule]:
    """An exercise, or its easier variant, or one in another stance on the same machine: not two of them."""
    for (at, candidate), (to, other) in combinations(enumerate(candidates), 2):
        here, there = candidate.exercise, other.exercise
        if here.pattern != there.pattern:
            continue
        variants = there.id in (*here.easier, *here.harder) or here.id in (*there.easier, *there.harder)
        alike = here.equipment == there.equipment != NO_EQUIPMENT and set(here.prime) == set(there.prime)
        both_kept = here.id in pinned and there.id in pinned
        if (variants or alike) and not both_kept:
            yield Rule({at: 1.0, to: 1.0}, 1)


def _tension_in(exercise: Exercise, needs: Needs) -> dict[str, int]:
    """What a set of an exercise adds to each muscle."""
    return dict.fromkeys(exercise.prime, needs.tension.get(exercise.id, USUAL)) if exercise.loads_muscle else {}


def _worth_a_look(choices: Sequence[Choice], cost: Mapping[str, float], needs: Needs) -> list[Choice]:
    """Of exercises that do the same to the same muscles on the same equipment, those that cost least: no class has
    more of them, and the optimiser has less to look at."""
    alike: dict[tuple[object, ...], list[Choice]] = defaultdict(list)
    for choice in choices:
        here = choice.exercise
        of_others = tuple(here.id in other for other in needs.unlike)
        key = (frozenset(here.prime), here.loads_muscle, here.equipment, here.pattern, "back" in here.tags, of_others)
        alike[key].append(choice)
    kept = {
        each_item.exercise.id
        for same in alike.values()
        for each_item in sorted(same, key=lambda item: (cost[item.exercise.id], item.exercise.id))[:ALIKE]
    }
    return [choice for choice in choices if choice.exercise.id in kept or choice.exercise.id in needs.pinned]


def leaning(one: Choice, pool: Pool, character: Character) -> float:
    """What the character of a generated class says for an exercise (below 0) or against it."""
    holds = pool.known.equipment[one.exercise.equipment].holds
    return float(choosing().characters[character].prefers.get(holds, 0))


def _cost(one: Choice, pool: Pool, needs: Needs) -> float:
    """What speaks against an exercise."""
    rules, exercise = choosing(), one.exercise
    cost = leaning(one, pool, needs.character)
    cost += rules.costs.instead * one.others + rules.costs.with_care * one.with_care
    if exercise.takes_load and not load_is_known(one, pool.crowd):
        cost += rules.costs.unknown_load
    done = [last for last in pool.class_request.lately if last.exercise == exercise.id]
    last = min(done, key=lambda item: item.weeks, default=None)
    if last is not None and last.weeks < len(rules.costs.lately):
        # main lifts stay for some weeks, so that they can progress; what is around them changes
        stays = is_main_lift(exercise) and last.running < rules.costs.main_lift_weeks
        cost += rules.costs.main_lift_stays if stays else rules.costs.lately[last.weeks]
    if exercise.id in rules.hardly_main:
        cost += rules.costs.hardly
    if exercise.id in rules.breath.exercises and exercise.equipment != NO_EQUIPMENT:
        cost += rules.costs.breath
    cost -= needs.push * (pool.known.activities[exercise.activity].met - MIDDLE_MET)
    if not exercise.takes_load:
        # floor work is for the trunk and for rests at machines; what moves the whole body is to be loaded
        large = usual_rank(exercise) <= 2
        cost += rules.costs.unloaded[pool.class_request.aim] * (LARGE_UNLOADED if large else 1.0)
    if exercise.id in rules.staples:
        cost += rules.costs.staple
    return cost + Random(f"{needs.seed} {exercise.id}").uniform(0, rules.costs.chance)


def best_for(pool: Pool, muscle: str, without: Collection[str]) -> Choice | None:
    """The exercise with this muscle as prime mover that there is most to say for; None where none can be had."""
    needs = Needs(count=1, character="varied", target={muscle: 1.0})
    found = [
        choice
        for name, choice in pool.choices.items()
        if muscle in choice.exercise.prime and choice.exercise.loads_muscle and name not in without
    ]
    return min(found, key=lambda item: (len(item.exercise.prime), _cost(item, pool, needs)), default=None)
