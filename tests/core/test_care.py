"""What asks for care, and what is kinder: every condition with every loaded exercise. Common practice, no source."""

from __future__ import annotations

from typing import Any

import pytest
from making import class_document, class_file, person, together
from oaken.domain.catalogue import Condition, Exercise, OwnEntries, catalogue
from oaken.domain.people import Person
from oaken.domain.people.conditions import (
    ASKS_FOR_CARE,
    asked,
    concerns,
    conditions,
    kind_to,
    kinder,
    safer_words,
    verdict,
)
from oaken.domain.people.conditions.care import care_table
from oaken.forecast import forecast
from oaken.forecast.report import Caution
from oaken.plan.changes import DoInstead
from oaken.schedule.class_file import ClassFile, read_class

KNOWN = catalogue()
LOADED = sorted(exercise.id for exercise in KNOWN.exercises.values() if exercise.takes_load)
CONDITIONS: list[Condition] = sorted(conditions())


def careful(*names: Condition) -> Person:
    return Person.model_validate(person(1, careful=list(names)))


def met(exercise: str, *names: Condition, **fields: Any) -> list[Caution]:
    file = class_file(together((exercise, 30)), people=[person(1, careful=list(names))], **fields)
    return [caution for caution in forecast(file).cautions if caution.about == "careful"]


@pytest.mark.parametrize("condition", CONDITIONS)
def test_every_loaded_exercise_is_graded_and_what_asks_for_care_has_a_kinder_one(condition: Condition) -> None:
    who = careful(condition)
    names = {exercise.name.lower(): exercise.id for exercise in KNOWN.exercises.values()}
    for name in LOADED:
        exercise = KNOWN.exercises[name]
        told = asked(condition, exercise)
        assert told is not None, name
        assert told.why, name
        needs_care = told.asks >= ASKS_FOR_CARE
        here = concerns(who, exercise)
        if not here:
            assert not needs_care, name
            continue
        options = kinder(exercise, condition, [who], KNOWN)
        assert here[0].for_care is needs_care
        if needs_care:
            assert told.say, name
            assert options, name
        for other in options:
            assert verdict(condition, other, exercise) == "kinder", (name, other.id)
            assert kind_to([who], other), (name, other.id)
        if options:
            # the words name the exercise that the button puts there, and no other one
            words = safer_words(here[0].say, options[0], condition)
            assert f"{options[0].name.lower()} instead" in words
        named = [name for spoken, name in names.items() if len(spoken) > 5 and spoken in here[0].say]
        assert named == [], (name, here[0].say)


@pytest.mark.parametrize(
    ("condition", "planned", "expected"),
    [
        ("knee", "dumbbell-step-up", "low-step-up"),
        ("low_back", "back-squat", "belt-squat"),
        ("low_back", "deadlift", "hip-thrust"),
        ("disc", "leg-press", "belt-squat"),
        ("knee", "walking-lunge-dumbbells", "low-step-up"),
        ("knee", "static-split-squat", "low-step-up"),
        ("knee", "back-squat", "leg-press"),
        ("knee", "front-squat", "leg-press"),
        ("low_back", "single-leg-deadlift-cable", "hip-thrust"),
        ("low_back", "single-leg-deadlift", "hip-thrust"),
        ("low_back", "dumbbell-squat", "belt-squat"),
        ("low_back", "landmine-squat", "belt-squat"),
    ],
)
def test_the_usual_choice_where_the_room_has_everything(condition: Condition, planned: str, expected: str) -> None:
    first = kinder(KNOWN.exercises[planned], condition, [careful(condition)], KNOWN)[0]
    assert first.id == expected


@pytest.mark.parametrize("condition", CONDITIONS)
def test_the_button_does_what_the_words_of_its_caution_say(condition: Condition) -> None:
    """In a class, in a room that has only some of the machines: what the fix puts there is what `safer` names."""
    for name in LOADED:
        for caution in met(name, condition):
            told = asked(condition, KNOWN.exercises[name])
            assert told is not None
            assert (caution.severity == "caution") is (told.asks >= ASKS_FOR_CARE)
            if caution.fix is None:
                assert " instead" not in caution.safer
                continue
            assert caution.severity == "caution"
            assert isinstance(caution.fix.change, DoInstead)
            other = KNOWN.exercises[caution.fix.change.other]
            assert f"{other.name.lower()} instead" in caution.safer
            assert caution.fix.label.startswith(other.name)
            assert verdict(condition, other, KNOWN.exercises[name]) == "kinder"


def test_somebody_with_two_things_gets_what_is_kind_to_both() -> None:
    both = careful("knee", "low_back", "balance")
    for name in LOADED:
        for concern in concerns(both, KNOWN.exercises[name]):
            for other in kinder(KNOWN.exercises[name], concern.condition, [both], KNOWN):
                for condition in both.careful:
                    told = asked(condition, other)
                    assert told is not None
                    assert told.asks < ASKS_FOR_CARE


def own(**fields: Any) -> Exercise:
    like = KNOWN.exercises["belt-squat"].model_dump()
    return Exercise.model_validate(
        {**like, "id": "mill-squat", "name": "Mill squat", "aliases": [], "easier": [], "harder": [], **fields}
    )


def doing(exercise: Exercise, **fields: Any) -> ClassFile:
    """A class that does an exercise of one's own."""
    document = class_document(together((exercise.id, 30)), **fields)
    return read_class({**document, "own": {"exercises": [exercise.model_dump(mode="json")]}})


def test_an_own_exercise_is_proposed_only_when_its_instructor_says_so() -> None:
    who = careful("low_back")
    unsaid, said = own(), own(kinder_for=["low_back"])
    for exercise, proposed in ((unsaid, False), (said, True)):
        known = KNOWN.with_own(OwnEntries(exercises=[exercise]))
        exercise = known.exercises[exercise.id]
        options = kinder(known.exercises["back-squat"], "low_back", [who], known)
        assert (exercise in options) is proposed
        assert verdict("low_back", exercise, known.exercises["back-squat"]) == ("kinder" if proposed else "unknown")
    noted = own(cautions=[{"who": "low_back", "say": "light"}])
    assert asked("low_back", noted) == asked("low_back", own(tags=[], cautions=[{"who": "low_back", "say": "light"}]))
    assert verdict("low_back", noted, KNOWN.exercises["belt-squat"]) == "worse"


def test_no_word_about_an_own_exercise_is_not_taken_for_safe() -> None:
    told = forecast(doing(own(), people=[person(1, careful=["knee"]), person(2)]))
    (caution,) = [caution for caution in told.cautions if caution.about == "careful"]
    assert caution.severity == "note"
    assert caution.people == [1]
    assert caution.message == "nobody has said how mill squat suits knee"
    assert caution.fix is None
    told = forecast(doing(own(kinder_for=["knee"]), people=[person(1, careful=["knee"])]))
    assert [caution for caution in told.cautions if caution.about == "careful"] == []


def test_the_table_gives_a_reason_for_every_grade() -> None:
    for condition, care in care_table().items():
        assert {grade.asks for grade in care.groups} == {0, 1, 2, 3}, condition
        assert all(grade.why for grade in care.groups)
