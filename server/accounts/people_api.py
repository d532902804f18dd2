"""The shop's people over HTTP: who is here, invitations, passwords, and codes to hold a tablet's camera to."""

import io
from datetime import datetime
from typing import Annotated, Any
from uuid import UUID

import segno
from django.conf import settings
from django.contrib.auth import get_user_model, login, update_session_auth_hash
from django.contrib.auth.models import AnonymousUser
from django.db import transaction
from django.http import HttpRequest, HttpResponse
from ninja import Router, Schema, Status
from pydantic import Field

from server.accounts import tries
from server.accounts.api import Session, refuse_forged, session_of
from server.accounts.first_owner import make_first_owner
from server.accounts.invites import invite, invite_of, invite_path, take_invite
from server.accounts.may import must_be_owner
from server.accounts.models import OWNER, ROLES, Invite, Person, Shop, role_of
from server.accounts.passwords import (
    reset_by_link,
    reset_path,
    set_password,
    sign_out_everywhere,
)
from server.accounts.shop import drop_mark, keep_mark, say_shop, shop
from server.answers import ActionRefused

router = Router(tags=["people"])
Typed = Annotated[str, Field(max_length=200)]


class FirstIn(Schema):
    """The code from the terminal, and who the first owner is."""

    code: Typed
    username: Typed
    password: Typed


class TokenIn(Schema):
    """A link's own part, and what is chosen with it."""

    token: Annotated[str, Field(max_length=400)]
    username: Typed = ""
    password: Typed


class NewPassword(Schema):
    """The password that is, and the one that shall be."""

    old: Typed
    new: Typed


class InviteIn(Schema):
    """What the one invited may do, and for whom it is meant."""

    role: Typed
    note: Typed = ""


class InviteOut(Schema):
    """An open invitation with its link."""

    id: UUID
    role: str
    note: str
    link: str
    until: datetime


class PersonOut(Schema):
    """Somebody in the shop."""

    name: str
    role: str
    active: bool
    jobs: int
    seen: datetime | None


class PeopleOut(Schema):
    """The shop's people, what roles there are, and who is invited (both only for owners)."""

    people: list[PersonOut]
    roles: dict[str, str]
    invites: list[InviteOut]


class PersonIn(Schema):
    """What is changed of somebody."""

    role: Typed | None = None
    active: bool | None = None


class AddressOut(Schema):
    """A link to hand to somebody."""

    link: str


class InvitedOut(Schema):
    """What an invitation lets one do, and from whom it is."""

    role: str
    does: str
    by: str


class ShopIn(Schema):
    """What the shop's papers say of it."""

    name: Annotated[str, Field(max_length=120)] = ""
    address: Annotated[str, Field(max_length=400)] = ""
    currency: Annotated[str, Field(max_length=6)] = ""


class ShopOut(ShopIn):
    """What the shop's papers say of it, and whether they bear a mark."""

    marked: bool


def address_of(request: HttpRequest, path: str) -> str:
    """Return a whole address that another device in the shop can open: loopback is no use to a tablet."""
    host = request.get_host()
    name, colon, port = host.rpartition(":")
    bare = name if colon and port.isdigit() else host
    if bare.strip("[]") in ("127.0.0.1", "localhost", "::1"):
        other = next(iter(settings.PLACE.reached_by), "")
        if other:
            host = f"{other}:{port}" if colon and port.isdigit() and ":" not in other else other
    return f"{'https' if request.is_secure() else 'http'}://{host}{path}"


@router.post("/first", auth=None, response=Session, operation_id="makeFirstOwner")
def first(request: HttpRequest, body: FirstIn) -> Session:
    """Make the shop's first owner, with the code that the terminal shows."""
    refuse_forged(request)
    user = make_first_owner(body.code, body.username, body.password)
    login(request, user, backend="django.contrib.auth.backends.ModelBackend")
    return session_of(request)


