"""A photograph that nobody took: a card template beside the printed board on a bench, from aside, in uneven light."""

import io

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


def rendered(card: tuple[int, ...], ground: tuple[int, ...], seed: int) -> bytes:
    """Return a JPEG of the board and the card on a bench, from aside, in uneven light, a little out of focus.

    card, ground : their colours, 0 to 255
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
    share = mask[..., None].astype(np.float32) / 255
    image = image * (1 - share) + np.array(card, np.float32) * share
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
    taken = cv2.GaussianBlur(taken, (0, 0), 1.6) + rng.normal(scale=3.5, size=taken.shape)
    out = io.BytesIO()
    Image.fromarray(np.clip(taken, 0, 255).astype(np.uint8)).save(out, "JPEG", quality=88)
    return out.getvalue()
