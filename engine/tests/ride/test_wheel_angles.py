"""The wheel's own angles by other routes: differences, drawn geometry, mirrored sides, remedies tried by solving."""

import copy
import math
import unittest

import numpy as np

from engine.findings.finding import RULES, Finding
from engine.findings.judge import judge
from engine.layouts.catalogue import layout_named, starting_project
from engine.remedies.remedy import remedy_for
from engine.ride.wheel_angles import (
    RISE_MM,
    lock_of,
    steering_axis,
    tie_rod_of,
    wheel_angles,
)
from engine.station.solved import SolvedStation, solve_station
from engine.tests import samples


def corner(**more: object) -> samples.Values:
    return copy.deepcopy(samples.pushrod_corner()) | more


def solved(values: samples.Values) -> SolvedStation:
    return solve_station(samples.station(values), steps=21)


class Angles(unittest.TestCase):
    def test_bump_steer_and_camber_gain_are_the_sweeps_own_differences(self) -> None:
        one = solved(corner())
        assert one.ride is not None
        (its,) = wheel_angles(one)
        rows = one.at(np.array([one.ride.travel + d for d in (-RISE_MM, 0.0, RISE_MM)]))
        toe, camber = rows.wheels["wheel"].toe, rows.wheels["wheel"].camber
        self.assertAlmostEqual(abs(its.bump_steer), float(np.abs(toe - toe[1]).max()), places=9)
        self.assertAlmostEqual(its.camber_gain, float(camber[2] - camber[0]) / 2, places=9)
        assert its.rim_mm is not None
        self.assertAlmostEqual(its.rim_mm, 2 * 292 * math.sin(math.radians(its.bump_steer)), places=6)

    def test_the_axis_is_that_of_the_two_ball_joints(self) -> None:
        one = solved(corner())
        axis = steering_axis(one)
        assert axis is not None and one.at_ride is not None
        place = one.at_ride.solution.motion.place[:, :, 0]
        low, high = (place[:, one.linkage.index[n]] for n in (axis.lower, axis.upper))
        x, y, z = high - low
        self.assertAlmostEqual(math.tan(math.radians(axis.caster)), -x / z, places=9)
        self.assertAlmostEqual(math.tan(math.radians(axis.kingpin)), -y / z, places=9)

    def test_the_other_side_has_the_same_and_another_datum_too(self) -> None:
        values = corner()
        steering = {"tie_rod": "tie_rod", "travel": 30.0, "wheelbase": 2400.0}
        one, other = (solved(v | {"steering": steering}) for v in (values, samples.mirrored(values)))
        shifted = copy.deepcopy(values) | {"steering": steering}
        shifted["points"] = {n: [x + 1200, y, z - 80] for n, (x, y, z) in values["points"].items()}
        third = solved(shifted)
        for its in (other, third):
            a, b = wheel_angles(one)[0], wheel_angles(its)[0]
            self.assertAlmostEqual(a.bump_steer, b.bump_steer, places=6)
            self.assertAlmostEqual(a.camber_gain, b.camber_gain, places=6)
            c, d = steering_axis(one), steering_axis(its)
            assert c is not None and d is not None
            for key in ("caster", "kingpin", "scrub", "trail"):
                self.assertAlmostEqual(getattr(c, key), getattr(d, key), places=5)
            e, f = (lock_of(s, s.station.steering) for s in (one, its))
            assert e is not None and f is not None
            self.assertAlmostEqual(e.inner, f.inner, places=5)
            self.assertAlmostEqual(e.outer, f.outer, places=5)

    def test_lock_turns_the_wheel_as_its_steering_arm_says(self) -> None:
        # For a small rack travel the wheel turns by travel over the arm's length square to the rod.
        values = corner() | {"steering": {"tie_rod": "tie_rod", "travel": 1.0}}
        one = solved(values)
        lock = lock_of(one, one.station.steering)
        axis, steered = steering_axis(one), tie_rod_of(one.linkage, one.station.wheels[0])
        assert lock is not None and axis is not None and steered is not None and one.at_ride is not None
        self.assertEqual(steered[0], "tie_rod")
        place = one.at_ride.solution.motion.place[:, :, 0]
        low, high, outer, inner = (
            place[:, one.linkage.index[n]] for n in (axis.lower, axis.upper, steered[1], steered[2])
        )
        way = (high - low) / np.linalg.norm(high - low)
        rod = (inner - outer) / np.linalg.norm(inner - outer)
        lever = float(np.cross(way, outer - low) @ rod)
        turned = math.degrees(float(rod[1]) / lever) * way[2]
        self.assertAlmostEqual((lock.inner + lock.outer) / 2, abs(turned), delta=0.02 * abs(turned))


class Judged(unittest.TestCase):
    def clear(self, values: samples.Values, code: str) -> tuple[Finding, str]:
        one = solved(values)
        found = judge(one, RULES)
        finding = next(f for f in found if f.code == code)
        self.assertNotEqual(finding.mark, "good", str(finding.what))
        remedy = remedy_for(one, found, finding, RULES)
        assert remedy is not None, f"nothing clears {finding.what}"
        again = judge(solve_station(samples.station(remedy.values), steps=21), RULES)
        self.assertEqual([f.mark for f in again if f.code == code], ["good"], str(remedy.what))
        return finding, str(remedy.what)

    def test_a_rack_too_low_is_raised_or_its_rod_shimmed(self) -> None:
        values = corner()
        values["points"]["rack"] = [c + d for c, d in zip(values["points"]["rack"], (0, 0, -25), strict=True)]
        _, words = self.clear(values, "bump_steer")
        self.assertRegex(words, "Shim|Raise|Lower")

    def test_camber_that_is_lost_is_won_back_at_the_upper_pivots(self) -> None:
        values = corner()
        for name in ("upper_front", "upper_rear"):
            values["points"][name][2] += 75
        _, words = self.clear(values, "camber_gain")
        self.assertIn("Lower", words)

    def test_a_wheel_that_an_arm_carries_has_no_axis_and_is_not_asked_for_one(self) -> None:
        found = judge(solve_station(samples.station(samples.arm())), RULES)
        self.assertFalse({"caster", "scrub", "camber_gain"} & {f.code for f in found})

    def test_a_pinion_that_nods_is_held_by_longer_links(self) -> None:
        values = copy.deepcopy(starting_project(layout_named("axle-four-link"))["stations"][0])
        for side in ("left", "right"):
            front, rear = values["points"][f"upper_front_{side}"], values["points"][f"upper_rear_{side}"]
            values["points"][f"upper_front_{side}"] = [
                round(r + (f - r) * 0.5, 2) for f, r in zip(front, rear, strict=True)
            ]
        values["points"] |= {"gearbox": [1200, 0, 380], "pinion": [260, 0, 320]}
        values["chassis"].append("gearbox")
        values["bodies"]["axle"].append("pinion")
        values["shafts"] = [
            {"name": "propshaft", "ends": ["gearbox", "pinion"], "axes": [[1, 0, 0], [1, 0, 0]], "rated": 25}
        ]
        finding, words = self.clear(values, "pinion_swing")
        self.assertGreater(finding.value or 0, 3.0)
        self.assertIn("longer", words)


if __name__ == "__main__":
    unittest.main()
