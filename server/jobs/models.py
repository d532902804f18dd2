"""Jobs, and the immutable revisions each one is a chain of."""

import uuid
from typing import Any

from django.conf import settings
from django.db import models


class JobQuerySet(models.QuerySet["Job"]):
    """Jobs, narrowed to those a user may know of."""

    def known_to(self, user: Any) -> "JobQuerySet":
        """Return the jobs a user owns or is a member of."""
        return self.filter(models.Q(owner=user) | models.Q(members=user)).distinct()


class Job(models.Model):
    """One vehicle on the bench. Its name is that of its newest revision."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    name = models.CharField(max_length=120)
    owner = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="jobs")
    members = models.ManyToManyField(settings.AUTH_USER_MODEL, related_name="shared_jobs", blank=True)
    created = models.DateTimeField(auto_now_add=True)

    objects = JobQuerySet.as_manager()

    def newest(self) -> "Revision":
        """Return the latest revision; a job always has one."""
        return self.revisions.order_by("-number")[:1].get()


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
