"""Papers: templates at their own size with lines to check them by, tubes' ends to wrap round, and a build sheet a station."""

import io
import math
from collections.abc import Callable
from datetime import date

import numpy as np
from reportlab.lib.units import mm
from reportlab.pdfgen.canvas import Canvas

from engine.sentences import spoken
from engine.shop.cope import cope
from engine.shop.job_parts import JobParts
from engine.shop.made import Flat, Made, TubeEnd
from engine.shop.outline import Arc, box_of
from engine.shop.tubes import witness_words
from engine.station.solved import SolvedStation
from server.paper.sheets import FOOT, MARGIN, Sheet, sheet_of

OVERLAP = 10.0
CHECK_MM, CHECK_IN = 100.0, 4 * 25.4
WRAP_TALL = 30.0  # mm of paper beyond the longest of a cope
LONGEST_TILED = 3000.0
CAUTION = (
    "A first check, no certificate: a competent engineer signs off. Stands and chocks before going under; springs out",
    "before cycling by jack; brace before cutting a frame; fire watch, fuel and battery off when welding, and never weld",
    "a casting. Tack only, cycle through full travel, then weld out. Cut rods long until the cycle has passed.",
)


def templates_pdf(parts: JobParts, made_by: str = "", paper: str = "A4", only: Made | None = None) -> bytes:
    """Return every plate and every coped tube's end at 1:1, tiled where larger, check lines of 100 mm and 4 in on each."""
    sheet = sheet_of(paper)
    out = io.BytesIO()
    # Not compressed: whoever doubts a template can read its lines.
    canvas = Canvas(out, pagesize=(sheet.page[0] * mm, sheet.page[1] * mm), pageCompression=0)
    canvas.setTitle(f"{parts.project.name}, templates")
    drawn = 0
    for part in parts.parts if only is None else [only]:
        if part.flat is not None:
            drawn += _flat_pages(canvas, sheet, parts, part, part.flat, made_by)
        if part.cut is not None:
            for number, end in enumerate(part.cut.ends, start=1):
                if end.met or end.mitre:
                    drawn += _wrap_pages(canvas, sheet, parts, part, number, end, made_by)
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


def _flat_pages(canvas: Canvas, sheet: Sheet, parts: JobParts, part: Made, flat: Flat, made_by: str) -> int:
    low, bottom, high, top = box_of(list(flat.outline))
    name = f"{part.station}, {spoken(part.name)}, {flat.thickness:g} mm {flat.grade}, {part.many} off"
    return _tiled(
        canvas, sheet, parts, name, made_by, (low, bottom, high, top), lambda: _draw_flat(canvas, flat)
    )


def _wrap_pages(
    canvas: Canvas, sheet: Sheet, parts: JobParts, part: Made, number: int, end: TubeEnd, made_by: str
) -> int:
    assert part.cut is not None
    r = part.cut.tube.outside / 2
    round_it, along = unrolled(r, end)
    box = (0.0, 0.0, float(round_it[-1]), float(along.max()) + WRAP_TALL)
    name = f"{part.station}, {spoken(part.name)}, end {number}: wrap round the tube of {2 * r:g} mm, {witness_words(part.cut, number)}"
    if part.hands == 2:
        name += "; other hand: printed side in, and round the other way"

    def draw() -> None:
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
            canvas.setFont("Helvetica", 7)
            canvas.drawString(
                (x + 1) * mm, (box[3] - 7) * mm, "witness line" if quarter in (0, 4) else f"{90 * quarter}°"
            )
        canvas.drawString(
            4 * mm, (float(along.max()) + 4) * mm, "cut away below the curve; the tube is above it"
        )

    return _tiled(canvas, sheet, parts, name, made_by, box, draw)


def unrolled(r: float, end: TubeEnd, steps: int = 145) -> tuple[np.ndarray, np.ndarray]:
    """Return an end's curve unrolled: mm round the tube from its witness line, and along it, the longest point at 0."""
    if end.met:
        return cope(r, end.met, end.angle, end.offset, steps)
    phi = np.linspace(0.0, 2 * math.pi, steps)
    return r * phi, r * math.tan(math.radians(end.mitre)) * (1 - np.cos(phi))


