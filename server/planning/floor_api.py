"""Endpoints of the floor: who is where when, and what if. None of them keeps anything in the database."""

from __future__ import annotations

from typing import Annotated, Literal

from django.http import HttpRequest
from ninja import Router, Status
from oaken.basis.faults import Fault, Faults, FaultyInput
from oaken.plan import CircuitBlock, ClassPlan, Reference
from oaken.plan.blocks import MOST_IN_CLASS
from oaken.schedule.arrange.apply import sets_block, with_rotation
from oaken.schedule.arrange.circle import best_circle
from oaken.schedule.arrange.queues import Queue, queues_of
from oaken.schedule.arrange.replay import replay_class, runs_for
from oaken.schedule.arrange.search import BlockSearch, Phase
from oaken.schedule.arrange.trial import Trial
from oaken.schedule.arrange.what_if import (
    Affected,
    OneMore,
    Option,
    affected,
    one_more,
    repaired,
    without_person,
    without_unit,
)
from oaken.schedule.timeline import Outlook, timeline_in
from oaken.schedule.timeline.lineup import line_up
from pydantic import BaseModel, Field
from studio.access import needs, studio_of
from studio.turns import long_work

from planning import jobs, keeping

router = Router(tags=["floor"])


class RotationIn(BaseModel):
    """A block of a plan to find a rotation for; `effort` 1 is some seconds, more looks longer."""

    plan: ClassPlan
    block: Annotated[str, Field(max_length=60)]
    effort: Annotated[float, Field(ge=0.05, le=10)] = 1.0


class Tried(BaseModel):
    """What an order of the visits comes to: seconds of the block, everybody's waiting and walking in sum, what one
    person waits at the most, load changes."""

    length_s: float
    waiting_s: float
    longest_wait_s: float
    walking_s: float
    load_changes: int


class Why(BaseModel):
    """Why a wish cannot be kept, and what would help. `people` are numbers in the class."""

    message: str
    safer: str
    people: list[int]


class RotationJob(BaseModel):
    """A search for a rotation: how far it is, the block as it stood and as it is best, and what is proven of it.

    `missing` are kinds of equipment that somebody needs and of which no unit works: nothing is proven then.
    """

    id: str
    block: str
    state: jobs.State
    phase: Phase
    seconds: float
    improved: int
    before: Tried
    best: Tried
    bound_s: float
    gap: float
    proven: bool
    missing: list[str]
    within_s: int | None
    why_not: list[Why]


class PlanWith(BaseModel):
    """A plan that was made from another; nothing is kept yet."""

    plan: ClassPlan


class CircleOut(BaseModel):
    """Who begins where round a circuit, so that loads seldom change (changes in one round, before and now)."""

    plan: ClassPlan
    turns: int
    before: int
    changes: int
    proven: bool


class UnitReplay(BaseModel):
    """One unit in the replays of a block: share of the time in use, and mean seconds that people stand before it."""

    unit: str
    name: str
    used_share: float
    waited_for_s: float


class PersonReplay(BaseModel):
    """One person's waiting in the replays of a block: the mean, and what nine of ten replays stay below."""

    number: int
    waiting_s: float
    waiting_high_s: float


class BlockReplayOut(BaseModel):
    """A block of sets in the replays; `bottleneck` is the unit that holds it up most."""

    block: str
    length_s: float
    length_low_s: float
    length_high_s: float
    bottleneck: str
    units: list[UnitReplay]
    people: list[PersonReplay]


class ReplayOut(BaseModel):
    """The class replayed with chance: its length (middle and the range of eight in ten), the chance to overrun (%)."""

    runs: int
    length_s: float
    length_low_s: float
    length_high_s: float
    chance_over: float
    blocks: list[BlockReplayOut]


class PlanIn(BaseModel):
    """A plan, saved or not."""

    plan: ClassPlan


class UnitIn(BaseModel):
    """A plan and a unit of its room that this class cannot have."""

    plan: ClassPlan
    unit: Annotated[str, Field(max_length=60)]


class WithoutUnit(BaseModel):
    """The plan without the unit. Either it can go on (`options`), or some parts need another exercise (`affected`)."""

    plan: ClassPlan
    affected: list[Affected]
    options: list[Option]


class PartIn(BaseModel):
    """A slot or station of a plan."""

    plan: ClassPlan
    part: Annotated[str, Field(max_length=60)]


class RepairIn(BaseModel):
    """A plan as everybody was told it, and as it was changed since."""

    before: ClassPlan
    after: ClassPlan


