"""Drawings of the engine on a PDF page: every line by its meaning, texts in the fonts that ship."""

import io
import math

from PIL import Image as Picture
from reportlab.lib.units import mm
from reportlab.pdfgen.canvas import Canvas
from reportlab.platypus import Flowable, Image

from engine.drawing.model import Drawing, Edge
from server.paper.setting import fonts

WIDTHS = {
    "outline": 0.5, "ground": 0.5, "bend": 0.3, "tape": 0.3, "frame": 0.25, "hidden": 0.25,
    "centre": 0.15, "extension": 0.15, "leader": 0.15, "fine": 0.15,
}  # fmt: skip
DASHES = {"hidden": (3, 2), "centre": (8, 2, 2, 2), "bend": (6, 3), "tape": (5, 2)}
DOT_MM = 0.45
MARK_MM = (60.0, 22.0)  # a shop's mark is at most so wide and tall


def draw(canvas: Canvas, drawing: Drawing, left: float, bottom: float) -> None:
    """Draw a drawing with its lower left corner at a place of the page, mm."""
    fonts()
    canvas.saveState()
    canvas.translate(left * mm, bottom * mm)
    for edge in drawing.edges:
        _set(canvas, edge.meaning)
        _edge(canvas, edge)
    for line in drawing.every_line:
        _set(canvas, line.meaning)
        path = canvas.beginPath()
        path.moveTo(line.through[0][0] * mm, line.through[0][1] * mm)
        for x, y in line.through[1:]:
            path.lineTo(x * mm, y * mm)
        canvas.drawPath(path)
        if line.meaning == "leader":
            x, y = line.through[0]
            canvas.circle(x * mm, y * mm, DOT_MM * mm, stroke=0, fill=1)
    canvas.setDash()
    for text in drawing.every_text:
        canvas.saveState()
        canvas.translate(text.at[0] * mm, text.at[1] * mm)
        canvas.rotate(text.angle)
        canvas.setFont("BookBold" if text.bold else "Book", text.height * mm)
        say = {"start": canvas.drawString, "middle": canvas.drawCentredString, "end": canvas.drawRightString}
        say[text.anchor](0, 0, text.words)
        canvas.restoreState()
    canvas.restoreState()


class Drawn(Flowable):
    """A drawing that flows down a page with words and tables; `times` as large, where no scale is told on it."""

    def __init__(self, drawing: Drawing, times: float = 1.0) -> None:
        super().__init__()
        self.drawing, self.times = drawing, times
        self.width, self.height = times * drawing.wide * mm, times * drawing.tall * mm

    def wrap(self, across: float, up: float) -> tuple[float, float]:
        """Return the room that it takes, points."""
        return self.width, self.height

    def draw(self) -> None:
        """Draw it where it has come to stand."""
        self.canv.scale(self.times, self.times)
        draw(self.canv, self.drawing, 0.0, 0.0)


class PageOf(Flowable):
    """Nothing to be seen: remembers which page something came to stand on."""

    def __init__(self, name: str, pages: dict[str, int]) -> None:
        super().__init__()
        self.name, self.pages = name, pages

    def wrap(self, across: float, up: float) -> tuple[float, float]:
        """Return no room at all."""
        return 0.0, 0.0

    def draw(self) -> None:
        """Remember the page, and let a reader jump to it."""
        self.pages[self.name] = self.canv.getPageNumber()
        self.canv.bookmarkPage(self.name)
        self.canv.addOutlineEntry(self.name, self.name, 0)


def mark_picture(png: bytes) -> Flowable:
    """Return a shop's mark as it heads a paper."""
    with Picture.open(io.BytesIO(png)) as picture:
        wide, tall = picture.size
    scale = min(MARK_MM[0] / wide, MARK_MM[1] / tall)
    return Image(io.BytesIO(png), wide * scale * mm, tall * scale * mm, hAlign="LEFT")


def _set(canvas: Canvas, meaning: str) -> None:
    canvas.setLineWidth(WIDTHS[meaning] * mm)
    canvas.setDash(*([list(DASHES[meaning])] if meaning in DASHES else []))


def _edge(canvas: Canvas, edge: Edge) -> None:
    path = canvas.beginPath()
    for k, arc in enumerate(edge.arcs):
        x, y = arc.first
        (path.lineTo if k else path.moveTo)(x * mm, y * mm)
        if arc.circle.radius > 0:
            its, r = arc.circle, arc.circle.radius
            path.arcTo(
                (its.x - r) * mm, (its.y - r) * mm, (its.x + r) * mm, (its.y + r) * mm,
                math.degrees(arc.start), math.degrees(arc.turn),
            )  # fmt: skip
    path.close()
    canvas.drawPath(path)
