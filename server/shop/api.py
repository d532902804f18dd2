"""What has to be made, over HTTP: parts and mounts of the document in hand, and all files of a revision as one ZIP."""

import io
import zipfile
from collections.abc import Iterable
from typing import Any, Literal
from uuid import UUID

from django.http import HttpRequest, HttpResponse
from ninja import Router, Schema

from engine.document.read import check_project
from engine.document.schema import Project
from engine.findings.finding import rules_of
from engine.shop.buying import rack_of, to_buy
from engine.shop.cutting import bars, sheets
from engine.shop.job_parts import job_parts, tried, verdict
from engine.shop.made import Cut, Flat, Made, Said
from engine.shop.outline import box_of
from engine.shop.strength import Check
from engine.shop.tubes import witness_words
from server.answers import ActionRefused, Refusal, answer
from server.jobs.actions.open_job import open_revision
from server.records.actions.fitting import fitting
from server.records.actions.survey import items_of, survey_of
from server.shop.drawings import flat_dxf, flat_svg, other_hand, svg_path
from server.shop.files import all_files, safe
from server.shop.papers import NoPaper, build_sheet_pdf, templates_pdf, unrolled
from server.shop.rack import shelf_of, stock_of
from server.solving.shapes import SentenceOut
from server.solving.view import sentence_values

router = Router(tags=["make"])


class AboutParts(Schema):
    """The document in hand, and the survey as the project file has it: tapes go to its marks."""

    document: dict[str, Any]
    survey: dict[str, Any] = {}


class PartRemedy(Schema):
    """What clears a judgement: a change of the part's own choice, or of the station's `rods` or `plates`."""

    say: SentenceOut
    change: dict[str, Any]
    into: Literal["make", "rods", "plates"]


class SaidOut(Schema):
    """A judgement of one part."""

    mark: str
    say: SentenceOut
    remedy: PartRemedy | None


class FigureOut(Schema):
    """A number of a part, or words; what it measures: as in sentences, or `pitch` mm, `factor`, `words`."""

    key: str
    name: str
    value: float | None
    text: str
    measures: str


class CheckOut(Schema):
    """One way in which a part may fail: factor over its peak load, and where on its drawing, mm."""

    what: str
    factor: float
    x: float | None
    y: float | None


class PlateHoleOut(Schema):
    """A hole, mm on its plate's drawing."""

    what: str
    x: float
    y: float
    diameter: float


class FoldOut(Schema):
    """A line to fold along, mm on its plate's drawing, y up turned down; degrees, down +."""

    path: str
    angle: float


class FlatOut(Schema):
    """A plate: mm. `path` is its outline as an SVG path, y up turned down; `box` what it fills: x, y, wide, high."""

    thickness: float
    grade: str
    holes: list[PlateHoleOut]
    folds: list[FoldOut]
    path: str
    box: list[float]


class WrapOut(Schema):
    """A tube's end unrolled, mm: SVG path, y down; `box` x, y, wide, high; where its witness line comes."""

    path: str
    box: list[float]
    words: str


class TubeOut(Schema):
    """A tube: mm; `spots` its corners as drawn where it runs between places."""

    outside: float
    wall: float
    length: float
    spots: list[list[float]]
    wraps: list[WrapOut]


class HardwareOut(Schema):
    """Something bought for one of a part."""

    what: str
    size: str
    count: int


class PartMade(Schema):
    """One part. `choice` is what the document would say to have this very part, null where it has no choice of its own."""

    station: str
    name: str
    kind: str
    subject: list[str]
    proposed: bool
    count: int
    hands: int
    mass: float
    mark: str
    weakest: CheckOut | None
    figures: list[FigureOut]
    checks: list[CheckOut]
    said: list[SaidOut]
    hardware: list[HardwareOut]
    flat: FlatOut | None
    tube: TubeOut | None
    choice: dict[str, Any] | None


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
    """Everything that has to be made, and every mount to set out."""

    mark: str
    verdict: SentenceOut
    parts: list[PartMade]
    mounts: list[MountOut]


class FitOut(Schema):
    """What is said of one part's room among everything else."""

    station: str
    name: str
    said: list[SaidOut]


class FitsOut(Schema):
    """Every part of which something is to be said."""

    fits: list[FitOut]


class LaidOut(Schema):
    """One piece on a bar or sheet, mm."""

    station: str
    part: str
    long: float
    wide: float
    x: float
    y: float
    turned: bool


class StockBar(Schema):
    """A bar and what is cut from it, mm; `rack` where it is there already."""

    number: int
    stock: str
    long: float
    left: float
    rack: bool
    pieces: list[LaidOut]


class StockSheet(Schema):
    """A sheet of plate and what is cut from it, mm; share filled."""

    number: int
    stock: str
    wide: float
    high: float
    filled: float
    pieces: list[LaidOut]


class LineOut(Schema):
    """One thing to buy, less what is on the shelf."""

    what: str
    size: str
    needed: int
    there: int
    buy: int
    price: str
    lead_days: float | None
    note: SentenceOut | None


