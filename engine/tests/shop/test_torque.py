"""Bolts are drawn to what tables of dry 8.8 bolts say, within a tenth."""

from unittest import TestCase

from engine.document.threads import Screw
from engine.shop.torque import stress_area, torque


class Torque(TestCase):
    def test_stress_areas_are_those_of_the_standard(self) -> None:
        for size, pitch, area in (
            (8.0, 1.25, 36.6),
            (10.0, 1.5, 58.0),
            (12.0, 1.75, 84.3),
            (16.0, 2.0, 157.0),
        ):
            self.assertAlmostEqual(stress_area(Screw(size=size, pitch=pitch)), area, delta=0.01 * area)

    def test_torques_are_near_those_of_tables(self) -> None:
        for size, pitch, told in (
            (8.0, 1.25, 25.0),
            (10.0, 1.5, 50.0),
            (12.0, 1.75, 87.0),
            (14.0, 2.0, 140.0),
        ):
            self.assertAlmostEqual(torque(Screw(size=size, pitch=pitch)), told, delta=0.1 * told)
