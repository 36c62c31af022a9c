"""The blocks of a class from exercises in their order: stations, groups of sets, warm-up and cool-down."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cached_property

from oaken.design.generator.arranged import walk_between
from oaken.design.generator.pool import Choice, Pool, load_is_known
from oaken.design.generator.request import DoseRule, EasyPart, Variant, choosing
from oaken.design.generator.weighed import is_main_lift
from oaken.domain.catalogue import Exercise
from oaken.domain.people.conditions import concerns, kind_to
from oaken.domain.prescription import Load, LoadChange, Segment, SetRun
from oaken.plan import Block, CircuitBlock, ClassPlan, Group, Instead, SetsBlock, Slot, Station, TogetherBlock
from oaken.schedule.timeline.schedule import NO_EQUIPMENT

BLOCK_MOVE_S, WARM_UP_MOVE_S = 60, 45
STEP_S = 5
LEAST_REPS, LEAST_REST_S = 4, 20
"""What a variant of a dose leaves at least (common practice, no source)."""


@dataclass(frozen=True)
class Dose:
    """How much of everything: work, change and rounds of stations; sets, repetitions and rest of groups; the share of
    best. With `turn_s` two share a place of a station."""

    work_s: int
    change_s: int
    rounds: int
    sets: int
    reps: int
    rest_s: int
    share: float
    turn_s: int | None = None

    @classmethod
    def usual(cls, pool: Pool, variant: Variant | None = None) -> Dose:
        """What is usual for the aim, lighter where at least half are beginners, and after a hard day; with a variant so
        much more or less of it."""
        rule: DoseRule = choosing().doses[pool.class_request.aim]
        beginners = sum(person.level == "beginner" for person in pool.people)
        lighter = choosing().lighter_for_beginners if 2 * beginners >= pool.crowd else 0.0
        lighter += 0.0 if pool.class_request.hard_before is None else choosing().lighter_after_hard
        usual = cls(rule.work_s, rule.change_s, 3, rule.sets, rule.reps, rule.rest_s, round(rule.share - lighter, 2))
        if variant is None:
            return usual
        return usual.with_(
            work_s=usual.work_s + variant.work_s,
            sets=max(2, usual.sets + variant.sets),
            reps=max(LEAST_REPS, usual.reps + variant.reps),
            rest_s=max(LEAST_REST_S, usual.rest_s + variant.rest_s),
            share=round(usual.share + variant.share, 2),
        )

    def with_(self, **changes: int | float | None) -> Dose:
        """The same with some of it changed."""
        return replace(self, **changes)  # type: ignore[arg-type]


def load_of(choice: Choice, dose: Dose, pool: Pool) -> Load | None:
    """What people work with where they know it (loads follow their progress), else a share of their bests, else so that
    some repetitions are left."""
    exercise = choice.exercise
    if not exercise.takes_load:
        return None
    doing = [person for person in pool.people if all(person.id not in people for people in choice.elsewhere.values())]
    if 2 * sum(exercise.id in item.working_kg for item in doing) >= len(doing):
        return None
    if load_is_known(choice, pool.crowd):
        return Load(share_of_best=_share_of(exercise, dose, pool))
    return Load(reps_left=choosing().reps_left)


def change_needed(order: Sequence[Choice], pool: Pool) -> int:
    """Seconds to walk to the next station, set it up and change its load, the longest, in steps of five."""
    kinds = pool.known.equipment
    needs = [
        walk_between(here.exercise, there.exercise, pool.room)
        + kinds[there.exercise.equipment].set_up_s
        + (kinds[there.exercise.equipment].load_change_s if there.exercise.takes_load else 0.0)
        for here, there in zip(order, [*order[1:], order[0]], strict=True)
    ]
    return -(-int(max(needs) + 0.999) // STEP_S) * STEP_S


def stations(order: Sequence[Choice], dose: Dose, pool: Pool) -> CircuitBlock:
    """Stations on the clock."""
    return CircuitBlock(
        kind="circuit",
        name="Partner stations" if dose.turn_s else "Stations",
        purpose="conditioning" if pool.class_request.aim == "conditioning" else "strength",
        work_s=dose.work_s,
        change_s=dose.change_s,
        rounds=dose.rounds,
        round_rest_s=None if dose.rounds == 1 else max(dose.change_s, choosing().stations.round_rest_s),
        turn_s=dose.turn_s,
        move_on_s=BLOCK_MOVE_S,
        stations=[Station(exercise=item.exercise.id, load=load_of(item, dose, pool)) for item in order],
    )


def groups(found: Sequence[Sequence[Choice]], dose: Dose, pool: Pool) -> SetsBlock:
    """Groups of sets at people's own pace."""
    names = {1: "Sets", 2: "Pairs", 3: "Tri-sets"}
    ramped, differs = _ramped(found), _whose_last_set_differs(found, pool)
    return SetsBlock(
        kind="sets",
        name=names.get(max(len(group) for group in found), "Giant sets"),
        purpose="strength",
        move_on_s=BLOCK_MOVE_S,
        groups=[
            Group(
                id=f"group-{at}",
                slots=[
                    Slot(
                        exercise=item.exercise.id,
                        sets=_sets_of(
                            item,
                            _dose_of(group, dose, pool, ramped),
                            pool,
                            rest_s=dose.rest_s if item is group[-1] else 0,
                            ramped=item.exercise.id in ramped,
                            last_differs=item.exercise.id == differs,
                        ),
                    )
                    for item in group
                ],
            )
            for at, group in enumerate(found, 1)
        ],
    )


