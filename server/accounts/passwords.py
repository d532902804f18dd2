"""Passwords: what a good one is, new people, and links that set a new one."""

from typing import Any

from django.contrib.auth import get_user_model
from django.contrib.auth.hashers import make_password
from django.contrib.auth.password_validation import validate_password
from django.contrib.auth.tokens import default_token_generator
from django.contrib.sessions.models import Session
from django.core.exceptions import ValidationError
from django.db import transaction
from django.utils.http import urlsafe_base64_decode, urlsafe_base64_encode

from server.accounts.names import good_name
from server.accounts.tries import a_turn
from server.answers import ActionRefused


def new_user(username: str, password: str) -> Any:
    """Return a new user; raise ActionRefused for a name that will not do or is taken, or a poor password."""
    user = get_user_model()(username=good_name(username))
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
    """Return whose password a link resets; raise ActionRefused where it is over, used, or its person not let in any more."""
    try:
        user = get_user_model().objects.get(pk=int(urlsafe_base64_decode(who)))
    except (ValueError, OverflowError, get_user_model().DoesNotExist):
        user = None
    if user is None or not default_token_generator.check_token(user, token):
        raise ActionRefused(
            403, "link_over", "This link has been used or is too old. Ask the shop's owner for another."
        )
    if not user.is_active:
        raise ActionRefused(403, "link_over", "This person is locked out. Ask the shop's owner.")
    return user


def reset_by_link(who: str, token: str, password: str) -> Any:
    """Return whose password was set anew by a link, once, even where it is taken by several at the same moment."""
    user = user_of_reset(who, token)
    good_password(password, user)
    with a_turn():
        hashed = make_password(password)
    with transaction.atomic():
        # Looked at again where only one can be: the first to store makes the link one that was used.
        user = user_of_reset(who, token)
        user.password = hashed
        user.save(update_fields=["password"])
        sign_out_everywhere(user)
    return user
