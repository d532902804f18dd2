"""What a board of markers is good to: told from its corners, and found again by spoiling them many times."""

import io
from dataclasses import replace
from unittest import TestCase

import cv2
import numpy as np
from PIL import Image

from server.answers import ActionRefused
from server.records.pictures.board import COLUMNS, ROWS, SQUARE_MM
from server.records.pictures.seen_plane import LENS, fitted
from server.records.pictures.straight import by_board
from server.records.tests.rendered import photographed

TRIES = 80
PICTURE = (3000, 2300)
NOISE_PIXELS = 0.25


def corners() -> np.ndarray:
    """Return the board's inner corners (35, 2), mm."""
    x, y = np.meshgrid(np.arange(1, COLUMNS) * SQUARE_MM, np.arange(1, ROWS) * SQUARE_MM)
    return np.column_stack([x.ravel(), y.ravel()])


def bent(pixels: np.ndarray, lens: float) -> np.ndarray:
    """Return pixels (n, 2) as a lens shows them that bends so much: p (1 + lens p²) is straight, found by going round."""
    middle, half = np.array(PICTURE) / 2, float(np.hypot(*PICTURE)) / 2
    straight = (pixels - middle) / half
    seen = straight
    for _ in range(30):
        seen = straight / (1 + lens * (seen**2).sum(axis=1, keepdims=True))
    return np.asarray(seen * half + middle)


class GoodTo(TestCase):
    def setUp(self) -> None:
        _, self.to_pixels = photographed()
        self.beside = np.array(
            [[-200.0, -200.0], [380.0, -200.0], [380.0, 440.0], [90.0, 120.0], [90.0, 440.0]]
        )

    def told_and_found(self, places: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
        """Return what places beside the board are told good to, mm, and twice how they scatter when corners are spoiled."""
        rng = np.random.default_rng(8)
        pixels = cv2.perspectiveTransform(places[None], self.to_pixels)[0]
        at = cv2.perspectiveTransform(self.beside[None], self.to_pixels)[0]
        told, found = [], []
        for _ in range(TRIES):
            lens = rng.normal(0.0, LENS)
            spoiled = bent(pixels, lens) + rng.normal(0.0, NOISE_PIXELS, pixels.shape)
            plane = fitted(spoiled, places, PICTURE)
            told.append(plane.good_to(self.beside))
            found.append(np.linalg.norm(plane.to_mm(bent(at, lens)) - self.beside, axis=1))
        return np.median(told, axis=0), 2 * np.sqrt(np.mean(np.square(found), axis=0))

    def test_what_is_told_is_how_far_spoiled_corners_throw_it(self) -> None:
        whole = corners()
        for name, places in (("whole", whole), ("upper half", whole[whole[:, 1] < 130.0])):
            told, found = self.told_and_found(places)
            with self.subTest(name):
                self.assertTrue(np.all(told > 0.8 * found), (told, found))
                self.assertTrue(np.all(told < 1.6 * found + 0.2), (told, found))

    def test_half_a_board_is_told_to_say_less(self) -> None:
        whole = corners()
        half = whole[whole[:, 1] < 130.0]
        seen = [
            fitted(cv2.perspectiveTransform(one[None], self.to_pixels)[0], one, PICTURE, 0.1)
            for one in (whole, half)
        ]
        far = np.array([[90.0, 440.0]])
        self.assertGreater(float(seen[1].good_to(far)[0]), 2 * float(seen[0].good_to(far)[0]))

    def test_there_and_back_through_a_bent_lens(self) -> None:
        places = corners()
        straight = fitted(cv2.perspectiveTransform(places[None], self.to_pixels)[0], places, PICTURE)
        for lens in (-0.08, 0.0, 0.05):
            bent = replace(straight, numbers=np.append(straight.numbers[:8], lens))
            back = bent.to_mm(bent.to_pixels(self.beside))
            np.testing.assert_allclose(back, self.beside, atol=1e-6)

    def test_a_board_that_is_nearly_all_covered_is_refused(self) -> None:
        jpeg, to_pixels = photographed()
        picture = np.array(Image.open(io.BytesIO(jpeg)).convert("RGB"))
        # A cloth over all of it but a corner.
        for cloth in (
            [[-20, 128], [200, 128], [200, 260], [-20, 260]],
            [[128, -20], [200, -20], [200, 260], [128, 260]],
        ):
            laid = cv2.perspectiveTransform(np.array([cloth], dtype=float), to_pixels)
            cv2.fillPoly(picture, [np.round(laid[0]).astype(np.int32)], (120, 120, 120))
        out = io.BytesIO()
        Image.fromarray(picture).save(out, "JPEG", quality=95)
        with self.assertRaises(ActionRefused) as refused:
            by_board(out.getvalue())
        self.assertIn("too close together to hold its plane", str(refused.exception))

    def test_a_whole_board_is_told_what_it_is_good_to(self) -> None:
        said = by_board(photographed()[0]).said
        self.assertIn("35 of 35 corners", said)
        self.assertRegex(said, r"on the board is good to 0\.[1-3] mm, 200 mm beside it to [1-5]\.\d mm")
