"""A change tried tells what a full solve of the changed station tells, and nothing where there is nothing to tell."""

import unittest
from dataclasses import asdict

from engine.document.read import check_project
from engine.errors import EngineError
from engine.findings.finding import RULES
from engine.layouts.catalogue import LAYOUTS, starting_project
from engine.ride.installed import damper_uses
from engine.sizing.tried import Stands, is_inside, moved, stands, tried
from engine.station.solved import solve_station
from engine.tests import samples


class Tries(unittest.TestCase):
    def test_they_are_the_full_solves_own_figures_for_every_arrangement(self) -> None:
        for layout in LAYOUTS:
            station = check_project(starting_project(layout)).stations[0]
            solved = solve_station(station, steps=21)
            end = next(end for end in station.units[0].ends if end in station.chassis)
            place = [station.points[end][0], station.points[end][1], station.points[end][2] + 4.0]
            with self.subTest(layout.name):
                again = moved(solved, {end: place}, 21)
                whole = solve_station(
                    station.model_copy(update={"points": {**station.points, end: place}}), steps=21
                )
                told, ride = tried(again), whole.ride
                if ride is None:
                    self.assertEqual((told.ride, told.fault), (None, str(whole.ride_fault)))
                else:
                    self.assertIsNone(told.fault)
                    self.assertEqual(
                        (told.ride, told.wheel_rate, told.frequency),
                        (ride.travel, ride.wheel_rate, ride.frequency),
                    )
                uses = damper_uses(whole)
                self.assertEqual(told.left_in_bump, min((u.left_in_bump for u in uses), default=None))
                for use in uses:
                    self.assertEqual(tried(again, use.name).left_in_droop, use.left_in_droop)

    def test_what_stands_nowhere_says_why_and_no_figure(self) -> None:
        values = samples.arm()
        values["mass"]["corner"] = 4000
        told = tried(solve_station(samples.station(values), steps=21))
        self.assertEqual((told.ride, told.wheel_rate, told.frequency), (None, None, None))
        self.assertIn("carry at most", str(told.fault))
        self.assertEqual(asdict(stands(solve_station(samples.station(values), steps=21))), asdict(Stands()))

    def test_a_unit_that_is_no_damper_has_none_left(self) -> None:
        solved = solve_station(samples.station(samples.arm()), steps=21)
        self.assertIsNone(tried(solved, "no such unit").left_in_bump)

    def test_what_cannot_be_put_together_is_refused(self) -> None:
        solved = solve_station(samples.station(samples.pushrod_corner()), steps=21)
        with self.assertRaisesRegex(EngineError, "stand in the same place"):
            moved(solved, {"lower_front": solved.station.points["lower_rear"]}, 21)

    def test_frequencies_are_judged_only_where_some_are_wanted(self) -> None:
        self.assertIsNone(is_inside(1.5, RULES))
        self.assertIsNone(is_inside(None, RULES))


if __name__ == "__main__":
    unittest.main()
