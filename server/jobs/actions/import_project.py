"""Take a project file in as a new job."""

from typing import Any

from django.db import transaction

from engine.document.read import check_project, read_json
from server.jobs.models import Job, Revision
from server.jobs.signals import job_taken_in


def import_project(user: Any, data: bytes, reason: str = "Imported") -> Job:
    """Return the new job holding the file as its first revision; raise DocumentRefused."""
    document = read_json(data)
    project = check_project(document)
    survey = document.pop("survey", None)  # kept item by item, beside the revisions
    records = document.pop("records", None)
    with transaction.atomic():
        stations = [[station.name, station.kind] for station in project.stations]
        job = Job.objects.create(name=project.name, owner=user, stations=stations)
        Revision.objects.create(job=job, number=1, document=document, reason=reason, author=user)
        job_taken_in.send(sender=Job, job=job, user=user, survey=survey, records=records)
    return job
