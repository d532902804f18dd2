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
from server.records.pictures.seen_plane import FINEST_MM, SeenPlane, fitted

COLUMNS, ROWS, SQUARE_MM, MARKER_MM = 6, 8, 30.0, 22.0
PAPERS = {"a4": (210.0, 297.0), "letter": (215.9, 279.4)}
DOTS = 300 / 25.4  # a millimetre
LEAST_CORNERS = 8
WIDE_MM = COLUMNS * SQUARE_MM
WRONG_SHARE = (
    0.005  # of the picture's diagonal that a corner may lie off: a lens bends as much, a wrong corner more
)
WRONG_TIMES = 5.0  # the usual misfit: more is a corner read wrongly
WORDS = (
    "Print at 100 %, not “fit to page”. Measure how wide the board came out, edge to edge: 180 mm is right.",
    "Whatever you measure, give that width when a picture is straightened.",
    "Glue it flat to a plate. Hold it in the plane of the part. Stand back and zoom in.",
)


@facts(kw_only=False)
class BoardSeen:
    """A board found in a picture.

    plane  : its plane; right and down from its upper left corner
    places : (n, 2) its inner corners that were found, mm
    off    : (n,) how far each lies from where the plane has it, mm
    """

    plane: SeenPlane
    places: np.ndarray
    off: np.ndarray


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


def find_board(picture: np.ndarray, wide_mm: float = WIDE_MM) -> BoardSeen | None:
    """Return the board in a grey picture (rows, columns), or None where too little of it is seen.

    wide_mm : how wide the board's print is
    """
    board = _board()
    corners, numbers, _, _ = cv2.aruco.CharucoDetector(board).detectBoard(picture)
    if corners is None or numbers is None or len(numbers) < LEAST_CORNERS:
        return None
    pixels = np.asarray(corners, dtype=float).reshape(-1, 2)
    # OpenCV counts a pixel's middle; the board's places are of its own upper left corner.
    places = np.asarray(board.getChessboardCorners(), dtype=float)[np.asarray(numbers).ravel(), :2]
    places = places * wide_mm / WIDE_MM
    high, wide = picture.shape
    _, kept = cv2.findHomography(
        places, pixels, cv2.RANSAC, max(3.0, WRONG_SHARE * float(np.hypot(high, wide)))
    )
    if kept is None or int(kept.sum()) < LEAST_CORNERS:
        return None
    right = kept.ravel().astype(bool)
    plane = fitted(pixels[right], places[right], (wide, high))
    off = np.linalg.norm(plane.to_mm(pixels) - places, axis=1)
    right &= off < WRONG_TIMES * max(float(np.median(off[right])), FINEST_MM)
    if int(right.sum()) < LEAST_CORNERS:
        return None
    plane = fitted(pixels[right], places[right], (wide, high))
    off = np.linalg.norm(plane.to_mm(pixels[right]) - places[right], axis=1)
    return BoardSeen(plane, places[right], off)


def board_in(picture: np.ndarray) -> np.ndarray | None:
    """Return the four corners (4, 2) px of the board in a grey picture, as near as one marker of it tells; None where none is."""
    board = _board()
    marks = cv2.aruco.getPredefinedDictionary(cv2.aruco.DICT_5X5_250)
    found, numbers, _ = cv2.aruco.ArucoDetector(marks).detectMarkers(picture)
    known = {
        int(own): np.asarray(place) for own, place in zip(board.getIds(), board.getObjPoints(), strict=True)
    }
    its = [
        (known[int(number)], one[0])
        for one, number in zip(found, [] if numbers is None else np.ravel(numbers), strict=True)
        if int(number) in known
    ]
    if not its:
        return None
    places, pixels = (np.concatenate([pair[k] for pair in its]) for k in range(2))
    to_pixels, _ = cv2.findHomography(places[:, :2], pixels, cv2.RANSAC, 5.0)
    if to_pixels is None:
        return None
    size = np.array([COLUMNS, ROWS]) * SQUARE_MM
    corners = np.array([[[0, 0], [1, 0], [1, 1], [0, 1]]], dtype=float) * size
    return np.asarray(cv2.perspectiveTransform(corners, to_pixels)[0])
