"""Courses: dates, changes by week, missed weeks, what is looked at, templates, the file."""

from __future__ import annotations

from datetime import date
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st
from oaken.basis.faults import FaultyInput
from oaken.plan import ClassPlan, Repeats, SetsBlock, occasions
from oaken.plan.changes import InTurn, LighterWeek, ScaleRests, SetScheme, apply
from oaken.programme.course import (
    FORMAT,
    Course,
    CourseFile,
    change_words,
    classes_of,
    drop_week,
    move_week,
    outlook,
    plan_of_week,
    read_course,
    template,
    templates,
)
from oaken.programme.course.weeks import monday_in
from oaken.schedule.class_file import ClassFile, check_class
from oaken.schedule.class_file.reading import load_class
from places import ROOT

FILE = load_class(ROOT / "examples" / "machine-pairs.json")
KNOWN = FILE.catalogue()


def a_course(**told: Any) -> Course:
    """Two classes a week over six weeks, unless something else is told."""
    fields: dict[str, Any] = {
        "name": "Hill legs", "starts": "2026-09-09", "weeks": 6,
        "bases": [{"id": "1", "name": "Pairs"}],
        "meetings": [{"id": "tue", "base": "1", "weekday": 1}, {"id": "thu", "base": "1", "weekday": 3, "time": "07:00"}],
    }  # fmt: skip
    return Course.model_validate({**fields, **told})


PLANS = {"1": FILE.plan}


def file_of(plan: ClassPlan) -> ClassFile:
    return check_class(FILE.model_copy(update={"plan": plan}))


def test_classes_have_days() -> None:
    found = classes_of(a_course())
    assert len(found) == 12
    assert [(item.on, item.time) for item in found[:3]] == [
        (date(2026, 9, 8), "18:30"), (date(2026, 9, 10), "07:00"), (date(2026, 9, 15), "18:30")]  # fmt: skip


def test_a_missed_week_moves_or_drops_and_the_course_goes_on() -> None:
    course = a_course()
    moved = move_week(course, 3)
    assert [monday_in(moved, week) for week in (2, 3, 6)] == [date(2026, 9, 14), date(2026, 9, 28), date(2026, 10, 19)]
    assert monday_in(move_week(moved, 3), 3) == date(2026, 10, 5)
    assert len(classes_of(moved)) == 12
    dropped = drop_week(course, 3)
    assert [planned_class.week for planned_class in classes_of(dropped)].count(3) == 0
    assert monday_in(dropped, 4) == monday_in(course, 4)
    with pytest.raises(FaultyInput, match="no week 9"):
        move_week(course, 9)
    only = a_course(weeks=1)
    with pytest.raises(FaultyInput, match="every week would be dropped"):
        drop_week(only, 1)


@given(st.lists(st.tuples(st.sampled_from(["move", "drop"]), st.integers(1, 6)), max_size=5))
def test_whatever_is_missed_days_stay_in_order_and_nothing_is_lost(missed: list[tuple[str, int]]) -> None:
    course = a_course()
    for how, week in missed:
        try:
            course = move_week(course, week) if how == "move" else drop_week(course, week)
        except FaultyInput:
            assert len(set(course.dropped)) == course.weeks - 1
    found = classes_of(course)
    assert [item.on for item in found] == sorted(item.on for item in found)
    assert {item.week for item in found} == set(range(1, 7)) - set(course.dropped)
    assert all(item.on.weekday() in (1, 3) for item in found)


