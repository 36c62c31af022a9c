"""Blocks at people's own pace, followed from what is pressed: where everybody is, and what is left dispatched again.

Checked here by code that knows nothing of how sets are given places: every placement is looked at for itself.
"""

from __future__ import annotations

from collections import Counter
from datetime import UTC, datetime, timedelta
from itertools import pairwise
from random import Random
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from making import class_file, group, person, room, sets, together
from oaken.forecast import forecast
from oaken.plan import SetsBlock
from oaken.plan.notation import read_class
from oaken.schedule.class_file import ClassFile
from oaken.schedule.class_file.reading import load_class
from oaken.schedule.rotation.rolling import HELD_AT_MOST_S, NEVER, PersonOnFloor, Placement, RollingWork, roll
from oaken.schedule.timeline import Doing, Outlook
from oaken.schedule.timeline.rolling_work import rolling_block
from oaken.schedule.timeline.sets import schedule_sets
from oaken.session import RunState, actual_class, face_of, log_of, people_now, replay_events
from oaken.session.clock import circumstances
from oaken.session.events import event_of
from oaken.session.floor import FloorPlan, FloorState, FloorVisit, SeenPress, floor_at
from orders import small_block
from places import ROOT
from test_written_plans import AHEAD, KNOWN, filed

BEGAN = datetime(2026, 11, 24, 18, 30, tzinfo=UTC)


def blocks_of(file: ClassFile) -> list[tuple[SetsBlock, RollingWork]]:
    around = circumstances(file, file.plan)
    own = [block for block in file.plan.blocks if isinstance(block, SetsBlock)]
    return [(block, rolling_block(block, around, frozenset()).work) for block in own]


def everybody(work: RollingWork) -> list[PersonOnFloor]:
    return [PersonOnFloor(list(range(len(own)))) for own in work.tasks]


def same_as_planned(file: ClassFile, block: SetsBlock, work: RollingWork) -> None:
    planned = schedule_sets(block, circumstances(file, file.plan), Outlook.EXPECTED).placed
    rolled = roll(work, everybody(work), 0.0)
    told = [[(move.arrive_s, move.rested_s, move.set_up_from_s, move.work_from_s, move.end_s, move.unit)
             for move in own] for own in planned]  # fmt: skip
    assert [[(move.arrive_s, move.rested_s, move.set_up_from_s, move.work_from_s, move.end_s, move.unit)
             for move in own] for own in rolled] == told  # fmt: skip


@settings(max_examples=60, deadline=None)
@given(st.integers(0, 10_000))
def test_with_nothing_seen_it_is_the_plan_to_the_last_digit(seed: int) -> None:
    file = small_block(seed)
    for block, work in blocks_of(file):
        same_as_planned(file, block, work)


@pytest.mark.parametrize("name", ["long-carry", "machine-pairs", "scree-and-stairs"])
def test_the_examples_are_as_planned_while_nothing_is_seen(name: str) -> None:
    file = load_class(ROOT / "examples" / f"{name}.json")
    for block, work in blocks_of(file):
        same_as_planned(file, block, work)


def test_partners_of_whom_one_goes_ahead_are_as_planned_too() -> None:
    file = filed(read_class(AHEAD, KNOWN))
    for block, work in blocks_of(file):
        same_as_planned(file, block, work)
        assert [len(own) for own in roll(work, everybody(work), 0.0)] == [10, 10, 9, 9]


