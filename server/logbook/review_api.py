"""Endpoints of the review: what a careful colleague would say of a class, and the press that mends it."""

from __future__ import annotations

from typing import Annotated

from django.db import transaction
from django.http import HttpRequest
from django.shortcuts import get_object_or_404
from django.utils import timezone
from ninja import Router
from oaken.basis.faults import Faults
from oaken.basis.limits import most
from oaken.basis.names import AdviceKey
from oaken.design.review import AdviceList, Mend, Mended, advise, mended
from oaken.plan import ClassPlan
from planning import keeping
from planning.api import Draft
from pydantic import BaseModel, Field
from studio.access import RowId, studio_of
from studio.turns import long_work

from logbook.lately import day_of, history_of

router = Router(tags=["review"])


class Accepted(BaseModel):
    """Lines of a review by their keys."""

    keys: Annotated[list[AdviceKey], Field(min_length=1, max_length=most("class.accepted"))]


class MendIn(BaseModel):
    """A plan and what is to be mended in it."""

    plan: ClassPlan
    mend: Mend


@router.post("/review", response={200: AdviceList, 422: Faults})
@long_work
def look_again(request: HttpRequest, draft: Draft) -> AdviceList:
    """Everything worth a word before the start, the weightiest first, held against these people's own classes."""
    studio = studio_of(request)
    file = keeping.class_file_of(studio, draft.plan)
    now = timezone.now()
    on = day_of(draft.plan.starts, timezone.localdate(timezone=studio.zone))
    return advise(file, history_of(studio, draft.plan.people, on, now))


@router.get("/classes/{class_id}/review/accepted", response=list[AdviceKey])
def read_accepted(request: HttpRequest, class_id: RowId) -> list[str]:
    """The keys of the lines of this class's review that were seen and put away, the oldest first."""
    return list(get_object_or_404(studio_of(request).classes, pk=class_id).accepted)


@router.post("/classes/{class_id}/review/accepted", response={200: list[AdviceKey], 422: Faults})
def accept_lines(request: HttpRequest, class_id: RowId, given: Accepted) -> list[str]:
    """Put lines away for everybody until what they say changes. The oldest go where there are too many."""
    with transaction.atomic():
        planned = get_object_or_404(studio_of(request).classes.select_for_update(), pk=class_id)
        planned.accepted = list(dict.fromkeys([*planned.accepted, *given.keys]))[-most("class.accepted") :]
        planned.save(update_fields=["accepted"])
    return list(planned.accepted)


@router.delete("/classes/{class_id}/review/accepted", response=list[AdviceKey])
def take_acceptance_back(request: HttpRequest, class_id: RowId) -> list[str]:
    """Show every line again."""
    planned = get_object_or_404(studio_of(request).classes, pk=class_id)
    planned.accepted = []
    planned.save(update_fields=["accepted"])
    return []


@router.post("/review/mend", response={200: Mended, 422: Faults})
@long_work
def mend_it(request: HttpRequest, given: MendIn) -> Mended:
    """The plan with one remark mended; nothing is kept."""
    return mended(keeping.searched_file_of(studio_of(request), given.plan), given.mend)
