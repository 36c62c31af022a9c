"""What a sketch comes to, in the figures by which classes are chosen."""

from __future__ import annotations

from collections.abc import Mapping

from pydantic import BaseModel

from oaken.basis.estimate import Estimate
from oaken.forecast.report import Forecast
from oaken.schedule.class_file import ClassFile
from oaken.schedule.timeline import Doing

IDLE = (Doing.WAIT, Doing.BREATHER)


class MuscleHeld(BaseModel):
    """A muscle's share of the tension of the main part, and the share that was wanted."""

    muscle: str
    name: str
    target: float
    share: float


class Weighed(BaseModel):
    """Length and what is left of the slot (s), chance to end inside it, the idle share of the main part (waiting, and
    turns without a station; mean of all, and of whoever has most), the longest wait in all (s), means of the class, the
    muscles (`off_target_share`: the share of tension that is not where it was wanted), and cautions by severity."""

    length: Estimate
    spare_s: float
    chance_inside: float
    idle_share: float
    most_idle_share: float
    longest_wait_s: float
    energy: Estimate
    heart_mean: Estimate | None
    vigorous: Estimate | None
    work_share: Estimate
    off_target_share: float
    muscles: list[MuscleHeld]
    clashes: int
    cautions: int
    for_care: int


def weighed(file: ClassFile, told: Forecast, target: Mapping[str, float]) -> Weighed:
    """The figures of a class that was forecast."""
    main = file.plan.main_part()
    inside = [at for at, counts in enumerate(main) if counts]
    main_s = sum(told.blocks[at].end_s - told.blocks[at].start_s for at in inside)
    idle, waits = [], []
    for person in told.people:
        steps = list(person.path.stretches(told.length.value))
        stood = sum(step.seconds for step in steps if step.doing in IDLE)
        waited = sum(step.seconds for step in steps if step.doing == Doing.WAIT)
        idle.append(stood / max(main_s, 1.0))
        waits.append(waited)
    by_muscle = {muscle.muscle: sum(muscle.prime_by_block_s[at] for at in inside) for muscle in told.muscles}
    every = sum(by_muscle.values()) or 1.0
    names = file.catalogue().muscles
    held = [
        MuscleHeld(
            muscle=muscle,
            name=names[muscle].name,
            target=round(target.get(muscle, 0.0), 4),
            share=round(by_muscle.get(muscle, 0.0) / every, 4),
        )
        for muscle in sorted({*target, *(item for item, seconds in by_muscle.items() if seconds)})
    ]
    return Weighed(
        length=told.length,
        spare_s=round(told.slot_s - told.length.value, 1),
        chance_inside=told.chance_inside.value,
        idle_share=round(sum(idle) / len(idle), 4),
        most_idle_share=round(max(idle), 4),
        longest_wait_s=round(max(waits), 1),
        energy=told.figures.energy,
        heart_mean=told.figures.heart_mean,
        vigorous=told.figures.vigorous_or_more,
        work_share=told.figures.work_share,
        off_target_share=round(sum(abs(item.share - item.target) for item in held) / 2, 4),
        muscles=sorted(held, key=lambda item: -max(item.target, item.share)),
        clashes=sum(caution.severity == "clash" for caution in told.cautions),
        cautions=sum(caution.severity == "caution" for caution in told.cautions),
        for_care=sum(caution.about == "careful" and caution.severity != "note" for caution in told.cautions),
    )