def any_visit(file: ClassFile, block: SetsBlock, work: RollingWork, chance: Random) -> FloorVisit:
    """A visit with presses that make sense and presses that do not, in which units break and come back."""
    around = circumstances(file, file.plan)
    units = sorted({unit for own in work.stock.values() for unit in own})
    visit = FloorVisit(block.id, file.plan.people, chance.choice([0.0, 0.0, 90.0]), [FloorPlan(0.0, work)])
    at, lost = 0.0, set[str]()
    for _ in range(chance.randint(0, 40)):
        at += chance.choice([0.0, 1.0, 7.5, 30.0, 70.0])
        number = chance.randrange(len(file.plan.people))
        how: Any = chance.choices(
            ["done", "started", "another", "skipped", "stands", "left", "came", "unit"], [30, 6, 3, 3, 2, 1, 1, 2]
        )[0]
        if how == "unit":
            unit = file.room.units[chance.choice(units)].id
            lost ^= {unit}
            plan = file.plan.model_copy(update={"taken": sorted(lost)})
            changed = rolling_block(block, circumstances(file, plan), frozenset(lost)).work
            visit.plans.append(FloorPlan(at, changed))
            continue
        visit.now_s = at
        placed = floor_at(visit).placed[number] if chance.random() < 0.7 else []
        now = next((item for item in placed if item.end_s > at or item.held), None)
        task = now.task if now is not None else chance.choice(work.tasks[number])
        unit_seen = None if now is None or now.unit < 0 else now.unit
        second = float(chance.randint(0, 600))
        visit.presses.append(SeenPress(at, how, file.plan.people[number], task.id, unit_seen, second))
        if chance.random() < 0.1:
            visit.pause(chance.choice([5.0, 200.0]))
    visit.now_s = at + chance.choice([0.0, 20.0, 95.0, 400.0])
    assert around.people
    return visit


def check_floor(visit: FloorVisit, placed: list[list[Placement]], places: Counter[int]) -> None:
    """Nobody is in two places, no unit has more users than places, nothing is done twice, and nothing is forgotten."""
    on: dict[int, list[tuple[float, float]]] = {}
    for number, own in enumerate(placed):
        for item in own:
            assert item.leave_s <= item.set_up_from_s + 1e-9 <= item.work_from_s + 2e-9 <= item.end_s + 3e-9, item
            if item.unit >= 0:
                on.setdefault(item.unit, []).append((item.set_up_from_s, item.end_s))
        for here, there in pairwise(own):
            assert there.leave_s >= here.end_s - 1e-9
            assert there.set_up_from_s >= here.end_s - 1e-9
        whole = Counter(item.task.id for item in own if not item.cut)
        assert all(count == 1 for count in whole.values())
        pressed = {press.set_id for press in visit.presses
                   if press.person == visit.people[number] and press.how == "done"}  # fmt: skip
        again = {item.task.id for item in own if item.work_from_s > visit.now_s} & pressed
        unseen = {press.set_id for press in visit.presses if press.how in ("started", "stands", "skipped")}
        assert not again or unseen or visit.from_s, "a set that is done is not done again"
    for unit, stretches in on.items():
        changes = sorted([(since, 1) for since, until in stretches if until - since > 1e-6]
                         + [(until, -1) for since, until in stretches if until - since > 1e-6],
                         key=lambda change: (round(change[0], 6), change[1]))  # fmt: skip
        users = 0
        for _, change in changes:
            users += change
            assert users <= places[unit], f"unit {unit} has {users} users"


@settings(max_examples=150, deadline=None)
@given(st.integers(0, 100_000))
def test_nobody_is_in_two_places_whatever_is_pressed(seed: int) -> None:
    chance = Random(seed)
    file = small_block(chance.randrange(200))
    block, work = blocks_of(file)[0]
    visit = any_visit(file, block, work, chance)
    places = Counter(unit for own in work.stock.values() for unit in own)
    check_floor(visit, floor_at(visit).placed, places)


@settings(max_examples=60, deadline=None)
@given(st.integers(0, 100_000))
def test_everything_that_is_left_is_done_once(seed: int) -> None:
    """Where nobody leaves, skips or is put elsewhere, and no kind is lost altogether, every set stands once."""
    chance = Random(seed)
    file = small_block(chance.randrange(200))
    block, work = blocks_of(file)[0]
    visit = any_visit(file, block, work, chance)
    visit.presses = [press for press in visit.presses if press.how in ("done", "started", "another")]
    visit.from_s = 0.0
    if any(plan.work.gone for plan in visit.plans):
        return
    for own, tasks in zip(floor_at(visit).placed, work.tasks, strict=True):
        assert Counter(item.task.id for item in own if not item.cut) == Counter(task.id for task in tasks)


