"""What each step of everybody's path demands of their body, as columns over the steps."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from math import hypot
from threading import RLock

import numpy as np
import numpy.typing as npt
from cachetools import LRUCache, cached

from oaken.domain.catalogue import Catalogue, Exercise
from oaken.domain.people import Person
from oaken.forecast.workload.work_done import WorkDone, work_done
from oaken.physiology.body import uptake_of
from oaken.physiology.demand import own_lifting_factor, pressor_share, usual_best_kg, work_met
from oaken.physiology.energy import EQUATION_SPREAD, TABLE_SPREAD
from oaken.physiology.heart_rate import Floats, Stretches
from oaken.physiology.metabolic import uptake
from oaken.physiology.strength import reserve_share
from oaken.schedule.timeline import BlockLayout, Bout, Circumstances, Doing, SlotUse, Step, Timeline, loads_of
from oaken.schedule.timeline.layout import KEPT_STEPS

Integers = npt.NDArray[np.int64]


@dataclass(frozen=True, slots=True)
class LayoutWorkload:
    """The steps of one layout in columns, person after person, on the layout's own axis.

    `times` are start and end (s), `places` doing, slot of the layout, lane, unit and round, `demands` the columns met,
    table_met, pressor, spread and work of `Workload`. `done` counts what each person does, without seconds of steps.
    """

    counts: Integers
    times: Floats
    places: Integers
    demands: Floats
    done: list[WorkDone]


@dataclass(frozen=True, slots=True)
class Workload:
    """The whole class: columns over everybody's steps, person after person, in the order of time.

    `met` is the demand: by metabolic equation at the setting that will be used wherever a machine or a way has one, by
    effort where rhythmic work says how hard, by activity table elsewhere. `table_met` is the activity table for all;
    `pressor` the heart's extra answer to straining as a share
    of its reserve, `work` whether the step counts as work in the densities, `spread` how far `met` may be off for this
    person and kind of work, as a share. `first` is where each person begins;
    `done` counts what each does in all, `in_blocks` block by block, without the seconds of the steps.
    """

    person: Integers
    first: Integers
    start_s: Floats
    end_s: Floats
    block: Integers
    doing: Integers
    slot: Integers
    lane: Integers
    unit: Integers
    round: Integers
    met: Floats
    table_met: Floats
    pressor: Floats
    work: npt.NDArray[np.bool_]
    spread: Floats
    stretches: Stretches
    done: list[WorkDone]
    in_blocks: list[list[WorkDone]]

    @property
    def minutes(self) -> Floats:
        """Length of each step in minutes."""
        return (self.end_s - self.start_s) / 60

    def per_person(self, values: Floats) -> Floats:
        """Sums of a column over each person's steps."""
        return np.add.reduceat(values, self.first)

    def of(self, person: int) -> slice:
        """Where a person's steps stand in the columns."""
        last = self.first.size - 1
        return slice(int(self.first[person]), int(self.first[person + 1]) if person < last else self.met.size)


