"""Endpoint of sketches: whole classes from what is sought, with what the last weeks of these people held."""

from __future__ import annotations

from datetime import date, timedelta
from typing import Annotated

from django.db.models import Count, Max
from django.http import HttpRequest
from django.utils import timezone
from ninja import Router
from oaken.basis.faults import Faults
from oaken.first import Wanted, empty_class
from oaken.plan.dates import first_occasion
from oaken.sketch import Lately, Sketching, Sought, sketch
from planning import keeping
from pydantic import BaseModel, Field
from studio.access import studio_of
from studio.models import Studio
from studio.turns import long_work

from logbook.models import DoneSet

router = Router(tags=["sketches"])

LOOK_BACK_WEEKS = 10
DONE_BY = 0.25
"""An exercise counts as done lately where at least so many of those who come did it."""

Names = Annotated[list[Annotated[str, Field(max_length=60)]], Field(max_length=60)]


class SketchIn(BaseModel):
    """What is sought, which sketch of a row is wanted, and the exercises of those that it is to differ from. What was
    done lately is read from the book and need not be sent."""

    sought: Sought
    number: Annotated[int, Field(ge=0, le=300)] = 0
    unlike: Annotated[list[Names], Field(max_length=30)] = []


@router.post("/sketches", response={200: Sketching, 422: Faults})
@long_work
def sketch_class(request: HttpRequest, given: SketchIn) -> Sketching:
    """One sketch of a class, whole and fitted, with reasons; or what stands in the way."""
    studio, sought = studio_of(request), given.sought
    begun = Wanted(room=sought.room, people=list(sought.people), name=sought.name, starts=sought.starts)
    file = keeping.class_file_of(studio, empty_class(begun))
    lately = tuple(lately_done(studio, sought.people, _day_of(sought)))
    return sketch(sought.model_copy(update={"lately": lately}), file, given.number, given.unlike)


def _day_of(sought: Sought) -> date:
    first = first_occasion(sought.starts)
    return timezone.localdate() if first is None else first.on


def lately_done(studio: Studio, people: list[str], on: date) -> list[Lately]:
    """What these people did in the weeks before a day, each exercise with the last time."""
    since = on - timedelta(weeks=LOOK_BACK_WEEKS)
    rows = (
        DoneSet.objects.filter(person__studio=studio, person__key__in=people, on__gte=since, on__lt=on)
        .order_by()
        .values("exercise")
        .annotate(last=Max("on"), by=Count("person", distinct=True))
    )
    least = max(1, round(DONE_BY * len(people)))
    return [Lately(exercise=row["exercise"], weeks=(on - row["last"]).days // 7) for row in rows if row["by"] >= least]
