"""A better order for what is left of a block while it runs: found, offered only where it wins, and followed as told.

What is judged here is judged by looking at every placement for itself, not by the search's own reckoning.
"""

from __future__ import annotations

from collections import Counter
from dataclasses import replace
from datetime import UTC, datetime, timedelta
from random import Random
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from oaken.plan import SetsBlock
from oaken.plan.changes import OrderVisits, apply
from oaken.schedule.class_file import ClassFile
from oaken.schedule.class_file.reading import load_class
from oaken.schedule.rotation import reorder
from oaken.schedule.rotation.reorder import begun_sets, better_order
from oaken.schedule.rotation.rolling import PersonOnFloor, Placement, RollingWork, roll
from oaken.schedule.rotation.self_paced import Order, Placed, Task, dispatch
from oaken.schedule.timeline.rolling_work import rolling_block
from oaken.session import Offer, RunState, offers, replay_events
from oaken.session.clock import circumstances
from oaken.session.events import event_of
from oaken.session.floor import floor_at
from oaken.session.live_adjustments import LosesUnit, RunsLate
from orders import small_block
from places import ROOT

BEGAN = datetime(2026, 11, 24, 18, 30, tzinfo=UTC)
FILE = load_class(ROOT / "examples" / "machine-pairs.json")
BLOCK = next(block for block in FILE.plan.blocks if isinstance(block, SetsBlock))
LOSSES = [("press-1", 700.0), ("hack", 600.0), ("hack", 1100.0), ("thrust", 800.0), ("curl", 500.0)]


def told(events: list[dict[str, Any]], second: float) -> RunState:
    """The class so many seconds into its block at people's own pace."""
    said = [
        {"kind": "began", "at": 0.0, "follows": "people"},
        {"kind": "went_on", "at": 1.0, "block": BLOCK.id},
        *events,
    ]
    read = [
        event_of({"id": f"e-{number}", "happened_at": BEGAN + timedelta(seconds=item["at"]),
                  **{name: value for name, value in item.items() if name != "at"}})
        for number, item in enumerate(said)
    ]  # fmt: skip
    return replay_events(FILE, read, BEGAN + timedelta(seconds=second))


def offered(unit: str, second: float) -> dict[str, Offer]:
    said = [
        event_of({"id": "a", "kind": "began", "follows": "people", "happened_at": BEGAN}),
        event_of({"id": "b", "kind": "went_on", "block": BLOCK.id, "happened_at": BEGAN + timedelta(seconds=1)}),
    ]
    now = BEGAN + timedelta(seconds=second)
    return {offer.name: offer for offer in offers(FILE, said, now, LosesUnit(unit=unit))}


def placed_in(run_state: RunState) -> tuple[list[list[Placement]], RollingWork]:
    assert run_state.floor is not None
    return floor_at(run_state.floor).placed, run_state.floor.plans[-1].work


def check_units(placed: list[list[Any]], places: Counter[int]) -> None:
    """No unit has more users than places at any moment."""
    moments = sorted({item.set_up_from_s for own in placed for item in own})
    for moment in moments:
        on = Counter(
            item.unit for own in placed for item in own
            if item.unit >= 0 and item.set_up_from_s <= moment + 1e-6 < item.end_s - 1e-6
        )  # fmt: skip
        assert all(count <= places[unit] for unit, count in on.items())


@pytest.mark.parametrize(("unit", "second"), LOSSES)
def test_what_is_offered_wins_as_it_is_followed_and_does_no_set_again(unit: str, second: float) -> None:
    found = offered(unit, second)
    for name, offer in found.items():
        if not name.endswith(", in another order"):
            continue
        plain = found[name.removesuffix(", in another order")]
        assert offer.effect.ends_later_s < plain.effect.ends_later_s - 5
        lost = [{**event, "at": second} for event in offer.events]
        assert [event["kind"] for event in lost] == ["unit_lost"]
        same = [{**event, "at": second} for event in plain.events]
        now, work = placed_in(told(lost, second + 0.5))
        before, _ = placed_in(told(same, second + 0.5))
        check_units([[item for item in own if item.end_s > second] for own in now], work.places)
        for own, others in zip(now, before, strict=True):
            # the same sets are done, under way and left; only their order is another
            assert Counter(item.task.id for item in own) == Counter(item.task.id for item in others)
            begun = begun_sets(own, second)
            assert [item.task.id for item in own[:begun]] == [item.task.id for item in others[:begun]]
        # and it is what was promised: the block is over when it was told to be
        gain = max(own[-1].end_s for own in before if own) - max(own[-1].end_s for own in now if own)
        assert gain == pytest.approx(plain.effect.ends_later_s - offer.effect.ends_later_s, abs=2)


def test_it_is_found_where_it_matters() -> None:
    names = [name for unit, second in LOSSES for name in offered(unit, second)]
    assert sum(name.endswith(", in another order") for name in names) >= 2


def test_running_late_offers_it_as_well_and_never_one_that_takes_longer() -> None:
    said = [
        event_of({"id": "a", "kind": "began", "follows": "people", "happened_at": BEGAN}),
        event_of({"id": "b", "kind": "went_on", "block": BLOCK.id, "happened_at": BEGAN + timedelta(seconds=1)}),
        event_of({"id": "c", "kind": "unit_lost", "unit": "hack", "happened_at": BEGAN + timedelta(seconds=500)}),
    ]
    found = offers(FILE, said, BEGAN + timedelta(seconds=520), RunsLate())
    assert all(offer.effect.ends_later_s < -1 for offer in found)