def two_on_one_press() -> ClassFile:
    """A warm-up together, two people with three sets of leg press on one machine and then two of calf raises on
    another, and a cool-down."""
    own = sets(
        {"id": "press"} | group(3, 60, {"exercise": "leg-press", "reps": 10}),
        {"id": "calf"} | group(2, 60, {"exercise": "standing-calf-raise", "reps": 10}),
        id="own", start="in_order",
    )  # fmt: skip
    machines = {"leg-press": 1, "standing-calf": 1, "kettlebell": 2}
    return class_file(
        together(("marching", 60), id="warm"), own, together(("marching", 60), id="cool"),
        people=[person(1), person(2)], room=room(machines),
    )  # fmt: skip


class FollowedClass:
    """A class followed from what is told of it: events at seconds since the block of sets began."""

    def __init__(self, file: ClassFile | None = None, **began: Any) -> None:
        self.file = file or two_on_one_press()
        self.own = next(block for block in self.file.plan.blocks if isinstance(block, SetsBlock))
        plain = replay_events(self.file, [], BEGAN)
        number = self.file.plan.blocks.index(self.own)
        self.span = plain.era.timeline.blocks[number]
        self.parts = [part.id for part in self.own.parts]
        self.events: list[dict[str, Any]] = [{"kind": "began", "at": -self.span.start_s, "follows": "people", **began}]

    def tell(self, at: float, kind: str, **fields: Any) -> FollowedClass:
        self.events.append({"kind": kind, "at": at, **fields})
        return self

    def done(self, at: float, who: str, part: int, number: int, **fields: Any) -> FollowedClass:
        return self.tell(at, "set_done", person=who, part=self.parts[part], number=number, **fields)

    def read(self) -> list[Any]:
        began = BEGAN + timedelta(seconds=self.span.start_s)
        return [
            event_of({"id": f"{number:03}", "happened_at": began + timedelta(seconds=event["at"]),
                      **{name: value for name, value in event.items() if name != "at"}})
            for number, event in enumerate(self.events)
        ]  # fmt: skip

    def at(self, second: float) -> RunState:
        return replay_events(self.file, self.read(), BEGAN + timedelta(seconds=self.span.start_s + second))

    def now(self, second: float) -> list[tuple[Doing, str, int]]:
        """What everybody does: how, the part by its place, the number of the set."""
        people = people_now(self.file, self.at(second))
        return [(one.doing, one.here.part if one.here else "", one.set_number if one.here else 0) for one in people]


def stands(run_state: RunState) -> FloorState:
    """Where everybody is on the floor that is followed."""
    assert run_state.floor is not None
    return floor_at(run_state.floor)


def first_set(told: FollowedClass) -> tuple[float, float]:
    """When the first person's first set begins and ends by the plan."""
    own = blocks_of(told.file)[0][1].tasks[0][0]
    return own.start_s, own.start_s + own.work_s


def test_a_set_that_is_logged_moves_its_person_on() -> None:
    told = FollowedClass()
    begin, end = first_set(told)
    press = told.parts[0]
    assert told.now(begin + 5)[0] == (Doing.WORK, press, 1)
    early = end - 8
    told.done(early, "p1", 0, 1)
    assert told.now(early - 1)[0] == (Doing.WORK, press, 1)
    assert told.now(early + 1)[0] == (Doing.REST, press, 2)
    # the other one is on the machine eight seconds sooner than planned
    work = blocks_of(told.file)[0][1]
    planned = {item.task.id: item for item in roll(work, everybody(work), 0)[1]}
    found = stands(told.at(early + 1))
    sooner = planned[press, 1].set_up_from_s - found.placed[1][0].set_up_from_s
    assert sooner == pytest.approx(8)


