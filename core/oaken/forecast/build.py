"""The main job in one call: plan + people + room → time, density, heart load and energy."""

from __future__ import annotations

from collections.abc import Sequence
from functools import lru_cache
from math import erf, inf, sqrt

import numpy as np

from oaken.basis.estimate import Estimate
from oaken.basis.words import counted
from oaken.domain.catalogue import Catalogue
from oaken.domain.people import Person
from oaken.forecast.cautions import STOP_SIGNS, cautions_of
from oaken.forecast.figures import class_figures, everybodys_figures
from oaken.forecast.report import (
    Band,
    BlockForecast,
    Figures,
    Forecast,
    MuscleShare,
    Overheads,
    PathColumns,
    PersonForecast,
    SlotReport,
    SlotSeconds,
    Target,
)
from oaken.forecast.workload import EDGES_EVERY_S, Hearts, WorkDone, Workload, carry_out, hearts_under
from oaken.physiology.body import Body, body_of
from oaken.physiology.energy import kcal_per_min
from oaken.physiology.heart_rate import Floats, target_bpm
from oaken.physiology.intensity import CLASS_NAMES, RESERVE_LIMITS, minutes_by_class
from oaken.plan import AnyPart, ClassPlan
from oaken.plan.changes import refit
from oaken.plan.notation import line_of
from oaken.schedule.arrange.collisions import conflicts_of
from oaken.schedule.class_file import ClassFile
from oaken.schedule.timeline import (
    BlockAt,
    Doing,
    Lengths,
    Outlook,
    SlotUse,
    Timeline,
    lengths,
)
from oaken.schedule.timeline.kinds import kind_of
from oaken.schedule.timeline.schedule import uses_of

SAMPLE_S = 5
"""Spacing of the curves a forecast hands out."""

LIKELY_EVERY_S = 2
"""Spacing at which the likely heart is read, in the middle of each stretch: a count of minutes is right to two seconds,
far within every range."""

KCAL_SAMPLE_S = 30
"""Spacing of a person's energy, which only climbs."""


