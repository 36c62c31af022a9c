"""What weeks of a course do to sets: what leads up, a last set that differs and falling sets stay; a test is a test."""

from __future__ import annotations

from datetime import date
from typing import Any

import pytest
from class_judge import crowd_of, empty_file, room_of
from oaken.domain.catalogue import catalogue
from oaken.domain.prescription import Load, LoadChange, Segment, SetRun
from oaken.domain.prescription.schemes import SetShape, reshaped
from oaken.plan import ClassPlan, Slot
from oaken.plan.changes import LighterWeek, SetScheme, SetTest, apply
from oaken.programme.course import Course, outlook, template
from oaken.programme.course.weeks import classes_of, plan_of_week
from oaken.schedule.class_file import ClassFile

KNOWN = catalogue()


def sets(reps: int, share: float, times: int = 1, **more: Any) -> SetRun:
    return SetRun(times=times, segments=[Segment(reps=reps, load=Load(share_of_best=share), **more)], rest_s=60)


DROP = SetRun(
    segments=[
        Segment(reps=8, load=Load(share_of_best=0.7)),
        Segment(reps=8, to_failure=True, change=LoadChange(percent=-20)),
    ],
    rest_s=60,
)
RAMP = [sets(6, 0.5), sets(6, 0.75, 3)]
WITH_DROP = [sets(8, 0.7, 2), DROP]
FALLING = [sets(8, 0.7), sets(6, 0.75), sets(4, 0.8), sets(2, 0.85)]


def a_class(*lists: list[SetRun], partner: dict[str, Any] | None = None) -> ClassPlan:
    """Groups of a leg press with these sets, each perhaps with something in turn."""
    groups = []
    for number, runs in enumerate(lists):
        slots: list[dict[str, Any]] = [
            {"id": f"s{number}", "exercise": "leg-press", "sets": [run.model_dump() for run in runs]}
        ]
        if partner is not None:
            slots[0]["sets"] = [{**run.model_dump(), "rest_s": 0} for run in runs]
            slots.append({"id": f"p{number}", **partner})
        groups.append({"id": f"g{number}", "slots": slots})
    return ClassPlan.model_validate(
        {"name": "C", "slot_min": 60, "aim": "strength", "room": "room", "people": ["p1"],
         "blocks": [{"kind": "sets", "name": "Sets", "purpose": "strength", "groups": groups}]}
    )  # fmt: skip


def slots_of(plan: ClassPlan) -> list[Slot]:
    return [part for part in plan.parts() if isinstance(part, Slot)]


def told(plan: ClassPlan, slot: str = "s0") -> list[tuple[int, int | None, float | None, int]]:
    """Times, repetitions, share and parts of each run of a slot."""
    found = next(part for part in slots_of(plan) if part.id == slot)
    return [
        (
            run.times,
            run.segments[0].reps,
            run.segments[0].load.share_of_best if run.segments[0].load else None,
            len(run.segments),
        )
        for run in found.sets
    ]


def test_a_scheme_is_of_the_working_sets() -> None:
    scheme = SetScheme(sets=4, reps=6, reps_to=8, share_of_best=0.8, rest_s=90)
    changed = apply(a_class(RAMP, WITH_DROP, FALLING), scheme, KNOWN)
    # one light set leads up as before, and four are worked
    assert told(changed) == [(1, 6, 0.5, 1), (4, 6, 0.8, 1)]
    # the drop stays on the last of four, once
    assert told(changed, "s1") == [(3, 6, 0.8, 1), (1, 6, 0.8, 2)]
    # falling sets are a scheme of their own: only their rests follow
    assert told(changed, "s2") == [(1, 8, 0.7, 1), (1, 6, 0.75, 1), (1, 4, 0.8, 1), (1, 2, 0.85, 1)]
    rests = {run.rest_s for part in slots_of(changed) for run in part.sets}
    assert rests == {90}


def test_a_scheme_of_one_set_is_one_working_set() -> None:
    changed = apply(a_class(RAMP, WITH_DROP), SetScheme(sets=1, reps=5), KNOWN)
    assert told(changed) == [(1, 6, 0.5, 1), (1, 5, 0.75, 1)]
    assert told(changed, "s1") == [(1, 5, 0.7, 1)]


