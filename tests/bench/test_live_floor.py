"""How well people are followed on a simulated floor that shares no code with what follows them.

“Right” is the share of person-seconds in which the exercise shown is the real one. What is printed is what is wrong, so
that less is better everywhere.
"""

from __future__ import annotations

import time
from collections import Counter
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from itertools import pairwise

import numpy as np
import pytest
from live_floor import LiveFloor, PlannedSet, RealSet
from oaken.plan import SetsBlock
from oaken.schedule.class_file import ClassFile, check_class
from oaken.schedule.class_file.reading import load_class
from oaken.schedule.rotation import reorder
from oaken.schedule.rotation.reorder import better_order
from oaken.schedule.rotation.rolling import Placement, RollingWork
from oaken.schedule.timeline.rolling_work import rolling_block
from oaken.session.clock import circumstances
from oaken.session.floor import FloorPlan, FloorVisit, SeenPress, floor_at
from places import ROOT
from showing import show

LOOKS_EVERY_S = 10.0
LEFT_SPREAD = 0.09
"""The range in which the screen shows the end of a block, a share of what is left (`web/src/live/machines.ts`)."""

SEEDS = 3


@dataclass(frozen=True)
class Presses:
    """How somebody presses: shares of presses that are forgotten or late (20–60 s), whether what was swapped or skipped
    is told, whether starts are, and whether only the last set of an exercise is, or none. With `mended` the instructor
    says of one who is shown at another exercise what they are at, at every look: six a minute."""

    forgotten: float = 0.0
    late: float = 0.0
    swaps_told: bool = True
    starts_told: bool = False
    last_only: bool = False
    none: bool = False
    mended: bool = False

    def of(self, real: Sequence[Sequence[RealSet]], people: Sequence[str], seed: int) -> list[SeenPress]:
        """What is pressed of a real floor, in its order."""
        chance = np.random.default_rng(seed)
        found: list[SeenPress] = []
        for name, own in zip(people, real, strict=True):
            last = {item.part: item.number for item in own}
            for item in own:
                a_set, unit = (item.part, item.number), item.unit if item.unit >= 0 else None
                soon = float(chance.uniform(0, 3))
                if self.none:
                    continue
                if item.skipped:
                    if self.swaps_told:
                        found.append(SeenPress(item.end_s + soon, "skipped", name, a_set))
                    continue
                if item.swapped and self.swaps_told:
                    found.append(SeenPress(item.work_from_s, "another", name, a_set, unit))
                if self.starts_told:
                    found.append(SeenPress(item.work_from_s + soon, "started", name, a_set, unit))
                if chance.random() < self.forgotten or (self.last_only and item.number < last[item.part]):
                    continue
                late = float(chance.uniform(20, 60)) if chance.random() < self.late else soon
                found.append(SeenPress(item.end_s + late, "done", name, a_set, unit))
        return sorted(found, key=lambda press: press.at_s)


@dataclass(frozen=True)
class Judged:
    """Shares in percent: of the time in which another exercise is shown, while people work, and another machine; of
    what is shown as known that is wrong; the expected end's error at half and three quarters; seconds with two users."""

    wrong: float
    wrong_at_work: float
    wrong_machine: float
    wrong_known: float
    end_errors: tuple[float, float]
    outside: float
    twice_s: float


def pairs_of(people: int) -> tuple[ClassFile, SetsBlock, RollingWork]:
    """The pairs on machines with so many people."""
    file = load_class(ROOT / "examples" / "machine-pairs.json")
    more = [one.model_copy(update={"id": f"{one.id}-b", "name": f"{one.name} B"}) for one in file.people]
    ids = [*file.plan.people, *(f"{name}-b" for name in file.plan.people)][:people]
    plan = file.plan.model_copy(update={"people": ids, "together": [], "apart": [], "instead": []})
    file = check_class(file.model_copy(update={"people": [*file.people, *more], "plan": plan}))
    block = next(block for block in file.plan.blocks if isinstance(block, SetsBlock))
    return file, block, rolling_block(block, circumstances(file, file.plan), frozenset()).work


