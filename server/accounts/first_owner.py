"""The first owner, and the next where none is left: made in the browser with a code that only the terminal shows, once."""

import os
import secrets
from pathlib import Path
from typing import Any

from django.conf import settings
from django.contrib.auth import get_user_model
from django.db import transaction
from django.db.models import Q
from django.utils.crypto import constant_time_compare

from server.accounts.models import OWNER, Person
from server.accounts.passwords import new_user, set_password, sign_out_everywhere
from server.answers import ActionRefused

LETTERS = "ABCDEFGHJKLMNPQRSTUVWXYZ23456789"


def _kept() -> Path:
    return Path(settings.DATA) / "first_owner"


def nobody_yet() -> bool:
    """Return whether the shop has no people."""
    return not get_user_model().objects.exists()


def nobody_runs_it() -> bool:
    """Return whether nobody who can sign in is an owner: then, and only then, the code makes one."""
    owners = get_user_model().objects.filter(is_active=True)
    owners = owners.filter(Q(is_superuser=True) | Q(person__role=OWNER))
    return not any(user.has_usable_password() for user in owners)


def first_code() -> str | None:
    """Return the code that makes an owner, made now if there is none; None where somebody is one."""
    if not nobody_runs_it():
        _kept().unlink(missing_ok=True)
        return None
    try:
        code = _kept().read_text().strip()
    except OSError:
        code = ""
    if not code:
        code = "-".join("".join(secrets.choice(LETTERS) for _ in range(4)) for _ in range(3))
        with open(_kept(), "w", opener=lambda path, flags: os.open(path, flags, 0o600)) as file:
            file.write(code)
    return code


def make_first_owner(code: str, username: str, password: str) -> Any:
    """Return the shop's owner: somebody new, or who has that name already, with a new password.

    Raise ActionRefused for a wrong code, a poor password, or where somebody who can sign in is an owner.
    """
    with transaction.atomic():
        if not nobody_runs_it():
            raise ActionRefused(403, "not_first", "This shop has its owner already. Ask for an invitation.")
        try:
            right = _kept().read_text().strip()
        except OSError:
            right = ""
        if not right or not constant_time_compare(code.strip().upper(), right):
            raise ActionRefused(
                403,
                "wrong_code",
                "That is not the code. It stands in the terminal where Jugatrix was started.",
            )
        user = get_user_model().objects.filter(username=" ".join(username.split())).first()
        if user is None:
            user = new_user(username, password)
        else:
            user.is_active = True
            set_password(user, password)
            user.save(update_fields=["is_active"])
            sign_out_everywhere(user)
        Person.objects.update_or_create(user=user, defaults={"role": OWNER})
    _kept().unlink(missing_ok=True)
    return user
