"""Changes of a plan: pure functions from plan to plan, and the small documents that name them.

Cautions carry them as the safer choice that can be applied; fitting and levels are made of the same functions.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Annotated, Literal, TypeVar

from pydantic import BaseModel, ConfigDict, Field

from oaken.catalogue import Catalogue, Exercise
from oaken.plan import (
    Block,
    CircuitBlock,
    ClassPlan,
    Group,
    Instead,
    Leg,
    RelayBlock,
    SetsBlock,
    Slot,
    Station,
    TogetherBlock,
)
from oaken.prescription import Load, Segment, SetRun, merged
from oaken.problems import FaultyInput, Problem

Edit = Callable[[ClassPlan], ClassPlan]
SlotEdit = Callable[[Slot], Slot | None]
AnyPart = TypeVar("AnyPart", Station, Slot, Leg)
Anything = TypeVar("Anything")


class _Change(BaseModel):
    model_config = ConfigDict(frozen=True, extra="forbid")


class SwapExercise(_Change):
    """Another exercise in a slot; what it cannot take (a load, metres) is dropped."""

    do: Literal["swap_exercise"] = "swap_exercise"
    slot: str
    exercise: str


class MoveSlot(_Change):
    """A slot to another place: first or last of its block, or behind another slot. A group moves as a whole."""

    do: Literal["move_slot"] = "move_slot"
    slot: str
    to: Literal["first", "last", "behind"]
    behind: str = ""


class SetLoad(_Change):
    """A lighter or heavier load for all sets of a slot, as share of best."""

    do: Literal["set_load"] = "set_load"
    slot: str
    share_of_best: Annotated[float, Field(gt=0, le=1.2)]


class SetRest(_Change):
    """At least these seconds of rest after every set of a slot."""

    do: Literal["set_rest"] = "set_rest"
    slot: str
    rest_s: Annotated[int, Field(ge=0, le=1800)]


class ShortenHolds(_Change):
    """No hold of a slot longer than these seconds."""

    do: Literal["shorten_holds"] = "shorten_holds"
    slot: str
    seconds: Annotated[int, Field(ge=1, le=3600)]


class DropsOnLastOnly(_Change):
    """Drop sets stay only on the last set of the last slot that has any."""

    do: Literal["drops_on_last_only"] = "drops_on_last_only"


class AddStretch(_Change):
    """A warm-up put first or a cool-down put last."""

    do: Literal["add_block"] = "add_block"
    template: Literal["warm_up", "cool_down"]


class SetChange(_Change):
    """Another change interval of a block of stations."""

    do: Literal["set_change"] = "set_change"
    block: str
    change_s: Annotated[int, Field(ge=0, le=1800)]


class MakeRotation(_Change):
    """A better order of everybody's visits in a block of sets."""

    do: Literal["make_rotation"] = "make_rotation"
    block: str


class DoInstead(_Change):
    """Another exercise for some people wherever this one stands."""

    do: Literal["do_instead"] = "do_instead"
    exercise: str
    other: str
    people: Annotated[tuple[str, ...], Field(min_length=1, max_length=60)]


class MilderForHeat(_Change):
    """A milder class for a warm room: half as much rest again, drop sets on the last one only, water after blocks."""

    do: Literal["milder_for_heat"] = "milder_for_heat"


Change = Annotated[
    SwapExercise
    | MoveSlot
    | SetLoad
    | SetRest
    | ShortenHolds
    | DropsOnLastOnly
    | AddStretch
    | SetChange
    | DoInstead
    | MilderForHeat
    | MakeRotation,
    Field(discriminator="do"),
]


