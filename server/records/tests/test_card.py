"""A card template photographed: perspective, blur, shadow and noise; its outline and holes come back within half a millimetre."""

import io
from unittest import TestCase

import numpy as np
from PIL import Image

from engine.shop.fitting import circle_of, corners_of
from engine.shop.outline import bulged
from engine.shop.small import outline_distance
from server.answers import ActionRefused
from server.demo.card_photo import CARD, COLOURS, HOLES, rendered
from server.records.pictures.card import find_card
from server.records.pictures.straight import Straight, by_board


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

    def test_a_card_cut_by_the_pictures_edge_is_said_and_not_measured(self) -> None:
        straight = by_board(rendered(*next(iter(COLOURS.values())), 0))
        whole = Image.open(io.BytesIO(straight.taken.jpeg)).convert("RGB")
        scale = straight.mm_per_pixel
        left, top = straight.ends[0]
        at = np.array([340.0, 90.0]) / scale + [left, top]

        def cropped(right: float) -> bytes:
            out = io.BytesIO()
            whole.crop((0, 0, round(left + right / scale), whole.height)).save(out, "JPEG", quality=95)
            return out.getvalue()

        # The card goes on to 470 mm right of the board's corner.
        for cut in (400.0, 464.0):
            with self.subTest(cut=cut), self.assertRaises(ActionRefused) as refused:
                find_card(cropped(cut), scale, (float(at[0]), float(at[1])))
            self.assertIn("runs out of the picture", str(refused.exception))
        edge = find_card(cropped(500.0), scale, (float(at[0]), float(at[1]))).edge
        self.assertAlmostEqual(float(edge[:, 0].max()) - (left + 0.5) * scale, 470.0, delta=0.6)

    def test_no_card_and_a_place_outside_are_said(self) -> None:
        rng = np.random.default_rng(4)
        out = io.BytesIO()
        bare = np.clip(rng.normal(120, 4, (600, 800, 3)), 0, 255).astype(np.uint8)
        Image.fromarray(bare).save(out, "JPEG", quality=90)
        for at, words in (((-5.0, 10.0), "inside the picture"), ((400.0, 300.0), "another ground")):
            with self.assertRaises(ActionRefused) as refused:
                find_card(out.getvalue(), 0.3, at)
            self.assertIn(words, str(refused.exception))
