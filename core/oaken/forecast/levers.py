"""Which inputs move a figure most: each is set as low and as high as it may be, and the figure is computed anew.

What holds for everybody alike (what the work costs, how fast people are, the air) moves the mean of a class by as much
as it moves a person. What is somebody's own (maximum, resting rate, uptake, mass, what they can lift) is off for one to
this side and for another to that: the mean moves by the root of the sum of squares divided by the number of people.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import replace
from math import sqrt
from typing import NamedTuple

from pydantic import BaseModel

from oaken.basis.estimate import Estimate
from oaken.basis.faults import Fault, FaultyInput
from oaken.domain.people import Person
from oaken.forecast.likely import likely_figures
from oaken.forecast.report import Figures
from oaken.forecast.workload import CarriedOut, carry_out
from oaken.physiology.body import Body, body_of
from oaken.physiology.heart_rate import HeartProfile
from oaken.physiology.heat import Air
from oaken.schedule.class_file import ClassFile
from oaken.schedule.timeline import Outlook, blocks_at, timeline_at

SHOWN = 3
"""Inputs that are told, those that move the figure most."""

LEAST_SHARE = 0.05
"""An input that moves the figure less than this share of what the first one does is not told."""

MASS_KG = 1.5
"""Clothes, water and the scales (common practice, no source)."""

STRENGTH = 0.05
"""What somebody can lift, from day to day (common practice, no source)."""

WARMER_C = 2.0
"""The air of a room before a class is known to (common practice, no source)."""


class Lever(BaseModel):
    """An input, as it was taken and as low and as high as it may be, and what the figure would be then."""

    input: str
    taken: str
    low: str
    high: str
    at_low: float
    at_high: float

    @property
    def swing(self) -> float:
        """How far it moves the figure."""
        return abs(self.at_high - self.at_low)


class _Input(NamedTuple):
    """An input with the class at its low and at its high end; `own`: everybody's for themselves."""

    name: str
    words: Callable[[int | None], tuple[str, str, str]]
    low: Callable[[], list[Figures]]
    high: Callable[[], list[Figures]]
    own: bool = False


def levers_of(file: ClassFile, figure: str, person: str | None = None) -> list[Lever]:
    """The inputs that move a figure of a person (by id), or of the mean of the class, most.

    The file must have been checked. Raises FaultyInput where there is no such figure or person.
    """
    if figure not in Figures.model_fields:
        raise FaultyInput([_unknown("figure", figure)])
    ids = [participant.id for participant in file.participants]
    if person is not None and person not in ids:
        raise FaultyInput([_unknown("person", person)])
    who = None if person is None else ids.index(person)
    scene = _Scene(file)
    usual = _column(scene.values(), figure)
    found = []
    for each_input in scene.inputs():
        low, high = (_column(end(), figure) for end in (each_input.low, each_input.high))
        at_low, at_high = (_moved(usual, end, who, each_input.own) for end in (low, high))
        if at_low is None or at_high is None:
            continue
        taken, least, most = each_input.words(who)
        found.append(Lever(input=each_input.name, taken=taken, low=least, high=most, at_low=at_low, at_high=at_high))
    found.sort(key=lambda lever: -lever.swing)
    return [item for item in found[:SHOWN] if item.swing > max(1e-6, LEAST_SHARE * found[0].swing)]


def _column(figures: Sequence[Figures], name: str) -> list[float | None]:
    estimates: list[Estimate | None] = [getattr(figure, name) for figure in figures]
    return [None if estimate is None else estimate.value for estimate in estimates]


def _moved(usual: list[float | None], other: list[float | None], who: int | None, own: bool) -> float | None:
    """The figure of a person, or the mean of those who have it, with an input at another value."""
    if who is not None:
        return other[who] if usual[who] is not None else None
    pairs = [(a, b) for a, b in zip(usual, other, strict=True) if a is not None and b is not None]
    if not pairs:
        return None
    mean = sum(a for a, _ in pairs) / len(pairs)
    if not own:
        return sum(b for _, b in pairs) / len(pairs)
    signed = sum(b - a for a, b in pairs)
    return mean + (1 if signed >= 0 else -1) * sqrt(sum((b - a) ** 2 for a, b in pairs)) / len(pairs)


