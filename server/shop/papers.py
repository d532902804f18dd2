"""Papers: templates at their own size with lines to check them by, and a build sheet a station."""

import io
from datetime import date

from reportlab.lib.units import mm
from reportlab.pdfgen.canvas import Canvas

from engine.sentences import spoken
from engine.shop.job_parts import JobParts
from engine.shop.outline import box_of
from engine.shop.parts import PlatePart

A4 = (210.0, 297.0)
MARGIN, OVERLAP = 12.0, 10.0
FOOT = 26.0
CHECK_MM, CHECK_IN = 100.0, 4 * 25.4
CAUTION = (
    "A first check, no certificate: a competent engineer signs off. Stands and chocks before going under; springs out",
    "before cycling by jack; brace before cutting a frame; fire watch, fuel and battery off when welding. Tack only,",
    "cycle through full travel, then weld out. Cut rods long until the cycle has passed.",
)


def templates_pdf(parts: JobParts, made_by: str = "") -> bytes:
    """Return every plate at 1:1 on A4, tiled where it is larger, with a check line of 100 mm and of 4 in on each sheet."""
    out = io.BytesIO()
    # Not compressed: whoever doubts a template can read its lines.
    canvas = Canvas(out, pagesize=(A4[0] * mm, A4[1] * mm), pageCompression=0)
    canvas.setTitle(f"{parts.project.name}, templates")
    plates = [(station.station, plate) for station in parts.stations for plate in station.plates]
    for station, plate in plates:
        _plate_pages(canvas, parts, station, plate, made_by)
    if not plates:
        _foot(canvas, parts, "no plates", made_by)
        canvas.drawString(
            20 * mm, 270 * mm, "This job has no rocker plates: there is nothing to print at its own size."
        )
        canvas.showPage()
    canvas.save()
    return out.getvalue()


