"""Who a job is open to, over HTTP."""

from datetime import datetime
from typing import Annotated, Any
from uuid import UUID

from django.http import HttpRequest
from ninja import Router, Schema
from pydantic import Field

from server.accounts.models import OWNER, role_of
from server.jobs.actions.open_job import open_job
from server.jobs.actions.share_job import hand_over, share, unshare, who_is_here
from server.jobs.models import Job

router = Router(tags=["jobs"])


class HereOut(Schema):
    """Somebody who has the job open."""

    name: str
    at: datetime


class JobPeople(Schema):
    """Whose job it is, to whom it is open, and who else has it open now; whether one may change that."""

    owner: str
    members: list[str]
    here: list[HereOut]
    mine: bool


class NewOwner(Schema):
    """To whom a job is handed."""

    name: Annotated[str, Field(max_length=200)]


def _people(request: HttpRequest, job: Job) -> dict[str, Any]:
    job.refresh_from_db()
    return {
        "owner": job.owner.get_username(),
        "members": sorted(user.get_username() for user in job.members.all()),
        "here": [vars(one) for one in who_is_here(job, request.user)],
        "mine": job.owner_id == request.user.pk or role_of(request.user) == OWNER,
    }


@router.get("/{job_id}/people", response=JobPeople, operation_id="readJobPeople")
def read(request: HttpRequest, job_id: UUID) -> dict[str, Any]:
    """Return who a job is open to."""
    return _people(request, open_job(request.user, job_id))


@router.put(
    "/{job_id}/people/{path:name}",
    response=JobPeople,
    operation_id="shareJob",
)
def put(request: HttpRequest, job_id: UUID, name: str) -> dict[str, Any]:
    """Open a job to somebody."""
    job = open_job(request.user, job_id)
    share(request.user, job, name)
    return _people(request, job)


@router.delete(
    "/{job_id}/people/{path:name}",
    response=JobPeople,
    operation_id="unshareJob",
)
def remove(request: HttpRequest, job_id: UUID, name: str) -> dict[str, Any]:
    """Close a job to somebody."""
    job = open_job(request.user, job_id)
    unshare(request.user, job, name)
    return _people(request, job)


@router.post(
    "/{job_id}/owner",
    response=JobPeople,
    operation_id="handJobOver",
)
def hand(request: HttpRequest, job_id: UUID, body: NewOwner) -> dict[str, Any]:
    """Hand a job over."""
    job = open_job(request.user, job_id)
    hand_over(request.user, job, body.name)
    return _people(request, job)
