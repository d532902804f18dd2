"""What has to be made, over HTTP: parts and mounts of the document in hand, and all files of a revision as one ZIP."""

import io
import math
import zipfile
from collections.abc import Iterator
from contextlib import contextmanager
from typing import Any, Literal
from uuid import UUID

from django.http import HttpRequest, HttpResponse
from ninja import Router, Schema

from engine.document.frame_sides import tube_lines
from engine.document.read import check_project
from engine.drawing.flat import said_in
from engine.drawing.setting_out import setting_out_drawing
from engine.shop.buying import OnShelf, rack_of, to_buy
from engine.shop.cutting import Piece, bars, sheets
from engine.shop.job_parts import job_parts, verdict
from engine.shop.stock import Stock
from engine.telling import within
from server.accounts.shop import letterhead
from server.answers import ActionRefused, Document, SurveyValues, answer
from server.jobs.actions.open_job import open_revision
from server.paper.letterhead import Letterhead
from server.paper.sheets import NoPaper
from server.records.actions.fitting import fitting
from server.records.actions.survey import items_of, survey_of
from server.running.caching import cached_away
from server.running.following import key_of, tell
from server.running.workers import away
from server.shop.build_book import build_sheet_pdf, part_drawing
from server.shop.drawings import flat_dxf, flat_svg, svg_path
from server.shop.drawn import DrawingOut, drawing_values
from server.shop.files import all_files, safe
from server.shop.papers import templates_pdf
from server.shop.rack import shelf_of, stock_of
from server.shop.shapes import FitsOut, MakeOut, StockOut, part_values
from server.shop.wall import mount_pages_pdf
from server.solving.view import sentence_values

router = Router(tags=["make"])


class AboutParts(Schema):
    """The document in hand, and the survey as the project file has it: tapes go to its marks."""

    document: Document
    survey: SurveyValues = {}


@router.post("/make", response=MakeOut, operation_id="listMade")
def make(request: HttpRequest, body: AboutParts) -> HttpResponse:
    """Return what the document in hand takes; whether it fits is a second answer."""
    return answer(away(listed, _checked(body), stock_of(shelf_of(request.user)), key=key_of(request)))


def listed(document: dict[str, Any], stock: Stock) -> dict[str, Any]:
    """Return what a document takes, of plain values."""
    parts = job_parts(check_project(document), stock, fitted=False, tell=tell)
    mark, words = verdict(parts)
    return {
        "mark": mark,
        "verdict": sentence_values(words),
        "parts": [part_values(part) for part in parts.parts],
        "mounts": [
            {
                "station": mount.station,
                "point": mount.point,
                "up": mount.up,
                "out": mount.out,
                "ahead": mount.ahead,
                "tapes": [{"to": place, "length": long} for place, long in mount.tapes],
                "close_enough": list(mount.close_enough),
                "tape_mm": mount.tape_mm if math.isfinite(mount.tape_mm) else None,
                "loose": mount.loose,
                "tabs": list(mount.tabs),
                "on": None if mount.on is None else mount.on[0],
                "ahead_of_it": None if mount.on is None else mount.on[1],
            }
            for mount in parts.mounts
        ],
    }


@router.post("/make/fits", response=FitsOut, operation_id="tryParts")
def fits(request: HttpRequest, body: AboutParts) -> HttpResponse:
    """Return the parts that are in trouble among everything else, and the proposals that were given room instead."""
    return answer(away(fitted, _checked(body), stock_of(shelf_of(request.user)), key=key_of(request)))


def fitted(document: dict[str, Any], stock: Stock) -> dict[str, Any]:
    """Return the parts that are made otherwise among everything else, of plain values."""
    project = check_project(document)
    before = job_parts(project, stock, fitted=False, tell=within(tell, 0.0, 0.3))
    after = job_parts(project, stock, tell=within(tell, 0.3, 1.0))
    mark, words = verdict(after)
    return {
        "mark": mark,
        "verdict": sentence_values(words),
        "fits": [
            part_values(two) for one, two in zip(before.parts, after.parts, strict=True) if two is not one
        ],
    }


class AboutDrawing(AboutParts):
    """One part's drawing, or one mount's setting out, of the document in hand; `inches` for figures in inches, `fractions` for taped ones."""

    station: str
    part: str = ""
    point: str = ""
    inches: bool = False
    fractions: bool = False


@router.post("/make/drawn", response=DrawingOut | None, operation_id="drawPart")
def draw_part(request: HttpRequest, body: AboutDrawing) -> HttpResponse:
    """Return a part's dimensioned drawing, or a mount's setting out; null of a part that is bought."""
    wanted = body.model_dump(exclude={"document", "survey"})
    return answer(away(drawn_one, _checked(body), stock_of(shelf_of(request.user)), wanted))


