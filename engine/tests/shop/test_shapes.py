"""Shapes for the shop by a second route: outlines sampled, copes against two tubes in space, bends bent back."""

import math
import unittest

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from engine.shop.bends import NoBend, bent
from engine.shop.cope import NoCope, cope
from engine.shop.outline import Circle, area_of, box_of, hull
from engine.shop.rods import Borne, column_n, lightest, made, stock_end
from engine.shop.stock import METRIC, STEEL_E_N_PER_MM2, Tube

NUMBERS = st.floats(-90, 90, allow_nan=False)
CIRCLES = st.lists(st.builds(Circle, NUMBERS, NUMBERS, st.floats(4, 40)), min_size=1, max_size=6)


class Outlines(unittest.TestCase):
    @settings(max_examples=60, deadline=None)
    @given(circles=CIRCLES)
    def test_a_band_reaches_just_as_far_as_the_furthest_circle_every_way(self, circles: list[Circle]) -> None:
        outline = hull(circles)
        self.assertAlmostEqual(sum(arc.turn for arc in outline), 2 * math.pi, places=6)
        for angle in np.linspace(0, 2 * math.pi, 97):
            wanted = max(c.x * math.cos(angle) + c.y * math.sin(angle) + c.radius for c in circles)
            ends = [spot for arc in outline for spot in (arc.first, arc.last)]
            reach = max(x * math.cos(angle) + y * math.sin(angle) for x, y in ends)
            for arc in outline:
                if (angle - arc.start) % (2 * math.pi) <= arc.turn + 1e-9:
                    x, y = arc.at(angle)
                    reach = max(reach, x * math.cos(angle) + y * math.sin(angle))
            self.assertAlmostEqual(reach, wanted, places=6)

    @settings(max_examples=40, deadline=None)
    @given(circles=CIRCLES)
    def test_its_area_is_that_of_the_outline_sampled(self, circles: list[Circle]) -> None:
        outline = hull(circles)
        spots = [arc.at(arc.start + share * arc.turn) for arc in outline for share in np.linspace(0, 1, 600)]
        x, y = np.array(spots).T
        sampled = float((x * np.roll(y, -1) - np.roll(x, -1) * y).sum() / 2)
        self.assertAlmostEqual(area_of(outline), sampled, delta=2e-5 * abs(sampled) + 1e-3)
        low_x, low_y, high_x, high_y = box_of(outline)
        self.assertTrue(
            (x >= low_x - 1e-9).all() and (y <= high_y + 1e-9).all() and low_y <= high_y and low_x <= high_x
        )

    def test_two_equal_circles_are_a_slot(self) -> None:
        outline = hull([Circle(0, 0, 10), Circle(50, 0, 10)])
        self.assertEqual(len(outline), 2)
        self.assertAlmostEqual(area_of(outline), math.pi * 100 + 50 * 20)
        self.assertEqual(len(hull([Circle(0, 0, 10), Circle(3, 0, 4)])), 1)
        self.assertEqual(hull([]), [])


class Copes(unittest.TestCase):
    def test_the_curve_lies_on_both_tubes(self) -> None:
        for r, met, angle, offset in ((16, 20, 90, 0), (16, 20, 55, 3), (12.5, 30, 120, -8), (20, 20, 70, 0)):
            around, along = cope(r, met, angle, offset)
            phi, beta = around / r, math.radians(angle)
            deep = np.sqrt(np.maximum(met**2 - (r * np.cos(phi) - offset) ** 2, 0))
            shift = ((deep + r * np.sin(phi) * math.cos(beta)) / math.sin(beta)).min()
            # The met tube lies along z, its axis `offset` beside; the cut one leans to it by the angle.
            own = np.array([math.sin(beta), 0.0, math.cos(beta)])
            side, up = np.array([0.0, 1.0, 0.0]), np.cross(own, [0.0, 1.0, 0.0])
            wall = np.outer(along + shift, own) + r * (
                np.outer(np.cos(phi), side) + np.outer(np.sin(phi), up)
            )
            radius = np.hypot(wall[:, 0], wall[:, 1] - offset)
            np.testing.assert_allclose(radius, met, atol=1e-6, err_msg=f"{r} {met} {angle} {offset}")

    def test_what_does_not_meet_is_said(self) -> None:
        for numbers, words in (
            ((20, 16, 90), "wider there"),
            ((16, 20, 0), "a cope needs 5°"),
            ((16, 20, 90, 10), "wider there"),
            ((0, 20, 90), "more than nothing"),
        ):
            with self.assertRaises(NoCope) as caught:
                cope(*numbers)
            self.assertIn(words, str(caught.exception))


