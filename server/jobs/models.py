"""Jobs, and the immutable revisions each one is a chain of."""

import uuid
from datetime import timedelta
from typing import Any

import orjson
from django.conf import settings
from django.db import models
from django.http import Http404
from django.utils import timezone

from server.accounts.models import OWNER, role_of

KEPT_DAYS = 30  # a removed job can be taken back for so long


class JobQuerySet(models.QuerySet["Job"]):
    """Jobs, narrowed to those a user may know of."""

    def known_to(self, user: Any) -> "JobQuerySet":
        """Return the jobs a user owns or is a member of; who runs the shop's copy knows all of them."""
        if role_of(user) == OWNER:
            return self.filter(removed=None)
        return self.filter(models.Q(owner=user) | models.Q(members=user), removed=None).distinct()

    def removed_by(self, user: Any) -> "JobQuerySet":
        """Return the jobs that a user removed and can still take back."""
        return self.filter(owner=user, removed__gte=timezone.now() - timedelta(days=KEPT_DAYS))

    def past_keeping(self) -> "JobQuerySet":
        """Return the jobs that were removed too long ago to be taken back."""
        return self.filter(removed__lt=timezone.now() - timedelta(days=KEPT_DAYS))


class Job(models.Model):
    """One vehicle on the bench. Its name and its stations are those of its newest revision.

    stations : [[name, kind], …], so that a list of jobs need not read whole documents
    removed  : when it was removed; it can be taken back for a while
    """

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    name = models.CharField(max_length=120)
    owner = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="jobs")
    members = models.ManyToManyField(settings.AUTH_USER_MODEL, related_name="shared_jobs", blank=True)
    created = models.DateTimeField(auto_now_add=True)
    stations = models.JSONField(default=list)
    removed = models.DateTimeField(null=True, blank=True)

    objects = JobQuerySet.as_manager()

    def newest(self) -> "Revision":
        """Return the latest revision that can be read out; raise Http404 if the job was removed meanwhile."""
        for revision in self.revisions.select_related("author").order_by("-number").iterator(chunk_size=1):
            if can_be_read_out(revision.document):
                return revision
        raise Http404

    def last_number(self) -> int:
        """Return the number of the latest revision, whatever is in it."""
        return int(self.revisions.aggregate(last=models.Max("number"))["last"] or 0)


def can_be_read_out(document: Any) -> bool:
    """Return whether a document can be sent to a browser: what cannot is never stored, and was once."""
    try:
        size_of(document)
    except TypeError:
        return False
    return True


def size_of(document: Any) -> int:
    """Return how many bytes a document takes; raise TypeError for one that cannot be read out."""
    return len(orjson.dumps(document))


class Revision(models.Model):
    """One saved state of a job: a whole project file, with who, when and why. Never changed."""

    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="revisions")
    number = models.PositiveIntegerField()
    parent = models.ForeignKey("self", null=True, on_delete=models.PROTECT, related_name="children")
    document = models.JSONField()
    reason = models.CharField(max_length=300)
    author = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    created = models.DateTimeField(auto_now_add=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["job", "number"], name="one_revision_per_number")]
        ordering = ["number"]

    def save(self, *args: Any, **kwargs: Any) -> None:
        """Save once; a saved revision is history."""
        if not self._state.adding:
            raise TypeError("A revision is never changed; save a new one on top of it.")
        super().save(*args, **kwargs)


class Look(models.Model):
    """When somebody last had a job in hand: opened it, or changed something in it."""

    user = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="+")
    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="looks")
    at = models.DateTimeField()

    class Meta:
        constraints = [models.UniqueConstraint(fields=["user", "job"], name="one_look_per_user")]


class Draft(models.Model):
    """What somebody has changed and not saved yet, by user, job and tab: kept so that a dead browser loses nothing."""

    user = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="drafts")
    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="drafts")
    tab = models.CharField(max_length=40)
    base = models.PositiveIntegerField()
    document = models.JSONField()
    kept = models.DateTimeField(auto_now=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["user", "job", "tab"], name="one_draft_per_tab")]
        ordering = ["-kept"]
