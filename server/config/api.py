"""The API: its renderer, its errors, and the endpoints of every room of the server."""

import json
from typing import Any

import orjson
from django.http import HttpRequest, HttpResponse
from logbook.api import router as logbook
from ninja import NinjaAPI
from ninja.errors import ValidationError
from ninja.renderers import BaseRenderer
from oaken.notation import FaultyText
from oaken.problems import Faults, FaultyInput, problems_from
from people.api import router as people
from planning.api import router as planning
from planning.before_api import router as before
from planning.design_api import TextFaults
from planning.design_api import router as design
from planning.floor_api import router as floor
from studio.access import instructors_only
from studio.account_api import router as account
from studio.api import router as studio


class OrjsonRenderer(BaseRenderer):
    """JSON by orjson: the forecast's curves are long."""

    media_type = "application/json"

    def render(self, request: HttpRequest, data: Any, *, response_status: int) -> bytes:
        return orjson.dumps(data)


api = NinjaAPI(title="Oaken Circuit", version="1", renderer=OrjsonRenderer(), docs_url=None, auth=instructors_only)
api.add_router("", account)
api.add_router("", studio)
api.add_router("", people)
api.add_router("", planning)
api.add_router("", design)
api.add_router("", floor)
api.add_router("", before)
api.add_router("", logbook)


@api.exception_handler(FaultyInput)
def faulty_input(request: HttpRequest, fault: FaultyInput) -> HttpResponse:
    """A document that names what does not exist, or contradicts itself."""
    return api.create_response(request, Faults(problems=fault.problems).model_dump(), status=422)


@api.exception_handler(FaultyText)
def faulty_text(request: HttpRequest, fault: FaultyText) -> HttpResponse:
    """A text in the notation that cannot be read."""
    return api.create_response(request, TextFaults(text_problems=fault.problems).model_dump(), status=422)


@api.exception_handler(ValidationError)
def faulty_request(request: HttpRequest, fault: ValidationError) -> HttpResponse:
    """A request that does not have the shape of the schema."""
    try:
        document = json.loads(request.body)
    except ValueError:
        document = None
    # ninja puts "body" and the argument's name before the document's own path
    details = [{**detail, "loc": tuple(detail["loc"])[2:] or ("document",)} for detail in fault.errors]
    return api.create_response(request, Faults(problems=problems_from(details, document)).model_dump(), status=422)
