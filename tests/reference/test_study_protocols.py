"""The whole chain, plan to heart and energy, against what circuit studies report.

Circuit weight training runs at about 70–85 % of maximum heart rate at only about 40–55 % of maximal uptake (Wilmore
1978; Gettman & Pollock 1981 and later; windows from memory). The same constants must put slow heavy sets with
two-minute rests much lower, and put bodies of both sexes in their own windows: no constant serves only one
case. (The pressor term was sized by hand with the first window, for the man, in view; the woman and the heavy sets were
not used to choose anything.)
"""

from __future__ import annotations

from dataclasses import dataclass

import pytest
from making import circuit, class_file, group, person, sets
from oaken.forecast import forecast

# ten stations, large and small muscles mixed, as the studies had them
TEN = [
    "leg-press", "lying-leg-curl", "leg-extension", "hip-thrust", "hip-abduction",
    "standing-calf-raise", "cable-pull-through", "dead-bug", "goblet-squat", "hip-adduction",
]  # fmt: skip
FIT_MAN = person(1, age=28, body_mass_kg=77, sex="male", resting_bpm=60, bests_kg={})
FIT_WOMAN = person(1, age=28, body_mass_kg=58, sex="female", resting_bpm=65, bests_kg={})


@dataclass(frozen=True)
class Outcome:
    """What a protocol does to a body: kcal/min gross, share of maximum heart rate, share of maximal uptake."""

    kcal_per_min: float
    heart_share: float
    uptake_share: float


def outcome(body: dict[str, object], *blocks: dict[str, object]) -> Outcome:
    result = forecast(class_file(*blocks, people=[body]))
    (one,) = result.people
    minutes = result.length.value / 60
    kcal = one.figures.energy.value / minutes
    assert one.figures.heart_mean is not None
    uptake = kcal * 200 / float(str(body["body_mass_kg"]))
    return Outcome(kcal, one.figures.heart_mean.value / one.max_bpm.value, uptake / one.vo2max.value)


def classic() -> dict[str, object]:
    """10 stations, 30 s work, 15 s change, 3 rounds, about 40 % of best."""
    block = circuit(TEN, rounds=3)
    for station in block["stations"]:
        if station["exercise"] != "dead-bug":
            station["load"] = {"share_of_best": 0.4}
    return block


def heavy_and_slow() -> dict[str, object]:
    """4 × 6 slow repetitions at 80 % of best on four machines, two minutes of rest after every set."""
    slot = {"reps": 6, "tempo": [3, 0, 2, 0], "load": {"share_of_best": 0.8}}
    names = ("leg-press", "lying-leg-curl", "hip-thrust", "leg-extension")
    return sets(*(group(4, 120, {"exercise": name, **slot}) for name in names))


@pytest.mark.parametrize(
    ("body", "low", "high"), [(FIT_MAN, 7, 10), (FIT_WOMAN, 5, 7)], ids=["man of 77 kg", "woman of 58 kg"]
)
def test_the_classic_circuit_comes_out_in_its_window(body: dict[str, object], low: float, high: float) -> None:
    found = outcome(body, classic())
    assert low <= found.kcal_per_min <= high
    assert 0.70 <= found.heart_share <= 0.85
    assert 0.40 <= found.uptake_share <= 0.55


SEVEN = {
    "young": person(1, age=16, body_mass_kg=60, sex="male", bests_kg={}),
    "old man": person(1, age=68, body_mass_kg=80, sex="male", bests_kg={}),
    "old woman": person(1, age=65, body_mass_kg=70, sex="female", bests_kg={}),
    "light": person(1, age=22, body_mass_kg=48, sex="female", bests_kg={}),
    "heavy": person(1, age=40, body_mass_kg=115, sex="male", bests_kg={}),
    "fit": person(1, age=30, body_mass_kg=70, sex="male", vo2max=60, bests_kg={}),
    "unfit": person(1, age=45, body_mass_kg=80, sex="female", vo2max=25, bests_kg={}),
}


def test_the_same_share_of_best_workloads_seven_bodies_alike() -> None:
    """The window of the circuit studies is one of shares, in men and women alike (Wilmore 1978, from memory), and the
    rule (`own_lifting_factor`) says just that: the same share of one's own uptake. A milder one, by the root of the
    uptakes, was seen first and left the young and the fit at 66–69 %: five of seven."""
    shares = {name: outcome(body, classic()).heart_share for name, body in SEVEN.items()}
    assert sum(0.70 <= share <= 0.85 for share in shares.values()) >= 6, shares
    assert max(shares.values()) - min(shares.values()) < 0.12


@pytest.mark.parametrize("body", [FIT_MAN, FIT_WOMAN], ids=["man of 77 kg", "woman of 58 kg"])
def test_heavy_sets_with_long_rests_come_out_much_lower(body: dict[str, object]) -> None:
    fast, heavy = outcome(body, classic()), outcome(body, heavy_and_slow())
    assert heavy.kcal_per_min < 0.7 * fast.kcal_per_min
    assert heavy.heart_share < fast.heart_share - 0.08
    assert heavy.uptake_share < 0.35


SETTLED_S = 1200
"""What is carried over settles in some ten minutes."""


def test_the_heart_runs_above_the_oxygen_cost_in_lifting_and_not_on_the_bike() -> None:
    """Lifting: percent of heart-rate reserve well above percent of uptake reserve. Rhythmic work: the two agree once
    settled (Swain & Leutholtz 1997)."""

    def gap(block: dict[str, object]) -> float:
        (one,) = forecast(class_file(block, people=[FIT_MAN])).people
        last = one.bpm[-2]
        heart = (last - one.rest_bpm.value) / (one.max_bpm.value - one.rest_bpm.value)
        uptake = one.figures.energy.value / (SETTLED_S / 60) * 200 / 77
        return heart - (uptake - 3.5) / (one.vo2max.value - 3.5)

    steady_bike = circuit(["bike"], work_s=SETTLED_S)
    steady_press = circuit(["leg-extension"], work_s=SETTLED_S)
    steady_press["stations"][0]["load"] = {"share_of_best": 0.3}
    assert gap(steady_bike) == pytest.approx(0, abs=0.03)
    assert gap(steady_press) > 0.1


def test_energy_by_heart_rate_is_an_upper_and_by_lifting_a_lower_estimate() -> None:
    figures = forecast(class_file(classic(), people=[{**FIT_MAN, "bests_kg": {name: 100 for name in TEN}}])).figures
    assert figures.energy_by_heart_rate is not None
    assert figures.energy_by_lifting.value < figures.energy.value < figures.energy_by_heart_rate.value


def test_after_the_class_is_shown_apart() -> None:
    """LaForgia et al. 2006 (from memory): 6–15 % of the net cost, never in the headline."""
    figures = forecast(class_file(classic(), people=[FIT_MAN])).figures
    assert figures.after_class.value == pytest.approx(0.105 * figures.energy_net.value, rel=0.01)
    assert figures.energy.value - figures.energy_net.value == pytest.approx(77 * 3.5 / 200 * 1335 / 60, rel=0.01)
