"""Distances between solids against closed forms, and certified both ways for solids at random.

A distance is proved by two things: points of both solids that far apart, and a direction along which they are
parted by as much. Together they leave no room for error.
"""

import unittest

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from engine.limits.clearance import segment_distance
from engine.limits.distance import Core, core_distance
from engine.limits.nearing import CLOSE_MM
from engine.limits.solids import axes_along


def core(centre: object, half: object = (0, 0, 0), disc: float = 0.0, axes: object = None) -> Core:
    return Core(
        centre=np.array([centre], dtype=float),
        axes=np.array([np.eye(3) if axes is None else axes], dtype=float),
        half=np.array([half], dtype=float),
        disc=np.array([disc], dtype=float),
        corners=None,
    )


def at_random(random: np.random.Generator, kind: str) -> Core:
    axes = np.array([axes_along(random.normal(size=3))])
    half, disc, corners = np.zeros((1, 3)), np.zeros(1), None
    half[0, 0] = random.uniform(1, 300)
    if kind == "cylinder":
        disc[0] = random.uniform(1, 300)
    if kind == "box":
        half = random.uniform(1, 300, (1, 3))
    if kind == "plate":
        half, around = np.zeros((1, 3)), np.sort(random.uniform(0, 2 * np.pi, 6))
        corners = (np.stack([200 * np.cos(around), 150 * np.sin(around), 0 * around], axis=1) @ axes[0])[None]
    return Core(centre=random.uniform(-600, 600, (1, 3)), axes=axes, half=half, disc=disc, corners=corners)


class Closed(unittest.TestCase):
    def apart(self, one: Core, other: Core) -> float:
        return float(core_distance(one, other)[0][0])

    def test_boxes(self) -> None:
        self.assertAlmostEqual(
            self.apart(core((0, 0, 0), (10, 10, 10)), core((50, 0, 0), (10, 10, 10))), 30, delta=0.01
        )
        corner = self.apart(core((0, 0, 0), (10, 10, 10)), core((33, 34, 10), (10, 10, 10)))
        self.assertAlmostEqual(corner, np.hypot(13, 14), delta=0.01)

    def test_a_cylinder_seen_from_its_side_and_from_its_end(self) -> None:
        wheel = core((0, 0, 0), (50, 0, 0), 300)
        self.assertAlmostEqual(self.apart(wheel, core((0, 0, 400))), 100, delta=0.01)
        self.assertAlmostEqual(self.apart(wheel, core((90, 10, 20))), 40, delta=0.01)
        self.assertAlmostEqual(self.apart(wheel, core((90, 0, 330))), np.hypot(40, 30), delta=0.01)

    def test_overlap_is_the_least_shift_that_parts_them(self) -> None:
        self.assertAlmostEqual(
            self.apart(core((0, 0, 0), (20, 20, 20)), core((35, 3, 2), (20, 20, 20))), -5, delta=0.05
        )
        self.assertAlmostEqual(
            self.apart(core((0, 0, 0), (100, 0, 0), 30), core((0, 40, 0), (5, 25, 5))), -15, delta=0.05
        )

    def test_segments(self) -> None:
        a, b = np.array([[0.0, 0, 0]]), np.array([[100.0, 0, 0]])
        c, d = np.array([[50.0, 30, -40]]), np.array([[50.0, 30, 40]])
        self.assertAlmostEqual(float(segment_distance(a, b, c, d)[0]), 30)
        e, f = np.array([[130.0, 40, 0]]), np.array([[200.0, 40, 0]])
        self.assertAlmostEqual(float(segment_distance(a, b, e, f)[0]), 50)


class Certified(unittest.TestCase):
    @settings(max_examples=250, deadline=None)
    @given(
        st.integers(0, 2**32 - 1),
        st.sampled_from(["line", "cylinder", "box", "plate"]),
        st.sampled_from(["line", "cylinder", "box", "plate"]),
    )
    def test_direction_and_distance_prove_one_another(self, seed: int, kind: str, its: str) -> None:
        random = np.random.default_rng(seed)
        one, other = at_random(random, kind), at_random(random, its)
        distance, way = core_distance(one, other)
        parted = float(((one.support(-way) - other.support(way)) * way).sum())
        self.assertAlmostEqual(float(np.linalg.norm(way)), 1, delta=1e-9)
        if distance[0] > 0:
            self.assertLess(abs(parted - distance[0]), 2 * CLOSE_MM)
        else:
            # Overlapping: the shift named does part them, and no direction tried at random parts them sooner.
            self.assertAlmostEqual(parted, float(distance[0]), delta=1e-6)
            for direction in random.normal(size=(200, 3)):
                unit = (direction / np.linalg.norm(direction))[None]
                depth = -float(((one.support(-unit) - other.support(unit)) * unit).sum())
                self.assertGreater(depth, -float(distance[0]) * 0.94 - 1.0)


if __name__ == "__main__":
    unittest.main()
