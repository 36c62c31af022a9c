"""What was done belongs to the plan it was done by, and its repetitions mean one thing everywhere."""

from __future__ import annotations

from datetime import UTC, date, datetime, timedelta
from typing import Any

import pytest
from making import class_file, group, person, room, sets
from oaken.plan.changes import SwapExercise
from oaken.programme.progress import sessions_of, set_records
from oaken.schedule.class_file import ClassFile
from oaken.session import Event, log_of, read_sets, replay_events, sheets_of, write_sets
from oaken.session.events import AsPlanned, Began, Changed, SetDone

BEGAN = datetime(2026, 11, 24, 18, 30, tzinfo=UTC)
ONE_SLOT = class_file(
    sets(group(3, 60, {"exercise": "leg-press", "reps": 10, "load": {"share_of_best": 0.5}})),
    people=[person(1, id="ada", bests_kg={"leg-press": 100}), person(2, id="bo")],
)


def at(second: float) -> datetime:
    return BEGAN + timedelta(seconds=second)


def run(*events: tuple[float, type[Any], dict[str, Any]]) -> list[Event]:
    """Events at seconds since the class began, named e1, e2 and so on."""
    found: list[Any] = [Began(id="b", happened_at=at(0))]
    return [*found, *(kind(id=f"e{n}", happened_at=at(s), **more) for n, (s, kind, more) in enumerate(events, 1))]


def thirteen_thrusts(**more: Any) -> tuple[ClassFile, list[Event], float]:
    """Two sets of hip thrusts of everybody, written down, and then another exercise in their place."""
    file = class_file(
        sets(group(4, 60, {"exercise": "hip-thrust", "reps": 10, "load": {"load_kg": 100}})),
        people=[person(1, id="ada"), person(2, id="bo")],
        room=room({"hip-thrust": 2, "cable": 2}),
    )
    part = file.plan.blocks[0].parts[0].id
    sheet = sheets_of(file, replay_events(file, [], at(0)))[0]
    own = sheet.people[0].sets
    happened: list[tuple[float, Any, dict[str, Any]]] = []
    for number in (1, 2):
        for who in ("ada", "bo"):
            second = own[number - 1].start_s + own[number - 1].seconds + 3
            done = {"person": who, "part": part, "number": number, "load_kg": 100.0, "reps": 13, **more}
            happened.append((second, SetDone, done))
    swap_s = own[1].start_s + own[1].seconds + 20
    happened.append((swap_s, Changed, {"change": SwapExercise(slot=part, exercise="cable-hip-extension")}))
    return file, run(*happened), swap_s


def test_what_was_done_stays_what_it_was_when_another_exercise_takes_its_place() -> None:
    file, events, swap_s = thirteen_thrusts()
    part = file.plan.blocks[0].parts[0].id
    third = SetDone(id="c", happened_at=at(swap_s + 200), person="ada", part=part, number=3, load_kg=20, reps=12)
    events = [*events, third]
    run_state = replay_events(file, events, at(swap_s + 900))
    rows = [row for row in log_of(file, events, run_state) if row.person == "ada"]
    assert [(row.number, row.exercise, row.written) for row in rows] == [
        (1, "hip-thrust", "done"),
        (2, "hip-thrust", "done"),
        (3, "cable-hip-extension", "done"),
        (4, "cable-hip-extension", "not written"),
    ]
    assert [row.unit for row in rows[:2]] == ["hip-thrust-1", "hip-thrust-1"]
    assert rows[2].unit.startswith("cable")
    records = set_records(file, events, run_state, date(2026, 3, 2), 1)
    assert {(record.exercise, record.load_kg) for record in records} == {
        ("hip-thrust", 100.0),
        ("cable-hip-extension", 20),
    }
    assert "hip-thrust" in write_sets(rows, {})


