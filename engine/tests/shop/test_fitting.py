"""Traces of known cards, with an unsteady hand: lines, arcs and corners come back; a plate that differs is told where."""

import math
import unittest

import numpy as np

from engine.shop.fitting import compared, corners_of, same_on_both_sides
from engine.shop.made import Flat, Hole
from engine.shop.outline import Arc, area_of, bulged
from engine.shop.small import outline_distance
from engine.shop.traced_holes import Circled, circle_of

SLOT = [(0.0, 0.0, 0.0), (120.0, 0.0, 1.0), (120.0, 50.0, 0.0), (0.0, 50.0, 1.0)]
BRACKET = [(0.0, 0.0, 0.0), (160.0, 0.0, 0.0), (160.0, 40.0, 0.0), (70.0, 120.0, 0.35), (0.0, 120.0, 0.0)]
SADDLE = [(-40.0, 0.0, -0.45), (40.0, 0.0, 0.0), (25.0, 90.0, 0.6), (-25.0, 90.0, 0.0)]


def traced(
    corners: list[tuple[float, float, float]], shake: float = 0.0, seed: int = 0, turn: float = 0.0
) -> np.ndarray:
    """Return an outline walked a fifth of a millimetre at a time."""
    rng = np.random.default_rng(seed)
    spots: list[tuple[float, float]] = []
    outline = bulged(corners)
    for arc, after in zip(outline, [*outline[1:], *outline[:1]], strict=True):
        steps = max(1, math.ceil(abs(arc.turn) * arc.circle.radius / 0.2))
        spots += [arc.at(arc.start + arc.turn * n / steps) for n in range(steps + 1)]
        count = max(1, math.ceil(math.dist(arc.last, after.first) / 0.2))
        (x, y), (u, v) = arc.last, after.first
        spots += [(x + (u - x) * n / count, y + (v - y) * n / count) for n in range(1, count)]
    found = np.array(spots) + rng.normal(scale=shake, size=(len(spots), 2))
    c, s = math.cos(turn), math.sin(turn)
    return np.asarray(found @ np.array([[c, s], [-s, c]]))


def furthest(corners: list[tuple[float, float, float]], trace: np.ndarray) -> float:
    outline = bulged(corners)
    return max(abs(outline_distance(outline, x, y)) for x, y in trace[::7])


class Fitting(unittest.TestCase):
    def test_a_card_comes_back_as_its_own_few_lines_and_arcs(self) -> None:
        for card in (SLOT, BRACKET, SADDLE):
            for shake in (0.0, 0.12):
                for turn in (0.0, 0.7):
                    found = corners_of(traced(card, shake, 3, turn))
                    clean = traced(card, 0.0, 0, turn)
                    self.assertLessEqual(len(found), len(card) + 2, (card, shake))
                    self.assertLess(furthest(found, clean), 0.5, (card, shake, turn))
                    self.assertAlmostEqual(
                        abs(area_of(bulged(found))), abs(area_of(bulged(card))), delta=60.0
                    )

    def test_corners_stay_sharp(self) -> None:
        found = corners_of(traced(BRACKET, 0.1, 5))
        for x, y, _ in BRACKET[:3]:
            self.assertLess(min(math.hypot(x - a, y - b) for a, b, _ in found), 0.35)

    def test_a_hole_is_a_circle(self) -> None:
        rng = np.random.default_rng(2)
        phi = np.linspace(0, 2 * math.pi, 200, endpoint=False)
        trace = np.column_stack([30 + 6.1 * np.cos(phi), 12 + 6.1 * np.sin(phi)]) + rng.normal(
            scale=0.1, size=(200, 2)
        )
        its = circle_of(trace)
        self.assertAlmostEqual(its.x, 30, delta=0.03)
        self.assertAlmostEqual(its.y, 12, delta=0.03)
        self.assertAlmostEqual(its.diameter, 12.2, delta=0.06)
        self.assertLess(its.off, 0.6)

    def test_a_crooked_card_is_averaged_with_its_image(self) -> None:
        crooked = traced(SADDLE)
        crooked[:, 0] = np.where(crooked[:, 0] > 0, crooked[:, 0] * 1.02, crooked[:, 0])
        fair = same_on_both_sides(crooked)
        right, left = fair[fair[:, 0] > 20], fair[fair[:, 0] < -20]
        self.assertAlmostEqual(float(right[:, 0].max()), -float(left[:, 0].min()), delta=0.9)


class Comparing(unittest.TestCase):
    def flat(self) -> Flat:
        outline: tuple[Arc, ...] = tuple(bulged(BRACKET))
        return Flat(
            outline=outline, thickness=5, grade="S355", holes=(Hole(what="bolt", x=30, y=30, diameter=12),)
        )

    def laid(self, places: np.ndarray, turn: float, over: bool = False) -> np.ndarray:
        c, s = math.cos(turn), math.sin(turn)
        moved = places @ np.array([[c, s], [-s, c]]) + [310.0, -95.0]
        return moved * [1.0, -1.0] if over else moved

    def test_a_true_copy_however_it_lies(self) -> None:
        for turn, over in ((0.0, False), (1.1, False), (2.9, True), (-2.0, False)):
            trace = self.laid(traced(BRACKET), turn, over)
            (hole,) = self.laid(np.array([[30.0, 30.0]]), turn, over)
            found = compared(self.flat(), trace, [Circled(hole[0], hole[1], 12.0, 0.0)])
            self.assertLess(abs(found.most), 0.15, (turn, over))
            self.assertEqual(found.turned_over, over)
            (told,) = found.holes
            self.assertLess(told[1], 0.1)

    def test_an_edge_cut_short_and_a_hole_off_are_named(self) -> None:
        short = [(x if x < 160 else 158.0, y, b) for x, y, b in BRACKET]
        trace = self.laid(traced(short), 0.6)
        (hole,) = self.laid(np.array([[31.5, 30.0]]), 0.6)
        found = compared(self.flat(), trace, [Circled(hole[0], hole[1], 12.6, 0.0)])
        self.assertLess(found.most, -1.2)
        self.assertGreater(found.at[0], 150)
        (told,) = found.holes
        self.assertAlmostEqual(told[1], 1.5, delta=0.6)
        self.assertAlmostEqual(told[2], 0.6, delta=0.01)


if __name__ == "__main__":
    unittest.main()
