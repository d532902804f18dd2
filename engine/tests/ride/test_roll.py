"""Contacts, roll centres, roll stiffness, and the vehicle's balance, against closed forms and other routes."""

import math
import unittest

import numpy as np

from engine.document.read import check_project
from engine.layouts.catalogue import layout_named, starting_project
from engine.linkage.linkage import Linkage
from engine.results.whole import work_project
from engine.ride.axle import axle_motion, axle_roll_centre_mm, pinion_angle_deg
from engine.ride.contact import contact_of, roll_centre_mm
from engine.ride.roll import NM_PER_DEG, articulation_stiffness, roll_of, spring_base_mm, with_wider_base
from engine.station.solved import solve_station
from engine.tests import samples


def swing_half_axle(inner: float, height: float) -> samples.Values:
    """Return a half axle swinging about a fore–aft line at a place across the car."""
    values = samples.arm(40, 40)
    values["points"] |= {
        "hinge_in": [150, inner, height],
        "hinge_out": [-150, inner, height],
        "wheel": [0, 700, 300],
        "spindle": [0, 800, 300],
        "eye": [0, 500, 300],
        "top": [0, 480, 620],
    }
    values["wheels"][0] |= {"tyre_radius": 300, "tyre_width": 200}
    return values


class RollCentres(unittest.TestCase):
    def test_of_a_swing_axle_is_where_its_contact_looks_through_its_pivot(self) -> None:
        for inner, height in ((60.0, 300.0), (-150.0, 260.0), (200.0, 340.0)):
            station = samples.station(swing_half_axle(inner, height))
            linkage = Linkage(station)
            contact = contact_of(linkage, station.wheels[0], linkage.follow(np.array([0.0])).solution)
            # Contact at (700, 0); the line through the pivot meets the centreline at this height.
            expected = height * 700 / (700 - inner)
            self.assertAlmostEqual(float(roll_centre_mm(contact)[0]), expected, delta=1e-6)

    def test_contact_moves_as_its_speed_says(self) -> None:
        station = samples.station(samples.pushrod_corner())
        linkage = Linkage(station)
        path = linkage.follow(np.array([-20.0, 0.0, 20.0]))
        here, up, down = (
            contact_of(linkage, station.wheels[0], linkage.at(path, path.travels + d))
            for d in (0, 1e-3, -1e-3)
        )
        np.testing.assert_allclose(here.speed, (up.place - down.place) / 2e-3, atol=1e-6)

    def test_of_an_axle_with_a_lateral_link_lies_on_that_link(self) -> None:
        # Parallel links let it move freely sideways: only the lateral link places it, at mid-height on the centre.
        values = samples.axle(triangulated=False)
        for wheel in values["wheels"]:
            wheel |= {"tyre_radius": 320, "tyre_width": 200}
        values["points"]["lateral_frame"][0] = values["points"]["lateral_axle"][0] = 0
        for side in ("left", "right"):
            for name in (f"low_front_{side}", f"up_front_{side}"):
                values["points"][name][2] = values["points"][name.replace("_front", "")][2]
        height = axle_roll_centre_mm(Linkage(samples.station(values)), "axle", 0.0)
        link = [values["points"][p] for p in ("lateral_axle", "lateral_frame")]
        share = link[0][1] / (link[0][1] - link[1][1])
        self.assertAlmostEqual(height, link[0][2] + share * (link[1][2] - link[0][2]), delta=4.0)


class RollStiffness(unittest.TestCase):
    def test_upright_springs_on_an_axle_are_their_base_squared(self) -> None:
        values = samples.axle()
        for side, sign in (("left", 1), ("right", -1)):
            values["points"][f"seat_{side}"] = [0, sign * 450, 320]
            values["points"][f"tower_{side}"] = [0, sign * 450, 680]
        for unit in values["units"]:
            unit |= {"gas_force": 0, "preload": 40, "extended": 420, "compressed": 280}
        solved = solve_station(samples.station(values), steps=21)
        roll = roll_of(solved)
        assert roll is not None and roll.spring_base is not None
        self.assertAlmostEqual(roll.spring_base, 900)
        self.assertAlmostEqual(roll.stiffness / (45 * 900**2 / 2 * NM_PER_DEG), 1, delta=0.12)

    def test_an_independent_pair_is_wheel_rate_times_track_squared(self) -> None:
        solved = solve_station(samples.station(samples.arm()), steps=9)
        roll = roll_of(solved)
        assert roll is not None and solved.ride is not None
        self.assertAlmostEqual(
            roll.stiffness, solved.ride.wheel_rate * 1400**2 / 2 * math.pi / 180 / 1000, delta=1e-6
        )

    def test_stiffness_against_articulation_is_the_slope_of_its_force(self) -> None:
        solved = solve_station(samples.station(samples.axle()), steps=9)
        assert solved.ride is not None

        def force(amount: float) -> float:
            rows = solved.across(np.array([amount]), solved.ride.travel)
            return sum(float(t.motion_ratio[0] * t.force[0]) for t in rows.units.values())

        self.assertAlmostEqual(articulation_stiffness(solved), (force(0.5) - force(-0.5)), delta=0.02)

    def test_springs_further_out_are_stiffer_in_roll(self) -> None:
        station = samples.station(samples.axle())
        solved = solve_station(station, steps=9)
        wider = solve_station(with_wider_base(station, 10.0), steps=9)
        base, more = spring_base_mm(solved), spring_base_mm(wider)
        assert base is not None and more is not None
        self.assertAlmostEqual(more - base, 20)
        roll = roll_of(solved)
        assert roll is not None and roll.by_base is not None
        self.assertGreater(roll.by_base, 0)