def apply(plan: ClassPlan, change: Change, catalogue: Catalogue) -> ClassPlan:
    """The changed plan. Raises FaultyInput when the plan has not got what the change speaks of."""
    ids = {part.id for part in plan.parts()}
    for name in ("slot", "block", "behind"):
        wanted = getattr(change, name, "")
        if wanted and wanted not in ids:
            raise FaultyInput([_missing(name, f"the plan has no {name} {wanted!r} (any more)")])
    match change:
        case SwapExercise():
            exercise = catalogue.exercises.get(change.exercise)
            if exercise is None:
                raise FaultyInput([_missing("exercise", f"{change.exercise!r} is not in the catalogue")])
            return swap(plan, change.slot, exercise)
        case MoveSlot():
            return move(plan, change.slot, change.to, change.behind)
        case SetLoad():
            load = Load(share_of_best=change.share_of_best)
            return on_slots(
                plan, _only(change.slot, lambda slot: with_load(slot, load)), _station_load(change.slot, load)
            )
        case SetRest():
            return on_slots(
                plan, _only(change.slot, lambda slot: with_rest(slot, lambda rest: max(rest, change.rest_s)))
            )
        case ShortenHolds():
            return on_slots(plan, _only(change.slot, lambda slot: with_short_holds(slot, change.seconds)))
        case DropsOnLastOnly():
            return drops_on_last_only(plan)
        case AddStretch():
            return plan.model_copy(update={"blocks": _with_template(plan, change.template)})
        case DoInstead():
            return do_instead(plan, change, catalogue)
        case MilderForHeat():
            return milder(plan)
        case MakeRotation():
            # it takes the room and the people: oaken.arrange.apply does it
            raise FaultyInput([_missing("block", "a rotation cannot be made from the plan alone")])
        case SetChange():
            return on_blocks(
                plan,
                lambda block: (
                    block.model_copy(update={"change_s": change.change_s})
                    if block.id == change.block and isinstance(block, CircuitBlock)
                    else block
                ),
            )


def do_instead(plan: ClassPlan, change: DoInstead, catalogue: Catalogue) -> ClassPlan:
    """The plan in which these people do the other exercise; what they did in this one's place before is forgotten."""
    if missing := [one for one in (change.exercise, change.other) if one not in catalogue.exercises]:
        raise FaultyInput([_missing("exercise", f"{missing[0]!r} is not in the catalogue")])
    if strangers := [one for one in change.people if one not in plan.people]:
        raise FaultyInput([_missing("people", f"{strangers[0]!r} is not in this class (any more)")])
    kept = []
    for one in plan.instead:
        if one.exercise == change.exercise:
            left = [name for name in one.people if name not in change.people]
            if not left and one.level is None:
                continue
            one = one.model_copy(update={"people": left})
        kept.append(one)
    # the first that holds counts, so what is said of single people comes before what is said of a level
    new = Instead(exercise=change.exercise, other=change.other, people=list(change.people))
    return plan.model_copy(update={"instead": [new, *kept]})


MORE_REST = 1.5
WATER_S = 60


def milder(plan: ClassPlan) -> ClassPlan:
    """The class for a warm room: half as much rest again after sets and rounds, drop sets on the last set of the last
    slot only, and a water break after every block of work that another follows (common practice, no source)."""

    def eased(block: Block) -> Block:
        match block:
            case CircuitBlock():
                between = block.change_s if block.round_rest_s is None else block.round_rest_s
                return block.model_copy(update={"round_rest_s": min(1800, max(60, round(between * MORE_REST)))})
            case RelayBlock():
                legs = [
                    leg.model_copy(update={"rest_s": min(1800, round(leg.rest_s * MORE_REST))}) for leg in block.legs
                ]
                return block.model_copy(update={"legs": legs})
            case _:
                return block

    rested = on_sets(
        drops_on_last_only(plan), lambda _, slot: with_rest(slot, lambda rest: round(rest * MORE_REST / 5) * 5)
    )
    rested = on_blocks(rested, eased)
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


def _missing(name: str, message: str) -> Problem:
    return Problem(path=f"change.{name}", place="the change", field=name, message=message, right="reload the class")


# ---- walking over a plan ----------------------------------------------------------------------------------------


