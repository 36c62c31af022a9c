"""A change document carried out on a plan."""

from __future__ import annotations

from collections.abc import Callable

from oaken.basis.faults import Fault, FaultyInput, faults_in
from oaken.domain.catalogue import Catalogue
from oaken.domain.prescription import Load
from oaken.plan.blocks import CircuitBlock, Slot, Station, with_rest
from oaken.plan.changes.documents import (
    AddBlock,
    Change,
    DoInstead,
    DropsOnLastOnly,
    InTurn,
    Later,
    LeaveOut,
    LighterWeek,
    MakeRotation,
    MilderForHeat,
    MoveSlot,
    ScaleRests,
    SetChange,
    SetLoad,
    SetRest,
    SetRounds,
    SetScheme,
    SetTest,
    ShortenHolds,
    ShorterRests,
    SwapExercise,
)
from oaken.plan.changes.parts import SlotEdit, with_load, with_short_holds
from oaken.plan.changes.plans import (
    drops_on_last_only,
    in_turn,
    lighter_week,
    milder,
    move,
    on_blocks,
    on_slots,
    scaled_rests,
    swap,
    with_rounds,
    with_scheme,
    with_template,
    with_tests,
)
from oaken.plan.document import ClassPlan
from oaken.plan.wishes import Instead


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
        case AddBlock():
            return plan.model_copy(update={"blocks": with_template(plan, change.template)})
        case DoInstead():
            return do_instead(plan, change, catalogue)
        case MilderForHeat():
            return milder(plan)
        case SetRounds():
            return on_blocks(
                plan, lambda block: with_rounds(block, change.rounds) if block.id == change.block else block
            )
        case LeaveOut():
            return on_blocks(plan, lambda block: None if block.id == change.block else block)
        case ShorterRests():
            return scaled_rests(plan, change.factor)
        case SetScheme():
            if strangers := [slot for slot in change.slots if slot not in ids]:
                raise FaultyInput([_missing("slots", f"the plan has no slot {strangers[0]!r} (any more)")])
            return with_scheme(plan, change, catalogue)
        case ScaleRests():
            return scaled_rests(plan, change.factor)
        case InTurn():
            if missing := [item for item in (change.exercise, change.other) if item not in catalogue.exercises]:
                raise FaultyInput([_missing("exercise", f"{missing[0]!r} is not in the catalogue")])
            return in_turn(plan, change.exercise, catalogue.exercises[change.other])
        case LighterWeek():
            return lighter_week(plan, change, catalogue)
        case SetTest():
            return with_tests(plan, change, catalogue)
        case Later():
            return _later(plan, change, catalogue)
        case MakeRotation():
            # it takes the room and the people: oaken.schedule.arrange.apply does it
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


def _later(plan: ClassPlan, change: Later, catalogue: Catalogue) -> ClassPlan:
    """The plan changed behind a block only. What is added between blocks is taken where it stands behind that block."""
    changed = apply(plan, change.change, catalogue)
    ids = [block.id for block in plan.blocks]
    stay = plan.blocks[: ids.index(change.block) + 1]
    kept = {block.id for block in stay}
    # of what is new, only what stands behind the last block that stays
    last = max((at for at, block in enumerate(changed.blocks) if block.id in kept), default=-1)
    return changed.model_copy(update={"blocks": [*stay, *changed.blocks[last + 1 :]]})


def do_instead(plan: ClassPlan, change: DoInstead, catalogue: Catalogue) -> ClassPlan:
    """The plan in which these people do the other exercise; what they did in this one's place before is forgotten."""
    if missing := [item for item in (change.exercise, change.other) if item not in catalogue.exercises]:
        raise FaultyInput([_missing("exercise", f"{missing[0]!r} is not in the catalogue")])
    if strangers := [person for person in change.people if person not in plan.people]:
        raise FaultyInput([_missing("people", f"{strangers[0]!r} is not in this class (any more)")])
    kept = []
    for item in plan.instead:
        if item.exercise == change.exercise:
            left = [name for name in item.people if name not in change.people]
            if not left and item.level is None:
                continue
            item = item.model_copy(update={"people": left})
        kept.append(item)
    # the first that holds counts, so what is said of single people comes before what is said of a level
    new = Instead(exercise=change.exercise, other=change.other, people=list(change.people))
    return plan.model_copy(update={"instead": [new, *kept]})


def _missing(name: str, message: str) -> Fault:
    return faults_in("the change", "change.")(name, message, "reload the class")


def _only(slot_id: str, change: Callable[[Slot], Slot]) -> SlotEdit:
    return lambda slot: change(slot) if slot.id == slot_id else slot


def _station_load(station_id: str, load: Load) -> Callable[[Station], Station]:
    return lambda item: item.model_copy(update={"load": load}) if item.id == station_id else item