def test_a_week_has_its_changes() -> None:
    course = a_course(changes=[
        {"weeks": [2, 3], "change": {"do": "set_scheme", "sets": 5, "reps": 4, "reps_to": 6, "share_of_best": 0.85}},
        {"weeks": [3], "change": {"do": "scale_rests", "factor": 2}},
        {"weeks": [4], "change": {"do": "lighter_week"}},
    ])  # fmt: skip
    made = {week: plan_of_week(course, classes_of(course, week)[0], PLANS, KNOWN) for week in (1, 2, 3, 4)}
    assert made[1].blocks == plan_of_week(course, classes_of(course, 1)[1], PLANS, KNOWN).blocks
    assert made[2].name == "Hill legs, week 2: Pairs"
    assert made[2].starts == "2026-09-15 18:30"
    for slot in loaded(made[2]):
        assert slot.rounds == 5
        assert (slot.sets[0].segments[0].reps, slot.sets[0].segments[0].reps_to) == (4, 6)
        load = slot.sets[0].segments[0].load
        assert load is not None
        assert load.share_of_best == 0.85
    assert sum(slot.sets[0].rest_s for slot in loaded(made[3])) > sum(slot.sets[0].rest_s for slot in loaded(made[2]))
    before, after = loaded(made[1]), loaded(made[4])
    assert all(now.rounds == max(1, then.rounds - 1) for then, now in zip(before, after, strict=True))


def loaded(plan: ClassPlan) -> list[Any]:
    """The slots of blocks of sets that count repetitions and take a load."""
    return [
        slot
        for _, block in plan.of_kind(SetsBlock)
        for slot in block.parts
        if KNOWN.exercises[slot.exercise].takes_load and slot.sets[0].segments[0].reps is not None
    ]


def test_changes_of_the_weeks_on_a_plan() -> None:
    plan = FILE.plan
    first = loaded(plan)[0]
    named = apply(plan, SetScheme(slots=(first.id,), sets=2), KNOWN)
    assert next(slot.rounds for slot in loaded(named)) == 2
    assert loaded(named)[1:] == loaded(plan)[1:]
    turned = apply(plan, InTurn(exercise=first.exercise, other="goblet-squat"), KNOWN)
    assert first.exercise not in {part.exercise for _, part in turned.placed()}
    assert apply(plan, ScaleRests(factor=1), KNOWN) == plan
    lighter = apply(plan, LighterWeek(sets_fewer=4), KNOWN)
    assert all(slot.rounds >= 1 for slot in loaded(lighter))
    for wrong in (SetScheme(slots=("nowhere",), sets=2), InTurn(exercise="nothing", other="plank")):
        with pytest.raises(FaultyInput):
            apply(plan, wrong, KNOWN)
    with pytest.raises(ValueError, match="above reps"):
        SetScheme(reps=8, reps_to=6)
    with pytest.raises(ValueError, match="at least one"):
        SetScheme()


@pytest.mark.parametrize(
    ("wrong", "words"),
    [
        ({"weeks": 0}, "greater than or equal to 1"),
        ({"weeks": 27}, "less than or equal to 26"),
        ({"meetings": [{"id": "a", "base": "9", "weekday": 1}]}, "no base class '9'"),
        ({"changes": [{"weeks": [7], "change": {"do": "lighter_week"}}]}, "week 7 is named, but the course has 6"),
        ({"dropped": [1, 2, 3, 4, 5, 6]}, "every week is dropped"),
        ({"bases": [{"id": "1", "name": "a"}, {"id": "1", "name": "b"}]}, "stands twice"),
        ({"left_out": [{"week": 1, "meeting": "sun"}]}, "no class 'sun'"),
    ],
)
def test_a_faulty_course_says_what_is_wrong(wrong: dict[str, Any], words: str) -> None:
    with pytest.raises(ValueError, match=words):
        a_course(**wrong)


