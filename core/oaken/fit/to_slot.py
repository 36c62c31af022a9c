"""Fit a class to its slot: concrete changes, each with what it does to time, density, hearts, energy and muscles."""

from __future__ import annotations

import json
from collections.abc import Callable, Iterator
from functools import cache, partial
from importlib.resources import files
from typing import Literal

from pydantic import BaseModel, ConfigDict

from oaken.catalogue import Catalogue
from oaken.class_file import ClassFile
from oaken.fit.edits import ADDITIONS, CUTS, Attempt
from oaken.forecast import forecast
from oaken.plan import Aim, ClassPlan
from oaken.report import Forecast
from oaken.timeline import BlockAt, Circumstances, Outlook, block_length

FULL_ENOUGH_S = 150
"""A class that ends this close before its slot's end needs nothing added."""

REST_SCHOOL = {"short": 0.5, "quality": 1.3}
"""How the chosen school of rests weighs a change of rests."""


Watch = Callable[[ClassPlan], float]
"""Says how long a class is, in seconds."""


class Kind(BaseModel):
    """A kind of change: why it harms, and how much for each aim."""

    model_config = ConfigDict(frozen=True, extra="forbid")

    id: str
    name: str
    why: str
    weights: dict[Aim, float]


class MuscleChange(BaseModel):
    """Seconds of tension a muscle gains or loses, mean per person, as prime mover."""

    name: str
    change_s: float


class Effect(BaseModel):
    """What a change does: the new value of each figure and the difference from before."""

    length_s: float
    length_change_s: float
    chance_inside: float
    work_share: float
    work_share_change: float
    load_per_minute: float
    load_per_minute_change: float
    sets_per_minute: float
    sets_per_minute_change: float
    heart_mean_change: float | None
    vigorous_min_change: float | None
    kcal: float
    kcal_change: float
    muscles: list[MuscleChange]


class Proposal(BaseModel):
    """One change, ready to be applied: `plan` is the class with it. `harm` is 0 to 100, less is better."""

    kind: str
    name: str
    detail: str
    why: str
    harm: float
    fits: bool
    effect: Effect
    plan: ClassPlan


class Fitting(BaseModel):
    """How a class stands to its slot, and what could be done, least harm first; those that fit before the others."""

    state: Literal["over", "under", "fits"]
    difference_s: float
    surely: bool
    proposals: list[Proposal]


@cache
def kinds() -> dict[str, Kind]:
    """Every kind of change by id, from the data file beside this module."""
    raw = json.loads(files("oaken.fit").joinpath("weights.json").read_text(encoding="utf-8"))
    return {row["id"]: Kind.model_validate(row) for row in raw["kinds"]}


def class_seconds(plan: ClassPlan, circumstances: Circumstances, outlook: Outlook) -> float:
    """Length of the class in an outlook; blocks that did not change are not laid out again."""
    moves = sum(block.move_on_s for block in plan.blocks[:-1]) * outlook.pace
    return sum(block_length(BlockAt.of(block, circumstances, outlook)).length_s for block in plan.blocks) + moves