def _dose_of(group: Sequence[Choice], dose: Dose, pool: Pool, ramped: Sequence[str]) -> Dose:
    """The dose of a group: where working sets are wanted, one fewer where none leads up to them."""
    if pool.class_request.sets is None or any(item.exercise.id in ramped for item in group):
        return dose
    return dose.with_(sets=pool.class_request.sets)


def _ramped(found: Sequence[Sequence[Choice]]) -> list[str]:
    """The main lifts that are ramped up to."""
    heads = [group[0].exercise for group in found if is_main_lift(group[0].exercise)]
    return [exercise.id for exercise in heads[:RAMPED]]


def _whose_last_set_differs(found: Sequence[Sequence[Choice]], pool: Pool) -> str:
    """The last accessory on a guided machine, whose last set goes on to failure; empty where people are beginners."""
    if not choosing().doses[pool.class_request.aim].accessory.last or pool.class_request.level == "beginner":
        return ""
    if any(person.level == "beginner" for person in pool.people):
        return ""
    guided = [
        item.exercise.id
        for group in found
        for item in group
        if item.exercise.takes_load
        and not is_main_lift(item.exercise)
        and pool.known.equipment[item.exercise.equipment].holds == "stack"
        and set_seconds(item.exercise) is None
    ]
    return guided[-1] if guided else ""


def reps_of(exercise: Exercise, dose: Dose, pool: Pool) -> int:
    """Repetitions of a set by what is done: few where a main lift is heavy, more where nothing is lifted."""
    rule = choosing().doses[pool.class_request.aim]
    if not exercise.takes_load:
        return rule.unloaded.reps
    return dose.reps if is_main_lift(exercise) else rule.accessory.reps


def _share_of(exercise: Exercise, dose: Dose, pool: Pool) -> float:
    rule = choosing().doses[pool.class_request.aim]
    return dose.share if is_main_lift(exercise) else round(dose.share - rule.share + rule.accessory.share, 2)