def everybody(work: RollingWork) -> list[PersonOnFloor]:
    return [PersonOnFloor(list(range(len(own)))) for own in work.tasks]


def work_of(file: ClassFile) -> RollingWork:
    block = next(block for block in file.plan.blocks if isinstance(block, SetsBlock))
    return rolling_block(block, circumstances(file, file.plan), frozenset()).work


@settings(max_examples=60, deadline=None)
@given(st.integers(0, 10_000))
def test_every_set_that_is_left_stands_once_and_what_is_under_way_comes_first(seed: int) -> None:
    chance = Random(seed)
    work = work_of(small_block(seed))
    now = chance.uniform(0, 400)
    placed = roll(work, everybody(work), now)
    found = better_order(work, placed, now)
    if found is None:
        return
    assert found.sooner_s > 0
    check_units(found.placed, work.places)
    for person, own in enumerate(placed):
        begun = begun_sets(own, now)
        tasks = work.tasks[person]
        ids = [tasks[item.task.tag].id for item in found.placed[person]]
        assert Counter(ids) == Counter(item.task.id for item in own[begun:])
        numbers: dict[str, int] = {}
        for part, number in ids:
            assert number > numbers.get(part, 0), "the sets of an exercise come in their order"
            numbers[part] = number
        if begun and ids:
            visit = own[begun - 1].task.visit
            left = [item.task.id for item in own[begun:] if item.task.visit == visit]
            assert ids[: len(left)] == left


def improvable() -> tuple[list[list[Placement]], RollingWork, float]:
    """A floor after a loss for which another order is found."""
    for unit, second in LOSSES:
        run_state = told([{"kind": "unit_lost", "at": second, "unit": unit}], second + 1)
        placed, work = placed_in(run_state)
        assert run_state.floor is not None
        if better_order(work, placed, run_state.floor.now_s) is not None:
            return placed, work, run_state.floor.now_s
    raise AssertionError("no floor of these has a better order")


def test_it_is_the_same_whenever_it_is_asked_and_nothing_where_people_are_held_together() -> None:
    placed, work, now = improvable()
    assert better_order(work, placed, now) == better_order(work, placed, now) is not None
    held = replace(work, gates={0: ("a",)}, width={"a": 1})
    assert better_order(held, placed, now) is None


def test_an_order_that_loses_on_other_days_is_none(monkeypatch: Any) -> None:
    placed, work, now = improvable()
    monkeypatch.setattr(reorder, "_wins", lambda rest, chosen: False)
    assert better_order(work, placed, now) is None


def test_a_dispatch_that_goes_on_from_the_middle_is_the_rest_of_the_whole() -> None:
    """By hand: two machines, two people, two sets each; at 50 s the first set of each is under way."""

    def task(kind: str, tag: int, work_s: float = 40.0) -> Task:
        return Task(kind, work_s, 20.0, 5.0, 0.0, None, None, False, tag)

    tasks = [[task("a", 0), task("b", 1)], [task("a", 0), task("a", 1)]]
    stock = {"a": [0], "b": [1]}
    whole = dispatch(tasks, stock, lambda here, there: 0.0)
    assert [(item.unit, item.set_up_from_s, item.end_s) for own in whole for item in own] == [
        (0, 0, 45), (1, 65, 110), (0, 45, 90), (0, 110, 150)]  # fmt: skip
    order = Order(since=[(45.0, 20.0, 0), (90.0, 20.0, 0)], taken={0: [(90.0, 1, None)]})
    rest = dispatch([own[1:] for own in tasks], stock, lambda here, there: 0.0, order)

    def times(own: list[Placed]) -> list[tuple[float, ...]]:
        return [(item.leave_s, item.rested_s, item.set_up_from_s, item.work_from_s, item.end_s) for item in own]

    assert [times(own) for own in rest] == [times(own[1:]) for own in whole]


def test_an_order_that_was_found_is_kept_in_the_plan_and_serves_whoever_comes_first() -> None:
    names = FILE.plan.people
    groups = [group.id for group in BLOCK.groups]
    visits = {name: [{"group": group, "sets_s": [60.0 * place]} for place, group in enumerate(reversed(groups))]
              for name in names}  # fmt: skip
    change = OrderVisits.model_validate(
        {"do": "order_visits", "block": BLOCK.id, "rotation": {"visits": visits, "first_come": True}}
    )
    plan = apply(FILE.plan, change, FILE.catalogue())
    block = next(block for block in plan.blocks if block.id == BLOCK.id)
    assert isinstance(block, SetsBlock)
    assert block.rotation == change.rotation
    work = rolling_block(block, circumstances(FILE, plan), frozenset()).work
    group_of = {slot.id: group.id for group in BLOCK.groups for slot in group.slots}
    for own in work.tasks:
        assert list(dict.fromkeys(group_of[task.id[0]] for task in own)) == list(reversed(groups))
        # nobody has a planned turn: it is theirs when they are ready
        assert all(task.turn_s == task.ready_s for task in own)