def fit_to_slot(file: ClassFile, *, surely: bool = False) -> Fitting:
    """Proposals for a class that is over or under its slot.

    For each kind of change the least amount that fits is looked for; where no amount does, the largest is shown and
    said not to fit. With `surely` the longest outlook has to fit, otherwise the expected one.
    """
    plan, known = file.plan, file.catalogue()
    people = file.participants
    around = Circumstances.of(file.room_today, people, known, file.plan.wishes())
    outlook = Outlook.LONGEST if surely else Outlook.EXPECTED
    watch: Watch = partial(class_seconds, circumstances=around, outlook=outlook)
    slot_s = plan.slot_min * 60.0
    length = watch(plan)
    over = length - slot_s
    if over <= 0 and -over <= FULL_ENOUGH_S:
        return Fitting(state="fits", difference_s=over, surely=surely, proposals=[])
    ways = CUTS if over > 0 else ADDITIONS
    before = forecast(file)
    proposals = []
    for kind, tries in ways.items():
        found = _least(plan, tries(plan, known, file.room_today), watch, slot_s, cutting=over > 0)
        if found is None:
            continue
        trial, fits = found
        changed = ClassPlan.model_validate(trial.plan.model_dump())
        after = forecast(file.model_copy(update={"plan": changed}))
        proposals.append(
            Proposal(
                kind=kind,
                name=kinds()[kind].name,
                detail=trial.detail,
                why=kinds()[kind].why,
                harm=round(harm_of(kinds()[kind], trial, plan, known), 1),
                fits=fits,
                effect=effect_of(before, after),
                plan=changed,
            )
        )
    proposals.sort(key=lambda one: (not one.fits, one.harm))
    return Fitting(state="over" if over > 0 else "under", difference_s=over, surely=surely, proposals=proposals)


def _least(
    plan: ClassPlan, tries: Iterator[Attempt], watch: Watch, slot_s: float, *, cutting: bool
) -> tuple[Attempt, bool] | None:
    """The smallest cut that fits, or the largest addition that still does; otherwise the cut that goes furthest."""
    before = shortest = watch(plan)
    best: tuple[Attempt, bool] | None = None
    for trial in tries:
        seconds = watch(trial.plan)
        if cutting:
            if seconds <= slot_s:
                return trial, True
            if seconds < shortest - 0.5:
                best, shortest = (trial, False), seconds
        elif seconds > slot_s:
            return best
        elif seconds > before + 0.5:
            best = (trial, True)
    return best


def harm_of(kind: Kind, trial: Attempt, plan: ClassPlan, known: Catalogue) -> float:
    """Weight for the class's aim × the share that changes, 0 to 100."""
    weight = kind.weights[plan.aim]
    if kind.id in ("shorter_rest", "longer_rest"):
        school = REST_SCHOOL[plan.school("rest", known)]
        weight *= school if kind.id == "shorter_rest" else 1 / school
    return float(min(100.0, weight * min(1.0, trial.share) ** 0.5))


def effect_of(before: Forecast, after: Forecast) -> Effect:
    def change(read: Callable[[Forecast], float | None]) -> float | None:
        then, now = read(before), read(after)
        return None if then is None or now is None else round(now - then, 2)

    def sure(read: Callable[[Forecast], float]) -> float:
        return round(read(after) - read(before), 2)

    names = {one.muscle: one.name for one in [*before.muscles, *after.muscles]}
    then = {one.muscle: one.prime_s for one in before.muscles}
    now = {one.muscle: one.prime_s for one in after.muscles}
    muscles = [
        MuscleChange(name=name, change_s=round(now.get(muscle, 0.0) - then.get(muscle, 0.0), 1))
        for muscle, name in names.items()
    ]
    figures = after.figures
    return Effect(
        length_s=after.length.value,
        length_change_s=sure(lambda one: one.length.value),
        chance_inside=after.chance_inside.value,
        work_share=figures.work_share.value,
        work_share_change=sure(lambda one: one.figures.work_share.value),
        load_per_minute=figures.load_per_minute.value,
        load_per_minute_change=sure(lambda one: one.figures.load_per_minute.value),
        sets_per_minute=figures.sets_per_minute.value,
        sets_per_minute_change=sure(lambda one: one.figures.sets_per_minute.value),
        heart_mean_change=change(lambda one: one.figures.heart_mean.value if one.figures.heart_mean else None),
        vigorous_min_change=change(
            lambda one: one.figures.vigorous_or_more.value if one.figures.vigorous_or_more else None
        ),
        kcal=figures.energy.value,
        kcal_change=sure(lambda one: one.figures.energy.value),
        muscles=sorted((one for one in muscles if abs(one.change_s) >= 1), key=lambda one: -abs(one.change_s)),
    )
