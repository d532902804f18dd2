"""Who is at the bench: sign in, sign out, and the demo's own door."""

import logging
from ipaddress import ip_address

from axes.handlers.proxy import AxesProxyHandler
from django.conf import settings
from django.contrib.auth import authenticate, get_user_model, login, logout
from django.http import HttpRequest
from django.middleware.csrf import get_token
from ninja import Router, Schema
from ninja.utils import check_csrf

from server.accounts.first_owner import nobody_yet
from server.accounts.models import OWNER, role_of
from server.accounts.passwords import a_turn
from server.accounts.who_asks import FORWARDED
from server.answers import ActionRefused, Refusal
from server.running.disk import warnings

log = logging.getLogger("jugatrix.accounts")
router = Router(tags=["session"])
DEMO_USER = "bench"


class Session(Schema):
    """Who is signed in (null if nobody), what he may do, whether the demo's door is open, and whether nobody is here yet.

    warnings : what an owner should know of the machine now
    """

    user: str | None
    role: str | None = None
    demo: bool
    first: bool = False
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
        return Session(user=None, demo=demo, first=settings.SERVING and nobody_yet())
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


@router.post(
    "", auth=None, response={200: Session, 401: Refusal, 403: Refusal, 429: Refusal}, operation_id="signIn"
)
def sign_in(request: HttpRequest, credentials: Credentials) -> Session:
    """Sign in with a name and a password."""
    refuse_forged(request)
    known = {"username": credentials.username}
    # Who is locked out is told so before anything is hashed.
    if AxesProxyHandler.is_locked(request, known):
        raise _locked()
    with a_turn():
        user = authenticate(request, username=credentials.username, password=credentials.password)
    if user is None:
        log.warning("a wrong password for %s", credentials.username[:60])
        if AxesProxyHandler.is_locked(request, known):
            raise _locked()
        raise ActionRefused(
            401, "wrong_password", "That name and password do not belong together. Try again."
        )
    login(request, user)
    return session_of(request)


def _locked() -> ActionRefused:
    return ActionRefused(
        429, "too_many_tries",
        "Too many wrong passwords from here for this name. Wait a quarter of an hour, or ask the shop's owner for a new one.",
    )  # fmt: skip


@router.post("/demo", auth=None, response={200: Session, 403: Refusal}, operation_id="signInDemo")
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
