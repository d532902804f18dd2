"""Where values vanish: Newton within a bracket, and false position, against roots that are known."""

import unittest

import numpy as np

from engine.linkage.roots import newton_between, root_between
from engine.linkage.vectors import Array

ROOTS = np.array([0.3, -1.7, 4.0])


def cubed(way: Array) -> tuple[Array, Array]:
    """Return values that rise, fall and rise through ROOTS, with their slopes."""
    sign = np.array([1.0, -1.0, 1.0])
    off = way - ROOTS
    return sign * (off + 0.2 * off**3), sign * (1 + 0.6 * off**2)


class Newton(unittest.TestCase):
    def setUp(self) -> None:
        self.low, self.high = ROOTS - 2.0, ROOTS + 3.0
        self.rising = np.array([True, False, True])

    def found(self, look: object, start: Array | None = None) -> Array:
        begun = self.high - 0.1 if start is None else start
        return newton_between(self.low, self.high, self.rising, begun, look)  # type: ignore[arg-type]

    def test_rising_and_falling_values_are_found_together(self) -> None:
        np.testing.assert_allclose(self.found(cubed), ROOTS, atol=1e-8)

    def test_slopes_that_are_wrong_or_nothing_only_make_it_slower(self) -> None:
        for wrong in (-1.0, 0.0, np.nan):
            told = self.found(lambda way, wrong=wrong: (cubed(way)[0], np.full(3, wrong)))
            np.testing.assert_allclose(told, ROOTS, atol=2e-6)

    def test_a_kink_in_the_bracket_is_no_trap(self) -> None:
        """Two springs of which one locks: the slope jumps sixfold at the very root."""

        def kinked(way: Array) -> tuple[Array, Array]:
            off = cubed(way)[0]
            steep = np.where(off > 0, 6.0, 1.0)
            return off * steep, cubed(way)[1] * steep

        np.testing.assert_allclose(self.found(kinked, self.low + 0.01), ROOTS, atol=1e-6)

    def test_it_starts_where_it_ends(self) -> None:
        np.testing.assert_array_equal(self.found(cubed, ROOTS), ROOTS)


class FalsePosition(unittest.TestCase):
    def test_one_root_to_what_is_enough(self) -> None:
        def value(way: float) -> float:
            return way**3 - 2

        told = root_between(0.0, 5.0, value(0.0), value(5.0), value, 1e-7)
        self.assertAlmostEqual(told, 2 ** (1 / 3), places=6)

    def test_what_is_not_known_past_the_end_of_reach_is_left_on_the_near_side(self) -> None:
        told = root_between(0.0, 4.0, -1.0, 1.0, lambda way: way - 1.5 if way < 2.5 else np.nan, 1e-7)
        self.assertAlmostEqual(told, 1.5, places=6)


if __name__ == "__main__":
    unittest.main()
