"""Time, intensity classes and training load against published values and values computed by hand."""

import numpy as np
import pytest
from making import circuit, class_file
from oaken.forecast import forecast
from oaken.physiology.intensity import CLASS_NAMES, minutes_by_class
from oaken.physiology.training_load import impulse, impulse_of_curve, session_effort, zone_sum
from oaken.schedule.rotation.clocked import clocked_seconds


def test_clocked_circuit_of_ten_stations() -> None:
    """Computed by hand: 10 stations, 30 s work, 15 s change, 3 rounds, no extra rest = 1335 s = 22 min 15 s."""
    assert clocked_seconds(10, 3, 30, 15, None) == 1335
    # the round rest replaces the change: + 2 × (60 − 15)
    assert clocked_seconds(10, 3, 30, 15, 60) == 1335 + 90
    file = class_file(circuit(["plank"] * 10, rounds=3))
    assert forecast(file).length.value == 1335


@pytest.mark.parametrize(
    ("reserve", "name"),
    [
        (0.29, "very light"),
        (0.30, "light"),
        (0.39, "light"),
        (0.40, "moderate"),
        (0.59, "moderate"),
        (0.60, "vigorous"),
        (0.89, "vigorous"),
        (0.90, "near-maximal"),
    ],
)
def test_intensity_classes(reserve: float, name: str) -> None:
    """ACSM position stand (Garber et al. 2011, from memory): reserve < 30, 30–39, 40–59, 60–89, ≥ 90 %."""
    minute = minutes_by_class(np.full(60, reserve))
    assert minute.tolist() == [float(class_name == name) for class_name in CLASS_NAMES]


def test_minutes_by_class_add_up() -> None:
    """Arithmetic: two minutes light, one vigorous."""
    curve = np.array([0.35] * 120 + [0.7] * 60)
    assert minutes_by_class(curve).tolist() == [0, 2, 0, 1, 0]


def test_exponential_impulse() -> None:
    """Banister 1991, Morton 1990 (formula from memory; 51.5 and 58.1 computed from it): 30 min at 70 % of reserve."""
    assert impulse(30, 0.70, "male") == pytest.approx(51.5, abs=0.05)
    assert impulse(30, 0.70, "female") == pytest.approx(58.1, abs=0.05)
    assert impulse(30, 0.70, None) == pytest.approx((51.5 + 58.1) / 2, abs=0.05)
    assert impulse_of_curve(np.full(1800, 0.70), "male") == pytest.approx(impulse(30, 0.70, "male"))


def test_zone_sum() -> None:
    """Edwards 1993 (from memory): minutes in 50–60 … 90–100 % of maximum × 1 … 5. Ten minutes in each: 150."""
    shares = np.repeat([0.45, 0.55, 0.65, 0.75, 0.85, 0.95], 600)
    assert zone_sum(shares) == pytest.approx(10 * (1 + 2 + 3 + 4 + 5))


def test_session_effort() -> None:
    """Foster 2001 (from memory): rating × minutes. 7 × 50 = 350."""
    assert session_effort(7, 50) == 350
