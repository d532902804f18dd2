"""Ride height at a named place: the body comes down as the wheel goes up."""

import unittest

from engine.document.read import check_project
from engine.errors import DocumentRefused
from engine.results.result_file import solve_project
from engine.ride.datum import height_at_mm
from engine.station.solved import solve_station
from engine.tests import samples


class Datum(unittest.TestCase):
    def test_it_stands_as_much_lower_as_the_wheel_stands_higher(self) -> None:
        values = samples.arm() | {"datum": {"name": "sill", "height": 165.0}}
        ride = solve_station(samples.station(values)).ride
        assert ride is not None
        told = solve_project(check_project(samples.document(values)), 5)["stations"][0]["ride"]["height"]
        self.assertEqual(told["datum"], "sill")
        # By the drawing: the floor is under the tyre, the sill on the body that stays where it is drawn.
        hub, radius = 250.0, 310.0
        sill = 165.0 + hub - radius
        floor = hub + ride.travel - radius
        self.assertAlmostEqual(told["above_floor"], sill - floor)

    def test_without_one_there_is_none(self) -> None:
        self.assertIsNone(height_at_mm(samples.station(samples.arm()), 3.0))

    def test_a_datum_on_the_floor_is_refused(self) -> None:
        with self.assertRaises(DocumentRefused) as refused:
            check_project(samples.document(samples.arm() | {"datum": {"name": "sill", "height": 0.0}}))
        self.assertIn("datum.height", str(refused.exception))


if __name__ == "__main__":
    unittest.main()
