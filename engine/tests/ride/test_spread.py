"""Intervals from few positions are those from many: what lies between is told by quintics."""

import unittest

from engine.document.read import check_project
from engine.layouts.catalogue import LAYOUTS, starting_project
from engine.ride.spread import Interval, spread_of
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
