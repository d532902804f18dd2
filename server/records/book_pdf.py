"""The book as a PDF for the customer, and the sheets for the floor: to cycle by, to weigh by, what is to be turned."""

import io
from collections.abc import Iterator
from datetime import date
from functools import cache
from html import escape
from pathlib import Path
from typing import Any

import numpy as np
import reportlab
from PIL import Image as Picture
from reportlab.lib import colors
from reportlab.lib.styles import ParagraphStyle
from reportlab.lib.units import mm
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont
from reportlab.pdfgen.canvas import Canvas
from reportlab.platypus import (
    Flowable,
    Image,
    KeepTogether,
    PageBreak,
    Paragraph,
    SimpleDocTemplate,
    Spacer,
    Table,
)

from engine.document.coming import finished_kg
from engine.document.read import check_project
from engine.prove.gates import Gate
from engine.prove.proof import Proof, prove
from engine.sentences import Sentence, spoken
from server.jobs.models import Job
from server.records.actions.survey import items_of, records_of
from server.records.book import Entry, book_of
from server.shop.papers import sheet_of

MARGIN_MM, PICTURE_MM = 18.0, 80.0
CYCLE_ROWS, SPARE_ROWS = 9, 4
NO_CERTIFICATE = "A record of what was found, no certificate: a competent engineer and the rules of the road or track decide."
KINDS = {"revision": "Drawn", "reading": "Read", "mark": "Marked", "photo": "Pictured", "guard": "Guarded",
         "cycle": "Cycled", "weigh": "Weighed", "setting": "Set", "drive": "Driven", "gate": "Signed"}  # fmt: skip
GATES = {"cycled": "Cycled through", "springs_out": "Springs out", "tyre_on": "Tyre on", "no_contact": "Nothing touched",
         "left_right": "Left against right", "stops_fitted": "Strap and stop", "damper_fitted": "Damper",
         "rod_ends": "Rod ends"}  # fmt: skip
GAUGED = ("coilover", "damper", "spring", "air_spring")
CYCLE_CAUTION = "Stands under the frame and chocks before anybody is under it. Springs out, tyre on; fingers out of the rocker."
WEIGH_CAUTION = (
    "Level pad, tyres at pressure, rolled and settled; the driver’s weight in it as it will be driven."
)


@cache
def _styles() -> dict[str, ParagraphStyle]:
    fonts = Path(reportlab.__file__).parent / "fonts"
    pdfmetrics.registerFont(TTFont("Book", fonts / "Vera.ttf"))
    pdfmetrics.registerFont(TTFont("BookBold", fonts / "VeraBd.ttf"))
    pdfmetrics.registerFontFamily(
        "Book", normal="Book", bold="BookBold", italic="Book", boldItalic="BookBold"
    )
    plain = ParagraphStyle("plain", fontName="Book", fontSize=9, leading=12)
    return {
        "plain": plain,
        "small": ParagraphStyle(
            "small", parent=plain, fontSize=7.5, leading=10, textColor=colors.HexColor("#444444")
        ),
        "head": ParagraphStyle(
            "head", parent=plain, fontName="BookBold", fontSize=13, leading=17, spaceBefore=8, spaceAfter=3
        ),
        "title": ParagraphStyle(
            "title", parent=plain, fontName="BookBold", fontSize=24, leading=30, spaceAfter=6
        ),
        "day": ParagraphStyle(
            "day", parent=plain, fontName="BookBold", fontSize=10, leading=14, spaceBefore=7, spaceAfter=2
        ),
    }


def _say(words: object, style: str = "plain") -> Paragraph:
    return Paragraph(escape(str(words)), _styles()[style])


