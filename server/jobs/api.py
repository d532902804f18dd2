"""Jobs and revisions over HTTP: parse, call the action, return."""

from datetime import datetime
from typing import Annotated, Any
from uuid import UUID

from django.db.models import Max
from django.http import HttpRequest, HttpResponse
from ninja import Router, Schema, Status
from pydantic import Field

from engine.document.changes import changes_between
from server.config.answers import Refusal, answer
from server.jobs.actions.import_project import import_project
from server.jobs.actions.open_job import open_job, open_revision
from server.jobs.actions.remove_job import remove_job
from server.jobs.actions.save_revision import RevisionOutdated, save_revision
from server.jobs.models import Job, Revision
from server.solving.api import Change
from server.solving.summary import document_summary

router = Router(tags=["jobs"])


class StationLine(Schema):
    """A station in the job list."""

    name: str
    kind: str


class JobLine(Schema):
    """A job in the list."""

    id: UUID
    name: str
    owner: str
    mine: bool
    revision: int
    reason: str
    saved: datetime
    saved_by: str
    stations: list[StationLine]


class RevisionLine(Schema):
    """A revision in the log."""

    number: int
    parent: int | None
    reason: str
    author: str
    created: datetime


class RevisionOut(RevisionLine):
    """A revision with its document."""

    job: UUID
    document: dict[str, Any]


class RevisionIn(Schema):
    """What is saved: on top of which revision, why, and the whole document."""

    parent: int
    reason: Annotated[str, Field(min_length=1, max_length=300, pattern=r"\S")]
    document: dict[str, Any]


class Outdated(Refusal):
    """A refused save: both documents, so that neither is lost."""

    theirs: RevisionOut
    yours: dict[str, Any]


class Summary(Schema):
    """What a station does, for comparing; null where it is not known."""

    station: str
    figures: dict[str, float | None]
    fault: str | None


class Comparison(Schema):
    """Two revisions side by side."""

    before: RevisionLine
    after: RevisionLine
    changes: list[Change]
    figures_before: list[Summary]
    figures_after: list[Summary]


def _line(revision: Revision) -> dict[str, Any]:
    return {
        "number": revision.number,
        "parent": revision.number - 1 or None,
        "reason": revision.reason,
        "author": revision.author.get_username(),
        "created": revision.created,
    }


def _whole(revision: Revision) -> dict[str, Any]:
    return {**_line(revision), "job": revision.job_id, "document": revision.document}


def _job_line(job: Job, newest: Revision, user: Any) -> dict[str, Any]:
    stations = newest.document.get("stations", [])
    return {
        "id": job.id,
        "name": job.name,
        "owner": job.owner.get_username(),
        "mine": job.owner_id == user.pk,
        "revision": newest.number,
        "reason": newest.reason,
        "saved": newest.created,
        "saved_by": newest.author.get_username(),
        "stations": [{"name": s["name"], "kind": s["kind"]} for s in stations],
    }


@router.get("", response=list[JobLine], operation_id="listJobs")
def list_jobs(request: HttpRequest) -> list[dict[str, Any]]:
    """Return the jobs the user owns or shares, last saved first."""
    jobs = Job.objects.known_to(request.user).select_related("owner").annotate(top=Max("revisions__number"))
    lines = [
        _job_line(job, job.revisions.select_related("author").get(number=job.top), request.user)
        for job in jobs
    ]
    return sorted(lines, key=lambda line: line["saved"], reverse=True)


@router.post("/import", response={201: JobLine, 413: Refusal, 422: Refusal}, operation_id="importProject")
def import_file(request: HttpRequest) -> Status:
    """Take the request's body, a project file, in as a new job."""
    job = import_project(request.user, request.body)
    return Status(201, _job_line(job, job.newest(), request.user))


@router.get("/{job_id}", response={200: RevisionOut, 404: Refusal}, operation_id="openJob")
def open_newest(request: HttpRequest, job_id: UUID) -> dict[str, Any]:
    """Return the newest revision of a job."""
    return _whole(open_job(request.user, job_id).newest())


@router.delete("/{job_id}", response={204: None, 403: Refusal, 404: Refusal}, operation_id="removeJob")
def remove(request: HttpRequest, job_id: UUID) -> Status:
    """Remove a job and its revisions."""
    remove_job(request.user, open_job(request.user, job_id))
    return Status(204, None)


@router.get(
    "/{job_id}/revisions", response={200: list[RevisionLine], 404: Refusal}, operation_id="listRevisions"
)
def list_revisions(request: HttpRequest, job_id: UUID) -> list[dict[str, Any]]:
    """Return the log, newest first."""
    job = open_job(request.user, job_id)
    return [_line(revision) for revision in job.revisions.select_related("author").order_by("-number")]


@router.post(
    "/{job_id}/revisions",
    response={201: RevisionOut, 404: Refusal, 409: Outdated, 422: Refusal},
    operation_id="saveRevision",
)
def save(request: HttpRequest, job_id: UUID, body: RevisionIn) -> Status | HttpResponse:
    """Save a revision on top of the newest."""
    job = open_job(request.user, job_id)
    try:
        saved = save_revision(request.user, job, body.parent, body.document, body.reason)
    except RevisionOutdated as outdated:
        both = {
            "code": outdated.code,
            "detail": str(outdated),
            "path": "",
            "values": outdated.values,
            "theirs": _whole(outdated.newest),
            "yours": body.document,
        }
        return answer(both, 409)
    return Status(201, _whole(saved))


@router.get(
    "/{job_id}/revisions/{number}", response={200: RevisionOut, 404: Refusal}, operation_id="openRevision"
)
def open_one(request: HttpRequest, job_id: UUID, number: int) -> dict[str, Any]:
    """Return one revision with its document."""
    return _whole(open_revision(request.user, job_id, number))


@router.get(
    "/{job_id}/compare/{before}/{after}",
    response={200: Comparison, 404: Refusal},
    operation_id="compareRevisions",
)
def compare(request: HttpRequest, job_id: UUID, before: int, after: int) -> dict[str, Any]:
    """Return what moved between two revisions, and what it did."""
    one, other = (open_revision(request.user, job_id, number) for number in (before, after))
    return {
        "before": _line(one),
        "after": _line(other),
        "changes": changes_between(one.document, other.document),
        "figures_before": document_summary(one.document),
        "figures_after": document_summary(other.document),
    }
