"""Endpoints of what is looked at before a class: the air, loads, the list to read. None of them keeps anything."""

from __future__ import annotations

from django.http import HttpRequest
from django.utils import timezone
from ninja import Router
from oaken.basis.faults import Fault, Faults, FaultyInput
from oaken.domain.room.hardware import Hardware, settable_kg
from oaken.forecast import forecast
from oaken.forecast.pre_class.checks import StartList, start_list
from oaken.physiology.heat import Air, Heat, heat_of
from oaken.physiology.strength.loading import Loading, loadings, share_by_reserve, share_by_window
from oaken.programme.progress import LoadProposal, LoadRules, propose_after
from oaken.schedule.arrange.load_sheet import LoadRow, load_sheet
from oaken.schedule.timeline import timeline_in
from pydantic import BaseModel, Field
from studio.access import needs, studio_of
from studio.own import house_catalogue

from planning import keeping
from planning.api import Draft

router = Router(tags=["before"])


class LoadsAsked(BaseModel):
    """Loads one after another on a unit: the wanted ones in kg, and the seconds there are for each change."""

    room: str
    unit: str
    wanted_kg: list[float] = Field(min_length=1, max_length=20)
    within_s: float | None = Field(default=None, ge=0, le=600)


class LoadsOut(BaseModel):
    """The loads as they can be set, the lightest and heaviest the unit holds, and what it holds."""

    loadings: list[Loading]
    lightest_kg: float | None
    heaviest_kg: float | None
    hardware: Hardware | None


class ShareAsked(BaseModel):
    """A dose: repetitions with some in reserve, or a window of repetitions."""

    reps: int = Field(ge=1, le=40)
    in_reserve: int = Field(default=0, ge=0, le=10)
    up_to: int | None = Field(default=None, ge=1, le=40)


class ShareOut(BaseModel):
    """The share of the best that goes with a dose."""

    share_of_best: float


class SetsDone(BaseModel):
    """The sets of a rep window on a unit, and whether form was poor."""

    room: str
    unit: str
    load_kg: float = Field(gt=0, le=900)
    reps: list[int] = Field(min_length=1, max_length=20)
    low: int = Field(ge=1, le=60)
    high: int = Field(ge=1, le=60)
    poor_form: bool = False


@router.post("/heat", response={200: Heat, 422: Faults}, auth=needs("run_classes"))
def read_heat(request: HttpRequest, air: Air) -> Heat:
    """What the air of a room means for a class."""
    return heat_of(air)


@router.post("/pre-class-check", response={200: StartList, 422: Faults})
def read_start_list(request: HttpRequest, draft: Draft) -> StartList:
    """Everything to read before this class starts today."""
    file = keeping.class_file_of(studio_of(request), draft.plan)
    return start_list(file, forecast(file), timezone.localdate())


@router.post("/loads", response={200: list[LoadRow], 422: Faults})
def read_loads(request: HttpRequest, draft: Draft) -> list[LoadRow]:
    """Everybody's loads at every slot as they can really be set."""
    scene = keeping.scene_of(studio_of(request), draft.plan, searching=False)
    around = scene.around
    by_kind = {kind.id: kind.load_change_s for kind in scene.catalogue.equipment.values()}
    return load_sheet(
        timeline_in(draft.plan, around), around.people, around.room, by_kind, scene.catalogue.usual_steps_kg
    )


@router.post("/loads/unit", response={200: LoadsOut, 422: Faults})
def set_loads(request: HttpRequest, asked: LoadsAsked) -> LoadsOut:
    """Loads one after another on one unit."""
    hardware, change_s, step_kg = _unit(request, asked.room, asked.unit)
    found = [] if hardware is None else settable_kg(hardware)
    return LoadsOut(
        loadings=loadings(hardware, asked.wanted_kg, change_s, asked.within_s, step_kg),
        lightest_kg=found[0] if found else None,
        heaviest_kg=found[-1] if found else None,
        hardware=hardware,
    )


@router.post("/loads/share", response={200: ShareOut, 422: Faults})
def share_for_dose(request: HttpRequest, asked: ShareAsked) -> ShareOut:
    """The share of the best that goes with a dose."""
    share = (
        share_by_reserve(asked.reps, asked.in_reserve)
        if asked.up_to is None
        else share_by_window(min(asked.reps, asked.up_to), max(asked.reps, asked.up_to))
    )
    return ShareOut(share_of_best=round(share, 4))


@router.post("/loads/next", response={200: LoadProposal, 422: Faults})
def load_next_time(request: HttpRequest, done: SetsDone) -> LoadProposal:
    """What the sets of a rep window say for the next time, as this house raises loads."""
    hardware, _, step_kg = _unit(request, done.room, done.unit)
    window = (min(done.low, done.high), max(done.low, done.high))
    rules = LoadRules.model_validate(studio_of(request).load_rules)
    today = timezone.localdate(timezone=studio_of(request).zone)
    return propose_after(
        hardware, done.load_kg, done.reps, window, today, poor=done.poor_form, big=step_kg >= 5, rules=rules
    )


def _unit(request: HttpRequest, room: str, unit: str) -> tuple[Hardware | None, float, float]:
    """What a unit holds, the seconds of a change on it, and the step of its kind. Raises FaultyInput for no unit."""
    studio = studio_of(request)
    kept = studio.rooms.filter(key=room).prefetch_related("units", "zones").first()
    found = (
        None if kept is None else next((each_unit for each_unit in kept.to_core().units if each_unit.id == unit), None)
    )
    if found is None:
        message = f"there is no unit {unit!r} in a room {room!r}"
        raise FaultyInput(
            [Fault(path="unit", place="the request", field="unit", message=message, right="a unit of a room")]
        )
    kind = house_catalogue(studio).equipment[found.kind]
    change_s = kind.load_change_s if found.load_change_s is None else found.load_change_s
    return found.hardware, change_s, kind.step_kg or 2.5
