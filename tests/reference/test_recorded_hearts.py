"""Real recordings: a heart fitted to the first part, judged on the rest.

Where they come from: `tests/recordings/README.md`. The bounds are the goals for recordings that nobody has looked at,
3.5 bpm with measured power and 8 on foot by satellite; these ones were looked at.
"""

from __future__ import annotations

import json
from functools import cache
from pathlib import Path

import pytest
from oaken.__main__ import main
from oaken.basis.faults import FaultyInput
from oaken.heart_data.calibration import HeartTold, judge_heart, own_demand
from oaken.heart_data.recordings import HeartSeries, read_recording

FOLDER = Path(__file__).parents[1] / "recordings"


@cache
def told(name: str, known_until: float) -> HeartTold:
    """What is told of a recording whose first part is known: worked out once for all who ask, it takes seconds."""
    return judge_heart(read_recording((FOLDER / f"{name}.csv").read_bytes()), None, known_until)


@pytest.mark.parametrize(
    ("name", "known_until", "goal_bpm"),
    [("indoor-ride", 0.5, 3.5), ("indoor-ride", 0.35, 3.5), ("road-ride", 0.5, 3.5), ("walk-and-run", 0.5, 8.0)],
)
def test_the_unseen_part_is_forecast_better_than_by_anything_simpler(
    name: str, known_until: float, goal_bpm: float
) -> None:
    fitted, usual, constant = told(name, known_until).judged
    assert [item.name for item in (fitted, usual, constant)] == ["fitted heart", "usual heart", "constant"]
    assert fitted.error_bpm <= goal_bpm
    assert fitted.error_bpm < 0.7 * constant.error_bpm
    assert fitted.error_bpm < usual.error_bpm


@pytest.mark.parametrize("known_until", [0.35, 0.5, 0.65])
@pytest.mark.parametrize("name", ["indoor-ride", "road-ride"])
def test_nine_in_ten_unseen_readings_lie_in_the_range_of_the_fit(name: str, known_until: float) -> None:
    """One recording may be ten off; all together five."""
    held = told(name, known_until).judged[0].held_percent
    assert held is not None
    assert 80 <= held <= 100


def test_all_together_hold_nine_in_ten() -> None:
    held = [
        told(name, share).judged[0].held_percent for name in ("indoor-ride", "road-ride") for share in (0.35, 0.5, 0.65)
    ]
    assert 85 <= sum(item or 0 for item in held) / len(held) <= 95


def test_power_gives_its_demand_by_the_equation() -> None:
    """ACSM leg cycling (from memory): 10.8 × 200 W ÷ 75 kg + 7 = 35.8 mL/kg/min = 10.2 MET."""
    seconds = [float(item) for item in range(120)]
    power = [200.0] * 60 + [0.0] * 60
    taken, words = own_demand(HeartSeries.of(seconds, [120.0] * 120, None, "CSV", {"power_w": power}), 75)
    assert "measured power" in words
    assert taken.met[0] == pytest.approx(35.8 / 3.5, abs=0.01)
    assert taken.met[-1] == 1.5
    assert not taken.pressor.any()


def test_speed_and_grade_give_it_on_foot() -> None:
    """Walking 80 m/min at 5 %: 0.1·80 + 1.8·80·0.05 + 3.5 = 18.7; running 180 m/min: 0.2·180 + 3.5 = 39.5 (ACSM)."""
    seconds = [float(item) for item in range(600)]
    for speed, grade, uptake in ((80 / 60, 0.05, 18.7), (3.0, 0.0, 39.5), (3.0, -0.05, 39.5)):
        channels = {"distance_m": [speed * s for s in seconds], "altitude_m": [speed * grade * s for s in seconds]}
        taken, words = own_demand(HeartSeries.of(seconds, [120.0] * 600, None, "TCX", channels, "Running"), 75)
        assert "on foot" in words
        assert taken.met[60] == pytest.approx(uptake / 3.5, rel=0.01)


@pytest.mark.parametrize(
    ("channels", "sport", "why"),
    [
        ({}, "", "neither power nor speed"),
        ({"speed_m_per_s": [8.0] * 3000}, "Biking", "cycling without power"),
        ({"power_w": [0.0] * 3000}, "cycling", "cycling without power"),
    ],
)
def test_a_recording_without_a_demand_says_what_is_missing(
    channels: dict[str, list[float]], sport: str, why: str
) -> None:
    seconds = [float(item) for item in range(3000)]
    series = HeartSeries.of(seconds, [100.0 + item % 40 for item in range(3000)], None, "CSV", channels, sport)
    with pytest.raises(FaultyInput, match=why):
        judge_heart(series, None, 0.5)


def test_a_part_that_is_too_short_is_said() -> None:
    with pytest.raises(FaultyInput, match="part that is seen has 9 min"):
        told("short-ride", 0.5)


def test_the_command_line_tells_it_as_text_and_as_json(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    ride = str(FOLDER / "indoor-ride.csv")
    assert main(["heart", ride]) == 0
    text = capsys.readouterr().out
    assert "seen: 67 min, judged on the 67 min after it" in text
    assert "fitted heart" in text
    body = tmp_path / "body.json"
    body.write_text(json.dumps({"age": 35, "body_mass_kg": 70, "sex": "male", "max_bpm": 188}))
    assert main(["heart", ride, "--body", str(body), "--known-until", "0.65", "--json"]) == 0
    found = json.loads(capsys.readouterr().out)
    assert found["body"] == "35 years, 70 kg, male"
    assert {item["name"] for item in found["judged"]} == {"fitted heart", "usual heart", "constant"}


@pytest.mark.parametrize(
    ("body", "why"),
    [("{", "is not JSON"), ('{"age": 5, "body_mass_kg": 70}', "age"), ("[]", "valid")],
)
def test_a_body_that_cannot_be_read_is_said(
    body: str, why: str, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    path = tmp_path / "body.json"
    path.write_text(body)
    assert main(["heart", str(FOLDER / "indoor-ride.csv"), "--body", str(path)]) == 2
    said = capsys.readouterr().err
    assert why in said
    assert "body.json" in said
    assert main(["heart", str(tmp_path / "nothing.fit")]) == 2
    assert "cannot be read" in capsys.readouterr().err
