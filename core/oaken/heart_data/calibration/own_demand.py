"""A recording that carries its own demand: power, or speed and grade on foot, by the metabolic equations; how well a
heart fitted to its first part forecasts the rest."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
from pydantic import BaseModel, ConfigDict

from oaken.basis.words import in_kg
from oaken.domain.people import Person
from oaken.heart_data.calibration.fit import calibrate
from oaken.heart_data.calibration.recorded_path import EVERY_S, RecordedPath, averaged
from oaken.heart_data.recordings import HeartSeries, cleaned
from oaken.heart_data.recordings.series import faulty
from oaken.physiology.body import LEAST_ERROR_BPM, NINE_IN_TEN, body_of
from oaken.physiology.heart_rate import COOL, LEAST_UPTAKE, Floats, HeartProfile, Stretches
from oaken.physiology.metabolic import leg_cycling_uptake, running_uptake, walking_uptake

COASTING_MET = 1.5
"""Sitting on a wheel that rolls: no pedalling, no power (common practice, no source)."""

WALKS_BELOW, RUNS_FROM = 100.0, 134.0
"""Speeds on foot in m/min: to the first the walking equation was made, from the second the running one (ACSM, from
memory); between them people do either, and the demand goes from one to the other in a straight line."""

STEEPEST = 0.30
"""The grade above which altitudes of a satellite are noise. Downhill counts as level: the equations were made for level
ground and uphill."""

SMOOTH_S = 30.0
"""Speed and grade of a satellite are means over so many seconds."""

LEAST_WITH_POWER = 0.5
"""The share of readings that carry power, or speed, before it counts as the demand."""

LEAST_PART_MIN = 10.0
MOST_UPTAKE = 85.0
ABOVE_SEEN_BPM = 5
"""Nobody's maximum is known to be lower than the highest rate that was seen, and this more."""


class Judged(BaseModel):
    """How well one way of telling the rate met the part that was not seen: mean error, bias (told − recorded), and the
    share of readings within the range that it states (None: it states none)."""

    name: str
    error_bpm: float
    bias_bpm: float
    held_percent: float | None
    range_bpm: float | None


class HeartTold(BaseModel):
    """A recording's heart: where its demand comes from, the body that was taken, how much was seen, the fitted
    constants (None where one of them went to its bound), and every way of telling the rest."""

    model_config = ConfigDict(json_schema_serialization_defaults_required=True)

    demand: str
    body: str
    seen_min: float
    unseen_min: float
    level_bpm: float | None
    gain: float | None
    rise_s: float | None
    fall_s: float | None
    fit: str
    judged: list[Judged]
    notes: list[str]


def own_demand(series: HeartSeries, body_mass_kg: float) -> tuple[RecordedPath, str]:
    """A recording over the demand that it carries itself, and in words where that comes from. Raises FaultyInput where
    it carries none."""
    clean = cleaned(series)
    every = np.arange(0.0, series.length_s, EVERY_S)
    if every.size < 2:
        raise faulty("is shorter than ten seconds", f"at least {2 * LEAST_PART_MIN:.0f} min")
    power = _channel(series, "power_w")
    if power is not None:
        watts = _means(series.seconds, power, every.size)
        met = np.array([leg_cycling_uptake(watt, body_mass_kg) / 3.5 if watt > 0 else COASTING_MET for watt in watts])
        words = "measured power, by the equation for leg cycling"
    else:
        met = _on_foot(series, every)
        words = "speed and grade on foot, by the equations for walking and running"
    seconds, bpm = averaged(clean.seconds, clean.bpm)
    stretches = Stretches.cut(every, every + EVERY_S)
    opening = float(bpm[:2].mean())
    return RecordedPath(stretches, met, np.zeros_like(met), COOL, seconds, bpm, clean.words, opening), words


def _channel(series: HeartSeries, name: str) -> Floats | None:
    """A channel that most readings carry and that is not nothing throughout; NaN counts as nothing."""
    values = series.channels.get(name)
    if values is None or np.isfinite(values).mean() < LEAST_WITH_POWER:
        return None
    found = np.nan_to_num(values, nan=0.0)
    return found if float(found.max()) > 0 else None


def _means(seconds: Floats, values: Floats, size: int) -> Floats:
    """Means over stretches of EVERY_S; where nothing was recorded, what was there before it."""
    into = np.minimum((seconds / EVERY_S).astype(np.int64), size - 1)
    counts = np.bincount(into, minlength=size)
    found = np.bincount(into, values, size) / np.maximum(counts, 1)
    there = np.maximum.accumulate(np.where(counts > 0, np.arange(size), 0))
    return np.asarray(found[there])


def _on_foot(series: HeartSeries, every: Floats) -> Floats:
    """MET by speed and grade, of people who walk and run."""
    if "cycl" in series.sport or "bik" in series.sport:
        raise faulty("is of cycling without power: speed alone does not tell its demand", "a recording with power")
    speed, distance = _channel(series, "speed_m_per_s"), _channel(series, "distance_m")
    if distance is not None:
        way = np.interp(np.append(every, every[-1] + EVERY_S), series.seconds, np.maximum.accumulate(distance))
        pace = np.diff(way) / EVERY_S
    elif speed is not None:
        pace = _means(series.seconds, speed, every.size)
    else:
        raise faulty("carries neither power nor speed", "power in W, or speed or distance on foot")
    pace = _smooth(pace) * 60
    _refuse_what_nobody_runs(pace)
    altitude = series.channels.get("altitude_m")
    grade = np.zeros_like(pace)
    if altitude is not None and np.isfinite(altitude).any():
        known = np.isfinite(altitude)
        height = _smooth(np.interp(every, series.seconds[known], altitude[known]))
        climb = np.gradient(height, EVERY_S) * 60
        grade = np.clip(np.where(pace > 20, climb / np.maximum(pace, 20), 0.0), 0.0, STEEPEST)
    runs = np.clip((pace - WALKS_BELOW) / (RUNS_FROM - WALKS_BELOW), 0.0, 1.0)
    uptake = [
        share * running_uptake(meters, slope) + (1 - share) * walking_uptake(meters, slope)
        for meters, slope, share in zip(pace, grade, runs, strict=True)
    ]
    return np.maximum(np.array(uptake) / 3.5, 1.0)


