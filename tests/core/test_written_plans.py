"""Whatever can be written can be timed and forecast: properties of plans in which everything occurs."""

from __future__ import annotations

from dataclasses import replace
from itertools import pairwise

import pytest
from hypothesis import HealthCheck, assume, given, settings
from hypothesis import strategies as st
from making import person, room
from oaken.basis.estimate import methods
from oaken.domain.catalogue import catalogue
from oaken.domain.people import Person
from oaken.domain.room import Room
from oaken.forecast import forecast
from oaken.forecast.workload import carry_out, layout_workload
from oaken.plan import AnyPart, CircuitBlock, ClassPlan, RelayBlock, SetsBlock, Slot
from oaken.plan.notation import read_class
from oaken.schedule.class_file import ClassFile, check_class
from oaken.schedule.timeline import (
    Circumstances,
    Doing,
    Outlook,
    Timeline,
    blocks_at,
    build_timeline,
    lengths,
    timeline_in,
)
from oaken.schedule.timeline.layout import BlockAt, block_length, laid_out
from oaken.schedule.timeline.schedule import own_part
from oaken.schedule.timeline.size import size_faults
from oaken.schedule.timeline.steps import Step
from writing import plans

KNOWN = catalogue()
WHERE = Room.model_validate(room() | {"id": "saw-floor"})
WHO = [
    Person.model_validate(person(1, id="p1", bests_kg={"leg-press": 120, "back-squat": 90})),
    Person.model_validate(person(2, id="p-2", sex="female", age=61, body_mass_kg=58, resting_bpm=None)),
    Person.model_validate(person(3, level="beginner")),
    Person.model_validate(person(4, level="advanced", bests_kg={})),
]
few = settings(max_examples=40, suppress_health_check=[HealthCheck.too_slow, HealthCheck.data_too_large])


def filed(plan: ClassPlan) -> ClassFile:
    """The plan as a class; what the generator makes larger than any class may be is passed over."""
    assume(not size_faults(plan, WHERE, catalogue()))
    return check_class(ClassFile(format="oaken-class/2", plan=plan, room=WHERE, people=WHO))


def forget() -> None:
    """Empty the store of laid-out blocks."""
    for kept in (laid_out, block_length, layout_workload):
        kept.cache_clear()


@few
@given(plans)
def test_every_path_is_gap_free_and_every_block_ends_for_everybody_at_once(plan: ClassPlan) -> None:
    timeline = build_timeline(plan, WHERE, WHO, KNOWN)
    for path in timeline.paths:
        assert path[0].start_s == 0
        assert path[-1].end_s == pytest.approx(timeline.length_s)
        assert all(there.start_s == pytest.approx(here.end_s) for here, there in pairwise(path))
        for span in timeline.blocks:
            assert any(step.start_s == pytest.approx(span.start_s) for step in path)
    ends = [span.end_s - span.start_s for span in timeline.blocks]
    assert timeline.length_s == pytest.approx(sum(ends) + sum(block.move_on_s for block in plan.blocks[:-1]))


def sets_of(part: AnyPart, who: Person, around: Circumstances) -> int:
    """How many sets somebody does in the place of a slot."""
    own = own_part(part, who, around)
    assert isinstance(own, Slot)
    return own.rounds


@few
@given(plans)
def test_everybody_does_the_sets_that_are_written(plan: ClassPlan) -> None:
    timeline = build_timeline(plan, WHERE, WHO, KNOWN)
    around = Circumstances.of(WHERE, WHO, KNOWN, plan.wishes())
    for index, block in enumerate(plan.blocks):
        done = [sum(step.opens_set for step in path if step.block == index) for path in timeline.paths]
        if isinstance(block, SetsBlock):
            assert done == [sum(sets_of(part, who, around) for part in block.parts) for who in WHO]
        elif isinstance(block, CircuitBlock):
            assert done == [block.rounds * len(block.stations)] * len(WHO)
        elif isinstance(block, RelayBlock):
            teams = 2 if block.team_size == 2 else 1
            assert sum(done) == teams * sum(leg.turns for leg in block.legs)
        else:
            # the clock is that of the plan's own sets: who has more of them leaves the others out
            assert done == [sum(min(slot.rounds, sets_of(slot, who, around)) for slot in block.slots) for who in WHO]


AHEAD = """class One
slot 140 min
room saw-floor
people p1, p-2, p3, p4
together p1, p3
together p-2, p4

block A: sets, whole circuit, 3 waves every 57
guided-bar single-leg deadlift 3 x 50 s, each side, after the last
  or dumbbell split squat 4 x hold 59 s, each side for p1, p-2
good morning 6 x 20
"""