def test_nobody_pressing_is_the_plan() -> None:
    """The class as it is expected is the planned one, second by second, and every figure of it."""
    told, plain = FollowedClass(), FollowedClass()
    plain.events[0]["follows"] = "plan"
    for second in (-20.0, 5.0, 60.0, 200.0, told.span.end_s - told.span.start_s + 30):
        followed, clocked = told.at(second), plain.at(second)
        assert [(one.doing, one.here, one.next) for one in people_now(told.file, followed)] == [
            (one.doing, one.here, one.next) for one in people_now(plain.file, clocked)
        ]
        ours, theirs = actual_class(told.file, followed), actual_class(plain.file, clocked)
        # a followed block ends a thousandth of a second before the next begins
        assert ours.timeline.length_s == pytest.approx(theirs.timeline.length_s, abs=0.01)
        assert forecast(ours.file, ours.timeline).figures.energy.value == pytest.approx(
            forecast(theirs.file, theirs.timeline).figures.energy.value, rel=1e-4
        )


def test_who_presses_is_waited_for_and_a_forgotten_press_is_given_up() -> None:
    told = FollowedClass()
    _begin, end = first_set(told)
    told.done(end, "p1", 0, 1)
    first = {one.person: one for one in people_now(told.file, told.at(end + 1))}
    assert first["p1"].known
    assert not first["p2"].known
    second = next(item for item in stands(told.at(end + 1)).placed[0] if item.task.id[1] == 2)
    over = second.end_s
    held = people_now(told.file, told.at(over + 30))[0]
    assert held.held
    assert held.set_number == 2
    assert held.doing is Doing.WORK
    given_up = people_now(told.file, told.at(over + HELD_AT_MOST_S + 5))[0]
    assert not given_up.held
    assert given_up.set_number == 3
    # the press comes after all: it is taken for what it says, and the third set is still to do
    told.done(over + 40, "p1", 0, 2)
    late = people_now(told.file, told.at(over + 41))[0]
    assert (late.set_number, late.known, late.doing) == (3, True, Doing.REST)


def test_taken_another_machine_and_skipped() -> None:
    told = FollowedClass()
    press, calf = told.parts
    told.tell(1, "took_another", person="p2", part=calf, number=1)
    assert [part for _, part, _ in told.now(2)] == [press, calf]
    own = stands(told.at(2)).placed[1]
    assert [item.task.id[0] for item in own] == [calf, calf, press, press, press]
    told.tell(30, "set_skipped", person="p1", part=press, number=1)
    assert told.now(31)[0][1:] == (press, 2)
    log = {(row.person, row.part, row.number): row.written for row in log_of(told.file, told.read(), told.at(60))}
    assert log["p1", press, 1] == "not written"


def test_a_lost_machine_breaks_the_set_on_it_off_and_leaves_out_what_needs_it() -> None:
    told = FollowedClass()
    begin, _end = first_set(told)
    told.tell(begin + 10, "unit_lost", unit="leg-press-1")
    told.tell(begin + 11, "unit_lost", unit="leg-press-1")
    calf = told.parts[1]
    lost = told.at(begin + 12)
    assert len(lost.eras) == 2
    assert [part for _, part, _ in told.now(begin + 12)] == [calf, calf]
    placed = stands(lost).placed
    cut = [item for item in placed[0] if item.cut]
    assert [item.end_s - item.work_from_s for item in cut] == [pytest.approx(10)]
    assert [item.task.id[0] for item in placed[1]] == [calf, calf]
    # what was done of it counts, and the actual class has no gap
    actual = actual_class(told.file, lost)
    work = [step for step in actual.timeline.paths[0] if step.doing is Doing.WORK and step.bout is not None]
    assert 0 < work[1].bout.reps < 10
    for path in actual.timeline.paths:
        assert all(here.end_s == pytest.approx(there.start_s) for here, there in pairwise(path))
    # it is back: three sets are to be done again, whatever was broken off
    told.tell(begin + 60, "unit_back", unit="leg-press-1")
    left = Counter(item.task.id[0] for item in stands(told.at(begin + 61)).placed[0] if not item.cut)
    assert left == {told.parts[0]: 3, calf: 2}


