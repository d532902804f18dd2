"""A picture straightened: a plane in it laid flat, so that a millimetre is as long everywhere.

The plane is given by a board of markers found in it, or by the four corners of a rectangle of known size. A lens bends too:
stand back and zoom in, and keep to the middle of the picture.
"""

import io
import math

import cv2
import numpy as np
from PIL import Image

from engine.facts import facts
from server.answers import ActionRefused
from server.records.pictures.board import COLUMNS, ROWS, SQUARE_MM, find_board
from server.records.pictures.taken import Taken, written

MOST_SIDE = 6000
BESIDE_MM = 200.0
MOST_ON_BOARD_MM = 1.5
SHOWN_TIMES = (
    6.0  # as much of the plane about the rectangle is kept: what lies further off is hardly in focus
)
LEAST_TURN = 0.02  # of the rectangle's own area in pixels: a flatter one says nothing


@facts(kw_only=False)
class Straight:
    """A straightened picture, and a line in it of known length: two places in pixels, and mm."""

    taken: Taken
    ends: list[list[float]]
    length: float
    mm_per_pixel: float
    said: str


def by_board(jpeg: bytes) -> Straight:
    """Return a picture straightened by the board in it; raise ActionRefused where none is seen."""
    picture = _read(jpeg)
    seen = find_board(cv2.cvtColor(picture, cv2.COLOR_RGB2GRAY))
    if seen is None:
        raise ActionRefused(
            422,
            "no_board",
            "No board of markers is seen in this picture. Hold it flat and whole in the light, or give four corners.",
        )
    size = (COLUMNS * SQUARE_MM, ROWS * SQUARE_MM)
    on_it, beside_it = (float(seen.good_to(_about(size, beside)).max()) for beside in (0.0, BESIDE_MM))
    if on_it > MOST_ON_BOARD_MM:
        raise ActionRefused(
            422,
            "no_board",
            f"Only {len(seen.places)} corners of the board are seen, and they lie too close together to hold its plane. "
            "Take the picture again with the whole board in it, or give four corners.",
        )
    said = (
        f"{len(seen.places)} of {(COLUMNS - 1) * (ROWS - 1)} corners of the board lie within {seen.off.max():.2f} mm of "
        f"one plane. In that plane, what lies on the board is good to {_up(on_it)} mm, {BESIDE_MM:.0f} mm beside it to "
        f"{_up(beside_it)} mm; a lens that bends adds to that, so keep to the middle of the picture."
    )
    return _laid_flat(picture, seen.to_pixels, size, said)


def _about(size: tuple[float, float], beside: float) -> np.ndarray:
    """Return places (n, 2) mm all about a board of that size, so far beside it."""
    x, y = (np.linspace(-beside, side + beside, 9) for side in size)
    return np.stack(np.meshgrid(x, y), axis=-1).reshape(-1, 2)


def _up(error: float) -> str:
    """Return what is good to so many mm, never told better than it is."""
    return f"{math.ceil(error * 10) / 10:.1f}"


def by_corners(jpeg: bytes, corners: list[list[float]], size: tuple[float, float]) -> Straight:
    """Return a picture straightened by a rectangle's corners (4, 2) px, clockwise from its upper left; size mm."""
    picture = _read(jpeg)
    spots = np.array(corners, dtype=float)
    high, wide = picture.shape[:2]
    if not (np.all(spots >= 0) and np.all(spots <= [wide, high])):
        raise ActionRefused(422, "corners", "The corners must lie in the picture.")
    if _crossed(spots):
        raise ActionRefused(
            422,
            "corners",
            "Give the corners in turn, clockwise from the upper left; these cross or lie in one line.",
        )
    flat = np.array([[0, 0], [size[0], 0], [size[0], size[1]], [0, size[1]]], dtype=float)
    to_pixels = cv2.getPerspectiveTransform(flat.astype(np.float32), spots.astype(np.float32)).astype(float)
    said = "Straightened by four corners: as good as they were picked, within the plane of the rectangle."
    return _laid_flat(picture, to_pixels, size, said)


def _crossed(spots: np.ndarray) -> bool:
    """Return whether four corners do not go clockwise (as seen, y down) about a real area."""
    sides = np.roll(spots, -1, axis=0) - spots
    turns = sides[:, 0] * np.roll(sides, -1, axis=0)[:, 1] - sides[:, 1] * np.roll(sides, -1, axis=0)[:, 0]
    lengths = np.linalg.norm(sides, axis=1)
    return bool((turns <= LEAST_TURN * lengths * np.roll(lengths, -1)).any())


def _laid_flat(picture: np.ndarray, to_pixels: np.ndarray, size: tuple[float, float], said: str) -> Straight:
    """Return the plane of a rectangle laid flat; to_pixels (3, 3) from mm in it to pixels of the picture."""
    wide, high = size
    corners = np.array([[[0, 0], [wide, 0], [wide, high], [0, high]]], dtype=float)
    seen = cv2.perspectiveTransform(corners, to_pixels)[0]
    scale = max(
        float(np.linalg.norm(seen[1] - seen[0])) / wide, float(np.linalg.norm(seen[3] - seen[0])) / high
    )
    low, top = np.array([-wide, -high]) * SHOWN_TIMES / 2, np.array([wide, high]) * (SHOWN_TIMES / 2 + 1)
    inside = _in_picture(picture, to_pixels, low, top)
    low, top = np.maximum(low, inside[0]), np.minimum(top, inside[1])
    scale = min(scale, MOST_SIDE / float((top - low).max()))
    to_flat = np.array([[scale, 0, -low[0] * scale], [0, scale, -low[1] * scale], [0, 0, 1]])
    span = np.ceil((top - low) * scale).astype(int)
    flat = cv2.warpPerspective(
        picture, to_flat @ np.linalg.inv(to_pixels), (int(span[0]), int(span[1])), flags=cv2.INTER_AREA
    )
    ends = (np.array([[0, 0], [wide, 0]]) - low) * scale
    return Straight(written(Image.fromarray(flat)), ends.tolist(), wide, 1 / scale, said)


def _in_picture(
    picture: np.ndarray, to_pixels: np.ndarray, low: np.ndarray, top: np.ndarray
) -> tuple[np.ndarray, np.ndarray]:
    """Return the least and the most of the plane, mm, that the picture shows of a part of it."""
    high, wide = picture.shape[:2]
    grid = np.stack(np.meshgrid(*(np.linspace(low[k], top[k], 121) for k in range(2))), axis=-1).reshape(
        -1, 2
    )
    flat = np.concatenate([grid, np.ones((len(grid), 1))], axis=1) @ to_pixels.T
    ahead = flat[:, 2] > 1e-9 * np.abs(flat[:, 2]).max()  # what lies behind the horizon is not seen
    with np.errstate(divide="ignore", invalid="ignore"):
        spots = flat[:, :2] / flat[:, 2:]
    shown = grid[ahead & (spots >= 0).all(axis=1) & (spots <= [wide, high]).all(axis=1)]
    return shown.min(axis=0), shown.max(axis=0)


def _read(jpeg: bytes) -> np.ndarray:
    return np.asarray(Image.open(io.BytesIO(jpeg)).convert("RGB"))