def on_blocks(plan: ClassPlan, change: Callable[[Block], Block | None]) -> ClassPlan:
    """The plan with every block changed; a block that becomes None is left out, the last one stays."""
    kept = [found for block in plan.blocks if (found := change(block)) is not None]
    return plan.model_copy(update={"blocks": kept}) if kept else plan


def on_slots(
    plan: ClassPlan, change: SlotEdit, station: Callable[[Station], Station | None] = lambda one: one
) -> ClassPlan:
    """The plan with every slot (and station) changed; what becomes None is left out, with its group or block."""

    def on_block(block: Block) -> Block | None:
        match block:
            case SetsBlock():
                groups = []
                for group in block.groups:
                    slots = [found for slot in group.slots if (found := change(slot)) is not None]
                    if slots:
                        groups.append(group.model_copy(update={"slots": slots}))
                return block.model_copy(update={"groups": groups}) if groups else None
            case TogetherBlock():
                slots = [found for slot in block.slots if (found := change(slot)) is not None]
                return block.model_copy(update={"slots": slots}) if slots else None
            case CircuitBlock():
                stations = [kept for one in block.stations if (kept := station(one)) is not None]
                return block.model_copy(update={"stations": stations}) if stations else None
            case RelayBlock():
                return block

    return on_blocks(plan, on_block)


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


def _only(slot_id: str, change: Callable[[Slot], Slot]) -> SlotEdit:
    return lambda slot: change(slot) if slot.id == slot_id else slot


def _station_load(station_id: str, load: Load) -> Callable[[Station], Station]:
    return lambda one: one.model_copy(update={"load": load}) if one.id == station_id else one


# ---- one slot ---------------------------------------------------------------------------------------------------


def with_runs(slot: Slot, change: Callable[[SetRun], SetRun | None]) -> Slot:
    """The slot with every run of sets changed, equal neighbours counted together."""
    runs = [found for run in slot.sets if (found := change(run)) is not None]
    return slot.model_copy(update={"sets": merged(runs)}) if runs else slot


def with_segments(slot: Slot, change: Callable[[Segment], Segment]) -> Slot:
    """The slot with every segment changed."""
    return with_runs(
        slot, lambda run: run.model_copy(update={"segments": [change(segment) for segment in run.segments]})
    )


def with_load(slot: Slot, load: Load) -> Slot:
    """One load for all sets; changes within a set stay."""
    return with_segments(
        slot,
        lambda segment: segment if segment.change is not None else segment.model_copy(update={"load": load}),
    )


def with_rest(slot: Slot, change: Callable[[int], int]) -> Slot:
    """Other rests after the sets."""

    def rested(run: SetRun) -> SetRun:
        rest_s = max(0, min(1800, change(run.rest_s)))
        return run.model_copy(update={"rest_s": rest_s, "rest_doing": run.rest_doing if rest_s else None})

    return with_runs(slot, rested)


def with_short_holds(slot: Slot, seconds: int) -> Slot:
    """No timed segment longer than these seconds."""
    return with_segments(
        slot,
        lambda segment: (
            segment.model_copy(update={"seconds": min(segment.seconds, seconds)})
            if segment.seconds is not None
            else segment
        ),
    )


def without_drops(slot: Slot) -> Slot:
    """Every set ends where its first lighter segment would begin."""

    def cut(run: SetRun) -> SetRun:
        kept = []
        for place, segment in enumerate(run.segments):
            if place > 0 and segment.change is not None and segment.change.lighter:
                break
            kept.append(segment)
        kept[-1] = kept[-1].model_copy(update={"pause_after_s": 0})
        return run.model_copy(update={"segments": kept})

    return with_runs(slot, cut)


def has_drops(slot: Slot) -> bool:
    """Whether a set of it goes on at a lighter load."""
    return any(
        segment.change is not None and segment.change.lighter for run in slot.sets for segment in run.segments[1:]
    )


