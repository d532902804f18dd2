"""Who is at the bench: sign in, sign out, and the demo's own door."""

from ipaddress import ip_address

from django.conf import settings
from django.contrib.auth import authenticate, get_user_model, login, logout
from django.http import HttpRequest
from django.middleware.csrf import get_token
from ninja import Router, Schema
from ninja.utils import check_csrf

from server.answers import ActionRefused, Refusal

router = Router(tags=["session"])
DEMO_USER = "bench"


class Session(Schema):
    """Who is signed in (null if nobody), and whether the demo's door is open."""

    user: str | None
    demo: bool


class Credentials(Schema):
    """What is typed to sign in."""

    username: str
    password: str


def demo_is_open(request: HttpRequest) -> bool:
    """Return whether the demo user may sign in with one press: demo mode, on loopback only."""
    try:
        return bool(settings.DEMO) and ip_address(request.META.get("REMOTE_ADDR", "")).is_loopback
    except ValueError:
        return False


def _session(request: HttpRequest) -> Session:
    get_token(request)
    user = request.user
    return Session(user=user.get_username() if user.is_authenticated else None, demo=demo_is_open(request))


def _refuse_forged(request: HttpRequest) -> None:
    if check_csrf(request, lambda: None):
        raise ActionRefused(403, "forged", "This page is out of date. Load it again and sign in once more.")


@router.get("", auth=None, response=Session, operation_id="session")
def session(request: HttpRequest) -> Session:
    """Return who is signed in."""
    return _session(request)


@router.post("", auth=None, response={200: Session, 401: Refusal, 403: Refusal}, operation_id="signIn")
def sign_in(request: HttpRequest, credentials: Credentials) -> Session:
    """Sign in with a name and a password."""
    _refuse_forged(request)
    user = authenticate(request, username=credentials.username, password=credentials.password)
    if user is None:
        raise ActionRefused(
            401, "wrong_password", "That name and password do not belong together. Try again."
        )
    login(request, user)
    return _session(request)


@router.post("/demo", auth=None, response={200: Session, 403: Refusal}, operation_id="signInDemo")
def sign_in_demo(request: HttpRequest) -> Session:
    """Sign in as the demo shop, where that is allowed."""
    _refuse_forged(request)
    user = get_user_model().objects.filter(username=DEMO_USER).first()
    if not demo_is_open(request) or user is None:
        raise ActionRefused(403, "no_demo", "The demo is not open here. Sign in with a name and a password.")
    login(request, user)
    return _session(request)


@router.delete("", response=Session, operation_id="signOut")
def sign_out(request: HttpRequest) -> Session:
    """Sign out."""
    logout(request)
    return _session(request)
