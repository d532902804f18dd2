"""Textbook results, worked here by their own formulas and never by ours.

- Series and parallel springs, and the frequency of a mass on a spring: any mechanics text, for instance
  J. P. Den Hartog, Mechanical Vibrations (1956), chapter 2.
- The planar four-bar loop equation: F. Freudenstein, "Approximate synthesis of four-bar linkages",
  Transactions of the ASME 77 (1955).
- Leaning spring: with the lower eye moving upright and the spring leaning by an angle, the rate at the eye is
  k·cos² plus the force term F·sin²/L: the geometric stiffness of a two-force member.
"""

import math
import unittest

import numpy as np

from engine.station.equilibrium import frequency_hz
from engine.station.solved import mover_of
from engine.tests import samples


class Textbook(unittest.TestCase):
    def test_a_mass_on_a_spring(self) -> None:
        # 100 kg on 39.478 N/mm swings 100 times in 31.6 s: 1/(2π)·√(39478/100) = 3.1623 Hz.
        self.assertAlmostEqual(frequency_hz(39.478, 100), math.sqrt(394.78) / (2 * math.pi), places=9)
        self.assertAlmostEqual(frequency_hz(39.478, 100), 3.1623, places=4)

    def test_freudenstein_four_bar(self) -> None:
        values = samples.plate_four_bar()
        mover = mover_of(samples.station(values), travels=np.linspace(-45, 45, 7))
        place = mover.path.solution.motion.place
        index = mover.linkage.index

        def plan(name: str) -> np.ndarray:
            return place[[0, 2], index[name]]

        low, up = plan("low_pivot_in")[:, 0], plan("up_pivot_in")[:, 0]
        ground = up - low
        d, base = float(np.hypot(*ground)), math.atan2(ground[1], ground[0])
        crank, rocker = plan("low_joint_in") - low[:, None], plan("up_joint_in") - up[:, None]
        coupler = plan("up_joint_in") - plan("low_joint_in")
        a, b, c = (np.hypot(*v) for v in (crank, coupler, rocker))
        theta = np.arctan2(crank[1], crank[0]) - base
        phi = np.arctan2(rocker[1], rocker[0]) - base
        # K1·cos(phi) − K2·cos(theta) + K3 = cos(theta − phi)
        k1, k2, k3 = d / a, d / c, (a**2 - b**2 + c**2 + d**2) / (2 * a * c)
        np.testing.assert_allclose(k1 * np.cos(phi) - k2 * np.cos(theta) + k3, np.cos(theta - phi), atol=1e-9)

    def test_a_leaning_spring_loses_the_square_of_its_cosine_and_gains_its_force_term(self) -> None:
        # A very long arm lets its eye move almost straight up; the spring leans sideways by 30 degrees.
        arm_mm, lean = 1e5, math.radians(30)
        values = samples.arm(20, 20)
        points = {"hinge_in": [0, -100, 0], "hinge_out": [0, 100, 0], "wheel": [0.0, 0, 0], "eye": [0, 40, 0]}
        for name in ("wheel", "eye"):
            points[name][0] = -arm_mm / 10
        points["spindle"] = [points["wheel"][0], 100, 0]
        length = 300.0
        points["top"] = [points["eye"][0], 40 + length * math.sin(lean), length * math.cos(lean)]
        spring = {"name": "spring", "kind": "spring", "ends": ["eye", "top"]}
        spring["springs"] = [{"rate": 50, "free_length": 340, "solid_length": 100}]
        values |= {"points": points, "units": [spring], "chassis": ["hinge_in", "hinge_out", "top"]}
        values["bodies"] = {"arm": ["hinge_in", "hinge_out", "wheel", "spindle", "eye"]}
        row = mover_of(samples.station(values)).along
        force = 50 * 40.0
        wanted = 50 * math.cos(lean) ** 2 - force * math.sin(lean) ** 2 / length
        self.assertAlmostEqual(float(row.wheel_rate[0]), wanted, delta=0.2)
        self.assertAlmostEqual(float(row.wheel_force[0]), force * math.cos(lean), delta=0.01)
