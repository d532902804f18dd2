"""Sliding a mount, checked by writing the point into the file; and a live axle's coilover moved ahead on its arm."""

import copy
import unittest

import numpy as np

from engine.budget import Budget
from engine.layouts.catalogue import layout_named, starting_project
from engine.sizing.places import NoPlacing
from engine.sizing.slide import slide
from engine.station.solved import solve_station
from engine.tests import samples


def started(name: str) -> samples.Values:
    return copy.deepcopy(starting_project(layout_named(name))["stations"][0])


class Slide(unittest.TestCase):
    def test_each_step_is_the_station_with_the_point_written_there(self) -> None:
        values = started("wishbones-lower")
        steps = slide(
            solve_station(samples.station(values)), "coilover", "top", np.array([0.0, 2, 0]), [-10, 0, 10]
        )
        for step in steps:
            changed = copy.deepcopy(values)
            changed["points"]["top"][1] += step.by
            alone = solve_station(samples.station(changed))
            assert alone.ride is not None
            self.assertAlmostEqual(step.ride or 0, alone.ride.travel, places=6)
            self.assertAlmostEqual(step.wheel_rate or 0, alone.ride.wheel_rate, places=6)

    def test_without_time_each_step_says_so_where_it_would_stand(self) -> None:
        solved = solve_station(samples.station(started("wishbones-lower")))
        way = np.array([0.0, 2, 0])
        steps = slide(solved, "coilover", "top", way, [-10, 0, 10], budget=Budget(0.0))
        self.assertEqual([step.by for step in steps], [-10, 0, 10])
        self.assertTrue(all(step.fault and "time" in step.fault for step in steps))
        self.assertAlmostEqual(steps[2].place[1] - steps[0].place[1], 20)

    def test_further_ahead_of_the_axle_is_softer_and_leans_more(self) -> None:
        values = started("axle-three-link")
        solved = solve_station(samples.station(values))
        steps = slide(
            solved,
            "coilover_left",
            "seat_left" if "seat_left" in values["points"] else values["units"][0]["ends"][0],
            np.array([1.0, 0, 0]),
            [-40.0, 0.0, 40.0],
            both=True,
        )
        ratios = [step.ratio or 0 for step in steps]
        rates = [step.wheel_rate or 0 for step in steps]
        rolls = [step.roll or 0 for step in steps]
        self.assertEqual(ratios, sorted(ratios, reverse=True))
        self.assertEqual(rates, sorted(rates, reverse=True))
        self.assertEqual(rolls, sorted(rolls, reverse=True))

    def test_both_sides_of_an_axle_stay_alike(self) -> None:
        values = started("axle-four-link")
        top = next(end for end in values["units"][0]["ends"] if end in values["chassis"])
        solved = solve_station(samples.station(values))
        step = slide(solved, values["units"][0]["name"], top, np.array([0.0, 1, 0]), [25.0])[0]
        self.assertIsNone(step.fault)
        changed = copy.deepcopy(values)
        other = top.replace("left", "right")
        changed["points"][top][1] += 25
        changed["points"][other][1] -= 25
        ride = solve_station(samples.station(changed)).ride
        assert ride is not None
        self.assertAlmostEqual(step.wheel_rate or 0, ride.wheel_rate, places=6)

    def test_refusals(self) -> None:
        solved = solve_station(samples.station(samples.arm()))
        for unit, end, way in (
            ("spare", "top", [1, 0, 0]),
            ("coilover", "wheel", [1, 0, 0]),
            ("coilover", "top", [0, 0, 0]),
        ):
            with self.assertRaises(NoPlacing):
                slide(solved, unit, end, np.array(way, dtype=float), [0.0])


if __name__ == "__main__":
    unittest.main()
