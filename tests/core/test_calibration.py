"""Calibration: known constants come back, unseen classes are forecast, other hearts than ours too, nothing is forced."""

from __future__ import annotations

from dataclasses import replace
from itertools import pairwise
from pathlib import Path

import numpy as np
import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from oaken.basis.faults import FaultyInput
from oaken.domain.people import HeartFit, Person
from oaken.forecast import forecast
from oaken.forecast.report import HEART_FIGURES
from oaken.forecast.workload import carry_out
from oaken.heart_data.calibration import RecordedPath, calibrate, compared, recorded_path
from oaken.heart_data.recordings import HeartSeries
from oaken.heart_data.recordings.belts import Belt, BeltHeart, series_of
from oaken.physiology.body import body_of
from oaken.physiology.heart_rate import Floats, HeartProfile
from oaken.physiology.intensity import RESERVE_LIMITS
from oaken.schedule.class_file import ClassFile
from oaken.schedule.class_file.reading import load_class
from oaken.schedule.timeline import Doing, Step, Timeline

EXAMPLES = Path(__file__).parents[2] / "examples"
CARRY, PAIRS = (load_class(EXAMPLES / f"{name}.json") for name in ("long-carry", "machine-pairs"))
PEOPLE = {person.id: person for person in PAIRS.people}


def path_of(file: ClassFile, who: str) -> tuple[RecordedPath, Floats]:
    """The path of a person with nothing recorded, and every second of it."""
    taken = recorded_path(file, who, HeartSeries.of([0.0, 1.0], [80.0, 80.0], None, "CSV"), 0.0)
    return taken, np.arange(0.0, float((taken.stretches.start_s + taken.stretches.duration_s).max()))


def recorded(file: ClassFile, who: str, heart: HeartProfile, seed: int) -> HeartSeries:
    """A heart of our own kind, with the noise of a body (2 bpm, slow) and of a belt (1 bpm, quick)."""
    taken, seconds = path_of(file, who)
    chance = np.random.default_rng(seed)
    slow = np.zeros(seconds.size)
    stay = np.exp(-1 / 15)
    for at in range(1, seconds.size):
        slow[at] = stay * slow[at - 1] + np.sqrt(1 - stay**2) * chance.normal()
    bpm = taken.rates([heart], seconds)[0] + 2 * slow + chance.normal(0, 1, seconds.size)
    return HeartSeries.of(seconds.tolist(), np.round(bpm).tolist(), None, "CSV")


def belted(file: ClassFile, who: str, heart: BeltHeart, belt: Belt, seed: int) -> HeartSeries:
    """A heart of another kind, through the packets of a simulated belt."""
    taken, seconds = path_of(file, who)
    chance = np.random.default_rng(seed)
    step = taken.stretches.step[np.searchsorted(taken.stretches.start_s, seconds, "right") - 1]
    demand = taken.demand(body_of(PEOPLE[who]).likely.vo2max)[step]
    return series_of(belt.packets(heart.rates(demand, chance), chance), None)


def with_fit(person: Person, fit: HeartFit) -> HeartProfile:
    return body_of(person.model_copy(update={"heart_fit": fit})).likely


HEARTS = [
    {"level_bpm": 6.0, "gain": 0.85, "rise_s": 1.4, "fall_s": 0.8},
    {"level_bpm": -4.0, "gain": 1.2, "rise_s": 0.8, "fall_s": 1.5},
    {"level_bpm": 8.0, "gain": 1.05, "rise_s": 1.25, "fall_s": 1.2},
]


@pytest.mark.parametrize("known", HEARTS)
@pytest.mark.parametrize("who", ["marit", "tobin", "ines"])
def test_known_constants_come_back_and_an_unseen_class_is_forecast(who: str, known: dict[str, float]) -> None:
    usual = body_of(PEOPLE[who]).likely
    true = replace(
        usual,
        level_bpm=usual.rest_bpm + known["level_bpm"],
        gain=known["gain"],
        rise_s=usual.rise_s * known["rise_s"],
        fall_s=usual.fall_s * known["fall_s"],
    )
    found = calibrate(PEOPLE[who], [recorded_path(CARRY, who, recorded(CARRY, who, true, 1), 0.0)])
    assert found.better
    for name in ("level_bpm", "gain", "rise_s", "fall_s"):
        assert getattr(found.fit, name) == pytest.approx(getattr(true, name), rel=0.10), name
    unseen = recorded_path(PAIRS, who, recorded(PAIRS, who, true, 2), 0.0)
    told = compared(unseen, with_fit(PEOPLE[who], found.fit))
    assert told.error_bpm < 5
    assert told.error_bpm < compared(unseen, usual).error_bpm


