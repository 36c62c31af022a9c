"""A run: events folded into a clock, a actual timeline and a log. Properties over generated event lists, and cases by hand."""

from __future__ import annotations

import random
from datetime import UTC, datetime, timedelta
from itertools import pairwise
from pathlib import Path
from typing import Any

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from making import class_file, group, person, sets, together
from oaken.__main__ import main
from oaken.basis.faults import FaultyInput
from oaken.forecast import forecast
from oaken.forecast.workload import carry_out
from oaken.plan.changes import Later, LeaveOut, MilderForHeat, SetRounds, ShorterRests, SwapExercise
from oaken.schedule.class_file import ClassFile
from oaken.schedule.class_file.reading import load_class
from oaken.schedule.timeline import Doing
from oaken.session import (
    Event,
    RunState,
    actual_class,
    cues,
    face_of,
    log_of,
    marks,
    people_now,
    planned_and_actual,
    read_log,
    replay_events,
    simulated_events,
    standing,
    write_log,
)
from oaken.session.events import (
    AsPlanned,
    Began,
    Came,
    Changed,
    Ended,
    Left,
    MovedOn,
    Noted,
    Paused,
    Resumed,
    SetDone,
    TimeAdded,
    UnitBack,
    UnitLost,
    WaitsForReady,
    WentOn,
    Withdrawn,
)
from places import ROOT
from pydantic import ValidationError

BEGAN = datetime(2026, 11, 24, 18, 30, tzinfo=UTC)
STATIONS = load_class(ROOT / "examples" / "stretcher-legs.json")
PAIRS = load_class(ROOT / "examples" / "machine-pairs.json")
few = settings(max_examples=40, deadline=None, suppress_health_check=[HealthCheck.too_slow])


def at(second: float) -> datetime:
    return BEGAN + timedelta(seconds=second)


def run(*events: tuple[float, type[Any], dict[str, Any]], began: float = 0.0) -> list[Event]:
    """Events at seconds since the class began, named e1, e2 and so on."""
    found: list[Any] = [Began(id="b", happened_at=at(began))]
    return [*found, *(kind(id=f"e{n}", happened_at=at(s), **more) for n, (s, kind, more) in enumerate(events, 1))]


def stands(events: list[Event], second: float, file: ClassFile = STATIONS) -> RunState:
    return replay_events(file, events, at(second))


# ---- the clock --------------------------------------------------------------------------------------------------


def test_the_clock_runs_pauses_adds_time_and_goes_on_where_it_stood() -> None:
    events = run((60, Paused, {}), (90, Resumed, {}), (100, TimeAdded, {"seconds": 15}))
    assert stands(events, 59).second == 59
    assert (stands(events, 75).second, stands(events, 75).state) == (60, "paused")
    assert stands(events, 95).second == 65
    assert (stands(events, 110).second, stands(events, 110).state) == (70, "runs")
    assert stands(events, 110).added_s == 5
    assert stands(events, 120).second == 75
    face = face_of(stands(events, 110))
    mark = next(mark for mark in marks(stands(events, 110).era) if mark > 70)
    assert face.left_s == pytest.approx(5 + mark - 70)
    assert face.ends_in_s == pytest.approx(5 + STATIONS_LENGTH - 70)


STATIONS_LENGTH = carry_out(STATIONS).timeline.length_s


def test_the_clock_waits_for_ready_at_the_next_change_and_no_sooner() -> None:
    mark = next(mark for mark in marks(stands(run(), 0).era) if mark > 100)
    events = run((100, WaitsForReady, {}), (mark + 40, Resumed, {}))
    assert stands(events, mark - 1).state == "runs"
    waiting = stands(events, mark + 30)
    assert (waiting.state, waiting.second) == ("waits for ready", pytest.approx(mark))
    assert stands(events, mark + 50).second == pytest.approx(mark + 10)


def test_two_who_press_at_once_mean_the_same() -> None:
    block = STATIONS.plan.blocks[1].id
    skipped = run((100, WentOn, {"block": block}), (100.2, WentOn, {"block": block, "second": 0.0}))
    start = stands(run(), 0).era.timeline.blocks[1].start_s
    assert stands(skipped, 110).second == pytest.approx(start + 9.8)
    paused = run((60, Paused, {}), (60.1, Paused, {}), (70, Resumed, {}), (70.4, Resumed, {}))
    assert stands(paused, 80).second == pytest.approx(70)


