"""The main job in one call: plan + people + room → time, density, heart load and energy."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from math import erf, inf, sqrt

import numpy as np

from oaken.catalogue import Catalogue, Exercise
from oaken.cautions import STOP_SIGNS, cautions_of
from oaken.class_file import ClassFile
from oaken.estimate import Estimate
from oaken.figures import class_figures, person_figures
from oaken.hearts import EDGES_EVERY_S, Hearts
from oaken.notation import line_of
from oaken.people import Person
from oaken.physiology.body import body_of
from oaken.physiology.energy import TABLE_RANGE, kcal_per_min
from oaken.physiology.heart_rate import Floats, target_bpm
from oaken.physiology.intensity import CLASS_NAMES, RESERVE_LIMITS, minutes_by_class
from oaken.plan import CircuitBlock, ClassPlan, Leg, Slot, Station, places
from oaken.prescription import SetRun
from oaken.report import (
    Band,
    BlockForecast,
    Forecast,
    MuscleShare,
    Overheads,
    PathColumns,
    PersonForecast,
    SlotReport,
    SlotSeconds,
)
from oaken.strain import Known, Strain, strain_of
from oaken.timeline import Doing, Lengths, Outlook, SlotTime, Step, Timeline, build_timeline, lengths, slot_time
from oaken.work_done import WorkDone, work_done

SAMPLE_S = 5
"""Spacing of the curves a forecast hands out; every figure is computed at 1 s."""

PARALLEL_DEPTH, FULL_DEPTH = 1.0, 1.15
"""Way of a squat to parallel as in the catalogue, and of a full one (common practice, no source)."""


@dataclass(frozen=True, slots=True)
class _Lived:
    """One person's class, with what only the class's own totals need. `reserve` is at the samples."""

    forecast: PersonForecast
    done: WorkDone
    strain: Strain
    kcal_per_step: Floats
    reserve: Floats


def forecast(file: ClassFile) -> Forecast:
    """Forecast one class. The file must have been checked (`read_class`): every id it names exists."""
    known = file.catalogue()
    plan, room = file.plan, file.room
    by_id = {person.id: person for person in file.people}
    people = [by_id[name] for name in plan.people]
    likely = build_timeline(plan, room, people, known)
    quick = lengths(plan, room, people, known, likely, Outlook.SHORTEST)
    slow = lengths(plan, room, people, known, likely, Outlook.LONGEST)
    length = Estimate.between(
        likely.length_s, quick.class_s, slow.class_s, "s", "time.sum", [_counted(len(plan.blocks), "block")]
    )
    depth = FULL_DEPTH if plan.school("squat-depth", known) == "full" else PARALLEL_DEPTH
    demands: Known = {}
    lived = [
        _live(index, person, likely, known, demands, length, (quick.waits_s[index], slow.waits_s[index]), depth)
        for index, person in enumerate(people)
    ]
    forecasts = [one.forecast for one in lived]
    hearts = [one for one in lived if one.forecast.heart_applies]
    kcal = np.mean([one.forecast.kcal for one in lived], axis=0)
    return Forecast(
        length=length,
        slot_s=plan.slot_min * 60,
        chance_inside=chance_inside(length, plan.slot_min * 60),
        overheads=_overheads([one.done for one in lived]),
        sample_s=SAMPLE_S,
        figures=class_figures([one.figures for one in forecasts]),
        class_energy=Estimate.within(
            sum(one.figures.energy.value for one in forecasts),
            TABLE_RANGE,
            "kcal",
            "energy.table",
            [_counted(len(people), "person", "people")],
            "the whole class together",
        ),
        blocks=_blocks(plan, likely, lived, quick, slow),
        slots=_slots(plan, likely, known),
        people=forecasts,
        band=_band([one.reserve for one in hearts]),
        kcal=_rounded(kcal),
        kcal_low=_rounded(kcal * (1 - TABLE_RANGE)),
        kcal_high=_rounded(kcal * (1 + TABLE_RANGE)),
        minutes_by_class=_rounded(np.mean([one.forecast.minutes_by_class for one in hearts or lived], axis=0)),
        class_names=list(CLASS_NAMES),
        class_limits=list(RESERVE_LIMITS),
        muscles=_muscles([one.done for one in lived], known, len(plan.blocks)),
        cautions=cautions_of(plan, room, known, likely, forecasts, [one.done.unknown_loads for one in lived]),
        stop_signs=STOP_SIGNS,
    )


CERTAINTY = 1.645
"""Standard deviations between the middle and the ends of a range that holds nine cases of ten."""


def chance_inside(length: Estimate, slot_s: float) -> Estimate:
    """Chance of ending inside the slot, %: lengths are normal around the expected one, the range holds nine of ten.

    On either side of the middle the spread is that side's own, so a plan that can only get longer says so.
    """
    inputs = [f"expected {length.value:.0f} s, {length.low:.0f} to {length.high:.0f} s", f"slot {slot_s:.0f} s"]
    room = slot_s - length.value
    spread = (length.high - length.value if room >= 0 else length.value - length.low) / CERTAINTY
    # where nothing varies the class ends inside or it does not
    deviations = room / spread if spread > 0 else (inf if room >= 0 else -inf)
    chance = 50 * (1 + erf(deviations / sqrt(2)))
    # nobody can be surer than this of a class with people in it
    return Estimate.between(min(max(chance, 1.0), 99.0), 1.0, 99.0, "%", "time.chance", inputs)


def _live(
    index: int,
    person: Person,
    timeline: Timeline,
    known: Catalogue,
    demands: Known,
    length: Estimate,
    waits: tuple[float, float],
    depth: float,
) -> _Lived:
    path = timeline.paths[index]
    body = body_of(person)
    strain = strain_of(path, timeline, person, known, demands)
    samples = np.minimum(np.arange(0.0, timeline.length_s + SAMPLE_S, SAMPLE_S), timeline.length_s)
    applies = not person.heart_medication
    hearts = None
    reserve = np.zeros_like(samples)
    per_class = [0.0] * len(CLASS_NAMES)
    if applies:
        likely = Hearts.under(strain, [body.likely], timeline.length_s)
        hearts = likely, Hearts.under(strain, [body.slow, body.fast], timeline.length_s, EDGES_EVERY_S)
        reserve = likely.curves[0].at(strain.stretches.moments(samples))
        per_class = minutes_by_class(likely.reserve[0])
    done = work_done(path, timeline.slots, person, depth)
    kcal_per_step = strain.met * strain.minutes * kcal_per_min(1.0, person.body_mass_kg)
    climbed = np.interp(samples, np.append(0.0, strain.end_s), np.append(0.0, np.cumsum(kcal_per_step)))
    own = PersonForecast(
        id=person.id,
        number=index + 1,
        name=person.name,
        rest_bpm=body.likely.rest_bpm,
        max_bpm=body.max_bpm,
        vo2max=body.vo2max,
        heart_applies=applies,
        path=_columns(path, strain),
        bpm=_rounded(target_bpm(reserve, body.likely.rest_bpm, body.likely.max_bpm)) if applies else [],
        kcal=_rounded(climbed),
        minutes_by_class=_rounded(per_class),
        figures=person_figures(person, done, strain, length, waits, hearts),
    )
    return _Lived(own, done, strain, kcal_per_step, reserve)


def _columns(path: list[Step], strain: Strain) -> PathColumns:
    return PathColumns(
        start_s=_rounded(strain.start_s),
        doing=strain.doing.tolist(),
        slot=[step.slot for step in path],
        lane=[step.lane for step in path],
        unit=[step.unit for step in path],
        round=[step.round for step in path],
    )


def _overheads(done: list[WorkDone]) -> Overheads:
    """What a person spends on average on everything that is neither work nor rest; lowest to highest person."""

    def mean(values: list[float], what: str) -> Estimate:
        inputs = [_counted(len(values), "person", "people"), what]
        return Estimate.between(float(np.mean(values)), min(values), max(values), "s", "time.changes", inputs)

    return Overheads(
        walking=mean([one.walking_s for one in done], "at 1.2 m/s between places"),
        set_up=mean([one.set_up_s for one in done], "set-up seconds of the equipment kind"),
        load_change=mean([one.load_change_s for one in done], "load-change seconds of the equipment kind"),
        change_of_side=mean([one.change_of_side_s for one in done], "5 s a change"),
    )


def _slots(plan: ClassPlan, timeline: Timeline, known: Catalogue) -> list[SlotReport]:
    """Every slot with its line and how long one person is with it."""
    found = []
    for slot, (path, part) in zip(timeline.slots, places(plan), strict=True):
        exercise = slot.exercise
        block = plan.blocks[int(path[1])]
        seconds = {outlook: _seconds_of(part, block, exercise, known, outlook) for outlook in Outlook}
        expected = seconds[Outlook.EXPECTED]
        found.append(
            SlotReport(
                block=slot.block,
                group=slot.group,
                id=slot.id,
                exercise=exercise.id,
                name=exercise.name,
                equipment=exercise.equipment,
                equipment_name=known.equipment[exercise.equipment].name,
                places=slot.places,
                line=line_of(part, known),
                seconds=SlotSeconds(
                    shortest=round(seconds[Outlook.SHORTEST].total_s, 1),
                    expected=round(expected.total_s, 1),
                    longest=round(seconds[Outlook.LONGEST].total_s, 1),
                    work=round(expected.work_s - expected.change_of_side_s, 1),
                    change_of_side=round(expected.change_of_side_s, 1),
                    load_change=round(expected.load_change_s, 1),
                    set_up=round(expected.set_up_s, 1),
                    rest=round(expected.rest_s, 1),
                ),
            )
        )
    return found


def _seconds_of(
    part: Slot | Station | Leg, block: object, exercise: Exercise, known: Catalogue, outlook: Outlook
) -> SlotTime:
    """How long one person is with a slot: alone on it, without walks and waits."""
    match part:
        case Slot():
            return slot_time(part.sets, exercise, known.equipment[exercise.equipment], outlook)
        case Leg():
            alone = SetRun(times=1, segments=[part.turn], rest_s=part.rest_s)
            once = slot_time([alone], exercise, known.equipment[exercise.equipment], outlook)
            return replace(once, work_s=once.work_s * part.turns, set_up_s=0.0, load_change_s=0.0)
        case Station():
            assert isinstance(block, CircuitBlock)
            share = 0.5 if block.turn_s else 1.0
            return SlotTime(block.work_s * block.rounds * share, 0.0, 0.0, 0.0, 0.0)


def _blocks(
    plan: ClassPlan, timeline: Timeline, lived: list[_Lived], quick: Lengths, slow: Lengths
) -> list[BlockForecast]:
    """Each block's span with its mean work share, waiting and energy per person."""
    count = len(plan.blocks)

    def per_block(weights: list[Floats]) -> Floats:
        sums = [
            np.bincount(one.strain.block, weights=weight, minlength=count)
            for one, weight in zip(lived, weights, strict=True)
        ]
        return np.asarray(np.mean(sums, axis=0), dtype=np.float64)

    seconds = [one.strain.minutes * 60 for one in lived]
    work = per_block([s * one.strain.work for s, one in zip(seconds, lived, strict=True)])
    waits = per_block([s * (one.strain.doing == Doing.WAIT) for s, one in zip(seconds, lived, strict=True)])
    kcal = per_block([one.kcal_per_step for one in lived])
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


