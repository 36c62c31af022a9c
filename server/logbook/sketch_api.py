"""Endpoint of sketches: whole classes from what is sought, with what the last weeks of these people held."""

from __future__ import annotations

from typing import Annotated

from django.http import HttpRequest
from django.utils import timezone
from ninja import Router
from oaken.basis.faults import Faults
from oaken.design.first_class import Wanted, empty_class
from oaken.design.generator import Sketching, Sought, sketch
from oaken.design.review import hard_before
from planning import keeping
from pydantic import BaseModel, Field
from studio.access import studio_of
from studio.turns import long_work

from logbook.lately import day_of, history_of

router = Router(tags=["sketches"])

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
    today = timezone.localdate(timezone=studio.zone)
    begun = Wanted(room=sought.room, people=list(sought.people), name=sought.name, starts=sought.starts)
    file = keeping.class_file_of(studio, empty_class(begun))
    history = history_of(studio, sought.people, day_of(sought.starts, today), timezone.now())
    known = {"lately": history.lately, "hard_before": hard_before(history)}
    return sketch(sought.model_copy(update=known), file, given.number, given.unlike)