class Bends(unittest.TestCase):
    def test_a_table_bent_again_comes_through_the_same_ends(self) -> None:
        rng = np.random.default_rng(4)
        for _ in range(30):
            corners = np.cumsum(rng.uniform(-1, 1, (5, 3)) * 200 + rng.choice([-1, 1], (5, 3)) * 150, axis=0)
            try:
                tube = bent(corners.tolist(), 60.0)
            except NoBend:
                continue
            ends = self.bend_again(corners, tube)
            np.testing.assert_allclose(ends[-1], corners[-1], atol=1e-6)

    def bend_again(self, corners: np.ndarray, tube: object) -> list[np.ndarray]:
        """Push a straight tube along, bending and turning by the table alone."""
        way = corners[1] - corners[0]
        way = way / np.linalg.norm(way)
        normal = np.cross(way, corners[2] - corners[1])
        normal /= np.linalg.norm(normal)
        at, done, spots = corners[0].astype(float), 0.0, [corners[0]]
        for bend in tube.bends:  # type: ignore[attr-defined]
            at = at + way * (bend.mark - done)
            normal = self.turned(normal, way, math.radians(bend.turn))
            angle = math.radians(bend.angle)
            inward = np.cross(normal, way)
            at = at + tube.radius * (math.sin(angle) * way + (1 - math.cos(angle)) * inward)  # type: ignore[attr-defined]
            way = self.turned(way, normal, angle)
            done = bend.mark + tube.radius * angle  # type: ignore[attr-defined]
            spots.append(at)
        spots.append(at + way * (tube.length - done))  # type: ignore[attr-defined]
        return spots

    def turned(self, vector: np.ndarray, about: np.ndarray, angle: float) -> np.ndarray:
        turned: np.ndarray = (
            vector * math.cos(angle)
            + np.cross(about, vector) * math.sin(angle)
            + about * (about @ vector) * (1 - math.cos(angle))
        )
        return turned

    def test_a_hoop_and_what_the_bender_cannot_make(self) -> None:
        hoop = bent([[0, 0, 0], [0, 0, 400], [0, 500, 400], [0, 500, 0]], 80.0, springback=0.04)
        self.assertEqual([round(b.angle, 6) for b in hoop.bends], [90.0, 90.0])
        self.assertAlmostEqual(hoop.length, 1300 - 4 * 80 + 2 * 80 * math.pi / 2)
        self.assertAlmostEqual(hoop.bends[0].mark, 320)
        self.assertAlmostEqual(hoop.bends[0].set_to, 93.6)
        self.assertAlmostEqual(abs(hoop.bends[1].turn), 0.0, places=6)
        self.assertEqual(bent([[0, 0, 0], [0, 0, 400]], 80).bends, ())
        for corners, words in (
            ([[0, 0, 0], [0, 0, 50], [0, 500, 50]], "no room for bends of 80 mm"),
            ([[0, 0, 0], [0, 0, 500], [0, 40, 500]], "The last run has no room"),
            ([[0, 0, 0], [0, 0, 0], [0, 40, 500]], "are one place"),
            ([[0, 0, 0]], "two places at least"),
        ):
            with self.assertRaises(NoBend) as caught:
                bent(corners, 80)
            self.assertIn(words, str(caught.exception))


class Rods(unittest.TestCase):
    def test_the_tube_and_both_ends_add_up_to_the_rod(self) -> None:
        ends = (stock_end(METRIC, 12, "right"), stock_end(METRIC, 12, "left"))
        rod = made(384.5, Tube(outside=25, wall=2), ends, Borne(push=4000))
        built = rod.tube_length + sum(end.flange + end.outside for end in ends)
        self.assertAlmostEqual(built, 384.5)
        self.assertAlmostEqual(rod.out, rod.into)
        self.assertAlmostEqual(rod.change_per_turn, 3.5)
        same = made(384.5, Tube(outside=25, wall=2), (ends[0], ends[0]))
        self.assertEqual(same.change_per_turn, 0.0)
        self.assertIsNone(same.factor)

    def test_columns_meet_where_slender_and_stocky_meet_and_follow_each_law(self) -> None:
        tube = Tube(outside=25, wall=2)
        gyration = math.sqrt(tube.inertia / tube.area)
        border = gyration * math.sqrt(2 * math.pi**2 * STEEL_E_N_PER_MM2 / tube.yields)
        self.assertAlmostEqual(
            column_n(tube, border * 0.999999) / column_n(tube, border * 1.000001), 1.0, places=4
        )
        self.assertAlmostEqual(column_n(tube, border), tube.area * tube.yields / 2, delta=1)
        self.assertAlmostEqual(column_n(tube, 2 * border), column_n(tube, border) / 4, delta=1e-6)
        self.assertAlmostEqual(column_n(tube, 1e-6), tube.area * tube.yields, places=3)

    def test_the_lightest_that_is_strong_enough(self) -> None:
        ends = (stock_end(METRIC, 10, "right"), stock_end(METRIC, 10, "left"))
        tube = lightest(METRIC, 400, ends, Borne(push=5000), 2.0)
        lighter = [one for one in METRIC.tubes if one.area < tube.area and one.bore >= 14.5]
        self.assertTrue(all(column_n(one, 400) < 10_000 for one in lighter))
        self.assertGreaterEqual(column_n(tube, 400), 10_000)
        self.assertEqual(lightest(METRIC, 4000, ends, Borne(push=1e6), 2.0), METRIC.tubes[-1])


if __name__ == "__main__":
    unittest.main()