def forecast(file: ClassFile, timeline: Timeline | None = None) -> Forecast:
    """Forecast one class, or give the same figures of the actual steps (`timeline`).

    The file must have been checked (`read_class`): every id it names exists.
    """
    known = file.catalogue()
    plan = file.plan
    people = file.participants
    carried = carry_out(file, timeline)
    likely, workload = carried.timeline, carried.workload
    quick = lengths(plan.blocks, carried.blocks, Outlook.SHORTEST)
    slow = lengths(plan.blocks, carried.blocks, Outlook.LONGEST)
    length = Estimate.between(
        likely.length_s, quick.class_s, slow.class_s, "s", "time.sum", [counted(len(plan.blocks), "block")]
    )
    bodies = [body_of(person, carried.warmth) for person in people]
    hearts = hearts_under(
        workload,
        people,
        [
            ([body.likely for body in bodies], LIKELY_EVERY_S),
            ([body.slow for body in bodies], EDGES_EVERY_S),
            ([body.fast for body in bodies], EDGES_EVERY_S),
        ],
        likely.length_s,
    )
    figures = everybodys_figures(
        workload,
        people,
        length,
        list(zip(quick.waits_s, slow.waits_s, strict=True)),
        (hearts[0], hearts[1], hearts[2]),
        carried.heat,
    )
    samples = np.minimum(np.arange(0.0, likely.length_s + SAMPLE_S, SAMPLE_S), likely.length_s)
    reserve = hearts[0].curve.at(workload.stretches.moments(samples)).reshape(len(people), -1)
    mass = np.array([person.body_mass_kg for person in people])
    kcal_per_step = workload.met * workload.minutes * kcal_per_min(1.0, mass[workload.person])
    climbed = _climbing(workload, kcal_per_step, samples)
    apart_kcal = _climbing(workload, kcal_per_step * workload.spread, samples).mean(axis=0)
    apart = np.append(np.arange(0, samples.size - 1, KCAL_SAMPLE_S // SAMPLE_S), samples.size - 1)
    per_class = minutes_by_class(hearts[0].reserve, LIKELY_EVERY_S)
    targets = _targets(people, bodies, likely, reserve, samples)
    forecasts = _people(
        people, bodies, workload, hearts, reserve, samples[apart], climbed[:, apart], per_class, figures, targets
    )
    beating = [index for index, person in enumerate(people) if not person.heart_medication]
    kcal = climbed.mean(axis=0)
    return Forecast.model_construct(
        length=length,
        slot_s=plan.slot_min * 60,
        chance_inside=chance_inside(length, plan.slot_min * 60),
        overheads=_overheads(workload.done),
        sample_s=SAMPLE_S,
        kcal_sample_s=KCAL_SAMPLE_S,
        figures=class_figures(figures),
        class_energy=Estimate.between(
            sum(figure.energy.value for figure in figures),
            sum(figure.energy.low for figure in figures),
            sum(figure.energy.high for figure in figures),
            "kcal",
            "energy.table",
            [counted(len(people), "person", "people")],
            "the whole class together",
        ),
        blocks=_blocks(plan, likely, workload, kcal_per_step, quick, slow),
        slots=_slots(likely, carried.blocks, known),
        people=forecasts,
        band=_band(reserve[beating]),
        kcal=_rounded(kcal),
        kcal_low=_rounded(kcal - apart_kcal),
        kcal_high=_rounded(kcal + apart_kcal),
        minutes_by_class=_rounded(per_class[beating].mean(axis=0) if beating else np.zeros(len(CLASS_NAMES))),
        class_names=list(CLASS_NAMES),
        class_limits=list(RESERVE_LIMITS),
        muscles=_muscles(workload, known),
        cautions=cautions_of(
            plan,
            carried.circumstances,
            likely,
            forecasts,
            [set(item.unknown_loads) for item in workload.done],
            _held_at_maximum(workload, bodies, likely),
            carried.heat,
            file.house_rules,
            conflicts_of(plan, carried.circumstances, likely),
        ),
        stop_signs=STOP_SIGNS,
        heat=carried.heat,
    )


LONG_SET_S = 60.0
"""From so many seconds on a set of lifting has to be taken up while it is done (common practice, no source)."""


def _held_at_maximum(workload: Workload, bodies: Sequence[Body], timeline: Timeline) -> list[dict[str, float]]:
    """For everybody the exercises that ask for more than they can take up, each with its longest stretch in seconds.
    Short sets of lifting are left out: what they ask for in the set is taken up in the rest."""
    tops = np.array([body.vo2max.value for body in bodies]) / 3.5
    held = workload.work & (workload.slot >= 0) & (workload.met >= tops[workload.person] - 1e-6)
    found: list[dict[str, float]] = [{} for _ in bodies]
    for step in np.flatnonzero(held):
        own = found[workload.person[step]]
        exercise = timeline.slots[workload.slot[step]].exercise
        seconds = float(workload.end_s[step] - workload.start_s[step])
        if exercise.nature == "rhythmic" or seconds >= LONG_SET_S:
            own[exercise.id] = max(own.get(exercise.id, 0.0), seconds)
    return found


def _climbing(workload: Workload, kcal_per_step: Floats, samples: Floats) -> Floats:
    """Everybody's energy (kcal) at the samples, one row a person."""
    rows = []
    for person in range(workload.first.size):
        own = workload.of(person)
        ends, sums = np.append(0.0, workload.end_s[own]), np.append(0.0, np.cumsum(kcal_per_step[own]))
        rows.append(np.interp(samples, ends, sums))
    return np.array(rows)


def _people(
    people: list[Person],
    bodies: list[Body],
    workload: Workload,
    hearts: list[Hearts],
    reserve: Floats,
    apart: Floats,
    climbed: Floats,
    per_class: Floats,
    figures: list[Figures],
    targets: list[list[Target]],
) -> list[PersonForecast]:
    starts = np.round(workload.start_s, 1).tolist()
    doing, slot, lane, unit, round_ = (
        column.tolist() for column in (workload.doing, workload.slot, workload.lane, workload.unit, workload.round)
    )
    rest, top = (np.array([[getattr(body.likely, name)] for body in bodies]) for name in ("rest_bpm", "max_bpm"))
    bpm = np.round(target_bpm(reserve, rest, top), 1).tolist()
    moments = workload.stretches.moments(apart)
    slow, fast = (
        np.round(
            target_bpm(
                heart.curve.at(moments).reshape(len(people), -1),
                *(
                    np.array([[getattr(profile, name)] for profile in heart.profiles])
                    for name in ("rest_bpm", "max_bpm")
                ),
            )
        ).tolist()
        for heart in hearts[1:]
    )
    means = reserve.mean(axis=1).tolist()
    kcal = np.round(climbed, 1).tolist()
    minutes = np.round(per_class, 1).tolist()
    found = []
    for index, (person, body) in enumerate(zip(people, bodies, strict=True)):
        own = workload.of(index)
        applies = not person.heart_medication
        found.append(
            PersonForecast.model_construct(
                id=person.id,
                number=index + 1,
                name=person.name,
                level=person.level,
                rest_bpm=body.rest_bpm,
                max_bpm=body.max_bpm,
                vo2max=body.vo2max,
                fitted=person.heart_fit if body.fitted else None,
                heart_applies=applies,
                workload=round(means[index], 3),
                targets=targets[index],
                path=PathColumns(
                    start_s=starts[own],
                    doing=doing[own],
                    slot=slot[own],
                    lane=lane[own],
                    unit=unit[own],
                    round=round_[own],
                ),
                bpm=bpm[index] if applies else [],
                bpm_low=slow[index] if applies else [],
                bpm_high=fast[index] if applies else [],
                kcal=kcal[index],
                minutes_by_class=minutes[index] if applies else [0.0] * len(CLASS_NAMES),
                figures=figures[index],
            )
        )
    return found


EFFORT_LIMITS = (6.0, 9.0, 12.0, 14.0, 18.0, 20.0)
"""Perceived effort on the 6–20 scale at the limits of the intensity classes (ACSM position stand, Garber et al. 2011,
from memory)."""


def _targets(
    people: list[Person], bodies: list[Body], timeline: Timeline, reserve: Floats, samples: Floats
) -> list[list[Target]]:
    """What everybody goes by in each block: the intensity class in which its middle rate lies, as a range of heart
    rate or of perceived effort."""
    limits = np.array([0.0, *RESERVE_LIMITS, 1.0])
    found: list[list[Target]] = [[] for _ in people]
    goes_by = [
        EFFORT_LIMITS
        if person.heart_medication
        else np.round(target_bpm(limits, body.likely.rest_bpm, body.likely.max_bpm)).tolist()
        for person, body in zip(people, bodies, strict=True)
    ]
    for number, span in enumerate(timeline.blocks):
        here = (samples >= span.start_s) & (samples <= span.end_s)
        if not here.any():
            continue
        classes = np.searchsorted(RESERVE_LIMITS, np.median(reserve[:, here], axis=1), "right").tolist()
        for targets, person, own, name in zip(found, people, goes_by, classes, strict=True):
            targets.append(
                Target.model_construct(
                    block=number,
                    class_name=CLASS_NAMES[name],
                    low=own[name],
                    high=own[name + 1],
                    by="effort" if person.heart_medication else "bpm",
                )
            )
    return found


CERTAINTY = 1.645
"""Standard deviations between the middle and the ends of a range that holds nine cases of ten."""


def chance_inside(length: Estimate, slot_s: float) -> Estimate:
    """Chance of ending inside the slot, %: lengths are normal around the expected one, the range holds nine of ten.

    On either side of the middle the spread is that side's own, so a plan that can only get longer says so.
    """
    inputs = [f"expected {length.value:.0f} s, {length.low:.0f} to {length.high:.0f} s", f"class length {slot_s:.0f} s"]
    room = slot_s - length.value
    spread = (length.high - length.value if room >= 0 else length.value - length.low) / CERTAINTY
    # where nothing varies the class ends inside or it does not
    deviations = room / spread if spread > 0 else (inf if room >= 0 else -inf)
    chance = 50 * (1 + erf(deviations / sqrt(2)))
    # nobody can be surer than this of a class with people in it
    return Estimate.between(min(max(chance, 1.0), 99.0), 1.0, 99.0, "%", "time.chance", inputs)


def _overheads(done: list[WorkDone]) -> Overheads:
    """What a person spends on average on everything that is neither work nor rest; lowest to highest person."""

    def mean(values: list[float], what: str) -> Estimate:
        inputs = [counted(len(values), "person", "people"), what]
        return Estimate.between(float(np.mean(values)), min(values), max(values), "s", "time.changes", inputs)

    return Overheads(
        walking=mean([item.walking_s for item in done], "at 1.2 m/s between places"),
        set_up=mean([item.set_up_s for item in done], "set-up seconds of the equipment kind"),
        load_change=mean([item.load_change_s for item in done], "load-change seconds of the equipment kind"),
        change_of_side=mean([item.change_of_side_s for item in done], "5 s a change"),
    )


def _slots(timeline: Timeline, blocks: Sequence[BlockAt], known: Catalogue) -> list[SlotReport]:
    """Every slot with its line and how long one person is with it."""
    written = [_written(at) for at in blocks]
    return [
        SlotReport.model_construct(
            block=slot.block,
            group=slot.group,
            id=slot.id,
            exercise=slot.exercise.id,
            name=slot.exercise.name,
            equipment=slot.exercise.equipment,
            equipment_name=known.equipment[slot.exercise.equipment].name,
            places=slot.places,
            line=line,
            seconds=seconds,
            stands_for=slot.stands_for,
        )
        for slot in timeline.slots
        for line, seconds in [_told(slot, written[slot.block]) or _line(slot, blocks[slot.block])]
    ]


_Told = tuple[str, SlotSeconds]
"""The line of a slot, and how long one person is with it."""


def _told(slot: SlotUse, written: list[tuple[AnyPart, _Told]]) -> _Told | None:
    """What is planned at a slot, among what is written of its block; None where it actually was otherwise."""
    return next((told for part, told in written if part is slot.part or part == slot.part), None)


KEPT_LINES = 120
"""Blocks whose lines and seconds a process keeps: a class has 40 at most."""


@lru_cache(maxsize=KEPT_LINES)
def _written(at: BlockAt) -> list[tuple[AnyPart, _Told]]:
    """The line and the seconds of every slot of a block, and of what somebody does in the place of one."""
    return [(use.part, _line_of(use.part, at)) for use in uses_of(at.block, at.circumstances)]


def _line(slot: SlotUse, at: BlockAt) -> tuple[str, SlotSeconds]:
    """The same of a slot that was done with an exercise which the block has not got any more."""
    part = next(part for part in at.block.parts if part.id == slot.id)
    return _line_of(refit(part, slot.exercise), at)


def _line_of(part: AnyPart, at: BlockAt) -> tuple[str, SlotSeconds]:
    known = at.circumstances.catalogue
    shortest, expected, longest = (kind_of(at.block).part_time(part, at.block, known, outlook) for outlook in Outlook)
    seconds = SlotSeconds(
        shortest=round(shortest.total_s, 1),
        expected=round(expected.total_s, 1),
        longest=round(longest.total_s, 1),
        work=round(expected.work_s - expected.change_of_side_s, 1),
        change_of_side=round(expected.change_of_side_s, 1),
        load_change=round(expected.load_change_s, 1),
        set_up=round(expected.set_up_s, 1),
        rest=round(expected.rest_s, 1),
    )
    return line_of(part, known), seconds


def _blocks(
    plan: ClassPlan, timeline: Timeline, workload: Workload, kcal_per_step: Floats, quick: Lengths, slow: Lengths
) -> list[BlockForecast]:
    """Each block's span with its mean work share, waiting and energy per person."""
    crowd = workload.first.size

    def per_block(weights: Floats) -> Floats:
        return np.bincount(workload.block, weights=weights, minlength=len(plan.blocks)) / crowd

    seconds = workload.minutes * 60
    work = per_block(seconds * workload.work)
    waits = per_block(seconds * (workload.doing == Doing.WAIT))
    kcal = per_block(kcal_per_step)
    return [
        BlockForecast(
            id=block.id,
            name=block.name,
            kind=block.kind,
            start_s=round(span.start_s, 1),
            end_s=round(span.end_s, 1),
            shortest_s=round(min(quick.blocks_s[index], span.end_s - span.start_s), 1),
            longest_s=round(max(slow.blocks_s[index], span.end_s - span.start_s), 1),
            bound_s=round(span.bound_s, 1),
            turns=span.turns,
            breathers=span.breathers,
            work_share=round(100 * float(work[index]) / max(span.end_s - span.start_s, 1e-9), 1),
            waiting_s=round(float(waits[index]), 1),
            kcal=round(float(kcal[index]), 1),
        )
        for index, (block, span) in enumerate(zip(plan.blocks, timeline.blocks, strict=True))
    ]


def _band(reserves: Floats) -> Band | None:
    if not reserves.size:
        return None
    return Band(
        low=_rounded(reserves.min(axis=0), 3),
        median=_rounded(np.median(reserves, axis=0), 3),
        high=_rounded(reserves.max(axis=0), 3),
    )


def _muscles(workload: Workload, known: Catalogue) -> list[MuscleShare]:
    """Mean seconds of tension a muscle, most worked first; muscles without any are left out."""

    def mean(done: list[WorkDone], muscle: str, *, helping: bool = False) -> float:
        sums = sum((item.helping_s if helping else item.prime_s).get(muscle, 0.0) for item in done)
        return round(sums / len(done), 1)

    shares = [
        MuscleShare(
            muscle=muscle.id,
            name=muscle.name,
            prime_s=mean(workload.done, muscle.id),
            helping_s=mean(workload.done, muscle.id, helping=True),
            prime_by_block_s=[mean(done, muscle.id) for done in workload.in_blocks],
        )
        for muscle in known.muscles.values()
    ]
    worked = [share for share in shares if share.prime_s or share.helping_s]
    return sorted(worked, key=lambda share: (-share.prime_s, -share.helping_s))


def _rounded(values: Floats | Sequence[float], digits: int = 1) -> list[float]:
    rounded: list[float] = np.round(np.asarray(values, dtype=np.float64), digits).tolist()
    return rounded
