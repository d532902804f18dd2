"""Standing on air: the stated pressure is that at ride height, and the valve is shut there."""

import copy
import unittest

import numpy as np

from engine.findings.judge import judge
from engine.station.solved import SolvedStation, solve_again, solve_station
from engine.tests import samples


def on_air(**changes: object) -> samples.Values:
    values = samples.bagged_arm()
    values["units"][0] |= changes
    return values


def solved(values: samples.Values) -> SolvedStation:
    return solve_station(samples.station(values), steps=41)


class OnAir(unittest.TestCase):
    def test_the_stated_pressure_carries_the_weight_at_ride(self) -> None:
        found = solved(on_air())
        assert found.ride and found.at_ride
        law = next(law for law in found.springing.laws if law.bag)
        assert law.bag
        height = found.at_ride.units["bag"].length
        self.assertAlmostEqual(float(law.bag.pressure(height)[0][0]), 3.2, places=9)
        self.assertAlmostEqual(float(found.at_ride.wheel_force[0]), 185 * 9.80665, delta=1e-4)

    def test_the_wheel_rate_is_the_slope_of_the_wheel_force_with_the_valve_shut(self) -> None:
        found = solve_station(samples.station(on_air()), steps=41)
        assert found.ride
        up, down = (found.at(np.array([found.ride.travel + d])) for d in (1e-3, -1e-3))
        slope = (up.wheel_force[0] - down.wheel_force[0]) / 2e-3
        self.assertAlmostEqual(found.ride.wheel_rate / float(slope), 1, places=6)

    def test_quick_is_stiffer_than_slow(self) -> None:
        quick, slow = solved(on_air(law=1.38)), solved(on_air(law=1.0))
        assert quick.ride and slow.ride
        self.assertAlmostEqual(quick.ride.travel, slow.ride.travel, delta=1e-6)
        self.assertGreater(quick.ride.frequency, slow.ride.frequency)

    def test_more_pressure_stands_higher(self) -> None:
        rides = [solved(on_air(pressure=p)).ride for p in (3.1, 3.2, 3.3)]
        travels = [ride.travel for ride in rides if ride]
        self.assertEqual(len(travels), 3)
        self.assertEqual(travels, sorted(travels, reverse=True))

    def test_the_pressure_that_holds_it_as_drawn_does(self) -> None:
        found = solved(on_air())
        assert found.pressure_wanted_bar
        again = solved(on_air(pressure=found.pressure_wanted_bar))
        assert again.ride
        self.assertAlmostEqual(again.ride.travel, 0, delta=1e-5)

    def test_a_pressure_that_holds_nothing_is_said_with_the_one_that_would(self) -> None:
        found = solved(on_air(pressure=0.6))
        self.assertFalse(found.filled_at_ride)
        finding = next(f for f in judge(found) if f.code == "bag_filling")
        assert finding.remedy
        self.assertEqual(finding.mark, "warning")
        needed = finding.remedy.quantities["needed"].value
        self.assertTrue(solved(on_air(pressure=needed)).filled_at_ride)

    def test_solving_twice_is_solving_once(self) -> None:
        one = solve_station(samples.station(on_air()), steps=11)
        two = solve_again(one, one.station)
        np.testing.assert_array_equal(one.sweep.wheel_force, two.sweep.wheel_force)


class BagFindings(unittest.TestCase):
    def marks(self, values: samples.Values, code: str) -> list[str]:
        return [f.mark for f in judge(solved(values)) if f.code == code]

    def test_heights(self) -> None:
        self.assertEqual(self.marks(on_air(), "bag_heights"), ["good"])
        for key, code in (("min_height", "bag_min_height"), ("max_height", "bag_max_height")):
            values = on_air(**{key: 270 if key == "min_height" else 320})
            finding = next(f for f in judge(solved(values)) if f.code == code)
            assert finding.remedy
            self.assertEqual(finding.mark, "fault")
            over = finding.remedy.quantities["over"].value
            way = -1 if key == "min_height" else 1
            self.assertEqual(
                self.marks(on_air(**{key: values["units"][0][key] + way * (over + 1e-6)}), code), []
            )

    def test_pressure_against_what_it_is_rated_for(self) -> None:
        self.assertEqual(self.marks(on_air(), "bag_pressure"), ["good"])
        self.assertEqual(self.marks(on_air(max_pressure=3.5), "bag_pressure"), ["warning"])
        self.assertEqual(self.marks(on_air(max_pressure=3.0), "bag_pressure"), ["fault"])
        self.assertEqual(self.marks(on_air(max_pressure=20.0), "bag_pressure"), ["warning"])
        self.assertEqual(self.marks(on_air(max_pressure=None), "bag_pressure"), [])

    def test_a_bag_without_a_damper_is_a_fault(self) -> None:
        values = on_air()
        self.assertEqual(self.marks(values, "bag_without_damper"), [])
        bare = copy.deepcopy(values)
        del bare["units"][1]
        self.assertEqual(self.marks(bare, "bag_without_damper"), ["fault"])