def test_a_class_that_is_over_stands_still_and_time_can_be_added_to_nothing() -> None:
    over = stands(run(), STATIONS_LENGTH + 100)
    assert (over.state, over.second) == ("plan is over", pytest.approx(STATIONS_LENGTH))
    assert face_of(over).ends_in_s == 0
    ended = stands(run((600, Ended, {}), (700, Paused, {}), (710, WentOn, {"block": "x"})), 900)
    assert (ended.state, ended.second) == ("ended", 600)
    assert actual_class(STATIONS, ended).timeline.length_s == 600


def test_before_it_began_there_is_no_clock() -> None:
    events: list[Event] = [Noted(id="n", happened_at=at(-60), words="the bike squeaks")]
    run_state = replay_events(STATIONS, events, at(0))
    assert (run_state.state, run_state.began_at, face_of(run_state).passed_s) == ("not begun", None, 0)
    assert actual_class(STATIONS, run_state).real_until_s == 0


def test_what_is_called_is_counted_down_to_every_change() -> None:
    era = stands(run(), 0).era
    found = cues(era)
    assert found == sorted(found, key=lambda cue: cue.second)
    work = [cue.second for cue in found if cue.call == "work"]
    circuit = STATIONS.plan.blocks[1]
    assert circuit.kind == "circuit"
    start = era.timeline.blocks[1].start_s
    assert start in work
    assert start + circuit.work_s + circuit.change_s in work
    calls = {(cue.second, cue.call) for cue in found}
    assert {(start + circuit.work_s - 3, "three"), (start + circuit.work_s - 1, "one")} <= calls
    assert {(start + circuit.work_s / 2, "half way"), (start + circuit.work_s - 10, "ten left")} <= calls
    assert found[-1].call == "end"


# ---- properties -------------------------------------------------------------------------------------------------

ANY_BLOCK = st.sampled_from([block.id for block in PAIRS.plan.blocks])
PLAN_CHANGES = [
    LeaveOut(block=PAIRS.plan.blocks[0].id),
    ShorterRests(factor=0.7),
    Later(block=PAIRS.plan.blocks[0].id, change=MilderForHeat()),
    SetRounds(block=PAIRS.plan.blocks[1].id, rounds=2),
]
ANYBODY = st.sampled_from(PAIRS.plan.people)
HAPPENINGS = st.one_of(
    st.just((Paused, {})),
    st.just((Resumed, {})),
    st.just((WaitsForReady, {})),
    st.builds(lambda s: (TimeAdded, {"seconds": s}), st.integers(1, 60)),
    st.builds(lambda b, s: (WentOn, {"block": b, "second": s}), ANY_BLOCK, st.integers(0, 600)),
    st.builds(
        lambda p, b, s: (MovedOn, {"person": p, "block": b, "second": s}), ANYBODY, ANY_BLOCK, st.integers(0, 3000)
    ),
    st.builds(lambda c: (Changed, {"change": c}), st.sampled_from(PLAN_CHANGES)),
    st.builds(lambda p: (Left, {"person": p}), ANYBODY),
    st.builds(lambda p: (Came, {"person": p}), ANYBODY),
    st.builds(lambda u: (UnitLost, {"unit": u}), st.sampled_from(["press-1", "thrust", "hack"])),
    st.builds(lambda u: (UnitBack, {"unit": u}), st.sampled_from(["press-1", "thrust"])),
    st.builds(lambda p, n: (SetDone, {"person": p, "part": "x", "number": n, "reps": 8}), ANYBODY, st.integers(1, 5)),
    st.builds(lambda p: (AsPlanned, {"person": p}), st.none() | ANYBODY),
    st.builds(lambda e: (Withdrawn, {"event": f"e{e}"}), st.integers(1, 8)),
)


@st.composite
def runs(draw: st.DrawFn) -> list[Event]:
    events = draw(st.lists(st.tuples(st.integers(0, 3600), HAPPENINGS), max_size=8))
    return run(*[(float(second), kind, more) for second, (kind, more) in events])


