"""What every request has to pass."""

from collections.abc import Callable

from django.http import HttpRequest, HttpResponse, JsonResponse

# no form can send DELETE, and a script of another site would have to ask first and is never let
UNCHECKED = {"GET", "HEAD", "OPTIONS", "DELETE"}


class JsonWritesOnly:
    """Refuses writes that are not JSON: a form on another site can then never reach the server unasked."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        if request.method not in UNCHECKED and request.content_type != "application/json":
            return JsonResponse({"message": "Writes have to be sent as application/json."}, status=415)
        return self.get_response(request)