def test_a_done_set_stays_done_when_the_plan_changes() -> None:
    told = FollowedClass()
    _, end = first_set(told)
    told.done(end, "p1", 0, 1, reps=10)
    press = told.parts[0]
    change = {"do": "swap_exercise", "slot": press, "exercise": "goblet-squat"}
    told.tell(end + 20, "unit_lost", unit="leg-press-1", changes=[change])
    state = told.at(end + 21)
    assert len(state.eras) == 2
    now = {one.person: one for one in people_now(told.file, state)}
    assert now["p1"].here is not None
    assert (now["p1"].here.exercise, now["p1"].set_number) == ("goblet-squat", 2)
    log = {(row.person, row.part, row.number): row for row in log_of(told.file, told.read(), told.at(end + 60))}
    assert (log["p1", press, 1].exercise, log["p1", press, 1].written) == ("leg-press", "done")
    assert log["p1", press, 2].exercise == "goblet-squat"


def test_a_block_runs_over_until_everybody_is_done_and_never_skips_on_by_itself() -> None:
    told = FollowedClass()
    length = told.span.end_s - told.span.start_s
    _, end = first_set(told)
    # the first set took two minutes longer
    told.done(end, "p2", 1, 1)
    told.tell(2, "took_another", person="p2", part=told.parts[1], number=1)
    told.done(end + 120, "p1", 0, 1)
    over = told.at(length + 10)
    assert over.state == "runs"
    assert over.floor is not None
    face = face_of(over)
    assert face.left_s > 30
    assert face.block == 1
    assert all(cue.second >= told.span.end_s for _, cue in face.calls)
    much_later = told.at(length + 2000)
    assert much_later.floor is None
    assert much_later.state == "plan is over"
    # the actual class says when the block really ended
    actual = actual_class(told.file, much_later)
    assert actual.timeline.blocks[1].end_s > told.span.end_s + 30
    # everybody done sooner: the block stays until its planned end, and says that nothing is left
    quick = FollowedClass()
    for who in ("p1", "p2"):
        for part, sets_of in enumerate((3, 2)):
            for number in range(1, sets_of + 1):
                quick.tell(
                    100 + 50 * number + 200 * part, "set_skipped", person=who, part=quick.parts[part], number=number
                )
    done = quick.at(450)
    assert done.floor is not None
    assert face_of(done).left_s == 0
    assert {one.doing for one in people_now(quick.file, done)} == {Doing.FINISHED}


def test_a_pause_is_rest_too() -> None:
    told = FollowedClass()
    _, end = first_set(told)
    told.done(end, "p1", 0, 1).tell(end + 10, "paused").tell(end + 300, "resumed")
    told.tell(end + 8, "took_another", person="p2", part=told.parts[1], number=1)
    waited = stands(told.at(end + 301))
    assert waited.now_s == pytest.approx(end + 11)
    # the minute's rest was over in the pause
    assert waited.placed[0][1].rested_s == pytest.approx(end + 10)


def test_who_left_does_nothing_more_and_who_comes_late_joins() -> None:
    told = FollowedClass()
    _, end = first_set(told)
    told.tell(end - 5, "left", person="p1").tell(end + 200, "left", person="p2")
    state = told.at(end + 201)
    assert face_of(state).left_s == 0
    assert [one.away for one in people_now(told.file, state)] == [True, True]
    late = FollowedClass().tell(200, "came", person="p2")
    begins = stands(late.at(201)).placed[1]
    assert begins[0].set_up_from_s >= 200
    assert len(begins) < 5


