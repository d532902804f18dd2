"""A picture as a camera would take it of a plane: a board of markers, a rectangle, and dots at known places."""

import io

import cv2
import numpy as np
from PIL import Image

from server.records.pictures.board import COLUMNS, ROWS, SQUARE_MM, board_pdf

PER_MM = 4.0
DOT_MM = 6.0
DOTS = {
    "A": (-150.0, 40.0),
    "B": (330.0, 20.0),
    "C": (-120.0, 300.0),
    "D": (300.0, 330.0),
    "E": (90.0, -90.0),
}
"""Where dots are on the plane, mm right and down from the board's upper left corner."""


def plane(with_board: bool = True) -> tuple[np.ndarray, np.ndarray]:
    """Return the plane from straight on, and (3, 3) from mm to its pixels."""
    from server.records.pictures.board import _board

    low = np.array([-260.0, -190.0])
    wide, high = 720, 640
    image = np.full((round(high * PER_MM), round(wide * PER_MM)), 235, dtype=np.uint8)
    to_image = np.array([[PER_MM, 0, -low[0] * PER_MM], [0, PER_MM, -low[1] * PER_MM], [0, 0, 1]])
    if with_board:
        size = (round(COLUMNS * SQUARE_MM * PER_MM), round(ROWS * SQUARE_MM * PER_MM))
        board = _board().generateImage(size)
        x, y = (-low * PER_MM).astype(int)
        image[y : y + size[1], x : x + size[0]] = board
    else:
        corners = np.array([[0, 0], [180, 0], [180, 240], [0, 240]]) * PER_MM - low * PER_MM
        cv2.polylines(image, [corners.astype(np.int32)], True, 20, 6)
    for spot in DOTS.values():
        centre = (np.array(spot) - low) * PER_MM
        cv2.circle(image, tuple(int(c) for c in np.round(centre)), round(DOT_MM * PER_MM / 2), 0, -1)
    return image, to_image


def photographed(with_board: bool = True) -> tuple[bytes, np.ndarray]:
    """Return the plane as a JPEG taken from the side, and (3, 3) from mm to its pixels."""
    image, to_image = plane(with_board)
    high, wide = image.shape
    was = np.array([[0, 0], [wide, 0], [wide, high], [0, high]], dtype=np.float32)
    now = np.array([[180, 260], [2760, 60], [2700, 2180], [260, 1960]], dtype=np.float32)
    camera = cv2.getPerspectiveTransform(was, now)
    taken = cv2.warpPerspective(image, camera, (3000, 2300), borderValue=200)
    out = io.BytesIO()
    Image.fromarray(taken).convert("RGB").save(out, "JPEG", quality=90)
    return out.getvalue(), camera @ to_image


def dots_in(jpeg: bytes, near: dict[str, tuple[float, float]], reach: int) -> dict[str, list[float]]:
    """Return the middle of each dot in pixels, looked for near where it ought to be: a steady hand with a loupe."""
    grey = np.asarray(Image.open(io.BytesIO(jpeg)).convert("L"), dtype=float)
    found = {}
    for name, (u, v) in near.items():
        x, y = int(u) - reach, int(v) - reach
        dark = np.clip(120 - grey[y : y + 2 * reach, x : x + 2 * reach], 0, None)
        rows, columns = np.indices(dark.shape)
        total = dark.sum()
        found[name] = [float(x + (columns * dark).sum() / total), float(y + (rows * dark).sum() / total)]
    return found


__all__ = ["DOTS", "board_pdf", "dots_in", "photographed", "plane"]