def test_what_is_done_in_turn_is_done_as_often_and_rests_behind_the_round() -> None:
    plank = {"exercise": "plank", "sets": [{"times": 3, "segments": [{"seconds": 30}], "rest_s": 40}]}
    changed = apply(a_class([sets(8, 0.7, 3)], partner=plank), SetScheme(sets=5, rest_s=75), KNOWN)
    press, held = slots_of(changed)
    assert (press.rounds, held.rounds) == (5, 5)
    assert {run.rest_s for run in press.sets} == {0}
    assert {run.rest_s for run in held.sets} == {75}


def test_a_lighter_week_keeps_what_leads_up_and_the_last_set() -> None:
    lighter = apply(a_class(RAMP, WITH_DROP), LighterWeek(sets_fewer=1, load_factor=0.9), KNOWN)
    assert told(lighter) == [(1, 6, 0.45, 1), (2, 6, 0.675, 1)]
    assert told(lighter, "s1") == [(1, 8, 0.63, 1), (1, 8, 0.63, 2)]


def test_a_lighter_week_is_further_from_failure_where_loads_are_by_repetitions() -> None:
    """A tenth of the load is about three repetitions (Epley 1985, from memory)."""
    by_reserve = SetRun(times=3, segments=[Segment(reps=8, load=Load(reps_left=2))], rest_s=60)
    by_maximum = SetRun(times=3, segments=[Segment(reps=8, load=Load(rep_max=10))], rest_s=60)
    lighter = apply(a_class([by_reserve], [by_maximum]), LighterWeek(sets_fewer=0, load_factor=0.9), KNOWN)
    first, second = (part.sets[0].segments[0].load for part in slots_of(lighter))
    assert (first, second) == (Load(reps_left=5), Load(rep_max=13))


@pytest.mark.parametrize("runs", [RAMP, WITH_DROP, FALLING, [*RAMP, sets(12, 0.6)], [sets(8, 0.7, 3)]])
@pytest.mark.parametrize("many", range(1, 9))
def test_another_number_of_sets_is_that_number_and_works(runs: list[SetRun], many: int) -> None:
    found = reshaped(runs, many)
    assert sum(run.times for run in found) == many
    # whatever falls away, the heaviest work is still done, but for falling sets, which end earlier
    heaviest = max(run.segments[0].load.share_of_best or 0 for run in runs if run.segments[0].load)
    if not SetShape.of(runs).uneven:
        assert any(run.segments[0].load and run.segments[0].load.share_of_best == heaviest for run in found)


def test_a_test_is_a_last_set_to_failure_of_the_large_lifts() -> None:
    tested = apply(a_class(RAMP, FALLING), SetTest(sets_before=1), KNOWN)
    runs = slots_of(tested)[0].sets
    assert [run.segments[0].to_failure for run in runs] == [False, False, True]
    assert told(tested)[0] == (1, 6, 0.5, 1)
    assert told(tested, "s1") == told(a_class(RAMP, FALLING), "s1")


def test_what_a_scheme_does_not_touch_is_said() -> None:
    file = empty_file(room_of(1), crowd_of(4))
    floor = {"exercise": "plank", "sets": [{"times": 3, "segments": [{"seconds": 30}], "rest_s": 40}]}
    only_floor = ClassPlan.model_validate(
        {**file.plan.model_dump(),
         "blocks": [{"kind": "sets", "name": "S", "groups": [{"id": "g", "slots": [{"id": "p", **floor}]}]}]}
    )  # fmt: skip
    mixed = a_class([sets(8, 0.7, 3)], FALLING, partner=floor).model_copy(update={"people": file.plan.people})
    course = Course.model_validate(
        {"name": "C", "starts": "2026-12-07", "weeks": 2, "names": {2: "last test"},
         "bases": [{"id": "1", "name": "Floor"}, {"id": "2", "name": "Mixed"}],
         "meetings": [{"id": "a", "base": "1", "weekday": 0}, {"id": "b", "base": "2", "weekday": 3}],
         "changes": [{"weeks": [1], "change": {"do": "set_scheme", "sets": 4, "reps": 6}}]}
    )  # fmt: skip

    def file_of(plan: ClassPlan) -> ClassFile:
        return file.model_copy(update={"plan": plan})

    said = [
        (notice.severity, notice.message)
        for notice in outlook(course, {"1": only_floor, "2": mixed}, file_of, KNOWN).notices
    ]
    assert any(severity == "caution" and "changes nothing in “Floor”" in words for severity, words in said)
    left = next(words for _, words in said if "leave in “Mixed”" in words)
    assert "plank (held or timed)" in left
    assert "leg press (no set is like another)" in left
    assert any("is named a test, but nothing is tested" in words for _, words in said)


