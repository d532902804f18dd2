"""Coded stickers as a PDF: each at its own size with a cross at its middle, its number and its place beside it, and lines to check by."""

import io

import cv2
import numpy as np
from reportlab.lib.units import mm
from reportlab.pdfgen.canvas import Canvas

from engine.document.survey import Survey
from engine.sentences import spoken
from engine.survey.stickers.bundle import sticker_of
from server.paper.setting import fonts
from server.paper.sheets import MARGIN, sheet_of
from server.records.pictures.stickers import family

CELLS = 8
QUIET = 0.3  # of the black square, white about it
NAME_MM, FOOT_MM, LETTER_PT = 9.0, 22.0, 9.0
CHECK_MM = 100.0


def bits_of(number: int) -> np.ndarray:
    """Return a marker's cells (8, 8) bool, white is true, its border with it."""
    white: np.ndarray = cv2.aruco.generateImageMarker(family(), number, CELLS) > 0
    return white


def stickers_pdf(survey: Survey, paper: str, name: str) -> bytes:
    """Return the stickers of a survey as pages; raise NoPaper."""
    sheet = sheet_of(paper)
    fonts()
    out = io.BytesIO()
    # Not compressed: whoever doubts a size can read it.
    canvas = Canvas(out, pagesize=(sheet.page[0] * mm, sheet.page[1] * mm), pageCompression=0)
    canvas.setTitle(f"{name}, stickers")
    numbers = sorted(map(int, survey.stickers.places))
    x, y, tall = MARGIN, sheet.page[1] - MARGIN, 0.0
    _foot(canvas, name)
    for number in numbers:
        place, size, off = sticker_of(survey, number)
        box, high = size * (1 + 2 * QUIET), size * (1 + 2 * QUIET) + NAME_MM
        if x + box > sheet.page[0] - MARGIN:
            x, y, tall = MARGIN, y - tall, 0.0
        if y - high < MARGIN + FOOT_MM:
            canvas.showPage()
            _foot(canvas, name)
            x, y, tall = MARGIN, sheet.page[1] - MARGIN, 0.0
        _sticker(canvas, number, place, size, off, x, y - high)
        x, tall = x + box, max(tall, high)
    canvas.showPage()
    canvas.save()
    return out.getvalue()


def _sticker(
    canvas: Canvas, number: int, place: str, size: float, off: float, left: float, bottom: float
) -> None:
    quiet = size * QUIET
    x, y, cell = left + quiet, bottom + NAME_MM + quiet, size / CELLS
    canvas.setFillGray(0)
    canvas.rect(x * mm, y * mm, size * mm, size * mm, stroke=0, fill=1)
    canvas.setFillGray(1)
    white = bits_of(number)
    for row in range(CELLS):
        for column in range(CELLS):
            if white[row, column]:
                canvas.rect(
                    (x + column * cell) * mm,
                    (y + size - (row + 1) * cell) * mm,
                    cell * mm,
                    cell * mm,
                    stroke=0,
                    fill=1,
                )
    canvas.setFillGray(0)
    # The cross: white where it lies on black, so that the middle is seen and the code still read.
    canvas.setLineWidth(0.15 * mm)
    canvas.setStrokeColorRGB(0.8, 0.1, 0.1)
    middle_x, middle_y = x + size / 2, y + size / 2
    canvas.line((middle_x - 2.5) * mm, middle_y * mm, (middle_x + 2.5) * mm, middle_y * mm)
    canvas.line(middle_x * mm, (middle_y - 2.5) * mm, middle_x * mm, (middle_y + 2.5) * mm)
    canvas.setStrokeGray(0.6)
    canvas.setDash(2, 2)
    canvas.rect(
        left * mm, bottom * mm, (size + 2 * quiet) * mm, (size + 2 * quiet + NAME_MM) * mm, stroke=1, fill=0
    )
    canvas.setDash()
    canvas.setStrokeGray(0)
    canvas.setFont("BookBold", LETTER_PT)
    canvas.drawString((left + 1.5) * mm, (bottom + 4.6) * mm, f"{number}")
    canvas.setFont("Book", LETTER_PT)
    above = f", {off:g} mm off it" if off else ""
    most = max(int((size + 2 * quiet) / 1.9) - 1, 6)
    canvas.drawString((left + 1.5) * mm, (bottom + 1.0) * mm, f"{spoken(place)}{above}"[:most])


def _foot(canvas: Canvas, name: str) -> None:
    canvas.setFont("Book", LETTER_PT)
    y = MARGIN + 8
    canvas.setLineWidth(0.3 * mm)
    canvas.line(MARGIN * mm, y * mm, (MARGIN + CHECK_MM) * mm, y * mm)
    for end in (0.0, CHECK_MM):
        canvas.line((MARGIN + end) * mm, (y - 2) * mm, (MARGIN + end) * mm, (y + 2) * mm)
    canvas.drawString((MARGIN + CHECK_MM + 3) * mm, (y - 1) * mm, "100 mm: print at 100 %, measure this line")
    canvas.drawString(
        MARGIN * mm,
        (y - 7) * mm,
        f"{name}. The middle of the sticker is the place: stick its cross on it."[:95],
    )
