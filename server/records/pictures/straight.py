"""A picture straightened: a plane in it laid flat, so that a millimetre is as long everywhere.

The plane is given by a board of markers found in it, or by the four corners of a rectangle of known size. What the lens
bends is taken out as far as the board tells of it, and counted in as far as it does not.
"""

import io
import math

import cv2
import numpy as np
from PIL import Image

from engine.facts import facts
from server.answers import ActionRefused
from server.records.pictures.board import COLUMNS, ROWS, WIDE_MM, find_board
from server.records.pictures.seen_plane import SeenPlane, fitted
from server.records.pictures.taken import Taken, written

MOST_SIDE = 6000
BESIDE_MM = 200.0
MOST_ON_BOARD_MM = 1.5
SHOWN_TIMES = (
    6.0  # as much of the plane about the rectangle is kept: what lies further off is hardly in focus
)
ERROR_PLACES = 13
UNSEEN_MM = 99.0
COARSE = 8
NOWHERE = -1e6
PICKED_PX = 2.0
LEAST_BEND = 0.002
LEAST_TURN = 0.02  # of the rectangle's own area in pixels: a flatter one says nothing


@facts(kw_only=False)
class Straight:
    """A straightened picture, and a line in it of known length: two places in pixels, and mm.

    shown  : the edge (n, 2) px of what the picture shows of the plane; beyond it is nothing
    errors : rows of what its places are good to, mm, evenly over the picture from its upper left
    """

    taken: Taken
    ends: list[list[float]]
    length: float
    mm_per_pixel: float
    said: str
    shown: list[list[float]]
    errors: list[list[float]]


def by_board(jpeg: bytes, wide_mm: float | None = None) -> Straight:
    """Return a picture straightened by the board in it; raise ActionRefused where none is seen.

    wide_mm : how wide its print measures; left out, as it is drawn
    """
    picture = _read(jpeg)
    wide = wide_mm or WIDE_MM
    seen = find_board(cv2.cvtColor(picture, cv2.COLOR_RGB2GRAY), wide)
    if seen is None:
        raise ActionRefused(
            422,
            "no_board",
            "No board of markers is seen in this picture. Hold it flat and whole in the light, or give four corners.",
        )
    size = (wide, wide * ROWS / COLUMNS)
    on_it, beside_it = (_worst(seen.plane, size, beside) for beside in (0.0, BESIDE_MM))
    if on_it > MOST_ON_BOARD_MM:
        raise ActionRefused(
            422,
            "no_board",
            f"Only {len(seen.places)} corners of the board are seen, and they lie too close together to hold its plane. "
            "Take the picture again with the whole board in it, or give four corners.",
        )
    print_said = (
        f"The board's print measures {wide:.1f} mm across."
        if wide_mm
        else f"The board's print was not measured: {WIDE_MM:.0f} mm across was taken, and if it is not, all is out by as much."
    )
    said = (
        f"{len(seen.places)} of {(COLUMNS - 1) * (ROWS - 1)} corners of the board lie within {seen.off.max():.2f} mm of "
        f"one plane. In that plane, what lies on the board is good to {_up(on_it)} mm, {BESIDE_MM:.0f} mm beside it to "
        f"{_up(beside_it)} mm. {_lens_said(seen.plane)} {print_said}"
    )
    return _laid_flat(picture, seen.plane, size, said)


def _lens_said(plane: SeenPlane) -> str:
    bends, doubt = plane.lens
    if abs(bends) > 3 * doubt and abs(bends) > LEAST_BEND:
        return f"The lens bends {abs(bends) * 100:.1f} % at the picture's corners; that is taken out."
    return "What a lens usually bends is counted in."


def _worst(plane: SeenPlane, size: tuple[float, float], beside: float) -> float:
    """Return what the worst place all about a board of that size is good to, mm; places that are not seen do not count."""
    good = plane.good_to(_about(size, beside))
    return float(np.nanmax(good)) if np.isfinite(good).any() else math.inf


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
    sides = np.linalg.norm(np.roll(spots, -1, axis=0) - spots, axis=1)
    picked = PICKED_PX * max(size[0] / min(sides[0], sides[2]), size[1] / min(sides[1], sides[3]))
    plane = fitted(spots, flat, (wide, high), picked)
    said = (
        f"Straightened by four corners, each picked to {PICKED_PX:.0f} pixels: within their rectangle it is good to "
        f"{_up(_worst(plane, size, 0.0))} mm, in the plane of the rectangle alone."
    )
    return _laid_flat(picture, plane, size, said)


def _crossed(spots: np.ndarray) -> bool:
    """Return whether four corners do not go clockwise (as seen, y down) about a real area."""
    sides = np.roll(spots, -1, axis=0) - spots
    turns = sides[:, 0] * np.roll(sides, -1, axis=0)[:, 1] - sides[:, 1] * np.roll(sides, -1, axis=0)[:, 0]
    lengths = np.linalg.norm(sides, axis=1)
    return bool((turns <= LEAST_TURN * lengths * np.roll(lengths, -1)).any())


