"""Templates at their own size with lines to check them by, and tubes' ends to wrap round."""

import io
import math
from collections.abc import Callable
from datetime import date
from textwrap import wrap

import numpy as np
import rectpack
from reportlab.lib.units import mm
from reportlab.pdfgen.canvas import Canvas

from engine.drawing.crossing import ways_of
from engine.drawing.labels import labelled
from engine.drawing.model import Drawing, Edge, Spot
from engine.drawing.tube import unrolled
from engine.facts import facts
from engine.sentences import Quantity, Sentence, length, spoken, travel
from engine.shop.job_parts import JobParts
from engine.shop.made import Flat, Made
from engine.shop.outline import Arc, box_of
from engine.shop.tubes import witness_words
from engine.station.solved import SolvedStation
from server.paper.setting import fonts
from server.paper.sheets import FOOT, MARGIN, Sheet, sheet_of

OVERLAP = 10.0
CHECK_MM, CHECK_IN = 100.0, 4 * 25.4
WRAP_TALL = 30.0  # mm of paper beyond the longest of a cope
NAME_MM, APART_MM = 46.0, 6.0  # the least room for a name; between two templates
LETTER_PT, LETTER_MM, LINE_MM = 9.0, 2.0, 3.8  # the least that is read at arm’s length
TENTHS = 10  # rectpack takes whole numbers
CAUTION = (
    "A first check, no certificate: a competent engineer signs off. Stands and chocks before going under; springs out",
    "before cycling by jack; brace before cutting a frame; fire watch, fuel and battery off when welding, and never weld",
    "a casting. Tack only, cycle through full travel, then weld out. Cut rods long until the cycle has passed.",
)


def templates_pdf(parts: JobParts, made_by: str = "", paper: str = "A4", only: Made | None = None) -> bytes:
    """Return every plate and every coped tube's end at 1:1, tiled where larger, check lines of 100 mm and 4 in on each."""
    sheet = sheet_of(paper)
    fonts()
    out = io.BytesIO()
    # Not compressed: whoever doubts a template can read its lines.
    canvas = Canvas(out, pagesize=(sheet.page[0] * mm, sheet.page[1] * mm), pageCompression=0)
    canvas.setTitle(f"{parts.project.name}, templates")
    templates = [
        one
        for part in (parts.parts if only is None else [only])
        for one in (*_of_flat(part), *_of_tube(part))
    ]
    drawn = _nested(canvas, sheet, parts, [one for one in templates if one.fits(sheet)], made_by)
    for one in templates:
        if not one.fits(sheet):
            drawn += _tiled(canvas, sheet, parts, one.name, made_by, one.box, one.draw)
    if not drawn:
        _foot(canvas, parts, "nothing to cut", made_by)
        canvas.drawString(
            20 * mm,
            (sheet.page[1] - 27) * mm,
            "Nothing here is cut from plate or coped: there is nothing to print at its own size.",
        )
        canvas.showPage()
    canvas.save()
    return out.getvalue()


@facts
class _Template:
    """Something drawn at its own size: its name, its box and what draws it, mm."""

    name: str
    box: tuple[float, float, float, float]
    draw: Callable[[Canvas], None]

    @property
    def wide(self) -> float:
        """Return its room across with its name under it."""
        return max(self.box[2] - self.box[0], NAME_MM) + APART_MM

    @property
    def lines(self) -> list[str]:
        """Return its name in lines under it."""
        return wrap(self.name, max(int((self.wide - APART_MM) / LETTER_MM), 8))

    @property
    def tall(self) -> float:
        """Return its room up the page with its name under it."""
        return self.box[3] - self.box[1] + APART_MM + LINE_MM * len(self.lines) + 1.5

    def fits(self, sheet: Sheet) -> bool:
        """Return whether it goes on one page, turned or not."""
        return max(self.wide, self.tall) <= max(sheet.wide, sheet.tall) and min(self.wide, self.tall) <= min(
            sheet.wide, sheet.tall
        )