@router.get("/invited/{token}", auth=None, response=InvitedOut, operation_id="readInvite")
def read_invite(request: HttpRequest, token: str) -> dict[str, str]:
    """Return what an invitation is for."""
    one = invite_of(token)
    return {"role": one.role, "does": ROLES[one.role], "by": one.made_by.get_username()}


@router.post("/invited", auth=None, response=Session, operation_id="takeInvite")
def take(request: HttpRequest, body: TokenIn) -> Session:
    """Take an invitation: choose a name and a password, and be in."""
    refuse_forged(request)
    user = take_invite(body.token, body.username, body.password)
    login(request, user, backend="django.contrib.auth.backends.ModelBackend")
    return session_of(request)


@router.post("/reset", auth=None, response=Session, operation_id="resetPassword")
def reset(request: HttpRequest, body: TokenIn) -> Session:
    """Set a new password by a link, once."""
    refuse_forged(request)
    who, _, token = body.token.partition("/")
    user = reset_by_link(who, token, body.password)
    login(request, user, backend="django.contrib.auth.backends.ModelBackend")
    return session_of(request)


@router.post(
    "/password",
    response=Session,
    operation_id="changePassword",
)
def change_password(request: HttpRequest, body: NewPassword) -> Session:
    """Change one's own password; every other session of one's own ends."""
    user = request.user
    tries.refuse(request, user.get_username())
    with tries.turn_for(request, user.get_username()):
        right = user.check_password(body.old)
    if not right:
        tries.wrong(request, user.get_username())
        raise ActionRefused(403, "wrong_password", "That is not your password now.")
    set_password(user, body.new)
    update_session_auth_hash(request, user)
    return session_of(request)


@router.post("/everywhere", response=Session, operation_id="signOutEverywhere")
def everywhere(request: HttpRequest) -> Session:
    """End all of one's own sessions, this one too."""
    sign_out_everywhere(request.user)
    request.session.flush()
    request.user = AnonymousUser()
    return session_of(request)


@router.get("", response=PeopleOut, operation_id="listPeople")
def people(request: HttpRequest) -> dict[str, Any]:
    """Return who is in the shop; invitations for owners."""
    boss = role_of(request.user) == OWNER
    users = get_user_model().objects.order_by("username").prefetch_related("person")
    found = [
        {
            "name": user.get_username(),
            "role": role_of(user),
            "active": user.is_active,
            "jobs": user.jobs.filter(removed=None).count(),
            "seen": user.last_login if boss else None,
        }
        for user in users
        if boss or user.is_active
    ]
    waiting = [one for one in Invite.objects.order_by("-made") if one.open] if boss else []
    return {"people": found, "roles": ROLES, "invites": [_invite(request, one) for one in waiting]}


def _invite(request: HttpRequest, one: Invite) -> dict[str, Any]:
    return {
        "id": one.pk, "role": one.role, "note": one.note,
        "link": address_of(request, invite_path(one)), "until": one.until,
    }  # fmt: skip


@router.post("/invites", response={201: InviteOut}, operation_id="invitePerson")
def invite_person(request: HttpRequest, body: InviteIn) -> Status[Any]:
    """Invite somebody."""
    must_be_owner(request.user)
    return Status(201, _invite(request, invite(request.user, body.role, body.note)))


@router.delete("/invites/{pk}", response={204: None}, operation_id="takeInviteBack")
def take_invite_back(request: HttpRequest, pk: UUID) -> Status[Any]:
    """Take an invitation back."""
    must_be_owner(request.user)
    Invite.objects.filter(pk=pk, used=None).delete()
    return Status(204, None)


def _somebody(name: str) -> Any:
    user = get_user_model().objects.filter(username=name).first()
    if user is None:
        raise ActionRefused(404, "nobody", f"Nobody here is called {name}.")
    return user


