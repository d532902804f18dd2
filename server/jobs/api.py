"""Jobs and revisions over HTTP: parse, call the action, return."""

from datetime import datetime, timedelta
from typing import Annotated, Any
from uuid import UUID

from django.db.models import OuterRef, Subquery
from django.http import HttpRequest, HttpResponse, StreamingHttpResponse
from ninja import Router, Schema, Status
from pydantic import Field

from engine.document.changes import changes_between
from engine.document.read import check_project
from server.answers import Document, Refusal, answer
from server.jobs.actions.import_project import import_project
from server.jobs.actions.keep_draft import drafts_of, drop_draft, keep_draft
from server.jobs.actions.merge_revision import together
from server.jobs.actions.open_job import open_job, open_revision
from server.jobs.actions.remove_job import clear_away, remove_job, take_back
from server.jobs.actions.save_revision import RevisionOutdated, save_revision
from server.jobs.actions.share_job import look_at
from server.jobs.comparing import Change
from server.jobs.models import KEPT_DAYS, Job, Revision
from server.jobs.saved import SAVED
from server.solving.summary import document_summary

router = Router(tags=["jobs"])
Number = Annotated[int, Field(ge=0, le=2**31)]
Tab = Annotated[str, Field(min_length=1, max_length=40, pattern=r"^[\w-]+$")]


class RemovedLine(Schema):
    """A removed job, and until when it can be taken back."""

    id: UUID
    name: str
    removed: datetime
    until: datetime


class DraftIn(Schema):
    """Unsaved changes: on top of which revision, and the whole document."""

    base: int = Field(ge=0, le=2**31)
    document: Document


class DraftOut(DraftIn):
    """Unsaved changes that were kept, by the tab that made them."""

    tab: str
    kept: datetime


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
    document: Document


class RevisionIn(Schema):
    """What is saved: on top of which revision, why, and the whole document."""

    parent: int = Field(ge=0, le=2**31)
    reason: Annotated[str, Field(min_length=1, max_length=300, pattern=r"\S")]
    document: Document


class Outdated(Refusal):
    """A refused save: both documents, so that neither is lost."""

    theirs: RevisionOut
    yours: dict[str, Any]


class ClashOut(Schema):
    """One thing that both changed: where it stands, and what differs from mine to theirs."""

    path: list[str]
    changes: list[Change]


class TogetherOut(Schema):
    """What each changed since the revision both began with, and the document with all of it; null where it does not hold
    together, and then why."""

    mine: list[Change]
    theirs: list[Change]
    document: Document | None
    clashes: list[ClashOut]
    why: str


class TogetherIn(Schema):
    """Unsaved changes on top of a revision, and the clashes of which the other one's is taken."""

    parent: int = Field(ge=0, le=2**31)
    document: Document
    from_theirs: list[list[str]] = []


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
        "parent": None if revision.parent is None else revision.parent.number,
        "reason": revision.reason,
        "author": revision.author.get_username(),
        "created": revision.created,
    }


def _whole(revision: Revision) -> dict[str, Any]:
    return {**_line(revision), "job": revision.job_id, "document": revision.document}


def _job_line(job: Job, newest: Revision, user: Any) -> dict[str, Any]:
    return {
        "id": job.id,
        "name": job.name,
        "owner": job.owner.get_username(),
        "mine": job.owner_id == user.pk,
        "revision": newest.number,
        "reason": newest.reason,
        "saved": newest.created,
        "saved_by": newest.author.get_username(),
        "stations": [{"name": name, "kind": kind} for name, kind in job.stations],
    }


def _newest_lines(jobs: Any, user: Any) -> list[dict[str, Any]]:
    """Return a line for each job, its newest revision read without its document; two queries for all of them."""
    last = Revision.objects.filter(job=OuterRef("pk")).order_by("-number").values("pk")[:1]
    found = list(jobs.select_related("owner").annotate(last=Subquery(last)))
    revisions = Revision.objects.defer("document").select_related("author")
    newest = revisions.in_bulk([job.last for job in found if job.last is not None])
    # A job that is being removed at this moment has no revision any more: it is simply not there.
    # By the order in which they were stored: a clock that was set back puts nothing last.
    found = sorted((job for job in found if job.last in newest), key=lambda job: job.last, reverse=True)
    return [_job_line(job, newest[job.last], user) for job in found]


@router.get("", response=list[JobLine], operation_id="listJobs")
def list_jobs(request: HttpRequest) -> list[dict[str, Any]]:
    """Return the jobs the user owns or shares, last saved first."""
    return _newest_lines(Job.objects.known_to(request.user), request.user)


@router.get("/removed", response=list[RemovedLine], operation_id="listRemoved")
def list_removed(request: HttpRequest) -> list[dict[str, Any]]:
    """Return the user's removed jobs that can still be taken back, the last removed first."""
    clear_away()
    jobs = Job.objects.removed_by(request.user).order_by("-removed")
    return [
        {
            "id": job.id,
            "name": job.name,
            "removed": job.removed,
            "until": job.removed + timedelta(days=KEPT_DAYS),
        }
        for job in jobs
        if job.removed is not None
    ]