def drawn_one(document: dict[str, Any], stock: Stock, wanted: dict[str, Any]) -> dict[str, Any] | None:
    """Return one drawing, of plain values; raise ActionRefused where there is no such thing."""
    parts = job_parts(check_project(document), stock, fitted=not wanted["point"])
    said = said_in(wanted["inches"], wanted["fractions"])
    if wanted["point"]:
        place = (wanted["station"], wanted["point"])
        mount = next((one for one in parts.mounts if (one.station, one.point) == place), None)
        if mount is None:
            raise ActionRefused(404, "no_mount", "There is no such mount any more; look at the list again.")
        station = next((one.station for one in parts.works if one.station.name == mount.station), None)
        floor = 0.0 if parts.project.vehicle is None else parts.project.vehicle.floor
        tubes = tube_lines(parts.project)
        return drawing_values(setting_out_drawing(mount, station, parts.tabs_at(mount), said, floor, tubes))
    name = (wanted["station"], wanted["part"])
    part = next((one for one in parts.parts if (one.station, one.name) == name), None)
    if part is None:
        raise ActionRefused(404, "no_part", "There is no such part any more; look at the list again.")
    drawing = part_drawing(part, said)
    return None if drawing is None else drawing_values(drawing, part.choice or {})


@router.post("/make/stock", response=StockOut, operation_id="listStock")
def stock(request: HttpRequest, body: AboutParts) -> HttpResponse:
    """Return the bars and sheets that the parts are cut from, and what is to buy, less the user's shelf."""
    return answer(away(stocked, _checked(body), shelf_of(request.user), key=key_of(request)))