def _build(story: list[Flowable], name: str, by: str, paper: str) -> bytes:
    sheet = sheet_of(paper)
    out = io.BytesIO()
    document = SimpleDocTemplate(
        out, pagesize=(sheet.page[0] * mm, sheet.page[1] * mm), title=name, author=by,
        leftMargin=MARGIN_MM * mm, rightMargin=MARGIN_MM * mm, topMargin=16 * mm, bottomMargin=18 * mm,
    )  # fmt: skip

    def foot(canvas: Canvas, its: Any) -> None:
        canvas.saveState()
        canvas.setFont("Book", 7)
        canvas.drawString(MARGIN_MM * mm, 9 * mm, f"{name[:60]} · {date.today().isoformat()} · {by[:40]}")
        canvas.drawRightString((sheet.page[0] - MARGIN_MM) * mm, 9 * mm, f"{its.page}")
        canvas.restoreState()

    document.build(story, onFirstPage=foot, onLaterPages=foot)
    return out.getvalue()


def _proved(job: Job) -> Proof | None:
    document = job.newest().document
    if not document.get("stations"):
        return None
    return prove(check_project({**document, "records": records_of(items_of(job))}))


def book_pdf(job: Job, by: str, paper: str = "A4") -> bytes:
    """Return a job's book; raise NoPaper, or the engine's errors where the newest revision cannot move."""
    wide = sheet_of(paper).page[0] - 2 * MARGIN_MM
    entries = book_of(job)
    story: list[Flowable] = [_say(job.name, "title"), _say(job.newest().document.get("purpose") or "")]
    story += [
        _say(f"The job’s book, {len(entries)} entries, as of {date.today().isoformat()}."),
        _say(NO_CERTIFICATE, "small"),
    ]
    proof = _proved(job)
    if proof is not None:
        story += list(_standing(proof))
    story.append(_say("From the first tape to the floor", "head"))
    day, first = "", list[Flowable]()
    pictures = {str(one.id): one.path for one in job.photographs.filter(gone=False)}
    for entry in entries:
        if entry.when[:10] != day:
            day = entry.when[:10]
            first = [_say(day, "day")]
        story.append(KeepTogether([*first, *_entry(entry, wide, pictures)]))
        first = []
    return _build(story, f"{job.name}, the job’s book", by, paper)


def _standing(proof: Proof) -> Iterator[Flowable]:
    """Yield how it stands and what is signed: the newest of everything."""
    yield _say("How it stands", "head")
    rows: list[list[str]] = [["Station", "Ride, from as drawn", "Mass at the wheel", "Finished"]]
    for support in proof.vehicle.supports:
        solved = support.solved
        ride = "nowhere" if solved.ride is None else f"{solved.ride.travel:+.1f} mm"
        done = finished_kg(proof.project, solved.station)
        rows.append(
            [
                spoken(solved.station.name),
                ride,
                f"{solved.station.mass.corner:.1f} kg",
                "" if done is None else f"{done:.1f} kg",
            ]
        )
    yield _table(rows)
    if proof.weighs:
        last = proof.weighs[-1]
        said = f"Last weighed: {last.total:.1f} kg"
        for share, words in (
            (last.front_share, "in front"),
            (last.left_share, "on the left"),
            (last.cross_share, "across"),
        ):
            said += "" if share is None else f", {100 * share:.1f} % {words}"
        yield Spacer(1, 4)
        yield _say(said + ".")
    yield _say("Gates", "head")
    stations = list(dict.fromkeys(gate.station for gate in proof.gates))
    by = {(gate.name, gate.station): gate for gate in proof.gates}
    rows = [["", *(spoken(station) for station in stations)]]
    for name in dict.fromkeys(gate.name for gate in proof.gates):
        cells = [by.get((name, station)) for station in stations]
        rows.append([GATES.get(name, name), *("" if gate is None else _signed(gate) for gate in cells)])
    yield _table(rows)


def _signed(gate: Gate) -> str:
    if not gate.met:
        return "open"
    return f"met, {gate.initials}" if gate.initials else "met, not signed"


