"""Endpoints of the design screen's tools: text, fitting, levels, changes, comparison. None of them keeps anything."""

from typing import Annotated, Any, Literal

from django.http import HttpRequest
from ninja import Router
from oaken.basis.faults import Faults, FaultyInput, faults_of
from oaken.design.adjustments.levels import Levelled, at_level
from oaken.design.first_class import Wanted, empty_class, first_class
from oaken.design.goal_seeking import (
    QUICK,
    WHOLE,
    FigureGoal,
    Fitting,
    GoalSearch,
    TradeAxis,
    TradeCurve,
    fit_to_slot,
    reach,
    trade_off,
)
from oaken.domain.people import Level
from oaken.forecast import Lever, levers_of
from oaken.forecast.scenarios import Scenarios, scenarios_of
from oaken.plan import ClassPlan, Leg, Slot, Station
from oaken.plan.blocks import Reference
from oaken.plan.changes import Change
from oaken.plan.keep_ids import with_ids_of
from oaken.plan.notation import TextFault, read_class_noting, read_part, text_of
from oaken.plan.notation.compare import differences
from oaken.plan.older_versions import upgraded
from oaken.schedule.arrange.apply import apply_to
from pydantic import BaseModel, ConfigDict, Field, ValidationError
from studio.access import studio_of
from studio.own import house_catalogue
from studio.turns import long_work

from planning import keeping
from planning.api import Draft

router = Router(tags=["design"])


class TextFaults(BaseModel):
    """What is wrong in a text, every fault at its word."""

    text_faults: list[TextFault]


class TextIn(BaseModel):
    """A class as text. What its head leaves out is taken from `plan`, whose parts keep their ids."""

    text: str
    plan: ClassPlan


class LineIn(BaseModel):
    """One line of a class."""

    line: str
    kind: Literal["slot", "station", "leg"]


class PlanOut(BaseModel):
    """A plan that was made from another; nothing is kept yet. `notices` say what words of a text were read as, where
    that is not to be seen at once."""

    plan: ClassPlan
    notices: list[TextFault] = []


class LineOut(BaseModel):
    """What a line describes, without an id, and what its words were read as where that is not to be seen at once."""

    part: Slot | Station | Leg
    notices: list[TextFault] = []


class TextOut(BaseModel):
    """A class as text."""

    text: str


class FitIn(BaseModel):
    """A plan to fit; `surely` asks for the longest outlook to end inside the slot."""

    plan: ClassPlan
    surely: bool = False


class AimIn(BaseModel):
    """A plan, the figure that is aimed at, and what has to hold meanwhile."""

    model_config = ConfigDict(extra="forbid")

    plan: ClassPlan
    aimed: FigureGoal
    limits: Annotated[list[FigureGoal], Field(max_length=6)] = []
    thoroughness: Literal["quick", "whole"] = "whole"


class CurveIn(BaseModel):
    """A plan, the two figures of a curve, what has to hold meanwhile, and the share of the tension that is kept."""

    plan: ClassPlan
    across: TradeAxis
    up: TradeAxis
    limits: Annotated[list[FigureGoal], Field(max_length=6)] = []
    work_kept: Annotated[float, Field(ge=0, le=1)] = 0.8


class LeversIn(BaseModel):
    """A plan, a figure of its forecast, and whose (by id); without a person that of the mean of the class."""

    plan: ClassPlan
    figure: Annotated[str, Field(max_length=60)]
    person: Reference | None = None


class LevelIn(BaseModel):
    """A plan and the level it is wanted for."""

    plan: ClassPlan
    level: Level


class ChangeIn(BaseModel):
    """A plan and a change to make to it."""

    plan: ClassPlan
    change: Change


class TwoPlans(BaseModel):
    """Two plans to compare."""

    before: ClassPlan
    after: ClassPlan


class Differences(BaseModel):
    """What changed from one plan to the other, in words."""

    changes: list[str]


class AnyPlan(BaseModel):
    """A plan as an older version may have kept it."""

    plan: dict[str, Any]


@router.post("/text/read", response={200: PlanOut, 422: TextFaults | Faults})
def read_plan_text(request: HttpRequest, given: TextIn) -> PlanOut:
    """The class that a text describes."""
    studio = studio_of(request)
    plan, notices = read_class_noting(given.text, house_catalogue(studio), given.plan, keeping.names_of(studio))
    return PlanOut(plan=with_ids_of(plan, given.plan), notices=notices)