FASTEST_RUN_M_PER_MIN, FASTEST_OVER_S = 398.0, 300.0
"""Nobody runs faster for five minutes: the pace of the 5,000 m world record, 12:35 (from memory)."""


def _refuse_what_nobody_runs(pace: Floats) -> None:
    """Raises FaultyInput for a way that was not gone on foot, whatever the file calls it."""
    width = int(FASTEST_OVER_S / EVERY_S)
    if pace.size >= width:
        fastest = float(np.convolve(pace, np.ones(width) / width, "valid").max())
        if fastest > FASTEST_RUN_M_PER_MIN:
            message = f"goes {fastest * 0.06:.0f} km/h for five minutes: nobody runs that"
            raise faulty(message, "a way on foot, or a ride with power")


def _smooth(values: Floats) -> Floats:
    width = int(SMOOTH_S / EVERY_S) | 1
    padded = np.pad(values, width // 2, mode="edge")
    return np.convolve(padded, np.ones(width) / width, "valid")


NOBODY = Person(id="somebody", name="Somebody", age=40, body_mass_kg=75)
"""Whose body is taken where nobody says whose heart it is."""


def judge_heart(series: HeartSeries, person: Person | None, known_until: float) -> HeartTold:
    """Fit a heart to the first part of a recording, `known_until` of it, and judge it on the rest, beside the usual
    heart of that body and beside the mean of what was seen. None for `person` takes nobody's own body.

    Raises FaultyInput where the recording carries no demand, or a part is too short to fit or to judge.
    """
    body = "" if person is not None else "nobody's own: "
    person = person or NOBODY
    body += f"{person.age} years, {in_kg(person.body_mass_kg)}" + (f", {person.sex}" if person.sex else "")
    whole, words = own_demand(series, person.body_mass_kg)
    cut = int(whole.seconds.size * known_until)
    seen, unseen = _part(whole, slice(None, cut)), _part(whole, slice(cut, None))
    for name, part in (("part that is seen", seen), ("part that is not seen", unseen)):
        minutes = part.seconds.size * EVERY_S / 60
        if minutes < LEAST_PART_MIN:
            raise faulty(f"the {name} has {minutes:.0f} min of readings", f"at least {LEAST_PART_MIN:.0f} min")
    highest = int(np.ceil(seen.bpm.max())) + ABOVE_SEEN_BPM
    if highest > body_of(person).max_bpm.value:
        person = person.model_copy(update={"max_bpm": min(230, highest)})
        body += f"; maximum {person.max_bpm} bpm, {ABOVE_SEEN_BPM} above the highest that was seen"
    found = calibrate(person, [seen])
    if person.vo2max is None and "gain" in found.at_bounds:
        # the answer to the demand says that somebody else's uptake was taken
        uptake = (body_of(person).vo2max.value - 3.5) / found.fit.gain + 3.5
        person = person.model_copy(update={"vo2max": round(min(MOST_UPTAKE, max(LEAST_UPTAKE, uptake)), 1)})
        body += f"; maximal uptake {person.vo2max:g} mL/kg/min, as its answer to the demand says"
        found = calibrate(person, [seen])
    fitted = body_of(person.model_copy(update={"heart_fit": found.fit})).likely
    usual = body_of(person.model_copy(update={"heart_fit": None}))
    apart = NINE_IN_TEN * max(LEAST_ERROR_BPM, found.fit.error_bpm)
    # where a constant went to the end of what is possible, none of them says anything of this heart
    stuck = bool(found.at_bounds)
    told = [_judged("fitted heart", _rates(unseen, fitted) - unseen.bpm, apart)]
    miss = _rates(unseen, usual.likely) - unseen.bpm
    low, high = _rates(unseen, usual.slow), _rates(unseen, usual.fast)
    within = float(np.mean((unseen.bpm >= low) & (unseen.bpm <= high))) * 100
    told.append(_judged("usual heart", miss, None).model_copy(update={"held_percent": round(within, 1)}))
    told.append(_judged("constant", float(seen.bpm.mean()) - unseen.bpm, None))
    return HeartTold(
        demand=words,
        body=body,
        seen_min=round(seen.seconds.size * EVERY_S / 60, 1),
        unseen_min=round(unseen.seconds.size * EVERY_S / 60, 1),
        level_bpm=None if stuck else found.fit.level_bpm,
        gain=None if stuck else found.fit.gain,
        rise_s=None if stuck else found.fit.rise_s,
        fall_s=None if stuck else found.fit.fall_s,
        fit=found.why,
        judged=told,
        notes=whole.notes,
    )


def _part(whole: RecordedPath, which: slice) -> RecordedPath:
    return replace(whole, seconds=whole.seconds[which], bpm=whole.bpm[which])


def _rates(taken: RecordedPath, profile: HeartProfile) -> Floats:
    return taken.rates([profile])[0]


def _judged(name: str, miss: Floats, apart: float | None) -> Judged:
    return Judged(
        name=name,
        error_bpm=round(float(np.abs(miss).mean()), 1),
        bias_bpm=round(float(miss.mean()), 1),
        held_percent=None if apart is None else round(float(np.mean(np.abs(miss) <= apart)) * 100, 1),
        range_bpm=None if apart is None else round(apart, 1),
    )
