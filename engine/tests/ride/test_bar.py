"""Anti-roll bars against closed forms: a round bar's twist, an arm that swings, energy in roll, the mirrored side."""

import copy
import json
import math
import unittest

import numpy as np

from engine.document.mirror import mirrored_station
from engine.document.read import check_project
from engine.errors import DocumentRefused
from engine.findings.judge import judge
from engine.results.result_file import solve_project
from engine.ride.angles import rocker_joints
from engine.ride.bar import bar_at_wheel, twist_rate_nm_per_deg
from engine.ride.roll import bars_of, roll_of
from engine.sizing.bars import bar_options
from engine.station.solved import SolvedStation, solve_station
from engine.tests import samples

BAR = {"name": "bar", "kind": "bar", "length": 900.0, "diameter": 20.0}


def barred(**more: object) -> samples.Values:
    """Return the arm with a bar along y, its arm level forward of the bar, the drop link upright above the wheel's arm."""
    values = copy.deepcopy(samples.arm())
    values["points"] |= {"drop": [-300, 500, 250], "held": [-500, 450, 400]}
    values["chassis"] = [*values["chassis"], "held"]
    values["bodies"]["arm"] = [*values["bodies"]["arm"], "drop"]
    bar = BAR | {"ends": ["drop", "held"], "tip": [-300, 500, 400]} | more
    values["units"] = [*values["units"], bar]
    return values


def solved(values: samples.Values) -> SolvedStation:
    return solve_station(samples.station(values), steps=9)


