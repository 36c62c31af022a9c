"""What a simulated belt records of a person in a class: a stand-in for a real belt on a real heart."""

from __future__ import annotations

from collections.abc import Iterator
from datetime import datetime

import numpy as np

from oaken.heart_data.calibration.recorded_path import recorded_path
from oaken.heart_data.recordings import HeartSeries
from oaken.heart_data.recordings.belts import Belt, BeltHeart, series_of
from oaken.physiology.body import body_of
from oaken.schedule.class_file import ClassFile
from oaken.schedule.timeline import Timeline

LATE_S = 150.0
"""How long after the start some put their belt on, as happens."""


def recorded_by_belt(
    file: ClassFile, person: str, seed: int, start: datetime | None = None, timeline: Timeline | None = None
) -> tuple[HeartSeries, float]:
    """What a simulated belt records of a class, and when it was put on, in seconds since the class began: one person in
    five is late with it."""
    late_s = LATE_S if sum(map(ord, person)) % 5 == 0 else 0.0
    return belt_of(file, person, Belt(on_from_s=round(late_s)), seed, start, timeline), late_s


def belt_of(
    file: ClassFile, person: str, belt: Belt, seed: int, start: datetime | None = None, timeline: Timeline | None = None
) -> HeartSeries:
    """The recording of one class: what the belt's packets say."""
    return series_of(packets_of(file, person, belt, seed, timeline), start)


def packets_of(
    file: ClassFile, person: str, belt: Belt, seed: int, timeline: Timeline | None = None
) -> Iterator[tuple[int, bytes]]:
    """The packets of one class with the seconds at which they are sent. The same person and seed always give the same;
    who a heart belongs to decides how far it is from the usual, so that several classes of one person have one heart.

    Raises FaultyInput where the person is not in the class.
    """
    own = np.random.default_rng(sum(map(ord, person)))
    who = next((each_person for each_person in file.people if each_person.id == person), None)
    nothing = HeartSeries.of([0.0], [80.0], None, "belt")
    taken = recorded_path(file, person, nothing, 0.0, timeline)
    assert who is not None
    usual = body_of(who.model_copy(update={"heart_fit": None})).likely
    heart = BeltHeart(
        rest_bpm=usual.rest_bpm + own.normal(3, 4) + taken.warmth.at_once_bpm,
        max_bpm=usual.max_bpm + own.normal(0, 5),
        answer=float(np.clip(own.normal(0.95, 0.12), 0.7, 1.25)),
        slow_up_s=float(np.clip(own.normal(60, 15), 30, 110)),
        slow_down_s=float(np.clip(own.normal(115, 25), 60, 200)),
        tiring_per_hour=taken.warmth.drift_per_hour * 1.2,
    )
    seconds = np.arange(0.0, float((taken.stretches.start_s + taken.stretches.duration_s).max()))
    step = taken.stretches.step[np.searchsorted(taken.stretches.start_s, seconds, "right") - 1]
    chance = np.random.default_rng([seed, sum(map(ord, person))])
    rates = heart.rates(taken.demand(usual.vo2max)[step] * chance.normal(1.0, 0.03), chance)
    return belt.packets(rates, chance)
