"""Sensitivities against the whole station solved again with the bracket moved."""

import copy
import unittest

import numpy as np

from engine.ride.sensitivity import Sensitivity, sensitivities
from engine.station.solved import SolvedStation, solve_station
from engine.tests import samples


def solved(values: samples.Values) -> SolvedStation:
    return solve_station(samples.station(values), steps=5)


def moved(values: samples.Values, point: str, axis: int, by: float) -> SolvedStation:
    changed = copy.deepcopy(values)
    place = list(map(float, changed["points"][point]))
    place[axis] += by
    changed["points"][point] = place
    return solved(changed)


class Sensitivities(unittest.TestCase):
    def check(self, values: samples.Values, item: Sensitivity) -> None:
        step = 0.25
        up, down = (moved(values, item.point, item.axis, by) for by in (step, -step))
        assert up.ride and down.ride and up.at_ride and down.at_ride
        ride = (up.ride.travel - down.ride.travel) / (2 * step)
        self.assertAlmostEqual(item.ride_mm, ride, delta=2e-3 + 2e-3 * abs(ride))

    def test_ride_height_answers_as_the_whole_station_does(self) -> None:
        for name in ("pushrod", "arm", "axle_triangulated", "drop_link", "five_link"):
            values = samples.every_linkage()[name]
            found = sensitivities(solved(values))
            for item in (*found[:4], found[len(found) // 2]):
                with self.subTest(name, point=item.point, axis=item.axis):
                    self.check(values, item)

    def test_ratio_and_rate_at_the_same_travel(self) -> None:
        values = samples.pushrod_corner()
        whole = solved(values)
        assert whole.ride
        item = next(i for i in sensitivities(whole) if (i.point, i.axis) == ("rocker_front", 2))
        rows = []
        for by in (0.25, -0.25):
            station = moved(values, item.point, item.axis, by)
            travels, ratio = station.search.travels, station.search.units["coilover"].motion_ratio
            rows.append(
                (
                    np.interp(whole.ride.travel, travels, ratio),
                    np.interp(whole.ride.travel, travels, station.search.wheel_rate),
                )
            )
        (ratio_up, rate_up), (ratio_down, rate_down) = rows
        self.assertAlmostEqual(item.ratios["coilover"], (ratio_up - ratio_down) / 0.5, delta=2e-5)
        self.assertAlmostEqual(item.rate, (rate_up - rate_down) / 0.5, delta=5e-3)

    def test_moving_everything_together_changes_nothing(self) -> None:
        for name in ("pushrod", "five_link", "axle_triangulated"):
            found = sensitivities(solved(samples.every_linkage()[name]))
            for axis in range(3):
                self.assertAlmostEqual(sum(i.ride_mm for i in found if i.axis == axis), 0, delta=1e-3)

    def test_strongest_first_and_nothing_without_a_ride(self) -> None:
        sizes = [abs(i.ride_mm) for i in sensitivities(solved(samples.pushrod_corner()))]
        self.assertEqual(sizes, sorted(sizes, reverse=True))
        self.assertEqual(sensitivities(solved(samples.arm() | {"units": []})), ())
