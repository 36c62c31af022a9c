"""Where other devices find this server: told to members, with a picture for a phone's camera."""

from __future__ import annotations

from django.conf import settings
from django.http import HttpRequest
from ninja import Router
from pydantic import BaseModel
from studio.access import needs
from studio.address import address_for_others, qr_svg

from config.authority import authority_file, fingerprint

router = Router(tags=["serving"])


class ServingOut(BaseModel):
    """The address for other devices (None: it listens on this machine alone), as a QR code (SVG), whether it is
    encrypted, and the SHA-256 fingerprint of the studio's own certificate where there is one."""

    address: str | None
    qr_svg: str | None
    encrypted: bool
    fingerprint: str | None


@router.get("/serving", response=ServingOut, auth=needs("run_classes"))
def tell_where(request: HttpRequest) -> ServingOut:
    """Where other devices find this server."""
    reached = address_for_others(request)
    address = None if reached is None else f"{reached}/"
    authority = authority_file(settings.DATA / "tls")
    own = request.is_secure() and authority.exists() and settings.TLS.startswith(str(settings.DATA))
    return ServingOut(
        address=address,
        qr_svg=None if address is None else qr_svg(address),
        encrypted=request.is_secure(),
        fingerprint=fingerprint(authority) if own else None,
    )
