"""Endpoints of signing in, of who works in a studio, and of its house rules."""

from __future__ import annotations

from typing import Annotated, cast
from zoneinfo import available_timezones

from django.contrib.auth import (
    authenticate,
    get_user_model,
    login,
    logout,
    password_validation,
    update_session_auth_hash,
)
from django.contrib.auth.models import User
from django.core.exceptions import ValidationError as RefusedPassword
from django.db import transaction
from django.http import HttpRequest
from django.middleware.csrf import get_token
from django.shortcuts import get_object_or_404
from ninja import Router, Status
from ninja.errors import HttpError
from oaken.basis.faults import Faults, FaultyInput, faults_in
from oaken.physiology.heat import WBGT_CAUTION_C
from oaken.plan import HouseRule
from pydantic import BaseModel, ConfigDict, Field

from studio.access import CHOSEN, Number, RowId, member, member_of, needs, studio_of
from studio.documents import Stale, StaleSave, locked
from studio.models import Member, Studio
from studio.own import house_catalogue
from studio.permissions import Permission, Role, permissions, permissions_of
from studio.tries import Tries, lane_of

_fault = faults_in("the studio")

router = Router(tags=["account"])
MOST_RULES = 60


class StudioName(BaseModel):
    """A studio somebody works in."""

    id: int
    name: str
    role: Role


class Me(BaseModel):
    """Who is signed in, where, and in which role; `studios` are all they can choose from, `permissions` what they
    may do in this one."""

    user: str
    studio: StudioName
    studios: list[StudioName]
    permissions: list[Permission]


class Nobody(BaseModel):
    """Nobody is signed in, and why a try to sign in was refused."""

    message: str


class SignIn(BaseModel):
    """A name and a password."""

    model_config = ConfigDict(extra="forbid")

    user: Annotated[str, Field(max_length=150)]
    password: Annotated[str, Field(max_length=200)]


class NewPassword(BaseModel):
    """The password there is and the one that is to be."""

    old: Annotated[str, Field(max_length=200)]
    new: Annotated[str, Field(max_length=200)]


class ChosenStudio(BaseModel):
    """The studio to work in from now on."""

    studio: RowId


class MemberOut(BaseModel):
    """Somebody who works in this studio."""

    id: int
    user: str
    role: Role


class NewMember(BaseModel):
    """Somebody who is to work in this studio, with a first password."""

    model_config = ConfigDict(extra="forbid")

    user: Annotated[str, Field(min_length=2, max_length=60, pattern=r"^[\w.@+-]+$")]
    password: Annotated[str, Field(max_length=200)]
    role: Role


class Rules(BaseModel):
    """The house's own rules, and how often they were saved. `warm_from_c` is the WBGT from which a room is warm."""

    rules: Annotated[list[HouseRule], Field(max_length=MOST_RULES)]
    revision: int
    warm_from_c: float = WBGT_CAUTION_C


class RulesSave(BaseModel):
    """House rules to keep, and the revision they were made from."""

    model_config = ConfigDict(extra="forbid")

    based_on: Number
    rules: Annotated[list[HouseRule], Field(max_length=MOST_RULES)]


class StudioZone(BaseModel):
    """Where the studio's dates and times are meant: a name of the time zone database, Europe/Berlin."""

    time_zone: Annotated[str, Field(min_length=1, max_length=60)]


@router.get("/time-zone", response=StudioZone, auth=needs("run_classes"))
def read_zone(request: HttpRequest) -> StudioZone:
    """Where the studio's dates and times are meant."""
    return StudioZone(time_zone=studio_of(request).time_zone)


@router.put("/time-zone", response={200: StudioZone, 422: Faults}, auth=needs("manage_studio"))
def keep_zone(request: HttpRequest, given: StudioZone) -> StudioZone:
    """Keep where the studio's dates and times are meant."""
    if given.time_zone not in available_timezones():
        message = f"{given.time_zone!r} is no time zone"
        raise FaultyInput([_fault("time_zone", message, "a name like Europe/Berlin")])
    studio = studio_of(request)
    studio.time_zone = given.time_zone
    studio.save(update_fields=["time_zone"])
    return StudioZone(time_zone=studio.time_zone)


@router.get("/me", response={200: Me, 401: Nobody}, auth=None)
def readme_of(request: HttpRequest) -> Me | Status[Nobody]:
    """Who is signed in; also hands out the token that every later write has to carry."""
    get_token(request)
    mine = member_of(request)
    return me_of(mine) if mine is not None else Status(401, Nobody(message="Nobody is signed in."))


@router.post("/sign-in", response={200: Me, 401: Nobody, 422: Faults, 429: Nobody}, auth=None)
def sign_in(request: HttpRequest, given: SignIn) -> Me | Status[Nobody]:
    """Sign in with name and password; the same answer whichever of the two is wrong. A name that was tried too often
    from one address waits there (429), and so does an address from which too many were; nobody else does."""
    tries = Tries(request.META.get("REMOTE_ADDR", ""))
    if tries.too_many:
        return Status(429, Nobody(message=tries.words))
    with lane_of(given.user):
        # meanwhile others from there may have been wrong
        if tries.too_many:
            return Status(429, Nobody(message=tries.words))
        user = authenticate(request, username=given.user, password=given.password)
        if user is None:
            tries.count()
    if user is None:
        return Status(401, Nobody(message="That name and password do not belong together."))
    login(request, user)
    mine = member_of(request)
    if mine is None:
        logout(request)
        return Status(401, Nobody(message="You do not work in any studio: ask an instructor to add you."))
    return me_of(mine)