def test_presses_all_at_once_afterwards_are_no_moments() -> None:
    told = FollowedClass()
    _, end = first_set(told)
    for number, at in enumerate((350.0, 353.0, 356.0), 1):
        told.done(at, "p1", 0, number)
    own = stands(told.at(357)).placed[0]
    press = [item for item in own if item.task.id[0] == told.parts[0]]
    assert [item.known for item in press] == [False, False, True]
    assert press[0].end_s <= press[1].work_from_s
    assert press[1].end_s <= press[2].work_from_s
    assert press[0].end_s == pytest.approx(end)


@settings(max_examples=20, deadline=None)
@given(st.integers(0, 10_000))
def test_any_order_of_delivery_gives_the_same(seed: int) -> None:
    chance = Random(seed)
    told = FollowedClass()
    at = 0.0
    for number in range(12):
        at += chance.uniform(0, 60)
        who, part = chance.choice(["p1", "p2"]), chance.choice([0, 1])
        kind = chance.choice(["set_done", "set_done", "set_started", "took_another", "unit_lost", "unit_back", "left"])
        if kind in ("unit_lost", "unit_back"):
            told.tell(at, kind, unit="leg-press-1")
        elif kind == "left" and number % 3 == 0:
            told.tell(at, kind, person=who)
        else:
            told.done(at, who, part, chance.randint(1, 3))
    events = told.read()
    moment = BEGAN + timedelta(seconds=told.span.start_s + at + 30)
    shuffled = [*events, *chance.sample(events, 3)]
    chance.shuffle(shuffled)
    one, other = replay_events(told.file, events, moment), replay_events(told.file, shuffled, moment)
    assert people_now(told.file, one) == people_now(told.file, other)
    assert face_of(one) == face_of(other)


def test_going_back_into_a_block_shows_no_done_set_again() -> None:
    told = FollowedClass()
    _, end = first_set(told)
    told.done(end, "p1", 0, 1)
    told.tell(end + 30, "went_on", block="cool", second=0.0).tell(end + 60, "went_on", block="own", second=0.0)
    own = stands(told.at(end + 61)).placed[0]
    assert next(item.task.id for item in own) == (told.parts[0], 2)
    assert NEVER not in [item.end_s for item in own]


@pytest.mark.parametrize(
    "kind", ["set_done", "set_started", "took_another", "set_skipped", "moved_on", "left", "tagged"]
)
def test_a_stranger_or_what_is_not_in_the_block_is_a_notice_at_most(kind: str) -> None:
    """Whatever a device sends of somebody or something that is not there, the class goes on as it was."""
    a_set = {"part": "nowhere", "number": 3, "unit": "nothing"}
    fields: dict[str, Any] = a_set if kind.startswith(("set", "took")) else {}
    fields = {"block": "own", "second": 5.0} if kind == "moved_on" else {"block": "own"} if kind == "tagged" else fields
    plain, told = FollowedClass(), FollowedClass().tell(20, kind, person="nobody", **fields)
    assert people_now(told.file, told.at(30)) == people_now(plain.file, plain.at(30))
    assert len(told.at(30).notices) == 1
    if fields == a_set:
        known = FollowedClass().tell(20, kind, person="p1", **fields)
        assert people_now(known.file, known.at(30)) == people_now(plain.file, plain.at(30))


def test_a_start_that_the_instructor_tells_of_somebody_who_presses_nothing_is_not_waited_for() -> None:
    """Others press, this one does not: what is said of them once is not a promise that the end will be said too."""
    told = FollowedClass()
    first = blocks_of(told.file)[0][1].tasks[0]
    for number in (1, 2):
        end = first[number - 1].start_s + first[number - 1].work_s
        told.done(end, "p2", 0, number)
    second = first[1]
    told.tell(second.start_s + 5, "set_started", person="p1", part=told.parts[0], number=2)
    after = second.start_s + second.work_s + 5 + 30
    now = people_now(told.file, told.at(after))[0]
    assert not now.held
    assert (now.here.part, now.set_number) != (told.parts[0], 2) if now.here else True
