"""What has to be made, over HTTP: parts and mounts of the document in hand, and all files of a revision as one ZIP."""

import io
import zipfile
from typing import Any
from uuid import UUID

from django.http import HttpRequest, HttpResponse
from ninja import Router, Schema

from engine.document.read import check_project
from engine.sentences import Quantity, Sentence
from engine.shop.job_parts import JobParts, job_parts
from engine.shop.outline import box_of
from server.answers import Refusal, answer
from server.jobs.actions.open_job import open_revision
from server.records.actions.fitting import fitting
from server.records.actions.survey import items_of, survey_of
from server.shop.drawings import svg_path
from server.shop.files import all_files
from server.solving.shapes import SentenceOut
from server.solving.view import sentence_values

router = Router(tags=["make"])


class AboutParts(Schema):
    """The document in hand, and the survey as the project file has it: tapes go to its marks."""

    document: dict[str, Any]
    survey: dict[str, Any] = {}


class SaidOut(Schema):
    """A judgement of one part."""

    mark: str
    say: SentenceOut


class EndOut(Schema):
    """A threaded end: mm; hand right or left."""

    thread: float
    pitch: float
    shank: float
    engagement: float
    hand: str


class RodOut(Schema):
    """A rod: mm, N, kg; buckling as a factor of its greatest push, null where it is never pushed."""

    station: str
    name: str
    count: int
    proposed: bool
    outside: float
    wall: float
    grade: str
    tube_length: float
    centre_to_centre: float
    change_per_turn: float
    longer: float
    shorter: float
    push: float
    pull: float
    buckling_factor: float | None
    mass: float
    ends: list[EndOut]
    said: list[SaidOut]


class PlateHoleOut(Schema):
    """A hole: mm from the pivot, the rod's joint along x."""

    what: str
    x: float
    y: float
    diameter: float


class PlateMadeOut(Schema):
    """A plate: mm and kg. `path` is its outline as an SVG path, y up turned down; `box` what it fills: x, y, wide, high."""

    station: str
    name: str
    count: int
    proposed: bool
    thickness: float
    gap: float
    mass: float
    holes: list[PlateHoleOut]
    path: str
    box: list[float]
    said: list[SaidOut]


class TapeOut(Schema):
    """A tape to a place that exists, mm."""

    to: str
    length: float


class MountOut(Schema):
    """Where a mount comes, mm, and how close is close enough: fore–aft, out, up."""

    station: str
    point: str
    up: float
    out: float
    ahead: float
    tapes: list[TapeOut]
    close_enough: list[float]


class MakeOut(Schema):
    """Everything that is made so far: rods, rocker plates, mounts to set out."""

    mark: str
    verdict: SentenceOut
    rods: list[RodOut]
    plates: list[PlateMadeOut]
    mounts: list[MountOut]


@router.post("/make", response={200: MakeOut, 422: Refusal}, operation_id="listMade")
def make(request: HttpRequest, body: AboutParts) -> HttpResponse:
    """Return what the document in hand takes."""
    survey = fitting(body.document, body.survey)
    parts = job_parts(check_project({**body.document, "survey": survey}))
    mark, verdict = _verdict(parts)
    return answer(
        {
            "mark": mark,
            "verdict": sentence_values(verdict),
            "rods": [_rod(station.station, one) for station in parts.stations for one in station.rods],
            "plates": [_plate(station.station, one) for station in parts.stations for one in station.plates],
            "mounts": [
                {
                    "station": mount.station,
                    "point": mount.point,
                    "up": mount.up,
                    "out": mount.out,
                    "ahead": mount.ahead,
                    "tapes": [{"to": place, "length": long} for place, long in mount.tapes],
                    "close_enough": list(mount.close_enough),
                }
                for mount in parts.mounts
            ],
        }
    )


@router.get("/jobs/{job_id}/revisions/{number}/parts.zip", operation_id="exportParts")
def export_parts(request: HttpRequest, job_id: UUID, number: int) -> HttpResponse:
    """Return every drawing, template, list and build sheet of a revision as one ZIP."""
    revision = open_revision(request.user, job_id, number)
    survey = fitting(revision.document, survey_of(items_of(revision.job)))
    project = check_project({**revision.document, **({"survey": survey} if survey else {})})
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as packed:
        for path, data in all_files(project, f"revision {number}, {request.user.get_username()}").items():
            packed.writestr(path, data)
    response = HttpResponse(out.getvalue(), content_type="application/zip")
    response["Content-Disposition"] = f'attachment; filename="parts-revision-{number}.zip"'
    return response


def _verdict(parts: JobParts) -> tuple[str, Sentence]:
    rods = [one for station in parts.stations for one in station.rods]
    plates = [one for station in parts.stations for one in station.plates]
    said = [*(one for rod in rods for one in rod.said), *(one for plate in plates for one in plate.said)]
    count = sum(one.count for one in rods) + sum(one.count for one in plates)
    mass = sum(station.mass for station in parts.stations)
    if not count:
        return "good", Sentence("No rods and no rocker plates: what there is to set out stands in the list.")
    words = f"{count} rods and plates, {{mass}} of steel"
    told = {"mass": Quantity(mass, "mass")}
    weakest = min(
        (one for one in rods if one.rod.factor is not None), key=lambda r: r.rod.factor or 0.0, default=None
    )
    names: tuple[str, ...] = ()
    if weakest is not None and weakest.rod.factor is not None:
        words += "; the weakest is {0}, which buckles at " + f"{weakest.rod.factor:.1f} times its load"
        names = (weakest.name,)
    marks = {mark for mark, _ in said}
    mark = "fault" if "fault" in marks else "warning" if "warning" in marks else "good"
    return mark, Sentence(words + ".", told, names)


def _said(said: tuple[tuple[str, Sentence], ...]) -> list[dict[str, Any]]:
    return [{"mark": mark, "say": sentence_values(say)} for mark, say in said]


def _rod(station: str, one: Any) -> dict[str, Any]:
    rod = one.rod
    return {
        "station": station,
        "name": one.name,
        "count": one.count,
        "proposed": one.proposed,
        "outside": rod.tube.outside,
        "wall": rod.tube.wall,
        "grade": rod.tube.grade,
        "tube_length": rod.tube_length,
        "centre_to_centre": rod.centre_to_centre,
        "change_per_turn": rod.change_per_turn,
        "longer": rod.out,
        "shorter": rod.into,
        "push": one.push,
        "pull": one.pull,
        "buckling_factor": rod.factor,
        "mass": rod.mass,
        "ends": [
            {
                "thread": end.thread,
                "pitch": end.pitch,
                "shank": end.shank,
                "engagement": end.engagement,
                "hand": end.hand,
            }
            for end in rod.ends
        ],
        "said": _said(one.said),
    }


def _plate(station: str, one: Any) -> dict[str, Any]:
    low, bottom, high, top = box_of(list(one.outline))
    return {
        "station": station,
        "name": one.name,
        "count": one.count,
        "proposed": one.proposed,
        "thickness": one.thickness,
        "gap": one.gap,
        "mass": one.mass,
        "holes": [{"what": h.what, "x": h.x, "y": h.y, "diameter": h.diameter} for h in one.holes],
        "path": svg_path(list(one.outline)),
        "box": [low, -top, high - low, top - bottom],
        "said": _said(one.said),
    }