def refit(slot: Slot, exercise: Exercise) -> Slot:
    """The slot with another exercise: loads go where none is taken, metres become seconds, sides are said anew."""

    def fitted(segment: Segment) -> Segment:
        update: dict[str, object] = {"stance": None, "setting": None, "tempo": None}
        if not exercise.takes_load:
            update.update(load=None, change=None)
        if segment.metres is not None and exercise.speed_m_per_s is None:
            update.update(metres=None, seconds=40)
        if not exercise.one_sided:
            update["sides"] = None
        elif segment.sides is None:
            update["sides"] = "each_side"
        return segment.model_copy(update=update)

    return with_segments(slot.model_copy(update={"exercise": exercise.id}), fitted)


def swap(plan: ClassPlan, slot_id: str, exercise: Exercise) -> ClassPlan:
    """Another exercise in the slot, station or leg of this id."""

    def station(one: Station) -> Station:
        return refit_station(one, exercise) if one.id == slot_id else one

    def legs(block: Block) -> Block:
        if not isinstance(block, RelayBlock):
            return block
        swapped = [refit_leg(leg, exercise) if leg.id == slot_id else leg for leg in block.legs]
        return block.model_copy(update={"legs": swapped})

    changed = on_slots(plan, lambda slot: refit(slot, exercise) if slot.id == slot_id else slot, station)
    return on_blocks(changed, legs)


def refit_station(station: Station, exercise: Exercise) -> Station:
    """The station with another exercise."""
    update: dict[str, object] = {"exercise": exercise.id, "tempo": None, "stance": None, "setting": None}
    if not exercise.takes_load:
        update["load"] = None
    return station.model_copy(update=update)


def refit_leg(leg: Leg, exercise: Exercise) -> Leg:
    """The leg with another exercise."""
    slot = refit(Slot(exercise=leg.exercise, sets=[SetRun(segments=[leg.turn])]), exercise)
    return leg.model_copy(update={"exercise": exercise.id, "turn": slot.sets[0].segments[0]})


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


# ---- places -----------------------------------------------------------------------------------------------------


def move(plan: ClassPlan, slot_id: str, to: str, behind: str = "") -> ClassPlan:
    """A slot, station or leg to another place of its block; in a block of sets its group moves as a whole."""

    def moved(block: Block) -> Block:
        match block:
            case SetsBlock():
                groups = block.groups
                at = next((g for g, group in enumerate(groups) if _holds(group, slot_id)), None)
                target = next((g for g, group in enumerate(groups) if _holds(group, behind)), None)
                return block if at is None else block.model_copy(update={"groups": _moved(groups, at, to, target)})
            case CircuitBlock():
                return block.model_copy(update={"stations": _moved_by_id(block.stations, slot_id, to, behind)})
            case TogetherBlock():
                return block.model_copy(update={"slots": _moved_by_id(block.slots, slot_id, to, behind)})
            case RelayBlock():
                return block.model_copy(update={"legs": _moved_by_id(block.legs, slot_id, to, behind)})

    return on_blocks(plan, moved)


def _holds(group: Group, slot_id: str) -> bool:
    return any(slot.id == slot_id for slot in group.slots)


def _moved_by_id(parts: list[AnyPart], slot_id: str, to: str, behind: str) -> list[AnyPart]:
    at = next((place for place, part in enumerate(parts) if part.id == slot_id), None)
    target = next((place for place, part in enumerate(parts) if part.id == behind), None)
    return parts if at is None else _moved(parts, at, to, target)


def _moved(parts: list[Anything], at: int, to: str, target: int | None) -> list[Anything]:
    rest = [part for place, part in enumerate(parts) if place != at]
    if to == "first":
        return [parts[at], *rest]
    if to == "last" or target is None:
        return [*rest, parts[at]]
    here = target + (1 if target < at else 0)
    return [*rest[:here], parts[at], *rest[here:]]


def _with_template(plan: ClassPlan, template: str) -> list[Block]:
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
