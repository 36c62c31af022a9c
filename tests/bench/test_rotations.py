"""`make bench`: the figures of the rotation. Printed, not asserted, as in test_speed_and_size.py."""

from __future__ import annotations

import time
from random import Random
from typing import Any

import numpy as np
from making import class_file, group, person, room, sets
from oaken.domain.catalogue import catalogue
from oaken.plan import SetsBlock
from oaken.plan.changes import swap
from oaken.schedule.arrange.replay import replay_block
from oaken.schedule.arrange.search import BlockSearch
from oaken.schedule.arrange.what_if import Scene, repaired
from oaken.schedule.class_file import ClassFile
from oaken.schedule.class_file.reading import load_class
from oaken.schedule.rotation.exact import solve_exactly
from oaken.schedule.rotation.heuristic import quick_rotation
from oaken.schedule.rotation.problem import RotationProblem, shop_bound
from oaken.schedule.rotation.solver import RotationSearch
from oaken.schedule.timeline import Outlook
from oaken.schedule.timeline.lineup import line_up
from orders import lineup_of, small_block
from places import ROOT
from shops import TAILLARD, open_shop, published_shop, unequal_stations
from showing import milliseconds, show

STATIONS = [
    "leg-press", "lying-leg-curl", "leg-extension", "hip-thrust", "hack-squat", "standing-calf-raise", "belt-squat",
    "seated-leg-curl", "hip-abduction", "cable-pull-through", "split-squat", "step-up",
]  # fmt: skip


def twenty_four_on_twelve() -> ClassFile:
    """24 people, 12 unequal stations of one machine each, one long set everywhere."""
    chance = Random(3)
    known = catalogue()
    groups = [group(1, 0, {"exercise": name, "seconds": chance.randint(40, 100)}) for name in STATIONS]
    where = room({known.exercises[name].equipment: 1 for name in STATIONS} | {"band": 24, "mat": 24})
    block = sets(*(group | {"id": f"g{at}"} for at, group in enumerate(groups)), id="block")
    return class_file(block, people=[person(n) for n in range(1, 25)], room=where)


def timed(work: Any) -> tuple[Any, float]:
    begin = time.perf_counter()
    return work(), time.perf_counter() - begin


def nothing_but_the_model(problem: RotationProblem) -> RotationSearch:
    """A search that is not given the good rotation that is known already: everybody comes one behind the other."""
    start, starts = 0, []
    for index in range(len(problem.operations)):
        starts.append(start)
        start += problem.operation(index).length_ds
    return RotationSearch(problem, 1.0, starts)


def test_a_first_answer_at_once(benchmark: Any) -> None:
    small, large = unequal_stations(24, 12), unequal_stations(40, 20)
    _, median = milliseconds(benchmark, lambda: quick_rotation(small), rounds=5)
    show("heuristic rotation, 24 people x 12 stations", median, "ms", 100)
    starts, seconds = timed(lambda: quick_rotation(large))
    show("heuristic rotation, 40 people x 20 stations", seconds * 1000, "ms", 100)
    worst = max(
        problem.length_ds(quick_rotation(problem)) / shop_bound(problem).ds
        for seed in range(1, 6)
        for problem in (unequal_stations(24, 12, seed), unequal_stations(40, 20, seed))
    )
    assert len(starts) == 800
    show("heuristic rotation, length ÷ bound, worst of 10 instances", worst, "", 1.25)


def test_proven_optimal() -> None:
    for seed in (1, 2):
        problem = unequal_stations(24, 12, seed)
        answer, seconds = timed(RotationSearch(problem).run)
        assert answer.proven
        show(f"24 x 12 proven optimal, instance {seed}", seconds, "s", 2)
        answer, alone = timed(nothing_but_the_model(problem).run)
        show(f"24 x 12 by CP-SAT alone, instance {seed}, gap {100 * answer.gap:.1f} %", alone, "s", 2)
    answer, seconds = timed(nothing_but_the_model(unequal_stations(40, 20)).run)
    show("40 x 20 by CP-SAT alone", seconds, "s", 10)
    show("40 x 20 by CP-SAT alone, gap", 100 * answer.gap, "%", 3)