class Bars(unittest.TestCase):
    def test_a_round_bar_twists_as_the_textbook_says(self) -> None:
        # G·π·d⁴/32 over 900 mm with d = 20: 78 500 · 15 708 / 900 N·mm/rad.
        station = samples.station(barred())
        rate = twist_rate_nm_per_deg(station.units[-1])
        self.assertAlmostEqual(rate, 78_500 * math.pi * 20**4 / 32 / 900 / 1000 * math.pi / 180, places=9)
        self.assertAlmostEqual(rate, 23.91, delta=0.01)
        tube = samples.station(barred(bore=14.0)).units[-1]
        self.assertAlmostEqual(twist_rate_nm_per_deg(tube) / rate, 1 - (14 / 20) ** 4, places=9)

    def test_an_arm_square_to_its_link_turns_by_rise_over_arm(self) -> None:
        # Drawn: the drop point rises 300/400 of the wheel, the bar's arm is 200 mm and square to the link.
        one = solved(barred())
        assert one.ride is not None
        (its,) = bars_of(one)
        self.assertAlmostEqual(its.arm_speed, -300 / 400 / 200 * 180 / math.pi, delta=0.01 * 0.215)
        self.assertAlmostEqual(its.square, 90, delta=3)

    def test_the_arm_s_speed_is_the_difference_of_its_places(self) -> None:
        one = solved(barred())
        bar = one.station.units[-1]
        angles = []
        for travel in (-1e-3, 1e-3):
            place = one.at(np.array([travel])).solution.motion.place[:, one.linkage.index["drop"], 0]
            # Two circles in the plane of the arm: the link's length is drawn 150 mm, in y they stand together.
            d = place[[0, 2]] - np.array([-500.0, 400.0])
            size = float(np.hypot(*d))
            inner = math.acos((200**2 + size**2 - (150**2 - (place[1] - 500) ** 2)) / (2 * 200 * size))
            angles.append(math.atan2(d[1], d[0]) + inner)
        speed = math.degrees(angles[1] - angles[0]) / 2e-3
        here = bar_at_wheel(one.station, bar, one.at(np.array([0.0])), one.linkage.index)
        assert here is not None
        self.assertAlmostEqual(abs(here.arm_speed), abs(speed), delta=1e-4)

    def test_roll_is_springs_and_bar_and_energy_agrees(self) -> None:
        bare, with_bar = solved(copy.deepcopy(samples.arm())), solved(barred())
        one, other = roll_of(bare), roll_of(with_bar)
        assert one and other and with_bar.ride
        self.assertAlmostEqual(other.stiffness - one.stiffness, other.bar, places=6)
        (its,) = bars_of(with_bar)
        # A degree of roll lifts one wheel and drops the other by t/2·φ; the bar stores ½·k·(2θ)².
        lift = other.track / 2 * math.pi / 180
        twist = 2 * its.arm_speed * lift
        energy = 0.5 * its.twist_rate * twist * twist  # N·m·deg
        self.assertAlmostEqual(energy, 0.5 * other.bar, places=6)
        self.assertEqual(bare.ride and bare.ride.travel, with_bar.ride.travel)
        assert other.one_wheel is not None and bare.ride is not None
        self.assertAlmostEqual(other.one_wheel - bare.ride.wheel_rate, its.in_roll / 2, places=9)

    def test_an_axles_bar_counts_as_its_two_halves_do(self) -> None:
        values = samples.axle()
        for side, sign in (("left", 1), ("right", -1)):
            values["points"] |= {f"drop_{side}": [0, 500 * sign, 320]}
            values["bodies"]["axle"].append(f"drop_{side}")
        values["points"]["held"] = [200, 450, 470]
        values["chassis"].append("held")
        bar = BAR | {"ends": ["drop_left", "held"], "tip": [0, 500, 470]}
        one, other = solved(samples.axle()), solved(values | {"units": [*values["units"], bar]})
        a, b = roll_of(one), roll_of(other)
        assert a and b
        (its,) = bars_of(other)
        # The axle turns about its middle: 500/750 of the wheel's rise at the drop link, arm 200 mm.
        self.assertAlmostEqual(abs(its.arm_speed), 500 / 750 / 200 * 180 / math.pi, delta=0.02 * 0.19)
        self.assertAlmostEqual(b.stiffness - a.stiffness, b.bar, delta=1e-6 * b.stiffness)

    def test_the_mirrored_side_has_the_same_bar(self) -> None:
        values = barred()
        one, other = roll_of(solved(values)), roll_of(solved(mirrored_station(values, "other")))
        assert one and other
        self.assertAlmostEqual(one.bar, other.bar, places=6)

    def test_a_bar_makes_no_rocker_of_an_arm(self) -> None:
        plain = samples.station(samples.arm())
        self.assertEqual(
            [joint.rod for joint in rocker_joints(solved(barred()).linkage)],
            [joint.rod for joint in rocker_joints(solve_station(plain, steps=9).linkage)],
        )

    def test_which_bar_is_enough(self) -> None:
        one = solved(barred())
        options = bar_options(one, None)
        rolls = [option.in_roll for option in options]
        self.assertEqual(rolls, sorted(rolls))
        wanted = rolls[4] * 0.99
        suits = [option for option in bar_options(one, wanted) if option.suits]
        self.assertEqual([option.in_roll for option in suits], [rolls[4]])
        self.assertEqual(bar_options(solved(samples.arm()), None), ())

    def test_a_drop_link_along_its_arm_is_said_to_do_nothing(self) -> None:
        values = barred(tip=[-300, 500, 400])
        values["points"]["held"] = [-300, 450, 640]
        found = {f.code for f in judge(solved(values))}
        self.assertIn("bar_dead", found)

    def test_bad_bars_are_refused_and_a_good_one_is_told_in_the_results(self) -> None:
        for more in (
            {"rate": 20.0},
            {"diameter": None},
            {"bore": 25.0},
            {"axis": [0, 0, 0]},
            {"tip": [-500, 900, 400]},
        ):
            with self.assertRaises(DocumentRefused, msg=str(more)):
                check_project(samples.document(barred(**more)))
        found = solve_project(check_project(samples.document(barred())), 5, remedies=False)["stations"][0]
        self.assertGreater(found["roll"]["from_bars"], 0)
        json.dumps(found, allow_nan=False)


if __name__ == "__main__":
    unittest.main()
