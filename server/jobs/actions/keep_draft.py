"""Keep what somebody has changed and not saved, and give it back when it is asked for."""

from typing import Any

from engine.document.read import refuse_too_big
from server.answers import ActionRefused
from server.jobs.models import Draft, Job, can_be_read_out, size_of

MOST_TABS = 12  # the oldest goes when a job is open in more


def keep_draft(user: Any, job: Job, tab: str, base: int, document: dict[str, Any]) -> Draft:
    """Keep the draft of one tab; it need not be sound, only such that it can be read out again."""
    if not can_be_read_out(document):
        raise ActionRefused(
            422, "draft_refused", "A whole number in it has more digits than are kept; correct it."
        )
    refuse_too_big(size_of(document))
    draft, _ = Draft.objects.update_or_create(
        user=user, job=job, tab=tab, defaults={"base": base, "document": document}
    )
    old = Draft.objects.filter(user=user, job=job).values_list("pk", flat=True)[MOST_TABS:]
    Draft.objects.filter(pk__in=list(old)).delete()
    return draft


def drafts_of(user: Any, job: Job) -> list[Draft]:
    """Return a user's own drafts of a job, the newest first."""
    return list(Draft.objects.filter(user=user, job=job))


def drop_draft(user: Any, job: Job, tab: str) -> None:
    """Forget the draft of one tab: it was saved, or put away."""
    Draft.objects.filter(user=user, job=job, tab=tab).delete()
