"""The API: its renderer and parser, its errors, and the endpoints of every room of the server."""

from errno import EDQUOT, ENOSPC
from typing import Any

import orjson
from django.conf import settings
from django.db import DatabaseError, IntegrityError, OperationalError
from django.http import Http404, HttpRequest, HttpResponse
from logbook.activities_api import router as activities
from logbook.api import router as logbook
from logbook.calendar_api import router as calendar
from logbook.class_log_api import router as book
from logbook.generator_api import router as generator
from logbook.loads_api import router as loads
from logbook.papers_api import router as papers
from logbook.person_files import router as person_files
from logbook.progress_api import router as progress
from logbook.review_api import router as review
from logbook.runs_api import router as runs
from logbook.schools_api import router as schools
from logbook.tables_api import router as tables
from logbook.weeks_api import router as weeks
from moving.api import router as moving
from ninja import NinjaAPI
from ninja.errors import AuthenticationError, HttpError, ValidationError
from ninja.openapi.schema import OpenAPISchema
from ninja.renderers import BaseRenderer
from oaken.basis.faults import Faults, FaultyInput, faults_from
from oaken.plan.notation import FaultyText
from people.api import router as people
from planning.api import router as planning
from planning.courses_api import router as courses
from planning.dates_api import router as dates
from planning.design_api import TextFaults
from planning.design_api import router as design
from planning.floor_api import router as floor
from planning.pre_class_api import router as before
from running.api import router as running
from running.belts_api import router as belts
from running.phones_api import router as phones
from studio.access import needs
from studio.account_api import router as account
from studio.api import router as studio
from studio.begin_api import router as begin
from studio.turns import Busy

from config.bodies import takes_files
from config.copies import is_out_of_room
from config.logs import unexpected
from config.parsing import NoJson, StrictParser, document_of
from config.serving_api import router as serving


class OrjsonRenderer(BaseRenderer):
    """JSON by orjson: the forecast's curves are long."""

    media_type = "application/json"

    def render(self, request: HttpRequest, data: Any, *, response_status: int) -> bytes:
        return orjson.dumps(data, option=orjson.OPT_NON_STR_KEYS)


REFUSALS = {
    400: "The body is no JSON.",
    401: "Nobody is signed in.",
    403: "This is for instructors, or the token of the session is missing.",
    404: "There is no such thing in this studio.",
    409: "Somebody else made or changed the same at the same moment; nothing was kept.",
    413: "The body is too large.",
    415: "The body is not sent as this address takes it: application/json, or a file as it is.",
    422: "What was sent is faulty, every fault with its place.",
    429: "Too many wrong passwords: wait.",
    503: "Too much at once: try again after the seconds of Retry-After.",
}
ALWAYS = (401, 403, 404, 409, 503)
WITH_A_BODY = (400, 413, 415, 422)


class Api(NinjaAPI):
    """The API with what every endpoint may answer in its schema, so that no answer is a surprise."""

    def get_openapi_schema(self, *args: Any, **kwargs: Any) -> OpenAPISchema:
        schema = super().get_openapi_schema(*args, **kwargs)
        for path in schema["paths"].values():
            for method, operation in path.items():
                statuses = [*ALWAYS, *(WITH_A_BODY if method in ("post", "put", "patch") else (422,))]
                for status in statuses:
                    operation["responses"].setdefault(status, {"description": REFUSALS[status]})
        return schema


api = Api(
    title="Oaken Circuit",
    version="1",
    renderer=OrjsonRenderer(),
    parser=StrictParser(),
    docs_url=None,
    openapi_url=None,
    auth=needs("plan_classes"),
)
api.add_router("", account)
api.add_router("", begin)
api.add_router("", studio)
api.add_router("", people)
api.add_router("", planning)
api.add_router("", schools)
api.add_router("", courses)
api.add_router("", design)
api.add_router("", floor)
api.add_router("", before)
api.add_router("", papers)
api.add_router("", dates)
api.add_router("", logbook)
api.add_router("", activities)
api.add_router("", runs)
api.add_router("", progress)
api.add_router("", loads)
api.add_router("", generator)
api.add_router("", review)
api.add_router("", weeks)
api.add_router("", tables)
api.add_router("", person_files)
api.add_router("", calendar)
api.add_router("", running)
api.add_router("", belts)
api.add_router("", phones)
api.add_router("", book)
api.add_router("", moving)
api.add_router("", serving)


