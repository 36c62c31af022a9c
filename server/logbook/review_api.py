"""Endpoints of the review: what a careful colleague would say of a class, and the press that mends it."""

from __future__ import annotations

from django.http import HttpRequest
from django.utils import timezone
from ninja import Router
from oaken.basis.faults import Faults
from oaken.design.review import AdviceList, Mend, Mended, advise, mended
from oaken.plan import ClassPlan
from planning import keeping
from planning.api import Draft
from pydantic import BaseModel
from studio.access import studio_of
from studio.turns import long_work

from logbook.lately import day_of, history_of

router = Router(tags=["review"])


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


@router.post("/review/mend", response={200: Mended, 422: Faults})
@long_work
def mend_it(request: HttpRequest, given: MendIn) -> Mended:
    """The plan with one remark mended; nothing is kept."""
    return mended(keeping.searched_file_of(studio_of(request), given.plan), given.mend)
