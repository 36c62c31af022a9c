"""What somebody's own phone shows: their own way, before, in and after blocks of every kind."""

from __future__ import annotations

from datetime import UTC, datetime, timedelta
from typing import Any

import pytest
from oaken.schedule.class_file import ClassFile
from oaken.schedule.class_file.reading import load_class
from oaken.session import RunState, people_now, replay_events, sheets_of
from oaken.session.events import event_of
from oaken.session.own_phone import OwnView, own_view
from places import ROOT

BEGAN = datetime(2026, 11, 24, 18, 30, tzinfo=UTC)


def happened(kind: str, at_s: float, **more: Any) -> Any:
    return event_of({"id": f"{kind}-{at_s:g}", "kind": kind, "happened_at": BEGAN + timedelta(seconds=at_s), **more})


def example_file(name: str) -> ClassFile:
    return load_class(ROOT / "examples" / f"{name}.json")


def shown(file: ClassFile, run_state: RunState, number: int, settings: dict[str, str] | None = None) -> OwnView:
    sheet = sheets_of(file, run_state)[-1]
    return own_view(run_state, sheet, people_now(file, run_state)[number], settings or {})


def at(file: ClassFile, seconds: float, *events: Any, follows: str = "people") -> RunState:
    began = happened("began", 0, follows=follows)
    return replay_events(file, [began, *events], BEGAN + timedelta(seconds=seconds))


def test_before_the_class_it_says_what_it_begins_with_and_takes_nothing() -> None:
    file = example_file("machine-pairs")
    view = shown(file, replay_events(file, [], BEGAN), 0)
    assert view.state == "not begun"
    assert view.press is None
    assert view.here is not None or view.next is not None


@pytest.mark.parametrize(("kind", "press"), [("sets", "done"), ("circuit", None), ("together", None), ("relay", "tag")])
def test_only_what_is_followed_takes_a_press(kind: str, press: str | None) -> None:
    seen = 0
    for name in ("machine-pairs", "long-carry", "stretcher-legs", "scree-and-stairs"):
        file = example_file(name)
        for block in file.plan.blocks:
            if block.kind != kind:
                continue
            seen += 1
            went = happened("went_on", 1, block=block.id, second=0)
            assert shown(file, at(file, 8, went), 1).press == press
            # where the plan is followed, nobody's press would move anything
            assert (
                shown(file, at(file, 8, happened("went_on", 1, block=block.id, second=0), follows="plan"), 1).press
                is None
            )
    assert seen


def test_the_set_that_is_shown_next_is_one_that_is_not_done() -> None:
    file = example_file("machine-pairs")
    block = next(block for block in file.plan.blocks if block.kind == "sets")
    went = happened("went_on", 1, block=block.id, second=0)
    person = file.plan.people[2]
    events, done = [went], set()
    for press in range(30):
        second = 60.0 + 90.0 * press
        view = shown(file, at(file, second, *events), 2)
        if view.here is None:
            break
        assert (view.here.part, view.here.number) not in done
        assert view.next is None or (view.next.part, view.next.number) not in done
        assert 1 <= view.here.number <= view.here.sets
        done.add((view.here.part, view.here.number))
        events.append(happened("set_done", second, person=person, part=view.here.part, number=view.here.number))
    sheet = sheets_of(file, at(file, 1))[0]
    planned = {(sheet.parts[item.part].id, item.number) for item in sheet.people[2].sets
               if sheet.blocks[sheet.parts[item.part].block].id == block.id}  # fmt: skip
    assert done == planned


def test_whoever_is_away_is_told_so_and_a_setting_is_that_of_the_unit() -> None:
    file = example_file("machine-pairs")
    block = next(block for block in file.plan.blocks if block.kind == "sets")
    went = happened("went_on", 1, block=block.id, second=0)
    away = shown(file, at(file, 30, went, happened("left", 5, person=file.plan.people[0])), 0)
    assert (away.doing, away.here, away.press) == ("away", None, None)
    run_state = at(file, 30, went)
    spot = people_now(file, run_state)[1].here
    assert spot is not None
    assert spot.unit is not None
    settings = {spot.unit: "seat 4, pad 2", "another": "seat 9"}
    view = shown(file, run_state, 1, settings)
    assert view.here is not None
    assert view.here.setting == "seat 4, pad 2"


def test_when_the_class_is_over_nothing_is_left_to_see() -> None:
    file = example_file("machine-pairs")
    view = shown(file, at(file, 40, happened("ended", 30)), 0)
    assert (view.state, view.here, view.next, view.press, view.over_in_s) == ("ended", None, None, None, 0.0)