def test_what_should_be_looked_at_is_said_with_its_weeks() -> None:
    hard = a_course(meetings=[{"id": "mon", "base": "1", "weekday": 0}, {"id": "tue", "base": "1", "weekday": 1}])
    told = outlook(hard, PLANS, file_of, KNOWN)
    assert any(
        "without a day between them" in notice.message and notice.weeks == [1, 2, 3, 4, 5, 6] for notice in told.notices
    )
    steep = a_course(changes=[{"weeks": [6], "change": {"do": "set_scheme", "sets": 8}}])
    assert any("above the weeks before" in notice.message and notice.weeks == [6]
               for notice in outlook(steep, PLANS, file_of, KNOWN).notices)  # fmt: skip
    missing = outlook(a_course(), {}, file_of, KNOWN)
    assert missing.notices[0].severity == "fault"
    assert "is not there any more" in missing.notices[0].message
    wrong = a_course(changes=[{"weeks": [2], "change": {"do": "leave_out", "block": "nowhere"}}])
    faulty = [notice for notice in outlook(wrong, PLANS, file_of, KNOWN).notices if notice.severity == "fault"]
    assert [item.weeks for item in faulty] == [[2]]


def test_sums_of_a_week_are_those_of_its_classes() -> None:
    told = outlook(a_course(), PLANS, file_of, KNOWN)
    for week in told.weeks:
        figures = [planned_class.figures for planned_class in week.classes if planned_class.figures]
        assert len(figures) == 2
        assert week.session_effort == pytest.approx(sum(figure.session_effort for figure in figures), abs=0.1)
        assert week.sets["quadriceps"] == pytest.approx(sum(figure.sets["quadriceps"] for figure in figures), abs=0.1)


@pytest.mark.parametrize("kind", sorted(templates()))
def test_templates_make_courses_that_stand(kind: str) -> None:
    made = template(kind, FILE.room, FILE.participants, KNOWN, name="Hill", starts=date(2026, 9, 7), time="18:30")
    told = outlook(made.course, made.plans, file_of, KNOWN)
    assert len(told.weeks) == 12
    assert not [notice for notice in told.notices if notice.severity == "fault"]
    assert all(planned_class.figures for week in told.weeks for planned_class in week.classes)
    over = [notice for notice in told.notices if "over its slot" in notice.message]
    assert len(over) <= 1
    short = template(
        kind, FILE.room, FILE.participants, KNOWN, name="Hill", starts=date(2026, 9, 7), time="18:30", weeks=3
    )
    assert short.course.weeks == 3


def test_a_course_file_comes_back() -> None:
    file = CourseFile(format=FORMAT, course=a_course(), classes=PLANS)
    assert read_course(file.model_dump(mode="json")) == file
    with pytest.raises(FaultyInput, match="a newer version"):
        read_course({"format": "oaken-course/9"})
    with pytest.raises(FaultyInput, match="not among the classes"):
        read_course({**file.model_dump(mode="json"), "classes": {"2": file.model_dump(mode="json")["classes"]["1"]}})


def test_changes_in_words() -> None:
    assert change_words(SetScheme(sets=4, reps=6, reps_to=8, share_of_best=0.8, rest_s=90), KNOWN) == (
        "4 × 6–8 at 80% rest 90 s"
    )
    assert change_words(SetScheme(sets=2), KNOWN) == "2 sets"
    assert change_words(InTurn(exercise="leg-press", other="hack-squat"), KNOWN) == "hack squat for leg press"
    assert change_words(LighterWeek(), KNOWN) == "1 set fewer, loads × 0.9"


def test_a_weekly_class_repeats_until_it_ends_without_holidays() -> None:
    repeats = Repeats(until=date(2026, 12, 22), without=(date(2026, 12, 8),))
    found = occasions("2026-12-01 18:30", repeats)
    assert [item.on.day for item in found] == [1, 15, 22]
    assert occasions("after lunch", None) == []
    assert occasions("2026-02-31 18:30", None) == []
    plan = FILE.plan.model_dump()
    with pytest.raises(ValueError, match="has a day and a time"):
        ClassPlan.model_validate({**plan, "starts": "soon", "repeats": {"until": "2026-12-22"}})
    with pytest.raises(ValueError, match="before its first day"):
        ClassPlan.model_validate({**plan, "starts": "2026-12-23 18:30", "repeats": {"until": "2026-12-22"}})
