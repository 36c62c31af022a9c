"""The single page of the interface, for every address it draws itself."""

from django.conf import settings
from django.http import HttpRequest, HttpResponse


def page(request: HttpRequest) -> HttpResponse:
    """The built index page; says how to build it when it is missing."""
    try:
        body = (settings.WEB / "index.html").read_bytes()
    except FileNotFoundError:
        return HttpResponse("The interface is not built yet: run `make demo`.", status=503, content_type="text/plain")
    response = HttpResponse(body, content_type="text/html; charset=utf-8")
    response["Cache-Control"] = "no-cache"
    return response
