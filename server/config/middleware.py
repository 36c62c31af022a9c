"""What every request has to pass, and what every answer carries."""

from collections.abc import Callable

from django.http import HttpRequest, HttpResponse, JsonResponse
from oaken.basis.limits import most

from config.bodies import most_bytes, takes_files, too_large
from config.logs import number_of, unexpected

Next = Callable[[HttpRequest], HttpResponse]

# no form can send DELETE, and a script of another site would have to ask first and is never let
UNCHECKED = {"GET", "HEAD", "OPTIONS", "DELETE"}


class Numbered:
    """Gives every request a number and every answer of the API the order not to be stored; what nobody expected, in
    whichever part of the server, is written down under that number and told without its words."""

    def __init__(self, get_response: Next) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        response = self.get_response(request)
        response["X-Request-Number"] = number_of(request)
        response["Permissions-Policy"] = "geolocation=(), camera=(), microphone=()"
        if request.path.startswith("/api/"):
            response["Cache-Control"] = "no-store"
        return response

    def process_exception(self, request: HttpRequest, error: Exception) -> HttpResponse:
        """Answer for an exception that no other part of the server has answered for."""
        number = unexpected(request, error)
        return JsonResponse({"message": f"Something went wrong here. Nothing was kept. (No. {number})"}, status=500)


def has_to_wait(request: HttpRequest, credentials: object = None, *args: object, **kwargs: object) -> HttpResponse:
    """The answer to a name that was tried too often from one address."""
    wait_s = most("signing_in.wait_s")
    message = f"Too many wrong passwords for this name. Wait {wait_s // 60} min, or ask another instructor."
    response = JsonResponse({"message": message}, status=429)
    response["Retry-After"] = str(wait_s)
    return response


FILE = "application/octet-stream"


class JsonWritesOnly:
    """Refuses writes that are not JSON, or a file where files are taken: a form on another site can send neither, and
    then never reaches the server unasked."""

    def __init__(self, get_response: Next) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        wanted = FILE if takes_files(request.path) else "application/json"
        if request.method not in UNCHECKED and request.content_type != wanted:
            return JsonResponse({"message": f"This has to be sent as {wanted}."}, status=415)
        return self.get_response(request)


class NotTooLarge:
    """Refuses what declares itself larger than any request has to be, also where no ASGI server stands in front."""

    def __init__(self, get_response: Next) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        declared = request.headers.get("Content-Length") or "0"
        if not declared.isdigit() or len(declared) > 19 or int(declared) > most_bytes(request.path):
            return JsonResponse({"message": too_large(request.path)}, status=413)
        return self.get_response(request)
