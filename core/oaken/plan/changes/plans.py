"""Changes of a whole plan as pure functions: fitting, levels and the change documents are made of them."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Annotated, Literal

from pydantic import BaseModel, Field, model_validator

from oaken.domain.catalogue import Catalogue, Exercise
from oaken.domain.prescription import Load, Segment, SetRun, merged
from oaken.domain.prescription.schemes import SetShape, begins_alike, reshaped
from oaken.plan.blocks import (
    AnyPart,
    Block,
    CircuitBlock,
    Group,
    PartEdit,
    SetsBlock,
    Slot,
    Station,
    TogetherBlock,
    with_rest,
    with_segments,
)
from oaken.plan.changes.parts import SlotEdit, has_drops, refit, without_drops
from oaken.plan.document import ClassPlan
from oaken.plan.wishes import Instead

Edit = Callable[[ClassPlan], ClassPlan]


class SetsAndReps(BaseModel):
    """So many working sets, repetitions (a window with `reps_to`), share of best, and rest, of the named slots or of
    all; what is not given stays."""

    slots: Annotated[tuple[str, ...], Field(max_length=60)] = ()
    sets: Annotated[int, Field(ge=1, le=12)] | None = None
    reps: Annotated[int, Field(ge=1, le=60)] | None = None
    reps_to: Annotated[int, Field(ge=2, le=60)] | None = None
    share_of_best: Annotated[float, Field(gt=0, le=1.2)] | None = None
    rest_s: Annotated[int, Field(ge=0, le=600)] | None = None

    @model_validator(mode="after")
    def a_window_has_a_lower_end(self) -> SetsAndReps:
        if self.reps_to is not None and (self.reps is None or self.reps_to <= self.reps):
            raise ValueError("reps_to is the upper end of a window, above reps")
        if (self.sets, self.reps, self.share_of_best, self.rest_s) == (None, None, None, None):
            raise ValueError("a scheme says at least one of sets, reps, share_of_best and rest_s")
        return self


def on_blocks(plan: ClassPlan, change: Callable[[Block], Block | None]) -> ClassPlan:
    """The plan with every block changed; a block that becomes None is left out, the last one stays."""
    kept = [found for block in plan.blocks if (found := change(block)) is not None]
    return plan.model_copy(update={"blocks": kept}) if kept else plan


def on_parts(plan: ClassPlan, change: PartEdit) -> ClassPlan:
    """The plan with every slot, station and leg changed; what becomes None is left out, with its group or block."""
    return on_blocks(plan, lambda block: block.with_parts(change))


def on_slots(
    plan: ClassPlan, change: SlotEdit, station: Callable[[Station], Station | None] = lambda item: item
) -> ClassPlan:
    """The plan with every slot (and station) changed; what becomes None is left out, with its group or block."""

    def changed(part: AnyPart) -> AnyPart | None:
        match part:
            case Slot():
                return change(part)
            case Station():
                return station(part)
            case _:
                return part

    return on_parts(plan, changed)


def on_sets(plan: ClassPlan, change: Callable[[Group, Slot], Slot]) -> ClassPlan:
    """Every slot of the blocks of sets changed; what everybody does together stays."""

    def on_block(block: Block) -> Block:
        if not isinstance(block, SetsBlock):
            return block
        groups = [
            group.model_copy(update={"slots": [change(group, slot) for slot in group.slots]}) for group in block.groups
        ]
        return block.model_copy(update={"groups": groups})

    return on_blocks(plan, on_block)


LEAST_REST_PAIR_S, LEAST_REST_SINGLE_S = 15, 45
"""Below this nobody's rest is shortened: in a superset, behind a single exercise (common practice, no source)."""


def scaled_rests(plan: ClassPlan, factor: float) -> ClassPlan:
    """The plan with its rests between sets and rounds longer or shorter, in steps of 5 s, and never below the least."""

    def rested(group: Group, slot: Slot) -> Slot:
        floor = LEAST_REST_PAIR_S if len(group.slots) > 1 else LEAST_REST_SINGLE_S

        def scaled(rest: int) -> int:
            if factor >= 1:
                return round(rest * factor / 5) * 5
            return min(rest, max(floor, round(rest * factor / 5) * 5)) if rest else rest

        return with_rest(slot, scaled)

    def between_rounds(block: Block) -> Block:
        if not isinstance(block, CircuitBlock) or block.round_rest_s is None:
            return block
        rest_s = min(1800, max(block.change_s, round(block.round_rest_s * factor / 5) * 5))
        return block.model_copy(update={"round_rest_s": rest_s})

    return on_sets(on_blocks(plan, between_rounds), rested)


