"""Invitations: made by an owner, taken by one person, once."""

from typing import Any
from uuid import UUID

from django.core import signing
from django.db import transaction

from server.accounts.models import INVITE_DAYS, ROLES, Invite, Person
from server.accounts.passwords import new_user
from server.answers import ActionRefused

SALT = "jugatrix.invite"


def invite(by: Any, role: str, note: str = "") -> Invite:
    """Return a new invitation."""
    if role not in ROLES:
        raise ActionRefused(422, "no_role", f"“{role}” is none; take one of {', '.join(ROLES)}.")
    return Invite.objects.create(made_by=by, role=role, note=note.strip()[:120])


def invite_path(one: Invite) -> str:
    """Return the way in: `/invite/…`, signed."""
    return f"/invite/{signing.dumps(str(one.pk), salt=SALT, compress=False)}"


def invite_of(token: str) -> Invite:
    """Return the open invitation of a link; raise ActionRefused."""
    over = ActionRefused(
        403,
        "link_over",
        "This invitation has been used or withdrawn, or is too old. Ask the shop's owner for another.",
    )
    try:
        pk = UUID(signing.loads(token, salt=SALT, max_age=INVITE_DAYS * 86400 + 86400))
    except (signing.BadSignature, ValueError):
        raise over from None
    one = Invite.objects.select_related("made_by").filter(pk=pk).first()
    if one is None or not one.open or not one.made_by.is_active:
        raise over
    return one


def take_invite(token: str, username: str, password: str) -> Any:
    """Return the new person; raise ActionRefused, and leave the invitation open, where the name or password will not do."""
    with transaction.atomic():
        one = invite_of(token)
        user = new_user(username, password)
        Person.objects.create(user=user, role=one.role)
        Invite.objects.filter(pk=one.pk).update(used=user)
    return user