def _nested(canvas: Canvas, sheet: Sheet, parts: JobParts, templates: list[_Template], made_by: str) -> int:
    """Draw as many templates on a page as have room, each at its own size with its name; return how many pages."""
    if not templates:
        return 0
    packer = rectpack.newPacker(rotation=True)
    for number, one in enumerate(templates):
        packer.add_rect(math.ceil(one.wide * TENTHS), math.ceil(one.tall * TENTHS), number)
    packer.add_bin(int(sheet.wide * TENTHS), int(sheet.tall * TENTHS), count=len(templates))
    packer.pack()
    for number, page in enumerate(packer, start=1):
        _foot(canvas, parts, f"Templates, page {number} of {len(packer)}: {len(page)} pieces", made_by)
        for place in page:
            one = templates[place.rid]
            turned = place.width != math.ceil(one.wide * TENTHS)
            canvas.saveState()
            canvas.translate((MARGIN + place.x / TENTHS) * mm, (MARGIN + FOOT + place.y / TENTHS) * mm)
            if turned:
                canvas.translate(one.tall * mm, 0)
                canvas.rotate(90)
            _one(canvas, one)
            canvas.restoreState()
        canvas.showPage()
    return len(packer)


def _one(canvas: Canvas, one: _Template) -> None:
    """Draw one template with its cut marks, and its name under it, its box's lower left corner at nought."""
    canvas.setFont("Book", LETTER_PT)
    for row, words in enumerate(one.lines):
        canvas.drawString(APART_MM / 2 * mm, (LINE_MM * (len(one.lines) - row) - LINE_MM + 1.2) * mm, words)
    canvas.setLineWidth(0.1 * mm)
    for x in (0.0, one.wide):
        for y in (0.0, one.tall):
            canvas.line((x - (2 if x else 0)) * mm, y * mm, (x + (0 if x else 2)) * mm, y * mm)
            canvas.line(x * mm, (y - (2 if y else 0)) * mm, x * mm, (y + (0 if y else 2)) * mm)
    canvas.translate(
        (APART_MM / 2 - one.box[0]) * mm, (APART_MM / 2 + LINE_MM * len(one.lines) + 1.5 - one.box[1]) * mm
    )
    one.draw(canvas)


def _of_flat(part: Made) -> list[_Template]:
    flat = part.flat
    if flat is None:
        return []
    name = f"{part.station}, {spoken(part.name)}, {flat.thickness:g} mm {flat.grade}, {part.many}\u00a0off"
    if part.hands == 2:
        name += f": {part.count} left as drawn, {part.count} right turned over"
    return [
        _Template(name=name, box=box_of(list(flat.outline)), draw=lambda canvas: _draw_flat(canvas, flat))
    ]


def _of_tube(part: Made) -> list[_Template]:
    cut = part.cut
    if cut is None:
        return []
    found = []
    for number, end in enumerate(cut.ends, start=1):
        if not (end.met or end.mitre):
            continue
        round_it, along = unrolled(cut.tube.outside / 2, end)
        name = f"{part.station}, {spoken(part.name)}, end {number}: wrap round the tube of {cut.tube.outside:g} mm, {witness_words(cut, number)}"
        if part.hands == 2:
            name += "; other hand: printed side in, and round the other way"
        box = (0.0, 0.0, float(round_it[-1]), float(along.max()) + WRAP_TALL)
        found.append(_Template(name=name, box=box, draw=_wrap_of(round_it, along, box)))
    return found


