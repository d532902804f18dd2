"""A card template photographed: perspective, blur, shadow and noise; its outline and holes come back within half a millimetre."""

import io
from unittest import TestCase

import cv2
import numpy as np
from PIL import Image

from engine.shop.fitting import circle_of, corners_of
from engine.shop.outline import bulged
from engine.shop.small import outline_distance
from server.answers import ActionRefused
from server.records.pictures.board import COLUMNS, ROWS, SQUARE_MM
from server.records.pictures.card import find_card
from server.records.pictures.straight import Straight, by_board

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
    """Return a JPEG of the board and the card on a bench, from aside, in uneven light, a little out of focus."""
    from server.records.pictures.board import _board

    rng = np.random.default_rng(seed)
    image = np.empty((round(SIZE[1] * PER_MM), round(SIZE[0] * PER_MM), 3), np.float32)
    image[:] = ground
    image += (
        cv2.GaussianBlur(rng.normal(scale=14, size=image.shape[:2]).astype(np.float32), (0, 0), 5)[..., None]
        * 2.5
    )
    size = (round(COLUMNS * SQUARE_MM * PER_MM), round(ROWS * SQUARE_MM * PER_MM))
    x, y = (-LOW * PER_MM).astype(int)
    image[y : y + size[1], x : x + size[0]] = _board().generateImage(size)[..., None]
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
    u, v = np.meshgrid(np.linspace(0, 1, wide), np.linspace(0, 1, high))
    light = 1.05 - 0.32 / (1 + np.exp(-(u + 0.5 * v - 0.85) * 9))  # a soft shadow across the card
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


def on_board(straight: Straight, places: np.ndarray) -> np.ndarray:
    """Return places of a card (mm, y up from the picture's lower left) in mm right and down on the board."""
    scale = straight.mm_per_pixel
    down = np.column_stack([places[:, 0], straight.taken.height * scale - places[:, 1]])
    return np.asarray(down - (np.array(straight.ends[0]) + 0.5) * scale)


class Cards(TestCase):
    def test_outline_and_holes_within_half_a_millimetre(self) -> None:
        for seed, (name, (card, ground)) in enumerate(COLOURS.items()):
            straight = by_board(rendered(card, ground, seed))
            at = np.array([340.0, 90.0]) / straight.mm_per_pixel + np.array(straight.ends[0])
            seen = find_card(straight.taken.jpeg, straight.mm_per_pixel, (float(at[0]), float(at[1])))
            corners = corners_of(seen.edge)
            self.assertLessEqual(len(corners), 7, name)
            cut = [
                spot
                for arc in bulged(corners)
                for spot in (arc.first, arc.at(arc.start + arc.turn / 2), arc.last)
            ]
            off = [outline_distance(bulged(CARD), x, y) for x, y in on_board(straight, np.array(cut))]
            self.assertLess(float(np.abs(off).max()), 0.5, (name, off))
            trace = [abs(outline_distance(bulged(CARD), x, y)) for x, y in on_board(straight, seen.edge)[::9]]
            self.assertLess(float(np.median(trace)), 0.2, name)
            places = on_board(straight, np.array([[x, y] for x, y, _ in corners]))
            for x, y in ((210.0, -20.0), (470.0, 40.0), (470.0, 110.0), (215.0, 240.0)):
                self.assertLess(float(np.linalg.norm(places - [x, y], axis=1).min()), 0.6, (name, x, y))
            circles = [circle_of(hole) for hole in seen.holes]
            self.assertEqual(len(circles), len(HOLES), name)
            middles = on_board(straight, np.array([[one.x, one.y] for one in circles]))
            for x, y, across in HOLES:
                apart = np.linalg.norm(middles - [x, y], axis=1)
                self.assertLess(float(apart.min()), 0.4, name)
                self.assertAlmostEqual(circles[int(apart.argmin())].diameter, across, delta=0.5)

    def test_no_card_and_a_place_outside_are_said(self) -> None:
        rng = np.random.default_rng(4)
        out = io.BytesIO()
        bare = np.clip(rng.normal(120, 4, (600, 800, 3)), 0, 255).astype(np.uint8)
        Image.fromarray(bare).save(out, "JPEG", quality=90)
        for at, words in (((-5.0, 10.0), "inside the picture"), ((400.0, 300.0), "lay it on another ground")):
            with self.assertRaises(ActionRefused) as refused:
                find_card(out.getvalue(), 0.3, at)
            self.assertIn(words, str(refused.exception))
