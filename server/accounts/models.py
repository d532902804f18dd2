"""Who works in the shop: what each may do, and invitations that are still open."""

import uuid
from datetime import timedelta
from typing import Any

from django.conf import settings
from django.db import models
from django.utils import timezone

OWNER, BENCH, READER = "owner", "bench", "reader"
ROLES = {
    OWNER: "runs the shop’s copy: invites people, hands jobs over, looks after the backups",
    BENCH: "draws, measures and saves",
    READER: "opens what is shared, and changes nothing",
}
INVITE_DAYS = 7


class Person(models.Model):
    """What somebody may do here. A user without one is at the bench; a superuser is an owner."""

    user = models.OneToOneField(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="person")
    role = models.CharField(max_length=10, choices=[(role, role) for role in ROLES], default=BENCH)


class Invite(models.Model):
    """A way in for one person, once, for a week. The link carries the id, signed; `used` by whom."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    role = models.CharField(max_length=10, choices=[(role, role) for role in ROLES], default=BENCH)
    note = models.CharField(max_length=120, blank=True)
    made_by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="+")
    made = models.DateTimeField(default=timezone.now)
    used = models.OneToOneField(
        settings.AUTH_USER_MODEL, null=True, on_delete=models.SET_NULL, related_name="+"
    )

    @property
    def until(self) -> Any:
        """Return when it ends."""
        return self.made + timedelta(days=INVITE_DAYS)

    @property
    def open(self) -> bool:
        """Return whether it still lets somebody in: not used, not over, and not from a clock that ran ahead."""
        now = timezone.now()
        return self.used_id is None and self.made - timedelta(days=1) < now < self.until


class Shop(models.Model):
    """What the shop's papers say of it: its name, its address line by line, its mark as a PNG, its currency's sign. There is one at most."""

    name = models.CharField(max_length=120, blank=True)
    address = models.CharField(max_length=400, blank=True)
    mark = models.BinaryField(null=True)
    currency = models.CharField(max_length=6, blank=True)


def role_of(user: Any) -> str:
    """Return what a user may do."""
    if user.is_superuser:
        return OWNER
    person = Person.objects.filter(user=user).first()
    return BENCH if person is None else person.role
