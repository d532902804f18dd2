"""A job's newest revision with all that was recorded of it."""

from typing import Any

from engine.document.read import check_project
from engine.document.schema import Project
from engine.prove.proof import Proof, prove
from server.jobs.models import Job
from server.records.actions.fitting import fitting
from server.records.actions.survey import items_of, records_of, survey_of


def whole_document(job: Job) -> dict[str, Any]:
    """Return a job's newest document with its survey and its records."""
    document, items = job.newest().document, items_of(job)
    survey = survey_of(items)
    its = {**document, "records": records_of(items)}
    return {**its, "survey": fitting(document, survey)} if survey else its


def proved(job: Job) -> Proof | None:
    """Return a job's newest revision proved by its records; None with no station in it."""
    project = project_of(job)
    return None if project is None else prove(project)


def project_of(job: Job) -> Project | None:
    """Return a job's newest revision with its records; None with no station in it."""
    document = whole_document(job)
    return check_project(document) if document.get("stations") else None