def _tiled(
    canvas: Canvas,
    sheet: Sheet,
    parts: JobParts,
    name: str,
    made_by: str,
    box: tuple[float, float, float, float],
    draw: Callable[[], None],
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
            draw()
            canvas.restoreState()
            _crops(canvas, sheet)
            canvas.showPage()
    return rows * columns


def _draw_flat(canvas: Canvas, flat: Flat) -> None:
    canvas.setLineWidth(0.25 * mm)
    canvas.drawPath(_path(canvas, list(flat.outline)))
    for hole in flat.holes:
        canvas.drawPath(_path(canvas, hole.edge))
        reach = hole.diameter / 2 + 3
        for x, y in hole.places:
            canvas.line((x - reach) * mm, y * mm, (x + reach) * mm, y * mm)
            canvas.line(x * mm, (y - reach) * mm, x * mm, (y + reach) * mm)
        canvas.setFont("Helvetica", 8)
        canvas.drawString(
            (hole.x + hole.diameter / 2 + 1) * mm, (hole.y + 1) * mm, f"{hole.what} {hole.size}"
        )
    canvas.setDash(4, 2)
    for fold in flat.folds:
        (x, y), (u, v) = fold.one, fold.other
        canvas.line(x * mm, y * mm, u * mm, v * mm)
        canvas.setFont("Helvetica", 8)
        canvas.drawString(
            (u + 1) * mm, (v - 4) * mm, f"fold {abs(fold.angle):.0f}° {'down' if fold.angle > 0 else 'up'}"
        )
    canvas.setDash()


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
    canvas.setFont("Helvetica", 9)
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
    canvas.setFont("Helvetica", 8)
    canvas.drawString(MARGIN * mm, (y + 3) * mm, name[:128])
    canvas.drawString(
        MARGIN * mm, (y - 1) * mm, f"{parts.project.name}. {date.today().isoformat()}{by}"[:120]
    )


def build_sheet_pdf(parts: JobParts, made_by: str = "", paper: str = "A4", only: str | None = None) -> bytes:
    """Return a sheet a station: its places drawn, settings, setting out, parts, hardware, cautions."""
    sheet = sheet_of(paper)
    out = io.BytesIO()
    canvas = Canvas(out, pagesize=(sheet.page[0] * mm, sheet.page[1] * mm))
    canvas.setTitle(f"{parts.project.name}, build sheets")
    for station, solved in zip(parts.stations, parts.solved, strict=True):
        if only is not None and station.station != only:
            continue
        page = _Page(canvas, sheet, parts, station.station, made_by)
        page.places(solved)
        page.head("Settings")
        for words in _settings(solved):
            page.line(words)
        page.head("Setting out, mm: up from the floor, out from the centreline (left +), ahead of the datum")
        for mount in parts.mounts:
            if mount.station == station.station and mount.on is not None:
                page.line(
                    f"{spoken(mount.point)}: on the bolt of the {spoken(mount.on[0])}, {mount.on[1]:+.1f} ahead of its middle"
                )
            elif mount.station == station.station:
                tapes = "; ".join(f"{spoken(place)} {long:.1f}" for place, long in mount.tapes)
                close = " / ".join(f"{value:.1f}" for value in mount.close_enough)
                page.line(
                    f"{spoken(mount.point)}: up {mount.up:.1f}, out {mount.out:.1f}, ahead {mount.ahead:.1f}"
                )
                page.line(f"    tapes: {tapes}.  Close enough fore–aft / out / up: {close}")
                if mount.loose:
                    page.line(
                        f"    these tapes leave it loose {mount.loose}: set its height and plumb mark first"
                    )
                for tab in parts.tabs_at(mount):
                    page.line(f"    {spoken(tab.name)}: {_angles(tab)}")
        page.head("Parts, for one hand" if any(part.hands == 2 for part in station.parts) else "Parts")
        for part in station.parts:
            page.line(_part_words(part))
            for one in part.said:
                if one.mark != "note":
                    page.line(f"    {one.mark}: {one.say}{' ' + str(one.remedy.say) if one.remedy else ''}")
        page.head("Hardware, for one hand")
        for part in station.parts:
            for item in part.hardware:
                page.line(f"{spoken(part.name)}: {item.count} × {item.what} {item.size}")
        page.head("Cautions")
        for words in CAUTION:
            page.line(words)
        canvas.showPage()
    canvas.save()
    return out.getvalue()


def _angles(tab: Made) -> str:
    """Return how an angle finder sets a tab and its bolt, each reading with its side."""
    words = [
        f"bolt {tab.figure('bolt_level'):.1f}° out of level, {tab.figure('bolt_level_side')}",
        f"turned {tab.figure('bolt_turn'):.1f}° {tab.figure('bolt_turn_side')}",
        f"tab {tab.figure('tab_plumb'):.1f}° from vertical, {tab.figure('tab_plumb_side')}",
    ]
    return "; ".join(words)


def _part_words(part: Made) -> str:
    its = "; ".join(
        f"{figure.name.lower()} {_shown(figure.value, figure.measures)}"
        for figure in part.figures
        if figure.value is not None and figure.measures not in ("force",)
    )
    weak = part.weakest
    bears = (
        f"  Weakest: {weak.what}, safety factor {weak.factor:.1f}{', ' if weak.case else ''}{weak.case}."
        if weak
        else ""
    )
    return f"{part.count} × {spoken(part.name)}: {its}.{bears}"


def _shown(value: float | str, measures: str) -> str:
    if isinstance(value, str):
        return value
    return {
        "angle": f"{value:.1f}°",
        "share": f"{value:.0%}",
        "factor": f"{value:.1f}",
        "pitch": f"{value:g} mm",
    }.get(measures, f"{value:.1f} mm")


def _settings(solved: SolvedStation) -> list[str]:
    station = solved.station
    found = [
        f"Wanted travel {station.travel.bump:g} mm bump, {station.travel.droop:g} mm droop from as drawn; corner {station.mass.corner:g} kg."
    ]
    if solved.ride is not None:
        found.append(f"It stands {solved.ride.travel:+.1f} mm from as drawn on its springs.")
    for unit in station.units:
        if hasattr(unit, "preload"):
            found.append(f"{spoken(unit.name)}: preload {unit.preload:g} mm")
        if hasattr(unit, "pressure"):
            found.append(f"{spoken(unit.name)}: {unit.pressure:g} bar at ride")
    found += [
        f"{spoken(name)}: set to {link.length:.1f} mm between centres"
        for name, link in station.links.items()
        if link.length
    ]
    return found


class _Page:
    """Lines down a page, and on to the next one."""

    def __init__(self, canvas: Canvas, sheet: Sheet, parts: JobParts, station: str, made_by: str) -> None:
        self.canvas, self.sheet, self.y = canvas, sheet, sheet.page[1] - 20
        self.title = f"{parts.project.name}: {station}"
        self.by = f"{date.today().isoformat()}{f', {made_by}' if made_by else ''}. No certificate."
        self._top()

    def _top(self) -> None:
        self.canvas.setFont("Helvetica-Bold", 14)
        self.canvas.drawString(15 * mm, self.y * mm, self.title[:58])
        self.canvas.setFont("Helvetica", 9)
        self.canvas.drawRightString((self.sheet.page[0] - 15) * mm, self.y * mm, self.by[:60])
        self.y -= 9

    def places(self, solved: SolvedStation) -> None:
        """Draw the station from the side and from the front, to one scale, every body a line."""
        station = solved.station
        spots = np.array(list(station.points.values()), dtype=float)
        spread = spots.max(axis=0) - spots.min(axis=0)
        room, tall = (self.sheet.page[0] - 40) / 2, 62.0
        scale = min(room / max(spread[0], 1.0), room / max(spread[1], 1.0), tall / max(spread[2], 1.0)) * 0.92
        low = spots.min(axis=0)
        base = self.y - float(spread[2]) * scale - 8
        for number, (axis, words) in enumerate(((0, "from the right side"), (1, "from the front"))):
            left = 15 + number * (room + 10)

            def at(name: str, axis: int = axis, left: float = left) -> tuple[float, float]:
                spot = station.points[name]
                across = spot[axis] - low[axis]
                return (left + across * scale) * mm, (base + (spot[2] - low[2]) * scale) * mm

            self.canvas.setLineWidth(0.35 * mm)
            for members in station.bodies.values():
                path = self.canvas.beginPath()
                path.moveTo(*at(members[0]))
                for name in members[1:]:
                    path.lineTo(*at(name))
                if len(members) > 2:
                    path.close()
                self.canvas.drawPath(path)
            self.canvas.setDash(3, 2)
            for unit in station.units:
                self.canvas.line(*at(unit.ends[0]), *at(unit.ends[1]))
            self.canvas.setDash()
            self.canvas.setFont("Helvetica", 6)
            for name in station.chassis:
                x, y = at(name)
                self.canvas.circle(x, y, 1.0 * mm)
                if axis == 0 and station.points[name][1] < -1.0:
                    continue  # it stands behind its image, which is named
                self.canvas.drawString(x + 1.4 * mm, y + 0.8 * mm, spoken(name)[:24])
            self.canvas.setFont("Helvetica", 8)
            self.canvas.drawString(
                left * mm, (base - 5) * mm, f"{words}; circles are on the chassis, units dashed"
            )
        self.y = base - 9

    def head(self, words: str) -> None:
        self._new_page_if_full(14)
        self.y -= 3
        self.canvas.setFont("Helvetica-Bold", 11)
        self.canvas.drawString(15 * mm, self.y * mm, words)
        self.y -= 6

    def line(self, words: str) -> None:
        most = int((self.sheet.page[0] - 30) / 1.6)
        for part in _wrapped(words, most):
            self._new_page_if_full(6)
            self.canvas.setFont("Helvetica", 9)
            self.canvas.drawString(15 * mm, self.y * mm, part)
            self.y -= 4.6

    def _new_page_if_full(self, wanted: float) -> None:
        if self.y - wanted < 14:
            self.canvas.showPage()
            self.y = self.sheet.page[1] - 20
            self._top()


def _wrapped(words: str, most: int) -> list[str]:
    """Return words in lines; an indented line's own continuation is indented further."""
    indent = words[: len(words) - len(words.lstrip())]
    lines: list[str] = []
    line = ""
    for word in words.split():
        if line and len(line) + len(word) + 1 > most:
            lines.append(line)
            line = f"{indent}    {word}"
        else:
            line = f"{line} {word}" if line else f"{indent}{word}"
    return [*lines, line]
