"""Every request is checked for somebody signed in, their studio, and what their role there permits."""

from __future__ import annotations

from functools import cache
from typing import Annotated, Any

from django.conf import settings
from django.http import HttpRequest
from ninja.errors import HttpError
from ninja.security import APIKeyCookie
from pydantic import Field

from studio.models import Member, Studio
from studio.permissions import Permission

RowId = Annotated[int, Field(ge=1, le=2**53)]
"""The number of something that is kept."""

Number = Annotated[int, Field(ge=0, le=2**31 - 1)]
"""The number of a revision or state."""

CHOSEN = "studio"
"""Where a session keeps the studio that somebody of several works in."""


def member_of(request: HttpRequest) -> Member | None:
    """The membership behind a request; None for nobody, and for somebody without a studio."""
    if not request.user.is_authenticated:
        return None
    memberships = list(Member.objects.select_related("studio", "user").filter(user=request.user))
    chosen = request.session.get(CHOSEN)
    return next(
        (membership for membership in memberships if membership.studio_id == chosen),
        memberships[0] if memberships else None,
    )


class SignedIn(APIKeyCookie):
    """Lets members of a studio in, and no forged request of another site: django-ninja checks the CSRF token."""

    param_name = settings.SESSION_COOKIE_NAME

    def __init__(self, permission: Permission) -> None:
        super().__init__(csrf=True)
        self.permission: Permission = permission

    def authenticate(self, request: HttpRequest, key: str | None) -> Any:
        member = member_of(request)
        if member is not None and not member.may(self.permission):
            raise NotAllowed
        return member


class NotAllowed(HttpError):
    """The role of who asks does not have the permission that this takes."""

    def __init__(self) -> None:
        super().__init__(403, "This is for instructors of this studio.")


@cache
def needs(permission: Permission) -> SignedIn:
    """The rule of an endpoint that takes this permission."""
    return SignedIn(permission)


def member(request: HttpRequest) -> Member:
    """The member behind a request that was let in."""
    found = getattr(request, "auth", None)
    if not isinstance(found, Member):
        raise HttpError(401, "Please sign in.")
    return found


def may(request: HttpRequest, permission: Permission) -> bool:
    """Whether who asks, and was let in, has this permission."""
    return member(request).may(permission)


def studio_of(request: HttpRequest) -> Studio:
    """The studio of a request that was let in."""
    return member(request).studio