class PeopleIn(BaseModel):
    """Who leaves a class and who comes to it, by id."""

    plan: ClassPlan
    leaves: Annotated[list[Reference], Field(max_length=MOST_IN_CLASS)] = []
    comes: Annotated[list[Reference], Field(max_length=MOST_IN_CLASS)] = []


@router.post("/rotations", response={201: RotationJob, 422: Faults})
@long_work
def begin_rotation(request: HttpRequest, given: RotationIn) -> Status[RotationJob]:
    """Begin to look for the best rotation of a block. The answer has what can be had at once."""
    scene = keeping.scene_of(studio_of(request), given.plan)
    block = sets_block(given.plan, given.block)
    search = BlockSearch(line_up(block, scene.around, Outlook.EXPECTED), given.effort)
    return Status(201, _job_out(jobs.begin(studio_of(request).pk, given.plan, given.block, search)))


@router.get("/rotations/{job_id}", response={200: RotationJob, 404: Faults})
def read_rotation(request: HttpRequest, job_id: str) -> RotationJob | Status[Faults]:
    """How far a search is."""
    job = jobs.find(studio_of(request).pk, job_id)
    return _job_out(job) if job is not None else Status(404, _forgotten(job_id))


@router.get("/rotations/{job_id}/plan", response={200: PlanWith, 404: Faults})
def use_rotation(request: HttpRequest, job_id: str) -> PlanWith | Status[Faults]:
    """The plan with the best rotation that the search has found so far."""
    job = jobs.find(studio_of(request).pk, job_id)
    if job is None:
        return Status(404, _forgotten(job_id))
    return PlanWith(plan=with_rotation(job.plan, job.block, job.search.best.rotation))


@router.delete("/rotations/{job_id}", response={200: RotationJob, 404: Faults})
def cancel_rotation(request: HttpRequest, job_id: str) -> RotationJob | Status[Faults]:
    """Stop a search; what it has found stays usable."""
    job = jobs.find(studio_of(request).pk, job_id)
    if job is None:
        return Status(404, _forgotten(job_id))
    job.cancel()
    return _job_out(job)


def _forgotten(job_id: str) -> Faults:
    message = "this search is not remembered any more"
    return Faults(faults=[Fault(path="job", place="the search", field="job", message=message, right="begin it again")])


def _job_out(job: jobs.Job) -> RotationJob:
    search = job.search
    return RotationJob(
        id=job.id,
        block=job.block,
        state=job.state,
        phase=search.phase,
        seconds=round(job.seconds, 1),
        improved=job.improved,
        before=_tried(search.before),
        best=_tried(search.best),
        bound_s=search.bound_s,
        gap=round(search.gap, 4),
        proven=search.proven,
        missing=search.missing_names,
        within_s=search.lineup.block.within_s,
        why_not=[
            Why(message=item.message, safer=item.safer, people=[person + 1 for person in item.people])
            for item in job.why_not
        ],
    )


def _tried(trial: Trial) -> Tried:
    return Tried(
        length_s=round(trial.length_s, 1),
        waiting_s=round(trial.waiting_s, 1),
        longest_wait_s=round(trial.longest_wait_s, 1),
        walking_s=round(trial.walking_s, 1),
        load_changes=trial.load_changes,
    )


@router.post("/circle", response={200: CircleOut, 422: Faults})
@long_work
def arrange_circle(request: HttpRequest, given: PartIn) -> CircleOut:
    """Who begins where in a block on the clock, so that loads seldom change. `part` is the block."""
    scene = keeping.scene_of(studio_of(request), given.plan)
    block = next((block for block in given.plan.blocks if block.id == given.part), None)
    if not isinstance(block, CircuitBlock):
        raise FaultyInput([_missing("block", given.part)])
    circle = best_circle(block, scene.around)
    blocks = [
        each_block.model_copy(update={"circle": circle.seats}) if each_block.id == block.id else each_block
        for each_block in given.plan.blocks
    ]
    return CircleOut(
        plan=given.plan.model_copy(update={"blocks": blocks}),
        turns=circle.turns,
        before=circle.before,
        changes=circle.changes,
        proven=circle.proven,
    )