@pytest.fixture(scope="module")
def generated() -> tuple[Any, ClassFile]:
    file = empty_file(room_of(1), crowd_of(8))
    made = template("waves", file.room, file.participants, KNOWN, name="C", starts=date(2026, 12, 7), time="18:30", generated=True)  # fmt: skip
    return made, file


def exercises_of(plan: ClassPlan) -> list[str]:
    main = plan.main_part()
    return [part.exercise for place, part in plan.placed() if main[int(place[1])]]


def test_main_lifts_stay_through_a_generated_course_and_accessories_change(generated: tuple[Any, ClassFile]) -> None:
    made, _ = generated
    for meeting in made.course.meetings:
        early, late = (
            exercises_of(plan_of_week(made.course, next(one for one in classes_of(made.course, week) if one.meeting == meeting.id), made.plans, KNOWN))
            for week in (2, 9)
        )  # fmt: skip
        large = [
            name
            for name in early
            if KNOWN.exercises[name].muscle_mass == "two_leg_compound" and not KNOWN.exercises[name].is_static
        ]
        assert large
        assert set(large) <= set(late)
    changed = [change.change.do for change in made.course.changes]
    assert "in_turn" in changed


def test_weeks_of_a_generated_course_differ_fit_and_answer_to_their_schemes(generated: tuple[Any, ClassFile]) -> None:
    made, file = generated
    found = outlook(made.course, made.plans, lambda plan: file.model_copy(update={"plan": plan}), KNOWN)
    assert not [notice for notice in found.notices if "changes nothing" in notice.message]
    assert not [notice for notice in found.notices if "over its class length" in notice.message]
    # what is named differently is different
    doses = {}
    for week in (1, 4, 5, 7, 12):
        plan = plan_of_week(made.course, classes_of(made.course, week)[0], made.plans, KNOWN)
        doses[week] = [part.model_dump_json(include={"sets"}) for part in slots_of(plan)]
    assert len({str(dose) for dose in doses.values()}) == 5
    # a week after a lighter one rises by little over the weeks before
    assert not [notice for notice in found.notices if "above the weeks before" in notice.message]
    last = plan_of_week(made.course, classes_of(made.course, 12)[0], made.plans, KNOWN)
    assert any(run.segments[-1].to_failure for part in slots_of(last) for run in part.sets)
    # what is trained gets 8 to 20 sets in a usual week (common practice, no source)
    for told_week in found.weeks:
        if told_week.name in ("4 × 6–8", "5 × 4–6", "4 × 6–8 again"):
            for muscle in ("quadriceps", "gluteals", "hamstrings", "calves"):
                assert 8 <= told_week.sets[muscle] <= 20, (told_week.week, muscle)


def test_each_class_of_a_week_has_main_lifts_of_its_own(generated: tuple[Any, ClassFile]) -> None:
    made, _ = generated
    large = [
        {name for name in exercises_of(plan) if KNOWN.exercises[name].muscle_mass == "two_leg_compound" and KNOWN.exercises[name].takes_load}
        for plan in made.plans.values()
    ]  # fmt: skip
    assert all(large)
    assert not large[0] & large[1]


def test_what_a_lighter_week_leaves_as_heavy_is_said() -> None:
    """Loads that follow somebody's progress are not in the plan."""
    followed = SetRun(times=3, segments=[Segment(reps=8)], rest_s=60)
    file = empty_file(room_of(1), crowd_of(4))
    plan = a_class([followed]).model_copy(update={"people": file.plan.people, "room": file.plan.room})
    course = Course.model_validate(
        {"name": "C", "weeks": 2, "starts": "2026-09-01", "bases": [{"id": "b", "name": "Base"}],
         "meetings": [{"id": "m", "weekday": 1, "time": "18:00", "base": "b"}],
         "changes": [{"weeks": [2], "change": {"do": "lighter_week"}}]}
    )  # fmt: skip
    told = outlook(course, {"b": plan}, lambda plan: file.model_copy(update={"plan": plan}), KNOWN).notices
    (notice,) = [item for item in told if "follow progress" in item.message]
    assert notice.weeks == [2]
    assert "leg press" in notice.message
