"""The first owner: made in the browser with a code that only the terminal shows, once."""

import os
import secrets
from pathlib import Path
from typing import Any

from django.conf import settings
from django.contrib.auth import get_user_model
from django.db import transaction
from django.utils.crypto import constant_time_compare

from server.accounts.models import OWNER, Person
from server.accounts.passwords import new_user
from server.answers import ActionRefused

LETTERS = "ABCDEFGHJKLMNPQRSTUVWXYZ23456789"


def _kept() -> Path:
    return Path(settings.DATA) / "first_owner"


def nobody_yet() -> bool:
    """Return whether the shop has no people: then, and only then, the code makes one."""
    return not get_user_model().objects.exists()


def first_code() -> str | None:
    """Return the code that makes the first owner, made now if there is none; None once somebody is here."""
    if not nobody_yet():
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
    """Return the shop's first owner; raise ActionRefused for a wrong code, a poor password, or when somebody is here."""
    with transaction.atomic():
        if not nobody_yet():
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
        user = new_user(username, password)
        Person.objects.create(user=user, role=OWNER)
    _kept().unlink(missing_ok=True)
    return user