def with_rounds(block: Block, rounds: int, only: str | None = None) -> Block:
    """A block of stations with so many rounds, a block of sets with so many sets at most of everything, or of the
    `only` group of this id."""
    if isinstance(block, CircuitBlock):
        return block.model_copy(update={"rounds": rounds})
    if isinstance(block, SetsBlock):
        groups = [
            group
            if only not in (None, group.id)
            else group.model_copy(
                update={
                    "slots": [
                        slot.model_copy(update={"sets": reshaped(slot.sets, min(slot.rounds, rounds))})
                        for slot in group.slots
                    ]
                }
            )
            for group in block.groups
        ]
        return block.model_copy(update={"groups": groups})
    return block


def with_scheme(plan: ClassPlan, scheme: SetsAndReps, catalogue: Catalogue) -> ClassPlan:
    """Another scheme for the slots it names, or for every one in blocks of sets that counts repetitions and takes a
    load. Its sets are working sets: what leads up to them stays, a last one that differs stays the last, and a list in
    which no set is like another keeps its sets. What is done in turn with such a slot, as often, is done as often then.
    """

    def on_group(group: Group) -> Group:
        slots = [_slot_in_scheme(group, slot, scheme, catalogue) for slot in group.slots]
        rounds = {before.rounds: after.rounds for before, after in zip(group.slots, slots, strict=True)
                  if before.rounds != after.rounds}  # fmt: skip
        if not scheme.slots:
            slots = [
                slot.model_copy(update={"sets": reshaped(slot.sets, rounds[slot.rounds])})
                if slot is before and slot.rounds in rounds and takes_scheme(before, scheme, catalogue) != "changed"
                else slot
                for before, slot in zip(group.slots, slots, strict=True)
            ]
        touched = any(takes_scheme(slot, scheme, catalogue) == "changed" for slot in group.slots)
        if touched and scheme.rest_s is not None and not scheme.slots:
            # the rest behind a round is that of its last exercise, whatever it is
            wanted = scheme.rest_s
            slots = [*slots[:-1], with_rest(slots[-1], lambda rest: wanted)]
        return group.model_copy(update={"slots": slots})

    def on_block(block: Block) -> Block:
        if not isinstance(block, SetsBlock):
            return block
        return block.model_copy(update={"groups": [on_group(group) for group in block.groups]})

    return on_blocks(plan, on_block)


Taken = Literal["changed", "uneven", "unloaded", "not counted", "not named"]
"""What a scheme does with a slot: it is changed, or why its sets stay as they are."""


def takes_scheme(slot: Slot, scheme: SetsAndReps, catalogue: Catalogue) -> Taken:
    """What a scheme does with a slot of a block of sets."""
    if scheme.slots and slot.id not in scheme.slots:
        return "not named"
    if not scheme.slots and not _counts(slot):
        return "not counted"
    if not scheme.slots and not catalogue.exercises[slot.exercise].takes_load:
        return "unloaded"
    return "uneven" if SetShape.of(slot.sets).uneven else "changed"


def _slot_in_scheme(group: Group, slot: Slot, scheme: SetsAndReps, catalogue: Catalogue) -> Slot:
    taken = takes_scheme(slot, scheme, catalogue)
    if taken not in ("changed", "uneven"):
        return slot
    if taken == "changed":
        exercise, shape = catalogue.exercises[slot.exercise], SetShape.of(slot.sets)
        work = [_run_in_scheme(run, scheme, exercise) for run in shape.work]
        last = shape.last
        if last is not None and begins_alike(last, shape.work[0]):
            last = _run_in_scheme(last, scheme, exercise)
        if scheme.sets == 1:
            # one set is a working set
            last = None
        changed = SetShape(shape.ramp, tuple(work), last)
        sets = len(work) if scheme.sets is None else scheme.sets - (last is not None)
        slot = slot.model_copy(update={"sets": changed.with_work(sets)})
    if scheme.rest_s is not None:
        wanted, behind_all = scheme.rest_s, slot.id == group.slots[-1].id
        # between the exercises of a superset there is no rest, and none comes
        slot = with_rest(slot, lambda rest: wanted if rest or behind_all else rest)
    return slot


