"""Where this application is reached: by whoever asks, and by other devices."""

from __future__ import annotations

from config.names import EVERYWHERE, LOOPBACK, addresses
from django.conf import settings
from django.http import HttpRequest


def address_for_others(request: HttpRequest) -> str | None:
    """The address for other devices, without a slash at its end; None where it listens on this machine alone."""
    if settings.ORIGIN:
        return str(settings.ORIGIN).rstrip("/")
    named = request.get_host()
    host = named.rsplit(":", 1)[0].strip("[]")
    if host in LOOPBACK:
        if settings.HOST not in EVERYWHERE or not addresses():
            return None
        named = f"{addresses()[0]}:{request.get_port()}"
    return f"{request.scheme}://{named}"


def address_of(request: HttpRequest) -> str:
    """The address for other devices or, where there is none, the one that was asked by."""
    return address_for_others(request) or f"{request.scheme}://{request.get_host()}"


def is_from_here(request: HttpRequest) -> bool:
    """Whether a request comes from the machine that serves; behind a proxy nobody can tell."""
    return request.META.get("REMOTE_ADDR") in LOOPBACK and not settings.ORIGIN