def _sets_of(choice: Choice, dose: Dose, pool: Pool, *, rest_s: int, ramped: bool, last_differs: bool) -> list[SetRun]:
    """The sets of an exercise: ramped up where it is a main lift, the last one different where that is wanted."""
    exercise, rule = choice.exercise, choosing().doses[pool.class_request.aim]
    load, seconds = load_of(choice, dose, pool), set_seconds(exercise, rule.unloaded.hold_s)
    if seconds is not None:
        held = Segment(seconds=seconds, sides="each_side" if exercise.one_sided else None, load=load)
        return [SetRun(times=dose.sets, segments=[held], rest_s=rest_s)]
    paused = rule.held_s if is_main_lift(exercise) else 0.0
    work = Segment(reps=reps_of(exercise, dose, pool), load=load, held_s=paused)
    if ramped and rule.ramp is not None and load is not None and dose.sets > 2:
        by_best = load.share_of_best is not None
        light = Load(share_of_best=rule.ramp.share) if by_best else Load(reps_left=rule.ramp.reps_left)
        ramp = SetRun(times=1, segments=[Segment(reps=rule.ramp.reps, load=light)], rest_s=rest_s)
        return [ramp, SetRun(times=dose.sets - 1, segments=[work], rest_s=rest_s)]
    if last_differs and dose.sets > 1:
        if rule.accessory.last == "drop":
            on = Segment(reps=FEWER_AFTER_DROP, to_failure=True, change=LoadChange(percent=-DROP_PERCENT))
            last = [work, on]
        else:
            last = [work.model_copy(update={"to_failure": True})]
        return [
            SetRun(times=dose.sets - 1, segments=[work], rest_s=rest_s),
            SetRun(times=1, segments=last, rest_s=rest_s),
        ]
    return [SetRun(times=dose.sets, segments=[work], rest_s=rest_s)]


DROP_PERCENT, FEWER_AFTER_DROP = 20, 8
"""A drop set goes on at a fifth less to failure, about eight repetitions (common practice, no source)."""

RAMPED = 2
"""So many main lifts of a class are ramped up to: those that head the first groups."""


def set_seconds(exercise: Exercise, hold_s: int = 30) -> int | None:
    """Seconds of a set of what is not counted in repetitions, a side; None where repetitions are counted."""
    if exercise.nature == "rhythmic" or exercise.speed_m_per_s is not None:
        return 40
    return hold_s if exercise.is_static else None


