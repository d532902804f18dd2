"""Intervals from few positions are those from many, and those that errors add up to by their squares; how far it is is told."""

import unittest
from math import hypot

from engine.document.read import check_project
from engine.layouts.catalogue import LAYOUTS, starting_project
from engine.ride.sensitivity import sensitivities
from engine.ride.spread import PART, Interval, spread_of
from engine.station.solved import solve_station


def apart(one: Interval | None, other: Interval | None) -> float:
    if one is None or other is None:
        return 0.0 if one is other else float("inf")
    return max(abs(one.low - other.low), abs(one.middle - other.middle), abs(one.high - other.high))


class FewPositions(unittest.TestCase):
    def test_four_times_as_many_positions_change_no_figure_that_is_shown(self) -> None:
        for layout in LAYOUTS:
            with self.subTest(layout.name):
                solved = solve_station(check_project(starting_project(layout)).stations[0])
                few, many = spread_of(solved, 60), spread_of(solved, 60, 65)
                self.assertEqual(few.standing, many.standing)
                self.assertLess(apart(few.ride_travel, many.ride_travel), 1e-3)
                self.assertLess(apart(few.wheel_rate, many.wheel_rate), 1e-3)
                self.assertLess(apart(few.frequency, many.frequency), 1e-4)
                for name, ratio in few.ratios.items():
                    self.assertLess(apart(ratio, many.ratios[name]), 1e-5)
                for name, left in few.damper_left.items():
                    for one, other in zip(left, many.damper_left[name], strict=True):
                        self.assertLess(apart(one, other), 0.02)


class SmallErrors(unittest.TestCase):
    """A second route: of small independent errors the squares of what each does add up; nine tenths lie within 1.645."""

    def test_a_tenth_of_a_millimetre_everywhere_spreads_as_the_squares_of_what_each_place_does(self) -> None:
        for layout in LAYOUTS:
            values = starting_project(layout)
            values["stations"][0]["uncertainty"] = {"tape": 0.1}
            solved = solve_station(check_project(values).stations[0])
            each = sensitivities(solved)
            wanted = 0.1 * 1.645 * hypot(*(one.ride_mm for one in each))
            with self.subTest(layout.name):
                found = spread_of(solved).ride_travel
                assert found is not None
                # Two thousand throws of a normal die: the half width is known to some three hundredths.
                self.assertAlmostEqual((found.high - found.low) / 2 / wanted, 1.0, delta=0.08)
                assert solved.ride is not None
                self.assertAlmostEqual(found.middle, solved.ride.travel, delta=0.1 * wanted)


class Told(unittest.TestCase):
    def setUp(self) -> None:
        self.solved = solve_station(check_project(starting_project(LAYOUTS[0])).stations[0])

    def test_how_far_it_is_is_told_part_by_part(self) -> None:
        told: list[float] = []
        spread_of(self.solved, 3 * PART + 1, tell=lambda share, what: told.append(share))
        self.assertEqual(len(told), 4)
        self.assertEqual(told, sorted(told))
        self.assertEqual(told[0], 0.0)
        self.assertLess(told[-1], 1.0)

    def test_who_waits_can_stop_it(self) -> None:
        told: list[float] = []

        def stop(share: float, what: str) -> None:
            told.append(share)
            if len(told) == 2:
                raise InterruptedError

        with self.assertRaises(InterruptedError):
            spread_of(self.solved, 3 * PART, tell=stop)
        self.assertEqual(len(told), 2)
