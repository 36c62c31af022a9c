"""What the press beside a remark does to the plan."""

from __future__ import annotations

from pydantic import BaseModel

from oaken.basis.faults import FaultyInput, faults_in
from oaken.design.generator import ClassRequest, best_for
from oaken.design.goal_seeking import FigureGoal, reach
from oaken.design.review.remarks import Mend
from oaken.domain.prescription import Segment, SetRun
from oaken.plan import CircuitBlock, ClassPlan, Group, SetsBlock, Slot, Station, TogetherBlock, settled
from oaken.plan.blocks import with_segments
from oaken.plan.changes import DoInstead, MakeRotation
from oaken.schedule.arrange.apply import apply_to
from oaken.schedule.arrange.what_if import Scene
from oaken.schedule.class_file import ClassFile


class Mended(BaseModel):
    """The plan that a mend makes, and what it did in words."""

    plan: ClassPlan
    did: str


def mended(file: ClassFile, mend: Mend) -> Mended:
    """Carry a mend out. Raises FaultyInput where nothing can be done, with why."""
    plan, did = _mended(file, mend)
    return Mended(plan=ClassPlan.model_validate(settled(plan, file.catalogue()).model_dump()), did=did)


def _mended(file: ClassFile, mend: Mend) -> tuple[ClassPlan, str]:
    plan = file.plan
    if mend.change is not None:
        everybody = {person.id: person for person in file.people}
        did = "another order of the visits" if isinstance(mend.change, MakeRotation) else mend.label
        for change in (mend.change, *mend.more):
            plan = apply_to(Scene(plan, file.room, everybody, file.catalogue()), change)
        return plan, did
    if mend.aimed is not None:
        return _reached(file, mend.aimed)
    if mend.warm_up_s is not None:
        return _longer_warm_up(plan, mend.warm_up_s)
    if mend.first is not None:
        return _first(file, mend.first)
    if mend.muscle is not None:
        return _with_muscle(file, mend.muscle)
    raise _cannot("mend", "it says nothing that could be done")


def _cannot(field: str, why: str) -> FaultyInput:
    return FaultyInput([faults_in("the class")(field, why, "another way, by hand")])


def _reached(file: ClassFile, aimed: FigureGoal) -> tuple[ClassPlan, str]:
    limits = [] if aimed.figure in ("length", "chance_inside") else [
        FigureGoal(figure="length", want="at_most", value=file.plan.slot_min * 60)
    ]  # fmt: skip
    found = reach(file, aimed, limits)
    best = next((proposal for proposal in found.proposals if proposal.reached), None)
    if best is None:
        near = f"; the nearest is {found.proposals[0].value:g} {found.unit}" if found.proposals else ""
        raise _cannot("mend", f"no change that was tried brings {found.wanted}{near}")
    return best.plan, f"{best.name}: {best.detail}"


def _longer_warm_up(plan: ClassPlan, seconds: int) -> tuple[ClassPlan, str]:
    """The first timed part of the first block everybody does together, so much longer."""
    for at, block in enumerate(plan.blocks):
        if not isinstance(block, TogetherBlock):
            continue
        for place, slot in enumerate(block.slots):
            timed = slot.sets[0].segments[0].seconds
            if timed is None or slot.sets[0].segments[0].hold:
                continue

            def longer(segment: Segment) -> Segment:
                if segment.seconds is None:
                    return segment
                to = None if segment.seconds_to is None else segment.seconds_to + seconds
                return segment.model_copy(update={"seconds": segment.seconds + seconds, "seconds_to": to})

            slots = [with_segments(slot, longer) if at_ == place else slot for at_, slot in enumerate(block.slots)]
            changed = block.model_copy(update={"slots": slots})
            blocks = [changed if number == at else block for number, block in enumerate(plan.blocks)]
            return plan.model_copy(
                update={"blocks": blocks}
            ), f"the warm-up is {seconds // 60}:{seconds % 60:02d} longer"
        break
    raise _cannot("warm-up", "no part of it goes by time")


def _first(file: ClassFile, block_id: str) -> tuple[ClassPlan, str]:
    plan, main = file.plan, file.plan.main_part()
    at = next((number for number, block in enumerate(plan.blocks) if block.id == block_id), None)
    to = next((number for number, counts in enumerate(main) if counts), None)
    if at is None or to is None:
        raise _cannot("block", "that block is no longer there")
    blocks = [block for number, block in enumerate(plan.blocks) if number != at]
    blocks.insert(to, plan.blocks[at])
    return plan.model_copy(update={"blocks": blocks}), f"“{plan.blocks[at].name}” comes first"


def _with_muscle(file: ClassFile, muscle: str) -> tuple[ClassPlan, str]:
    """One exercise more for a muscle, in the format of the main part."""
    plan, known = file.plan, file.catalogue()
    class_request = ClassRequest(
        room=plan.room, people=list(plan.people), aim=plan.aim, level=plan.level, slot_min=plan.slot_min
    )
    here = {part.exercise for _, part in plan.placed()}
    choice = best_for(muscle, class_request, file, here)
    if choice is None:
        raise _cannot("muscle", "nothing for it can be done here by everybody")
    exercise = choice.exercise
    blocks = list(plan.blocks)
    for at in reversed(range(len(blocks))):
        block = blocks[at]
        if isinstance(block, CircuitBlock):
            blocks[at] = block.model_copy(
                update={"stations": [*block.stations, Station(exercise=exercise.id)], "circle": None}
            )
            break
        if isinstance(block, SetsBlock):
            like = block.groups[-1].slots[-1].sets[0]
            segment = Segment(reps=10) if not exercise.is_static else Segment(seconds=30)
            sets = [SetRun(times=3, segments=[segment], rest_s=max(30, like.rest_s))]
            group = Group(slots=[Slot(exercise=exercise.id, sets=sets)])
            blocks[at] = block.model_copy(update={"groups": [*block.groups, group], "rotation": None})
            break
    else:
        raise _cannot("muscle", "the class has neither stations nor sets to add it to")
    changed = ClassPlan.model_validate(plan.model_copy(update={"blocks": blocks}).model_dump())
    for other, people in choice.instead.items():
        changed = DoInstead(exercise=exercise.id, other=other, people=people).apply(changed, known)
    return changed, f"{exercise.name.lower()} is added"