@few
@given(runs(), st.randoms(use_true_random=False), st.integers(0, 4000))
def test_any_order_doubling_and_splitting_of_deliveries_gives_the_same_class(
    events: list[Event], chance: random.Random, now: int
) -> None:
    sent = [*events, *chance.sample(events, len(events) // 2)]
    chance.shuffle(sent)
    one, other = replay_events(PAIRS, events, at(now)), replay_events(PAIRS, sent, at(now))
    assert (one.second, one.state, one.stretches, one.away) == (other.second, other.state, other.stretches, other.away)
    assert log_of(PAIRS, events, one) == log_of(PAIRS, sent, other)
    assert standing(events) == standing(sent)


@few
@given(runs(), st.integers(0, 4000))
def test_the_clock_neither_loses_nor_doubles_a_second(events: list[Event], now: int) -> None:
    run_state = replay_events(PAIRS, events, at(now))
    for here, there in pairwise(run_state.stretches):
        assert there.from_s == here.to_s
    if run_state.stretches:
        assert run_state.stretches[0].from_s == 0
        assert run_state.state == "ended" or run_state.stretches[-1].to_s == pytest.approx(now)


@few
@given(runs(), st.integers(1, 4000))
def test_the_actual_timeline_has_no_gap_and_its_figures_can_be_told(events: list[Event], now: int) -> None:
    run_state = replay_events(PAIRS, events, at(now))
    went = actual_class(PAIRS, run_state)
    for path in went.timeline.paths:
        assert path[0].start_s == 0
        assert path[-1].end_s == pytest.approx(went.timeline.length_s)
        assert all(there.start_s == pytest.approx(here.end_s) for here, there in pairwise(path))
    told = forecast(went.file, went.timeline)
    # told to a tenth of a second
    assert told.length.value == pytest.approx(went.timeline.length_s, abs=0.0501)
    assert [block.id for block in told.blocks] == [block.id for block in went.file.plan.blocks]


@few
@given(runs(), st.integers(0, 4000), st.integers(1, 8))
def test_withdrawing_restores(events: list[Event], now: int, which: int) -> None:
    """What is withdrawn never was; a withdrawal that is withdrawn never was either."""
    target = events[which % len(events)].id
    later = at(5000)
    gone = Withdrawn(id="w1", happened_at=later, event=target)
    back = Withdrawn(id="w2", happened_at=later + timedelta(seconds=1), event="w1")
    without = [item for item in standing(events) if item.id != target]
    assert standing([*events, gone]) == without or isinstance(events[which % len(events)], Withdrawn)
    assert standing([*events, gone, back]) == standing(events)


@pytest.mark.parametrize("name", ["stretcher-legs", "machine-pairs", "scree-and-stairs", "long-carry"])
def test_a_run_as_planned_gives_the_plans_own_figures(name: str) -> None:
    file = load_class(ROOT / "examples" / f"{name}.json")
    run_state = replay_events(file, run(), at(40_000))
    went = actual_class(file, run_state)
    assert went.timeline.paths == carry_out(file).timeline.paths
    assert forecast(went.file, went.timeline).model_dump_json() == forecast(file).model_dump_json()


# ---- what happens on the floor ----------------------------------------------------------------------------------


def counted(file: ClassFile, run_state: RunState) -> Any:
    went = actual_class(file, run_state)
    return carry_out(went.file, went.timeline).workload.done


def test_a_pause_in_a_set_rests_everybody_and_doubles_nothing() -> None:
    start = carry_out(STATIONS).timeline.blocks[1].start_s
    paused = replay_events(STATIONS, run((start + 10, Paused, {}), (start + 70, Resumed, {})), at(40_000))
    plain, with_pause = counted(STATIONS, replay_events(STATIONS, run(), at(40_000))), counted(STATIONS, paused)
    assert actual_class(STATIONS, paused).timeline.length_s == pytest.approx(STATIONS_LENGTH + 60)
    for item, other in zip(plain, with_pause, strict=True):
        assert (item.sets, other.work_s) == (other.sets, pytest.approx(item.work_s))
        assert other.reps == pytest.approx(item.reps)
        assert other.volume_kg == pytest.approx(item.volume_kg)


def test_a_set_that_was_skipped_in_the_middle_is_worth_what_was_done_of_it() -> None:
    file = class_file(together(("bodyweight-squat", 100)))
    (done,) = counted(file, replay_events(file, run((25, Ended, {})), at(100)))
    (whole,) = counted(file, replay_events(file, run(), at(1000)))
    assert (done.sets, whole.sets) == (1, 1)
    assert done.reps == pytest.approx(whole.reps / 4)
    assert done.work_s == pytest.approx(25)


def test_somebody_late_and_somebody_who_leaves_stand_aside_meanwhile() -> None:
    late, gone = PAIRS.plan.people[0], PAIRS.plan.people[1]
    events = run((600, Came, {"person": late}), (1200, Left, {"person": gone}))
    went = actual_class(PAIRS, replay_events(PAIRS, events, at(40_000)))
    first, second = went.timeline.paths[:2]
    assert all(step.doing is Doing.FINISHED for step in first if step.end_s <= 600)
    assert all(step.doing is Doing.FINISHED for step in second if step.start_s >= 1200)
    assert any(step.doing is Doing.WORK for step in second if step.end_s <= 1200)


def test_a_lost_unit_is_used_by_nobody_from_then_on_and_what_was_done_stays() -> None:
    unit = next(index for index, unit in enumerate(PAIRS.room.units) if unit.id == "press-1")
    lost = replay_events(PAIRS, run((900, UnitLost, {"unit": "press-1"})), at(40_000))
    went = actual_class(PAIRS, lost)
    on_it = [step for path in went.timeline.paths for step in path if step.unit == unit and step.doing is Doing.WORK]
    before = [
        step for path in carry_out(PAIRS).timeline.paths for step in path if step.unit == unit and step.end_s <= 900
    ]
    assert all(step.end_s <= 900 for step in on_it)
    assert len([step for step in before if step.doing is Doing.WORK]) <= len(on_it)
    assert lost.era.plan.taken == ["press-1"]
    again = replay_events(
        PAIRS, run((900, UnitLost, {"unit": "press-1"}), (901, UnitBack, {"unit": "press-1"})), at(950)
    )
    assert again.era.plan.taken == []
    unknown = replay_events(PAIRS, run((5, UnitLost, {"unit": "attic-press"})), at(10))
    assert "attic-press" in unknown.notices[0]


def test_a_change_of_the_plan_holds_from_its_second_on() -> None:
    part = STATIONS.plan.blocks[1].parts[0].id
    start = carry_out(STATIONS).timeline.blocks[1].start_s
    swap = SwapExercise(slot=part, exercise="wall-sit")
    run_state = replay_events(STATIONS, run((start + 300, Changed, {"change": swap})), at(40_000))
    went = actual_class(STATIONS, run_state)
    names = {
        (went.timeline.slots[step.slot].exercise.id, step.start_s < start + 300)
        for path in went.timeline.paths
        for step in path
        if step.doing is Doing.WORK and went.timeline.slots[step.slot].id == part
    }
    assert ("wall-sit", False) in names
    assert ("wall-sit", True) not in names
    assert forecast(went.file, went.timeline).length.value == pytest.approx(went.timeline.length_s)
    wrong = replay_events(
        STATIONS, run((9, Changed, {"change": SwapExercise(slot="nowhere", exercise="wall-sit")})), at(10)
    )
    assert "nowhere" in wrong.notices[0]


def test_everybody_is_told_where_they_are_and_where_they_go_next() -> None:
    circuit = STATIONS.plan.blocks[1]
    assert circuit.kind == "circuit"
    start = carry_out(STATIONS).timeline.blocks[1].start_s
    late = STATIONS.plan.people[2]
    now = people_now(STATIONS, stands(run((100, Left, {"person": late})), start + 10))
    first = now[0]
    assert (first.doing, first.here.part if first.here else "") == (Doing.WORK, circuit.parts[0].id)
    assert first.left_s == pytest.approx(circuit.work_s - 10)
    assert first.next is not None
    assert first.next.part == circuit.parts[1].id
    assert first.next_in_s == pytest.approx(circuit.work_s + circuit.change_s - 10)
    assert (now[2].away, now[2].here, now[2].next) == (True, None, None)
    # nobody is where somebody else is: each at a station of their own
    assert len({item.here.part for item in now if item.here}) == len(now) - 1
    extended = people_now(STATIONS, stands(run((start + 10, TimeAdded, {"seconds": 15})), start + 12))
    assert extended[0].left_s == pytest.approx(circuit.work_s - 10 + 13)
    over = people_now(STATIONS, stands(run(), 40_000))
    assert all(item.here is None and item.next is None and not item.away for item in over)


# ---- the log ----------------------------------------------------------------------------------------------------

ONE_SLOT = class_file(
    sets(group(3, 60, {"exercise": "leg-press", "reps": 10, "load": {"share_of_best": 0.5}})),
    people=[person(1, id="ada", bests_kg={"leg-press": 100}), person(2, id="bo")],
)


def test_not_written_is_not_the_same_as_as_planned() -> None:
    part = ONE_SLOT.plan.blocks[0].parts[0].id
    first = {"person": "ada", "part": part, "number": 1, "load_kg": 55, "reps": 12}
    events = run(
        (100, SetDone, first),
        (200, SetDone, {**first, "reps": 11}),
        (300, AsPlanned, {"person": "ada"}),
        (400, SetDone, {"person": "bo", "part": part, "number": 4, "reps": 6, "to_failure": True}),
    )
    rows = log_of(ONE_SLOT, events, replay_events(ONE_SLOT, events, at(500)))
    told = [(row.person, row.number, row.written) for row in rows]
    assert told == [
        ("ada", 1, "done"),
        ("ada", 2, "as planned"),
        ("ada", 3, "as planned"),
        ("bo", 1, "not written"),
        ("bo", 2, "not written"),
        ("bo", 3, "not written"),
        ("bo", 4, "done"),
    ]
    assert (rows[0].planned_kg, rows[0].planned_reps, rows[0].done[0].reps) == (50, 10, 11)
    assert (rows[6].planned_reps, rows[6].exercise) == (None, "leg-press")
    back = [*events, Withdrawn(id="w", happened_at=at(450), event="e2")]
    assert log_of(ONE_SLOT, back, replay_events(ONE_SLOT, back, at(500)))[0].done[0].reps == 12


def test_as_planned_with_a_number_speaks_of_that_set_only() -> None:
    part = ONE_SLOT.plan.blocks[0].parts[0].id

    def as_planned(said: dict[str, Any]) -> list[tuple[str, int]]:
        events = run((300, AsPlanned, said))
        rows = log_of(ONE_SLOT, events, replay_events(ONE_SLOT, events, at(500)))
        return [(row.person, row.number) for row in rows if row.written == "as planned"]

    assert as_planned({"person": "ada", "part": part, "number": 2}) == [("ada", 2)]
    assert as_planned({"part": part, "number": 3}) == [("ada", 3), ("bo", 3)]
    assert as_planned({"part": "elsewhere", "number": 3}) == []
    with pytest.raises(ValidationError):
        as_planned({"part": part, "number": 0})


# ---- the file and the command line ------------------------------------------------------------------------------


def test_a_run_log_comes_back_as_it_was_written() -> None:
    events = run((60, Paused, {}), (61, SetDone, {"person": "ada", "part": "x", "number": 1, "parts": (7, 7, 7)}))
    lines = write_log(ONE_SLOT, events).splitlines()
    file, again = read_log(lines, lambda name: load_class(ROOT / name))
    assert (file, again) == (ONE_SLOT, events)


@pytest.mark.parametrize(
    ("line", "where", "what"),
    [
        ("{half", "line 2", "is not JSON"),
        ('{"kind": "paused", "id": "x"}', "line 2", "happened_at"),
        ('{"kind": "sneezed", "id": "x", "happened_at": "2026-11-24T18:30:00Z"}', "line 2", "kind"),
        (
            '{"kind": "time_added", "id": "x", "happened_at": "2026-11-24T18:30:00Z", "seconds": -4}',
            "line 2",
            "seconds",
        ),
        ('{"kind": "paused", "id": "x", "happened_at": "1066-11-24T18:30:00Z"}', "line 2", "2000 and 2100"),
    ],
)
def test_a_faulty_line_is_told_with_its_number(line: str, where: str, what: str) -> None:
    head = ONE_SLOT.model_dump_json(exclude_none=True)
    with pytest.raises(FaultyInput) as raised:
        read_log([head, line], lambda name: load_class(ROOT / name))
    (fault,) = raised.value.faults
    assert fault.place == where
    assert what in str(fault)


def test_the_command_line_tells_a_run(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    log = tmp_path / "run.jsonl"
    person_id = STATIONS.plan.people[0]
    part = STATIONS.plan.blocks[1].parts[0].id
    events = run(
        (300, Paused, {}), (360, Resumed, {}),
        (900, SetDone, {"person": person_id, "part": part, "number": 1, "load_kg": 60, "reps": 15}),
    )  # fmt: skip
    log.write_text(write_log(STATIONS, events), encoding="utf-8")
    assert main(["run", str(log), "--at", "1000"]) == 0
    told = capsys.readouterr().out
    assert "clock    16:40  runs: Stations" in told
    assert f"the class ends at {int((STATIONS_LENGTH + 60) // 60)}:" in told
    assert "1 done, 0 as planned" in told
    assert f"  1 {person_id}" in told
    assert "next" in told
    assert "15 × 60 kg" in told
    log.write_text("{}\n{half\n", encoding="utf-8")
    assert main(["run", str(log)]) == 2
    assert "run.jsonl: line 2" in capsys.readouterr().err
    assert main(["run", str(tmp_path / "nowhere.jsonl")]) == 2
    assert "cannot be read" in capsys.readouterr().err


def test_time_that_two_hands_add_at_once_counts_once_and_a_second_press_of_one_hand_counts_again() -> None:
    two = run((60, TimeAdded, {"seconds": 15, "device": "one"}), (60.8, TimeAdded, {"seconds": 15, "device": "other"}))
    assert stands(two, 61).added_s == pytest.approx(14)
    again = run((60, TimeAdded, {"seconds": 15, "device": "one"}), (60.8, TimeAdded, {"seconds": 15, "device": "one"}))
    assert stands(again, 61).added_s == pytest.approx(29)
    later = run((60, TimeAdded, {"seconds": 15, "device": "one"}), (62, TimeAdded, {"seconds": 15, "device": "other"}))
    assert stands(later, 63).added_s == pytest.approx(27)


def test_whoever_is_moved_on_stands_before_the_class_until_the_block_is_over() -> None:
    block, span = PAIRS.plan.blocks[1], carry_out(PAIRS).timeline.blocks[1]
    person = PAIRS.plan.people[0]
    moved = run((span.start_s + 10, MovedOn, {"person": person, "block": block.id, "second": 610}))
    run_state = replay_events(PAIRS, moved, at(span.start_s + 20))
    assert run_state.ahead_of(person) == pytest.approx(600)
    assert run_state.ahead_of(PAIRS.plan.people[1]) == 0
    own = people_now(PAIRS, run_state)[0]
    plain = people_now(PAIRS, replay_events(PAIRS, run(), at(span.start_s + 620)))[0]
    assert (own.here, own.doing, own.left_s) == (plain.here, plain.doing, pytest.approx(plain.left_s))
    went = actual_class(PAIRS, replay_events(PAIRS, moved, at(40_000)))
    path = [step for step in went.timeline.paths[0] if step.block == 1]
    done = [step for step in path if step.doing is Doing.FINISHED]
    assert sum(step.end_s - step.start_s for step in done) >= 600 - 1
    before, after = (
        counted(PAIRS, replay_events(PAIRS, run(), at(40_000)))[0],
        counted(PAIRS, replay_events(PAIRS, moved, at(40_000)))[0],
    )
    assert after.sets < before.sets


def test_a_simulated_class_is_the_same_each_time_and_can_be_told() -> None:
    events = simulated_events(PAIRS, BEGAN, seed=3)
    assert events == simulated_events(PAIRS, BEGAN, seed=3)
    assert events != simulated_events(PAIRS, BEGAN, seed=4)
    run_state = replay_events(PAIRS, events, at(40_000))
    assert run_state.state == "ended"
    written = [row.written for row in log_of(PAIRS, events, run_state)]
    assert {"done", "as planned"} <= set(written)
    assert actual_class(PAIRS, run_state).timeline.length_s > carry_out(PAIRS).timeline.length_s
    half = replay_events(PAIRS, simulated_events(PAIRS, BEGAN, 3, until_s=1200), at(1300))
    assert half.state != "ended"


def test_plan_beside_actual_has_every_block_and_the_actual_length() -> None:
    run_state = replay_events(PAIRS, run((300, Paused, {}), (400, Resumed, {}), (1500, Ended, {})), at(2000))
    rows = {row.name: row for row in planned_and_actual(PAIRS, actual_class(PAIRS, run_state))}
    assert rows["Length"].actual == pytest.approx(1500)
    assert all(block.name in rows for block in PAIRS.plan.blocks)
    assert rows[PAIRS.plan.blocks[-1].name].actual == 0
    assert rows["Energy, gross"].of_bodies
    assert not rows["Waiting"].of_bodies