def workload_of(
    timeline: Timeline, circumstances: Circumstances, depth: float, counted: Sequence[bool] | None = None
) -> Workload:
    """The workload of a class, planned or actual: what is read are the steps of its timeline and nothing else.

    `circumstances` say whose steps they are and what is known of exercises, `depth` is the share of the full way that
    squats go. `counted` says of every block whether its work and sets count in the densities (without it: all do).
    """
    blocks = [layout_workload(passage.layout, circumstances, depth) for passage in timeline.passages]
    crowd = len(circumstances.people)
    everybody = np.arange(crowd)
    moving = circumstances.catalogue.recovery_met["moving_between_machines"]
    persons, times, numbers, places, demands = [], [], [], [], []
    for index, (each_block, passage) in enumerate(zip(blocks, timeline.passages, strict=True)):
        own = each_block.places.copy()
        own[1] = np.where(own[1] >= 0, own[1] + passage.first_slot, -1)
        persons.append(np.repeat(everybody, each_block.counts))
        times.append(each_block.times + passage.zero_s)
        numbers.append(np.full(own.shape[1], index))
        places.append(own)
        demands.append(each_block.demands)
        if passage.move_s:
            end_s = passage.span.end_s
            persons.append(everybody)
            times.append(np.repeat([[end_s], [end_s + passage.move_s]], crowd, axis=1))
            numbers.append(np.full(crowd, index))
            places.append(np.repeat([[int(Doing.CHANGE)], [-1], [-1], [-1], [0]], crowd, axis=1))
            demands.append(np.repeat([[moving], [moving], [0.0], [TABLE_SPREAD], [0.0]], crowd, axis=1))
    person = np.concatenate(persons)
    order = np.argsort(person, kind="stable")
    person = person[order]
    start_s, end_s = np.concatenate(times, axis=1)[:, order]
    doing, slot, lane, unit, round_ = np.concatenate(places, axis=1)[:, order]
    met, table_met, pressor, spread, work = np.concatenate(demands, axis=1)[:, order]
    first = np.searchsorted(person, everybody, "left")
    block = np.concatenate(numbers)[order]
    return Workload(
        person=person,
        first=first,
        start_s=start_s,
        end_s=end_s,
        block=block,
        doing=doing,
        slot=slot,
        lane=lane,
        unit=unit,
        round=round_,
        met=met,
        table_met=table_met,
        pressor=pressor,
        work=work.astype(np.bool_),
        spread=spread,
        stretches=Stretches.cut(start_s, end_s, first),
        done=_in_all(
            [block.done for block in blocks],
            person,
            end_s - start_s,
            (doing, slot, work > 0),
            (block, np.array(counted if counted is not None else [True] * len(blocks), dtype=np.bool_)),
        ),
        in_blocks=[block.done for block in blocks],
    )


def _in_all(
    counted: list[list[WorkDone]],
    person: Integers,
    seconds: Floats,
    what: tuple[Integers, Integers, npt.NDArray[np.bool_]],
    dense: tuple[Integers, npt.NDArray[np.bool_]],
) -> list[WorkDone]:
    """What everybody did in all blocks, with the seconds of their steps; `what` is doing, slot and work of each.

    `dense` is the block of each step, and of every block whether it counts in the densities.
    """
    doing, slot, work = what
    crowd = len(counted[0])

    def sums(where: npt.NDArray[np.bool_]) -> list[float]:
        found: list[float] = np.bincount(person, weights=seconds * where, minlength=crowd).astype(np.float64).tolist()
        return found

    block, counts = dense
    working, waiting = sums(work), sums(doing == Doing.WAIT)
    main = sums(work & counts[block])
    changing = sums((doing == Doing.CHANGE) & (slot >= 0))
    total = [WorkDone.sum([done[who] for done in counted]) for who in range(crowd)]
    for who, done in enumerate(total):
        done.work_s, done.waiting_s, done.dense_s = working[who], waiting[who], main[who]
        done.dense_sets = sum(own[who].sets for own, counting in zip(counted, counts, strict=True) if counting)
        done.walking_s = max(0.0, changing[who] - done.set_up_s - done.load_change_s)
    return total


@cached(
    LRUCache(maxsize=KEPT_STEPS, getsizeof=lambda workload: 1 + int(workload.counts.sum())),
    key=lambda layout, around, depth: (layout, around.key, depth),
    lock=RLock(),
)
def layout_workload(layout: BlockLayout, around: Circumstances, depth: float) -> LayoutWorkload:
    """The workload of the steps of one layout, kept beside it: after an edit only what changed is computed anew."""
    known: _Known = {}
    columns = [
        _columns(path, layout.slots, person, around.catalogue, known)
        for path, person in zip(layout.paths, around.people, strict=True)
    ]
    return LayoutWorkload(
        counts=np.array([len(path) for path in layout.paths]),
        times=np.concatenate([times for times, _, _ in columns], axis=1),
        places=np.concatenate([places for _, places, _ in columns], axis=1),
        demands=np.concatenate([demands for _, _, demands in columns], axis=1),
        done=[
            work_done(path, layout.slots, person, around.room.units, depth)
            for path, person in zip(layout.paths, around.people, strict=True)
        ],
    )


_Known = dict[tuple[str, float | None], tuple[float, float]]
"""Demand by table and pressor share of exercises at shares of best, computed once for a whole block."""


