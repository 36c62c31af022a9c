"""Heart-rate formulas against their published values (formulas from memory, values computed from them)."""

from collections.abc import Callable

import pytest
from oaken.domain.people import Person
from oaken.physiology import heart_rate
from oaken.physiology.body import uptake_of


@pytest.mark.parametrize(
    ("formula", "at_40"),
    [
        (heart_rate.max_bpm_tanaka, 180),  # Tanaka, Monahan & Seals 2001
        (heart_rate.max_bpm_gellish, 179),  # Gellish 2007
        (heart_rate.max_bpm_fox, 180),  # Fox 1971
        (heart_rate.max_bpm_nes, 185.4),  # Nes 2013
        (heart_rate.max_bpm_gulati, 170.8),  # Gulati 2010, women
    ],
)
def test_maximum_heart_rate_at_forty(formula: Callable[[float], float], at_40: float) -> None:
    assert formula(40) == pytest.approx(at_40)


def test_reserve() -> None:
    """Karvonen 1957: rest 60, maximum 180, 60 % → 132."""
    assert heart_rate.target_bpm(0.6, 60, 180) == pytest.approx(132)


def test_maximal_uptake_from_two_heart_rates() -> None:
    """Uth 2004: 185 and 60 → 47.2 mL/kg/min."""
    assert heart_rate.vo2max_uth(185, 60) == pytest.approx(47.2, abs=0.05)


def test_share_of_uptake_reserve() -> None:
    """Swain & Leutholtz 1997: percent of heart-rate reserve equals percent of uptake reserve; rest is 1 MET, the
    maximum is the whole reserve."""
    assert heart_rate.uptake_reserve_share(1.0, 42.0) == 0
    assert heart_rate.uptake_reserve_share(12.0, 42.0) == pytest.approx(1)


def test_time_constants_stay_in_the_usual_range() -> None:
    """Common practice, no source: up 30–60 s, down 60–120 s, both slower when less fit."""
    for vo2max in (20, 30, 45, 60, 75):
        profile = heart_rate.HeartProfile.of(60, 180, vo2max)
        assert 30 <= profile.rise_s <= 60
        assert 60 <= profile.fall_s <= 120
        assert profile.rise_s < profile.fall_s
    fit, unfit = (heart_rate.HeartProfile.of(60, 180, vo2max) for vo2max in (55, 32))
    assert fit.fall_s < unfit.fall_s


def test_maximal_uptake_by_the_reference_equation() -> None:
    """Myers et al. 2017 (from memory), in pounds: a woman of 65 with 70 kg 21, a man of 40 with 75 kg 43; nobody below
    12; measured values and, for the trained, the ratio of heart rates (Uth 2004) come first."""
    assert heart_rate.vo2max_reference(65, 70, 1) == pytest.approx(21.3, abs=0.1)
    assert heart_rate.vo2max_reference(40, 75, 0) == pytest.approx(43.3, abs=0.1)
    assert heart_rate.vo2max_reference(95, 140, 1) == 12
    body = {"id": "a", "name": "A", "age": 40, "body_mass_kg": 75, "sex": "male", "resting_bpm": 60}
    methods = {
        level: uptake_of(Person.model_validate({**body, "level": level})).method for level in ("standard", "advanced")
    }
    assert methods == {"standard": "heart.vo2max.reference", "advanced": "heart.vo2max.uth"}
    assert uptake_of(Person.model_validate({**body, "vo2max": 51})).value == 51
    estimate = uptake_of(Person.model_validate(body))
    assert (estimate.high - estimate.low) / 2 == pytest.approx(7.2)