def real_floor(work: RollingWork, seed: int) -> list[list[RealSet]]:
    plans = [
        [PlannedSet(*task.id, task.kind, task.visit, task.work_s, task.rest_s, task.set_up_s, task.load_change_s,
                    task.load, task.leaves) for task in own]
        for own in work.tasks
    ]  # fmt: skip
    return LiveFloor(plans, {kind: units for kind, units in work.stock.items() if units}, work.walks_s, seed).run()


def shown_at(own: Sequence[Placement], now: float) -> tuple[Placement | None, bool]:
    """What is shown of somebody, and whether as known."""
    for place, item in enumerate(own):
        if now < item.end_s or item.held:
            return item, item.known or (place > 0 and own[place - 1].known)
    return None, True


def judged(
    visit: FloorVisit, real: Sequence[Sequence[RealSet]], presses: list[SeenPress], *, mended: bool = False
) -> Judged:
    """Look at a floor every ten seconds, as the screen would, with what has been pressed by then."""
    end = max(own[-1].end_s for own in real)
    count = {"all": 0, "wrong": 0, "work": 0, "wrong work": 0, "wrong unit": 0, "known": 0, "wrong known": 0}
    errors: list[float] = []
    outside: list[bool] = []
    to_press = list(presses)
    for now in np.arange(2.0, end, LOOKS_EVERY_S).tolist():
        while to_press and to_press[0].at_s <= now:
            visit.presses.append(to_press.pop(0))
        visit.now_s = now
        stands = floor_at(visit)
        mends: list[SeenPress] = []
        for name, own, placed in zip(visit.people, real, stands.placed, strict=True):
            is_at = next((item for item in own if not item.skipped and now < item.end_s), None)
            shown, known = shown_at(placed, now)
            right = (shown.task.id[0] if shown else None) == (is_at.part if is_at else None)
            count["all"] += 1
            count["wrong"] += not right
            count["known"] += known and shown is not None
            count["wrong known"] += known and shown is not None and not right
            if is_at is not None and is_at.work_from_s <= now:
                count["work"] += 1
                count["wrong work"] += not right
                count["wrong unit"] += not right or shown is None or shown.unit != is_at.unit
                if not right:
                    unit = is_at.unit if is_at.unit >= 0 else None
                    mends.append(SeenPress(now, "started", name, (is_at.part, is_at.number), unit))
        if mended and mends:
            visit.presses.append(mends[len(visit.presses) % len(mends)])
        for share in (0.5, 0.75):
            if now - LOOKS_EVERY_S < share * end <= now:
                errors.append(100 * abs(stands.ends_s - end) / end)
        for share in (0.25, 0.4, 0.5, 0.6, 0.75, 0.85):
            if now - LOOKS_EVERY_S < share * end <= now:
                outside.append(abs(stands.ends_s - end) > LEFT_SPREAD * (stands.ends_s - now))
    return Judged(
        100 * count["wrong"] / count["all"],
        100 * count["wrong work"] / count["work"],
        100 * count["wrong unit"] / count["work"],
        100 * count["wrong known"] / max(1, count["known"]),
        (errors[0], errors[1]),
        100 * sum(outside) / len(outside),
        sum(twice(stands.placed, visit.plans[-1].work.places)),
    )


def twice(placed: Sequence[Sequence[Placement]], places: Counter[int]) -> Iterator[float]:
    """Seconds in which a unit with one place has two users."""
    on: dict[int, list[tuple[float, float]]] = {}
    for own in placed:
        for item in own:
            if places[item.unit] == 1 and item.end_s - item.work_from_s > 1e-6:
                on.setdefault(item.unit, []).append((item.work_from_s, item.end_s))
    for stretches in on.values():
        for (_, until), (since, _) in pairwise(sorted(stretches)):
            yield max(0.0, until - since)