def test_ticks_and_corrections_speak_of_the_exercise_that_was_meant() -> None:
    file, events, swap_s = thirteen_thrusts()
    part = file.plan.blocks[0].parts[0].id

    def told(*more: Event) -> list[tuple[int, str, str]]:
        happened = [*(event for event in events if not isinstance(event, SetDone)), *more]
        run_state = replay_events(file, happened, at(swap_s + 900))
        rows = log_of(file, happened, run_state)
        return [(row.number, row.exercise, row.written) for row in rows if row.person == "ada"]

    before = AsPlanned(id="t", happened_at=at(swap_s - 1), person="ada")
    # ticked before the change: the hip thrusts, and no cable exercise of which nobody knew then
    assert told(before) == [
        (1, "hip-thrust", "as planned"),
        (2, "hip-thrust", "as planned"),
        (3, "cable-hip-extension", "not written"),
        (4, "cable-hip-extension", "not written"),
    ]
    after = AsPlanned(id="t", happened_at=at(swap_s + 800), person="ada")
    assert {how for _, _, how in told(after)} == {"as planned"}
    # typed in afterwards, by what stood beside the box
    late = SetDone(
        id="l", happened_at=at(swap_s + 5000), person="ada", part=part, number=2, exercise="hip-thrust", reps=9
    )
    assert told(late)[1] == (2, "hip-thrust", "done")
    first = next(event for event in events if isinstance(event, SetDone) and event.person == "ada")
    corrected = first.model_copy(update={"id": "z", "happened_at": at(swap_s + 60), "reps": 11})
    assert told(first, corrected)[0] == (1, "hip-thrust", "done")


def test_an_exercise_that_was_not_planned_is_logged_by_its_name() -> None:
    events = run((100, SetDone, {"person": "ada", "part": "unplanned.back-squat", "number": 1, "exercise": "back-squat",
                                 "load_kg": 60, "reps": 5}))  # fmt: skip
    run_state = replay_events(ONE_SLOT, events, at(500))
    row = log_of(ONE_SLOT, events, run_state)[-1]
    assert (row.exercise, row.block, row.written) == ("back-squat", "", "done")
    (record,) = set_records(ONE_SLOT, events, run_state, date(2026, 3, 2), 1)
    assert (record.exercise, record.load_kg, record.reps, record.volume_kg) == ("back-squat", 60, 5, 300)


@pytest.mark.parametrize(("sides", "count"), [("each_side", 16), ("in_all", 16), (None, 8)])
def test_what_a_device_writes_as_planned_is_as_planned(sides: str | None, count: int) -> None:
    """A one-sided exercise: 16 in all are 8 a side, on the device, in the log, in the records and beside the plan."""
    segment: dict[str, Any] = {"exercise": "barbell-reverse-lunge", "reps": count, "load": {"load_kg": 40}}
    if sides is not None:
        segment["sides"] = sides
    file = class_file(sets(group(3, 60, segment)), people=[person(1, id="ada")], room=room({"squat-rack": 1}))
    part = file.plan.blocks[0].parts[0].id
    a_side = count // 2 if sides == "in_all" else count
    planned = sheets_of(file, replay_events(file, [], at(0)))[0].people[0].sets[0]
    assert planned.reps == [a_side]
    done = {"person": "ada", "part": part, "number": 1, "load_kg": 40, "reps": planned.reps[0]}
    named = run((100, SetDone, {**done, "exercise": "barbell-reverse-lunge"}))
    # an older device began with the count of both sides, and said nothing of the exercise
    older = run((100, SetDone, {**done, "reps": 2 * a_side}))
    for events in (named, older):
        run_state = replay_events(file, events, at(5000))
        record = set_records(file, events, run_state, date(2026, 3, 2), 1)[0]
        assert (record.low, record.high, record.reps) == (a_side, a_side, a_side)
        assert record.volume_kg == 40 * 2 * a_side


def test_a_table_may_name_an_exercise_that_was_not_planned() -> None:
    log = log_of(ONE_SLOT, [], replay_events(ONE_SLOT, [], at(0)))
    known = ONE_SLOT.catalogue()
    table = "person,exercise,set,load_kg,reps\nada,back squat,1,60,5\nada,leg press,2,50,10\nada,moon walk,1,,3\n"
    squat, press, moon = read_sets(table.encode(), log, {"ada": "Ada", "bo": "Bo"}, known)
    assert (squat.fields["part"], squat.fields["exercise"], squat.faults) == ("unplanned.back-squat", "back-squat", [])
    assert press.fields["part"] == ONE_SLOT.plan.blocks[0].parts[0].id
    assert "no exercise of the catalogue" in moon.faults[0].message