def _run_in_scheme(run: SetRun, scheme: SetsAndReps, exercise: Exercise) -> SetRun:
    return run.model_copy(update={"segments": [_in_scheme(segment, scheme, exercise) for segment in run.segments]})


def _counts(slot: Slot) -> bool:
    return slot.sets[0].segments[0].reps is not None


def _in_scheme(segment: Segment, scheme: SetsAndReps, exercise: Exercise) -> Segment:
    update: dict[str, object] = {}
    if scheme.reps is not None and segment.reps is not None and segment.change is None:
        update.update(reps=scheme.reps, reps_to=scheme.reps_to)
    if scheme.share_of_best is not None and exercise.takes_load and segment.change is None:
        update["load"] = Load(share_of_best=scheme.share_of_best)
    return segment.model_copy(update=update)


def in_turn(plan: ClassPlan, exercise: str, other: Exercise) -> ClassPlan:
    """Another exercise wherever this one stands."""
    return on_parts(plan, lambda part: refit(part, other) if part.exercise == exercise else part)


def with_instead(plan: ClassPlan, exercise: str, other: str, people: Sequence[str]) -> ClassPlan:
    """The plan in which these people do the other exercise; what they did in this one's place before is forgotten."""
    kept = []
    for item in plan.instead:
        if item.exercise == exercise:
            left = [name for name in item.people if name not in people]
            if not left and item.level is None:
                continue
            item = item.model_copy(update={"people": left})
        kept.append(item)
    # the first that holds counts, so what is said of single people comes before what is said of a level
    new = Instead(exercise=exercise, other=other, people=list(people))
    return plan.model_copy(update={"instead": [new, *kept]})


REPS_A_LOAD = 30
"""Repetitions that go with all of a load, so that a tenth less leaves three more (Epley 1985, linear in repetitions,
from memory)."""


def _further_from_failure(load: Load, factor: float) -> Load:
    """A load by repetitions so much lighter: more of them are left, or more could be done."""
    more = round(REPS_A_LOAD * (1 - factor))
    if load.reps_left is not None:
        return Load(reps_left=min(10, load.reps_left + more))
    return Load(rep_max=min(30, (load.rep_max or 0) + more))


def lighter_week(plan: ClassPlan, sets_fewer: int, load_factor: float, catalogue: Catalogue) -> ClassPlan:
    """Fewer sets, lighter loads, a round fewer of stations: as much as is said, and never nothing."""

    def lighter(load: Load | None) -> Load | None:
        if load is None or load.effort is not None:
            return load
        if load.by_effort:
            return _further_from_failure(load, load_factor)
        way = load.way
        return Load.model_validate({way: round(getattr(load, way) * load_factor, 3)})

    def eased(_: Group, slot: Slot) -> Slot:
        if not catalogue.exercises[slot.exercise].is_work:
            return slot
        # which sets lead up is told by their loads as planned
        slot = slot.model_copy(update={"sets": reshaped(slot.sets, max(1, slot.rounds - sets_fewer))})
        return with_segments(slot, lambda item: item.model_copy(update={"load": lighter(item.load)}))

    def fewer(block: Block) -> Block:
        if not isinstance(block, CircuitBlock):
            return block
        stations = [station.model_copy(update={"load": lighter(station.load)}) for station in block.stations]
        rounds = max(1, block.rounds - (1 if sets_fewer else 0))
        return block.model_copy(update={"rounds": rounds, "stations": stations})

    return on_blocks(on_sets(plan, eased), fewer)


def with_tests(plan: ClassPlan, sets_before: int, catalogue: Catalogue) -> ClassPlan:
    """The last working set of every loaded lift of both legs to failure, after so many others: a set from which a best
    is estimated. Lists in which no set is like another stay."""

    def tested(_: Group, slot: Slot) -> Slot:
        exercise, shape = catalogue.exercises[slot.exercise], SetShape.of(slot.sets)
        large = exercise.takes_load and exercise.muscle_mass == "two_leg_compound" and not exercise.is_static
        if not large or not _counts(slot) or shape.uneven:
            return slot
        work = shape.work[0]
        on = work.segments[0].model_copy(update={"to_failure": True, "reps_to": None})
        last = work.model_copy(update={"segments": [on], "rest_s": slot.sets[-1].rest_s})
        before = [work] * sets_before
        return slot.model_copy(update={"sets": merged([*shape.ramp, *before, last])})

    return on_sets(plan, tested)


