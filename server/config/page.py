"""The single page of the interface, for every address it draws itself."""

from django.conf import settings
from django.http import HttpRequest, HttpResponse

from config.authority import authority_file


def house_certificate(request: HttpRequest) -> HttpResponse:
    """The certificate that a device has to trust so that it goes on without the server; 404 where there is none."""
    try:
        body = authority_file(settings.DATA / "tls").read_bytes()
    except FileNotFoundError:
        return HttpResponse("This server has no certificate of its own.", status=404, content_type="text/plain")
    response = HttpResponse(body, content_type="application/x-x509-ca-cert")
    response["Content-Disposition"] = 'attachment; filename="oaken-circuit-house.pem"'
    return response


def page(request: HttpRequest) -> HttpResponse:
    """The built index page; says how to build it when it is missing."""
    try:
        body = (settings.WEB / "index.html").read_bytes()
    except FileNotFoundError:
        return HttpResponse("The interface is not built yet: run `make demo`.", status=503, content_type="text/plain")
    response = HttpResponse(body, content_type="text/html; charset=utf-8")
    response["Cache-Control"] = "no-cache"
    return response
