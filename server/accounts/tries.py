"""Wrong passwords counted: of a name from an address, and of an address over all names; who is known here is not held up.

Known    a device on which somebody signed in before carries a signed mark of it; a guesser's has none.
Lanes    hashing a password costs most of a second of processor: who has guessed wrongly goes one behind another, and the
         lane beside that one stays free for everybody else.
"""

import threading
from collections.abc import Iterator
from contextlib import contextmanager
from datetime import timedelta
from typing import Any

from axes.handlers.proxy import AxesProxyHandler
from axes.models import AccessAttempt
from django.conf import settings
from django.contrib.auth import get_user_model
from django.core import signing
from django.db.models import Sum
from django.http import HttpRequest, HttpResponse
from django.utils import timezone

from server.accounts.who_asks import client_address
from server.answers import ActionRefused, refused

MOST_OF_AN_ADDRESS = 40  # in the time that one name is held up for
DOUBTED = 3  # wrong ones of an address, and it goes into the slow lane
WAITS_S = 4.0
COOKIE = "jugatrix_known"
SALT = "jugatrix.known"
KNOWN_FOR = timedelta(days=400)
LOCKED = "Too many wrong passwords from here for this name. Wait a quarter of an hour, or ask the shop's owner for a new one."
_quick, _slow = threading.BoundedSemaphore(1), threading.BoundedSemaphore(1)


def refuse(request: HttpRequest, name: str) -> None:
    """Raise ActionRefused, before anything is hashed, where too many were wrong."""
    if AxesProxyHandler.is_locked(request, {"username": name}):
        raise ActionRefused(429, "too_many_tries", LOCKED)
    if _wrong_of(request) >= MOST_OF_AN_ADDRESS and not _is_known(request, name):
        raise ActionRefused(
            429, "too_many_tries",
            "Too many wrong passwords from this device or network. Wait a quarter of an hour; where you have signed in before, you still can.",
        )  # fmt: skip


def locked_out(request: HttpRequest, *_: Any) -> HttpResponse:
    """Answer the try that was one too many, as every refusal is answered."""
    return refused(429, "too_many_tries", LOCKED)


def wrong(request: HttpRequest, name: str) -> None:
    """Count a wrong password of somebody who is in already, as the door counts them."""
    AxesProxyHandler.user_login_failed(sender=__name__, credentials={"username": name}, request=request)


@contextmanager
def turn_for(request: HttpRequest, name: str) -> Iterator[None]:
    """Wait for a turn to try a password."""
    doubted = _wrong_of(request) >= DOUBTED and not _is_known(request, name)
    with a_turn(slow=doubted):
        yield


@contextmanager
def a_turn(slow: bool = False) -> Iterator[None]:
    """Wait for a turn to hash a password; raise ActionRefused where too many are at it."""
    lane = _slow if slow else _quick
    if not lane.acquire(timeout=WAITS_S):
        raise ActionRefused(
            429, "busy", "Too many people are signing in at this moment. Try again in a little while."
        )
    try:
        yield
    finally:
        lane.release()


def remember(response: HttpResponse, user: Any) -> None:
    """Mark a device as one on which somebody was let in."""
    response.set_cookie(
        COOKIE, signing.dumps(user.pk, salt=SALT), max_age=KNOWN_FOR, httponly=True, samesite="Lax",
        secure=settings.SESSION_COOKIE_SECURE, path="/api/",
    )  # fmt: skip


def _is_known(request: HttpRequest, name: str) -> bool:
    try:
        pk = signing.loads(request.COOKIES.get(COOKIE, ""), salt=SALT, max_age=KNOWN_FOR)
    except signing.BadSignature:
        return False
    return bool(get_user_model().objects.filter(pk=pk, username=name, is_active=True).exists())


def _wrong_of(request: HttpRequest) -> int:
    since = timezone.now() - settings.AXES_COOLOFF_TIME
    found = AccessAttempt.objects.filter(ip_address=client_address(request), attempt_time__gte=since)
    return int(found.aggregate(many=Sum("failures_since_start"))["many"] or 0)
