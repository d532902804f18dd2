"""Coil stacks against series springs worked by hand, and against their own energy."""

import unittest

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from engine.document.schema import Spring
from engine.forces.stack import stack_of


def spring(rate: float, free: float = 200, solid: float = 80, stop: float | None = None) -> Spring:
    return Spring(rate=rate, free_length=free, solid_length=solid, stop=stop)


class Stacks(unittest.TestCase):
    def test_one_spring_is_its_rate(self) -> None:
        force, rate = stack_of([spring(50)]).at(np.array([-3.0, 0.0, 10.0, 60.0]))
        np.testing.assert_allclose(force, [0, 0, 500, 3000])
        np.testing.assert_allclose(rate, [0, 50, 50, 50])

    def test_two_in_series_are_the_product_over_the_sum(self) -> None:
        force, rate = stack_of([spring(30), spring(60)]).at(np.array([15.0]))
        np.testing.assert_allclose(rate, [20])
        np.testing.assert_allclose(force, [300])

    def test_a_crossover_ring_hands_over_to_the_main_spring(self) -> None:
        # 30 N/mm locked at 20 mm carries 600 N; the 60 N/mm spring has then gone 10 mm: corner at 30 mm.
        stack = stack_of([spring(30, stop=20), spring(60)])
        force, rate = stack.at(np.array([29.9, 30.1, 40.0]))
        np.testing.assert_allclose(rate, [20, 60, 60])
        np.testing.assert_allclose(force[2], 600 + 10 * 60)
        self.assertAlmostEqual(stack.solid_compression, 20 + 120)

    def test_a_helper_closes_up(self) -> None:
        # A 2 N/mm helper with 40 mm to give closes at 80 N, where a 100 N/mm main has gone 0.8 mm.
        stack = stack_of([spring(2, free=50, solid=10), spring(100)])
        force, rate = stack.at(np.array([20.0, 40.8, 50.8]))
        np.testing.assert_allclose(force, [20 * 200 / 102, 80, 1080])
        np.testing.assert_allclose(rate[2], 100)

    def test_three_in_series(self) -> None:
        _, rate = stack_of([spring(20), spring(30), spring(60)]).at(np.array([5.0]))
        np.testing.assert_allclose(rate, [10])

    def test_a_table_is_read_between_its_rows_and_carried_on(self) -> None:
        table = Spring(table=[[0, 0], [20, 400], [40, 1200]], free_length=200, solid_length=100)
        force, rate = stack_of([table]).at(np.array([10.0, 30.0, 60.0]))
        np.testing.assert_allclose(force, [200, 800, 2000])
        np.testing.assert_allclose(rate, [20, 40, 40])

    def test_a_table_in_series_with_a_spring(self) -> None:
        table = Spring(table=[[0, 0], [20, 400], [40, 1200]], free_length=200, solid_length=100)
        stack = stack_of([table, spring(40)])
        force, _ = stack.at(np.array([20 + 10.0]))
        np.testing.assert_allclose(force, [400])

    @settings(max_examples=60, deadline=None)
    @given(
        st.lists(
            st.tuples(
                st.floats(1, 400), st.floats(40, 400), st.floats(0.1, 0.9), st.none() | st.floats(1, 300)
            ),
            min_size=1,
            max_size=3,
        )
    )
    def test_force_never_falls_and_the_rate_is_its_slope(self, rows: list) -> None:
        springs = [spring(rate, free, free * share, stop) for rate, free, share, stop in rows]
        stack = stack_of(springs)
        at = np.linspace(0, stack.solid_compression, 60)
        force, rate = stack.at(at)
        self.assertTrue((np.diff(force) >= -1e-9).all())
        up, _ = stack.at(at + 1e-7)
        self.assertTrue((np.abs((up - force) / 1e-7 - rate) <= 1e-3 * rate + 0.2 * np.ptp(rate) + 1e-2).all())
        softest = 1 / sum(1 / s.rate for s in springs if s.rate)
        self.assertAlmostEqual(rate[0] / softest, 1, places=6)
        self.assertAlmostEqual(stack.free_length - stack.solid_length, stack.solid_compression, places=6)
