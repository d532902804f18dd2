"""Open a job: only its owner and members learn that it exists."""

from typing import Any
from uuid import UUID

from django.http import Http404

from server.jobs.models import Job, Revision


def open_job(user: Any, job_id: UUID) -> Job:
    """Return the job, or raise Http404 as if it were not there."""
    job = Job.objects.known_to(user).select_related("owner").filter(pk=job_id).first()
    if job is None:
        raise Http404
    return job


def open_revision(user: Any, job_id: UUID, number: int) -> Revision:
    """Return one revision of a job, or raise Http404."""
    job = open_job(user, job_id)
    revision = job.revisions.select_related("author", "job").filter(number=number).first()
    if revision is None:
        raise Http404
    return revision