@router.post("/import", response={201: JobLine}, operation_id="importProject")
def import_file(request: HttpRequest, started: Annotated[str, Field(max_length=200)] = "") -> Status[Any]:
    """Take the request's body, a project file, in as a new job; `started` is the arrangement that it was started from."""
    reason = f"Started from {started.strip()}" if started.strip() else "Imported"
    job = import_project(request.user, request.body, reason)
    return Status(201, _job_line(job, job.newest(), request.user))


@router.get("/{job_id}", response=RevisionOut, operation_id="openJob")
def open_newest(request: HttpRequest, job_id: UUID) -> dict[str, Any]:
    """Return the newest revision of a job."""
    job = open_job(request.user, job_id)
    look_at(request.user, job)
    return _whole(job.newest())


@router.get("/{job_id}/saved", response=None, operation_id="watchJob")
def watch(request: HttpRequest, job_id: UUID) -> StreamingHttpResponse:
    """Return the number of the newest revision, and each that is saved from now on, as server-sent events."""
    return SAVED.hold(request, str(open_job(request.user, job_id).pk))


@router.delete("/{job_id}", response={204: None}, operation_id="removeJob")
def remove(request: HttpRequest, job_id: UUID) -> Status[Any]:
    """Remove a job and its revisions."""
    remove_job(request.user, open_job(request.user, job_id))
    return Status(204, None)


@router.post("/{job_id}/back", response=JobLine, operation_id="takeJobBack")
def take_job_back(request: HttpRequest, job_id: UUID) -> dict[str, Any]:
    """Return a removed job to the list."""
    job = take_back(request.user, job_id)
    return _job_line(job, job.newest(), request.user)


@router.get("/{job_id}/drafts", response=list[DraftOut], operation_id="listDrafts")
def list_drafts(request: HttpRequest, job_id: UUID) -> HttpResponse:
    """Return the user's own unsaved changes of a job, the newest first."""
    found = drafts_of(request.user, open_job(request.user, job_id))
    return answer(
        [{"tab": d.tab, "base": d.base, "document": d.document, "kept": d.kept.isoformat()} for d in found]
    )


@router.put("/{job_id}/drafts/{tab}", response={204: None}, operation_id="keepDraft")
def put_draft(request: HttpRequest, job_id: UUID, tab: Tab, body: DraftIn) -> Status[Any]:
    """Keep the unsaved changes of one tab."""
    job = open_job(request.user, job_id)
    keep_draft(request.user, job, tab, body.base, body.document)
    look_at(request.user, job)
    return Status(204, None)


@router.delete("/{job_id}/drafts/{tab}", response={204: None}, operation_id="dropDraft")
def delete_draft(request: HttpRequest, job_id: UUID, tab: Tab) -> Status[Any]:
    """Forget the unsaved changes of one tab."""
    drop_draft(request.user, open_job(request.user, job_id), tab)
    return Status(204, None)


@router.get("/{job_id}/revisions", response=list[RevisionLine], operation_id="listRevisions")
def list_revisions(request: HttpRequest, job_id: UUID, after: Number = 0) -> list[dict[str, Any]]:
    """Return the log, newest first: of revisions after the one that is asked about."""
    lines = open_job(request.user, job_id).revisions.filter(number__gt=after).defer("document")
    return [_line(revision) for revision in lines.select_related("author", "parent").order_by("-number")]


@router.post(
    "/{job_id}/revisions",
    response={201: RevisionOut, 409: Outdated},
    operation_id="saveRevision",
)
def save(request: HttpRequest, job_id: UUID, body: RevisionIn) -> Status[Any] | HttpResponse:
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


@router.post(
    "/{job_id}/together",
    response=TogetherOut,
    operation_id="putTogether",
)
def put_together(request: HttpRequest, job_id: UUID, body: TogetherIn) -> HttpResponse:
    """Return unsaved changes put together with what others saved meanwhile; nothing is stored."""
    base = open_revision(request.user, job_id, body.parent)
    check_project(body.document)
    newest = open_job(request.user, job_id).newest()
    return answer(vars(together(base, body.document, newest, body.from_theirs)))


@router.get("/{job_id}/revisions/{number}", response=RevisionOut, operation_id="openRevision")
def open_one(request: HttpRequest, job_id: UUID, number: Number) -> dict[str, Any]:
    """Return one revision with its document."""
    return _whole(open_revision(request.user, job_id, number))


@router.get(
    "/{job_id}/compare/{before}/{after}",
    response=Comparison,
    operation_id="compareRevisions",
)
def compare(request: HttpRequest, job_id: UUID, before: Number, after: Number) -> dict[str, Any]:
    """Return what moved between two revisions, and what it did."""
    one, other = (open_revision(request.user, job_id, number) for number in (before, after))
    return {
        "before": _line(one),
        "after": _line(other),
        "changes": changes_between(one.document, other.document),
        "figures_before": document_summary(one.document),
        "figures_after": document_summary(other.document),
    }