def _entry(entry: Entry, wide: float, pictures: dict[str, Path]) -> list[Flowable]:
    who = f"{entry.when[11:16]} {KINDS.get(entry.kind, entry.kind)}" + (f", {entry.by}" if entry.by else "")
    parts: list[Flowable] = [_say(who, "small"), _say(entry.say)]
    if entry.note:
        parts.append(_say(f"“{entry.note}”"))
    if entry.holds:
        parts.append(_columns(entry.holds, wide))
    if entry.set_then:
        parts += [_say("What was set then:", "small"), *(_say(one, "small") for one in entry.set_then)]
    path = pictures.get(entry.photo)
    if path is not None and path.exists():
        parts.append(_picture(path))
    parts.append(Spacer(1, 4))
    return parts


def _columns(holds: tuple[Sentence, ...], wide: float) -> Flowable:
    """Return short lines in three columns."""
    cells = [_say(one, "small") for one in holds]
    rows = [
        cells[n : n + 3] + [_say("", "small")] * (3 - len(cells[n : n + 3])) for n in range(0, len(cells), 3)
    ]
    return Table(
        rows,
        colWidths=[wide / 3 * mm] * 3,
        style=[
            ("TOPPADDING", (0, 0), (-1, -1), 0),
            ("BOTTOMPADDING", (0, 0), (-1, -1), 0),
            ("LEFTPADDING", (0, 0), (-1, -1), 6),
        ],
    )


def _picture(path: Path) -> Flowable:
    with Picture.open(path) as picture:
        small = picture.convert("RGB")
        small.thumbnail((900, 900))
        out = io.BytesIO()
        small.save(out, "JPEG", quality=80)
    wide, tall = small.size
    scale = PICTURE_MM * mm / max(wide, tall)
    return Image(io.BytesIO(out.getvalue()), wide * scale, tall * scale, hAlign="LEFT")


def _table(rows: list[list[str]], widths: list[float] | None = None, tall: float | None = None) -> Flowable:
    cells = [[_say(cell) for cell in row] for row in rows]
    return Table(
        cells,
        colWidths=None if widths is None else [one * mm for one in widths],
        rowHeights=None if tall is None else [None] + [tall * mm] * (len(rows) - 1),
        hAlign="LEFT",
        repeatRows=1,
        style=[
            ("GRID", (0, 0), (-1, -1), 0.4, colors.HexColor("#888888")),
            ("BACKGROUND", (0, 0), (-1, 0), colors.HexColor("#eeece4")),
            ("VALIGN", (0, 0), (-1, -1), "MIDDLE"),
            ("TOPPADDING", (0, 0), (-1, -1), 2),
            ("BOTTOMPADDING", (0, 0), (-1, -1), 3),
        ],
    )


def floor_pdf(job: Job, by: str, paper: str = "A4") -> bytes:
    """Return the floor's sheets of the newest revision: a cycle sheet a station, a weigh-in sheet, the setting list."""
    proof = _proved(job)
    name = f"{job.name}, revision {job.newest().number}"
    if proof is None:
        return _build(
            [_say(name, "title"), _say("No station is drawn yet: there is nothing to cycle or to weigh.")],
            name,
            by,
            paper,
        )
    story: list[Flowable] = []
    wide = sheet_of(paper).page[0] - 2 * MARGIN_MM
    for support in proof.vehicle.supports:
        story += [*_cycle_sheet(support.solved, wide, name), PageBreak()]
    story += [*_weigh_sheet(proof, wide, name), PageBreak(), *_setting_list(proof, wide, name)]
    return _build(story, f"{name}, floor sheets", by, paper)