def _wrap_of(
    round_it: np.ndarray, along: np.ndarray, box: tuple[float, float, float, float]
) -> Callable[[Canvas], None]:
    """Return what draws a tube's end unrolled."""

    def draw(canvas: Canvas) -> None:
        canvas.setLineWidth(0.25 * mm)
        path = canvas.beginPath()
        path.moveTo(round_it[0] * mm, along[0] * mm)
        for x, y in zip(round_it[1:], along[1:], strict=True):
            path.lineTo(x * mm, y * mm)
        path.lineTo(box[2] * mm, box[3] * mm)
        path.lineTo(0, box[3] * mm)
        path.close()
        canvas.drawPath(path)
        canvas.setLineWidth(0.12 * mm)
        for quarter in range(5):
            x = quarter * box[2] / 4
            canvas.line(x * mm, box[3] * mm, x * mm, (box[3] - 8) * mm)
            canvas.setFont("Book", 9)
            canvas.drawString(
                (x + 1) * mm, (box[3] - 7) * mm, "witness line" if quarter in (0, 4) else f"{90 * quarter}°"
            )
        canvas.drawString(
            4 * mm, (float(along.max()) + 4) * mm, "cut away below the curve; the tube is above it"
        )

    return draw


def _tiled(
    canvas: Canvas,
    sheet: Sheet,
    parts: JobParts,
    name: str,
    made_by: str,
    box: tuple[float, float, float, float],
    draw: Callable[[Canvas], None],
) -> int:
    """Draw something on as many pages as it needs; return how many."""
    low, bottom, high, top = box
    columns = max(1, -int(-(high - low + 4 - OVERLAP) // (sheet.wide - OVERLAP)))
    rows = max(1, -int(-(top - bottom + 4 - OVERLAP) // (sheet.tall - OVERLAP)))
    for row in range(rows):
        for column in range(columns):
            tile = f"sheet {row + 1}-{column + 1} of {rows}-{columns}"
            _foot(canvas, parts, f"{name}. {tile}", made_by)
            canvas.saveState()
            area = canvas.beginPath()
            area.rect(MARGIN * mm, (MARGIN + FOOT) * mm, sheet.wide * mm, sheet.tall * mm)
            canvas.clipPath(area, stroke=0)
            canvas.translate(
                (MARGIN + 2 - low - column * (sheet.wide - OVERLAP)) * mm,
                (MARGIN + FOOT + 2 - bottom - row * (sheet.tall - OVERLAP)) * mm,
            )
            draw(canvas)
            canvas.restoreState()
            _crops(canvas, sheet)
            canvas.showPage()
    return rows * columns


def _draw_flat(canvas: Canvas, flat: Flat) -> None:
    canvas.setLineWidth(0.25 * mm)
    canvas.drawPath(_path(canvas, list(flat.outline)))
    marks: list[tuple[Spot, Spot]] = []
    for hole in flat.holes:
        canvas.drawPath(_path(canvas, hole.edge))
        reach = hole.diameter / 2 + 3
        for x, y in hole.places:
            marks += [((x - reach, y), (x + reach, y)), ((x, y - reach), (x, y + reach))]
    for one, other in marks:
        canvas.line(one[0] * mm, one[1] * mm, other[0] * mm, other[1] * mm)
    canvas.setDash(4, 2)
    for fold in flat.folds:
        marks.append((fold.one, fold.other))
        canvas.line(fold.one[0] * mm, fold.one[1] * mm, fold.other[0] * mm, fold.other[1] * mm)
    canvas.setDash()
    edges = Drawing(
        name="", wide=0.0, tall=0.0, scale=1.0, origin=(0.0, 0.0),
        edges=(Edge(arcs=flat.outline), *(Edge(arcs=tuple(hole.edge)) for hole in flat.holes)),
    )  # fmt: skip
    wanted = [(f"{hole.what.replace('_', ' ')} {hole.size}", (hole.x, hole.y)) for hole in flat.holes]
    wanted += [
        (f"fold {abs(fold.angle):.0f}° {'down' if fold.angle > 0 else 'up'}", fold.other)
        for fold in flat.folds
    ]
    low, bottom, high, top = box_of(list(flat.outline))
    within = (low, bottom, max(high, low + NAME_MM), top)
    texts, leaders = labelled(wanted, [*marks, *ways_of(edges)], [], within)
    canvas.setLineWidth(0.12 * mm)
    for line in leaders:
        (x, y), (u, v) = line.through
        canvas.line(x * mm, y * mm, u * mm, v * mm)
    for text in texts:
        canvas.setFont("Book", text.height * mm)
        canvas.drawCentredString(text.at[0] * mm, text.at[1] * mm, text.words)


def _path(canvas: Canvas, outline: list[Arc]) -> object:
    path = canvas.beginPath()
    for k, arc in enumerate(outline):
        its = arc.circle
        x, y = arc.first
        if k == 0:
            path.moveTo(x * mm, y * mm)
        else:
            path.lineTo(x * mm, y * mm)
        if its.radius > 0:
            box = (
                (its.x - its.radius) * mm,
                (its.y - its.radius) * mm,
                (its.x + its.radius) * mm,
                (its.y + its.radius) * mm,
            )
            path.arcTo(*box, startAng=math.degrees(arc.start), extent=math.degrees(arc.turn))
    path.close()
    return path


def _crops(canvas: Canvas, sheet: Sheet) -> None:
    canvas.setLineWidth(0.1 * mm)
    for x in (MARGIN, MARGIN + sheet.wide):
        for y in (MARGIN + FOOT, MARGIN + FOOT + sheet.tall):
            canvas.line((x - 4) * mm, y * mm, (x + 4) * mm, y * mm)
            canvas.line(x * mm, (y - 4) * mm, x * mm, (y + 4) * mm)


def _foot(canvas: Canvas, parts: JobParts, name: str, made_by: str) -> None:
    """Draw the check lines and say what the sheet is."""
    canvas.setFont("Book", 9)
    y = MARGIN
    for k, (long, words) in enumerate(((CHECK_MM, "100 mm"), (CHECK_IN, "4 in"))):
        at = y + 14 - 6 * k
        canvas.setLineWidth(0.3 * mm)
        canvas.line(MARGIN * mm, at * mm, (MARGIN + long) * mm, at * mm)
        for end in (0.0, long):
            canvas.line((MARGIN + end) * mm, (at - 2) * mm, (MARGIN + end) * mm, (at + 2) * mm)
        canvas.drawString((MARGIN + long + 3) * mm, (at - 1) * mm, words)
    canvas.drawString((MARGIN + 125) * mm, (y + 13) * mm, "Print at 100 %, then measure")
    canvas.drawString((MARGIN + 125) * mm, (y + 9) * mm, "this line. No certificate.")
    by = f", {made_by}" if made_by else ""
    canvas.setFont("Book", 9)
    canvas.drawString(MARGIN * mm, (y + 3) * mm, name[:98])
    canvas.drawString(
        MARGIN * mm, (y - 1) * mm, f"{parts.project.name}. {date.today().isoformat()}{by}"[:120]
    )


def settings_of(solved: SolvedStation) -> list[Sentence]:
    """Return what a station is set to, in words."""
    station = solved.station
    wanted = {
        "bump": length(station.travel.bump),
        "droop": length(station.travel.droop),
        "mass": Quantity(station.mass.corner, "mass"),
    }
    found = [Sentence("Wanted travel {bump} bump, {droop} droop from as drawn; corner {mass}.", wanted)]
    if solved.ride is not None:
        found.append(
            Sentence("It stands {at} from as drawn on its springs.", {"at": travel(solved.ride.travel)})
        )
    for unit in station.units:
        if hasattr(unit, "preload"):
            found.append(Sentence("{0}: preload {p}", {"p": length(unit.preload)}, (unit.name,)))
        if hasattr(unit, "pressure"):
            found.append(
                Sentence("{0}: {p} at ride", {"p": Quantity(unit.pressure, "pressure")}, (unit.name,))
            )
    found += [
        Sentence("{0}: set to {long} between centres", {"long": length(link.length)}, (name,))
        for name, link in station.links.items()
        if link.length
    ]
    return found
