"""Stickers in a job's pictures: its places found from them, kept with the job, and used for as long as they are of what is there."""

import hashlib
import json
from pathlib import Path
from typing import Any

import numpy as np
from django.conf import settings

from engine.document.read import check_project
from engine.document.survey import Survey
from engine.errors import DocumentRefused, Fault
from engine.survey.network import Seen
from server.jobs.models import Job
from server.records.actions.fitting import fitting
from server.records.models import PlacesFound
from server.running.following import tell
from server.running.workers import away

Values = dict[str, Any]
MADE_OF = {"stickers", "pictures", "cameras"}


def made_of(survey: Values) -> str:
    """Return in short what places are found from: the same again needs no looking again."""
    its = Survey.model_validate({name: survey[name] for name in MADE_OF if survey.get(name)})
    return hashlib.sha256(
        json.dumps(its.model_dump(mode="json", include=MADE_OF), sort_keys=True).encode()
    ).hexdigest()


def find_places(job: Job, document: Values, survey: Values, key: str) -> PlacesFound:
    """Return a job's places found from its pictures, kept; raise DocumentRefused.

    key : what it is followed and stopped by
    """
    fit = fitting(document, survey)
    mine = {one.path.name for one in job.photographs.filter(gone=False)}
    pictures = survey.get("pictures") or []
    if not pictures:
        raise DocumentRefused(
            [Fault("survey.pictures", "is missing; take pictures of the stickers in first")]
        )
    strange = [k for k, one in enumerate(pictures) if one.get("file") not in mine]
    if strange:
        raise DocumentRefused(
            [Fault(f"survey.pictures.{k}.file", "is no picture of this job; take it out, or take the picture in") for k in strange]
        )  # fmt: skip
    folder = str(Path(settings.DATA) / "photographs")
    seen, told = away(found_in, {**document, "survey": fit}, folder, key=key)
    return PlacesFound.objects.update_or_create(
        job=job, defaults={"of": made_of(survey), "seen": seen, "told": told}
    )[0]


def found_in(document: Values, folder: str) -> tuple[Values, Values]:
    """Return what the pictures in a folder say of a document's places, and what there is to say of it, of plain values."""
    from server.records.pictures.places import (
        bundle_values,
        places_in,
    )  # OpenCV is heavy: only where it is asked for

    project = check_project(document)
    found, pictures = places_in(project, Path(folder), tell)
    assert project.survey is not None
    told = bundle_values(project.survey, found, pictures)
    for k, picture in enumerate(told["pictures"]):
        # Where it was taken from, so that the job can be drawn over it.
        picture["turn"] = found.turns[k].tolist() if k in found.rms else None
        picture["shift"] = found.shifts[k].tolist() if k in found.rms else None
        picture["camera"] = found.cameras[pictures.cameras[k]][0].tolist() if k in found.rms else None
    seen = {"places": list(found.seen.places), "at": found.seen.at.tolist(), "rows": found.seen.rows.tolist()}
    return seen, told


def seen_of(job: Job, document: Values, survey: Values) -> Seen | None:
    """Return what a job's pictures say of the places that are still there; None where they were not asked as they are now."""
    kept = PlacesFound.objects.filter(job=job, of=made_of(survey)).first()
    if kept is None:
        return None
    seen = Seen(
        places=tuple(kept.seen["places"]), at=np.array(kept.seen["at"]), rows=np.array(kept.seen["rows"])
    )
    points = {f"{station['name']}/{point}" for station in document["stations"] for point in station["points"]}
    return seen.only(points | set(survey.get("marks") or {}))
