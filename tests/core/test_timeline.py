"""What happens at each second: total time is the sum of the parts, and no path has a gap."""

from itertools import pairwise
from typing import Any, get_args

import pytest
from hypothesis import HealthCheck, Phase, given, settings
from making import blocks, circuit, class_file, classes, group, sets, together
from oaken.domain.catalogue import catalogue
from oaken.plan import Block, CircuitBlock, RelayBlock, TogetherBlock
from oaken.schedule.class_file import ClassFile
from oaken.schedule.rotation.clocked import clocked_seconds
from oaken.schedule.timeline import Doing, Outlook, Timeline, build_timeline


def timeline_of(file: ClassFile, outlook: Outlook = Outlook.EXPECTED) -> Timeline:
    people = {person.id: person for person in file.people}
    return build_timeline(file.plan, file.room, [people[name] for name in file.plan.people], catalogue(), outlook)


@given(classes)
def test_total_time_is_the_sum_of_the_parts(file: ClassFile) -> None:
    timeline = timeline_of(file)
    moves = sum(block.move_on_s for block in file.plan.blocks[:-1])
    spans = [span.end_s - span.start_s for span in timeline.blocks]
    assert timeline.length_s == pytest.approx(sum(spans) + moves)
    for block, span, seconds in zip(file.plan.blocks, timeline.blocks, spans, strict=True):
        if isinstance(block, CircuitBlock):
            expected = clocked_seconds(span.turns, block.rounds, block.work_s, block.change_s, block.round_rest_s)
            assert seconds == pytest.approx(expected)
        elif isinstance(block, TogetherBlock):
            work = sum(slot.sets[0].segments[0].seconds or 0 for slot in block.slots)
            kinds = [catalogue().exercises[slot.exercise].equipment for slot in block.slots]
            # getting to another kind costs a walk and a set-up, staying at one does not
            assert seconds == pytest.approx(work) if set(kinds) == {"none"} else seconds >= work
        else:
            assert seconds >= span.bound_s - 1e-6


@given(classes)
def test_every_path_runs_without_gap_or_overlap_from_start_to_end(file: ClassFile) -> None:
    timeline = timeline_of(file)
    for path in timeline.paths:
        assert path[0].start_s == 0
        assert path[-1].end_s == pytest.approx(timeline.length_s)
        assert all(step.end_s > step.start_s for step in path)
        assert all(here.end_s == pytest.approx(there.start_s) for here, there in pairwise(path))


@given(classes)
def test_a_person_does_exactly_the_sets_that_are_planned(file: ClassFile) -> None:
    timeline = timeline_of(file)
    for index, block in enumerate(file.plan.blocks):
        if isinstance(block, CircuitBlock):
            planned = block.rounds * len(block.stations)
        elif isinstance(block, TogetherBlock):
            planned = len(block.slots)
        elif isinstance(block, RelayBlock):
            # turn about: a team does all of the turns, its members share them as evenly as can be
            turns = [[step.opens_set for step in path if step.block == index].count(True) for path in timeline.paths]
            teams = max(1, len(turns) // block.team_size + (len(turns) % block.team_size > 1))
            assert sum(turns) == teams * sum(leg.turns for leg in block.legs)
            continue
        else:
            planned = sum(slot.rounds for group in block.groups for slot in group.slots)
        for path in timeline.paths:
            assert sum(step.opens_set for step in path if step.block == index) == planned


def test_a_superset_by_hand() -> None:
    # one person; leg press 10 × 3 s, walk 1 m ÷ 1.2 m/s, leg extension 12 × 3 s, 60 s rest after the round
    # set-up 10 s and 8 s (no load given, so no load change)
    file = class_file(
        sets(group(2, 60, {"exercise": "leg-press", "reps": 10}, {"exercise": "leg-extension", "reps": 12})),
        room={
            "id": "room",
            "name": "Room",
            "units": [
                {"id": "a", "kind": "leg-press", "name": "A", "x_m": 0, "y_m": 0},
                {"id": "b", "kind": "leg-extension", "name": "B", "x_m": 1.2, "y_m": 0},
            ],
        },
    )
    timeline = timeline_of(file)
    # 10 + 30 | walk 1, set up 8, 36 | rest 60 (the walk back is within it) | 30, no new set-up | walk 1, 36
    assert timeline.length_s == pytest.approx(10 + 30 + 1 + 8 + 36 + 60 + 30 + 1 + 36)
    doings = [(step.doing, step.end_s - step.start_s) for step in timeline.paths[0]]
    assert [doing for doing, _ in doings].count(Doing.WORK) == 4
    assert sum(seconds for doing, seconds in doings if doing is Doing.CHANGE) == pytest.approx(10 + 1 + 8 + 1 + 1)
    assert sum(seconds for doing, seconds in doings if doing is Doing.REST) == pytest.approx(59)


def test_the_last_person_off_the_machine_ends_the_block() -> None:
    # two people, one leg press, 10 reps × 3 s each after 10 s set-up: the second waits for the first
    block = sets(group(1, 0, {"exercise": "leg-press", "reps": 10}))
    timeline = timeline_of(class_file(block, people=2, room={"id": "r", "name": "R", "units": [
        {"id": "a", "kind": "leg-press", "name": "A"}]}))  # fmt: skip
    assert timeline.length_s == pytest.approx(80)
    wait = timeline.paths[1][0]
    assert (wait.doing, wait.end_s - wait.start_s) == (Doing.WAIT, 40)
    assert timeline.paths[0][-1].doing is Doing.FINISHED


def test_quick_and_slow_people_bracket_the_plan_but_the_clock_does_not_move() -> None:
    own_pace = class_file(sets(group(3, 30, {"exercise": "leg-press", "reps": 10})))
    quick, likely, slow = (timeline_of(own_pace, outlook).length_s for outlook in Outlook)
    assert quick < likely < slow
    clocked = class_file(circuit(["leg-press", "plank"]), together(("marching", 60)))
    assert timeline_of(clocked, Outlook.SHORTEST).length_s == timeline_of(clocked, Outlook.LONGEST).length_s


def test_generated_plans_include_every_kind_of_block() -> None:
    """What is true of generated plans is true of all kinds: none may be missing from the generator."""
    kinds = {get_args(kind.model_fields["kind"].annotation)[0] for kind in get_args(get_args(Block)[0])}
    met: set[str] = set()

    @settings(max_examples=300, database=None, phases=[Phase.generate], suppress_health_check=list(HealthCheck))
    @given(blocks)
    def meet(block: dict[str, Any]) -> None:
        met.add(block["kind"])

    meet()
    assert met == kinds
