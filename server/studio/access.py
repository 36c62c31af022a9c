"""Who may do what: every request is checked for somebody signed in, their studio, and their role in it."""

from __future__ import annotations

from typing import Annotated, Any

from django.conf import settings
from django.http import HttpRequest
from ninja.errors import HttpError
from ninja.security import APIKeyCookie
from pydantic import Field

from studio.models import Member, Studio

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

    def __init__(self, *, assistants: bool) -> None:
        super().__init__(csrf=True)
        self.assistants = assistants

    def authenticate(self, request: HttpRequest, key: str | None) -> Any:
        member = member_of(request)
        if member is not None and not member.is_instructor and not self.assistants:
            raise HttpError(403, "This is for instructors of this studio.")
        return member


instructors_only = SignedIn(assistants=False)
"""The rule for every endpoint that says nothing else."""

assistants_too = SignedIn(assistants=True)


def member(request: HttpRequest) -> Member:
    """The member behind a request that was let in."""
    found = getattr(request, "auth", None)
    if not isinstance(found, Member):
        raise HttpError(401, "Please sign in.")
    return found


def studio_of(request: HttpRequest) -> Studio:
    """The studio of a request that was let in."""
    return member(request).studio
