"""Names and passwords: what a good one is, new people, links that set a new one, and how many are tried at a time."""

import threading
from collections.abc import Iterator
from contextlib import contextmanager
from typing import Any

from django.contrib.auth import get_user_model
from django.contrib.auth.password_validation import validate_password
from django.contrib.auth.tokens import default_token_generator
from django.contrib.sessions.models import Session
from django.core.exceptions import ValidationError
from django.utils.http import urlsafe_base64_decode, urlsafe_base64_encode

from server.answers import ActionRefused

AT_A_TIME = 2  # each costs most of a second of processor: guessers must not take the bench's
WAITS_S = 4.0
_trying = threading.BoundedSemaphore(AT_A_TIME)


@contextmanager
def a_turn() -> Iterator[None]:
    """Wait for a turn to hash a password; raise ActionRefused where too many are at it."""
    if not _trying.acquire(timeout=WAITS_S):
        raise ActionRefused(
            429, "busy", "Too many people are signing in at this moment. Try again in a little while."
        )
    try:
        yield
    finally:
        _trying.release()


def new_user(username: str, password: str) -> Any:
    """Return a new user; raise ActionRefused for a name that is taken or empty, or a poor password."""
    name = " ".join(username.split())
    if not name or not name.isprintable() or len(name) > 60:
        raise ActionRefused(
            422, "poor_name", "Give a name of up to 60 letters: it stands beside every reading."
        )
    users = get_user_model().objects
    if users.filter(username__iexact=name).exists():
        raise ActionRefused(422, "name_taken", f"Somebody here is called {name} already. Take another name.")
    user = get_user_model()(username=name)
    good_password(password, user)
    with a_turn():
        user.set_password(password)
    user.save()
    return user


def good_password(password: str, user: Any) -> None:
    """Raise ActionRefused with what is wrong with a password."""
    try:
        validate_password(password, user)
    except ValidationError as error:
        raise ActionRefused(422, "poor_password", " ".join(error.messages)) from error


def set_password(user: Any, password: str) -> None:
    """Set a new password, and end every session that was opened with the old one."""
    good_password(password, user)
    with a_turn():
        user.set_password(password)
    user.save(update_fields=["password"])


def sign_out_everywhere(user: Any) -> int:
    """End every session of a user; return how many."""
    ended = 0
    for session in Session.objects.iterator():
        if session.get_decoded().get("_auth_user_id") == str(user.pk):
            session.delete()
            ended += 1
    return ended


def reset_path(user: Any) -> str:
    """Return the way, once and for a while, to a new password: `/reset/WHO/TOKEN`."""
    who = urlsafe_base64_encode(str(user.pk).encode())
    return f"/reset/{who}/{default_token_generator.make_token(user)}"


def user_of_reset(who: str, token: str) -> Any:
    """Return whose password a link resets; raise ActionRefused where it is over or used."""
    try:
        user = get_user_model().objects.get(pk=int(urlsafe_base64_decode(who)))
    except (ValueError, OverflowError, get_user_model().DoesNotExist):
        user = None
    if user is None or not default_token_generator.check_token(user, token):
        raise ActionRefused(
            403, "link_over", "This link has been used or is too old. Ask the shop's owner for another."
        )
    return user
