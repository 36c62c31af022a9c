"""The catalogue's data files agree with one another and with the sources they derive from."""

import pytest
from oaken.catalogue import catalogue
from oaken.catalogue.library import _by_id
from oaken.estimate import methods
from oaken.physiology.demand import effort_factor, pressor_share, work_met


def test_every_exercise_demands_more_than_recovery_and_less_than_sprinting() -> None:
    known = catalogue()
    for exercise in known.exercises.values():
        assert 1.3 <= work_met(exercise, None, known) <= 14, exercise.id


def test_two_legs_cost_more_than_one_joint_and_one_joint_more_than_a_calf() -> None:
    known = catalogue()
    costs = [
        work_met(known.exercises[name], 0.6, known) for name in ("leg-press", "leg-extension", "standing-calf-raise")
    ]
    assert costs == sorted(costs, reverse=True)


def test_heavier_costs_more_within_its_limits() -> None:
    assert effort_factor(0.3) < effort_factor(0.6) < effort_factor(0.9)
    assert effort_factor(None) == effort_factor(0.55) == 1
    assert (effort_factor(0.01), effort_factor(1.2)) == (pytest.approx(0.784), 1.2)


def test_only_straining_has_a_pressor_term() -> None:
    known = catalogue().exercises
    assert pressor_share(known["bike"], None) == 0
    assert 0 < pressor_share(known["reverse-lunge"], None) < pressor_share(known["leg-press"], 0.4)
    assert pressor_share(known["leg-press"], 0.4) < pressor_share(known["leg-press"], 0.8)


def test_an_unknown_name_is_answered_with_what_was_probably_meant() -> None:
    assert catalogue().closest_exercises("leg pres")[0] == "leg-press"
    assert "kettlebell-swing" in catalogue().closest_exercises("Kettlebel swing")
    assert catalogue().closest_exercises("xqzw") == []


def test_an_id_cannot_stand_twice() -> None:
    muscle = next(iter(catalogue().muscles.values()))
    with pytest.raises(ValueError, match="stands twice"):
        _by_id([muscle, muscle])


def test_every_method_names_its_source_and_its_range() -> None:
    for method in methods().values():
        assert method.formula
        assert method.range
        assert (
            "from memory" in method.source
            or "no source" in method.source
            or method.source
            in (
                "arithmetic",
                "computed from the plan",
                "the person's own test",
            )
        ), method.id