@router.post("/text/write", response={200: TextOut, 422: Faults})
def write_plan_text(request: HttpRequest, draft: Draft) -> TextOut:
    """The class as text."""
    file = keeping.class_file_of(studio_of(request), draft.plan)
    return TextOut(text=text_of(file.plan, file.catalogue()))


@router.post("/text/line", response={200: LineOut, 422: TextFaults | Faults})
def read_line(request: HttpRequest, given: LineIn) -> LineOut:
    """The slot, station or leg that a line describes, without an id."""
    part, notices = read_part(given.kind, given.line, house_catalogue(studio_of(request)))
    return LineOut(part=part, notices=notices)


@router.post("/first-class", response={200: PlanOut, 422: Faults})
@long_work
def make_first_class(request: HttpRequest, wanted: Wanted) -> PlanOut:
    """A first class that uses the room and the slot: who, where, how long, what for, in which manner."""
    file = keeping.class_file_of(studio_of(request), empty_class(wanted))
    return PlanOut(plan=first_class(wanted, file.room_today, file.participants, file.catalogue()))


@router.post("/fit", response={200: Fitting, 422: Faults})
@long_work
def fit(request: HttpRequest, given: FitIn) -> Fitting:
    """Changes that bring a class into its slot, or fill it, lowest cost first."""
    return fit_to_slot(keeping.searched_file_of(studio_of(request), given.plan), surely=given.surely)


@router.post("/aim", response={200: GoalSearch, 422: Faults})
@long_work
def aim_at(request: HttpRequest, given: AimIn) -> GoalSearch:
    """Changes that bring a figure where it is wanted while the limits hold, the lowest cost first; or what stands in
    the way, with the nearest that can be had."""
    file = keeping.searched_file_of(studio_of(request), given.plan)
    return reach(file, given.aimed, given.limits, {"quick": QUICK, "whole": WHOLE}[given.thoroughness])


@router.post("/aim/curve", response={200: TradeCurve, 422: Faults})
@long_work
def trace_curve(request: HttpRequest, given: CurveIn) -> TradeCurve:
    """What more of one figure costs of another, as classes that can be taken; at least so much of the work is kept."""
    file = keeping.searched_file_of(studio_of(request), given.plan)
    return trade_off(file, given.across, given.up, given.limits, given.work_kept)


@router.post("/scenarios", response={200: Scenarios, 422: Faults})
@long_work
def other_sides(request: HttpRequest, draft: Draft) -> Scenarios:
    """The same class in other circumstances, side by side: more people, a machine gone, warmer, all beginners."""
    return scenarios_of(keeping.searched_file_of(studio_of(request), draft.plan))


@router.post("/levers", response={200: list[Lever], 422: Faults})
@long_work
def levers(request: HttpRequest, given: LeversIn) -> list[Lever]:
    """The inputs that move a figure most, each as low and as high as it may be."""
    return levers_of(keeping.class_file_of(studio_of(request), given.plan), given.figure, given.person)


@router.post("/levels", response={200: Levelled, 422: Faults})
def derive_level(request: HttpRequest, given: LevelIn) -> Levelled:
    """The class for another level, by stated rules."""
    file = keeping.class_file_of(studio_of(request), given.plan)
    return at_level(file.plan, given.level, file.catalogue(), file.room_today)


@router.post("/changes", response={200: PlanOut, 422: Faults})
@long_work
def change_plan(request: HttpRequest, given: ChangeIn) -> PlanOut:
    """The plan with one change: the safer choice of a caution."""
    changed = apply_to(keeping.scene_of(studio_of(request), given.plan), given.change)
    return PlanOut(plan=ClassPlan.model_validate(changed.model_dump()))


@router.post("/compare", response={200: Differences, 422: Faults})
def compare(request: HttpRequest, two: TwoPlans) -> Differences:
    """What changed from one plan to another."""
    known = house_catalogue(studio_of(request))
    for plan in (two.before, two.after):
        keeping.class_file_of(studio_of(request), plan)
    return Differences(changes=differences(two.before, two.after, known))


@router.post("/upgrade", response={200: PlanOut, 422: Faults})
def upgrade(request: HttpRequest, old: AnyPlan) -> PlanOut:
    """A draft that an older version left on a device, in today's form."""
    document = upgraded(old.plan)
    try:
        return PlanOut(plan=ClassPlan.model_validate(document))
    except ValidationError as error:
        raise FaultyInput(faults_of(error, document)) from error
