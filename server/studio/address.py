"""Where this application is reached: by whoever asks, by other devices, and as a picture for a camera."""

from __future__ import annotations

import io

import segno
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


def qr_svg(text: str) -> str:
    """A QR code as an SVG picture of its own."""
    written = io.BytesIO()
    segno.make(text, error="m").save(written, kind="svg", scale=4, border=2, xmldecl=False)
    return written.getvalue().decode()