@pytest.mark.parametrize(("answer", "slow_up_s"), [(0.85, 80.0), (1.0, 55.0), (1.2, 40.0)])
@pytest.mark.parametrize("who", ["marit", "davin", "noor"])
def test_a_heart_of_another_make_is_forecast_better_than_without(who: str, answer: float, slow_up_s: float) -> None:
    """A late belt with dropouts and spikes, in one class; the other class is not seen."""
    usual = body_of(PEOPLE[who]).likely
    heart = BeltHeart(usual.rest_bpm + 5, usual.max_bpm - 6, answer, slow_up_s)
    late = belted(CARRY, who, heart, Belt(on_from_s=240, losses_per_hour=8, spikes_per_hour=8), 1)
    taken = recorded_path(CARRY, who, late, 240.0)
    assert any("put on after 4.0 min" in note for note in taken.notes)
    found = calibrate(PEOPLE[who], [taken])
    unseen = recorded_path(PAIRS, who, belted(PAIRS, who, heart, Belt(), 2), 0.0)
    assert found.better
    assert compared(unseen, with_fit(PEOPLE[who], found.fit)).error_bpm < compared(unseen, usual).error_bpm


def simple(file: ClassFile, who: str, chance: np.random.Generator) -> HeartSeries:
    """A third make: one lag up and one down, an answer that bends, and a rise by the clock alone."""
    taken, seconds = path_of(file, who)
    usual = body_of(PEOPLE[who]).likely
    step = taken.stretches.step[np.searchsorted(taken.stretches.start_s, seconds, "right") - 1]
    aims = np.clip(taken.demand(usual.vo2max)[step], 0, 1) ** 0.9 * (usual.max_bpm - usual.rest_bpm)
    now, bpm = 0.0, []
    for second, aim in enumerate(aims.tolist()):
        now += (aim - now) / (40.0 if aim > now else 75.0)
        bpm.append(usual.rest_bpm + 4 + now * (1 + 0.08 * second / 3600) + chance.normal(0, 2))
    return HeartSeries.of(seconds.tolist(), bpm, None, "CSV")


@settings(max_examples=24, deadline=None, suppress_health_check=[HealthCheck.too_slow])
@given(
    st.sampled_from(["own", "two parts", "simple"]),
    st.sampled_from(["marit", "tobin", "ines", "davin", "noor"]),
    st.floats(0.85, 1.2),
    st.floats(0.7, 1.4),
    st.integers(0, 1000),
)
def test_a_fit_never_makes_an_unseen_class_much_worse(
    make: str, who: str, answer: float, slow: float, seed: int
) -> None:
    """On hearts of three makes, ours and two that know nothing of our model: at most a tenth worse than the usual."""
    usual = body_of(PEOPLE[who]).likely
    chance = np.random.default_rng(seed)

    def series(file: ClassFile, number: int) -> HeartSeries:
        if make == "own":
            true = replace(usual, gain=answer, rise_s=usual.rise_s * slow, level_bpm=usual.rest_bpm + 6 * slow)
            return recorded(file, who, true, seed + number)
        if make == "two parts":
            heart = BeltHeart(usual.rest_bpm + 5, usual.max_bpm - 6, answer, 55 * slow)
            return belted(file, who, heart, Belt(), seed + number)
        return simple(file, who, chance)

    found = calibrate(PEOPLE[who], [recorded_path(CARRY, who, series(CARRY, 1), 0.0)])
    used = with_fit(PEOPLE[who], found.fit) if found.better else usual
    unseen = recorded_path(PAIRS, who, series(PAIRS, 2), 0.0)
    assert compared(unseen, used).error_bpm <= 1.1 * compared(unseen, usual).error_bpm


