"""The main job in one call: properties any forecast must have, for any class."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from making import circuit, circuits, class_file, classes, crowds, group, person, room, sets, together
from oaken.basis.estimate import Estimate, methods
from oaken.forecast import forecast
from oaken.forecast.report import Figures
from oaken.physiology.heart_rate import HeartProfile, Stretches
from oaken.schedule.class_file import ClassFile
from one_heart import reserve_curve


def figures_of(result: Figures) -> dict[str, Estimate]:
    return {name: value for name in Figures.model_fields if (value := getattr(result, name)) is not None}


@given(classes)
def test_energy_is_additive_over_blocks_and_people(file: ClassFile) -> None:
    result = forecast(file)
    assert sum(block.kcal for block in result.blocks) == pytest.approx(result.figures.energy.value, rel=0.01, abs=1)
    assert result.class_energy.value == pytest.approx(
        sum(person.figures.energy.value for person in result.people), rel=1e-3
    )
    assert result.kcal[-1] == pytest.approx(result.figures.energy.value, rel=1e-2, abs=0.2)


@given(classes)
def test_the_heart_stays_between_rest_and_maximum(file: ClassFile) -> None:
    for somebody in forecast(file).people:
        assert min(somebody.bpm) >= somebody.rest_bpm.value - 0.1
        assert max(somebody.bpm) <= somebody.max_bpm.value + 0.1


@given(classes)
def test_every_figure_has_a_unit_a_known_method_and_a_range_around_it(file: ClassFile) -> None:
    result = forecast(file)
    for figures in (result.figures, *(somebody.figures for somebody in result.people)):
        for name, figure in figures_of(figures).items():
            assert figure.unit, name
            assert figure.method in methods(), name
            assert figure.low <= figure.value <= figure.high, name


@given(
    st.lists(st.tuples(st.floats(5, 200), st.floats(0, 1.6)), min_size=1, max_size=20),
    st.floats(0, 1),
    st.floats(20, 70),
)
def test_the_heart_moves_towards_demand_and_never_past_it(
    steps: list[tuple[float, float]], first: float, vo2max: float
) -> None:
    ends = np.cumsum([length for length, _ in steps])
    starts = np.concatenate([[0.0], ends[:-1]])
    demand = np.array([share for _, share in steps])
    curve = reserve_curve(Stretches.cut(starts, ends), demand, HeartProfile.of(60, 180, vo2max), first)
    for start, length, target, opening in zip(
        curve.stretches.start_s, curve.stretches.duration_s, curve.target, curve.opening, strict=True
    ):
        inside = curve.at(curve.stretches.moments(start + np.linspace(0, length * 0.999, 7)))
        gaps = np.abs(target - inside)
        assert np.all(np.diff(gaps) <= 1e-9)
        assert np.all((inside - target) * (opening - target) >= -1e-9)


def test_the_closed_form_agrees_with_stepping_the_differential_equation() -> None:
    starts, ends = np.array([0.0, 40.0, 60.0]), np.array([40.0, 60.0, 180.0])
    demand = np.array([0.8, 0.1, 0.5])
    profile = HeartProfile.of(60, 180, 45)
    curve = reserve_curve(Stretches.cut(starts, ends), demand, profile)
    step, now, worst = 0.002, 0.0, 0.0
    for tick in range(int(180 / step)):
        at = tick * step
        index = int(np.searchsorted(curve.stretches.start_s, at, "right")) - 1
        if tick % 500 == 0:
            worst = max(worst, abs(now - float(curve.at(curve.stretches.moments(np.array([at])))[0])))
        target = curve.target[index]
        now += step * (target - now) / (profile.rise_s if target > now else profile.fall_s)
    assert worst < 1e-3


@given(circuits, crowds, st.integers(1, 60))
def test_more_rest_never_raises_density_on_the_clock(
    block: dict[str, Any], people: list[dict[str, object]], more: int
) -> None:
    rested = {**block, "change_s": int(block["change_s"]) + more, "round_rest_s": None}
    before = forecast(class_file({**block, "round_rest_s": None}, people=people)).figures
    after = forecast(class_file(rested, people=people)).figures
    assert after.work_share.value <= before.work_share.value + 1e-6
    assert (after.load_per_minute is None) == (before.load_per_minute is None)
    if after.load_per_minute is not None and before.load_per_minute is not None:
        assert after.load_per_minute.value <= before.load_per_minute.value + 1e-6
    assert after.sets_per_minute.value <= before.sets_per_minute.value + 1e-6


@given(st.integers(1, 4), st.integers(0, 90), st.integers(1, 90), st.integers(1, 3))
def test_more_rest_never_raises_density_where_nobody_waits(rounds: int, rest: int, more: int, people: int) -> None:
    """Where people queue, rest may fall into a wait that was there anyway; alone on their machines it cannot."""

    def density(rest_s: int) -> float:
        block = sets(group(rounds, rest_s, {"exercise": "leg-press", "reps": 10}, {"exercise": "plank", "seconds": 30}))
        file = class_file(block, people=people, room=room({"leg-press": 3, "mat": 3}))
        result = forecast(file)
        assert result.figures.waiting.value == 0
        return result.figures.work_share.value

    assert density(rest + more) <= density(rest) + 1e-6


def test_longer_rest_lowers_heart_and_energy_per_minute() -> None:
    def per_minute(change_s: int) -> tuple[float, float]:
        result = forecast(class_file(circuit(["leg-press", "hip-thrust"] * 4, change_s=change_s, rounds=2)))
        assert result.figures.heart_mean is not None
        return result.figures.heart_mean.value, result.figures.energy.value / result.length.value

    assert per_minute(60) < per_minute(15)


def test_volume_load_counts_only_known_loads_and_says_which_are_missing() -> None:
    block = sets(group(2, 30, {"exercise": "leg-press", "reps": 10, "load": {"share_of_best": 0.5}}))
    known, unknown = person(1), person(2, bests_kg={})
    result = forecast(class_file(block, people=[known, unknown]))
    volumes = [person.figures.volume_load for person in result.people]
    assert [None if volume is None else volume.value for volume in volumes] == [2 * 10 * 50, None]
    assert result.people[1].figures.load_per_minute is None
    of_class = result.figures.volume_load
    assert of_class is not None
    assert (of_class.value, of_class.low, of_class.partly) == (1000, 1000, "known for 1 of 2")
    (note,) = [caution for caution in result.cautions if "no best known" in caution.message]
    assert note.people == [2]


def test_a_load_nobody_knows_is_no_load_of_zero() -> None:
    block = sets(group(2, 30, {"exercise": "leg-press", "reps": 10}))
    people = [person(number, bests_kg={}) for number in range(1, 15)]
    nobody = forecast(class_file(block, people=people))
    assert nobody.figures.volume_load is None
    assert nobody.figures.load_per_minute is None
    some = [*people[:9], *(person(number, working_kg={"leg-press": 80}) for number in range(10, 15))]
    told = forecast(class_file(block, people=some)).figures.volume_load
    assert told is not None
    assert (told.value, told.partly) == (1600, "known for 5 of 14")
    # of one person some loads are known
    two = sets(group(2, 30, {"exercise": "leg-press", "reps": 10}, {"exercise": "hip-thrust", "reps": 10}))
    one = forecast(class_file(two, people=[person(1, bests_kg={}, working_kg={"leg-press": 80})])).people[0].figures
    assert one.volume_load is not None
    assert (one.volume_load.value, one.volume_load.partly) == (1600, "known for 20 of 40 loaded reps")
    # without any load the sum is nothing, and that is known
    bare = forecast(class_file(circuit(["plank"]))).figures.volume_load
    assert bare is not None
    assert (bare.value, bare.partly) == (0, "")


def test_heart_medication_takes_all_heart_figures_away_and_says_what_to_do() -> None:
    people = [person(1), person(2, heart_medication=True)]
    result = forecast(class_file(circuit(["leg-press", "plank"]), people=people))
    medicated = result.people[1]
    assert medicated.figures.heart_mean is None
    assert medicated.figures.energy_by_heart_rate is None
    assert medicated.bpm == []
    assert medicated.figures.energy.value > 0
    assert any(caution.people == [2] and "perceived effort" in caution.safer for caution in result.cautions)
    alone = forecast(class_file(circuit(["leg-press"]), people=[person(1, heart_medication=True)]))
    assert alone.band is None
    assert alone.figures.heart_mean is None


def test_an_estimated_maximum_says_what_the_other_schools_would_give() -> None:
    (woman,) = forecast(class_file(circuit(["leg-press"]), people=[person(1, sex="female")])).people
    assert (woman.max_bpm.value, woman.max_bpm.low, woman.max_bpm.high) == (180, 170, 190)
    assert "by other formulas: Gellish 179, Fox 180, Nes 185, Gulati (women) 171 bpm" in woman.max_bpm.inputs
    (measured,) = forecast(class_file(circuit(["leg-press"]), people=[person(1, max_bpm=191)])).people
    assert (measured.max_bpm.value, measured.max_bpm.method) == (191, "heart.max.measured")


def test_energy_by_heart_rate_says_how_long_it_left_its_range() -> None:
    (one,) = forecast(class_file(circuit(["leg-press"] * 6, work_s=60, change_s=5))).people
    assert one.figures.energy_by_heart_rate is not None
    above = sum(bpm > 150 for bpm in one.bpm) * 5 / 60
    stated = float(one.figures.energy_by_heart_rate.note.split()[0])
    assert stated > 1
    assert stated == pytest.approx(above, abs=0.7)


def test_measured_values_win_and_narrow_the_range() -> None:
    def peak(**measured: object) -> Estimate:
        figure = forecast(class_file(circuit(["leg-press"] * 4), people=[person(1, **measured)])).people[0]
        assert figure.figures.heart_peak is not None
        return figure.figures.heart_peak

    guessed, measured = peak(), peak(max_bpm=180, vo2max=45.9)
    assert measured.value == pytest.approx(guessed.value, abs=0.5)
    assert measured.high - measured.low < guessed.high - guessed.low


@pytest.mark.parametrize(
    ("block", "where", "words", "safer"),
    [
        (circuit(["seated-leg-curl", "plank"]), room({"mat": 2}), "there is no seated leg curl", "hamstring lowering"),
        (circuit(["leg-extension", "plank"]), room({"bench": 2}), "there is no leg extension", "another exercise"),
        (circuit(["leg-press", "leg-press-narrow"]), room({"leg-press": 1, "hack-squat": 1}), "already take every", "hack squat"),
        (circuit(["leg-press", "rower"], change_s=5), None, "5 s are short", "change of"),
        (together(("plank", 60)), room({"mat": 1}), "2 people together, but only 1", ""),
    ],
)  # fmt: skip
def test_what_the_room_cannot_give_is_said_with_a_safer_choice(
    block: dict[str, object], where: dict[str, object] | None, words: str, safer: str
) -> None:
    result = forecast(class_file(block, people=2, room=where))
    (caution,) = [caution for caution in result.cautions if words in caution.message]
    assert safer in caution.safer
    assert caution.slots


def test_a_machine_out_of_order_is_a_clash_with_a_substitute_of_the_same_pattern() -> None:
    where = room({"seated-leg-curl": 1, "lying-leg-curl": 1})
    where["units"][0]["out_of_order"] = True
    (clash,) = [
        c for c in forecast(class_file(circuit(["seated-leg-curl"]), room=where)).cautions if c.severity == "clash"
    ]
    assert "out of order" in clash.message
    assert "lying leg curl" in clash.safer


def test_the_demo_classes_forecast_sensibly(example: Path) -> None:
    from oaken.schedule.class_file.reading import load_class

    file = load_class(example)
    result = forecast(file)
    assert len(result.people) == len(file.plan.people) >= 8
    # one of them is meant to be a little over its slot
    over = 1.05 if file.plan.name.startswith("Long carry") else 1.0
    assert 0.8 * result.slot_s < result.length.value <= over * result.slot_s
    assert 20 <= result.figures.work_share.value <= 75
    assert not [caution for caution in result.cautions if caution.severity == "clash"]
    for somebody in result.people:
        assert 3 <= somebody.figures.energy.value / (result.length.value / 60) <= 12
        if somebody.figures.heart_mean is not None:
            # a heavy class with long rests and waits has a low mean
            assert 0.45 <= somebody.figures.heart_mean.value / somebody.max_bpm.value <= 0.85


def test_warm_up_and_cool_down_are_neither_work_nor_sets_unless_the_class_says_so() -> None:
    """Two minutes of pressing in a class of ten with bicycles before and after: what counts is chosen, not guessed."""
    press = sets(group(4, 60, {"exercise": "leg-press", "seconds": 30}), purpose="strength")
    cycling = {"exercise": "bike", "sets": [{"segments": [{"seconds": 240}], "rest_s": 0}]}
    rows = {"kind": "together", "name": "Bicycles", "move_on_s": 0, "slots": [cycling]}

    def density(**fields: Any) -> tuple[float, float, list[str]]:
        warm = {key: value for key, value in {"purpose": fields.pop("purpose", None)}.items() if value}
        figures = forecast(class_file(rows | warm, press, rows | warm, **fields)).people[0].figures
        minutes = forecast(class_file(rows | warm, press, rows | warm, **fields)).length.value / 60
        return (
            figures.work_share.value * minutes * 0.6,
            figures.sets_per_minute.value * minutes,
            figures.work_share.inputs,
        )

    work, count, inputs = density()
    assert (work, count) == (pytest.approx(120, abs=1), pytest.approx(4, abs=0.01))
    assert "without 480 s of warm-up and cool-down" in inputs[0]
    assert density(purpose="warm_up")[:2] == (work, count)
    work, count, inputs = density(choices={"density": "everything"})
    assert (work, count) == (pytest.approx(600, abs=1), pytest.approx(6, abs=0.01))
    assert "without" not in inputs[0]
    # said to be what the class is about, it counts
    assert density(purpose="conditioning")[0] == pytest.approx(600, abs=1)


def test_other_methods_of_energy_are_told_apart_only_where_their_ranges_do_not_meet() -> None:
    """Rowing is as the equation knows it, and lifting work knows nothing of it; of a light press none is far off."""
    rowing = {"exercise": "rower", "sets": [{"segments": [{"seconds": 900}], "rest_s": 0}]}
    row = {"kind": "together", "name": "Rowing", "move_on_s": 0, "slots": [rowing]}
    figures = forecast(class_file(row, people=[person(1)])).people[0].figures
    lifting, shown = figures.energy_by_lifting, figures.energy
    assert lifting is not None
    assert shown is not None
    assert lifting.high < shown.low
    assert lifting.aside == "below"
    assert "rhythmic work are not in it" in lifting.note
    for other in (figures.energy_by_heart_rate, figures.energy_by_table):
        if other is not None:
            meet = other.low <= shown.high and other.high >= shown.low
            assert (other.aside == "") == meet
            assert ("more than both ranges" in other.note) == (not meet)
