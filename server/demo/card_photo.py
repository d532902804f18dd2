"""A photograph that nobody took: a card template beside the printed board on a bench, from aside, in uneven light."""

import io
import math
from collections.abc import Callable

import cv2
import numpy as np
from PIL import Image

from engine.shop.outline import bulged
from server.records.pictures.board import COLUMNS, ROWS, SQUARE_MM, board_image

PER_MM = 4.0
LOW = np.array([-70.0, -60.0])
SIZE = (560, 420)
CARD = [
    (210.0, -20.0, 0.0),
    (470.0, 40.0, 0.0),
    (470.0, 110.0, 0.0),
    (360.0, 190.0, 0.3),
    (215.0, 240.0, 0.0),
]
"""A card 300 mm long beside the board, mm right and down from the board's upper left corner."""
HOLES = [(250.0, 60.0, 22.0), (430.0, 80.0, 12.0), (270.0, 190.0, 10.0)]
COLOURS = {
    "brown card on a grey bench": ((176, 138, 96), (92, 96, 100)),
    "white card on wood": ((232, 230, 224), (150, 112, 76)),
    "grey card on a dark bench": ((150, 152, 155), (38, 40, 44)),
}


Laid = Callable[[np.ndarray, np.ndarray], None]
"""What else is done to the bench (rows, columns, 3) and the card's mask before the picture is taken."""


def rendered(
    card: tuple[int, ...], ground: tuple[int, ...], seed: int, laid: Laid | None = None, lens: float = 0.0
) -> bytes:
    """Return a JPEG of the board and the card on a bench, from aside, in uneven light, a little out of focus.

    card, ground : their colours, 0 to 255
    lens : what the lens draws in at the picture's corners, a share of their distance from its middle
    """
    rng = np.random.default_rng(seed)
    image: np.ndarray = np.empty((round(SIZE[1] * PER_MM), round(SIZE[0] * PER_MM), 3), np.float32)
    image[:] = ground
    image += (
        cv2.GaussianBlur(rng.normal(scale=14, size=image.shape[:2]).astype(np.float32), (0, 0), 5)[..., None]
        * 2.5
    )
    size = (round(COLUMNS * SQUARE_MM * PER_MM), round(ROWS * SQUARE_MM * PER_MM))
    x, y = (-LOW * PER_MM).astype(int)
    image[y : y + size[1], x : x + size[0]] = board_image(size)[..., None]
    mask = np.zeros(image.shape[:2], np.uint8)
    outline = bulged(CARD)
    spots = []
    for arc in outline:
        steps = max(1, int(abs(arc.turn) * arc.circle.radius))
        spots += [arc.at(arc.start + arc.turn * n / steps) for n in range(steps + 1)]
    pixels = np.round(((np.array(spots) - LOW) * PER_MM - 0.5) * 16).astype(np.int32)
    cv2.fillPoly(mask, [pixels], 255, cv2.LINE_AA, 4)
    for u, v, across in HOLES:
        centre = tuple(int(c) for c in np.round(((np.array([u, v]) - LOW) * PER_MM - 0.5) * 16))
        cv2.circle(mask, centre, round(across / 2 * PER_MM * 16), 0, -1, cv2.LINE_AA, 4)
    under = image.copy() if laid else image
    if laid:
        laid(under, mask)
    share = mask[..., None].astype(np.float32) / 255
    image = under * (1 - share) + np.array(card, np.float32) * share
    high, wide = image.shape[:2]
    along, down = np.meshgrid(np.linspace(0, 1, wide), np.linspace(0, 1, high))
    light: np.ndarray = 1.05 - 0.32 / (
        1 + np.exp(-(along + 0.5 * down - 0.85) * 9)
    )  # a soft shadow across the card
    image = np.clip(image * light[..., None], 0, 255)
    was = np.array([[0, 0], [wide, 0], [wide, high], [0, high]], np.float32)
    now = np.array([[150, 170], [2780, 60], [2660, 2080], [240, 1990]], np.float32)
    taken = cv2.warpPerspective(
        image, cv2.getPerspectiveTransform(was, now), (3000, 2200), borderValue=ground
    )
    if lens:
        taken = drawn_in(taken, lens)
    taken = cv2.GaussianBlur(taken, (0, 0), 1.6) + rng.normal(scale=3.5, size=taken.shape)
    out = io.BytesIO()
    Image.fromarray(np.clip(taken, 0, 255).astype(np.uint8)).save(out, "JPEG", quality=88)
    return out.getvalue()


def drawn_in(picture: np.ndarray, lens: float) -> np.ndarray:
    """Return a picture through a lens that draws its corners in by a share of their distance from the middle."""
    high, wide = picture.shape[:2]
    middle, half = np.array([wide, high]) / 2, math.hypot(wide, high) / 2
    y, x = np.mgrid[0:high, 0:wide].astype(np.float32)
    u, v = (x - middle[0]) / half, (y - middle[1]) / half
    # What is seen at r comes from r' with r' (1 - lens r'^2) = r: a few rounds of it.
    r = np.hypot(u, v)
    far = r.copy()
    for _ in range(8):
        far = r / (1 - lens * far**2)
    out = far / np.maximum(r, 1e-9)
    return cv2.remap(
        picture,
        (u * out * half + middle[0]).astype(np.float32),
        (v * out * half + middle[1]).astype(np.float32),
        cv2.INTER_LINEAR,
        borderMode=cv2.BORDER_REPLICATE,
    )
