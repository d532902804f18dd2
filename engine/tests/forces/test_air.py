"""Bags against a cylinder and piston worked by hand, against differences, and against their own energy."""

import unittest

import numpy as np

from engine.document.schema import AirSpring
from engine.forces.air import ATMOSPHERE_BAR, Bag, bag_of


def cylinder(law: float, filled: float | None = 200.0) -> Bag:
    """Return a piston of 10,000 mm² in a closed cylinder, filled to 4 bar at 200 mm."""
    heights, areas = np.array([50.0, 300.0]), np.array([1e4, 1e4])
    return Bag(heights=heights, areas=areas, volumes=None, pressure_bar=4.0, law=law, filled_mm=filled)


def bag(**changes: object) -> AirSpring:
    values = {
        "name": "bag", "kind": "air_spring", "ends": ["a", "b"], "pressure": 5.0, "law": 1.38,
        "height_table": [[120, 26000], [180, 25000], [240, 22000], [300, 17000]],
        "min_height": 110, "max_height": 310,
    }  # fmt: skip
    return AirSpring.model_validate(values | changes)


class Cylinder(unittest.TestCase):
    def test_half_the_height_is_twice_the_absolute_pressure_when_slow(self) -> None:
        pressure, _ = cylinder(1.0).pressure(np.array([100.0, 200.0]))
        np.testing.assert_allclose(pressure, [2 * (4 + ATMOSPHERE_BAR) - ATMOSPHERE_BAR, 4.0])

    def test_quick_it_is_two_to_the_law(self) -> None:
        pressure, _ = cylinder(1.38).pressure(np.array([100.0]))
        np.testing.assert_allclose(pressure, 2**1.38 * (4 + ATMOSPHERE_BAR) - ATMOSPHERE_BAR)

    def test_force_is_gauge_pressure_on_the_area(self) -> None:
        # 4 bar is 0.4 N/mm², on 10,000 mm² that is 4,000 N.
        force, rate = cylinder(1.38).at(np.array([200.0]))
        np.testing.assert_allclose(force, [4000.0])
        # n·p_abs·A²/V = 1.38 · 0.501325 · 10,000² / 2,000,000
        np.testing.assert_allclose(rate, [1.38 * 0.501325 * 1e8 / 2e6])

    def test_an_open_valve_holds_its_pressure(self) -> None:
        force, rate = cylinder(1.38, filled=None).at(np.array([80.0, 260.0]))
        np.testing.assert_allclose(force, [4000.0, 4000.0])
        np.testing.assert_allclose(rate, [0.0, 0.0])


class Bags(unittest.TestCase):
    def test_rate_is_the_slope_of_force(self) -> None:
        for made in (
            bag_of(bag()),
            bag_of(bag(height_table=[[120, 26000, 4e6], [200, 24000, 6.1e6], [300, 17000, 8e6]])),
        ):
            for its in (made, made.shut_at(205.0)):
                at = np.array([95.0, 131.0, 187.0, 233.0, 289.0, 321.0])
                force, rate = its.at(at)
                up, down = its.at(at + 1e-4)[0], its.at(at - 1e-4)[0]
                np.testing.assert_allclose(rate, -(up - down) / 2e-4, rtol=1e-6)
                self.assertTrue((force > 0).all())

    def test_an_area_that_shrinks_as_it_extends_adds_rate(self) -> None:
        made = bag_of(bag()).shut_at(210.0)
        straight = bag_of(bag(height_table=[[120, 23500], [300, 23500]])).shut_at(210.0)
        self.assertGreater(made.at(np.array([210.0]))[1][0], straight.at(np.array([210.0]))[1][0])

    def test_volume_from_the_area_is_its_integral(self) -> None:
        made = bag_of(bag())
        at = np.linspace(125, 295, 8)
        fine = [np.linspace(120, height, 4001) for height in at]
        wanted = [26000 * 120 + np.trapezoid(made.area(rows)[0], rows) for rows in fine]
        np.testing.assert_allclose(made.volume(at)[0], wanted, rtol=1e-6)

    def test_volumes_in_the_table_are_used(self) -> None:
        made = bag_of(bag(height_table=[[100, 20000, 3e6], [300, 20000, 5e6]]))
        np.testing.assert_allclose(made.volume(np.array([200.0]))[0], [4e6])

    def test_work_done_on_it_is_what_its_gas_keeps(self) -> None:
        # With the volume integrated from the area, −∫F dh is the gas's own work less the atmosphere's.
        made = bag_of(bag()).shut_at(240.0)
        heights = np.linspace(240, 130, 20001)
        force, _ = made.at(heights)
        work = -float(np.trapezoid(force, heights))
        (v0, v1), p0 = made.volume(np.array([240.0, 130.0]))[0], (5 + ATMOSPHERE_BAR) * 0.1
        gas = p0 * v0 / 0.38 * ((v0 / v1) ** 0.38 - 1)
        atmosphere = ATMOSPHERE_BAR * 0.1 * (v0 - v1)
        self.assertAlmostEqual(work / (gas - atmosphere), 1, places=5)