@router.post(
    "/one/{path:name}",
    response=PersonOut,
    operation_id="changePerson",
)
def change_person(request: HttpRequest, name: str, body: PersonIn) -> dict[str, Any]:
    """Change what somebody may do, or let him in no more; at least one owner stays."""
    must_be_owner(request.user)
    user = _somebody(name)
    if body.role is not None and body.role not in ROLES:
        raise ActionRefused(422, "no_role", f"“{body.role}” is none; take one of {', '.join(ROLES)}.")
    with transaction.atomic():
        if body.role is not None:
            Person.objects.update_or_create(user=user, defaults={"role": body.role})
            if body.role != OWNER and user.is_superuser:
                user.is_superuser = False
        if body.active is not None:
            user.is_active = body.active
        user.save()
        left = [one for one in get_user_model().objects.filter(is_active=True) if role_of(one) == OWNER]
        if not left:
            raise ActionRefused(
                422, "last_owner", "The shop needs one owner at least. Make somebody else owner first."
            )
    if not user.is_active:
        sign_out_everywhere(user)
    jobs = user.jobs.filter(removed=None).count()
    return {
        "name": user.get_username(), "role": role_of(user), "active": user.is_active, "jobs": jobs,
        "seen": user.last_login,
    }  # fmt: skip


@router.post(
    "/reset-link/{path:name}",
    response=AddressOut,
    operation_id="makeResetLink",
)
def make_reset(request: HttpRequest, name: str) -> dict[str, str]:
    """Return a link with which somebody sets a new password, once."""
    must_be_owner(request.user)
    return {"link": address_of(request, reset_path(_somebody(name)))}


@router.get("/shop", response=ShopOut, operation_id="readShop")
def read_shop(request: HttpRequest) -> dict[str, Any]:
    """Return what the shop's papers say of it."""
    return _shop(shop())


@router.put("/shop", response=ShopOut, operation_id="sayShop")
def put_shop(request: HttpRequest, body: ShopIn) -> dict[str, Any]:
    """Keep the shop's name and address for its papers."""
    return _shop(say_shop(body.name, body.address, body.currency))


@router.get("/shop/mark.png", operation_id="readMark")
def read_mark(request: HttpRequest) -> HttpResponse:
    """Return the shop's mark."""
    its = shop()
    if not its.mark:
        raise ActionRefused(404, "no_mark", "This shop has no mark.")
    response = HttpResponse(bytes(its.mark), content_type="image/png")
    response["Cache-Control"] = "no-store"
    return response


@router.post("/shop/mark", response=ShopOut, operation_id="keepMark")
def post_mark(request: HttpRequest) -> dict[str, Any]:
    """Keep the request's body, a PNG or JPEG, as the shop's mark."""
    return _shop(keep_mark(request.body))


@router.delete("/shop/mark", response=ShopOut, operation_id="dropMark")
def delete_mark(request: HttpRequest) -> dict[str, Any]:
    """Let go of the shop's mark."""
    return _shop(drop_mark())


def _shop(its: Shop) -> dict[str, Any]:
    return {"name": its.name, "address": its.address, "currency": its.currency, "marked": bool(its.mark)}


@router.get("/address", response=AddressOut, operation_id="readAddress")
def read_address(request: HttpRequest, path: Annotated[str, Field(max_length=400)] = "/") -> dict[str, str]:
    """Return the whole address of a page, as another device opens it."""
    return {"link": address_of(request, "/" + path.lstrip("/"))}


@router.get("/code.svg", operation_id="drawCode")
def draw_code(request: HttpRequest, text: Annotated[str, Field(max_length=600)]) -> HttpResponse:
    """Return a text as a code that a tablet's camera reads; SVG."""
    out = io.BytesIO()
    segno.make(text, error="m", micro=False).save(
        out, kind="svg", scale=6, border=4, dark="#14161a", light="#ffffff"
    )
    return HttpResponse(out.getvalue(), content_type="image/svg+xml")