def test_a_load_that_nobody_knows_is_no_volume_of_zero() -> None:
    """Ada's best is known, Bo's is not: her volume is counted, his is not known, set by set and over the day."""
    file = class_file(
        sets(group(3, 60, {"exercise": "leg-press", "reps": 10, "load": {"share_of_best": 0.5}})),
        people=[person(1, id="ada", bests_kg={"leg-press": 100}), person(2, id="bo", bests_kg={})],
    )
    part = file.plan.blocks[0].parts[0].id
    sets_done = [(100.0 * number, SetDone, {"person": "bo", "part": part, "number": number, "reps": 10,
                  **({"load_kg": 40.0} if number == 2 else {})}) for number in (1, 2, 3)]  # fmt: skip
    ticked: tuple[float, type[Any], dict[str, Any]] = (1000, AsPlanned, {"person": "ada"})
    events = run(*sets_done, ticked)
    records = set_records(file, events, replay_events(file, events, at(5000)), date(2026, 3, 2), 1)
    of = {name: [record for record in records if record.person == name] for name in ("ada", "bo")}
    assert [item.volume_kg for item in of["ada"]] == [500.0] * 3
    assert [item.volume_kg for item in of["bo"]] == [None, 400.0, None]
    ada, bo = (sessions_of(of[name])[0] for name in ("ada", "bo"))
    assert (ada.volume_kg, ada.without_load) == (1500.0, 0)
    assert (bo.volume_kg, bo.without_load) == (400.0, 2)
    (none,) = sessions_of([item for item in of["bo"] if item.load_kg is None])
    assert (none.volume_kg, none.without_load) == (None, 2)


PERFORMED: list[tuple[dict[str, Any], dict[str, Any]]] = [
    # what was written of a set of 10, and what the weeks are told of it
    ({"load_kg": 60, "reps": 10}, {"load_kg": 60, "reps": 10, "volume_kg": 600, "ended": "stopped", "in_parts": ""}),
    (
        {"load_kg": 60, "parts": [10, {"reps": 8, "load_kg": 45}, {"reps": 6, "load_kg": 35}], "to_failure": True},
        {"load_kg": 60, "reps": 10, "volume_kg": 600 + 360 + 210, "ended": "failed", "pauses": True,
         "in_parts": "10 × 60 kg + 8 × 45 kg + 6 × 35 kg, to failure"},
    ),
    (
        {"load_kg": 60, "parts": [6, {"reps": 3, "rest_s": 15}], "rest_s": 120},
        {"reps": 6, "volume_kg": 540, "rest_s": 120, "in_parts": "6 × 60 kg, after 120 s + 3 × 60 kg, after 15 s"},
    ),
    ({"load_kg": 60, "parts": [10, {"load_kg": 45}]}, {"reps": 10, "volume_kg": None}),
    (
        {"load_kg": 60, "reps": 10, "helped": True, "helped_reps": 2},
        {"reps": 8, "helped_reps": 2, "helped": False, "ended": "failed", "volume_kg": 600},
    ),
    ({"load_kg": 60, "reps": 10, "helped": True}, {"reps": 10, "helped_reps": 0, "helped": True, "ended": "stopped"}),
    ({"load_kg": 60, "reps": 10, "range_of_motion": "partial"}, {"set_up": "range cut short", "volume_kg": 600}),
    (
        {"load_kg": 60, "reps": 10, "set_up": {"stance": ["feet high"], "aids": ["belt"], "heels_cm": 2.5}},
        {"set_up": "feet high, heels 2.5 cm, belt"},
    ),
    (
        {"load_kg": 60, "parts": [{"reps": 5, "to_failure": True, "reps_left": 0}, 5], "reps_left": 3},
        {"reps": 5, "reps_left": 0, "ended": "failed"},
    ),
]  # fmt: skip


@pytest.mark.parametrize(("written", "told"), PERFORMED)
def test_the_weeks_are_told_a_set_as_it_was_done(written: dict[str, Any], told: dict[str, Any]) -> None:
    part = ONE_SLOT.plan.blocks[0].parts[0].id
    events = run((100, SetDone, {"person": "ada", "part": part, "number": 1, **written}))
    (record,) = set_records(ONE_SLOT, events, replay_events(ONE_SLOT, events, at(5000)), date(2026, 3, 2), 1)
    assert {name: getattr(record, name) for name in told} == told


def test_a_load_in_the_hands_counts_where_the_exercise_has_none_of_its_own() -> None:
    events = run((100, SetDone, {"person": "ada", "part": "unplanned.plank", "number": 1, "exercise": "plank",
                                 "load_kg": 10, "reps": 12}))  # fmt: skip
    (record,) = set_records(ONE_SLOT, events, replay_events(ONE_SLOT, events, at(5000)), date(2026, 3, 2), 1)
    assert (record.load_kg, record.volume_kg) == (10, 120)
