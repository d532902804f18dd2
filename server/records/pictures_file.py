"""`manage.py survey FILE --pictures DIR`: what a survey says once the stickers in its pictures are in it."""

from pathlib import Path
from typing import Any

from engine.document.schema import Project
from engine.survey.survey_file import survey_result
from engine.telling import Tell, to_nobody
from server.records.pictures.places import bundle_values, places_in


def with_pictures(project: Project, folder: Path, tell: Tell = to_nobody) -> dict[str, Any]:
    """Return the survey of a project with the stickers in a folder's pictures; raise DocumentRefused."""
    found, pictures = places_in(project, folder, tell)
    assert project.survey is not None
    return {**survey_result(project, found.seen), **bundle_values(project.survey, found, pictures)}
