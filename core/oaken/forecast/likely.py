"""The likely figures of a class without ranges, curves or cautions: what is computed many times over."""

from __future__ import annotations

from collections.abc import Sequence

from oaken.basis.estimate import Estimate
from oaken.domain.people import Person
from oaken.forecast.figures import everybodys_figures
from oaken.forecast.report import Figures
from oaken.forecast.workload import CarriedOut, hearts_under
from oaken.physiology.body import body_of
from oaken.physiology.heart_rate import HeartProfile

EVERY_S = 10
"""Seconds between readings of a heart here."""


def likely_figures(
    carried: CarriedOut, people: Sequence[Person], hearts: Sequence[HeartProfile] | None = None
) -> list[Figures]:
    """Everybody's figures, likely values only; `hearts` stand for their own where they are given."""
    length_s = carried.timeline.length_s
    profiles = list(hearts) if hearts else [body_of(person, carried.warmth).likely for person in people]
    (found,) = hearts_under(carried.workload, people, [(profiles, EVERY_S)], length_s)
    length = Estimate.between(length_s, length_s, length_s, "s", "time.sum")
    waits = [(done.waiting_s, done.waiting_s) for done in carried.workload.done]
    return everybodys_figures(carried.workload, people, length, waits, (found, found, found), carried.heat)
