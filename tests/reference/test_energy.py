"""Energy by several schools against published values (from memory unless said otherwise)."""

import pytest
from oaken.domain.catalogue import EquationSetting, catalogue
from oaken.domain.people import Sex
from oaken.domain.prescription import MachineSetting, Manner
from oaken.physiology import energy, metabolic
from oaken.physiology.demand import work_phase_met
from oaken.schedule.timeline.bouts import set_equation


def test_activity_table_rate() -> None:
    """kcal/min = MET × 3.5 × kg ÷ 200: 70 kg at 5.0 MET → 6.125 (computed)."""
    assert energy.kcal_per_min(5.0, 70) == pytest.approx(6.125)


@pytest.mark.parametrize(
    ("code", "met"),
    [
        ("02050", 6.0), ("02052", 5.0), ("02054", 3.5), ("02040", 8.0), ("02035", 4.3), ("02020", 8.0), ("02022", 3.8),
        ("02010", 7.0), ("02065", 9.0), ("02048", 5.0), ("02101", 2.3), ("02072", 7.0), ("02017", 4.8), ("02014", 11.0), ("07040", 1.3),
    ],
)  # fmt: skip
def test_activity_table_values(code: str, met: float) -> None:
    """2011 Compendium of Physical Activities (Ainsworth et al.), values from memory."""
    assert catalogue().activities[code].met == met


def test_work_phase_of_two_table_entries_agrees() -> None:
    """Computed: squats 5.0 at a duty of 0.35 over 1.8 → 10.9; vigorous circuit 8.0 at 0.70 over 2.0 → 10.6.
    Two independent table entries give nearly the same working demand, which is the point of the derivation."""
    squats, circuit = work_phase_met(5.0, 0.35, 1.8), work_phase_met(8.0, 0.70, 2.0)
    assert squats == pytest.approx(10.9, abs=0.05)
    assert circuit == pytest.approx(10.6, abs=0.05)
    assert squats == pytest.approx(circuit, rel=0.05)


@pytest.mark.parametrize("code", ["02052", "02040", "02020", "02035"])
def test_the_derived_demand_gives_the_table_value_back(code: str) -> None:
    """A plan with the duty cycle of the table must average to the table's own MET."""
    entry = catalogue().activities[code]
    working = work_phase_met(entry.met, entry.duty, entry.rest_met)
    assert entry.duty * working + (1 - entry.duty) * entry.rest_met == pytest.approx(entry.met)


def test_metabolic_equations() -> None:
    """ACSM metabolic equations: worked values, computed from the published coefficients."""
    flat = metabolic.walking_uptake(67.06)
    assert flat == pytest.approx(10.2, abs=0.05)
    assert metabolic.walking_uptake(67.06, 0.03) == pytest.approx(13.8, abs=0.05)
    assert metabolic.walking_uptake(67.06, 0.03) / flat == pytest.approx(1.35, abs=0.01)
    assert metabolic.walking_uptake(67.06, 0.085) / flat == pytest.approx(2.0, abs=0.01)
    run = metabolic.running_uptake(142)
    assert run == pytest.approx(31.9, abs=0.05)
    assert run / 3.5 == pytest.approx(9.1, abs=0.05)
    assert metabolic.leg_cycling_uptake(100, 70) == pytest.approx(22.4, abs=0.05)
    assert metabolic.stepping_uptake(24, 0.20) == pytest.approx(19.8, abs=0.05)


def test_an_equation_warns_outside_its_range() -> None:
    """Ranges as published: walking 50–100 m/min, stepping 12–30 a minute of 0.04–0.40 m."""
    assert metabolic.out_of_range(EquationSetting(kind="walk", speed_m_per_min=67)) == ""
    assert "outside 50–100" in metabolic.out_of_range(EquationSetting(kind="walk", speed_m_per_min=120))
    too_high = EquationSetting(kind="step", step_rate_per_min=24, height_m=0.6)
    assert "step height" in metabolic.out_of_range(too_high)
    for exercise in catalogue().exercises.values():
        assert exercise.equation is None or metabolic.out_of_range(exercise.equation) == "", exercise.id


