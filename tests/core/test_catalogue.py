"""The catalogue's data files agree with one another and with the sources they derive from."""

import pytest
from oaken.basis.estimate import methods
from oaken.domain.catalogue import Exercise, OwnEntries, catalogue
from oaken.domain.catalogue.library import _by_id
from oaken.physiology.demand import effort_factor, pressor_share, work_met
from oaken.physiology.derivation import derivation_of


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
            "from memory" in method.remark
            or "no source" in method.source
            or method.source
            in (
                "arithmetic",
                "computed from the plan",
                "computed from the person's recordings",
                "the person's own test",
            )
        ), method.id


def test_the_catalogue_is_large_and_every_entry_can_be_worked_with() -> None:
    known = catalogue()
    leg_work = [exercise for exercise in known.exercises.values() if exercise.is_work and exercise.pattern != "upper"]
    assert len(leg_work) >= 120
    for exercise in known.exercises.values():
        assert exercise.prime or exercise.nature == "pause", exercise.id
        assert exercise.cues or known.patterns[exercise.pattern].cues, exercise.id
        assert exercise.takes_load == (exercise.nature == "resistance"), exercise.id
        if exercise.is_work and exercise.pattern != "upper":
            assert exercise.easier or exercise.harder, exercise.id
        for other in (*exercise.easier, *exercise.harder):
            assert known.exercises[other] != exercise
    schools = {question for pattern in known.patterns.values() for question in pattern.questions}
    assert {"squat-depth", "knees-past-toes", "lockout", "grip"} <= schools


def test_a_substitute_has_the_same_pattern_and_the_most_alike_comes_first() -> None:
    known = catalogue()
    for exercise in known.exercises.values():
        others = known.substitutes(exercise)
        assert all(other.pattern == exercise.pattern and other.id != exercise.id for other in others)
        shared = [len(set(other.prime) & set(exercise.prime)) for other in others]
        assert shared == sorted(shared, reverse=True)
    assert known.substitutes(known.exercises["seated-leg-curl"])[0].id == "lying-leg-curl"


def test_the_derivation_of_a_demand_is_the_demand() -> None:
    known = catalogue()
    for exercise in known.exercises.values():
        told = derivation_of(exercise, known)
        assert told.work_met == pytest.approx(work_met(exercise, None, known), abs=0.05)
        assert f"{told.work_met:.1f} MET" in told.formula


@pytest.mark.parametrize(
    ("fields", "words"),
    [
        ({"name": "Press 2"}, "no digits"),
        ({"name": "rest well"}, "begins with no word"),
        ({"tempo": [0, 0, 0, 0]}, "takes some time"),
        ({"equipment": "moon"}, "does not fit"),
        ({"pattern": "sqat"}, "squat"),
    ],
)
def test_an_own_exercise_passes_the_same_rules(fields: dict[str, object], words: str) -> None:
    fine = catalogue().exercises["leg-press"].model_dump() | {"id": "mill-press", "name": "Mill press", "aliases": []}
    grown = catalogue().with_own(OwnEntries(exercises=[Exercise.model_validate(fine)]))
    assert grown.exercises["mill-press"].name == "Mill press"
    assert grown.own == {"mill-press"}
    with pytest.raises(ValueError, match=words):
        catalogue().with_own(OwnEntries(exercises=[Exercise.model_validate(fine | fields)]))
    twice = [Exercise.model_validate(fine), Exercise.model_validate(fine | {"id": "mill-press-b"})]
    with pytest.raises(ValueError, match="has this one"):
        catalogue().with_own(OwnEntries(exercises=twice))
