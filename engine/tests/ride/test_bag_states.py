"""What a driver does with the valve, and whether plates stand parallel, against the laws by hand."""

import copy
import math
import unittest

import numpy as np

from engine.forces.air import ATMOSPHERE_BAR
from engine.layouts.catalogue import layout_named, starting_project
from engine.limits.joints import angle_deg
from engine.linkage.grid import grid_of
from engine.ride.bags import BagState, bag_states
from engine.ride.plates import plate_tilts
from engine.station.solved import SolvedStation, solve_station
from engine.tests import samples


def bagged(**more: object) -> samples.Values:
    return copy.deepcopy(starting_project(layout_named("arm-on-air"))["stations"][0]) | more


def states(solved: SolvedStation) -> dict[str, BagState]:
    return {state.state: state for state in bag_states(solved)}


class States(unittest.TestCase):
    def setUp(self) -> None:
        self.solved = solve_station(samples.station(bagged()))
        self.states = states(self.solved)

    def test_shut_states_keep_the_gas_law(self) -> None:
        bag = next(law.bag for law in self.solved.springing.laws if law.bag is not None)
        ride = self.states["ride"]
        kept = (ride.pressure + ATMOSPHERE_BAR) * float(bag.volume(np.array([ride.height]))[0][0]) ** bag.law
        for name in ("bump", "droop"):
            state = self.states[name]
            volume = float(bag.volume(np.array([state.height]))[0][0])
            self.assertAlmostEqual((state.pressure + ATMOSPHERE_BAR) * volume**bag.law / kept, 1, delta=1e-9)

    def test_ends_are_the_wanted_ends(self) -> None:
        travel = self.solved.station.travel
        self.assertEqual(
            (self.states["bump"].travel, self.states["droop"].travel), (travel.bump, -travel.droop)
        )

    def test_at_rated_pressure_it_stands_higher_or_at_full_droop(self) -> None:
        lift = self.states["lift"]
        self.assertAlmostEqual(lift.pressure, 8.5)
        self.assertLess(lift.travel, self.states["ride"].travel)
        if lift.travel > -self.solved.station.travel.droop:
            self.assert_carries(lift)

    def test_a_little_more_pressure_stands_where_the_forces_meet(self) -> None:
        values = bagged()
        unit = next(u for u in values["units"] if u["kind"] == "air_spring")
        unit["max_pressure"] = 4.25
        self.solved = solve_station(samples.station(values))
        self.assert_carries(states(self.solved)["lift"])

    def assert_carries(self, state: BagState) -> None:
        rows = self.solved.at(np.array([state.travel]))
        total = 0.0
        for law in self.solved.springing.laws:
            trace = rows.units[law.name]
            force = state.force if law.bag is not None else float(trace.force[0])
            total += float(trace.motion_ratio[0]) * force
        self.assertAlmostEqual(total / self.solved.springing.weight_n, 1, delta=5e-3)

    def test_aired_out_it_lies_as_low_as_anything_lets_it(self) -> None:
        down = self.states["aired_out"]
        self.assertEqual((down.pressure, down.force), (0.0, 0.0))
        # Only the bump stop carries now: deep in bump, and no further than the wanted end.
        self.assertGreater(down.travel, 0.5 * self.solved.station.travel.bump)
        self.assertLessEqual(down.travel, self.solved.station.travel.bump)


class Plates(unittest.TestCase):
    def test_parallel_as_drawn_they_part_by_the_arms_own_turn(self) -> None:
        values = bagged()
        unit = next(u for u in values["units"] if u["kind"] == "air_spring")
        unit["plates"] = {"first": [0, 0, 1], "second": [0, 0, -1]}
        solved = solve_station(samples.station(values))
        grid = grid_of(solved.linkage, 41)
        (tilt,) = plate_tilts(solved, grid)
        hinge, wheel = values["points"]["hinge_in"], values["points"]["wheel"]
        arm = math.hypot(wheel[0] - hinge[0], wheel[2] - hinge[2])
        drawn = math.asin((wheel[2] - hinge[2]) / arm)
        turns = [abs(math.asin((wheel[2] + z - hinge[2]) / arm) - drawn) for z in grid.heave]
        self.assertAlmostEqual(tilt.worst, math.degrees(max(turns)), delta=1e-6)
        self.assertAlmostEqual(tilt.at_ride or 0.0, 0, delta=0.05)

    def test_angles_between_rows(self) -> None:
        one = np.tile([0.0, 0.0, 1.0], (3, 1))
        other = np.array([[0.0, 0, 1], [1.0, 0, 0], [0.0, 1, -1]])
        np.testing.assert_allclose(angle_deg(one, other), [0, 90, 135])


if __name__ == "__main__":
    unittest.main()
