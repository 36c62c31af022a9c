"""What a generated class comes to, in the figures by which classes are chosen."""

from __future__ import annotations

from collections.abc import Iterator, Mapping

from pydantic import BaseModel

from oaken.basis.estimate import Estimate
from oaken.domain.catalogue import Exercise
from oaken.forecast.cautions.in_order import usual_rank
from oaken.forecast.order_done import share_small_first, small_before_large
from oaken.forecast.report import Forecast
from oaken.schedule.class_file import ClassFile
from oaken.schedule.timeline import Doing

GUIDED = ("stack", "plates")
"""What machines hold."""

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
    muscles (`off_target_share`: the share of tension that is not where it was wanted), and cautions by severity. Of
    the exercises of the main part, counted as each person does them, `loaded_share` take load and `machine_share` stand
    on a machine; `main_lifts` are the names of the loaded compounds by which the class is built. `small_first_share` of
    what is small and has a large exercise of the same muscle in its block is done before that one."""

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
    loaded_share: float
    machine_share: float
    main_lifts: list[str]
    small_first_share: float
    off_target_share: float
    muscles: list[MuscleHeld]
    clashes: int
    cautions: int
    for_care: int


def weighed(file: ClassFile, predicted: Forecast, target: Mapping[str, float]) -> Weighed:
    """The figures of a class that was forecast."""
    main = file.plan.main_part()
    inside = [at for at, counts in enumerate(main) if counts]
    main_s = sum(predicted.blocks[at].end_s - predicted.blocks[at].start_s for at in inside)
    idle, waits = [], []
    for person in predicted.people:
        steps = list(person.path.stretches(predicted.length.value))
        stood = sum(step.seconds for step in steps if step.doing in IDLE)
        waited = sum(step.seconds for step in steps if step.doing == Doing.WAIT)
        idle.append(stood / max(main_s, 1.0))
        waits.append(waited)
    by_muscle = {muscle.muscle: sum(muscle.prime_by_block_s[at] for at in inside) for muscle in predicted.muscles}
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
    done, kinds = list(_done(file)), file.catalogue().equipment
    return Weighed(
        length=predicted.length,
        spare_s=round(predicted.slot_s - predicted.length.value, 1),
        chance_inside=predicted.chance_inside.value,
        idle_share=round(sum(idle) / len(idle), 4),
        most_idle_share=round(max(idle), 4),
        longest_wait_s=round(max(waits), 1),
        energy=predicted.figures.energy,
        heart_mean=predicted.figures.heart_mean,
        vigorous=predicted.figures.vigorous_or_more,
        work_share=predicted.figures.work_share,
        loaded_share=round(sum(exercise.takes_load for exercise in done) / max(1, len(done)), 4),
        machine_share=round(sum(kinds[item.equipment].holds in GUIDED for item in done) / max(1, len(done)), 4),
        main_lifts=list(dict.fromkeys(exercise.name for exercise in done if is_main_lift(exercise))),
        small_first_share=round(share_small_first(small_before_large(file.plan, predicted, file.catalogue())), 4),
        off_target_share=round(sum(abs(item.share - item.target) for item in held) / 2, 4),
        muscles=sorted(held, key=lambda item: -max(item.target, item.share)),
        clashes=sum(caution.severity == "clash" for caution in predicted.cautions),
        cautions=sum(caution.severity == "caution" for caution in predicted.cautions),
        for_care=sum(caution.about == "careful" and caution.severity != "note" for caution in predicted.cautions),
    )


def _done(file: ClassFile) -> Iterator[Exercise]:
    """What each person does in the main part, exercise by exercise."""
    plan, known, main = file.plan, file.catalogue().exercises, file.plan.main_part()
    instead = {(item.exercise, who): item.other for item in plan.instead for who in item.people}
    for place, part in plan.placed():
        if main[int(place[1])]:
            for who in plan.people:
                yield known[instead.get((part.exercise, who), part.exercise)]


def is_main_lift(exercise: Exercise) -> bool:
    """Whether it is a lift by which a class is built: a compound of both legs that takes load."""
    return exercise.takes_load and usual_rank(exercise) <= 1 and not exercise.is_static
