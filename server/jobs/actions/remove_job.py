"""Remove a job: its owner's right alone; it can be taken back for thirty days, and is then gone with all it held."""

import shutil
from typing import Any
from uuid import UUID

from django.conf import settings
from django.db import transaction
from django.http import Http404
from django.utils import timezone

from server.answers import ActionRefused
from server.jobs.models import Job, Revision
from server.jobs.signals import job_going, job_removed


def remove_job(user: Any, job: Job) -> None:
    """Put the job away; raise if the user only shares it."""
    if job.owner_id != user.pk:
        raise ActionRefused(
            403, "not_owner", f"Only {job.owner.get_username()}, who owns the job, can remove it."
        )
    Job.objects.filter(pk=job.pk).update(removed=timezone.now())
    job_removed.send(sender=Job, job=job.pk)


def take_back(user: Any, job_id: UUID) -> Job:
    """Return a removed job to the list; raise Http404 where there is none of the user's."""
    job = Job.objects.removed_by(user).select_related("owner").filter(pk=job_id).first()
    if job is None:
        raise Http404
    Job.objects.filter(pk=job.pk).update(removed=None)
    return job


def clear_away() -> int:
    """Delete for good what was removed too long ago to be taken back; return how many jobs."""
    past = list(Job.objects.past_keeping().values_list("pk", flat=True))
    for pk in past:
        gone = [then for _, then in job_going.send(sender=Job, job=pk) if then is not None]
        with transaction.atomic():
            # Children first: a parent is protected while a later revision stands on it.
            for number in Revision.objects.filter(job=pk).order_by("-number").values_list("pk", flat=True):
                Revision.objects.filter(pk=number).delete()
            Job.objects.filter(pk=pk).delete()
        for then in gone:
            then()
        shutil.rmtree(settings.STUDIES / str(pk), ignore_errors=True)
    return len(past)