def test_a_recording_without_a_clock_is_laid_where_it_fits() -> None:
    heart = body_of(PEOPLE["tobin"]).likely
    series = recorded(CARRY, "tobin", heart, 4)
    later = HeartSeries.of(series.seconds[300:].tolist(), series.bpm[300:].tolist(), None, "CSV")
    taken = recorded_path(CARRY, "tobin", later, None)
    assert taken.seconds[0] == pytest.approx(300, abs=15)
    assert "where it fits best" in taken.notes[0]


def test_two_classes_leave_the_last_one_unseen() -> None:
    usual = body_of(PEOPLE["tobin"]).likely
    true = replace(usual, gain=1.15, level_bpm=usual.rest_bpm + 5)
    taken = [
        recorded_path(file, "tobin", recorded(file, "tobin", true, seed), 0.0)
        for seed, file in enumerate((CARRY, PAIRS))
    ]
    found = calibrate(PEOPLE["tobin"], taken)
    assert found.fit.classes == 2
    assert "an unseen class" in found.why
    assert found.fit.error_bpm < found.fit.uncalibrated_error_bpm
    # the first alone forecasts the second just as well as the fit says
    alone = calibrate(PEOPLE["tobin"], taken[:1]).fit
    miss = taken[1].rates([with_fit(PEOPLE["tobin"], alone)])[0] - taken[1].bpm
    assert np.abs(miss).mean() == pytest.approx(found.fit.error_bpm, abs=0.1)
    assert miss.mean() == pytest.approx(found.fit.bias_bpm, abs=0.1)


def test_noise_is_not_taken_for_a_heart_of_its_own() -> None:
    """Eleven noisy minutes of the usual heart: what is fitted stays near the usual, and the last class says how near."""
    usual = body_of(PEOPLE["tobin"]).likely
    clean = recorded(CARRY, "tobin", usual, 1)
    for seed in range(5):
        noise = np.random.default_rng(seed).normal(0, 9, 660)
        noisy = HeartSeries.of(clean.seconds[:660].tolist(), (clean.bpm[:660] + noise).tolist(), None, "CSV")
        fit = calibrate(PEOPLE["tobin"], [recorded_path(CARRY, "tobin", noisy, 0.0)]).fit
        assert fit.gain == pytest.approx(1, abs=0.15)
        assert fit.rise_s == pytest.approx(usual.rise_s, rel=0.4)
        assert fit.fall_s == pytest.approx(usual.fall_s, rel=0.4)


def test_what_has_nothing_to_do_with_the_class_is_not_used() -> None:
    """A heart that goes its own way: the fit forecasts the unseen part no better, and says so."""
    _, seconds = path_of(CARRY, "tobin")
    chance = np.random.default_rng(0)
    own_way = (
        110 + 25 * np.sign(np.sin(seconds / 300)) * (seconds < 0.65 * seconds[-1]) + chance.normal(0, 3, seconds.size)
    )
    swapped = np.where(seconds < 0.65 * seconds[-1], own_way + 40, 95 + chance.normal(0, 3, seconds.size))
    taken = recorded_path(CARRY, "tobin", HeartSeries.of(seconds.tolist(), swapped.tolist(), None, "CSV"), 0.0)
    found = calibrate(PEOPLE["tobin"], [taken])
    assert not found.better
    assert found.fit.error_bpm > found.fit.uncalibrated_error_bpm


@pytest.mark.parametrize(
    ("who", "seconds", "bpm", "offset", "says"),
    [
        ("tobin", range(300), lambda s: 100 + 20 * np.sin(s / 30), 0.0, "too few"),
        ("tobin", range(2000), lambda s: 120.0, 0.0, "hardly changes"),
        ("petra", range(2000), lambda s: 100 + 20 * np.sin(s / 30), 0.0, "heart medication"),
        ("tobin", range(2000), lambda s: 100.0, 90_000.0, "does not overlap"),
        ("nobody", range(2000), lambda s: 100.0, 0.0, "not among the people"),
    ],
)
def test_what_cannot_be_fitted_says_why(who: str, seconds: range, bpm: object, offset: float, says: str) -> None:
    series = HeartSeries.of([float(s) for s in seconds], [bpm(s) for s in seconds], None, "CSV")  # type: ignore[operator]
    with pytest.raises(FaultyInput, match=says):
        calibrate(PEOPLE.get(who, PEOPLE["tobin"]), [recorded_path(PAIRS, who, series, offset)])