class Axle(unittest.TestCase):
    def test_swing_and_wind_up_of_equal_parallel_links(self) -> None:
        # Upper and lower links equal and parallel: no wind-up, and the axle swings on their arc.
        values = samples.axle(triangulated=False)
        for side in ("left", "right"):
            y = values["points"][f"low_{side}"][1]
            values["points"] |= {
                f"low_front_{side}": [600, y, 250],
                f"low_{side}": [0, y, 250],
                f"up_front_{side}": [600, y, 430],
                f"up_{side}": [0, y, 430],
            }
        linkage = Linkage(samples.station(values))
        path = linkage.follow(np.array([-40.0, 0.0, 40.0]))
        motion = axle_motion(linkage, "axle", path.solution.motion.place)
        np.testing.assert_allclose(motion.wind_up, 0, atol=0.05)
        self.assertAlmostEqual(float(motion.swing[2]), 600 - math.sqrt(600**2 - 40**2), delta=0.1)

    def test_the_pinion_turns_with_the_axle(self) -> None:
        values = samples.axle()
        values["points"] |= {"pinion": [150, 0, 320], "gearbox": [1200, 0, 380]}
        values["bodies"]["axle"].append("pinion")
        values["chassis"].append("gearbox")
        rise = math.tan(math.radians(2.5))
        values["shafts"] = [
            {
                "name": "propshaft",
                "ends": ["gearbox", "pinion"],
                "axes": [[1, 0, 0], [-1, 0, -rise]],
                "rated": 8,
            }
        ]
        linkage = Linkage(samples.station(values))
        place = linkage.follow(np.array([-40.0, 0.0, 40.0])).solution.motion.place
        angle = pinion_angle_deg(linkage, "axle", place)["propshaft"]
        self.assertAlmostEqual(float(angle[1]), 2.5, delta=1e-6)
        wound = axle_motion(linkage, "axle", place).wind_up
        np.testing.assert_allclose(angle - 2.5, wound, atol=0.02)


class Balance(unittest.TestCase):
    def project(self, height: float) -> samples.Values:
        front = starting_project(layout_named("wishbones-lower"))["stations"][0]
        rear = starting_project(layout_named("axle-four-link"))["stations"][0]
        rear["points"] = {name: [x - 2600, y, z] for name, (x, y, z) in rear["points"].items()}
        return samples.document(front, rear) | {"vehicle": {"cg_height": height}}

    def test_lean_is_moment_over_stiffness(self) -> None:
        worked = work_project(check_project(self.project(560)))
        balance = worked.balance
        assert balance is not None and balance.gradient is not None
        stiffness = sum(s.work.roll.stiffness for s in worked.stations if s.work.roll is not None)
        tilting = balance.sprung_mass * 9.80665 * balance.arm / 1000
        # Solved the long way: the lean at which springs hold the moment of a mass that leans out with them.
        lean = 1.0
        for _ in range(100):
            lean = (tilting + tilting * math.radians(lean)) / stiffness
        self.assertAlmostEqual(balance.gradient, lean, delta=1e-6)
        self.assertAlmostEqual(balance.sprung_mass, 4 * (280 - 38))
        assert balance.front_share is not None
        self.assertTrue(0.5 < balance.front_share < 0.95)

    def test_a_tall_vehicle_wants_a_bar_and_with_it_leans_as_wanted(self) -> None:
        worked = work_project(check_project(self.project(1100)))
        balance = worked.balance
        assert balance is not None
        self.assertGreater(balance.wanted_bar, 0)
        self.assertEqual([f.mark for f in worked.findings], ["warning"])
        stiffness = sum(s.work.roll.stiffness for s in worked.stations if s.work.roll is not None)
        tilting = balance.sprung_mass * 9.80665 * balance.arm / 1000
        with_bar = tilting / (stiffness + balance.wanted_bar - tilting * math.pi / 180)
        self.assertAlmostEqual(with_bar, 6.0, delta=1e-6)


if __name__ == "__main__":
    unittest.main()
