"""Each kind of row alone: what it says, and its slopes and rates against differences of its own value."""

import unittest

import numpy as np

from engine.linkage.equations import Coincide, Distance, Driver, Equation, Hold, Shared, Slide, Sum
from engine.linkage.vectors import Array

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


def opened(row: Sum, x: Array, target: float = 0.0) -> float:
    """Return what a row comes to at points (n, 3), by numpy's own products."""
    total = float(np.ravel(row.constant)[0]) - (target if row.target >= 0 else 0.0)
    for product in row.products:
        d, e = x[product.d[0]] - x[product.d[1]], x[product.e[0]] - x[product.e[1]]
        triple = [float(np.ravel(part)[0]) for part in product.triple]
        total += float(np.ravel(product.dot)[0]) * (d @ e) + np.dot(triple, np.cross(d, e))
    return float(total + sum(share * x[point, axis] for point, axis, share in row.heights))


class Kinds(unittest.TestCase):
    def setUp(self) -> None:
        self.drawn = np.random.default_rng(5).uniform(-300, 300, (3, 4, 1))

    def conditions(self, equation: Equation) -> tuple[Sum, ...]:
        return equation.written(self.drawn, equation.length_in(self.drawn, {}))

    def test_each_is_as_many_rows_as_it_says_and_looks_only_at_its_points(self) -> None:
        for equation in KINDS:
            with self.subTest(equation=type(equation).__name__):
                conditions = self.conditions(equation)
                self.assertEqual(len(conditions), equation.conditions)
                seen = {
                    point for row in conditions for product in row.products for point in product.d + product.e
                }
                seen |= {point for row in conditions for point, _, _ in row.heights}
                self.assertLessEqual(seen, set(equation.points))

    def test_nothing_stands_open_as_drawn_and_a_shifted_point_opens_what_looks_at_it(self) -> None:
        drawn = self.drawn[:, :, 0].T
        for equation in (KINDS[0], KINDS[2], KINDS[4], KINDS[5]):
            with self.subTest(equation=type(equation).__name__):
                for row in self.conditions(equation):
                    self.assertAlmostEqual(opened(row, drawn), 0.0)
                    moved = drawn.copy()
                    moved[equation.points[-1]] += [20.0, -14.0, 9.0]
                    self.assertGreater(abs(opened(row, moved)), 1.0)

    def test_a_distance_stands_open_by_what_it_is_pulled_to_first_order_and_exactly(self) -> None:
        rod = KINDS[0]
        assert isinstance(rod, Distance)
        length = rod.length_in(self.drawn, {})
        pulled = self.drawn.copy()
        way = pulled[:, 1] - pulled[:, 0]
        pulled[:, 1] += way / np.linalg.norm(way) * 12.5
        self.assertAlmostEqual(float(rod.gap(pulled, length)[0]), 12.5, 9)
        first_order = 12.5 + 12.5**2 / (2 * float(length[0]))
        self.assertAlmostEqual(opened(self.conditions(rod)[0], pulled[:, :, 0].T), first_order, 9)

    def test_a_point_off_a_line_or_a_plane_opens_it_by_as_many_mm(self) -> None:
        """Of a line along an axis: two ways across it; of a plane: straight out of it."""
        drawn = np.array([[0.0, 0, 0], [200.0, 0, 0], [60.0, 0, 0], [80.0, 50.0, 0]]).T[:, :, None]
        slide = Slide(body="strut", a=0, b=1, c=2, kept=(1, 2))
        off = drawn[:, :, 0].T.copy()
        off[2] += [9.0, 3.0, -4.0]
        told = [abs(opened(row, off)) for row in slide.written(drawn, None)]
        np.testing.assert_allclose(sorted(told), [3.0, 4.0])
        hold = Hold(body="arm", a=0, b=1, c=3)
        out = drawn[:, :, 0].T.copy()
        out[3] += [11.0, -6.0, 2.5]
        self.assertAlmostEqual(abs(opened(hold.written(drawn, None)[0], out)), 2.5)

    def test_a_driver_asks_its_wheels_mean_height(self) -> None:
        moved = self.drawn[:, :, 0].T.copy()
        moved[[1, 3], 2] += [12.0, 20.0]
        row = self.conditions(KINDS[4])[0]
        self.assertAlmostEqual(opened(row, moved), 16.0)
        self.assertAlmostEqual(opened(row, moved, 16.0), 0.0)

    def test_what_is_shared_is_the_sum_of_its_links_by_their_shares(self) -> None:
        shared = KINDS[5]
        assert isinstance(shared, Shared)
        moved = self.drawn[:, :, 0].T + np.random.default_rng(2).uniform(-5, 5, (4, 3))
        alone = [opened(self.conditions(link)[0], moved) for link in shared.links]
        self.assertAlmostEqual(opened(self.conditions(shared)[0], moved), 0.8 * alone[0] - 0.6 * alone[1])

    def test_a_link_set_otherwise_keeps_that_length_and_a_bodys_own_does_not(self) -> None:
        given = KINDS[0].length_in(self.drawn, {"rod": 321.0})
        assert given is not None
        self.assertEqual(float(given[0]), 321.0)
        self.assertTrue(KINDS[0].bushed)
        self.assertFalse(Distance(body="upright", i=0, j=1).bushed)


if __name__ == "__main__":
    unittest.main()
