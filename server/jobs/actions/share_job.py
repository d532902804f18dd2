"""Who a job is open to: its owner shares it, takes that back, and hands it over; who has it open now."""

import contextlib
from datetime import datetime, timedelta
from typing import Any

from django.contrib.auth import get_user_model
from django.db import OperationalError, transaction
from django.utils import timezone

from engine.facts import facts
from server.accounts.models import OWNER, READER, role_of
from server.answers import ActionRefused
from server.jobs.models import Job, Look

HERE = timedelta(minutes=10)


@facts
class Here:
    """Somebody who had the job in hand a moment ago."""

    name: str
    at: datetime


def look_at(user: Any, job: Job) -> None:
    """Remember that somebody has the job in hand; where that cannot be stored, the job opens all the same."""
    with contextlib.suppress(OperationalError):
        Look.objects.update_or_create(user=user, job=job, defaults={"at": timezone.now()})


def who_is_here(job: Job, but: Any) -> list[Here]:
    """Return who else had the job in hand within the last minutes, the last first."""
    since = timezone.now() - HERE
    # A clock that was set back leaves looks in the future: they count as now, for a while.
    looks = job.looks.filter(at__gte=since).exclude(user=but).select_related("user").order_by("-at")
    return [Here(name=look.user.get_username(), at=look.at) for look in looks]


def _somebody(name: str) -> Any:
    user = get_user_model().objects.filter(username=name, is_active=True).first()
    if user is None:
        raise ActionRefused(404, "nobody", f"Nobody here is called {name}.")
    return user


def _must_own(user: Any, job: Job) -> None:
    if job.owner_id != user.pk and role_of(user) != OWNER:
        raise ActionRefused(
            403, "not_owner", f"Only {job.owner.get_username()}, who owns the job, can say who else opens it."
        )


def share(user: Any, job: Job, name: str) -> None:
    """Open a job to somebody; raise ActionRefused."""
    _must_own(user, job)
    other = _somebody(name)
    if other.pk != job.owner_id:
        job.members.add(other)


def unshare(user: Any, job: Job, name: str) -> None:
    """Close a job to somebody: the owner may, and everybody for himself."""
    other = get_user_model().objects.filter(username=name).first()
    if other is None or other.pk != user.pk:
        _must_own(user, job)
    if other is not None:
        job.members.remove(other)


def hand_over(user: Any, job: Job, name: str) -> None:
    """Make somebody else a job's owner; who had it keeps it open. Raise ActionRefused."""
    _must_own(user, job)
    other = _somebody(name)
    if role_of(other) == READER:
        raise ActionRefused(422, "reader", f"{name} only reads here, and cannot own a job.")
    with transaction.atomic():
        before = job.owner
        Job.objects.filter(pk=job.pk).update(owner=other)
        job.members.remove(other)
        job.members.add(before)