@router.post("/replay", response={200: ReplayOut, 422: Faults}, auth=needs("run_classes"))
@long_work
def replay(request: HttpRequest, given: PlanIn) -> ReplayOut:
    """Replay a class many times with people as they are; the same plan always gives the same answer."""
    scene = keeping.scene_of(studio_of(request), given.plan)
    around = scene.around
    runs = runs_for(given.plan)
    found = replay_class(given.plan, around, runs)
    units = around.room.units
    low, middle, high = found.range_s
    return ReplayOut(
        runs=runs,
        length_s=middle,
        length_low_s=low,
        length_high_s=high,
        chance_over=round(100 * found.chance_over(given.plan.slot_min * 60), 1),
        blocks=[
            BlockReplayOut(
                block=given.plan.blocks[index].id,
                length_s=round(each_block.range_s[1], 1),
                length_low_s=round(each_block.range_s[0], 1),
                length_high_s=round(each_block.range_s[2], 1),
                bottleneck=units[each_block.bottleneck].id if each_block.bottleneck is not None else "",
                units=[
                    UnitReplay(
                        unit=units[unit].id,
                        name=units[unit].name,
                        used_share=round(share, 3),
                        waited_for_s=round(each_block.waited_for_s[unit], 1),
                    )
                    for unit, share in each_block.used_share.items()
                ],
                people=[
                    PersonReplay(number=number, waiting_s=round(float(mean), 1), waiting_high_s=round(float(high), 1))
                    for number, (mean, high) in enumerate(
                        zip(each_block.waits_s, each_block.waits_high_s, strict=True), 1
                    )
                ],
            )
            for index, each_block in found.blocks.items()
        ],
    )


@router.post("/queues", response={200: list[Queue], 422: Faults}, auth=needs("run_classes"))
def queues(request: HttpRequest, given: PlanIn) -> list[Queue]:
    """Who comes to every machine when, and with which load."""
    scene = keeping.scene_of(studio_of(request), given.plan)
    around = scene.around
    return queues_of(timeline_in(given.plan, around), around.people, around.room, scene.catalogue.usual_steps_kg)


@router.post("/what-if/taken", response={200: WithoutUnit, 422: Faults})
@long_work
def what_if_taken(request: HttpRequest, given: UnitIn) -> WithoutUnit:
    """A machine is broken or taken: what is affected, what could stand there, and how to go on."""
    scene = keeping.scene_of(studio_of(request), given.plan)
    if given.unit not in {unit.id for unit in scene.room.units}:
        raise FaultyInput([_missing("unit", given.unit)])
    plan, parts = without_unit(scene, given.unit)
    return WithoutUnit(plan=plan, affected=parts, options=[] if parts else _worth_showing(repaired(scene, plan)))


@router.post("/what-if/substitutes", response={200: Affected, 422: Faults})
@long_work
def what_if_swapped(request: HttpRequest, given: PartIn) -> Affected:
    """What could stand in the place of an exercise, best first, with what each would do to its block."""
    scene = keeping.scene_of(studio_of(request), given.plan)
    for block in given.plan.blocks:
        if any(part.id == given.part for part in block.parts):
            return affected(scene, scene, block, given.part)
    raise FaultyInput([_missing("part", given.part)])


@router.post("/what-if/repair", response={200: list[Option], 422: Faults})
@long_work
def what_if_repair(request: HttpRequest, given: RepairIn) -> list[Option]:
    """Ways to carry out a plan that was changed, with as few people as possible sent elsewhere than they were told."""
    before = keeping.scene_of(studio_of(request), given.before, coming=given.after.people)
    keeping.class_file_of(studio_of(request), given.after)
    return _worth_showing(repaired(before, given.after))


@router.post("/what-if/people", response={200: list[Option], 422: Faults})
@long_work
def what_if_people(request: HttpRequest, given: PeopleIn) -> list[Option]:
    """Somebody leaves or comes: ways to go on."""
    scene = keeping.scene_of(studio_of(request), given.plan, coming=given.comes)
    plan = given.plan
    for name in given.leaves:
        plan = without_person(plan, name)
    plan = plan.model_copy(
        update={"people": [*plan.people, *(name for name in given.comes if name not in plan.people)]}
    )
    if not plan.people:
        message = "nobody would be left in the class"
        raise FaultyInput(
            [Fault(path="leaves", place="the class", field="leaves", message=message, right="at least one person")]
        )
    return _worth_showing(repaired(scene, plan))


@router.post("/what-if/one-more", response={200: list[OneMore], 422: Faults})
@long_work
def what_if_one_more(request: HttpRequest, given: PlanIn) -> list[OneMore]:
    """What one machine more of each kind would save."""
    return one_more(keeping.scene_of(studio_of(request), given.plan))


def _worth_showing(options: list[Option]) -> list[Option]:
    """Nobody elsewhere, and the best: what lies between only where it is short."""
    return options if len(options) <= 3 else [options[0], options[len(options) // 2], options[-1]]


def _missing(field: Literal["block", "part", "unit"], name: str) -> Fault:
    return Fault(
        path=field,
        place="the request",
        field=field,
        message=f"there is no such {field}: {name!r}",
        right="reload the class",
    )
