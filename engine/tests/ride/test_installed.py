"""How a damper is used and how a rocker turns, against plane geometry."""

import math
import unittest

import numpy as np

from engine.layouts.catalogue import layout_named, starting_project
from engine.ride.angles import joint_angle, rocker_joints, rocker_turns
from engine.ride.installed import damper_uses
from engine.station.solved import solve_station
from engine.tests import samples
from engine.workup import WorkUp


def bell_crank() -> samples.Values:
    """A rod straight up from the wheel's end of an arm to a rocker with square arms of 100 and 60."""
    values = samples.arm(30, 30)
    values["points"] = {
        "hinge_in": [0, 300, 250],
        "hinge_out": [0, 600, 250],
        "wheel": [-400, 700, 250],
        "spindle": [-400, 800, 250],
        "rod_low": [-400, 450, 250],
        "rod_top": [-400, 450, 650],
        "pivot_a": [-300, 400, 650],
        "pivot_b": [-300, 500, 650],
        "eye": [-300, 450, 710],
        "top": [0, 450, 710],
    }
    values["chassis"] = ["hinge_in", "hinge_out", "pivot_a", "pivot_b", "top"]
    values["bodies"] = {
        "arm": ["hinge_in", "hinge_out", "wheel", "spindle", "rod_low"],
        "rod": ["rod_low", "rod_top"],
        "rocker": ["pivot_a", "pivot_b", "rod_top", "eye"],
    }
    values["units"][0] |= {"extended": 330, "compressed": 270, "preload": 40}
    return values


class Rockers(unittest.TestCase):
    def test_the_ratio_is_that_of_the_arms_and_both_joints_stand_square(self) -> None:
        solved = solve_station(samples.station(bell_crank()), steps=31)
        row = int(np.abs(solved.sweep.travels).argmin())
        self.assertAlmostEqual(float(solved.sweep.units["coilover"].motion_ratio[row]), 0.6, delta=1e-9)
        for joint in rocker_joints(solved.linkage):
            self.assertAlmostEqual(
                float(joint_angle(solved.linkage, joint, solved.sweep.solution)[row]), 90, delta=1e-6
            )

    def test_it_turns_as_the_rods_end_rises(self) -> None:
        solved = solve_station(samples.station(bell_crank()), steps=31)
        (turn,) = rocker_turns(solved.linkage, solved.sweep.travels, solved.sweep.solution, 0.0)
        # With so long a rod its top rises nearly as its foot: sin of the turn is the rise over the arm.
        for angle, rise in ((turn.bump, 30), (turn.droop, -30)):
            self.assertAlmostEqual(abs(math.sin(math.radians(angle))), abs(rise) / 100, delta=0.004)
        self.assertLess(turn.bump * turn.droop, 0)
        self.assertAlmostEqual(turn.square_at["rod"] or 0.0, 0, delta=0.2)
        self.assertAlmostEqual(turn.over_centre["rod"], 90 - math.degrees(math.asin(0.3)), delta=2.0)

    def test_stops_and_straps_are_no_arms(self) -> None:
        values = bell_crank()
        values["units"].append(samples.bump_stop("stop", "eye", "top", 285))
        self.assertEqual(
            {j.rod for j in rocker_joints(solve_station(samples.station(values)).linkage)},
            {"rod", "coilover"},
        )


class Dampers(unittest.TestCase):
    def test_used_and_left_add_up_to_the_stroke(self) -> None:
        for name in ("wishbones-lower", "pushrod", "axle-four-link", "strut-adapter"):
            values = starting_project(layout_named(name))["stations"][0]
            for use in damper_uses(solve_station(samples.station(values))):
                self.assertAlmostEqual(
                    use.left_in_bump + use.used + use.left_in_droop, use.stroke, delta=1e-6
                )
                assert use.split_bump is not None
                self.assertTrue(0 < use.split_bump < 1)

    def test_a_damper_that_leans_loses_by_the_cosine(self) -> None:
        values = samples.arm(20, 20)
        # Moving eye level with the hinge: its path is upright, so the lean is the installed angle.
        for lean in (0.0, 15.0, 40.0):
            values["points"]["eye"] = [-250, 450, 250]
            out = 300 * math.sin(math.radians(lean))
            values["points"]["top"] = [-250, 450 + out, 250 + 300 * math.cos(math.radians(lean))]
            values["units"] = [
                {
                    "name": "damper",
                    "kind": "damper",
                    "ends": ["eye", "top"],
                    "extended": 340,
                    "compressed": 240,
                }
            ]
            (use,) = damper_uses(solve_station(samples.station(values)))
            self.assertAlmostEqual(use.installed_angle or 0.0, lean, delta=1e-6)
            self.assertAlmostEqual(use.path_share or 0.0, math.cos(math.radians(lean)), delta=1e-9)

    def test_an_adapter_counts_as_length_not_as_stroke(self) -> None:
        values = starting_project(layout_named("strut-adapter"))["stations"][0]
        plain = {**values, "units": [dict(u) for u in values["units"]]}
        coilover = next(u for u in plain["units"] if u["kind"] == "coilover")
        made_up = sum(coilover.pop("adapter").values())
        coilover["extended"] += made_up
        coilover["compressed"] += made_up
        one, other = (damper_uses(solve_station(samples.station(v)))[0] for v in (values, plain))
        self.assertAlmostEqual(one.left_in_bump, other.left_in_bump, delta=1e-9)
        self.assertAlmostEqual(one.stroke, other.stroke, delta=1e-9)


class Answers(unittest.TestCase):
    def test_a_station_without_fittings_is_asked_nothing_it_has_not(self) -> None:
        work = WorkUp(solve_station(samples.station(samples.arm()), steps=9))
        self.assertEqual(
            (work.tilts, work.shafts, work.eyes, work.clearances, work.plates, work.bags), ((),) * 6
        )
        self.assertNotIn("grid", vars(work), "the grid was solved for nothing")
        self.assertIsNone(work.forced)
        self.assertEqual(work.crossovers, {})


if __name__ == "__main__":
    unittest.main()