@router.post("/sign-out", response={204: None}, auth=needs("run_classes"))
def sign_out(request: HttpRequest) -> Status[None]:
    """Forget who was signed in."""
    logout(request)
    return Status(204, None)


@router.post("/me/password", response={204: None, 422: Faults}, auth=needs("run_classes"))
def change_password(request: HttpRequest, given: NewPassword) -> Status[None]:
    """Change one's own password, under Django's password rules."""
    user = member(request).user
    if not user.check_password(given.old):
        raise FaultyInput([_fault("old", "is not your password", "the password you sign in with")])
    check_password(given.new, user)
    user.set_password(given.new)
    user.save(update_fields=["password"])
    update_session_auth_hash(request, user)
    return Status(204, None)


@router.post("/me/studio", response={200: Me}, auth=needs("run_classes"))
def choose_studio(request: HttpRequest, given: ChosenStudio) -> Me:
    """Work in another of one's studios."""
    chosen = get_object_or_404(Member, user=request.user, studio=given.studio)
    request.session[CHOSEN] = chosen.studio_id
    return me_of(chosen)


@router.get("/members", response=list[MemberOut], auth=needs("manage_studio"))
def list_members(request: HttpRequest) -> list[MemberOut]:
    """Everybody who works in this studio."""
    return [_member(member) for member in studio_of(request).members.select_related("user")]


@router.post("/members", response={201: MemberOut, 422: Faults}, auth=needs("manage_studio"))
def add_member(request: HttpRequest, given: NewMember) -> Status[MemberOut]:
    """Give somebody new an account in this studio."""
    users = get_user_model()
    check_password(given.password, users(username=given.user))
    with transaction.atomic():
        user = users.objects.filter(username__iexact=given.user).first()
        if user is not None and user.memberships.exists():
            raise FaultyInput([_fault("user", f"the name {given.user!r} is taken", "another name")])
        # somebody who was taken out comes back under the old name, with a new password and no old session
        user = user or users(username=given.user)
        user.set_password(given.password)
        user.save()
        added = Member.objects.create(user=user, studio=studio_of(request), role=given.role)
    return Status(201, _member(added))


@router.delete("/members/{member_id}", response={204: None, 422: Faults}, auth=needs("manage_studio"))
def remove_member(request: HttpRequest, member_id: RowId) -> Status[None]:
    """Take somebody out of this studio; the last instructor stays."""
    # looked at and taken out in one transaction: two instructors who remove each other at once come one after the other
    with transaction.atomic():
        if not studio_of(request).members.filter(pk=member(request).pk).exists():
            raise HttpError(401, "You do not work in this studio any more.")
        gone = get_object_or_404(studio_of(request).members, pk=member_id)
        others = studio_of(request).members.filter(role__in=permissions()["manage_studio"].roles).exclude(pk=gone.pk)
        if not others.exists():
            raise FaultyInput([_fault("member", "is the last instructor", "another instructor first")])
        gone.delete()
    return Status(204, None)


@router.get("/house-rules", response=Rules, auth=needs("run_classes"))
def read_rules(request: HttpRequest) -> Rules:
    """The house's own rules."""
    return _rules(studio_of(request))


@router.put("/house-rules", response={200: Rules, 409: Stale[Rules], 422: Faults}, auth=needs("manage_studio"))
def put_rules(request: HttpRequest, given: RulesSave) -> Status[Rules] | Status[Stale[Rules]]:
    """Keep the studio's own rules; 409 with the newest ones when they were made from older."""
    known = house_catalogue(studio_of(request))
    found = []
    kept = studio_of(request).rules
    for index, rule in enumerate(given.rules):
        if rule in kept:
            continue
        for field, name, names in (
            ("exercise", rule.exercise, known.exercises),
            ("pattern", rule.pattern, known.patterns),
        ):
            if name is not None and name not in names:
                found.append(_fault(f"rules.{index}.{field}", f"{name!r} is not in the catalogue", "one that is"))
    ids = [rule.id for rule in given.rules]
    if len(set(ids)) < len(ids):
        found.append(_fault("rules", "two rules have the same id", "an id of its own for each"))
    if found:
        raise FaultyInput(found)
    try:
        with transaction.atomic():
            studio = locked(Studio.objects.all(), "list of rules", given.based_on, pk=studio_of(request).pk)
            studio.house_rules = [rule.model_dump(mode="json", exclude_none=True) for rule in given.rules]
            studio.save(update_fields=["house_rules", "revision"])
    except StaleSave as stale:
        return Status(409, Stale[Rules](message=str(stale), latest=_rules(stale.latest)))
    return Status(200, _rules(studio))


def _rules(studio: Studio) -> Rules:
    return Rules(rules=studio.rules, revision=studio.revision)


def me_of(mine: Member) -> Me:
    """Who is signed in, in words of the API."""
    studios = [
        StudioName(id=membership.studio_id, name=membership.studio.name, role=cast(Role, membership.role))
        for membership in Member.objects.select_related("studio").filter(user=mine.user)
    ]
    return Me(
        user=mine.user.get_username(),
        studio=StudioName(id=mine.studio_id, name=mine.studio.name, role=cast(Role, mine.role)),
        studios=studios,
        permissions=permissions_of(cast(Role, mine.role)),
    )


def _member(kept: Member) -> MemberOut:
    return MemberOut(id=kept.pk, user=kept.user.get_username(), role=cast(Role, kept.role))


def check_password(password: str, user: User) -> None:
    """Raise FaultyInput where Django's password rules refuse it."""
    try:
        password_validation.validate_password(password, user)
    except RefusedPassword as refused:
        raise FaultyInput([_fault("password", message, "another password") for message in refused.messages]) from None
