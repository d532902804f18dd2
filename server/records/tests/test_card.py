"""A card template photographed: perspective, blur, shadow and noise; its outline and holes come back within half a millimetre.

And what spoils it is said: cut off, covered, joined to another, the board instead of the card, a bent lens, a shrunk print.
"""

import io
from collections.abc import Sequence
from functools import cache
from unittest import TestCase

import cv2
import numpy as np
from PIL import Image

from engine.shop.fitting import corners_of
from engine.shop.outline import bulged
from engine.shop.small import outline_distance
from engine.shop.traced_holes import hole_of
from server.answers import ActionRefused
from server.demo import card_photo
from server.demo.card_photo import CARD, COLOURS, HOLES, LOW, PER_MM
from server.records.pictures.card import CardSeen, find_card
from server.records.pictures.straight import Straight, by_board

MIDDLE = (340.0, 90.0)
rendered = cache(card_photo.rendered)
BROWN = COLOURS["brown card on a grey bench"]


def on_board(straight: Straight, places: np.ndarray) -> np.ndarray:
    """Return places of a card (mm, y up from the picture's lower left) in mm right and down on the board."""
    scale = straight.mm_per_pixel
    down = np.column_stack([places[:, 0], straight.taken.height * scale - places[:, 1]])
    return np.asarray(down - (np.array(straight.ends[0]) + 0.5) * scale)


def seen_in(straight: Straight, at: tuple[float, float] = MIDDLE) -> CardSeen:
    """Return the card at a place, mm right and down on the board."""
    u, v = np.array(at) / straight.mm_per_pixel + np.array(straight.ends[0])
    return find_card(
        straight.taken.jpeg, straight.mm_per_pixel, (float(u), float(v)), straight.shown, straight.errors
    )


def off_the_card(straight: Straight, seen: CardSeen) -> np.ndarray:
    """Return how far the traced edge is from the true one, mm."""
    return np.abs([outline_distance(bulged(CARD), x, y) for x, y in on_board(straight, seen.edge)[::9]])


def spots(places: Sequence[tuple[float, float]]) -> np.ndarray:
    """Return places of the bench, mm right and down from the board's corner, in its pixels."""
    return np.round((np.array(places) - LOW) * PER_MM).astype(np.int32)