def test_the_next_forecast_uses_the_fit_and_its_range_is_narrower() -> None:
    usual = body_of(PEOPLE["tobin"]).likely
    true = replace(usual, gain=0.85)
    fit = calibrate(PEOPLE["tobin"], [recorded_path(CARRY, "tobin", recorded(CARRY, "tobin", true, 1), 0.0)]).fit
    before = forecast(PAIRS)
    people = [
        person.model_copy(update={"heart_fit": fit}) if person.id == "tobin" else person for person in PAIRS.people
    ]
    after = forecast(PAIRS.model_copy(update={"people": people}))
    was, now = (next(person for person in told.people if person.id == "tobin") for told in (before, after))
    assert was.fitted is None
    assert now.fitted == fit
    assert now.figures.heart_mean is not None
    assert was.figures.heart_mean is not None
    assert now.figures.heart_mean.value < was.figures.heart_mean.value - 3
    spreads = [
        item.figures.heart_mean.high - item.figures.heart_mean.low for item in (was, now) if item.figures.heart_mean
    ]
    assert spreads[1] < spreads[0]
    assert any("from recordings" in given for given in now.figures.heart_mean.inputs)
    # with other body data it no longer holds
    older = next(person for person in people if person.id == "tobin").model_copy(update={"age": 60})
    assert not body_of(older).fitted
    assert body_of(older).likely.gain == 1.0


@pytest.mark.parametrize("who", ["marit", "tobin", "ines", "davin"])
def test_calibrating_on_what_the_usual_heart_did_changes_no_figure(who: str) -> None:
    """The fit of a recording that needed no fit: whatever is told of this person stays as it was."""
    taken, seconds = path_of(CARRY, who)
    usual = body_of(PEOPLE[who]).likely
    series = HeartSeries.of(seconds.tolist(), taken.rates([usual], seconds)[0].tolist(), None, "CSV")
    fit = calibrate(PEOPLE[who], [recorded_path(CARRY, who, series, 0.0)]).fit
    people = [person.model_copy(update={"heart_fit": fit}) if person.id == who else person for person in PAIRS.people]
    before, after = (
        next(person for person in forecast(file).people if person.id == who)
        for file in (PAIRS, PAIRS.model_copy(update={"people": people}))
    )
    assert after.fitted == fit
    assert after.rest_bpm == before.rest_bpm
    assert np.allclose(after.bpm, before.bpm, atol=0.6)
    assert after.targets == before.targets
    for name in HEART_FIGURES:
        was, now = (getattr(item.figures, name) for item in (before, after))
        # the fit is kept with three digits, the classes are told in minutes of 5 s
        assert now.value == pytest.approx(was.value, rel=0.01, abs=0.35), name


def test_the_level_in_class_is_no_resting_rate() -> None:
    """A heart that never settles below 108 bpm among people: shares of the reserve, classes, targets and the curve's
    start are still counted from the person's own 58."""
    tobin = PEOPLE["tobin"].model_copy(update={"resting_bpm": 58, "max_bpm": 190})
    usual = body_of(tobin).likely
    true = replace(usual, level_bpm=108.0, gain=0.7)
    file = CARRY.model_copy(update={"people": [tobin if person.id == "tobin" else person for person in CARRY.people]})
    fit = calibrate(tobin, [recorded_path(file, "tobin", recorded(file, "tobin", true, 3), 0.0)]).fit
    assert fit.level_bpm == pytest.approx(108, abs=6)
    known = tobin.model_copy(update={"heart_fit": fit})
    body = body_of(known)
    assert (body.rest_bpm.value, body.likely.rest_bpm) == (58, 58)
    people = [known if person.id == "tobin" else person for person in PAIRS.people]
    told = next(
        person for person in forecast(PAIRS.model_copy(update={"people": people})).people if person.id == "tobin"
    )
    assert told.bpm[0] == pytest.approx(58, abs=1)
    assert min(told.bpm[20:]) > 95
    share = (np.array(told.bpm) - 58) / (190 - 58)
    moderate = np.count_nonzero(share >= 0.4) / share.size
    minutes = sum(told.minutes_by_class)
    assert sum(told.minutes_by_class[2:]) / minutes == pytest.approx(moderate, abs=0.02)
    for target in told.targets:
        limits = [round(58 + edge * (190 - 58)) for edge in (0.0, *RESERVE_LIMITS, 1.0)]
        assert (target.low, target.high) in list(pairwise(limits))


