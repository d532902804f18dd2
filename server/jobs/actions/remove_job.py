"""Remove a job with all its revisions: its owner's right alone."""

from typing import Any

from django.db import transaction

from server.config.answers import ActionRefused
from server.jobs.models import Job, Revision


def remove_job(user: Any, job: Job) -> None:
    """Remove the job; raise if the user only shares it."""
    if job.owner_id != user.pk:
        raise ActionRefused(
            403, "not_owner", f"Only {job.owner.get_username()}, who owns the job, can remove it."
        )
    with transaction.atomic():
        # Children first: a parent is protected while a later revision stands on it.
        for revision in Revision.objects.filter(job=job).order_by("-number"):
            revision.delete()
        job.delete()
