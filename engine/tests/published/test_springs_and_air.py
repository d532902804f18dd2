"""More textbook results, worked here by their own formulas.

- Helical springs: A. M. Wahl, Mechanical Springs (1944), chapter 4: k = G·d⁴/(8·D³·n).
- Boyle's and Poisson's laws for a gas shut in a cylinder; the rate of an air column n·p·A²/V: Den Hartog,
  Mechanical Vibrations (1956), chapter 2, and L. Prandtl, Essentials of Fluid Dynamics (1952).
- Two-force members, levers and the reactions of a pinned frame by statics: S. Timoshenko and D. H. Young,
  Engineering Mechanics (1956).
- The distance between convex bodies: E. G. Gilbert, D. W. Johnson and S. S. Keerthi (1988); here against two
  distances known from solid geometry.
"""

import math
import unittest

import numpy as np

from engine.forces.air import ATMOSPHERE_BAR, Bag
from engine.forces.unknown import wire_rate_n_per_mm
from engine.limits.distance import Core, core_distance
from engine.limits.solids import axes_along
from engine.loads.joints import loads_at
from engine.station.solved import solve_station
from engine.tests import samples


class Springs(unittest.TestCase):
    def test_a_helix_of_eight_coils(self) -> None:
        # d = 12, D = 100, n = 8, G = 80 000: 80 000 · 20 736 / (8 · 10⁶ · 8) = 25.92 N/mm.
        self.assertAlmostEqual(wire_rate_n_per_mm(12, 100, 8, 80_000), 25.92, places=9)


class Air(unittest.TestCase):
    def test_a_cylinder_of_constant_area(self) -> None:
        # A = 10 000 mm², 200 mm high, 5 bar gauge: K = n·p_abs·A/h, adiabatic 1.4.
        bag = Bag(
            heights=np.array([100.0, 300.0]),
            areas=np.array([10_000.0, 10_000.0]),
            volumes=None,
            pressure_bar=5.0,
            law=1.4,
            filled_mm=200.0,
        )
        force, rate = bag.at(np.array([200.0]))
        self.assertAlmostEqual(float(force[0]), 5000.0, places=6)
        self.assertAlmostEqual(float(rate[0]), 1.4 * 0.1 * (5 + ATMOSPHERE_BAR) * 10_000 / 200, places=6)
        # Pressed to half its height by the slow law its absolute pressure doubles.
        slow = Bag(
            heights=np.array([100.0, 300.0]),
            areas=np.array([10_000.0, 10_000.0]),
            volumes=None,
            pressure_bar=5.0,
            law=1.0,
            filled_mm=200.0,
        )
        pressure, _ = slow.pressure(np.array([100.0]))
        self.assertAlmostEqual(float(pressure[0]) + ATMOSPHERE_BAR, 2 * (5 + ATMOSPHERE_BAR), places=9)


class Statics(unittest.TestCase):
    def test_a_bell_crank_multiplies_by_its_arms(self) -> None:
        # Square arms of 100 and 50: the rod pushes up with F, the damper must push across with 2F.
        values = samples.arm(20, 20)
        values["points"] = {
            "hinge_in": [0, 300, 250], "hinge_out": [0, 600, 250],
            "wheel": [-400, 700, 250], "spindle": [-400, 800, 250],
            "rod_low": [-400, 450, 250], "rod_top": [-400, 450, 600],
            "pivot_a": [-300, 400, 600], "pivot_b": [-300, 500, 600],
            "eye": [-300, 450, 650], "top": [0, 450, 650],
        }  # fmt: skip
        values["chassis"] = ["hinge_in", "hinge_out", "pivot_a", "pivot_b", "top"]
        values["bodies"] = {
            "arm": ["hinge_in", "hinge_out", "wheel", "spindle", "rod_low"],
            "rod": ["rod_low", "rod_top"],
            "rocker": ["pivot_a", "pivot_b", "rod_top", "eye"],
        }
        solved = solve_station(samples.station(values), steps=3)
        row = int(np.abs(solved.sweep.travels).argmin())
        loads = loads_at(solved, solved.sweep, row)
        damper = loads.units["coilover"]
        self.assertAlmostEqual(-loads.links["rod"], damper / 2, delta=1e-6 * damper)
        self.assertAlmostEqual(loads.wheel_force, damper / 2, delta=1e-6 * damper)
        pivot = np.sum(
            [j.force for j in loads.joints if j.body == "rocker" and j.point.startswith("pivot")], axis=0
        )
        np.testing.assert_allclose(pivot, [damper, 0, -damper / 2], atol=1e-6 * damper)


class Solids(unittest.TestCase):
    def bar(self, centre: list[float], direction: list[float], half: float, disc: float = 0.0) -> Core:
        axes = axes_along(np.array(direction, dtype=float))[None]
        return Core(
            centre=np.array([centre], dtype=float),
            axes=axes,
            half=np.array([[half, 0, 0]], dtype=float),
            disc=np.array([disc]),
            corners=None,
        )

    def test_opposite_edges_of_a_regular_tetrahedron(self) -> None:
        # Edge a: opposite edges are a/√2 apart.
        a = 300.0
        one = self.bar([0, 0, 0], [1, 1, 0], a / 2)
        other = self.bar([0, 0, a / math.sqrt(2)], [1, -1, 0], a / 2)
        self.assertAlmostEqual(float(core_distance(one, other)[0][0]), a / math.sqrt(2), delta=0.003)

    def test_two_discs_side_by_side(self) -> None:
        one, other = self.bar([0, 0, 0], [0, 1, 0], 60, 250), self.bar([700, 40, 0], [0, 1, 0], 60, 250)
        self.assertAlmostEqual(float(core_distance(one, other)[0][0]), 200, delta=0.003)


if __name__ == "__main__":
    unittest.main()
