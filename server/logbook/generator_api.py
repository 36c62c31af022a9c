"""Endpoints of the generator: whole classes from what is wanted, with what the last weeks of these people held."""

from __future__ import annotations

from typing import Annotated

from django.http import HttpRequest
from django.utils import timezone
from ninja import Router
from oaken.basis.faults import Faults
from oaken.design.first_class import Wanted, empty_class
from oaken.design.generator import Asked, ClassRequest, Generation, generate, read_request
from oaken.design.generator.asked import LONGEST
from oaken.design.review import hard_before
from planning import keeping
from pydantic import BaseModel, Field
from studio.access import studio_of
from studio.own import house_catalogue
from studio.turns import long_work

from logbook.lately import day_of, history_of

router = Router(tags=["generator"])

Names = Annotated[list[Annotated[str, Field(max_length=60)]], Field(max_length=60)]


class GenerateIn(BaseModel):
    """What is wanted, which class of a row is wanted, and the exercises of those that it is to differ from. What was
    done lately is read from the book and need not be sent."""

    class_request: ClassRequest
    number: Annotated[int, Field(ge=0, le=300)] = 0
    unlike: Annotated[list[Names], Field(max_length=30)] = []


class RequestWordsIn(BaseModel):
    """A request in a few words, and the request as it stands: what the words do not say stays."""

    text: Annotated[str, Field(max_length=LONGEST)]
    class_request: ClassRequest


@router.post("/generated-classes/request", response={200: Asked, 422: Faults})
def read_class_request(request: HttpRequest, given: RequestWordsIn) -> Asked:
    """What is asked for in a few words, like “back day, 14, 45 min, no jumps”, and what of it is not understood."""
    return read_request(given.text, given.class_request, house_catalogue(studio_of(request)))


@router.post("/generated-classes", response={200: Generation, 422: Faults})
@long_work
def generate_class(request: HttpRequest, given: GenerateIn) -> Generation:
    """One class, whole and fitted, with reasons; or what stands in the way."""
    studio, class_request = studio_of(request), given.class_request
    today = timezone.localdate(timezone=studio.zone)
    begun = Wanted(
        room=class_request.room, people=list(class_request.people), name=class_request.name, starts=class_request.starts
    )
    file = keeping.class_file_of(studio, empty_class(begun))
    history = history_of(studio, class_request.people, day_of(class_request.starts, today), timezone.now())
    known = {"lately": history.lately, "hard_before": hard_before(history)}
    return generate(class_request.model_copy(update=known), file, given.number, given.unlike)