def swap(plan: ClassPlan, part: str, exercise: Exercise) -> ClassPlan:
    """Another exercise in the slot, station or leg of this id."""
    return on_parts(plan, lambda item: refit(item, exercise) if item.id == part else item)


def move(plan: ClassPlan, part: str, to: str, behind: str = "") -> ClassPlan:
    """A slot, station or leg to another place of its block; in a block of sets its group moves as a whole."""
    return on_blocks(plan, lambda block: block.moved(part, to, behind))


def drops_on_last_only(plan: ClassPlan) -> ClassPlan:
    """Drop sets stay only on the last set of the last slot that has any."""
    slots = [part for part in plan.parts() if isinstance(part, Slot) and has_drops(part)]
    last = slots[-1].id if slots else ""

    def eased(slot: Slot) -> Slot:
        if not has_drops(slot):
            return slot
        if slot.id != last:
            return without_drops(slot)
        plain = without_drops(slot).sets
        final = slot.sets[-1].once()
        before = [run for run in plain[:-1]]
        tail = plain[-1]
        if tail.times > 1:
            before.append(tail.model_copy(update={"times": tail.times - 1}))
        return slot.model_copy(update={"sets": merged([*before, final])})

    return on_slots(plan, eased)


MORE_REST = 1.5
WATER_S = 60


def milder(plan: ClassPlan) -> ClassPlan:
    """The class for a warm room: half as much rest again after sets and rounds, drop sets on the last set of the last
    slot only, and a water break after every block of work that another follows (common practice, no source)."""

    rested = on_blocks(drops_on_last_only(plan), lambda block: block.milder(MORE_REST))
    taken = {part.id for part in plan.parts()}
    blocks: list[Block] = []
    for place, block in enumerate(rested.blocks):
        blocks.append(block)
        behind = rested.blocks[place + 1] if place + 1 < len(rested.blocks) else None
        if behind is None or isinstance(block, TogetherBlock) or behind.purpose == "water":
            continue
        number = next(n for n in range(1, 100) if f"water-{n}" not in taken)
        taken |= {f"water-{number}", f"water-{number}-drink"}
        drink = Slot(id=f"water-{number}-drink", exercise="water", sets=[SetRun(segments=[Segment(seconds=WATER_S)])])
        blocks.append(
            TogetherBlock(
                id=f"water-{number}", kind="together", name="Water", purpose="water", move_on_s=0, slots=[drink]
            )
        )
    return rested.model_copy(update={"blocks": blocks})


def with_template(plan: ClassPlan, template: str) -> list[Block]:
    """The blocks with a warm-up put first or a cool-down put last."""
    taken = {part.id for part in plan.parts()}

    def fresh(name: str) -> str:
        number = 1
        while f"{name}-{number}" in taken:
            number += 1
        taken.add(f"{name}-{number}")
        return f"{name}-{number}"

    def slot(exercise: str, seconds: int, **fields: object) -> Slot:
        segment = Segment.model_validate({"seconds": seconds, **fields})
        return Slot(id=fresh(exercise), exercise=exercise, sets=[SetRun(segments=[segment])])

    if template == "warm_up":
        block = TogetherBlock(
            id=fresh("warm-up"), kind="together", name="Warm-up", purpose="warm_up", move_on_s=45,
            slots=[slot("marching", 300), slot("leg-swings", 20, sides="each_side"), slot("bodyweight-squat", 40)],
        )  # fmt: skip
        return [block, *plan.blocks]
    stretch = {"sides": "each_side"}
    block = TogetherBlock(
        id=fresh("cool-down"), kind="together", name="Cool-down", purpose="cool_down", move_on_s=0,
        slots=[slot("easy-walk", 180), slot("quadriceps-stretch", 20, **stretch),
               slot("hamstring-stretch", 20, **stretch), slot("calf-stretch", 20, **stretch)],
    )  # fmt: skip
    return [*plan.blocks, block]