def _cycle_sheet(solved: Any, wide: float, name: str) -> Iterator[Flowable]:
    station = solved.station
    units = [unit.name for unit in station.units if unit.kind in GAUGED]
    yield _say(f"Cycle sheet: {spoken(station.name)}", "title")
    yield _say(f"{name}. {CYCLE_CAUTION}", "small")
    yield _say(
        "Date ____________   Read by ____________   Springs out ☐   Tyre on ☐   Bushes torqued at ride ☐".replace(
            "☐", "[  ]"
        )
    )
    yield Spacer(1, 6)
    travels = np.linspace(-station.travel.droop, station.travel.bump, CYCLE_ROWS)
    at = solved.at(travels)
    head = ["Wheel, from as drawn", "Wheel, read"]
    for unit in units:
        head += [f"{spoken(unit)}, drawn", f"{spoken(unit)}, read"]
    rows = [[*head, "What touched, and the gap"]]
    for n, z in enumerate(travels):
        row = [f"{z:+.0f} mm" if round(z) else "as drawn", ""]
        for unit in units:
            long = float(at.units[unit].length[n])
            row += [f"{long:.1f} mm" if np.isfinite(long) else "out of reach", ""]
        rows.append([*row, ""])
    rows += [[""] * len(rows[0]) for _ in range(SPARE_ROWS)]
    each = (wide - 40) / (len(rows[0]) - 1)
    yield _table(rows, [each] * (len(rows[0]) - 1) + [40], 10)


def _weigh_sheet(proof: Proof, wide: float, name: str) -> Iterator[Flowable]:
    yield _say("Weigh-in sheet", "title")
    yield _say(f"{name}. {WEIGH_CAUTION}", "small")
    yield _say("Date ____________   Read by ____________   In it ______________________________")
    yield Spacer(1, 6)
    apart = proof.vehicle.apart()
    rows = [["Wheel", "Planned", "Scale", "Again", "Again"]]
    rows += [[spoken(wheel.key), f"{wheel.mass:.1f} kg", "", "", ""] for wheel in apart.wheels]
    yield _table(
        [*rows, ["Total", f"{sum(wheel.mass for wheel in apart.wheels):.1f} kg", "", "", ""]],
        [wide / 5] * 5,
        11,
    )
    yield Spacer(1, 8)
    heights = [["Height", "Wanted", "Read", "Again", "Again"]]
    for number, support in enumerate(apart.supports):
        station = support.solved.station
        if station.datum is not None:
            key = station.name if station.kind == "axle" else apart.wheels[apart.of(number)[0]].key
            wanted = station.datum.height - (station.travel.at or 0.0)
            heights.append([f"{spoken(key)}: {spoken(station.datum.name)}", f"{wanted:.1f} mm", "", "", ""])
    if len(heights) > 1:
        yield _table(heights, [wide / 5] * 5, 11)


def _setting_list(proof: Proof, wide: float, name: str) -> Iterator[Flowable]:
    yield _say("Turn, in this order", "title")
    yield _say(
        f"{name}. On stands and with the wheels hanging while rods are turned; lock nuts tight and paint across them after.",
        "small",
    )
    yield Spacer(1, 6)
    last = next((one for one in reversed(proof.weighs) if one.after is not None), None)
    turning = [] if last is None else [one for one in last.turns if abs(one.by) > 0.05]
    if not turning:
        yield _say(
            "Nothing is left to turn."
            if last is not None
            else "Weigh it first: then this page says what to turn."
        )
        return
    rows = [["", "Where", "What", "Turn", "That is", "Left that way", "Done"]]
    for number, one in enumerate(turning, start=1):
        pressure = one.turns is None
        by = f"{one.by:+.2f} bar" if pressure else f"{one.by:+.1f} mm"
        left = (
            ""
            if one.left_after is None
            else f"{one.left_after:.2f} bar"
            if pressure
            else f"{one.left_after:.1f} mm"
        )
        rows.append(
            [
                str(number),
                spoken(one.station),
                spoken(one.what),
                "" if one.turns is None else f"{round(one.turns * 4) / 4:+.2f}",
                by,
                left,
                "",
            ]
        )
    yield _table(rows, [8, wide - 128, 26, 24, 26, 28, 16], 12)
    assert last is not None
    if last.after is not None:
        told = ", ".join(f"{spoken(key)} {height:.1f} mm" for key, height in last.after.heights.items())
        yield Spacer(1, 6)
        yield _say(
            f"Then it stands {told}"
            + ("." if last.after.cross is None else f", and crosses {100 * last.after.cross:.1f} %.")
        )
