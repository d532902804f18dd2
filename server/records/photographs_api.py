"""Photographs over HTTP: taken in, shown, straightened; and the board of markers to print."""

from datetime import datetime
from typing import Annotated, Any, Literal
from uuid import UUID

from django.http import HttpRequest, HttpResponse
from ninja import Field, Router, Schema, Status

from server.jobs.actions.open_job import open_job
from server.records.actions.photographs import keep_photograph, open_photograph, straighten
from server.records.models import Photograph
from server.records.pictures.board import board_pdf
from server.records.pictures.taken import MOST_BYTES

router = Router(tags=["photographs"])
Pixels = Annotated[list[float], Field(min_length=2, max_length=2)]
Side = Annotated[float, Field(gt=5, le=20_000)]


class PhotographOut(Schema):
    """A picture: its size in pixels; once straightened, mm a pixel, a line of known length (mm), and how good it is."""

    id: UUID
    name: str
    width: int
    height: int
    mm_per_pixel: float | None
    ends: list[list[float]] | None
    length: float | None
    said: str
    at: datetime


class StraightenIn(Schema):
    """Four corners in pixels, clockwise from the upper left, of a rectangle in mm; without them the board is looked for.

    board_wide : how wide the board's print measures, mm; left out, it is taken as drawn, and the answer says so
    """

    corners: Annotated[list[Pixels], Field(min_length=4, max_length=4)] | None = None
    width: Side | None = None
    height: Side | None = None
    board_wide: Annotated[float, Field(ge=60, le=800)] | None = None


def _out(photograph: Photograph) -> dict[str, Any]:
    return {name: getattr(photograph, name) for name in PhotographOut.model_fields}


@router.get(
    "/jobs/{job_id}/photographs",
    response=list[PhotographOut],
    operation_id="listPhotographs",
)
def list_photographs(request: HttpRequest, job_id: UUID) -> list[dict[str, Any]]:
    """Return a job's pictures, the oldest first."""
    return [_out(one) for one in open_job(request.user, job_id).photographs.filter(gone=False)]


@router.post(
    "/jobs/{job_id}/photographs",
    response={201: PhotographOut},
    operation_id="keepPhotograph",
)
def keep(request: HttpRequest, job_id: UUID, name: str = "picture") -> Status[Any]:
    """Keep the request's body, a JPEG or PNG, with the job."""
    job = open_job(request.user, job_id)
    # Read by hand: a picture may be larger than a project file may.
    return Status(201, _out(keep_photograph(request.user, job, name, request.read(MOST_BYTES + 1))))


@router.get("/jobs/{job_id}/photographs/{photograph_id}.jpg", operation_id="showPhotograph")
def show(request: HttpRequest, job_id: UUID, photograph_id: UUID) -> HttpResponse:
    """Return the picture itself."""
    photograph = open_photograph(open_job(request.user, job_id), photograph_id)
    # It never changes, and is asked for each time all the same: whoever sits down next may not see it.
    tag = f'"{photograph.pk}"'
    fresh = tag in request.headers.get("If-None-Match", "")
    response = (
        HttpResponse(status=304)
        if fresh
        else HttpResponse(photograph.path.read_bytes(), content_type="image/jpeg")
    )
    response["ETag"] = tag
    response["Cache-Control"] = "private, no-cache"
    return response


@router.post(
    "/jobs/{job_id}/photographs/{photograph_id}/straighten",
    response={201: PhotographOut},
    operation_id="straightenPhotograph",
)
def straighten_one(
    request: HttpRequest, job_id: UUID, photograph_id: UUID, body: StraightenIn
) -> Status[Any]:
    """Keep another picture with the plane of a board or of a rectangle laid flat."""
    photograph = open_photograph(open_job(request.user, job_id), photograph_id)
    size = None if body.width is None or body.height is None else (body.width, body.height)
    return Status(201, _out(straighten(request.user, photograph, body.corners, size, body.board_wide)))


@router.delete(
    "/jobs/{job_id}/photographs/{photograph_id}",
    response={204: None},
    operation_id="dropPhotograph",
)
def drop(request: HttpRequest, job_id: UUID, photograph_id: UUID) -> Status[Any]:
    """Take a picture out."""
    photograph = open_photograph(open_job(request.user, job_id), photograph_id)
    Photograph.objects.filter(pk=photograph.pk).update(gone=True)
    return Status(204, None)


@router.get("/survey/board.pdf", operation_id="printBoard")
def print_board(request: HttpRequest, paper: Literal["a4", "letter"] = "a4") -> HttpResponse:
    """Return the board of markers to be printed at its own size."""
    response = HttpResponse(board_pdf(paper), content_type="application/pdf")
    response["Content-Disposition"] = f'attachment; filename="board-{paper}.pdf"'
    return response
