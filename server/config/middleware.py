"""What every request has to pass."""

from collections.abc import Callable

from django.conf import settings
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


class NotTooLarge:
    """Refuses what is larger than any request has to be before a byte of it is read, and says how large it may be."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        largest = settings.DATA_UPLOAD_MAX_MEMORY_SIZE
        declared = request.headers.get("Content-Length") or "0"
        if not declared.isdigit() or int(declared) > largest:
            message = f"That is too large: at most {largest / 1e6:.1f} MB in all, a recording at most 8 MB."
            return JsonResponse({"message": message}, status=413)
        return self.get_response(request)
