"""Nobody takes up more than their maximum: demand is capped, said, and its energy is not claimed."""

from __future__ import annotations

import numpy as np
from hypothesis import given
from hypothesis import strategies as st
from making import circuit, class_file, person
from oaken.forecast import forecast
from oaken.forecast.workload import carry_out
from oaken.physiology.body import uptake_of
from oaken.schedule.class_file import ClassFile

HARD = ["bike-hard", "leg-press", "goblet-squat", "dead-bug"]


def hard(**body: object) -> ClassFile:
    return class_file(circuit(HARD, work_s=150, change_s=20, rounds=1), people=[person(1, **body)])


@given(
    st.integers(16, 90), st.floats(45, 130), st.sampled_from(["male", "female", None]),
    st.one_of(st.none(), st.floats(12, 70)),
)  # fmt: skip
def test_no_step_asks_for_more_than_the_maximum(age: int, mass: float, sex: str | None, vo2max: float | None) -> None:
    file = hard(age=age, body_mass_kg=mass, sex=sex, vo2max=vo2max)
    workload = carry_out(file).workload
    assert np.all(workload.met <= uptake_of(file.people[0]).value / 3.5 + 1e-9)


def test_what_is_above_the_maximum_is_said_and_not_claimed() -> None:
    fit, unfit = (forecast(hard(age=40, body_mass_kg=70, sex="female", vo2max=uptake)) for uptake in (60, 20))
    said = [
        caution.message for caution in unfit.cautions if "more is asked than somebody can take up" in caution.message
    ]
    assert len(said) == 1
    assert "hard bike" in said[0]
    assert not [caution for caution in fit.cautions if "more is asked" in caution.message]
    minutes = unfit.length.value / 60
    assert unfit.people[0].figures.energy.value <= 20 * 70 / 200 * minutes


def test_the_range_of_energy_comes_from_what_is_known() -> None:
    """A machine at a setting is known better than a table value, and a measured uptake better than an estimated one."""

    def share(exercise: str, **body: object) -> float:
        who = person(1, age=40, body_mass_kg=70, sex="male", **body)
        one = forecast(class_file(circuit([exercise], work_s=600), people=[who])).people[0].figures.energy
        return (one.high - one.value) / one.value

    assert share("bike") < 0.15
    assert share("bike") < share("leg-press", vo2max=45) < share("leg-press")
    assert share("leg-press") < 0.35


def test_who_takes_up_more_never_burns_less() -> None:
    kcal = [
        forecast(hard(age=40, body_mass_kg=70, sex="male", vo2max=vo2max)).people[0].figures.energy.value
        for vo2max in (15, 20, 25, 35, 45, 60)
    ]
    assert kcal == sorted(kcal)
