"""Who is at the bench: sign in, sign out, and the demo's own door."""

import logging
from ipaddress import ip_address

from django.conf import settings
from django.contrib.auth import authenticate, get_user_model, login, logout
from django.http import HttpRequest, HttpResponse
from django.middleware.csrf import get_token
from ninja import Router, Schema
from ninja.utils import check_csrf

from server.accounts import tries
from server.accounts.first_owner import nobody_runs_it, nobody_yet
from server.accounts.models import OWNER, role_of
from server.accounts.who_asks import FORWARDED
from server.answers import ActionRefused
from server.running.disk import warnings

log = logging.getLogger("jugatrix.accounts")
router = Router(tags=["session"])
DEMO_USER = "bench"


class Session(Schema):
    """Who is signed in (null if nobody), what he may do, whether the demo's door is open, and whether nobody is here yet.

    ownerless : people are here, and none who can sign in runs the shop's copy: whoever has the code from the terminal may
    warnings : what an owner should know of the machine now
    """

    user: str | None
    role: str | None = None
    demo: bool
    first: bool = False
    ownerless: bool = False
    warnings: list[str] = []


class Credentials(Schema):
    """What is typed to sign in."""

    username: str
    password: str


def demo_is_open(request: HttpRequest) -> bool:
    """Return whether the demo user may sign in with one press: demo mode, on loopback only, through no proxy."""
    if request.META.get(FORWARDED):
        return False
    try:
        return bool(settings.DEMO) and ip_address(request.META.get("REMOTE_ADDR", "")).is_loopback
    except ValueError:
        return False


def session_of(request: HttpRequest) -> Session:
    """Return who is signed in, with a fresh token."""
    get_token(request)
    user, demo = request.user, demo_is_open(request)
    if not user.is_authenticated:
        first = settings.SERVING and nobody_yet()
        return Session(
            user=None, demo=demo, first=first, ownerless=settings.SERVING and not first and nobody_runs_it()
        )
    role = role_of(user)
    return Session(
        user=user.get_username(), role=role, demo=demo, warnings=warnings() if role == OWNER else []
    )


def refuse_forged(request: HttpRequest) -> None:
    """Raise ActionRefused for a call that this page did not make."""
    if check_csrf(request, lambda: None):
        raise ActionRefused(403, "forged", "This page is out of date. Load it again and sign in once more.")


@router.get("", auth=None, response=Session, operation_id="session")
def session(request: HttpRequest) -> Session:
    """Return who is signed in."""
    return session_of(request)


@router.post("", auth=None, response=Session, operation_id="signIn")
def sign_in(request: HttpRequest, credentials: Credentials, response: HttpResponse) -> Session:
    """Sign in with a name and a password."""
    refuse_forged(request)
    tries.refuse(request, credentials.username)
    with tries.turn_for(request, credentials.username):
        user = authenticate(request, username=credentials.username, password=credentials.password)
    if user is None:
        log.warning("a wrong password for %s", credentials.username[:60])
        tries.refuse(request, credentials.username)
        raise ActionRefused(401, "wrong_password", "That name and password do not match. Try again.")
    login(request, user)
    tries.remember(response, user)
    return session_of(request)


@router.post("/demo", auth=None, response=Session, operation_id="signInDemo")
def sign_in_demo(request: HttpRequest) -> Session:
    """Sign in as the demo shop, where that is allowed."""
    refuse_forged(request)
    user = get_user_model().objects.filter(username=DEMO_USER).first()
    if not demo_is_open(request) or user is None:
        raise ActionRefused(403, "no_demo", "The demo is not open here. Sign in with a name and a password.")
    login(request, user, backend="django.contrib.auth.backends.ModelBackend")
    return session_of(request)


@router.delete("", response=Session, operation_id="signOut")
def sign_out(request: HttpRequest) -> Session:
    """Sign out."""
    logout(request)
    return session_of(request)
