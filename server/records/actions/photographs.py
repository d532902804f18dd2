"""Pictures of a job: kept, straightened into another one, taken out and kept all the same."""

from typing import Any
from uuid import UUID

from django.db import DatabaseError
from django.http import Http404

from server.answers import ActionRefused
from server.jobs.models import Job
from server.records.models import Photograph
from server.records.pictures.straight import Straight, by_board, by_corners
from server.records.pictures.taken import Taken, take_picture
from server.running.whole import put_whole

MOST = 200


def keep_photograph(user: Any, job: Job, name: str, data: bytes) -> Photograph:
    """Return a picture kept with its job; raise ActionRefused where it is none."""
    return _kept(user, job, name.strip()[:120] or "picture", take_picture(data))


def straighten(
    user: Any,
    photograph: Photograph,
    corners: list[list[float]] | None,
    size: tuple[float, float] | None,
    board_wide: float | None = None,
) -> Photograph:
    """Return the picture straightened: by four corners of a rectangle (mm) where they are given, else by the board.

    board_wide : how wide the board's print measures, mm
    """
    jpeg = photograph.path.read_bytes()
    straight = (
        by_board(jpeg, board_wide) if corners is None or size is None else by_corners(jpeg, corners, size)
    )
    return _kept(
        user, photograph.job, f"{photograph.name}, straightened"[:120], straight.taken, photograph, straight
    )


def open_photograph(job: Job, photograph_id: UUID) -> Photograph:
    """Return one picture of a job, or raise Http404."""
    found = job.photographs.filter(pk=photograph_id).first()
    if found is None or not found.path.exists():
        raise Http404
    return found


def _kept(
    user: Any,
    job: Job,
    name: str,
    taken: Taken,
    straightened: Photograph | None = None,
    straight: Straight | None = None,
) -> Photograph:
    if job.photographs.filter(gone=False).count() >= MOST:
        raise ActionRefused(422, "too_many", f"A job holds {MOST} pictures at most. Remove some first.")
    photograph = Photograph(
        job=job,
        name=name,
        width=taken.width,
        height=taken.height,
        by=user,
        straightened=straightened,
        mm_per_pixel=None if straight is None else straight.mm_per_pixel,
        ends=None if straight is None else straight.ends,
        length=None if straight is None else straight.length,
        said="" if straight is None else straight.said,
        shown=None if straight is None else straight.shown,
        errors=None if straight is None else straight.errors,
    )
    # The file first: a row that is answered has its picture on the disk, whatever happens then.
    photograph.path.parent.mkdir(parents=True, exist_ok=True)
    put_whole(photograph.path, taken.jpeg)
    try:
        photograph.save()
    except DatabaseError:
        photograph.path.unlink(missing_ok=True)
        raise
    return photograph