@dataclass(frozen=True)
class Frame:
    """What goes before and after the main part, with the seconds of its easy parts: they take up what is left."""

    pool: Pool
    warm_s: int
    cool_s: int
    short: bool = False
    trained: tuple[str, ...] = ()

    @classmethod
    def usual(cls, pool: Pool, chosen: Sequence[Choice] = ()) -> Frame:
        """The usual easy parts; the least of them, and fewer drills, where the slot is short. What was `chosen` is
        stretched in the end, what most of it trains first."""
        rules, short = choosing(), pool.class_request.slot_min < 30
        return cls(
            pool,
            rules.warm_up.least_s if short else rules.warm_up.usual_s,
            rules.cool_down.least_s if short else rules.cool_down.usual_s,
            short,
            tuple(
                name for name, _ in Counter(muscle for item in chosen for muscle in item.exercise.prime).most_common()
            ),
        )

    @property
    def easy_s(self) -> int:
        """Seconds of the easy parts; `least_s` and `most_s` are what they may come to."""
        return self.warm_s + self.cool_s

    @property
    def least_s(self) -> int:
        """The least they may be."""
        return choosing().warm_up.least_s + choosing().cool_down.least_s

    @property
    def most_s(self) -> int:
        """The most they may be."""
        return choosing().warm_up.most_s + choosing().cool_down.most_s

    def fitting(self, spare_s: float) -> tuple[Frame, float]:
        """The frame longer or shorter by what is spare (in steps of five), and what is spare then."""
        rules = choosing()
        warm, cool = self.warm_s, self.cool_s
        left = spare_s
        for _ in range(2000):
            step = STEP_S if left >= STEP_S else -STEP_S if left < 0 else 0
            if not step:
                break
            # two thirds of it belong to the warm-up
            to_warm = _within(warm + step, rules.warm_up) and (
                not _within(cool + step, rules.cool_down)
                or (warm - self.warm_s) * step <= 2 * (cool - self.cool_s) * step
            )
            if to_warm:
                warm += step
            elif _within(cool + step, rules.cool_down):
                cool += step
            else:
                break
            left -= step
        return replace(self, warm_s=warm, cool_s=cool), left

    def _may(self, name: str) -> Exercise | None:
        """An exercise that everybody can do here at once and that asks for no care with anybody."""
        exercise = self.pool.known.exercises.get(name)
        if exercise is None or name in self.pool.class_request.leave_out.exercises:
            return None
        enough = (
            exercise.equipment == NO_EQUIPMENT or len(self.pool.room.working(exercise.equipment)) >= self.pool.crowd
        )
        # stretches stand in no table of care, but some are marked
        worries = [concern for person in self.pool.people for concern in concerns(person, exercise) if concern.for_care]
        kind = not worries and (not exercise.is_work or kind_to(self.pool.people, exercise))
        return exercise if enough and kind else None

    @cached_property
    def ends(self) -> tuple[TogetherBlock, TogetherBlock]:
        """Warm-up and cool-down as they are timed: made once, and not to be changed."""
        return self.warm_up(), self.cool_down()

    def warm_up(self) -> TogetherBlock:
        """Easy first, then dynamic and what the day is about, lightly."""
        rules, day = choosing(), choosing().days[self.pool.class_request.day]
        easy = next((one for name in rules.warm_up.easy if (one := self._may(name))), None)
        name = easy.id if easy is not None else "easy-walk"
        slots = [Slot(exercise=name, sets=[SetRun(segments=[Segment(seconds=self.warm_s)])])]
        drills = [one for name in day.warm_up if (one := self._may(name))]
        for drill in drills[: 1 if self.short else None]:
            if drill.nature == "mobility":
                segment = Segment(seconds=rules.warm_up.drill_s, sides="each_side" if drill.one_sided else None)
            else:
                segment = Segment(reps=rules.warm_up.drill_reps, sides="each_side" if drill.one_sided else None)
            slots.append(Slot(exercise=drill.id, sets=[SetRun(segments=[segment])]))
        return TogetherBlock(kind="together", name="Warm-up", purpose="warm_up", move_on_s=WARM_UP_MOVE_S, slots=slots)

    def cool_down(self) -> TogetherBlock:
        """Easy again, then held stretches of what was trained."""
        rules, day = choosing(), choosing().days[self.pool.class_request.day]
        assert isinstance(rules.cool_down.easy, str)
        slots = [Slot(exercise=rules.cool_down.easy, sets=[SetRun(segments=[Segment(seconds=self.cool_s)])])]
        stretches = [rules.stretches[muscle] for muscle in self.trained if muscle in rules.stretches] or day.cool_down
        held = [one for name in stretches[: len(day.cool_down)] if (one := self._may(name))]
        for stretch in held[: 1 if self.short else None]:
            segment = Segment(seconds=rules.cool_down.hold_s, sides="each_side" if stretch.one_sided else None)
            slots.append(Slot(exercise=stretch.id, sets=[SetRun(segments=[segment])]))
        return TogetherBlock(kind="together", name="Cool-down", purpose="cool_down", move_on_s=0, slots=slots)


def _within(seconds: int, part: EasyPart) -> bool:
    return part.least_s <= seconds <= part.most_s


def class_of(main: Sequence[Block], frame: Frame, chosen: Sequence[Choice]) -> ClassPlan:
    """The whole class; whoever does something kinder or easier in the place of an exercise is named in `instead`."""
    class_request = frame.pool.class_request
    return ClassPlan(
        name=class_request.name,
        slot_min=class_request.slot_min,
        starts=class_request.starts,
        aim=class_request.aim,
        level=class_request.level,
        room=class_request.room,
        people=list(class_request.people),
        instead=[
            Instead(exercise=item.exercise.id, other=other, people=list(people))
            for item in chosen
            for other, people in item.elsewhere.items()
        ],
        blocks=[frame.warm_up(), *(block.model_copy(deep=True) for block in main), frame.cool_down()],
    )