def test_energy_by_heart_rate() -> None:
    """Keytel et al. 2005: man 35 y, 75 kg, 140 bpm: 55.2 kJ/min = 13.2 kcal/min; woman 35 y, 62 kg: 37.0 = 8.8."""

    def kj_per_min(mass_kg: float, sex: Sex | None) -> float:
        slope, level = energy.keytel_line(mass_kg, 35, sex)
        return slope * 140 + level

    man, woman = kj_per_min(75, "male"), kj_per_min(62, "female")
    assert man == pytest.approx(55.2, abs=0.1)
    assert man / energy.KJ_PER_KCAL == pytest.approx(13.2, abs=0.05)
    assert woman == pytest.approx(37.0, abs=0.1)
    assert woman / energy.KJ_PER_KCAL == pytest.approx(8.8, abs=0.05)
    assert kj_per_min(75, None) == pytest.approx((man + kj_per_min(75, "female")) / 2)


def test_energy_by_heart_rate_with_a_measured_uptake() -> None:
    """Keytel et al. 2005, the equation with fitness (from memory): man 35 y, 75 kg, 45 mL/kg/min, 140 bpm: 50.2 kJ/min;
    woman 35 y, 62 kg, 38 mL/kg/min: 34.0."""
    for mass_kg, sex, vo2max, kj in ((75, "male", 45.0, 50.2), (62, "female", 38.0, 34.0)):
        slope, level = energy.keytel_line(mass_kg, 35, sex, vo2max)  # type: ignore[arg-type]
        assert slope * 140 + level == pytest.approx(kj, abs=0.05)


def test_lifting_work() -> None:
    """Mechanics: 100 kg lifted 0.5 m ten times is 4905 J; at 25 % efficiency 19 620 J = 4.69 kcal."""
    assert energy.lifting_kcal(100 * 9.81 * 0.5 * 10, 0.25) == pytest.approx(4.69, abs=0.005)


def test_the_grade_at_which_an_incline_doubles_the_cost() -> None:
    """ACSM walking equation (from memory): at 67.06 m/min (4 km/h) the gross cost doubles at about 8.5 % (computed);
    3 % costs 1.35 times the flat (computed). The claim "the incline doubles it" is true at that grade only."""
    speed = 67.06
    grade = metabolic.doubling_grade(speed)
    assert grade == pytest.approx(0.085, abs=0.0005)
    flat = metabolic.walking_uptake(speed)
    assert metabolic.walking_uptake(speed, grade) == pytest.approx(2 * flat)
    assert metabolic.walking_uptake(speed, 0.03) / flat == pytest.approx(1.35, abs=0.005)


@pytest.mark.parametrize(
    ("exercise", "setting", "uptake"),
    [
        # walk 0.1·S + 1.8·S·G + 3.5: 4.8 km/h = 80 m/min at 5 %
        ("treadmill-walk", {"speed_kmh": 4.8, "incline_percent": 5}, 8 + 7.2 + 3.5),
        # run 0.2·S + 0.9·S·G + 3.5: 9 km/h = 150 m/min; a walk set faster than 134 m/min is run
        ("treadmill-run", {"speed_kmh": 9}, 33.5),
        ("treadmill-walk", {"speed_kmh": 9}, 33.5),
        # cycle 10.8·W ÷ kg + 7: 100 W at 70 kg → 22.4
        ("bike", {"power_w": 100}, 22.43),
        # step 0.2·f + 1.33·1.8·h·f + 3.5: 24 a minute of 0.20 m → 19.8
        ("stair-climber", {"steps_per_min": 24, "step_height_m": 0.2}, 19.79),
    ],
)
def test_machine_settings_reach_the_metabolic_equations(
    exercise: str, setting: dict[str, float], uptake: float
) -> None:
    """ACSM metabolic equations at an instructor's own setting (coefficients from memory, values computed)."""
    known = catalogue().exercises[exercise]
    equation = set_equation(Manner(setting=MachineSetting.model_validate(setting)), known) or known.equation
    assert equation is not None
    assert metabolic.uptake(equation, 70) == pytest.approx(uptake, abs=0.01)
