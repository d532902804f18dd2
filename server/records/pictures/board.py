"""The printed board of markers: made as a PDF, found again in a picture (ChArUco, by OpenCV).

The board is COLUMNS by ROWS squares of SQUARE_MM, which fits A4 and Letter alike. Laid in the plane of a part, it gives the
picture its scale and takes out that the camera did not look at it squarely.
"""

import io
from typing import Any

import cv2
import numpy as np
from PIL import Image, ImageDraw, ImageFont

from engine.facts import facts

COLUMNS, ROWS, SQUARE_MM, MARKER_MM = 6, 8, 30.0, 22.0
PAPERS = {"a4": (210.0, 297.0), "letter": (215.9, 279.4)}
DOTS = 300 / 25.4  # a millimetre
LEAST_CORNERS = 8
WORDS = (
    "Print at 100 %, not “fit to page”: the board is 180 mm wide and 240 mm high. Check it with a rule.",
    "Glue it flat to a plate. Hold it in the plane of the part. Stand back and zoom in.",
)


@facts(kw_only=False)
class BoardSeen:
    """A board found in a picture.

    to_pixels : (3, 3) from mm on the board (right, down, from its upper left corner) to pixels
    corners   : how many of its inner corners were found; apart : how far they lie from the plane, mm, at most
    """

    to_pixels: np.ndarray
    corners: int
    apart: float


def _board() -> Any:
    marks = cv2.aruco.getPredefinedDictionary(cv2.aruco.DICT_5X5_250)
    return cv2.aruco.CharucoBoard((COLUMNS, ROWS), SQUARE_MM, MARKER_MM, marks)


def board_image(size: tuple[int, int]) -> np.ndarray:
    """Return the board drawn in so many pixels, wide and high."""
    return np.asarray(_board().generateImage(size))


def board_pdf(paper: str) -> bytes:
    """Return the board as a PDF of one page; paper is a4 or letter."""
    wide, high = (round(side * DOTS) for side in PAPERS[paper])
    size = (round(COLUMNS * SQUARE_MM * DOTS), round(ROWS * SQUARE_MM * DOTS))
    page = Image.new("L", (wide, high), 255)
    page.paste(Image.fromarray(_board().generateImage(size)), ((wide - size[0]) // 2, round(12 * DOTS)))
    draw, font = ImageDraw.Draw(page), ImageFont.load_default(size=36)
    for line, words in enumerate(WORDS):
        draw.text(((wide - size[0]) // 2, round((256 + 6 * line) * DOTS)), words, fill=0, font=font)
    out = io.BytesIO()
    page.convert("1").save(out, "PDF", resolution=300.0)
    return out.getvalue()


def find_board(picture: np.ndarray) -> BoardSeen | None:
    """Return the board in a grey picture (rows, columns), or None where too little of it is seen."""
    board = _board()
    corners, numbers, _, _ = cv2.aruco.CharucoDetector(board).detectBoard(picture)
    if corners is None or numbers is None or len(numbers) < LEAST_CORNERS:
        return None
    pixels = np.asarray(corners, dtype=float).reshape(-1, 2)
    # OpenCV counts a pixel's middle; the board's places are of its own upper left corner.
    places = np.asarray(board.getChessboardCorners(), dtype=float)[np.asarray(numbers).ravel(), :2]
    to_pixels, kept = cv2.findHomography(places, pixels, cv2.RANSAC, 3.0)
    if to_pixels is None or int(kept.sum()) < LEAST_CORNERS:
        return None
    back = cv2.perspectiveTransform(pixels[None], np.linalg.inv(to_pixels))[0]
    off = np.linalg.norm(back - places, axis=1)[kept.ravel().astype(bool)]
    return BoardSeen(np.asarray(to_pixels, dtype=float), int(kept.sum()), float(off.max()))
