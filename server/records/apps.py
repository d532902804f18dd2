"""The app of what is read and found: it takes in what a project file brings, follows names, and lets pictures go with their job."""

from collections.abc import Callable
from contextlib import suppress
from typing import Any
from uuid import UUID

from django.apps import AppConfig


class RecordsApp(AppConfig):
    """Listens to what happens to jobs."""

    name = "server.records"

    def ready(self) -> None:
        """Listen."""
        from server.jobs import signals

        signals.job_taken_in.connect(_take_in)
        signals.revision_saved.connect(_follow)
        signals.job_going.connect(_pictures_of)


def _take_in(job: Any, user: Any, survey: Any, records: Any, **_: Any) -> None:
    from server.records.actions.survey import put_records, put_survey

    if survey:
        put_survey(user, job, survey)
    if records:
        put_records(user, job, records)


def _follow(job: Any, before: Any, after: Any, **_: Any) -> None:
    from server.records.actions.survey import follow_names

    follow_names(job, before, after)


def _pictures_of(job: UUID, **_: Any) -> Callable[[], None]:
    from server.records.models import Photograph

    paths = [one.path for one in Photograph.objects.filter(job=job)]

    def let_go() -> None:
        for path in paths:
            with suppress(OSError):
                path.unlink()

    return let_go