def test_partners_of_whom_one_has_more_sets_leave_none_of_them_out() -> None:
    """Who goes round as one waits for the other; one who has no set in a round goes ahead, and the other comes after."""
    plan = read_class(AHEAD, KNOWN)
    for outlook in Outlook:
        paths = timeline_in(plan, Circumstances.of(WHERE, WHO, KNOWN, plan.wishes()), outlook).paths
        assert [sum(step.opens_set for step in path) for path in paths] == [10, 10, 9, 9]


@few
@given(plans)
def test_the_outlooks_bracket_the_plan_and_lengths_need_no_layout(plan: ClassPlan) -> None:
    around = Circumstances.of(WHERE, WHO, KNOWN)
    for outlook in Outlook:
        laid = timeline_in(plan, around, outlook)
        quick = lengths(plan.blocks, blocks_at(plan.blocks, around), outlook)
        assert quick.class_s == pytest.approx(laid.length_s)
        assert quick.blocks_s == pytest.approx([span.end_s - span.start_s for span in laid.blocks])
        waits = [sum(s.end_s - s.start_s for s in path if s.doing is Doing.WAIT) for path in laid.paths]
        assert list(quick.waits_s) == pytest.approx(waits)


@few
@given(plans)
def test_the_forecast_of_any_written_plan_holds_together(plan: ClassPlan) -> None:
    result = forecast(filed(plan))
    assert result.length.low <= result.length.value <= result.length.high
    assert 1 <= result.chance_inside.value <= 99
    assert [slot.id for slot in result.slots if slot.stands_for < 0] == [part.id for _, part in plan.placed()]
    for slot in result.slots:
        if slot.stands_for >= 0:
            replaced = result.slots[slot.stands_for]
            assert (replaced.id, replaced.block, replaced.stands_for) == (slot.id, slot.block, -1)
            part = next(part for _, part in plan.placed() if part.id == slot.id)
            others = {other.exercise or part.exercise for other in part.others} if isinstance(part, Slot) else set()
            wished = {item.other for item in plan.instead if item.exercise == replaced.exercise}
            assert slot.exercise in others | wished
    for slot in result.slots:
        seconds = slot.seconds
        assert seconds.shortest <= seconds.expected + 0.1
        assert seconds.expected <= seconds.longest + 0.1
        whole = seconds.work + seconds.change_of_side + seconds.load_change + seconds.set_up + seconds.rest
        assert whole == pytest.approx(seconds.expected, abs=0.3)
        assert slot.line.lower().startswith(slot.name.lower())
    assert sum(block.kcal for block in result.blocks) == pytest.approx(result.figures.energy.value, rel=0.2, abs=3)
    for muscle in result.muscles:
        assert sum(muscle.prime_by_block_s) == pytest.approx(muscle.prime_s, abs=0.1 * len(plan.blocks) + 0.1)
    for somebody in result.people:
        assert len(somebody.path.start_s) == len(somebody.path.doing) == len(somebody.path.slot)
        assert somebody.kcal == sorted(somebody.kcal)
        for name in type(somebody.figures).model_fields:
            figure = getattr(somebody.figures, name)
            if figure is not None:
                assert figure.low <= figure.value <= figure.high, name
                assert figure.method in methods()
    for caution in result.cautions:
        assert caution.message
        assert caution.safer
        assert set(caution.slots) <= {slot.id for slot in result.slots}


@few
@given(plans)
def test_the_steps_of_a_forecast_handed_in_as_lived_give_the_same_figures_to_the_last_digit(plan: ClassPlan) -> None:
    file = filed(plan)
    planned = carry_out(file)
    actual = Timeline.of_steps(planned.timeline.paths, planned.timeline.slots, planned.timeline.blocks)
    assert actual.paths == planned.timeline.paths
    assert carry_out(file, actual).workload.done == planned.workload.done
    assert forecast(file, actual).model_dump_json() == forecast(file).model_dump_json()


