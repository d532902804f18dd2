"""Save a document on top of the newest revision; refuse it on top of an older one, losing neither."""

from typing import Any

from django.db import transaction

from engine.document.read import check_project
from server.config.answers import ActionRefused
from server.jobs.models import Job, Revision


class RevisionOutdated(ActionRefused):
    """Somebody else saved first; carries the newest revision and the one that was tried."""

    def __init__(self, newest: Revision, parent: int) -> None:
        self.newest = newest
        detail = (
            f"{newest.author.get_username()} saved revision {newest.number} (“{newest.reason}”) while you worked on "
            f"revision {parent}. Yours is kept here: compare the two, then save yours on top or take theirs."
        )
        super().__init__(409, "revision_outdated", detail, newest=newest.number, parent=parent)


def save_revision(user: Any, job: Job, parent: int, document: dict[str, Any], reason: str) -> Revision:
    """Return the new revision; raise DocumentRefused, or RevisionOutdated if `parent` is not the newest."""
    project = check_project(document)
    with transaction.atomic():
        newest = job.newest()
        if newest.number != parent:
            raise RevisionOutdated(newest, parent)
        revision = Revision.objects.create(
            job=job,
            number=newest.number + 1,
            parent=newest,
            document=document,
            reason=reason.strip(),
            author=user,
        )
        Job.objects.filter(pk=job.pk).update(name=project.name)
    return revision