class StockOut(Schema):
    """What is cut from which bar and sheet, and what is to buy."""

    kerf: float
    bars: list[StockBar]
    sheets: list[StockSheet]
    lines: list[LineOut]


@router.post("/make", response={200: MakeOut, 422: Refusal}, operation_id="listMade")
def make(request: HttpRequest, body: AboutParts) -> HttpResponse:
    """Return what the document in hand takes; whether it fits is a second answer."""
    parts = job_parts(_project(body), stock_of(shelf_of(request.user)), fitted=False)
    mark, words = verdict(parts)
    return answer(
        {
            "mark": mark,
            "verdict": sentence_values(words),
            "parts": [_part(part) for part in parts.parts],
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


@router.post("/make/fits", response={200: FitsOut, 422: Refusal}, operation_id="tryParts")
def fits(request: HttpRequest, body: AboutParts) -> HttpResponse:
    """Return which parts foul something, and which bolts cannot be drawn out."""
    project = _project(body)
    parts = job_parts(project, stock_of(shelf_of(request.user)), fitted=False)
    found = []
    for work, its in zip(parts.works, parts.stations, strict=True):
        after = tried(work, its, rules_of(project.judging, work.station.judging))
        found += [
            {"station": two.station, "name": two.name, "said": _said(two.said[len(one.said) :])}
            for one, two in zip(its.parts, after.parts, strict=True)
            if len(two.said) > len(one.said)
        ]
    return answer({"fits": found})


@router.post("/make/stock", response={200: StockOut, 422: Refusal}, operation_id="listStock")
def stock(request: HttpRequest, body: AboutParts) -> HttpResponse:
    """Return the bars and sheets that the parts are cut from, and what is to buy, less the user's shelf."""
    shelf = shelf_of(request.user)
    its = stock_of(shelf)
    parts = job_parts(_project(body), its, fitted=False)
    return answer(
        {
            "kerf": its.kerf_mm,
            "bars": [
                {"number": number, "stock": bar.stock, "long": bar.long, "left": bar.left, "rack": bar.rack, "pieces": [vars(p) for p in bar.pieces]}
                for number, bar in enumerate(bars(parts.parts, its, rack_of(shelf)))
            ],
            "sheets": [
                {"number": number, "stock": sheet.stock, "wide": sheet.wide, "high": sheet.high, "filled": sheet.filled, "pieces": [vars(p) for p in sheet.pieces]}
                for number, sheet in enumerate(sheets(parts.parts, its))
            ],
            "lines": [
                {
                    "what": line.what, "size": line.size, "needed": line.needed, "there": line.there, "buy": line.buy,
                    "price": line.price, "lead_days": line.lead_days,
                    "note": None if line.note is None else sentence_values(line.note),
                }
                for line in to_buy(parts, shelf)
            ],
        }
    )  # fmt: skip


class AboutFile(AboutParts):
    """One part's file of the document in hand: `form` dxf, dxf-inch, svg or pdf (1:1); the other hand if wanted."""

    station: str
    name: str
    form: Literal["dxf", "dxf-inch", "svg", "pdf"]
    other_hand: bool = False
    paper: str = "A4"


FORMS = {
    "dxf": ("dxf", "image/vnd.dxf"),
    "dxf-inch": ("dxf", "image/vnd.dxf"),
    "svg": ("svg", "image/svg+xml"),
    "pdf": ("pdf", "application/pdf"),
}


@router.post("/make/file", response={404: Refusal, 422: Refusal}, operation_id="exportPart")
def export_part(request: HttpRequest, body: AboutFile) -> HttpResponse:
    """Return one part's drawing of the document in hand."""
    parts = job_parts(_project(body), stock_of(shelf_of(request.user)), fitted=False)
    part = next((one for one in parts.parts if (one.station, one.name) == (body.station, body.name)), None)
    if part is None:
        raise ActionRefused(404, "no_part", "There is no such part any more; look at the list again.")
    if body.form != "pdf" and part.flat is None:
        raise ActionRefused(
            422, "not_flat", f"{part.name} is no plate: it has no drawing to cut. Print it at 1:1."
        )
    label = f"{parts.project.name} {part.station} {part.name}"
    if body.form == "pdf":
        try:
            data = templates_pdf(parts, request.user.get_username(), body.paper, only=part)
        except NoPaper as error:
            raise ActionRefused(422, "no_paper", str(error)) from error
    else:
        assert part.flat is not None
        flat = other_hand(part.flat) if body.other_hand else part.flat
        label += ", other hand" if body.other_hand else ""
        text = flat_svg(flat, label) if body.form == "svg" else flat_dxf(flat, label, body.form == "dxf-inch")
        data = text.encode()
    ending, kind = FORMS[body.form]
    response = HttpResponse(data, content_type=kind)
    response["Content-Disposition"] = (
        f'attachment; filename="{safe(part.station)}-{safe(part.name)}.{ending}"'
    )
    return response


def _project(body: AboutParts) -> Project:
    survey = fitting(body.document, body.survey)
    return check_project({**body.document, "survey": survey})


def _whole(request: HttpRequest, job_id: UUID, number: int) -> Project:
    revision = open_revision(request.user, job_id, number)
    survey = fitting(revision.document, survey_of(items_of(revision.job)))
    return check_project({**revision.document, **({"survey": survey} if survey else {})})


@router.get("/jobs/{job_id}/revisions/{number}/build-sheet.pdf", operation_id="exportBuildSheet")
def export_build_sheet(
    request: HttpRequest, job_id: UUID, number: int, station: str = "", paper: str = "A4"
) -> HttpResponse:
    """Return the build sheet of one station of a revision, or of all, as a PDF."""
    project, shelf = _whole(request, job_id, number), shelf_of(request.user)
    parts = job_parts(project, stock_of(shelf))
    if station and station not in {one.station for one in parts.stations}:
        raise ActionRefused(404, "no_station", f"This revision has no station called {station}.")
    try:
        data = build_sheet_pdf(
            parts, f"revision {number}, {request.user.get_username()}", paper, station or None
        )
    except NoPaper as error:
        raise ActionRefused(422, "no_paper", str(error)) from error
    response = HttpResponse(data, content_type="application/pdf")
    response["Content-Disposition"] = (
        f'attachment; filename="build-sheet-{safe(station or "all")}-revision-{number}.pdf"'
    )
    return response


@router.get("/jobs/{job_id}/revisions/{number}/parts.zip", operation_id="exportParts")
def export_parts(request: HttpRequest, job_id: UUID, number: int, paper: str = "A4") -> HttpResponse:
    """Return every drawing, template, list and build sheet of a revision as one ZIP."""
    project, shelf = _whole(request, job_id, number), shelf_of(request.user)
    out = io.BytesIO()
    by = f"revision {number}, {request.user.get_username()}"
    try:
        files = all_files(project, by, stock_of(shelf), shelf, paper)
    except NoPaper as error:
        raise ActionRefused(422, "no_paper", str(error)) from error
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as packed:
        for path, data in files.items():
            packed.writestr(path, data)
    response = HttpResponse(out.getvalue(), content_type="application/zip")
    response["Content-Disposition"] = f'attachment; filename="parts-revision-{number}.zip"'
    return response


def _said(said: Iterable[Said]) -> list[dict[str, Any]]:
    return [
        {
            "mark": one.mark,
            "say": sentence_values(one.say),
            "remedy": None
            if one.remedy is None
            else {
                "say": sentence_values(one.remedy.say),
                "change": one.remedy.change,
                "into": one.remedy.into,
            },
        }
        for one in said
    ]


def _check(check: Check | None) -> dict[str, Any] | None:
    if check is None:
        return None
    x, y = check.at or (None, None)
    return {"what": check.what, "factor": check.factor, "x": x, "y": y}


def _part(part: Made) -> dict[str, Any]:
    return {
        "station": part.station,
        "name": part.name,
        "kind": part.kind,
        "subject": list(part.subject),
        "proposed": part.proposed,
        "count": part.count,
        "hands": part.hands,
        "mass": part.mass,
        "mark": part.mark,
        "weakest": _check(part.weakest),
        "figures": [
            {
                "key": one.key,
                "name": one.name,
                "value": None if isinstance(one.value, str) else one.value,
                "text": one.value if isinstance(one.value, str) else "",
                "measures": one.measures,
            }
            for one in part.figures
        ],
        "checks": [_check(check) for check in sorted(part.checks, key=lambda check: check.factor)],
        "said": _said(part.said),
        "hardware": [vars(one) for one in part.hardware],
        "flat": None if part.flat is None else _flat(part.flat),
        "tube": None if part.cut is None else _tube(part.cut),
        "choice": part.choice,
    }


def _flat(flat: Flat) -> dict[str, Any]:
    low, bottom, high, top = box_of(list(flat.outline))
    return {
        "thickness": flat.thickness,
        "grade": flat.grade,
        "holes": [vars(hole) for hole in flat.holes],
        "folds": [
            {
                "path": f"M{fold.one[0]:.3f} {-fold.one[1]:.3f}L{fold.other[0]:.3f} {-fold.other[1]:.3f}",
                "angle": fold.angle,
            }
            for fold in flat.folds
        ],
        "path": svg_path(list(flat.outline)),
        "box": [low, -top, high - low, top - bottom],
    }


def _tube(cut: Cut) -> dict[str, Any]:
    wraps = []
    for number, end in enumerate(cut.ends, start=1):
        if end.met or end.mitre:
            round_it, along = unrolled(cut.tube.outside / 2, end, 73)
            tall = float(along.max()) + 20.0
            line = "L".join(f"{x:.2f} {tall - y:.2f}" for x, y in zip(round_it, along, strict=True))
            wraps.append(
                {
                    "path": f"M{line}L{round_it[-1]:.2f} 0L0 0Z",
                    "box": [0.0, 0.0, float(round_it[-1]), tall],
                    "words": witness_words(cut, number),
                }
            )
    return {
        "outside": cut.tube.outside,
        "wall": cut.tube.wall,
        "length": cut.length,
        "spots": [list(spot) for spot in cut.spots],
        "wraps": wraps,
    }