def _columns(
    path: Sequence[Step], slots: list[SlotUse], person: Person, catalogue: Catalogue, known: _Known
) -> tuple[Floats, Integers, Floats]:
    """Times, places and demands of one person's steps."""
    if not path:
        return np.zeros((2, 0)), np.zeros((5, 0), dtype=np.int64), np.zeros((5, 0))
    recovery = catalogue.recovery_met
    idle = {
        Doing.CHANGE: recovery["moving_between_machines"],
        Doing.REST: recovery["between_sets"],
        Doing.WAIT: recovery["between_sets"],
        Doing.FINISHED: recovery["standing"],
        Doing.BREATHER: recovery["on_the_clock"],
    }
    # the few different demands of a path, and which of them each step has
    demands = [(idle.get(doing, 0.0), idle.get(doing, 0.0), 0.0, TABLE_SPREAD, False) for doing in Doing]
    places: dict[tuple[int, int], int] = {}
    of_step = []
    for step in path:
        if step.bout is None:
            if step.active is None:
                of_step.append(int(step.doing))
                continue
            key = (-1, id(step.active))
        else:
            key = (step.slot, id(step.bout))
        place = places.get(key)
        if place is None:
            place = places[key] = len(demands)
            if step.bout is not None:
                exercise = slots[step.slot].exercise
                demands.append((*_working(exercise, step.bout, person, catalogue, known), exercise.is_work))
            else:
                assert step.active is not None
                demands.append((*_working(step.active, None, person, catalogue, known), False))
        of_step.append(place)
    return (
        np.array([(step.start_s, step.end_s) for step in path]).T,
        np.array([(step.doing, step.slot, step.lane, step.unit, step.round) for step in path]).T,
        np.array(demands, dtype=np.float64)[of_step].T,
    )


def _working(
    exercise: Exercise, bout: Bout | None, person: Person, catalogue: Catalogue, known: _Known
) -> tuple[float, float, float, float]:
    """Demand, demand by activity table, pressor share, and spread of the demand, of one exercise at one load.

    Where a metabolic equation knows the machine or the way, it is the demand at the setting that will be used: the
    table does not know settings. Lifting counts for the load that a share of this person's own best stands for, and
    nobody's demand is above their maximal uptake.
    """
    share = None
    if bout is not None and exercise.takes_load:
        loads = loads_of(bout, person, exercise)
        share = loads.share(person.bests_kg.get(exercise.id))
        kg = loads.kg(None) if share is None else None
        if kg is not None:
            share = kg / usual_best_kg(exercise, person.body_mass_kg, catalogue)
    key = (exercise.id, share)
    if key not in known:
        known[key] = work_met(exercise, share, catalogue), pressor_share(exercise, share)
    table, pressor = known[key]
    load = bout.segment.load if bout is not None else None
    own = uptake_of(person)
    vo2max, spread = own.value, TABLE_SPREAD
    if load is not None and load.effort is not None and not exercise.takes_load:
        own_spread = hypot(TABLE_SPREAD, (own.high - own.low) / 2 / vo2max)
        return 1 + reserve_share(load.effort) * (vo2max / 3.5 - 1), table, pressor, own_spread
    setting = bout.setting if bout is not None else exercise.equation
    if setting is not None:
        met, spread = uptake(setting, person.body_mass_kg) / 3.5, EQUATION_SPREAD
    elif exercise.nature == "resistance":
        idle = catalogue.activities[exercise.activity].rest_met
        met = idle + (table - idle) * own_lifting_factor(vo2max)
        spread = hypot(TABLE_SPREAD, (own.high - own.low) / 2 / vo2max)
    else:
        met = table
        held = None if bout is None or exercise.nature != "body_weight" else bout.loads.kg(None)
        if held:
            # what is held is moved like the body's own mass (common practice, no source)
            idle = catalogue.activities[exercise.activity].rest_met
            met = idle + (table - idle) * (1 + held / person.body_mass_kg)
    # nobody takes up more than their maximum, whatever is asked
    return min(met, vo2max / 3.5), table, pressor, spread
