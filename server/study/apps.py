"""The app of studies: a job that is put away has none running."""

from typing import Any
from uuid import UUID

from django.apps import AppConfig
from django.conf import settings


class StudyApp(AppConfig):
    """Stops the study of a job that is removed."""

    name = "server.study"

    def ready(self) -> None:
        """Listen for removed jobs."""
        from server.jobs.signals import job_removed

        job_removed.connect(_stop)


def _stop(job: UUID, **_: Any) -> None:
    from server.study.folder import StudyFolder

    folder = StudyFolder(settings.STUDIES / str(job))
    if folder.path.is_dir():
        folder.ask_to_stop()