def _say(request: HttpRequest, status: int, message: str) -> HttpResponse:
    return api.create_response(request, {"message": message}, status=status)


@api.exception_handler(FaultyInput)
def faulty_input(request: HttpRequest, fault: FaultyInput) -> HttpResponse:
    """A document that names what does not exist, or contradicts itself."""
    return api.create_response(request, Faults(faults=fault.faults).model_dump(), status=422)


@api.exception_handler(FaultyText)
def faulty_text(request: HttpRequest, fault: FaultyText) -> HttpResponse:
    """A text in the notation that cannot be read."""
    return api.create_response(request, TextFaults(text_faults=fault.faults).model_dump(), status=422)


@api.exception_handler(ValidationError)
def faulty_request(request: HttpRequest, fault: ValidationError) -> HttpResponse:
    """A request that does not have the shape of the schema."""
    try:
        document = None if takes_files(request.path) else document_of(request.body)
    except NoJson:
        document = None
    # ninja puts "body" and the argument's name before the document's own path
    details = [
        {**detail, "loc": tuple(detail["loc"])[2:] or tuple(detail["loc"])[1:] or ("document",)}
        for detail in fault.errors
    ]
    faults = FaultyInput(faults_from(details, document)).faults
    return api.create_response(request, Faults(faults=faults).model_dump(), status=422)


@api.exception_handler(HttpError)
def refused(request: HttpRequest, error: HttpError) -> HttpResponse:
    """What was refused before it was looked into."""
    cause = error.__cause__
    return _say(request, error.status_code, str(cause) if isinstance(cause, NoJson) else str(error))


@api.exception_handler(AuthenticationError)
def signed_out(request: HttpRequest, error: AuthenticationError) -> HttpResponse:
    """Nobody is signed in."""
    return _say(request, 401, "Please sign in.")


@api.exception_handler(Http404)
def missing(request: HttpRequest, error: Http404) -> HttpResponse:
    """Nothing of that name, or of another studio."""
    return _say(request, 404, "This does not exist (any more).")


@api.exception_handler(IntegrityError)
def at_once(request: HttpRequest, error: IntegrityError) -> HttpResponse:
    """Two writers made the same thing; the database let one of them."""
    return _say(request, 409, "Somebody else made the same at the same moment: nothing was kept. Look again.")


@api.exception_handler(Busy)
def busy(request: HttpRequest, error: Busy) -> HttpResponse:
    """No turn came free for a long computation."""
    return _later(request, f"{error} Try again in {error.again_s} s.", error.again_s)


@api.exception_handler(OperationalError)
def locked(request: HttpRequest, error: OperationalError) -> HttpResponse:
    """The database did not answer in time; nothing of this request was kept. Anything but a lock is unexpected."""
    if "locked" in str(error):
        return _later(request, "The database is busy: nothing was kept. Try again in 2 s.", 2)
    if is_out_of_room(error.__cause__ or error, settings.DATA):
        return full(request, error)
    return broken(request, error)


@api.exception_handler(DatabaseError)
def damaged(request: HttpRequest, error: DatabaseError) -> HttpResponse:
    """The database itself is broken: whoever looks after the server has to know."""
    if not any(word in str(error) for word in ("malformed", "not a database")):
        return broken(request, error)
    number = unexpected(request, error)
    message = "The database of this server is damaged, nothing was kept. Start the server anew: it says what to do."
    return _say(request, 500, f"{message} (No. {number})")


@api.exception_handler(OSError)
def no_room(request: HttpRequest, error: OSError) -> HttpResponse:
    """A file could not be written; anything but a full disk is unexpected."""
    return full(request, error) if error.errno in (ENOSPC, EDQUOT) else broken(request, error)


def full(request: HttpRequest, error: Exception) -> HttpResponse:
    """There is no room left on the server's disk."""
    unexpected(request, error)
    return _say(request, 507, "The disk of the server is full: nothing was kept. Make room there, then try again.")


@api.exception_handler(Exception)
def broken(request: HttpRequest, error: Exception) -> HttpResponse:
    """What nobody expected: told with a number under which it stands in the log."""
    number = unexpected(request, error)
    return _say(request, 500, f"Something went wrong here, not with what you sent. Nothing was kept. (No. {number})")


def _later(request: HttpRequest, message: str, seconds: int) -> HttpResponse:
    response = _say(request, 503, message)
    response["Retry-After"] = str(seconds)
    return response
