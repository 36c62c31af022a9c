"""What a change does to each figure of a class."""

from __future__ import annotations

from collections.abc import Callable

from pydantic import BaseModel

from oaken.forecast.report import Forecast


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
    load_per_minute: float | None
    load_per_minute_change: float | None
    sets_per_minute: float
    sets_per_minute_change: float
    heart_mean_change: float | None
    vigorous_min_change: float | None
    waiting_change_s: float
    kcal: float
    kcal_change: float
    muscles: list[MuscleChange]


class Lost(BaseModel):
    """What a change takes away of the work that was planned: in words, and as a share of it, 0 to 1."""

    words: str
    share: float


LEAST_LOST = 0.03
"""Less than so much of anything is not told as lost."""

LEAST_OF_ALL = 0.05
"""A muscle that has less than so much of all tension is not what the class is for."""

MUSCLES_TOLD = 2
"""So many muscles that lose most are told."""


def lost_in(before: Forecast, after: Forecast) -> list[Lost]:
    """What is done less after a change, the largest share first: load moved, and seconds under tension a muscle."""
    found = []
    then, now = before.figures.volume_load, after.figures.volume_load
    if then is not None and now is not None:
        found.append(_lost("volume load", then.value, now.value, "kg"))
    held = {muscle.muscle: muscle.prime_s for muscle in after.muscles}
    muscles = [
        _lost(f"tension of {muscle.name.lower()}", muscle.prime_s, held.get(muscle.muscle, 0.0), "s")
        for muscle in before.muscles
        if muscle.prime_s >= LEAST_OF_ALL * sum(item.prime_s for item in before.muscles)
    ]
    found += sorted(muscles, key=lambda item: -item.share)[:MUSCLES_TOLD]
    return sorted((item for item in found if item.share >= LEAST_LOST), key=lambda item: -item.share)


def _lost(name: str, then: float, now: float, unit: str) -> Lost:
    share = max(0.0, 1 - now / then) if then else 0.0
    return Lost(words=f"{name} {then:,.0f} → {now:,.0f} {unit} (−{100 * share:.0f} %)", share=round(share, 4))


def effect_of(before: Forecast, after: Forecast) -> Effect:
    """What is otherwise after a change."""

    def change(read: Callable[[Forecast], float | None]) -> float | None:
        then, now = read(before), read(after)
        return None if then is None or now is None else round(now - then, 2)

    def sure(read: Callable[[Forecast], float]) -> float:
        return round(read(after) - read(before), 2)

    names = {muscle.muscle: muscle.name for muscle in [*before.muscles, *after.muscles]}
    then = {muscle.muscle: muscle.prime_s for muscle in before.muscles}
    now = {muscle.muscle: muscle.prime_s for muscle in after.muscles}
    muscles = [
        MuscleChange(name=name, change_s=round(now.get(muscle, 0.0) - then.get(muscle, 0.0), 1))
        for muscle, name in names.items()
    ]
    figures = after.figures
    return Effect(
        length_s=after.length.value,
        length_change_s=sure(lambda item: item.length.value),
        chance_inside=after.chance_inside.value,
        work_share=figures.work_share.value,
        work_share_change=sure(lambda item: item.figures.work_share.value),
        load_per_minute=None if figures.load_per_minute is None else figures.load_per_minute.value,
        load_per_minute_change=change(
            lambda item: item.figures.load_per_minute.value if item.figures.load_per_minute else None
        ),
        sets_per_minute=figures.sets_per_minute.value,
        sets_per_minute_change=sure(lambda item: item.figures.sets_per_minute.value),
        heart_mean_change=change(lambda item: item.figures.heart_mean.value if item.figures.heart_mean else None),
        vigorous_min_change=change(
            lambda item: item.figures.vigorous_or_more.value if item.figures.vigorous_or_more else None
        ),
        waiting_change_s=sure(lambda item: item.figures.waiting.value),
        kcal=figures.energy.value,
        kcal_change=sure(lambda item: item.figures.energy.value),
        muscles=sorted(
            (muscle for muscle in muscles if abs(muscle.change_s) >= 1), key=lambda item: -abs(item.change_s)
        ),
    )