def _laid_flat(picture: np.ndarray, plane: SeenPlane, size: tuple[float, float], said: str) -> Straight:
    """Return the plane of a rectangle laid flat; its upper left corner is the plane's origin, size mm."""
    wide, high = size
    seen = plane.to_pixels(np.array([[0, 0], [wide, 0], [wide, high], [0, high]], dtype=float))
    scale = max(
        float(np.linalg.norm(seen[1] - seen[0])) / wide, float(np.linalg.norm(seen[3] - seen[0])) / high
    )
    low, top = np.array([-wide, -high]) * SHOWN_TIMES / 2, np.array([wide, high]) * (SHOWN_TIMES / 2 + 1)
    inside = _in_picture(picture, plane, low, top)
    low, top = np.maximum(low, inside[0]), np.minimum(top, inside[1])
    scale = min(scale, MOST_SIDE / float((top - low).max()))
    span = np.ceil((top - low) * scale).astype(int)
    where = _where(plane, low, scale, (int(span[0]), int(span[1])))
    across_px, down_px = cv2.split(where)
    flat = cv2.remap(picture, across_px, down_px, cv2.INTER_LINEAR, borderMode=cv2.BORDER_CONSTANT)
    ends = (np.array([[0, 0], [wide, 0]]) - low) * scale
    across, down = (np.linspace(low[k], low[k] + span[k] / scale, ERROR_PLACES) for k in range(2))
    places = np.stack(np.meshgrid(across, down), axis=-1).reshape(-1, 2)
    errors = np.nan_to_num(plane.good_to(places), nan=UNSEEN_MM).clip(max=UNSEEN_MM)
    return Straight(
        taken=written(Image.fromarray(flat)),
        ends=ends.tolist(),
        length=wide,
        mm_per_pixel=1 / scale,
        said=said,
        shown=_shown(where, picture),
        errors=np.round(errors, 3).reshape(ERROR_PLACES, ERROR_PLACES).tolist(),
    )


def _where(plane: SeenPlane, low: np.ndarray, scale: float, span: tuple[int, int]) -> np.ndarray:
    """Return where in the picture each pixel of the flat one is seen, px (high, wide, 2); off the picture where nowhere.

    Worked out every COARSE pixels and laid between them: over so few a plane bends by next to nothing.
    """
    counts = [math.ceil(side / COARSE) + 2 for side in span]
    across, down = (
        (np.arange(-1, count - 1) * COARSE + (COARSE - 1) / 2) / scale + low[k]
        for k, count in enumerate(counts)
    )
    places = np.stack(np.meshgrid(across, down), axis=-1).reshape(-1, 2)
    seen = np.nan_to_num(plane.to_pixels(places), nan=NOWHERE).clip(NOWHERE, -NOWHERE)
    coarse = seen.reshape(counts[1], counts[0], 2).astype(np.float32)
    whole = cv2.resize(coarse, (counts[0] * COARSE, counts[1] * COARSE), interpolation=cv2.INTER_LINEAR)
    return np.ascontiguousarray(whole[COARSE : COARSE + span[1], COARSE : COARSE + span[0]])


def _shown(where: np.ndarray, picture: np.ndarray) -> list[list[float]]:
    """Return the edge of what a flat picture shows, px; its own frame where all of it is."""
    high, wide = picture.shape[:2]
    inside = np.all((where >= -0.5) & (where <= [wide - 0.5, high - 0.5]), axis=-1)
    seen: np.ndarray = np.where(inside, 1, 0).astype(np.uint8)
    outlines, _ = cv2.findContours(seen, cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_SIMPLE)
    largest = max(outlines, key=cv2.contourArea)
    edge: list[list[float]] = cv2.approxPolyDP(largest, 1.0, True)[:, 0].astype(float).tolist()
    return edge


def _in_picture(
    picture: np.ndarray, plane: SeenPlane, low: np.ndarray, top: np.ndarray
) -> tuple[np.ndarray, np.ndarray]:
    """Return the least and the most of the plane, mm, that the picture shows of a part of it."""
    high, wide = picture.shape[:2]
    grid = np.stack(np.meshgrid(*(np.linspace(low[k], top[k], 121) for k in range(2))), axis=-1).reshape(
        -1, 2
    )
    spots = plane.to_pixels(grid)
    shown = grid[(spots >= 0).all(axis=1) & (spots <= [wide, high]).all(axis=1)]
    return shown.min(axis=0), shown.max(axis=0)


def _read(jpeg: bytes) -> np.ndarray:
    return np.asarray(Image.open(io.BytesIO(jpeg)).convert("RGB"))
