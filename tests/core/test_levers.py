"""What moves a figure most: computed anew with each input at both ends, the largest first, nobody's figure without."""

from __future__ import annotations

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from making import class_file, group, person, sets, together
from oaken.basis.faults import FaultyInput
from oaken.forecast import forecast, levers_of
from oaken.schedule.class_file import ClassFile

PRESSING = sets(group(3, 60, {"exercise": "leg-press", "reps": 10, "load": {"share_of_best": 0.7}}))


def pressing(**fields: object) -> ClassFile:
    """One person with three sets on the leg press."""
    known = {"bests_kg": {"leg-press": 100}, "max_bpm": None, "resting_bpm": None, "vo2max": None} | fields
    return class_file(PRESSING, people=[person(1, **{key: value for key, value in known.items() if value is not None})])


def test_a_lever_is_what_the_forecast_says_with_that_input() -> None:
    lever = next(
        lever for lever in levers_of(pressing(age=40), "heart_mean", "p1") if lever.input == "maximal heart rate"
    )
    low, high = (float(words.split()[0]) for words in (lever.low, lever.high))
    assert (low, high) == (170, 190)  # 208 − 0.7 × 40, give or take 10
    for top, value in ((low, lever.at_low), (high, lever.at_high)):
        told = forecast(pressing(age=40, max_bpm=round(top))).people[0].figures.heart_mean
        assert told is not None
        assert value == pytest.approx(told.value, abs=1.0)
    assert lever.at_low < lever.at_high


@settings(max_examples=20, deadline=None)
@given(
    st.sampled_from(["energy", "heart_mean", "volume_load", "work_share", "impulse", "session_effort"]),
    st.integers(20, 75),
    st.sampled_from([None, 165]),
    st.sampled_from([None, 55]),
)
def test_three_at_most_and_the_largest_first(figure: str, age: int, top: int | None, rest: int | None) -> None:
    file = pressing(age=age, max_bpm=top, resting_bpm=rest)
    usual = getattr(forecast(file).people[0].figures, figure)
    found = levers_of(file, figure, "p1")
    assert 1 <= len(found) <= 3
    swings = [item.swing for item in found]
    assert swings == sorted(swings, reverse=True)
    for item in found:
        assert min(item.at_low, item.at_high) <= usual.value * 1.03
        assert max(item.at_low, item.at_high) >= usual.value * 0.97


def test_a_measured_maximum_matters_less_than_one_by_a_formula() -> None:
    def swing(file: ClassFile) -> float:
        return next(
            (lever.swing for lever in levers_of(file, "heart_mean") if lever.input == "maximal heart rate"), 0.0
        )

    assert swing(pressing(age=40)) > swing(pressing(age=40, max_bpm=180))


def test_what_is_somebodys_own_evens_out_over_a_class_and_what_holds_for_all_does_not() -> None:
    def class_of(crowd: int) -> ClassFile:
        return class_file(together(("marching", 900)), people=[person(n, age=40) for n in range(1, crowd + 1)])

    one, nine = ({lever.input: lever.swing for lever in levers_of(class_of(crowd), "heart_mean")} for crowd in (1, 9))
    assert nine["maximal heart rate"] == pytest.approx(one["maximal heart rate"] / 3, rel=0.1)
    assert nine["what the work costs"] == pytest.approx(one["what the work costs"], rel=0.3)


def test_hearts_that_are_left_out_have_no_levers_and_unknown_names_are_told() -> None:
    file = class_file(PRESSING, people=[person(1, heart_medication=True, bests_kg={"leg-press": 100})])
    assert levers_of(file, "heart_mean", "p1") == []
    assert levers_of(file, "volume_load", "p1")
    with pytest.raises(FaultyInput, match="no figure 'mood'"):
        levers_of(file, "mood")
    with pytest.raises(FaultyInput, match="no person 'nobody'"):
        levers_of(file, "energy", "nobody")
