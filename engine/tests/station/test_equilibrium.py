"""Standing on its weight: found, unique where it should be, and refused in words where it is not."""

import unittest

import numpy as np

from engine.station.solved import solve_station
from engine.tests import samples


class Equilibrium(unittest.TestCase):
    def test_force_is_weight_at_ride(self) -> None:
        for name, values in samples.every_linkage().items():
            with self.subTest(name):
                solved = solve_station(samples.station(values), steps=5)
                assert solved.ride and solved.at_ride, solved.ride_fault
                mass = values["mass"]["corner"] - values["mass"]["unsprung"]
                self.assertAlmostEqual(float(solved.at_ride.wheel_force[0]), mass * 9.80665, delta=1e-4)

    def test_frequency_is_that_of_a_small_bounce(self) -> None:
        # Let the sprung mass bounce 0.1 mm on the solved forces and time the zero crossings.
        values = samples.arm()
        solved = solve_station(samples.station(values), steps=201)
        assert solved.ride
        mass = values["mass"]["corner"] - values["mass"]["unsprung"]
        travels, forces = solved.sweep.travels, solved.sweep.wheel_force
        x, v, dt, crossings = solved.ride.travel + 0.1, 0.0, 2e-5, []
        for step in range(100_000):
            a = (mass * 9.80665 - np.interp(x, travels, forces)) / mass * 1000
            v += a * dt
            before, x = x, x + v * dt
            if before < solved.ride.travel <= x:
                crossings.append(step * dt)
        period = (crossings[-1] - crossings[0]) / (len(crossings) - 1)
        self.assertAlmostEqual(1 / period, solved.ride.frequency, delta=0.01)

    def test_wheel_rate_includes_the_changing_ratio(self) -> None:
        solved = solve_station(samples.station(samples.pushrod_corner()), steps=5)
        assert solved.ride and solved.at_ride
        unit = solved.at_ride.units["coilover"]
        alone = float(unit.motion_ratio[0] ** 2 * unit.rate[0])
        self.assertAlmostEqual(solved.ride.wheel_rate, alone + solved.ride.rate_from_ratio, delta=1e-9)
        self.assertGreater(abs(solved.ride.rate_from_ratio), 0.5)

    def test_sag_is_counted_from_full_droop(self) -> None:
        solved = solve_station(samples.station(samples.pushrod_corner()), steps=5)
        assert solved.ride
        self.assertAlmostEqual(solved.ride.sag, solved.ride.travel + 40)

    def test_preload_left_is_what_the_stack_is_squeezed_by_at_full_droop(self) -> None:
        solved = solve_station(samples.station(samples.arm()), steps=41)
        longest = float(solved.sweep.units["coilover"].length.max())
        self.assertAlmostEqual(solved.preload_left["coilover"], 5 + 345 - longest)
        # A damper that tops out first holds its coil at its preload.
        values = samples.arm()
        values["units"][0]["extended"] = 320
        self.assertAlmostEqual(solve_station(samples.station(values), steps=41).preload_left["coilover"], 5)

    def test_too_soft_too_stiff_and_springless(self) -> None:
        for rate, words in ((1.0, "at most"), (2000.0, "at least")):
            values = samples.arm(20, 20)
            values["units"][0]["springs"][0]["rate"] = rate
            solved = solve_station(samples.station(values), steps=5)
            self.assertIsNone(solved.ride)
            self.assertIn(words, str(solved.ride_fault))
        bare = solve_station(samples.station(samples.arm() | {"units": []}), steps=5)
        self.assertIn("no spring", str(bare.ride_fault))

    def test_a_unit_that_lengthens_in_bump_is_told_as_such(self) -> None:
        values = samples.arm(20, 20)
        values["points"]["top"] = [-220, 450, 20]
        values["units"][0] |= {"extended": 300, "compressed": 150}
        solved = solve_station(samples.station(values), steps=5)
        self.assertIn("longer in bump", str(solved.ride_fault))

    def test_settling_beyond_the_wanted_travel_says_how_far(self) -> None:
        values = samples.arm(20, 20)
        values["units"][0]["springs"][0]["rate"] = 58
        values["units"][0]["preload"] = 21
        solved = solve_station(samples.station(values), steps=5)
        self.assertIsNone(solved.ride)
        self.assertRegex(str(solved.ride_fault), r"about \d+\.\d mm past full droop")