def test_published_open_shops() -> None:
    """Taillard (1993): how far above the optimum on the mean of ten, and the longest search."""
    for size, goal in ((5, 0.1), (10, 0.5)):
        over, slowest = 0.0, 0.0
        for times, machines, optimum in TAILLARD[size]:
            answer, seconds = timed(RotationSearch(open_shop(published_shop(size, times, machines))).run)
            over += 100 * (answer.length_ds / optimum - 1)
            slowest = max(slowest, seconds)
        show(f"published open shops {size} x {size}, above the optimum, mean of 10", over / 10, "%", goal)
        show(f"published open shops {size} x {size}, the slowest", slowest, "s", 3)


def test_the_demos_machine_pairs() -> None:
    """Twelve people, 288 sets of pairs back and forth on shared machines."""
    file = load_class(ROOT / "examples" / "machine-pairs.json")
    block = next(block for block in file.plan.blocks if isinstance(block, SetsBlock))
    scene = Scene(file.plan, file.room, {person.id: person for person in file.people}, file.catalogue())
    search = BlockSearch(line_up(block, scene.around, Outlook.EXPECTED))
    best, seconds = timed(search.run)
    show(f"machine pairs, {best.length_s / 60:.1f} min: above the bound", 100 * search.gap, "%", 2)
    show("machine pairs, the search", seconds, "s", 10)
    show("machine pairs, waiting each", best.waiting_s / len(file.people) / 60, "min", 4)


def test_small_blocks() -> None:
    """Thirty small blocks with wishes: how far the gap that is stated is from the true one, and the bound alone."""
    worst, alone, slowest = 0.0, [], 0.0
    for seed in range(30):
        search = BlockSearch(lineup_of(small_block(seed)))
        least = search.bound.ds
        _, seconds = timed(search.run)
        slowest = max(slowest, seconds)
        known = search.floor.carried(search.before)
        found = solve_exactly(search.floor.work, known, round(search.before.length_s * 10) + 5, search.bound.ds, 1.0)
        optimum = found.bound_ds / 10
        worst = max(worst, 100 * abs(search.gap - (search.best.length_s / optimum - 1)))
        alone.append(100 * (10 * optimum / least - 1))
    show("30 small blocks, stated gap from the true one, worst", worst, "points", 1)
    show("30 small blocks, optimum above the bound that needs no search, median", float(np.median(alone)), "%", 10)
    show("30 small blocks, the slowest search", slowest, "s", 10)


def test_a_whole_class() -> None:
    file = twenty_four_on_twelve()
    (block,) = file.plan.blocks
    assert isinstance(block, SetsBlock)
    scene = Scene(file.plan, file.room, {person.id: person for person in file.people}, file.catalogue())
    lineup = line_up(block, scene.around, Outlook.EXPECTED)
    search, at_once = timed(lambda: BlockSearch(lineup))
    _, quick = timed(search.at_once)
    show("a class of 24 on 12 stations: order shown at once", (at_once + quick) * 1000, "ms", 100)
    best, seconds = timed(search.run)
    assert best.rank <= search.before.rank
    show(f"the same, searched to the end (gap {100 * search.gap:.1f} %)", seconds, "s", 30)
    chosen = line_up(block.model_copy(update={"rotation": best.rotation}), scene.around, Outlook.EXPECTED)
    replays, seconds = timed(lambda: replay_block(chosen, 500, np.random.default_rng(1)))
    assert replays.length_s.size == 500
    show("500 replays of the same", seconds, "s", 2)
    plan = file.plan.model_copy(update={"blocks": [chosen.block]})
    part = block.groups[0].slots[0].id
    swapped = swap(
        plan.model_copy(update={"taken": [file.room.units[0].id]}), part, catalogue().exercises["belt-squat"]
    )
    options, seconds = timed(lambda: repaired(scene.with_plan(plan), swapped))
    show(f"a repair, {len(options)} options", seconds, "s", 1)
