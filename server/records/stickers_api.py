"""Stickers over HTTP: printed, and the places that a job's pictures of them say, found while one looks on."""

from datetime import datetime
from typing import Any, Literal
from uuid import UUID

from django.http import HttpRequest, HttpResponse
from ninja import Router, Schema

from engine.document.survey import Stickers, Survey
from server.answers import ActionRefused, Document, SurveyValues
from server.jobs.actions.open_job import open_job
from server.records.actions.stickers import find_places, made_of
from server.records.actions.survey import items_of, survey_of
from server.records.models import PlacesFound
from server.records.pictures.sticker_sheet import stickers_pdf
from server.running.following import key_of

router = Router(tags=["stickers"])


class FindPlacesIn(Schema):
    """The document in hand, and the survey as the project file has it, with its stickers and pictures."""

    document: Document
    survey: SurveyValues


class StickerPictureOut(Schema):
    """One picture: the stickers in it, how far their corners are off (pixels), and from where it was taken, null where it shows too little.

    turn, shift : X_camera = turn · X + shift, mm; camera : focal length, middle across and down (pixels), two radial terms
    """

    file: str
    stickers: list[int]
    rms: float | None
    at: list[float] | None
    looks: list[float] | None
    turn: list[list[float]] | None
    shift: list[float] | None
    camera: list[float] | None


class StickerFoundOut(Schema):
    """One sticker: where its place is (mm), its standard errors, the way it faces, and in how many pictures it counts."""

    place: str
    at: list[float]
    sigma: list[float]
    face: list[float]
    seen: int


class StickerSlipOut(Schema):
    """A sticker that stood elsewhere in some pictures, or was read wrongly; by mm, where two pictures agree."""

    sticker: int
    pictures: list[str]
    by: float | None
    at: list[float] | None


class PrintScaleOut(Schema):
    """How large all prints are over what they are said to be, and its standard error."""

    value: float
    sigma: float


class NextPictureOut(Schema):
    """The picture that would help most: towards which sticker, which ones it shows, all places' rms standard error before and after (mm), in words."""

    towards: int
    shows: list[int]
    sigma: list[float]
    say: str


class PlacesFoundOut(Schema):
    """What a job's pictures say; `now` whether it is of the stickers and pictures as they are."""

    now: bool
    at: datetime
    pictures: list[StickerPictureOut]
    stickers: dict[str, StickerFoundOut]
    print_scale: PrintScaleOut
    slips: list[StickerSlipOut]
    helps: NextPictureOut | None = None
    said: list[str]


def _out(found: PlacesFound, now: bool) -> dict[str, Any]:
    return {**found.told, "now": now, "at": found.at}


@router.get("/jobs/{job_id}/stickers", response=PlacesFoundOut | None, operation_id="readPlacesFound")
def read_found(request: HttpRequest, job_id: UUID) -> dict[str, Any] | None:
    """Return what a job's pictures said the last time they were asked; null where they never were."""
    job = open_job(request.user, job_id)
    found = PlacesFound.objects.filter(job=job).first()
    return None if found is None else _out(found, found.of == made_of(survey_of(items_of(job))))


@router.post("/jobs/{job_id}/stickers", response=PlacesFoundOut, operation_id="findPlaces")
def find(request: HttpRequest, job_id: UUID, body: FindPlacesIn) -> dict[str, Any]:
    """Find a job's places from its pictures, and keep them: the survey counts them in from then on."""
    job = open_job(request.user, job_id)
    return _out(find_places(job, body.document, body.survey, key_of(request)), True)


@router.get("/jobs/{job_id}/stickers.pdf", operation_id="printStickers")
def print_stickers(request: HttpRequest, job_id: UUID, paper: Literal["A4", "Letter"] = "A4") -> HttpResponse:
    """Return a job's stickers to be printed at their own size."""
    job = open_job(request.user, job_id)
    stickers = survey_of(items_of(job)).get("stickers")
    if not stickers or not stickers["places"]:
        raise ActionRefused(
            422, "no_stickers", "No place of this job has a sticker yet. Give some a number first."
        )
    survey = Survey(stickers=Stickers.model_validate(stickers))
    response = HttpResponse(stickers_pdf(survey, paper, job.name), content_type="application/pdf")
    response["Content-Disposition"] = f'attachment; filename="stickers-{paper}.pdf"'
    return response
