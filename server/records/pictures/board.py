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
FINEST_MM = 0.05  # no corner is found better than this, however well a few of them agree
WORDS = (
    "Print at 100 %, not “fit to page”: the board is 180 mm wide and 240 mm high. Check it with a rule.",
    "Glue it flat to a plate. Hold it in the plane of the part. Stand back and zoom in.",
)


@facts(kw_only=False)
class BoardSeen:
    """A board found in a picture.

    to_pixels : (3, 3) from mm on the board (right, down, from its upper left corner) to pixels
    places    : (n, 2) its inner corners that were found, mm
    off       : (n,) how far each lies from where the plane has it, mm
    """

    to_pixels: np.ndarray
    places: np.ndarray
    off: np.ndarray

    def good_to(self, at: np.ndarray) -> np.ndarray:
        """Return what places (m, 2) mm of its plane are good to, mm (m,): two standard errors of the fitted plane there.

        By least squares about the fit: corners that lie close together say little of what lies far from them. A lens that
        bends shows in it only as far as it bends the board itself.
        """
        pixels, wanted = (_through(self.to_pixels, one) for one in (self.places, at))
        middle, span = pixels.mean(axis=0), max(float(np.ptp(pixels, axis=0).max()), 1.0)
        pixels, wanted = (pixels - middle) / span, (wanted - middle) / span
        whole = np.array([[span, 0.0, middle[0]], [0.0, span, middle[1]], [0.0, 0.0, 1.0]])
        to_mm = np.linalg.inv(self.to_pixels) @ whole
        to_mm = to_mm / to_mm[2, 2]
        spare = 2 * len(pixels) - 8
        noise = max(float(np.sqrt((self.off**2).sum() / spare)), FINEST_MM)
        slopes = _slopes(to_mm, pixels)
        doubt = noise**2 * np.linalg.pinv(slopes.T @ slopes, rcond=1e-14, hermitian=True)
        there = _slopes(to_mm, wanted).reshape(-1, 2, 8)
        return np.asarray(2.0 * np.sqrt(np.einsum("nij,jk,nik->n", there, doubt, there)))


def _through(matrix: np.ndarray, places: np.ndarray) -> np.ndarray:
    """Return places (n, 2) taken through a homography (3, 3)."""
    flat = np.column_stack([places, np.ones(len(places))]) @ matrix.T
    return np.asarray(flat[:, :2] / flat[:, 2:])


def _slopes(matrix: np.ndarray, places: np.ndarray) -> np.ndarray:
    """Return how places (n, 2) taken through a homography move with its first eight numbers (its last is 1): (2 n, 8)."""
    x, y = _through(matrix, places).T
    low = np.column_stack([places, np.ones(len(places))])
    under = low @ matrix[2]
    rows = np.zeros((len(places), 2, 8))
    rows[:, 0, 0:3] = rows[:, 1, 3:6] = low / under[:, None]
    rows[:, 0, 6:] = -x[:, None] * places / under[:, None]
    rows[:, 1, 6:] = -y[:, None] * places / under[:, None]
    return rows.reshape(-1, 8)


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
    right = kept.ravel().astype(bool)
    off = np.linalg.norm(back - places, axis=1)[right]
    return BoardSeen(np.asarray(to_pixels, dtype=float), places[right], off)