class Cards(TestCase):
    def refusal(self, straight: Straight, at: tuple[float, float] = MIDDLE) -> str:
        with self.assertRaises(ActionRefused) as refused:
            seen_in(straight, at)
        return str(refused.exception)

    def test_outline_and_holes_within_half_a_millimetre(self) -> None:
        for seed, (name, (card, ground)) in enumerate(COLOURS.items()):
            straight = by_board(rendered(card, ground, seed), 180.0)
            seen = seen_in(straight)
            self.assertEqual(seen.said, [], name)
            corners = corners_of(seen.edge)
            self.assertLessEqual(len(corners), 7, name)
            cut = [
                spot
                for arc in bulged(corners)
                for spot in (arc.first, arc.at(arc.start + arc.turn / 2), arc.last)
            ]
            off = [outline_distance(bulged(CARD), x, y) for x, y in on_board(straight, np.array(cut))]
            self.assertLess(float(np.abs(off).max()), 0.5, (name, off))
            self.assertLess(float(np.median(off_the_card(straight, seen))), 0.2, name)
            assert seen.good_to is not None
            self.assertLess(seen.good_to, 1.2, name)
            places = on_board(straight, np.array([[x, y] for x, y, _ in corners]))
            for x, y in ((210.0, -20.0), (470.0, 40.0), (470.0, 110.0), (215.0, 240.0)):
                self.assertLess(float(np.linalg.norm(places - [x, y], axis=1).min()), 0.6, (name, x, y))
            circles = [hole_of(hole) for hole in seen.holes]
            self.assertEqual([one.to for one in circles], [None] * len(HOLES), name)
            middles = on_board(straight, np.array([[one.x, one.y] for one in circles]))
            for x, y, across in HOLES:
                apart = np.linalg.norm(middles - [x, y], axis=1)
                self.assertLess(float(apart.min()), 0.4, name)
                self.assertAlmostEqual(circles[int(apart.argmin())].diameter, across, delta=0.5)

    def test_a_card_cut_by_the_pictures_edge_is_said_and_not_measured(self) -> None:
        straight = by_board(rendered(*BROWN, 0))
        whole = Image.open(io.BytesIO(straight.taken.jpeg)).convert("RGB")
        scale = straight.mm_per_pixel
        left, top = straight.ends[0]
        at = np.array(MIDDLE) / scale + [left, top]

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

    def test_a_card_cut_where_the_straightened_picture_ends_aslant_is_said(self) -> None:
        picture = Image.open(io.BytesIO(rendered(*BROWN, 0))).convert("RGB")
        for right in (2350, 2240):
            out = io.BytesIO()
            picture.crop((0, 0, right, picture.height)).save(out, "JPEG", quality=92)
            straight = by_board(out.getvalue(), 180.0)
            self.assertGreaterEqual(len(straight.shown), 4)
            with self.subTest(right=right):
                self.assertIn("runs out of the picture", self.refusal(straight))

    def test_a_board_printed_too_small_is_right_once_its_width_is_given(self) -> None:
        jpeg = rendered(*BROWN, 0)
        small, right = (seen_in(by_board(jpeg, wide)) for wide in (180.0 * 0.97, 180.0))
        wide, true = (float(np.ptp(one.edge[:, 0])) for one in (small, right))
        self.assertAlmostEqual(wide / true, 0.97, delta=0.003)
        self.assertIn("was not measured", by_board(jpeg).said)
        self.assertIn("measures 174.6 mm across", by_board(jpeg, 174.6).said)

    def test_a_bent_lens_is_taken_out_or_counted_in(self) -> None:
        for lens in (0.02, 0.05):
            straight = by_board(rendered(*BROWN, 1, lens=lens), 180.0)
            seen = seen_in(straight)
            assert seen.good_to is not None
            worst = float(off_the_card(straight, seen).max())
            with self.subTest(lens=lens):
                self.assertLess(worst, seen.good_to + 0.5)
                self.assertLess(worst, 1.2)

    def test_the_board_is_no_card(self) -> None:
        straight = by_board(rendered(*BROWN, 0), 180.0)
        for at in ((90.0, 120.0), (5.0, 5.0)):
            self.assertIn("That is the printed board", self.refusal(straight, at))

    def test_a_hand_over_the_card_is_said(self) -> None:
        def hand(bench: np.ndarray, mask: np.ndarray) -> None:
            arm = spots([(600, 20), (420, 50), (380, 75), (420, 100), (600, 120)])
            cv2.fillPoly(bench, [arm], (222, 172, 150))
            cv2.fillPoly(mask, [arm], 0)

        said = " ".join(one.words for one in seen_in(by_board(rendered(*BROWN, 2, hand), 180.0)).said)
        self.assertIn("lies against the card", said)

    def test_a_hand_as_brown_as_the_card_goes_out_of_the_picture(self) -> None:
        picture = np.array(Image.open(io.BytesIO(rendered(*BROWN, 2))).convert("RGB"))
        # From the card to the picture's right edge.
        cv2.fillPoly(
            picture, [np.array([[2300, 640], [3000, 560], [3000, 820], [2280, 760]])], (150, 118, 82)
        )
        out = io.BytesIO()
        Image.fromarray(cv2.GaussianBlur(picture, (0, 0), 1.5)).save(out, "JPEG", quality=90)
        self.assertIn("runs out of the picture", self.refusal(by_board(out.getvalue(), 180.0)))

    def test_two_cards_that_touch_are_said(self) -> None:
        def second(bench: np.ndarray, mask: np.ndarray) -> None:
            # A second card of the same board, pushed against the lower edge; a dark line stays where they touch.
            cv2.fillPoly(mask, [spots([(225, 236), (355, 192), (372, 250), (245, 290)])], 255)
            cv2.line(mask, *map(tuple, spots([(216, 240), (360, 190)]).tolist()), 150, 4)

        straight = by_board(rendered(*COLOURS["white card on wood"], 1, second), 180.0)
        said = " ".join(one.words for one in seen_in(straight).said)
        self.assertIn("two cards touch", said)

    def test_a_slot_is_two_ends_and_a_width(self) -> None:
        def slotted(bench: np.ndarray, mask: np.ndarray) -> None:
            one, other = map(tuple, spots([(320, 150), (345, 140)]).tolist())
            cv2.line(mask, one, other, 0, round(12 * PER_MM), cv2.LINE_AA)

        straight = by_board(rendered(*BROWN, 3, slotted), 180.0)
        slots = [one for one in map(hole_of, seen_in(straight).holes) if one.to is not None]
        self.assertEqual(len(slots), 1)
        (slot,) = slots
        assert slot.to is not None
        ends = on_board(straight, np.array([[slot.x, slot.y], slot.to]))
        ends = ends[np.argsort(ends[:, 0])]
        np.testing.assert_allclose(ends, [[320, 150], [345, 140]], atol=0.6)
        self.assertAlmostEqual(slot.diameter, 12.0, delta=0.5)
        self.assertLess(slot.off, 0.6)

    def test_no_card_and_a_place_outside_are_said(self) -> None:
        rng = np.random.default_rng(4)
        out = io.BytesIO()
        bare = np.clip(rng.normal(120, 4, (600, 800, 3)), 0, 255).astype(np.uint8)
        Image.fromarray(bare).save(out, "JPEG", quality=90)
        for at, words in (((-5.0, 10.0), "inside the picture"), ((400.0, 300.0), "another ground")):
            with self.assertRaises(ActionRefused) as refused:
                find_card(out.getvalue(), 0.3, at)
            self.assertIn(words, str(refused.exception))
