"""Each kind of row alone: its weights and rates against differences of its own value."""

import unittest

import numpy as np

from engine.linkage.equations import Coincide, Distance, Driver, Equation, Hold, Shared, Slide

KINDS: tuple[Equation, ...] = (
    Distance(body="rod", i=0, j=1, link="rod"),
    Coincide(body="arm", point=0, ghost=2),
    Hold(body="arm", a=0, b=1, c=2),
    Slide(body="strut", a=0, b=1, c=2, kept=(0, 2)),
    Driver(wheels=(1, 3), target=0),
    Shared(
        body="rod",
        links=(Distance(body="rod", i=0, j=1, link="rod"), Distance(body="arm", i=2, j=3, link="arm")),
        shares=(0.8, -0.6),
    ),
)
STEP = 1e-4


class Kinds(unittest.TestCase):
    def setUp(self) -> None:
        rng = np.random.default_rng(5)
        self.drawn = rng.uniform(-300, 300, (3, 4, 1))
        self.x, self.v, self.a = (rng.uniform(-300, 300, (3, 4, 2)) / size for size in (1, 200, 200))
        self.targets = np.array([[7.0, 7.0]])

    def value(self, equation: Equation, x: np.ndarray) -> np.ndarray:
        return equation.value(x, self.drawn, equation.length_in(self.drawn, {}), self.targets)

    def test_weights_are_the_slopes_of_the_value(self) -> None:
        for equation in KINDS:
            with self.subTest(equation=type(equation).__name__):
                told = np.zeros((equation.rows, 3, 4, 2))
                length = equation.length_in(self.drawn, {})
                for row, point, weight in equation.weights(self.x, self.drawn, length):
                    if isinstance(weight, tuple):
                        told[row, weight[0], point] += weight[1]
                    else:
                        told[row, :, point] += weight
                for axis in range(3):
                    for point in range(4):
                        step = np.zeros_like(self.x)
                        step[axis, point] = STEP
                        moved = self.value(equation, self.x + step) - self.value(equation, self.x - step)
                        np.testing.assert_allclose(moved / (2 * STEP), told[:, axis, point], atol=1e-6)

    def test_rates_are_the_derivatives_of_the_value_along_a_path(self) -> None:
        def along(t: float) -> np.ndarray:
            return self.x + self.v * t + self.a * t**2 / 2

        for equation in KINDS:
            with self.subTest(equation=type(equation).__name__):
                length = equation.length_in(self.drawn, {})
                still = np.zeros((1, 2))
                before, now, after = (self.value(equation, along(t)) for t in (-0.01, 0.0, 0.01))
                first = equation.rate(self.x, self.v, self.v, self.drawn, length, still)
                np.testing.assert_allclose((after - before) / 0.02, first, atol=1e-4)
                second = equation.rate(self.x, self.v, self.a, self.drawn, length, still)
                np.testing.assert_allclose((after - 2 * now + before) / 1e-4, second, atol=1e-5)

    def test_nothing_stands_open_as_drawn_and_a_shifted_point_opens_what_looks_at_it(self) -> None:
        for equation in KINDS[:1] + KINDS[2:3]:
            with self.subTest(equation=type(equation).__name__):
                length = equation.length_in(self.drawn, {})
                self.assertAlmostEqual(equation.gap(self.drawn, self.drawn, length, 0), 0.0)
                moved = self.drawn.copy()
                moved[:, equation.points[-1], 0] += [20.0, -14.0, 9.0]
                self.assertGreater(equation.gap(moved, self.drawn, length, 0), 1.0)

    def test_a_distance_stands_open_by_exactly_what_it_is_pulled(self) -> None:
        rod = KINDS[0]
        pulled = self.drawn.copy()
        way = pulled[:, 1] - pulled[:, 0]
        pulled[:, 1] += way / np.linalg.norm(way) * 12.5
        self.assertAlmostEqual(rod.gap(pulled, self.drawn, rod.length_in(self.drawn, {}), 0), 12.5, 9)

    def test_a_link_set_to_a_length_keeps_that(self) -> None:
        given = KINDS[0].length_in(self.drawn, {"rod": 321.0})
        assert given is not None
        self.assertEqual(given.tolist(), [321.0])
        self.assertTrue(KINDS[0].bushed)
        self.assertFalse(Distance(body="upright", i=0, j=1).bushed)