def stocked(document: dict[str, Any], shelf: list[OnShelf]) -> dict[str, Any]:
    """Return what a document's parts are cut from and what is to buy, of plain values."""
    parts = job_parts(check_project(document), stock_of(shelf), tell=tell)
    its = parts.stock  # in the job's own sizes
    return {
        "kerf": its.kerf_mm,
        "bars": [
            {"number": number, "stock": bar.stock, "long": bar.long, "left": bar.left, "rack": bar.rack, "pieces": [_sawn(p) for p in bar.pieces]}
            for number, bar in enumerate(bars(parts.parts, its, rack_of(shelf)))
        ],
        "sheets": [
            {"number": number, "stock": sheet.stock, "wide": sheet.wide, "high": sheet.high, "filled": sheet.filled, "used": sheet.used, "pieces": [_laid(p, sheet.high) for p in sheet.pieces]}
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
    }  # fmt: skip


def _sawn(piece: Piece) -> dict[str, Any]:
    return {"station": piece.station, "part": piece.part, "long": piece.long}


def _laid(piece: Piece, high: float) -> dict[str, Any]:
    flat = piece.flat
    edges = [] if flat is None else [flat.outline, *(hole.edge for hole in flat.holes)]
    path = "".join(svg_path(piece.lying(edge), 0.0, high) for edge in edges)
    return _sawn(piece) | {"wide": piece.wide, "x": piece.x, "y": piece.y, "turn": piece.turn, "path": path}


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


@router.post("/make/file", operation_id="exportPart")
def export_part(request: HttpRequest, body: AboutFile) -> HttpResponse:
    """Return one part's drawing of the document in hand."""
    who, wanted = request.user.get_username(), body.model_dump(exclude={"document", "survey"})
    data = cached_away(
        drawn, _checked(body), stock_of(shelf_of(request.user)), who, wanted, key=key_of(request)
    )
    ending, kind = FORMS[body.form]
    return _file(data, kind, f"{safe(body.station)}-{safe(body.name)}.{ending}")


def drawn(document: dict[str, Any], stock: Stock, who: str, wanted: dict[str, Any]) -> bytes:
    """Return one part's file; raise ActionRefused."""
    parts = job_parts(check_project(document), stock, tell=tell)
    name = (wanted["station"], wanted["name"])
    part = next((one for one in parts.parts if (one.station, one.name) == name), None)
    if part is None:
        raise ActionRefused(404, "no_part", "There is no such part any more; look at the list again.")
    if wanted["form"] == "pdf":
        with on_paper():
            return templates_pdf(parts, who, wanted["paper"], only=part)
    if part.flat is None:
        raise ActionRefused(
            422, "not_flat", f"{part.name} is no plate: it has no drawing to cut. Print it at 1:1."
        )
    label = f"{parts.project.name} {part.station} {part.name}"
    flat = part.flat.other_hand if wanted["other_hand"] else part.flat
    label += ", other hand" if wanted["other_hand"] else ""
    text = (
        flat_svg(flat, label)
        if wanted["form"] == "svg"
        else flat_dxf(flat, label, wanted["form"] == "dxf-inch")
    )
    return text.encode()


class AboutSolid(Schema):
    """The document in hand, and which file of its frame in space is wanted: STL in mm or GLB in metres."""

    document: Document
    form: Literal["stl", "glb"]


@router.post("/make/frame", operation_id="exportFrame")
def export_frame(request: HttpRequest, body: AboutSolid) -> HttpResponse:
    """Return the frame's tubes in space, with their ends as they are cut."""
    data = away(solid_of, body.document, body.form)
    return _file(data, "model/stl" if body.form == "stl" else "model/gltf-binary", f"frame.{body.form}")


def solid_of(document: dict[str, Any], form: Literal["stl", "glb"]) -> bytes:
    """Return a document's frame in space; raise ActionRefused."""
    from server.shop.solid import (  # half a second to load, which only who asks for it pays
        NoFrame,
        frame_solid,
    )

    try:
        return frame_solid(check_project(document), form)
    except NoFrame as error:
        raise ActionRefused(422, "no_frame", str(error)) from error


@contextmanager
def on_paper() -> Iterator[None]:
    """Refuse a page that is not known."""
    try:
        yield
    except NoPaper as error:
        raise ActionRefused(422, "no_paper", str(error)) from error


def _file(data: bytes, kind: str, name: str) -> HttpResponse:
    response = HttpResponse(data, content_type=kind)
    response["Content-Disposition"] = f'attachment; filename="{name}"'
    return response


def _checked(body: AboutParts) -> dict[str, Any]:
    return {**body.document, "survey": fitting(body.document, body.survey)}


def _whole(request: HttpRequest, job_id: UUID, number: int) -> dict[str, Any]:
    revision = open_revision(request.user, job_id, number)
    survey = fitting(revision.document, survey_of(items_of(revision.job)))
    return {**revision.document, **({"survey": survey} if survey else {})}


@router.get("/jobs/{job_id}/revisions/{number}/build-sheet.pdf", operation_id="exportBuildSheet")
def export_build_sheet(
    request: HttpRequest,
    job_id: UUID,
    number: int,
    station: str = "",
    paper: str = "A4",
    inches: bool = False,
    fractions: bool = False,
) -> HttpResponse:
    """Return the build sheet of one station of a revision, or of all, as a PDF, read in mm or in inches."""
    document, shelf = _whole(request, job_id, number), shelf_of(request.user)
    by = f"revision {number}, {request.user.get_username()}"
    data = cached_away(
        build_sheet,
        document,
        stock_of(shelf),
        by,
        station,
        paper,
        inches,
        fractions,
        letterhead(),
        shelf,
        key=key_of(request),
    )
    return _file(data, "application/pdf", f"build-sheet-{safe(station or 'all')}-revision-{number}.pdf")


def build_sheet(
    document: dict[str, Any],
    stock: Stock,
    by: str,
    station: str,
    paper: str,
    inches: bool,
    fractions: bool,
    head: Letterhead,
    shelf: list[OnShelf],
) -> bytes:
    """Return the build sheet of one station, or of all; raise ActionRefused."""
    parts = job_parts(check_project(document), stock, tell=within(tell, 0.0, 0.8))
    if station and station not in {one.station for one in parts.chapters}:
        raise ActionRefused(404, "no_station", f"This revision has no station called {station}.")
    tell(0.8, "the build sheet")
    with on_paper():
        return build_sheet_pdf(parts, by, paper, station or None, inches, fractions, head, shelf)


@router.get("/jobs/{job_id}/revisions/{number}/mounts.pdf", operation_id="exportMountPages")
def export_mount_pages(
    request: HttpRequest,
    job_id: UUID,
    number: int,
    paper: str = "A4",
    inches: bool = False,
    fractions: bool = False,
) -> HttpResponse:
    """Return a page for every mount of a revision that is set out by itself, as a PDF."""
    document, shelf = _whole(request, job_id, number), shelf_of(request.user)
    by = f"revision {number}, {request.user.get_username()}"
    data = cached_away(
        mount_pages, document, stock_of(shelf), by, paper, inches, fractions, key=key_of(request)
    )
    return _file(data, "application/pdf", f"mounts-revision-{number}.pdf")


def mount_pages(
    document: dict[str, Any], stock: Stock, by: str, paper: str, inches: bool, fractions: bool
) -> bytes:
    """Return a page a mount; raise ActionRefused."""
    parts = job_parts(check_project(document), stock, tell=within(tell, 0.0, 0.8))
    tell(0.8, "a page for every mount")
    with on_paper():
        return mount_pages_pdf(parts, by, paper, inches, fractions)


@router.get("/jobs/{job_id}/revisions/{number}/parts.zip", operation_id="exportParts")
def export_parts(request: HttpRequest, job_id: UUID, number: int, paper: str = "A4") -> HttpResponse:
    """Return every drawing, template, list and build sheet of a revision as one ZIP."""
    document, shelf = _whole(request, job_id, number), shelf_of(request.user)
    by = f"revision {number}, {request.user.get_username()}"
    data = cached_away(packed, document, stock_of(shelf), shelf, by, paper, letterhead(), key=key_of(request))
    return _file(data, "application/zip", f"parts-revision-{number}.zip")


def packed(
    document: dict[str, Any], stock: Stock, shelf: list[OnShelf], by: str, paper: str, head: Letterhead
) -> bytes:
    """Return all of a job's files in one ZIP; raise ActionRefused."""
    with on_paper():
        files = all_files(check_project(document), by, stock, shelf, paper, tell, head)
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as its:
        for path, data in files.items():
            its.writestr(path, data)
    return out.getvalue()
