"""Save a document on top of the newest revision; refuse it on top of an older one, losing neither."""

from typing import Any

from django.db import transaction
from django.http import Http404

from engine.document.read import check_project, refuse_too_big
from server.answers import ActionRefused
from server.jobs.models import Job, Revision, size_of
from server.jobs.signals import revision_saved


class RevisionOutdated(ActionRefused):
    """Somebody else saved first; carries the newest revision and the one that was tried."""

    def __init__(self, newest: Revision, parent: int, user: Any) -> None:
        self.newest = newest
        own = newest.author_id == user.pk
        who = "You" if own else newest.author.get_username()
        where = ", in another tab or on another device," if own else ""
        detail = (
            f"{who} saved revision {newest.number} (“{newest.reason}”){where} while you worked on revision {parent} here. "
            "Nothing is lost: what only one of the two changed is kept of both."
        )
        super().__init__(409, "revision_outdated", detail, newest=newest.number, parent=parent)


def save_revision(user: Any, job: Job, parent: int, document: dict[str, Any], reason: str) -> Revision:
    """Return the new revision; raise DocumentRefused, or RevisionOutdated if `parent` is not the newest.

    A save that was stored while its answer got lost is recognised when it is tried again, and answered once more.
    """
    project = check_project(document)
    refuse_too_big(size_of(document))
    with transaction.atomic():
        if not Job.objects.filter(pk=job.pk, removed=None).exists():
            raise Http404  # removed while this was on its way
        newest = job.newest()
        if newest.number != parent:
            if _is_the_same(newest, user, parent, document, reason):
                return newest
            raise RevisionOutdated(newest, parent, user)
        revision = Revision.objects.create(
            job=job,
            number=job.last_number() + 1,
            parent=newest,
            document=document,
            reason=reason.strip(),
            author=user,
        )
        stations = [[station.name, station.kind] for station in project.stations]
        Job.objects.filter(pk=job.pk).update(name=project.name, stations=stations)
        revision_saved.send(sender=Job, job=job, before=newest.document, after=document)
    return revision


def _is_the_same(newest: Revision, user: Any, parent: int, document: dict[str, Any], reason: str) -> bool:
    """Return whether the newest revision is this very save, stored already."""
    return (
        newest.author_id == user.pk
        and newest.parent is not None
        and newest.parent.number == parent
        and newest.reason == reason.strip()
        and newest.document == document
    )