@pytest.mark.parametrize(
    ("what", "presses", "goals"),
    [
        ("every set pressed at once", Presses(), (5, 4, 10)),
        ("started and done", Presses(starts_told=True), (5, 4, 4)),
        ("5 % forgotten", Presses(forgotten=0.05), (8, 8, 15)),
        ("swaps and skips not told", Presses(swaps_told=False), (8, 8, 15)),
        ("70 % at once, 15 % late, 15 % never", Presses(forgotten=0.15, late=0.18), (17, 30, 35)),
        ("all 20–60 s late", Presses(late=1.0), (25, 40, 45)),
        ("only the last set of an exercise", Presses(last_only=True), (32, 45, 50)),
        ("the last set of an exercise, and six mends a minute", Presses(last_only=True, mended=True), (13, 20, 35)),
        ("nobody, and six mends a minute", Presses(none=True, mended=True), (25, 35, 45)),
    ],
)
@pytest.mark.parametrize("people", [12, 24])
def test_what_is_shown_wrong(people: int, what: str, presses: Presses, goals: tuple[float, float, float]) -> None:
    file, block, work = pairs_of(people)
    found = []
    for seed in range(SEEDS if people == 12 else 1):
        real = real_floor(work, seed)
        visit = FloorVisit(block.id, file.plan.people, 0.0, [FloorPlan(0.0, work)])
        found.append(judged(visit, real, presses.of(real, file.plan.people, seed), mended=presses.mended))
    name = f"{people} people, {what}"
    show(f"{name}: another exercise shown", float(np.mean([one.wrong for one in found])), "%", goals[0])
    show(f"{name}: while at work", float(np.mean([one.wrong_at_work for one in found])), "%", goals[1])
    show(f"{name}: another machine shown", float(np.mean([one.wrong_machine for one in found])), "%", goals[2])
    show(f"{name}: units with two users", max(one.twice_s for one in found), "s", 0)
    if presses == Presses():
        show(f"{name}: wrong where shown as known", float(np.mean([one.wrong_known for one in found])), "%", 5)
        outside = float(np.mean([one.outside for one in found]))
        show(f"{name}: ends outside the range that is shown", outside, "% of looks", 25)
        goal = 2 if people == 12 else 3.5
        for place, when in enumerate(("half", "three quarters")):
            wrong = float(np.mean([one.end_errors[place] for one in found]))
            show(f"{name}: expected end wrong at {when} of the block", wrong, "% of the block", goal)


@pytest.mark.parametrize("people", [12, 24])
@pytest.mark.parametrize("unit", ["press-1", "thrust", "hack"])
def test_an_order_for_what_is_left_after_a_loss(people: int, unit: str, monkeypatch: pytest.MonkeyPatch) -> None:
    """At 40 % of the block, everybody seen: the order that is offered against the best of one found in 40 times as many
    tries, both as they are dispatched."""
    file, block, work = pairs_of(people)
    real = real_floor(work, 1)
    now = 0.4 * max(own[-1].end_s for own in real)
    presses = [press for press in Presses().of(real, file.plan.people, 1) if press.at_s <= now]
    plan = file.plan.model_copy(update={"taken": [unit]})
    left = rolling_block(block, circumstances(file, plan), frozenset([unit])).work
    plans = [FloorPlan(0.0, work), FloorPlan(now, left)]
    placed = floor_at(FloorVisit(block.id, file.plan.people, 0.0, plans, now_s=now, presses=presses)).placed
    plain = max(own[-1].end_s for own in placed if own) - now
    begun = time.process_time()
    short = better_order(left, placed, now)
    took = time.process_time() - begun
    monkeypatch.setattr(reorder, "TRIES", 40 * reorder.TRIES)
    long = better_order(left, placed, now)
    ends = [plain - (found.sooner_s if found is not None else 0.0) for found in (short, long)]
    name = f"{people} people, {unit} lost at 40 %"
    show(f"{name}: an order for what is left is looked for", took, "s", 0.3)
    show(f"{name}: over the plain order", 100 * (ends[0] / plain - 1), "% of what is left", 0)
    show(f"{name}: over the best of a long search", 100 * (ends[0] / min(ends) - 1), "% of what is left", 5)


@pytest.mark.parametrize("people", [12, 24])
def test_how_long_it_takes(people: int) -> None:
    file, block, work = pairs_of(people)
    real = real_floor(work, 1)
    half = max(own[-1].end_s for own in real) / 2
    presses = [press for press in Presses().of(real, file.plan.people, 1) if press.at_s <= half]
    took = []
    for _ in range(20):
        visit = FloorVisit(block.id, file.plan.people, 0.0, [FloorPlan(0.0, work)], now_s=half, presses=presses)
        begun = time.process_time()
        floor_at(visit)
        took.append(time.process_time() - begun)
    show(f"where {people} people are, from {len(presses)} presses", sorted(took)[10] * 1000, "ms", 5)
