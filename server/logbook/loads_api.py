"""Endpoints of next time's loads: how the studio and people raise them, proposals for a class, and what is taken."""

from __future__ import annotations

from typing import Annotated

from django.http import HttpRequest
from django.shortcuts import get_object_or_404
from django.utils import timezone
from ninja import Router, Status
from oaken.basis.faults import Faults
from oaken.domain.people.person import MOST_SET_LOADS
from oaken.domain.room import Hardware, settable_kg
from oaken.programme.progress import LoadProposal, LoadRules, School, SchoolInWords, Today, schools
from planning import keeping as plans
from pydantic import BaseModel, Field
from studio.access import RowId, needs, studio_of
from studio.answers import Answer
from studio.own import house_catalogue

from logbook import progress

router = Router(tags=["loads"], auth=needs("read_health"))


class SchoolSave(BaseModel):
    """How loads are raised for a person; None: as the house does."""

    school: School | None


class NextLoadOut(Answer):
    """A proposal for one person and exercise."""

    person: str
    exercise: str
    name: str
    unit: str
    unit_name: str
    plan_says: str
    working_kg: float | None
    working_sets_kg: list[float]
    loads_kg: list[float]
    proposal: LoadProposal


class NextLoadsAsked(BaseModel):
    """How people are today, by id; whoever is not named is as usual."""

    today: Annotated[dict[Annotated[str, Field(max_length=60)], Today], Field(max_length=60)] = {}


class TakenLoad(BaseModel):
    """A load that is taken (None: no working load any more), set by set where the sets differ: the load is then the
    heaviest of them."""

    person: Annotated[str, Field(max_length=60)]
    exercise: Annotated[str, Field(max_length=60)]
    load_kg: Annotated[float, Field(gt=0, le=900)] | None
    sets_kg: Annotated[list[Annotated[float, Field(gt=0, le=900)]], Field(max_length=MOST_SET_LOADS)] = []


class TakenLoads(BaseModel):
    """Loads that are taken, all of them or none."""

    taken: Annotated[list[TakenLoad], Field(min_length=1, max_length=4000)]


class TakenOut(Answer):
    """How many working loads changed."""

    changed: int


class LoadRulesOut(Answer):
    """How the house raises loads, and what ways there are."""

    rules: LoadRules
    schools: list[SchoolInWords]


@router.put("/people/{key}/load-school", response={204: None, 422: Faults})
def keep_school(request: HttpRequest, key: str, given: SchoolSave) -> Status[None]:
    """Keep how loads are raised for a person."""
    person = get_object_or_404(studio_of(request).people, erased=False, key=key)
    person.load_school = given.school or ""
    person.save(update_fields=["load_school"])
    return Status(204, None)


@router.get("/load-rules", response=LoadRulesOut)
def read_rules(request: HttpRequest) -> LoadRulesOut:
    """How this house raises loads."""
    return LoadRulesOut(rules=progress.rules_of(studio_of(request)), schools=list(schools().values()))


@router.put("/load-rules", response={200: LoadRulesOut, 422: Faults})
def keep_rules(request: HttpRequest, rules: LoadRules) -> LoadRulesOut:
    """Keep how this house raises loads."""
    studio = studio_of(request)
    studio.load_rules = rules.model_dump(mode="json")
    studio.save(update_fields=["load_rules"])
    return read_rules(request)


@router.post("/classes/{class_id}/next-loads", response={200: list[NextLoadOut], 422: Faults})
def propose_loads(request: HttpRequest, class_id: RowId, asked: NextLoadsAsked) -> list[NextLoadOut]:
    """What to put on next time, for everybody of a class and every exercise of it that takes a load."""
    studio = studio_of(request)
    planned = get_object_or_404(studio.classes, pk=class_id)
    plan = plans.plan_of(planned.revisions.latest("number"))
    kept = get_object_or_404(studio.rooms.prefetch_related("units", "zones"), key=plan.room)
    room = plan.room_of(kept.to_core())
    known = house_catalogue(studio)
    units = {unit.id: unit for unit in room.units}
    return [
        NextLoadOut(
            person=next_load.person,
            exercise=next_load.exercise,
            name=progress.name_in(known, next_load.exercise),
            unit=next_load.unit,
            unit_name=units[next_load.unit].name if next_load.unit else "",
            plan_says=next_load.plan_says,
            working_kg=next_load.working_kg,
            working_sets_kg=list(next_load.working_sets_kg),
            loads_kg=_loads_near(units[next_load.unit].hardware if next_load.unit else None, next_load.proposal),
            proposal=next_load.proposal,
        )
        for next_load in progress.next_loads(studio, plan, room, timezone.localdate(timezone=studio.zone), asked.today)
    ]


@router.put("/next-loads", response={200: TakenOut, 422: Faults})
def take_loads(request: HttpRequest, given: TakenLoads) -> TakenOut:
    """Make these the working loads: from now on they stand where a plan says nothing of the load."""
    taken = [progress.Taken(item.person, item.exercise, item.load_kg, tuple(item.sets_kg)) for item in given.taken]
    return TakenOut(changed=progress.take(studio_of(request), taken))


NEAR_LOADS = 6
"""Loads below the lightest and above the heaviest set of a proposal that are offered in its place."""


def _loads_near(hardware: Hardware | None, proposal: LoadProposal) -> list[float]:
    wanted = [item.load_kg for item in proposal.sets]
    if hardware is None or not wanted:
        return []
    loads = settable_kg(hardware)
    lightest, heaviest = (
        min(range(len(loads)), key=lambda place: abs(loads[place] - kg)) for kg in (min(wanted), max(wanted))
    )
    return list(loads[max(0, lightest - NEAR_LOADS) : heaviest + NEAR_LOADS + 1])