def _band(reserves: list[Floats]) -> Band | None:
    if not reserves:
        return None
    together = np.array(reserves)
    return Band(
        low=_rounded(together.min(axis=0), 3),
        median=_rounded(np.median(together, axis=0), 3),
        high=_rounded(together.max(axis=0), 3),
    )


def _muscles(done: list[WorkDone], known: Catalogue, blocks: int) -> list[MuscleShare]:
    """Mean seconds of tension a muscle, most worked first; muscles without any are left out."""
    shares = [
        MuscleShare(
            muscle=muscle.id,
            name=muscle.name,
            prime_s=round(sum(one.prime_s[muscle.id] for one in done) / len(done), 1),
            helping_s=round(sum(one.helping_s[muscle.id] for one in done) / len(done), 1),
            prime_by_block_s=[
                round(sum(one.prime_in_block_s.get((muscle.id, block), 0.0) for one in done) / len(done), 1)
                for block in range(blocks)
            ],
        )
        for muscle in known.muscles.values()
    ]
    worked = [share for share in shares if share.prime_s or share.helping_s]
    return sorted(worked, key=lambda share: (-share.prime_s, -share.helping_s))


def _rounded(values: Floats | Sequence[float], digits: int = 1) -> list[float]:
    rounded: list[float] = np.round(np.asarray(values, dtype=np.float64), digits).tolist()
    return rounded


def _counted(number: int, one: str, many: str = "") -> str:
    return f"{number} {one if number == 1 else many or one + 's'}"