class _Scene:
    """A class whose figures can be computed again with one thing changed."""

    def __init__(self, file: ClassFile) -> None:
        self.file = file
        self.carried = carry_out(file)
        self.people = file.participants
        self.bodies = [body_of(person, self.carried.warmth) for person in self.people]

    def values(
        self,
        carried: CarriedOut | None = None,
        people: list[Person] | None = None,
        hearts: list[HeartProfile] | None = None,
    ) -> list[Figures]:
        """Everybody's figures, likely values only."""
        return likely_figures(carried or self.carried, people or self.people, hearts)

    def inputs(self) -> Iterator[_Input]:
        """Everything that may be otherwise than it was taken."""
        yield from self._alike()
        yield self._own("maximal heart rate", "bpm", lambda body: body.max_bpm, _with_maximum)
        yield self._own("resting heart rate", "bpm", lambda body: body.rest_bpm, _with_resting)
        yield self._own("VO₂max", "mL/kg/min", lambda body: body.vo2max, _with_uptake)
        masses = [
            Estimate.between(kg, kg - MASS_KG, kg + MASS_KG, "kg", "")
            for kg in (person.body_mass_kg for person in self.people)
        ]
        yield self._own("body mass", "kg", lambda body: masses[self.bodies.index(body)], _with_mass)
        if any(person.bests_kg for person in self.people):
            yield _Input(
                "what people can lift",
                lambda who: (
                    "their bests",
                    f"{STRENGTH:.0%} less".replace("%", " %"),
                    f"{STRENGTH:.0%} more".replace("%", " %"),
                ),
                lambda: self._others([_stronger(person, 1 - STRENGTH) for person in self.people]),
                lambda: self._others([_stronger(person, 1 + STRENGTH) for person in self.people]),
                own=True,
            )
        if any(body.fitted for body in self.bodies):
            yield _Input(
                "own heart from day to day",
                lambda who: ("as in the recordings", "slower", "faster"),
                lambda: self.values(hearts=[body.slow if body.fitted else body.likely for body in self.bodies]),
                lambda: self.values(hearts=[body.fast if body.fitted else body.likely for body in self.bodies]),
                own=True,
            )

    def _alike(self) -> Iterator[_Input]:
        yield _Input(
            "what the work costs",
            self._cost_words,
            lambda: self.values(self._costing(-1)),
            lambda: self.values(self._costing(1)),
        )
        yield _Input(
            "how fast people work and move",
            lambda who: ("as usual", "quickest", "slowest"),
            lambda: self.values(self._paced(Outlook.SHORTEST)),
            lambda: self.values(self._paced(Outlook.LONGEST)),
        )
        air = self.file.plan.air
        if air is not None:
            yield _Input(
                "temperature of the air",
                lambda who: (_celsius(air, 0.0), _celsius(air, -WARMER_C), _celsius(air, WARMER_C)),
                lambda: self.values(self._in_air(-WARMER_C)),
                lambda: self.values(self._in_air(WARMER_C)),
            )

    def _own(
        self, name: str, unit: str, of: Callable[[Body], Estimate], with_it: Callable[[Person, float], Person]
    ) -> _Input:
        """An input that everybody has for themselves, with its likely range."""

        def words(who: int | None) -> tuple[str, str, str]:
            if who is None:
                return "everybody's own", "low", "high"
            known = of(self.bodies[who])
            return f"{known.value:.0f} {unit}", f"{known.low:.0f} {unit}", f"{known.high:.0f} {unit}"

        def at(end: Callable[[Estimate], float]) -> list[Figures]:
            changed = [with_it(person, end(of(body))) for person, body in zip(self.people, self.bodies, strict=True)]
            return self._others(changed)

        return _Input(name, words, lambda: at(lambda item: item.low), lambda: at(lambda item: item.high), own=True)

    def _others(self, people: list[Person]) -> list[Figures]:
        changed = {person.id: person for person in people}
        file = self.file.model_copy(update={"people": [changed.get(person.id, person) for person in self.file.people]})
        return self.values(carry_out(file), people)

    def _costing(self, way: int) -> CarriedOut:
        workload = self.carried.workload
        met = workload.met * (1 + way * workload.spread)
        return replace(self.carried, workload=replace(workload, met=met))

    def _cost_words(self, who: int | None) -> tuple[str, str, str]:
        workload = self.carried.workload
        here = slice(None) if who is None else workload.of(who)
        met = workload.met[here] * workload.minutes[here]
        off = f"{100 * float((met * workload.spread[here]).sum() / max(met.sum(), 1e-9)):.0f} %"
        return "by equation and table", f"{off} less", f"{off} more"

    def _paced(self, outlook: Outlook) -> CarriedOut:
        plan = self.file.plan
        return carry_out(self.file, timeline_at(plan, blocks_at(plan.blocks, self.carried.circumstances, outlook)))

    def _in_air(self, change_c: float) -> CarriedOut:
        plan = self.file.plan
        assert plan.air is not None
        air = plan.air.model_copy(update={"temperature_c": plan.air.temperature_c + change_c})
        return carry_out(self.file.model_copy(update={"plan": plan.model_copy(update={"air": air})}))


def _celsius(air: Air, change_c: float) -> str:
    return f"{air.temperature_c + change_c:g} °C"


def _with_maximum(person: Person, bpm: float) -> Person:
    fit = person.heart_fit
    kept = None if fit is None else fit.model_copy(update={"max_bpm": round(bpm)})
    return person.model_copy(update={"max_bpm": round(bpm), "heart_fit": kept})


def _with_resting(person: Person, bpm: float) -> Person:
    return person.model_copy(update={"resting_bpm": round(bpm)})


def _with_uptake(person: Person, uptake: float) -> Person:
    fit = person.heart_fit
    kept = None if fit is None else fit.model_copy(update={"vo2max": uptake})
    return person.model_copy(update={"vo2max": uptake, "heart_fit": kept})


def _with_mass(person: Person, kg: float) -> Person:
    return person.model_copy(update={"body_mass_kg": kg})


def _stronger(person: Person, times: float) -> Person:
    return person.model_copy(update={"bests_kg": {name: kg * times for name, kg in person.bests_kg.items()}})


def _unknown(field: str, name: str) -> Fault:
    return Fault(
        path=field,
        place="the question",
        field=field,
        message=f"there is no {field} {name!r} in this class",
        right=f"a {field} of the forecast",
    )