def _plate_pages(canvas: Canvas, parts: JobParts, station: str, plate: PlatePart, made_by: str) -> None:
    low, bottom, high, top = box_of(list(plate.outline))
    wide, tall = A4[0] - 2 * MARGIN, A4[1] - 2 * MARGIN - FOOT
    columns = max(1, -int(-(high - low + 4 - OVERLAP) // (wide - OVERLAP)))
    rows = max(1, -int(-(top - bottom + 4 - OVERLAP) // (tall - OVERLAP)))
    for row in range(rows):
        for column in range(columns):
            name = f"{station}, {spoken(plate.name)}, sheet {row + 1}-{column + 1} of {rows}-{columns}"
            _foot(canvas, parts, name, made_by)
            canvas.saveState()
            area = canvas.beginPath()
            area.rect(MARGIN * mm, (MARGIN + FOOT) * mm, wide * mm, tall * mm)
            canvas.clipPath(area, stroke=0)
            canvas.translate(
                (MARGIN + 2 - low - column * (wide - OVERLAP)) * mm,
                (MARGIN + FOOT + 2 - bottom - row * (tall - OVERLAP)) * mm,
            )
            _draw(canvas, plate)
            canvas.restoreState()
            _crops(canvas, wide, tall)
            canvas.showPage()


def _draw(canvas: Canvas, plate: PlatePart) -> None:
    canvas.setLineWidth(0.25 * mm)
    path = canvas.beginPath()
    outline = list(plate.outline)
    for k, arc in enumerate(outline):
        its = arc.circle
        box = (
            (its.x - its.radius) * mm,
            (its.y - its.radius) * mm,
            (its.x + its.radius) * mm,
            (its.y + its.radius) * mm,
        )
        turn, start = arc.turn * 180 / 3.141592653589793, arc.start * 180 / 3.141592653589793
        if k == 0:
            path.moveTo(arc.first[0] * mm, arc.first[1] * mm)
        path.arcTo(*box, startAng=start, extent=turn)
        after = outline[(k + 1) % len(outline)].first
        path.lineTo(after[0] * mm, after[1] * mm)
    canvas.drawPath(path)
    for hole in plate.holes:
        canvas.circle(hole.x * mm, hole.y * mm, hole.diameter / 2 * mm)
        reach = hole.diameter / 2 + 3
        canvas.line((hole.x - reach) * mm, hole.y * mm, (hole.x + reach) * mm, hole.y * mm)
        canvas.line(hole.x * mm, (hole.y - reach) * mm, hole.x * mm, (hole.y + reach) * mm)
        canvas.setFont("Helvetica", 8)
        canvas.drawString(
            (hole.x + hole.diameter / 2 + 1) * mm, (hole.y + 1) * mm, f"{hole.what} {hole.diameter:g}"
        )


def _crops(canvas: Canvas, wide: float, tall: float) -> None:
    canvas.setLineWidth(0.1 * mm)
    for x in (MARGIN, MARGIN + wide):
        for y in (MARGIN + FOOT, MARGIN + FOOT + tall):
            canvas.line((x - 4) * mm, y * mm, (x + 4) * mm, y * mm)
            canvas.line(x * mm, (y - 4) * mm, x * mm, (y + 4) * mm)


def _foot(canvas: Canvas, parts: JobParts, name: str, made_by: str) -> None:
    """Draw the check lines and say what the sheet is."""
    canvas.setFont("Helvetica", 9)
    y = MARGIN
    for k, (long, words) in enumerate(((CHECK_MM, "100 mm"), (CHECK_IN, "4 in"))):
        at = y + 12 - 7 * k
        canvas.setLineWidth(0.3 * mm)
        canvas.line(MARGIN * mm, at * mm, (MARGIN + long) * mm, at * mm)
        for end in (0.0, long):
            canvas.line((MARGIN + end) * mm, (at - 2) * mm, (MARGIN + end) * mm, (at + 2) * mm)
        canvas.drawString((MARGIN + long + 3) * mm, (at - 1) * mm, words)
    canvas.drawString((MARGIN + 125) * mm, (y + 11) * mm, "Print at 100 %, then measure")
    canvas.drawString((MARGIN + 125) * mm, (y + 7) * mm, "these lines. No certificate.")
    by = f", {made_by}" if made_by else ""
    canvas.drawString(
        MARGIN * mm, y * mm, f"{parts.project.name}: {name}. {date.today().isoformat()}{by}"[:110]
    )


def build_sheet_pdf(parts: JobParts, made_by: str = "") -> bytes:
    """Return a sheet a station: its rods, plates, mounts and cautions."""
    out = io.BytesIO()
    canvas = Canvas(out, pagesize=(A4[0] * mm, A4[1] * mm))
    canvas.setTitle(f"{parts.project.name}, build sheets")
    for station in parts.stations:
        page = _Page(canvas, parts, station.station, made_by)
        page.head("Rods: cut square, weld inserts, set to length")
        for one in station.rods:
            rod = one.rod
            page.line(
                f"{one.count} × {spoken(one.name)}: tube {rod.tube_length:.1f} mm of {rod.tube.said}; "
                f"{rod.centre_to_centre:.1f} mm between joints, {rod.change_per_turn:g} mm a turn, "
                f"+{rod.out:.0f} −{rod.into:.0f} mm left"
            )
            for mark, said in one.said:
                page.line(f"    {mark}: {said}")
        page.head("Rocker plates")
        for plate in station.plates:
            holes = ", ".join(f"{h.what} Ø{h.diameter:g} at ({h.x:.1f}, {h.y:.1f})" for h in plate.holes)
            page.line(f"{plate.count} × {spoken(plate.name)}, {plate.thickness:g} mm: {holes}")
            for mark, said in plate.said:
                page.line(f"    {mark}: {said}")
        page.head("Setting out, mm: up from the floor, out from the centreline (left +), ahead of the datum")
        for mount in parts.mounts:
            if mount.station == station.station:
                tapes = "; ".join(f"{spoken(place)} {long:.1f}" for place, long in mount.tapes)
                close = " / ".join(f"{value:.1f}" for value in mount.close_enough)
                page.line(
                    f"{spoken(mount.point)}: up {mount.up:.1f}, out {mount.out:.1f}, ahead {mount.ahead:.1f}"
                )
                page.line(f"    tapes: {tapes}.  Close enough fore–aft / out / up: {close}")
        page.head("Cautions")
        for words in CAUTION:
            page.line(words)
        canvas.showPage()
    canvas.save()
    return out.getvalue()


class _Page:
    """Lines down a page, and on to the next one."""

    def __init__(self, canvas: Canvas, parts: JobParts, station: str, made_by: str) -> None:
        self.canvas, self.y = canvas, A4[1] - 20
        self.title = f"{parts.project.name}: {station}"
        self.by = f"{date.today().isoformat()}{f', {made_by}' if made_by else ''}. No certificate."
        self._top()

    def _top(self) -> None:
        self.canvas.setFont("Helvetica-Bold", 14)
        self.canvas.drawString(15 * mm, self.y * mm, self.title[:80])
        self.canvas.setFont("Helvetica", 9)
        self.canvas.drawRightString(195 * mm, self.y * mm, self.by[:60])
        self.y -= 9

    def head(self, words: str) -> None:
        self._room(14)
        self.y -= 3
        self.canvas.setFont("Helvetica-Bold", 11)
        self.canvas.drawString(15 * mm, self.y * mm, words)
        self.y -= 6

    def line(self, words: str) -> None:
        for part in _wrapped(words, 112):
            self._room(6)
            self.canvas.setFont("Helvetica", 9)
            self.canvas.drawString(15 * mm, self.y * mm, part)
            self.y -= 4.6

    def _room(self, wanted: float) -> None:
        if self.y - wanted < 14:
            self.canvas.showPage()
            self.y = A4[1] - 20
            self._top()


def _wrapped(words: str, most: int) -> list[str]:
    lines, line = [], ""
    for word in words.split(" "):
        if line and len(line) + len(word) + 1 > most:
            lines.append(line)
            line = "    " + word
        else:
            line = f"{line} {word}" if line else word
    return [*lines, line]