def test_a_fit_of_an_earlier_version_is_read() -> None:
    """What was called `rest_bpm` is the level in class; nothing else of the person changes."""
    older = {"rest_bpm": 104.0, "gain": 0.9, "rise_s": 40, "fall_s": 90, "max_bpm": 180, "vo2max": 45, "minutes": 30,
             "classes": 1, "error_bpm": 4, "bias_bpm": 0, "uncalibrated_error_bpm": 8}  # fmt: skip
    assert HeartFit.model_validate(older).level_bpm == 104
    with pytest.raises(ValueError, match="rest_bpm"):
        HeartFit.model_validate({**older, "level_bpm": 100})


def test_a_recording_lies_over_the_steps_that_were_lived() -> None:
    """Handed in as actual, the plan's own steps give the same path to the last digit; a class that began with five minutes
    of waiting gives its own."""
    planned = carry_out(PAIRS).timeline
    series = HeartSeries.of([0.0, 600.0, 1200.0], [90.0, 120.0, 130.0], None, "CSV")
    as_planned = recorded_path(PAIRS, "tobin", series, 0.0)
    same = Timeline.of_steps(planned.paths, planned.slots, planned.blocks)
    actual = recorded_path(PAIRS, "tobin", series, 0.0, same)
    assert np.array_equal(actual.met, as_planned.met)
    assert np.array_equal(actual.stretches.start_s, as_planned.stretches.start_s)
    late = [
        [
            Step(0, 300, Doing.REST, 0),
            *(replace(item, start_s=item.start_s + 300, end_s=item.end_s + 300) for item in path),
        ]
        for path in planned.paths
    ]
    spans = [replace(span, start_s=span.start_s + 300, end_s=span.end_s + 300) for span in planned.blocks]
    later = recorded_path(PAIRS, "tobin", series, 0.0, Timeline.of_steps(late, planned.slots, spans))
    at = np.searchsorted(later.stretches.start_s, [60.0, 400.0], "right") - 1
    assert later.met[later.stretches.step[at[0]]] < as_planned.met[as_planned.stretches.step[0]]
    (heart,) = later.rates([body_of(PEOPLE["tobin"]).likely], np.array([250.0]))
    (usual,) = as_planned.rates([body_of(PEOPLE["tobin"]).likely], np.array([250.0]))
    assert heart[0] < usual[0]


def test_a_fit_that_ends_at_a_bound_is_not_used() -> None:
    """A heart that hardly answers: its gain would have to be less than any heart's."""
    usual = body_of(PEOPLE["tobin"]).likely
    strange = recorded(CARRY, "tobin", replace(usual, gain=0.3), 1)
    found = calibrate(PEOPLE["tobin"], [recorded_path(CARRY, "tobin", strange, 0.0)])
    assert "gain" in found.at_bounds
    assert not found.better
    assert "gain went to the end of what is possible" in found.why


def test_a_recording_that_fits_nowhere_is_refused_instead_of_laid_somewhere() -> None:
    chance = np.random.default_rng(3)
    nonsense = 120 + 20 * np.sin(np.arange(3000) / 97) + chance.normal(0, 8, 3000)
    series = HeartSeries.of([float(item) for item in range(3000)], nonsense.round().tolist(), None, "CSV")
    with pytest.raises(FaultyInput, match="fits this class nowhere: a likeness of 0"):
        recorded_path(CARRY, "tobin", series, None)