def test_steps_that_are_lived_longer_are_counted_longer_and_go_into_every_figure() -> None:
    """Somebody rests a minute more than planned: the class, its energy and its hearts are those of what happened."""
    plan = ClassPlan.model_validate(
        {
            "name": "Test",
            "slot_min": 30,
            "room": "saw-floor",
            "people": ["p1", "p-2"],
            "blocks": [
                {
                    "kind": "sets",
                    "name": "Sets",
                    "groups": [
                        {
                            "slots": [
                                {"exercise": "bodyweight-squat", "sets": [{"times": 2, "segments": [{"reps": 10}]}]}
                            ]
                        }
                    ],
                }
            ],
        }
    )
    file = check_class(ClassFile(format="oaken-class/2", plan=plan, room=WHERE, people=WHO))
    planned = carry_out(file).timeline
    paths = [[*path, Step(path[-1].end_s, path[-1].end_s + 60, Doing.REST, 0)] for path in planned.paths]
    spans = [replace(span, end_s=span.end_s + 60) for span in planned.blocks]
    actual = forecast(file, Timeline.of_steps(paths, planned.slots, spans))
    as_planned = forecast(file)
    assert actual.length.value == as_planned.length.value + 60
    assert actual.figures.work_share.value < as_planned.figures.work_share.value
    assert actual.figures.energy.value > as_planned.figures.energy.value
    assert len(actual.people[0].bpm) == len(as_planned.people[0].bpm) + 60 / actual.sample_s


def test_steps_that_no_class_can_have_are_refused() -> None:
    planned = build_timeline(
        ClassPlan.model_validate(
            {
                "name": "Test",
                "slot_min": 30,
                "room": "saw-floor",
                "people": ["p1"],
                "blocks": [
                    {
                        "kind": "together",
                        "name": "Warm-up",
                        "slots": [
                            {"exercise": "bodyweight-squat", "sets": [{"times": 1, "segments": [{"seconds": 60}]}]}
                        ],
                    }
                ],
            }
        ),
        WHERE,
        WHO[:1],
        KNOWN,
    )
    (path,) = planned.paths
    with pytest.raises(ValueError, match="order"):
        Timeline.of_steps([[replace(path[0], block=1)]], planned.slots, planned.blocks)
    with pytest.raises(ValueError, match="slot"):
        Timeline.of_steps([path], [], planned.blocks)


@few
@given(plans, st.randoms(use_true_random=False))
def test_what_is_kept_from_earlier_gives_the_same_as_computing_it_anew(plan: ClassPlan, random: object) -> None:
    """An edit elsewhere, another order of blocks, other people: the store never answers for something else."""
    warm = filed(plan)
    forecast(warm)
    blocks = list(plan.blocks)
    random.shuffle(blocks)  # type: ignore[attr-defined]
    edited = blocks[0]
    if isinstance(edited, CircuitBlock) and edited.turn_s is None:
        edited = edited.model_copy(update={"work_s": edited.work_s + 1})
    changed = filed(plan.model_copy(update={"blocks": [edited, *blocks[1:]]}))
    from_store = forecast(changed).model_dump()
    forget()
    assert forecast(changed).model_dump() == from_store


def test_the_store_tells_people_loads_rooms_and_schools_apart() -> None:
    plan = ClassPlan.model_validate(
        {
            "name": "Test",
            "slot_min": 30,
            "room": "saw-floor",
            "people": ["p1"],
            "blocks": [
                {
                    "kind": "sets",
                    "name": "Sets",
                    "groups": [
                        {
                            "slots": [
                                {
                                    "exercise": "goblet-squat",
                                    "sets": [{"times": 2, "segments": [{"reps": 10, "load": {"share_of_best": 0.5}}]}],
                                }
                            ]
                        }
                    ],
                }
            ],
        }
    )

    def volume(best: float, **fields: object) -> tuple[float, float]:
        who = Person.model_validate(person(1, id="p1", bests_kg={"goblet-squat": best}))
        given = plan.model_copy(update=fields)
        result = forecast(ClassFile(format="oaken-class/2", plan=given, room=WHERE, people=[who]))
        return result.figures.volume_load.value, result.figures.energy_by_lifting.value

    assert volume(20)[0] == 200
    assert volume(40)[0] == 400
    assert volume(20)[0] == 200
    assert volume(20, choices={"squat-depth": "full"})[1] > volume(20)[1]
    one, other = (
        Circumstances.of(Room.model_validate(room(counts) | {"id": "saw-floor"}), WHO, KNOWN)
        for counts in ({"leg-press": 1}, {"leg-press": 2})
    )
    assert one != other
    block = plan.blocks[0]
    renamed = block.model_copy(update={"name": "Another name", "move_on_s": 99})
    assert BlockAt.of(block, one) == BlockAt.of(renamed, one)
    assert BlockAt.of(block, one) != BlockAt.of(block, other)
    assert BlockAt.of(block, one) != BlockAt.of(block, one, Outlook.LONGEST)
